"""A sequence as a person writes it: steps with commas between them."""

from __future__ import annotations

import re
from collections.abc import Collection

from nub_shift.model.actions import Sequence, SequenceStep
from nub_shift.ui.ids import fresh_id
from nub_shift.ui.keyboard import codes_named

_STEP = re.compile(r'\s*("(?:[^"]*)"|[^,]+)\s*(?:,|$)')
_WAIT = re.compile(r"(\d+)\s*ms")
_HALVES = re.compile(r"(down|up)\s+(.+)", re.IGNORECASE)


def written_sequence(text: str, taken: Collection[str]) -> Sequence:
    """The sequence of steps like `Ctrl + C, 100 ms, V, "text", down Shift, up Shift`; its id is none of `taken`.

    Raises:
        ValueError: a step is none; the text says which, and what would be right.
    """
    steps = [_step(found) for found in _STEP.findall(text)]
    if not steps:
        raise ValueError("Nothing is written: name a key, or steps as Ctrl + C, 100 ms, V")
    label = text if len(text) <= 40 else f"{text[:37]}..."
    return Sequence(id=fresh_id(f"steps {text}", taken), label=label, steps=tuple(steps))


def _step(written: str) -> SequenceStep:
    word = written.strip()
    if word.startswith('"'):
        return SequenceStep(text=word[1:-1])
    wait = _WAIT.fullmatch(word)
    if wait is not None:
        return SequenceStep(wait_ms=int(wait[1]))
    half = _HALVES.fullmatch(word)
    codes = codes_named(half[2] if half is not None else word)
    if not codes:
        raise ValueError(f'There is no key {word!r}: expected one as F13, Ctrl + C, 100 ms, or "text"')
    if half is None:
        return SequenceStep(tap=codes)
    return SequenceStep(press=codes) if half[1].casefold() == "down" else SequenceStep(release=codes)
