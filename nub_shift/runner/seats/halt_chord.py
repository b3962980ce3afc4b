"""Detection of the halt chord on a pad."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from nub_shift.model.halting import HALT_HOLD_MS, halt_chord

HOLD_US = HALT_HOLD_MS * 1000


class HaltChord:
    """The chord of one pad. Counts once when held long enough, and again only after a release.

    Attributes:
        channels: channels of its buttons.
        due_us: end of the hold time; None while the chord is not held.
    """

    def __init__(self, controls: Collection[str], opener: str) -> None:
        """`opener` is the button that opens the pad menu."""
        self.channels = halt_chord(controls, opener)
        self._down: set[str] = set()
        self.due_us: int | None = None

    def note(self, values: Mapping[str, float], t_us: int) -> None:
        """Processes the changes of a frame."""
        for name in self.channels:
            if name in values:
                if values[name] > 0.5:
                    self._down.add(name)
                    if len(self._down) == len(self.channels):
                        self.due_us = t_us + HOLD_US
                else:
                    self._down.discard(name)
                    self.due_us = None

    def take(self, now_us: int) -> bool:
        """Returns whether the hold time is over."""
        if self.due_us is None or now_us < self.due_us:
            return False
        self.due_us = None
        return True
