"""Emergency stop in any state: a chord on the pad, a key on the keyboard."""

from __future__ import annotations

from collections.abc import Collection
from typing import Final

# A key that games and desktops hardly use.
HALT_KEY: Final = "KEY_PAUSE"
# Hold time of the chord, long enough to exclude an accident.
HALT_HOLD_MS: Final = 1000

# Candidates for the chord: buttons far from each other and from the thumbs come first.
_CHORDS: Final = (
    ("select", "start"),
    ("start", "home"),
    ("select", "home"),
    ("select", "left_shoulder"),
    ("start", "right_shoulder"),
    ("left_shoulder", "right_shoulder"),
    ("west", "east"),
    ("south", "north"),
    ("south", "east"),
    ("left_shoulder", "grip_1"),
    ("right_shoulder", "grip_2"),
)


def halt_chord(controls: Collection[str], opener: str) -> tuple[str, ...]:
    """Returns the two buttons that stop everything, of a pad with these controls; empty without two buttons.

    The `opener` of the pad menu is avoided where possible.
    """
    found = [chord for chord in _CHORDS if all(name in controls for name in chord)]
    return next((chord for chord in found if opener not in chord), found[0] if found else ())
