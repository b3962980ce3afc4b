"""A pad's way into the menu on the screen, and about in it. What the menu has, who shows it knows."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Final

from nub_shift.model.pad.pad_menu import MENU_HOLD_MS, button_words, cross_words, opener_of, stick_words

HOLD_US: Final = MENU_HOLD_MS * 1000
# How far a stick has to be pushed to go a step, and how far back before the next one.
OUT: Final = 0.6
BACK: Final = 0.35


class PadMenu:
    """Notes that the opener is held, and what is pressed while the menu is open.

    Attributes:
        opener: the button that opens it; empty if the pad has none.
        due_us: when the opener will have been held for long enough; None while it is not held.
        pressed: what is held in the menu at present: ways, "do", "back".
        counts: how often each was pressed since the menu was opened.
    """

    def __init__(self, controls: Collection[str], opener: str = "") -> None:
        """`opener` is the control that opens it, if the pad's card says so."""
        self.opener = opener_of(controls, opener)
        self._buttons = {**cross_words(controls), **button_words(controls, self.opener)}
        self._sticks = stick_words(controls)
        self._held: dict[str, str] = {}  # what is pressed, by channel
        self._idle: set[str] = set()  # channels that were pressed as it was opened
        self.due_us: int | None = None
        self._opens = True
        self.counts: dict[str, int] = {}

    @property
    def pressed(self) -> tuple[str, ...]:
        """See above."""
        return tuple(dict.fromkeys(self._held.values()))

    def watch(self, values: Mapping[str, float], t_us: int, in_menu: bool) -> None:
        """Takes what a frame changes. A press that is made while the menu is open can only close it.

        Whoever shows the menu closes it as soon as the opener is pressed. This is for when nobody does any more.
        """
        if self.opener in values:
            self.due_us = t_us + HOLD_US if values[self.opener] > 0.5 else None
            self._opens = not in_menu

    def take(self, now_us: int) -> bool | None:
        """Whether the opener has been held for long enough to open the menu, or to close it; None if not."""
        if self.due_us is None or now_us < self.due_us:
            return None
        self.due_us = None
        return self._opens

    def open(self, values: Mapping[str, float]) -> None:
        """The menu is open from now on: what is held already, as `values` tell, means nothing until it is let go."""
        self._held.clear()
        self.counts.clear()
        self._idle = {channel for channel, value in values.items() if self._word(channel, value, None) is not None}

    def steer(self, values: Mapping[str, float]) -> bool:
        """Takes what a frame changes while the menu is open; whether that means anything."""
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
        """Returns the meaning of a channel with that value, given the meaning before; None if it has none."""
        if channel in self._buttons:
            return self._buttons[channel] if value > 0.5 else None
        if channel in self._sticks:
            low, high = self._sticks[channel]
            way = low if value < 0 else high
            return way if abs(value) > (BACK if before == way else OUT) else None
        return None
