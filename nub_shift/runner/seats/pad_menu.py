"""Opening the menu on the screen from a pad, and navigating in it. The process that shows the menu knows its
content.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Final

from nub_shift.model.pad.pad_menu import MENU_HOLD_MS, button_words, cross_words, opener_of, stick_words

HOLD_US: Final = MENU_HOLD_MS * 1000
# Deflection of a stick for one step, and for returning before the next.
OUT: Final = 0.6
BACK: Final = 0.35


class PadMenu:
    """Detects the held opener, and the presses in the open menu.

    Attributes:
        opener: button that opens the menu; empty if the pad has none.
        due_us: end of the opener's hold time; None while the opener is not held.
        pressed: held in the menu at present: directions, "do", "back".
        counts: number of presses of each since the menu was opened.
    """

    def __init__(self, controls: Collection[str], opener: str = "") -> None:
        """`opener` is the button named in the pad's card, or empty."""
        self.opener = opener_of(controls, opener)
        self._buttons = {**cross_words(controls), **button_words(controls, self.opener)}
        self._sticks = stick_words(controls)
        self._held: dict[str, str] = {}  # meanings of pressed channels
        self._idle: set[str] = set()  # channels already pressed when the menu was opened
        self.due_us: int | None = None
        self._opens = True
        self.counts: dict[str, int] = {}

    @property
    def pressed(self) -> tuple[str, ...]:
        """Meanings held at present."""
        return tuple(dict.fromkeys(self._held.values()))

    def watch(self, values: Mapping[str, float], t_us: int, in_menu: bool) -> None:
        """Processes the changes of a frame. A press of the opener with an open menu can only close the menu.

        The process that shows the menu closes it at the press; this handles the case that no process does.
        """
        if self.opener in values:
            self.due_us = t_us + HOLD_US if values[self.opener] > 0.5 else None
            self._opens = not in_menu

    def take(self, now_us: int) -> bool | None:
        """Returns whether the menu is to be open once the opener's hold time is over; None before."""
        if self.due_us is None or now_us < self.due_us:
            return None
        self.due_us = None
        return self._opens

    def open(self, values: Mapping[str, float]) -> None:
        """Opens the menu: channels already pressed, by `values`, have no meaning until released."""
        self._held.clear()
        self.counts.clear()
        self._idle = {channel for channel, value in values.items() if self._word(channel, value, None) is not None}

    def steer(self, values: Mapping[str, float]) -> bool:
        """Processes the changes of a frame in the open menu; returns whether any has a meaning."""
        means = False
        for channel, value in values.items():
            before = self._held.get(channel)
            now = self._word(channel, value, before)
            if channel in self._idle:
                if now is None:
                    self._idle.discard(channel)
                continue
            if now == before:
                continue
            means = True
            if now is None:
                del self._held[channel]
            else:
                self._held[channel] = now
                self.counts[now] = self.counts.get(now, 0) + 1
        return means

    def _word(self, channel: str, value: float, before: str | None) -> str | None:
        """Returns the meaning of a channel's value, given the former meaning; None if there is none."""
        if channel in self._buttons:
            return self._buttons[channel] if value > 0.5 else None
        if channel in self._sticks:
            low, high = self._sticks[channel]
            way = low if value < 0 else high
            return way if abs(value) > (BACK if before == way else OUT) else None
        return None
