"""What a person asks of the program itself with a pad: that everything stops, and the menu."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from nub_shift.engine.agenda import earlier
from nub_shift.runner.seats.halt_chord import HaltChord
from nub_shift.runner.seats.pad_menu import PadMenu


class PadSignals:
    """One pad's chord and menu.

    Attributes:
        channels: `note` wants to know of these alone, which few frames have.
        due_us: when `take` wants to be called, for something is held; None while nothing is.
        menu: what is pressed in it while it is open.
    """

    def __init__(self, controls: Collection[str] = (), opener: str = "") -> None:
        """`opener` is the button that opens the menu, if the pad's card says so."""
        self.menu = PadMenu(controls, opener)
        self._chord = HaltChord(controls, self.menu.opener)
        openers = (self.menu.opener,) if self.menu.opener else ()
        self.channels = tuple(dict.fromkeys((*self._chord.channels, *openers)))
        self.due_us: int | None = None

    def note(self, values: Mapping[str, float], t_us: int, in_menu: bool) -> None:
        """Takes what a frame changes. The opener closes the menu as it opens it, and the chord goes before it."""
        self._chord.note(values, t_us)
        self.menu.watch(values, t_us, in_menu)
        if self._chord.due_us is not None:
            self.menu.due_us = None
        self.due_us = earlier(self._chord.due_us, self.menu.due_us)

    def take(self, now_us: int) -> tuple[bool, bool | None]:
        """Whether everything is due to stop, or to go on; and whether the menu is to be open or closed, if either."""
        halts, menu = self._chord.take(now_us), self.menu.take(now_us)
        self.due_us = earlier(self._chord.due_us, self.menu.due_us)
        return halts, menu
