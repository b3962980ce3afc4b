"""How a person stops everything at once, whatever is going on: a chord on the pad, a key on the keyboard."""

from __future__ import annotations

from collections.abc import Collection
from typing import Final

# No game and no program of a desktop has much use for it.
HALT_KEY: Final = "KEY_PAUSE"
# How long the chord has to be held, so that nobody stops by mistake.
HALT_HOLD_MS: Final = 1000

# Which two buttons the chord is, by what the pad has: those that lie far from each other and from the thumbs first.
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
    """The two buttons of a pad with these controls that stop everything; none where it has no two.

    The `opener` of the menu is none of them where that can be: who stops everything wants no menu.
    """
    found = [chord for chord in _CHORDS if all(name in controls for name in chord)]
    return next((chord for chord in found if opener not in chord), found[0] if found else ())
