"""Pointer and wheel motion: sums up uses, glides, scrolls and paces, and emits the result over time."""

from __future__ import annotations

from collections.abc import Iterable
from math import prod
from typing import Final

from nub_shift.engine.agenda import Timer, earlier
from nub_shift.engine.effect_context import EffectContext, PaceFactor, Slot
from nub_shift.engine.pointer import PointerMotion
from nub_shift.engine.program import Sheet
from nub_shift.engine.rings import OpenRing
from nub_shift.engine.uses import ActiveUse, Flow, Sources, Use
from nub_shift.engine.values import WHEEL_CLICK, Output, Pointer, RingLook, Wheel
from nub_shift.model.profile.effects import PaceOf

# Interval of recomputing a stick's output while the output changes with time alone.
RESTLESS_US: Final = 4_000


class Drive:
    """Pointer and wheel, with the uses that drive them.

    Attributes:
        takes_click: an active use takes the click of its stick.
    """

    def __init__(self) -> None:
        self.takes_click = False
        self._pointer = PointerMotion(Pointer)
        self._wheel = PointerMotion(Wheel)
        self._uses: dict[str, tuple[Use, ActiveUse]] = {}  # active uses by slot
        self._begun_for: Sheet | None = None  # sheet of the active uses
        self._tick: Timer | None = None

    def due_us(self) -> int | None:
        """Returns when pointer or wheel next emit counts."""
        return self._pointer.due_us if self._wheel.asleep else earlier(self._pointer.due_us, self._wheel.due_us)

    def advance(self, until_us: int, out: list[Output]) -> None:
        """Emits pointer and wheel counts due until `until_us`."""
        before = len(out)
        if not self._pointer.asleep:
            self._pointer.advance(until_us, out)
        if not self._wheel.asleep:
            self._wheel.advance(until_us, out)
        if len(out) - before == 2 and out[-1].t_us < out[-2].t_us:
            out[-2:] = out[-1], out[-2]

    def move(self, sheet: Sheet, sources: Sources, context: EffectContext, now_us: int) -> None:
        """Sets pointer and wheel speed from the present uses, glides, scrolls and paces."""
        if self._begun_for is not sheet:
            self._change_uses(sheet, sources, context, now_us)
        flow = Flow()
        for _, active in self._uses.values():
            active.act(flow, context, now_us)
        if context.turns:
            flow.turned += sum(turn.take(now_us) for turn in context.turns)
            context.turns[:] = [turn for turn in context.turns if not turn.is_through(now_us)]
            flow.restless = flow.restless or bool(context.turns)
        if flow.restless and self._tick is None:
            self._tick = context.agenda.at(now_us + RESTLESS_US, lambda _t_us: self._on_tick(context))
        if context.recentre:
            context.recentre = False
            sources.motion.recentre()
        if context.glides:
            x, y = _pulled(context.glides.values())
            flow.vx += x
            flow.vy += y
        pace = motion_pace = sheet.pace
        if context.paces:
            pace *= prod(_factor(pace) for pace in context.paces.values() if pace.of is not PaceOf.MOTION)
            motion_pace *= prod(_factor(pace) for pace in context.paces.values() if pace.of is not PaceOf.STICK)
        if flow.dx or flow.dy or flow.turned:
            self._pointer.shift(flow.dx * pace + flow.turned, flow.dy * pace, now_us, context.out)
        vx, vy = flow.vx * pace + flow.motion_vx * motion_pace, flow.vy * pace + flow.motion_vy * motion_pace
        self._pointer.set_velocity(vx, vy, now_us, context.out)
        wx, wy = flow.wx, flow.wy
        if context.scrolls:
            x, y = _pulled(context.scrolls.values())
            wx += x
            wy += y
        if wx or wy or self._wheel.moving:
            self._wheel.set_velocity(wx * WHEEL_CLICK, wy * WHEEL_CLICK, now_us, context.out)

    def turn_to(self, sheet: Sheet, sources: Sources, context: EffectContext, now_us: int) -> None:
        """Changes to a sheet: ends uses that the sheet lacks, begins new ones, continues the others."""
        if self._begun_for is not sheet:
            self._change_uses(sheet, sources, context, now_us)

    def release_all(self, context: EffectContext, now_us: int) -> None:
        """Ends all uses and releases what they hold."""
        for _, active in self._uses.values():
            active.release_all(context, now_us)
        context.turns.clear()
        self._uses.clear()
        self._begun_for = None
        self.takes_click = False
        self._tick = None

    def halt(self, now_us: int, out: list[Output]) -> None:
        """Stops pointer and wheel."""
        self._pointer.halt(now_us, out)
        self._wheel.halt(now_us, out)

    def chosen_entries(self) -> dict[str, int]:
        """Returns the index of the entry that each stick with a ring points to."""
        return {
            name: active.chosen
            for name, (_, active) in self._uses.items()
            if isinstance(active, OpenRing) and active.chosen is not None
        }

    def open_rings(self, base: Sheet) -> tuple[RingLook, ...]:
        """Returns the open rings: a layer's ring while the layer is active, a ring of `base` while it is used."""
        looks = [
            active.look(base.uses.get(name) is not use)
            for name, (use, active) in self._uses.items()
            if isinstance(active, OpenRing)
        ]
        return tuple(look for look in looks if look is not None)

    def _change_uses(self, sheet: Sheet, sources: Sources, context: EffectContext, now_us: int) -> None:
        before = self._uses
        self._begun_for = sheet
        self._uses = {}
        for name, use in sheet.uses.items():
            had, was = before.pop(name, (None, None))
            if had is use and was is not None:
                self._uses[name] = use, was
                continue
            active = use.begin(name, sources, was)
            self._uses[name] = use, active
            if was is not None and was is not active:
                self._leave(was, name, sources, context, now_us)
        for name, (_, was) in before.items():
            self._leave(was, name, sources, context, now_us)
        self.takes_click = any(use.takes_click for use, _ in self._uses.values())

    def _leave(self, was: ActiveUse, name: str, sources: Sources, context: EffectContext, now_us: int) -> None:
        was.leave(context, now_us)
        if (
            isinstance(was, OpenRing)
            and name in sources.sticks
            and not isinstance(self._uses.get(name, (None, None))[1], OpenRing)
        ):
            sources.sticks[name].withhold()  # a stick that chose from a ring must not look or walk on the way back

    def _on_tick(self, context: EffectContext) -> None:
        """Marks pointer and wheel for recomputation, since a stick's output changes with time."""
        self._tick = None
        context.stale = True


def _factor(pace: PaceFactor) -> float:
    """Returns the factor of a pace, scaled by the depth of its slot."""
    return pace.factor if pace.slot is None else 1.0 + (pace.factor - 1.0) * pace.slot.pull


def _pulled(driven: Iterable[tuple[float, float, Slot]]) -> tuple[float, float]:
    """Returns the sum of speeds, each scaled by the depth of its slot."""
    x = y = 0.0
    for full_x, full_y, slot in driven:
        pull = slot.pull
        x += full_x * pull
        y += full_y * pull
    return x, y
