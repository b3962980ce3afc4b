"""The readers of analogue controls: channel values in, slots that changed out.

A button needs no reader: its channel is its slot. A reader is asked once for each frame that has any of its channels.
"""

from __future__ import annotations

from collections.abc import Collection
from math import hypot
from typing import Protocol

from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.shaping.directions import SECTOR_WAYS, Sectors
from nub_shift.engine.shaping.smoothing import OneEuro, RampUp
from nub_shift.engine.shaping.stick_shape import shape_of
from nub_shift.model.controls import DIAGONALS, WAYS
from nub_shift.model.feel import SliderFeel, Stage, StickFeel, TriggerFeel
from nub_shift.model.slot_names import slot_name

# How far the radius must go beyond a stick's inner radius before its slot lets go.
INNER_HYSTERESIS = 0.04


def uses_diagonals(name: str, used: Collection[str]) -> bool:
    """Whether a profile that uses these slots gives the diagonals of a stick something of their own."""
    return any(slot_name(name, diagonal) in used for diagonal in DIAGONALS)


class Reader(Protocol):
    """Reads one analogue control."""

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Takes its channels' present values out of those of all channels, and notes the slots that change."""


class StageReader:
    """A stage: down from `on`, up below `off`. In quick mode it follows every easing of the finger by `ease`."""

    def __init__(self, slot: Slot, changed: list[Slot]) -> None:
        self._slot = slot
        self._turn = 0.0  # the furthest pull since it went down, or the least since it went up
        self._changed = changed

    def use(self, stage: Stage, ease: float | None = None) -> None:
        """Goes by these thresholds from the next value on."""
        self._on = stage.on
        self._off = stage.off
        self._ease = ease

    def take(self, value: float) -> None:
        """Takes a value from 0 to 1 and notes the slot if the stage changes."""
        slot = self._slot
        slot.depth = value
        if self._ease is None:
            down = value >= (self._off if slot.down else self._on)
        elif slot.down:
            self._turn = max(self._turn, value)
            down = value >= self._off and value > self._turn - self._ease
        else:
            self._turn = min(self._turn, value)
            down = value >= self._on and value >= self._turn + self._ease
        if down is not slot.down:
            slot.down = down
            self._turn = value
            self._changed.append(slot)


class TriggerReader:
    """A trigger with a light and a deep stage."""

    def __init__(self, name: str, used: frozenset[str], changed: list[Slot]) -> None:
        self._name = name
        self._light = StageReader(Slot(slot_name(name, "light")), changed)
        self._deep = StageReader(Slot(slot_name(name, "deep")), changed) if slot_name(name, "deep") in used else None

    def use(self, feel: TriggerFeel) -> None:
        """Goes by this feel from the next pull on."""
        ease = feel.ease if feel.quick else None
        self._light.use(feel.light, ease)
        if self._deep is not None:
            self._deep.use(feel.deep, ease)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002 - as all readers
        """Takes a pull from 0 to 1."""
        value = values[self._name]
        self._light.take(value)
        if self._deep is not None:
            self._deep.take(value)


class SliderReader:
    """A slider or sensor with stages on each side of rest."""

    def __init__(self, name: str, changed: list[Slot]) -> None:
        self._name = name
        self._low = [StageReader(Slot(slot_name(name, stage)), changed) for stage in ("low", "low_deep")]
        self._high = [StageReader(Slot(slot_name(name, stage)), changed) for stage in ("high", "high_deep")]

    def use(self, feel: SliderFeel) -> None:
        """Goes by this feel from the next position on."""
        stages = (feel.low, feel.low_deep, feel.high, feel.high_deep)
        for reader, stage in zip((*self._low, *self._high), stages, strict=True):
            reader.use(stage)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes a position from -1 to 1; 0 is rest."""
        value = values[self._name]
        for stage in self._low:
            stage.take(max(0.0, -value))
        for stage in self._high:
            stage.take(max(0.0, value))


class StickReader:
    """A stick: its directions, inner and edge as slots, and its shaped position.

    Attributes:
        counts: its shaped position matters in the layers that are on.
        steady: it matters in its dead zone too.
        restless: time alone will change the output.
    """

    def __init__(self, name: str, used: frozenset[str], changed: list[Slot], context: EffectContext) -> None:
        self.name = name
        self.counts = self.steady = False
        self._context = context
        self._x, self._y = slot_name(name, "x"), slot_name(name, "y")
        ways = {way: Slot(slot_name(name, way)) for way in WAYS}
        self._ways = tuple(ways.values())
        self._sector_slots = [tuple(ways[way] for way in sector) for sector in SECTOR_WAYS]
        self._diagonals: list[Slot] = []
        if uses_diagonals(name, used):
            for diagonal, pair in DIAGONALS.items():
                slot = Slot(slot_name(name, diagonal))
                self._diagonals.append(slot)
                self._sector_slots[[set(sector) for sector in SECTOR_WAYS].index(set(pair))] = (slot,)
        self._rings = not used.isdisjoint((slot_name(name, "inner"), slot_name(name, "edge")))
        self._inner = Slot(slot_name(name, "inner"))
        self._edge = StageReader(Slot(slot_name(name, "edge")), changed)
        self._changed = changed
        self._oriented = (0.0, 0.0)
        self._output: tuple[float, float] | None = (0.0, 0.0)  # once it is known and time alone does not change it
        self._rested = False
        self.restless = False
        self._sector: int | None = None
        self._smoothing: OneEuro | None = None
        self._ramp: RampUp | None = None

    def use(self, feel: StickFeel) -> None:
        """Goes by this feel: its zones and curve at once, its directions, stages and orientation from the next move on.

        A feel may come with a layer that this very stick holds, so it must not press or release anything by itself.
        """
        self._sectors = Sectors(feel.directions)
        self._inner_radius = feel.inner
        self._edge.use(feel.edge)
        self._shape = shape_of(feel)
        self._still = self._shape.dead if feel.smoothing is None else -1.0
        self._smoothing = OneEuro(feel.smoothing) if feel.smoothing is not None else None
        self._ramp = RampUp(feel.ramp) if feel.ramp is not None else None
        self._output = None
        self._rested = self.restless = False

    def output(self, now_us: int) -> tuple[float, float]:
        """The shaped position at `now_us`, x to the right, y downwards, within the unit circle."""
        if self._output is not None:
            return self._output
        x, y = self._oriented
        if self._smoothing is None is self._ramp:
            self._output = self._shape.shape(x, y)
            return self._output
        if self._smoothing is not None:
            x, y = self._smoothing.step(x, y, now_us)
        x, y = self._shape.shape(x, y)
        if self._ramp is not None:
            factor = self._ramp.factor(x != 0.0 or y != 0.0, now_us)
            x, y = x * factor, y * factor
        smoothing, ramp = self._smoothing, self._ramp
        self.restless = (smoothing is not None and not smoothing.settled) or (ramp is not None and not ramp.settled)
        if not self.restless:
            self._output = (x, y)
        return x, y

    @property
    def position(self) -> tuple[float, float]:
        """Where the hand holds the stick, before dead zones and curve."""
        return self._oriented

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes a position, x to the right and y downwards, each -1 to 1."""
        self._take_position(values[self._x], values[self._y])

    def _take_position(self, x: float, y: float) -> None:
        """Down before up, so that a key which serves both directions stays down in between."""
        if not self._shape.oriented_as_is:
            x, y = self._shape.oriented(x, y)
        self._oriented = (x, y)
        radius = hypot(x, y)
        up, down, left, right = self._ways
        up.depth, down.depth, left.depth, right.depth = -y, y, -x, x
        for slot in self._diagonals:
            slot.depth = radius
        before = self._sector
        after = self._sector = self._sectors.next(before, x, y, radius)
        if after != before:
            self._change(before, after)
        if self._rings:
            self._settle_rings(radius, after)
        rested, self._rested = self._rested, radius <= self._still
        trembles = rested and self._rested
        if not trembles:
            self._output = None
        if self.steady or (self.counts and not trembles):
            self._context.stale = True

    def _change(self, before: int | None, after: int | None) -> None:
        """The stick goes from one sector to another."""
        old = self._sector_slots[before] if before is not None else ()
        new = self._sector_slots[after] if after is not None else ()
        for slot in new:
            if slot not in old:
                slot.down = True
                self._changed.append(slot)
        for slot in old:
            if slot not in new:
                slot.down = False
                self._changed.append(slot)

    def _settle_rings(self, radius: float, sector: int | None) -> None:
        """Inner and edge."""
        self._edge.take(min(radius, 1.0))
        limit = self._inner_radius + (INNER_HYSTERESIS if self._inner.down else 0.0)
        inner = sector is not None and radius <= limit
        if inner is not self._inner.down:
            self._inner.down = inner
            self._changed.append(self._inner)


class SurfaceReader(StickReader):
    """A touch surface: a stick whose position is that of the finger, in the middle while there is none."""

    def __init__(self, name: str, used: frozenset[str], changed: list[Slot], context: EffectContext) -> None:
        super().__init__(name, used, changed, context)
        self._touch = Slot(slot_name(name, "touch"))
        self._finger: tuple[float, float] | None = None
        self._drags = False
        self._way = (0.0, 0.0)

    def set_drags(self, drags: bool) -> None:
        """Whether the finger drags the pointer; what it did before does not count."""
        if drags is not self._drags:
            self._drags = drags
            self._way = (0.0, 0.0)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes the position of a finger, x to the right and y downwards, each -1 to 1, and whether there is one."""
        touched = values[self._touch.name] > 0.5
        if touched is not self._touch.down:
            self._touch.down = touched
            self._changed.append(self._touch)
        finger = (values[self._x], values[self._y]) if touched else None
        if self._drags and finger is not None and self._finger is not None:
            self._way = (self._way[0] + finger[0] - self._finger[0], self._way[1] + finger[1] - self._finger[1])
            self._context.stale = True
        self._finger = finger
        self._take_position(*(finger or (0.0, 0.0)))

    def dragged(self) -> tuple[float, float]:
        """How far the finger has moved since the last call."""
        way, self._way = self._way, (0.0, 0.0)
        return way
