"""Text that a sequence produces on the screen, by typed texts or by keys."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from nub_shift.keyboard.keys import modifiers_first
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.listed import Sequence, SequenceStep, StepAct
from nub_shift.model.profile.profile import Profile

_SHIFTS: Final = {"KEY_RIGHTSHIFT": "KEY_LEFTSHIFT"}  # layouts have one of the two
_MODIFIERS: Final = frozenset(
    f"KEY_{side}{name}" for side in ("LEFT", "RIGHT") for name in ("SHIFT", "CTRL", "ALT", "META")
)
# Keys that end a line as Enter does.
ENTERS: Final = frozenset(("KEY_ENTER", "KEY_KPENTER"))


def written(profile: Profile, sequence: Sequence, layout: Layout) -> str:
    """Returns the text, with Enter as a line break and other combinations in angle quotes, such as ‹Ctrl + V›.

    Single keys without text, such as arrows, are omitted.
    """
    return "".join(_parts(profile, sequence, layout))


def _parts(profile: Profile, sequence: Sequence, layout: Layout) -> Iterator[str]:
    held: dict[str, None] = {}
    for step in sequence.steps:
        yield text_of(profile, step)
        keys, act = keys_of(profile, step)
        if act is StepAct.RELEASE:
            for code in keys:
                held.pop(code, None)
            continue
        down = held | dict.fromkeys(keys)
        for code in keys:
            if code not in _MODIFIERS:
                yield _written_by(tuple(other for other in down if other in _MODIFIERS), code, layout)
        if act is StepAct.PRESS:
            held = down


def _written_by(modifiers: tuple[str, ...], code: str, layout: Layout) -> str:
    held = modifiers_first(tuple(dict.fromkeys(_SHIFTS.get(name, name) for name in modifiers)))
    if code in ENTERS:
        return "\n"
    if not any(name.endswith(("CTRL", "META")) or name == "KEY_LEFTALT" for name in held):
        return layout.character(held, code)
    return f"‹{layout.combination((*held, code))}›"


def text_of(profile: Profile, step: SequenceStep) -> str:
    """Returns the text typed by a step, also through its move; empty for other steps."""
    move = profile.move(step.move) if step.move is not None else None
    return move.text if move is not None else step.text


def keys_of(profile: Profile, step: SequenceStep) -> tuple[tuple[str, ...], StepAct]:
    """Returns the keys of a step, also through its move, and their use."""
    if step.move is not None:
        move = profile.move(step.move)
        return (move.keys if move is not None else ()), step.act
    for act in StepAct:
        keys: tuple[str, ...] = getattr(step, act.value)
        if keys:
            return keys, act
    return (), StepAct.TAP
