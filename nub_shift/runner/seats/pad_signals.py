"""Requests to the program itself from a pad: stop everything, open the menu."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from nub_shift.engine.agenda import earlier
from nub_shift.runner.seats.halt_chord import HaltChord
from nub_shift.runner.seats.pad_menu import PadMenu


class PadSignals:
    """The halt chord and the menu of one pad.

    Attributes:
        channels: the only channels that `note` processes; few frames contain one.
        due_us: when `take` has to be called; None while nothing is held.
        menu: presses in the open menu.
    """

    def __init__(self, controls: Collection[str] = (), opener: str = "") -> None:
        """`opener` is the button named in the pad's card, or empty."""
        self.menu = PadMenu(controls, opener)
        self._chord = HaltChord(controls, self.menu.opener)
        openers = (self.menu.opener,) if self.menu.opener else ()
        self.channels = tuple(dict.fromkeys((*self._chord.channels, *openers)))
        self.due_us: int | None = None

    def note(self, values: Mapping[str, float], t_us: int, in_menu: bool) -> None:
        """Processes the changes of a frame. The opener closes the menu as well as opening it; the chord has
        priority.
        """
        self._chord.note(values, t_us)
        self.menu.watch(values, t_us, in_menu)
        if self._chord.due_us is not None:
            self.menu.due_us = None
        self.due_us = earlier(self._chord.due_us, self.menu.due_us)

    def take(self, now_us: int) -> tuple[bool, bool | None]:
        """Returns whether to halt or continue, and whether the menu is to be open or closed, None for unchanged."""
        halts, menu = self._chord.take(now_us), self.menu.take(now_us)
        self.due_us = earlier(self._chord.due_us, self.menu.due_us)
        return halts, menu
