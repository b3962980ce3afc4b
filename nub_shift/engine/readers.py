"""Readers of analogue controls, which turn channel values into changed slots.

A button needs no reader: its channel is its slot. A reader runs once for each frame with any of its channels.
"""

from __future__ import annotations

from collections.abc import Collection
from math import hypot
from typing import Final

from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.reader import Reader
from nub_shift.engine.shaping.directions import SECTOR_WAYS, Sectors
from nub_shift.engine.shaping.smoothing import OneEuro, RampUp
from nub_shift.engine.shaping.stick_shape import shape_of
from nub_shift.engine.shaping.trimming import Trimming
from nub_shift.engine.stage_readers import LEAST_SPAN, StageReader
from nub_shift.model.controls import DIAGONALS, WAYS
from nub_shift.model.pad.trim import StickTrim, stick_feel_on
from nub_shift.model.profile.feel import AxisFeel, StickFeel
from nub_shift.model.slot_names import slot_name

# Hysteresis of a stick's inner radius.
INNER_HYSTERESIS: Final = 0.04
# Radius at which a withheld stick counts as back in the middle; its dead zone if that is wider.
BACK_RADIUS: Final = 0.15


def uses_diagonals(name: str, used: Collection[str]) -> bool:
    """Returns whether a profile with these slots assigns the diagonals of a stick on their own."""
    return any(slot_name(name, diagonal) in used for diagonal in DIAGONALS)


class StickReader(Reader):
    """A stick: directions, inner and edge as slots, and the shaped position.

    Attributes:
        counts: whether an active layer uses the shaped position.
        steady: whether the position also counts in the dead zone.
        restless: whether the output changes with time alone.
    """

    def __init__(
        self, name: str, used: frozenset[str], analogue: bool, changed: list[Slot], context: EffectContext
    ) -> None:
        self.name = name
        self.counts = self.steady = False
        self._analogue = analogue
        self._withheld = False
        self._raw = self._hand = (0.0, 0.0)
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
        self._edge = StageReader(Slot(slot_name(name, "edge")), analogue, changed)
        self._changed = changed
        self._oriented = (0.0, 0.0)
        self._output: tuple[float, float] | None = (0.0, 0.0)  # cached while time alone does not change it
        self._rested = False
        self.restless = False
        self._sector: int | None = None
        self._smoothing: OneEuro | None = None
        self._ramp: RampUp | None = None
        self._axis_ramps: tuple[RampUp | None, RampUp | None] = (None, None)
        self._by_position = True  # whether the output depends on the position alone
        self._trim = StickTrim()
        self._trimming: Trimming | None = None

    def fit(self, trim: StickTrim) -> None:
        """Sets the correction for a pad from the next position on. Call `use` afterwards."""
        self._trim = trim
        self._trimming = Trimming(trim) if trim != StickTrim() else None

    def use(self, feel: StickFeel) -> None:
        """Sets the feel: zones and curve apply at once; directions, stages and orientation from the next move on.

        A feel may come with a layer held by this very stick, so the call must not press or release anything.
        """
        feel = stick_feel_on(self._trim, feel)
        self._sectors = Sectors(feel.directions)
        self._inner_radius = feel.inner
        self._edge.use(feel.edge)
        self._shape = shape_of(feel)
        self._depths_from = [self._depth_from(feel.directions.stage(way).off) for way in WAYS]
        self._diagonal_from = self._depth_from(feel.directions.off)
        self._still = self._shape.dead if feel.smoothing is None else -1.0
        self._smoothing = OneEuro(feel.smoothing) if feel.smoothing is not None else None
        self._ramp = RampUp(feel.ramp) if feel.ramp is not None else None
        self._axis_ramps = (_axis_ramp(feel.x), _axis_ramp(feel.y))
        self._by_position = self._smoothing is None is self._ramp and self._axis_ramps == (None, None)
        self._output = None
        self._rested = self.restless = False

    def _depth_from(self, radius: float) -> float:
        """Returns the depth at the radius where a direction ends, the zero of the depth of a press."""
        return min(hypot(*self._shape.shape(radius, 0.0)), 1.0 - LEAST_SPAN)

    def output(self, now_us: int) -> tuple[float, float]:
        """Returns the shaped position at `now_us`, x to the right, y downwards, within the unit circle."""
        if self._output is not None:
            return self._output
        x, y = self._oriented
        if self._by_position:
            self._output = self._shape.shape(x, y)
            return self._output
        if self._smoothing is not None:
            x, y = self._smoothing.step(x, y, now_us)
        x, y = self._shape.shape(x, y)
        if self._ramp is not None:
            factor = self._ramp.factor(x != 0.0 or y != 0.0, now_us)
            x, y = x * factor, y * factor
        across, upright = self._axis_ramps
        if across is not None:
            x *= across.factor(x != 0.0, now_us)
        if upright is not None:
            y *= upright.factor(y != 0.0, now_us)
        filters = (self._smoothing, self._ramp, across, upright)
        self.restless = any(filter_ is not None and not filter_.settled for filter_ in filters)
        if not self.restless:
            self._output = (x, y)
        return x, y

    @property
    def position(self) -> tuple[float, float]:
        """Position of the stick before dead zones and curve."""
        return self._hand

    def withhold(self) -> None:
        """Treats the stick as centred until it returns to the middle, since its present deflection has been used."""
        self._withheld = True
        self._take_position(*self._raw)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes a position, x to the right and y downwards, each -1 to 1."""
        self._take_position(values[self._x], values[self._y])

    def _take_position(self, x: float, y: float) -> None:
        """Processes a position. Presses precede releases, so that a key of both directions stays down."""
        self._raw = (x, y)
        if self._trimming is not None:
            x, y = self._trimming.place(x, y)
        if not self._shape.keeps_orientation:
            x, y = self._shape.oriented(x, y)
        self._oriented = self._hand = (x, y)
        radius = hypot(x, y)
        if self._withheld:
            self._withheld = radius > max(self._shape.dead, BACK_RADIUS)
            x = y = radius = 0.0
            self._oriented = (0.0, 0.0)
        if self._analogue:
            self._set_depths(x, y)
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

    def _set_depths(self, x: float, y: float) -> None:
        """Sets the depth of each direction: 0 where the direction ends, 1 at the rim, by the stick's curve in
        between.
        """
        x, y = self._shape.shape(x, y)
        for slot, least, out in zip(self._ways, self._depths_from, (-y, y, -x, x), strict=True):
            slot.depth = (out - least) / (1.0 - least)
        if self._diagonals:
            depth = (hypot(x, y) - self._diagonal_from) / (1.0 - self._diagonal_from)
            for slot in self._diagonals:
                slot.depth = depth

    def _change(self, before: int | None, after: int | None) -> None:
        """Changes from one sector to another."""
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
        """Updates the inner and edge slots."""
        self._edge.note(min(radius, 1.0))
        limit = self._inner_radius + (INNER_HYSTERESIS if self._inner.down else 0.0)
        inner = sector is not None and radius <= limit
        if inner is not self._inner.down:
            self._inner.down = inner
            self._changed.append(self._inner)


def _axis_ramp(axis: AxisFeel | None) -> RampUp | None:
    return RampUp(axis.ramp) if axis is not None and axis.ramp is not None else None


class SurfaceReader(StickReader):
    """A touch surface: a stick with the position of the finger, in the middle without a finger."""

    def __init__(
        self, name: str, used: frozenset[str], analogue: bool, changed: list[Slot], context: EffectContext
    ) -> None:
        super().__init__(name, used, analogue, changed, context)
        self._touch = Slot(slot_name(name, "touch"))
        self._finger: tuple[float, float] | None = None
        self._drags = False
        self._way = (0.0, 0.0)

    def set_drags(self, drags: bool) -> None:
        """Sets whether the finger drags the pointer; earlier movement is dropped."""
        if drags is not self._drags:
            self._drags = drags
            self._way = (0.0, 0.0)

    def take(self, values: dict[str, float], now_us: int) -> None:  # noqa: ARG002
        """Takes the position of a finger, x to the right and y downwards, each -1 to 1, and whether one touches."""
        touched = values[self._touch.name] > 0.5
        if touched is not self._touch.down:
            self._touch.down = touched
            self._changed.append(self._touch)
        finger = (values[self._x], values[self._y]) if touched else None
        if self._drags and (finger is None) is not (self._finger is None):
            self._context.stale = True
        if self._drags and finger is not None and self._finger is not None:
            self._way = (self._way[0] + finger[0] - self._finger[0], self._way[1] + finger[1] - self._finger[1])
            self._context.stale = True
        self._finger = finger
        self._take_position(*(finger or (0.0, 0.0)))

    @property
    def touched(self) -> bool:
        """Whether a finger touches the surface."""
        return self._finger is not None

    def dragged(self) -> tuple[float, float]:
        """Returns how far the finger has moved since the last call."""
        way, self._way = self._way, (0.0, 0.0)
        return way
