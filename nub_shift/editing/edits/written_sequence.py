"""A sequence written by a person as steps separated by commas, or recorded from keys."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass

from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.words.keys.key_names import codes_named, written_name
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.effects import CarouselStep, Nudge, Step, WheelDirection
from nub_shift.model.profile.listed import Sequence, SequenceStep, StepAct
from nub_shift.model.profile.schema_types import MAX_SHORT_LABEL

_STEP = re.compile(r'\s*("(?:[^"\\]|\\.)*"|[^,]+)\s*(?:,|$)')
_WAIT = re.compile(r"(\d+)\s*ms")
_ACT = re.compile(r"(down|up|hold)\s+(.+)", re.IGNORECASE)
_MOVE = re.compile(r"move\s+([a-z][a-z0-9_]*)", re.IGNORECASE)
_WHEEL = re.compile(r"wheel\s+(up|down|left|right)", re.IGNORECASE)
_NUDGE = re.compile(r"nudge\s+(-?\d{1,5})\s+(-?\d{1,5})", re.IGNORECASE)
_CAROUSEL = re.compile(r"step\s+([a-z][a-z0-9_]*)\s+(forward|back|first)", re.IGNORECASE)
_ACT_WORDS = {StepAct.TAP: "", StepAct.PRESS: "down ", StepAct.RELEASE: "up ", StepAct.HOLD: "hold "}
_ACTS = {word.strip(): act for act, word in _ACT_WORDS.items() if word}


# A longer press becomes a hold, and a shorter pause is omitted.
_TAP_MS = 250
_PAUSE_MS = 30
_LONGEST_MS = 60_000


@dataclass(frozen=True)
class Stroke:
    """Press or release of a key, `at_ms` on any clock."""

    at_ms: int
    code: str
    down: bool


def steps_text(steps: Iterable[SequenceStep], layout: Layout) -> str:
    """Returns steps in the form read by `parse_sequence`."""
    return ", ".join(_step_text(step, layout) for step in steps)


def _step_text(step: SequenceStep, layout: Layout) -> str:
    if step.wait_ms is not None:
        return f"{step.wait_ms} ms"
    if step.text:
        escaped = re.sub(r'([\\"])', r"\\\1", step.text)
        return f'"{escaped}"'
    if step.move is not None:
        return f"{_ACT_WORDS[step.act]}move {step.move}"
    if step.wheel is not None:
        return f"wheel {step.wheel.value}"
    if step.nudge is not None:
        return f"nudge {step.nudge.x} {step.nudge.y}"
    if step.carousel is not None:
        return f"step {step.carousel.id} {step.carousel.step.value}"
    act = next((act for act in StepAct if getattr(step, act.value)), StepAct.TAP)
    return _ACT_WORDS[act] + " + ".join(written_name(code, layout) for code in getattr(step, act.value))


def recorded_steps(strokes: Iterable[Stroke]) -> list[SequenceStep]:
    """Returns recorded keys as steps: keys pressed together for a short time are a tap; pauses are rounded to 10 ms."""
    steps: list[SequenceStep] = []
    group: list[Stroke] = []
    held: set[str] = set()
    last_ms: int | None = None
    for stroke in strokes:
        if stroke.down == (stroke.code in held):
            continue  # a key repeat, or the release of a key that was down before
        if not held and last_ms is not None:
            steps += _pause(stroke.at_ms - last_ms)
        held.symmetric_difference_update((stroke.code,))
        group.append(stroke)
        if not held:
            steps += _grouped(group)
            group, last_ms = [], stroke.at_ms
    return steps + _grouped([*group, *(Stroke(group[-1].at_ms, code, False) for code in sorted(held))])


def _grouped(strokes: list[Stroke]) -> list[SequenceStep]:
    """Returns the steps of keys from the first press until none is down."""
    if not strokes:
        return []
    downs = [stroke.code for stroke in strokes if stroke.down]
    together = all(stroke.down for stroke in strokes[: len(downs)])
    if together and strokes[-1].at_ms - strokes[0].at_ms <= _TAP_MS:
        return [SequenceStep(tap=tuple(downs))]
    steps: list[SequenceStep] = []
    before_ms = strokes[0].at_ms
    for stroke in strokes:
        steps += _pause(stroke.at_ms - before_ms)
        steps.append(SequenceStep(press=(stroke.code,)) if stroke.down else SequenceStep(release=(stroke.code,)))
        before_ms = stroke.at_ms
    return steps


def _pause(milliseconds: int) -> list[SequenceStep]:
    rounded = min(round(milliseconds, -1), _LONGEST_MS)
    return [SequenceStep(wait_ms=rounded)] if milliseconds >= _PAUSE_MS else []


def parse_sequence(text: str, taken: Collection[str], layout: Layout) -> Sequence:
    """Parses steps like `Ctrl + C, 100 ms, V, "text", down Shift, up Shift`; the id of the sequence is none of `taken`.

    Raises:
        ValueError: a step is malformed; the text says which, and what would be right.
    """
    steps = [_step(found, layout) for found in _STEP.findall(text)]
    if not steps:
        raise ValueError("Nothing is written: name a key, or steps as Ctrl + C, 100 ms, V")
    label = text if len(text) <= MAX_SHORT_LABEL else f"{text[: MAX_SHORT_LABEL - 3]}..."
    return Sequence(id=fresh_id(f"steps {text}", taken), label=label, steps=tuple(steps))


def _step(written: str, layout: Layout) -> SequenceStep:
    word = written.strip()
    if word.startswith('"'):
        return SequenceStep(text=re.sub(r"\\(.)", r"\1", word[1:-1]))
    wait = _WAIT.fullmatch(word)
    if wait is not None:
        return SequenceStep(wait_ms=int(wait[1]))
    if (found := _WHEEL.fullmatch(word)) is not None:
        return SequenceStep(wheel=WheelDirection(found[1].casefold()))
    if (found := _NUDGE.fullmatch(word)) is not None:
        return SequenceStep(nudge=Nudge(int(found[1]), int(found[2])))
    if (found := _CAROUSEL.fullmatch(word)) is not None:
        return SequenceStep(carousel=CarouselStep(found[1], Step(found[2].casefold())))
    half = _ACT.fullmatch(word)
    act = _ACTS[half[1].casefold()] if half is not None else StepAct.TAP
    what = half[2] if half is not None else word
    if (found := _MOVE.fullmatch(what)) is not None:
        return SequenceStep(move=found[1], act=act)
    codes = codes_named(what, layout)
    if not codes:
        raise ValueError(f'There is no key {word!r}: expected one as F13, Ctrl + C, 100 ms, or "text"')
    return SequenceStep.of_keys(act, codes)
