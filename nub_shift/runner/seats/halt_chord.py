"""Notes that the chord which stops everything is held on a pad."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from nub_shift.model.halting import HALT_HOLD_MS, halt_chord

HOLD_US = HALT_HOLD_MS * 1000


class HaltChord:
    """One pad's chord. Held for long enough it counts once; it has to be let go before it counts again.

    Attributes:
        channels: of its buttons.
        due_us: when it will have been held for long enough; None while it is not held.
    """

    def __init__(self, controls: Collection[str], opener: str) -> None:
        """`opener` opens the pad's menu."""
        self.channels = halt_chord(controls, opener)
        self._down: set[str] = set()
        self.due_us: int | None = None

    def note(self, values: Mapping[str, float], t_us: int) -> None:
        """Takes what a frame changes."""
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
        """Whether the chord has been held for long enough."""
        if self.due_us is None or now_us < self.due_us:
            return False
        self.due_us = None
        return True
