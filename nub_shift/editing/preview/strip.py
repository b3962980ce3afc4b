"""Preview of a slot, computed by the real engine from sample presses."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, assert_never

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import CONTROL_OF_SLOT, DIAGONALS, Kind
from nub_shift.model.profile.effects import PlaySequence
from nub_shift.model.profile.feel import FeelChange, TriggerFeel
from nub_shift.model.profile.profile import SCHEMA_VERSION, Layer, Profile
from nub_shift.model.profile.reactions import Assignment, Reaction, Together, time_of, waiting_ms
from nub_shift.model.references.assignments import shown_assignment
from nub_shift.model.slot_names import SlotName, slot_name

PRESS_US = 100_000
HOLD_US = 260_000
_TAP_US = 70_000
_GAP_US = 90_000
# Shown time after the last press.
_REST_US = 140_000
# Parts of a profile that affect a single press.
_PARTS = ("moves", "sequences", "carousels", "rings", "feel", "game")
_WAY_VALUES = {"up": ("y", -1.0), "down": ("y", 1.0), "left": ("x", -1.0), "right": ("x", 1.0)}
Presses = tuple[tuple[int, int], ...]
_NEED_LONG_PRESS = frozenset((Reaction.PRESS, Reaction.HOLD, Reaction.LONG_HOLD, Reaction.RELEASE))


@dataclass(frozen=True)
class StripBar:
    """A key held from one time to another, in microseconds of the strip."""

    code: str
    start_us: int
    end_us: int


@dataclass(frozen=True)
class Strip:
    """Keys over time during sample presses.

    Attributes:
        presses: begin and end of the sample presses, in microseconds.
        bars: keys and mouse buttons.
        clicks: wheel clicks (time, x, y); x and y both 0 for a placed pointer.
        counts: sum of pointer counts (x, y).
        typed: text typed by a sequence.
    """

    presses: Presses
    bars: tuple[StripBar, ...]
    clicks: tuple[tuple[int, int, int], ...]
    counts: tuple[int, int]
    typed: str = ""

    @property
    def length_us(self) -> int:
        """Length of the strip."""
        return self.presses[-1][1] + _REST_US


def presses_for(assignment: Assignment) -> Presses:
    """Returns suitable presses: short ones for taps, a long one for all else."""
    presses: list[tuple[int, int]] = []
    at = PRESS_US
    reactions, waits_ms = assignment.reactions, waiting_ms(assignment)
    for taps, reaction in enumerate((Reaction.TAP, Reaction.DOUBLE_TAP, Reaction.TRIPLE_TAP), 1):
        if reaction not in reactions:
            continue
        for _ in range(taps):
            presses.append((at, at + _TAP_US))
            at += _TAP_US + _GAP_US
        at += _GAP_US + waits_ms[reaction] * 1000
    if reactions.keys() & _NEED_LONG_PRESS or not presses:
        times_ms = [time_of(assignment, reaction) or 0 for reaction in _NEED_LONG_PRESS]
        presses.append((at, at + max(HOLD_US, max(times_ms) * 1000 + 2 * _TAP_US)))
    return tuple(presses)


def strip_for(profile: Profile, layer_id: str, slot: str, layout: Layout) -> Strip | None:
    """Presses `slot` as a layer shows it and records the outputs; None if the slot is unassigned.

    Includes the assignments of the rest of the control and of combinations, since they affect the slot.
    """
    if shown_assignment(profile, layer_id, slot) is None:
        return None
    parts = {name: getattr(profile, name) for name in _PARTS}
    layers = tuple((layer.id, layer.feel) for layer in profile.layers)
    beside = tuple(
        (other, assignment)
        for other in CONTROL_OF_SLOT[slot].slots
        if (assignment := shown_assignment(profile, layer_id, other)) is not None
    )
    pairs = tuple(profile.shown_together(layer_id, slot))
    return _strip(tuple(parts.items()), layers, layer_id, beside, pairs, slot, layout)


@lru_cache(maxsize=1024)
def _strip(
    parts: tuple[tuple[str, Any], ...],
    layers: tuple[tuple[str, FeelChange], ...],
    layer_id: str,
    beside: tuple[tuple[str, Assignment], ...],
    pairs: tuple[Together, ...],
    slot: str,
    layout: Layout,
) -> Strip:
    """Returns a strip, cached, since one takes milliseconds and is requested again and again.

    Assignments of other controls do not affect a press but take time; so other layers are left empty, and the shown
    assignments are put into the base layer.
    """
    slots = dict(beside)
    assignment = slots[slot]
    if CONTROL_OF_SLOT[slot].kind is Kind.MOTION:
        slot, slots = "south", {"south": assignment}  # a tilt takes time; a plain press shows the same outputs
    feel = dict(layers)[layer_id]
    base = Layer(id=layers[0][0], label="Sample", slots=slots, together=pairs, feel=feel)
    others = (Layer(id=other, label=other) for other, _ in layers[1:])
    sample = Profile(schema=SCHEMA_VERSION, title="Sample", layers=(base, *others), **dict(parts))
    played_so = played(Program(sample, lambda: layout), slot, presses_for(assignment))
    return replace(played_so, typed=_typed(sample, assignment))


def _typed(profile: Profile, assignment: Assignment) -> str:
    """Returns the text typed by the first sequence of an assignment."""
    effects = (action.effect for action in assignment.reactions.values())
    wanted = next((effect.sequence for effect in effects if isinstance(effect, PlaySequence)), None)
    steps = next((found.steps for found in profile.sequences if found.id == wanted), ())
    return "".join(step.text for step in steps)


def played(program: Program, slot: str, presses: Presses, held: dict[str, float] | None = None) -> Strip:
    """Presses `slot` in a whole program, with the values of the channels in `held`."""
    engine = Engine(program)
    outputs = list(engine.feed(Frame(0, held or {})))
    for start_us, end_us in presses:
        for t_us, down in ((start_us, True), (end_us, False)):
            while (deadline := engine.deadline()) is not None and deadline <= t_us:
                outputs += engine.advance(deadline)
            outputs += engine.feed(Frame(t_us, _sample(slot, down, program.profile)))
    stop_us = presses[-1][1] + _REST_US
    while (deadline := engine.deadline()) is not None and deadline <= stop_us:
        outputs += engine.advance(deadline)
    outputs += engine.stop(stop_us)
    return _collected(outputs, presses)


def _sample(slot: str, down: bool, profile: Profile) -> dict[str, float]:
    """Returns pad values for a press of the slot.

    The light stage is pulled half-way to the deep one, the deep one all the way.
    """
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


def _collected(outputs: list[Output], presses: Presses) -> Strip:
    started: dict[str, int] = {}
    bars: list[StripBar] = []
    clicks: list[tuple[int, int, int]] = []
    x = y = 0
    for output in outputs:
        match output:
            case Key(t_us, code, down):
                if down:
                    started[code] = t_us
                else:
                    bars.append(StripBar(code, started.pop(code), t_us))
            case Wheel(t_us, dx, dy):
                clicks.append((t_us, dx, dy))
            case Pointer(_, dx, dy):
                x, y = x + dx, y + dy
            case Place(t_us) | PlaceBack(t_us):
                clicks.append((t_us, 0, 0))
            case ProfileRequest():
                pass
            case _:
                assert_never(output)
    bars.sort(key=lambda bar: bar.start_us)
    return Strip(presses, tuple(bars), tuple(clicks), (x, y))
