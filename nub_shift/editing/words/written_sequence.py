"""A sequence as a person writes it, or types it to be recorded: steps with commas between them."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass

from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.words.key_names import codes_named, written_name
from nub_shift.keyboard.layout import Layout
from nub_shift.model.actions import Sequence, SequenceStep
from nub_shift.model.schema_types import MAX_SHORT_LABEL

_STEP = re.compile(r'\s*("(?:[^"\\]|\\.)*"|[^,]+)\s*(?:,|$)')
_WAIT = re.compile(r"(\d+)\s*ms")
_HALVES = re.compile(r"(down|up)\s+(.+)", re.IGNORECASE)


# What is held longer than this is meant to be held, and a shorter pause is none.
_TAP_MS = 250
_PAUSE_MS = 30
_LONGEST_MS = 60_000


@dataclass(frozen=True)
class Stroke:
    """A key that went down or up, `at_ms` on any clock."""

    at_ms: int
    code: str
    down: bool


def steps_text(steps: Iterable[SequenceStep], layout: Layout) -> str:
    """Steps as `written_sequence` reads them."""
    words = []
    for step in steps:
        if step.wait_ms is not None:
            words.append(f"{step.wait_ms} ms")
        elif step.text:
            escaped = re.sub(r'([\\"])', r"\\\1", step.text)
            words.append(f'"{escaped}"')
        else:
            half = "down " if step.press else "up " if step.release else ""
            names = " + ".join(written_name(code, layout) for code in step.press or step.release or step.tap)
            words.append(half + names)
    return ", ".join(words)


def recorded_steps(strokes: Iterable[Stroke]) -> list[SequenceStep]:
    """What was typed, as steps: keys that went down together and soon up again are a tap; pauses are to 10 ms."""
    steps: list[SequenceStep] = []
    group: list[Stroke] = []
    held: set[str] = set()
    last_ms: int | None = None
    for stroke in strokes:
        if stroke.down == (stroke.code in held):
            continue  # a repetition, or the end of a key that was down before
        if not held and last_ms is not None:
            steps += _pause(stroke.at_ms - last_ms)
        held.symmetric_difference_update((stroke.code,))
        group.append(stroke)
        if not held:
            steps += _grouped(group)
            group, last_ms = [], stroke.at_ms
    return steps + _grouped([*group, *(Stroke(group[-1].at_ms, code, False) for code in sorted(held))])


def _grouped(strokes: list[Stroke]) -> list[SequenceStep]:
    """Steps of keys from the first going down until none is down."""
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


def written_sequence(text: str, taken: Collection[str], layout: Layout) -> Sequence:
    """The sequence of steps like `Ctrl + C, 100 ms, V, "text", down Shift, up Shift`; its id is none of `taken`.

    Raises:
        ValueError: a step is none; the text says which, and what would be right.
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
    half = _HALVES.fullmatch(word)
    codes = codes_named(half[2] if half is not None else word, layout)
    if not codes:
        raise ValueError(f'There is no key {word!r}: expected one as F13, Ctrl + C, 100 ms, or "text"')
    if half is None:
        return SequenceStep(tap=codes)
    return SequenceStep(press=codes) if half[1].casefold() == "down" else SequenceStep(release=codes)
