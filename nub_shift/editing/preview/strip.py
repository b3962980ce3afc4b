"""What a slot will do, found by running the real engine on a sample press."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from nub_shift.editing.edits.bindings import bound
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, Pointer, Wheel
from nub_shift.keyboard.layout import Layout
from nub_shift.model.actions import Assignment
from nub_shift.model.controls import CONTROL_OF_SLOT, DIAGONALS, Kind
from nub_shift.model.effects import Silence
from nub_shift.model.feel import TriggerFeel
from nub_shift.model.profile import SCHEMA_VERSION, Layer, Profile
from nub_shift.model.slot_names import SlotName, slot_name

PRESS_US = 100_000
HOLD_US = 260_000
LENGTH_US = 500_000
# What of a profile makes a difference to a single press.
_PARTS = ("moves", "sequences", "carousels", "rings", "feel", "game")
_OTHER_STAGE = {"light": "deep", "deep": "light"}
_WAY_VALUES = {"up": ("y", -1.0), "down": ("y", 1.0), "left": ("x", -1.0), "right": ("x", 1.0)}


@dataclass(frozen=True)
class StripBar:
    """A key that is down from one time to another, in microseconds of the strip."""

    code: str
    start_us: int
    end_us: int


@dataclass(frozen=True)
class Strip:
    """What goes down when during a sample press.

    Attributes:
        press: when the sample press begins and ends, in microseconds.
        bars: keys and mouse buttons.
        clicks: wheel clicks (time, x, y).
        counts: pointer counts sent in all (x, y).
    """

    press: tuple[int, int]
    bars: tuple[StripBar, ...]
    clicks: tuple[tuple[int, int, int], ...]
    counts: tuple[int, int]


def strip_for(profile: Profile, assignment: Assignment, slot: str, layout: Layout) -> Strip:
    """Presses `slot` with that assignment for a moment and notes what the engine puts out."""
    parts = {name: getattr(profile, name) for name in _PARTS}
    ids = tuple(layer.id for layer in profile.layers)
    return _strip(tuple(parts.items()), ids, assignment, slot, layout)


@lru_cache(maxsize=1024)
def _strip(
    parts: tuple[tuple[str, Any], ...], layer_ids: tuple[str, ...], assignment: Assignment, slot: str, layout: Layout
) -> Strip:
    """A strip takes milliseconds, and the same one is asked for again and again.

    What other slots do makes no difference to a press, but takes time; so the layers are empty.
    """
    if CONTROL_OF_SLOT[slot].kind is Kind.MOTION:
        slot = "south"  # tilting takes its time; a plain press shows as well what follows
    layers = tuple(Layer(id=layer_id, label=layer_id) for layer_id in layer_ids)
    bare = Profile(schema=SCHEMA_VERSION, title="Sample", layers=layers, **dict(parts))
    sample = bound(bare, layer_ids[0], slot, assignment)
    other = _OTHER_STAGE.get(SlotName.parse(slot).part)
    if CONTROL_OF_SLOT[slot].kind is Kind.TRIGGER and other is not None:
        # What the two stages of a trigger do to one another is seen only where both are there.
        sample = bound(sample, layer_ids[0], slot_name(CONTROL_OF_SLOT[slot].name, other), Assignment.of(Silence()))
    return played(Program(sample, lambda: layout), slot)


def played(program: Program, slot: str, held: dict[str, float] | None = None) -> Strip:
    """Presses `slot` for a moment in a whole program, while the channels in `held` are as they are there."""
    engine = Engine(program)
    end_us = PRESS_US + HOLD_US
    engine.feed(Frame(0, held or {}))
    outputs = engine.feed(Frame(PRESS_US, _sample(slot, True, program.profile)))
    while (deadline := engine.deadline()) is not None and deadline <= end_us:
        outputs += engine.advance(deadline)
    outputs += engine.feed(Frame(end_us, _sample(slot, False, program.profile)))
    outputs += engine.stop(LENGTH_US)
    return _collected(outputs, end_us)


def _sample(slot: str, down: bool, profile: Profile) -> dict[str, float]:
    """What a press of the slot is on the pad. A light stage is pulled half-way to the deep one, that all the way."""
    control = CONTROL_OF_SLOT[slot]
    part = SlotName.parse(slot).part
    if control.kind in (Kind.STICK, Kind.SURFACE) and part not in ("click", "touch"):
        values = {slot_name(control.name, "touch"): 1.0} if control.kind is Kind.SURFACE else {}
        for way in DIAGONALS.get(part, (part,)):
            axis, value = _WAY_VALUES.get(way, ("x", 0.55 if part == "inner" else 1.0))
            values[slot_name(control.name, axis)] = value
        return {channel: value if down else 0.0 for channel, value in values.items()}
    if control.kind is Kind.SLIDER:
        return {control.name: (-1.0 if part.startswith("low") else 1.0) if down else 0.0}
    if control.kind is Kind.TRIGGER and part == "light" and down:
        feel: TriggerFeel = getattr(profile.feel, control.name)
        return {control.name: (feel.light.on + max(feel.deep.on, feel.light.on)) / 2}
    channel = control.name if control.kind is Kind.TRIGGER else slot
    return {channel: 1.0 if down else 0.0}


def _collected(outputs: list[Output], end_us: int) -> Strip:
    started: dict[str, int] = {}
    bars: list[StripBar] = []
    clicks: list[tuple[int, int, int]] = []
    x = y = 0
    for output in outputs:
        match output:
            case Key(t_us, code, True):
                started[code] = t_us
            case Key(t_us, code, False):
                bars.append(StripBar(code, started.pop(code), t_us))
            case Wheel(t_us, dx, dy):
                clicks.append((t_us, dx, dy))
            case Pointer(_, dx, dy):
                x, y = x + dx, y + dy
    bars.sort(key=lambda bar: bar.start_us)
    return Strip((PRESS_US, end_us), tuple(bars), tuple(clicks), (x, y))
