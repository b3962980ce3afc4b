"""The readers of analogue controls: channel values in, slots that changed out.

A button needs no reader: its channel is its slot.
"""

from __future__ import annotations

from collections.abc import Callable

from nub_shift.engine.desk import Slot
from nub_shift.engine.directions import SECTOR_WAYS, Sectors
from nub_shift.engine.shaping import shaped_stick
from nub_shift.model.controls import WAYS
from nub_shift.model.profile import Stage, StickFeel

Take = Callable[[float], None]


class StageReader:
    """A trigger stage: down from `on`, up below `off`."""

    def __init__(self, slot: Slot, stage: Stage, changed: list[Slot]) -> None:
        self._slot = slot
        self._stage = stage
        self._changed = changed

    def take(self, value: float) -> None:
        """Takes a value from 0 to 1 and notes the slot if the stage changes."""
        slot = self._slot
        slot.depth = value
        down = value >= (self._stage.off if slot.down else self._stage.on)
        if down is not slot.down:
            slot.down = down
            self._changed.append(slot)


class StickReader:
    """A stick: its directions as slots, and its shaped position.

    Both axes of one frame are taken first; `settle` then acts on them together.
    """

    def __init__(self, name: str, feel: StickFeel, changed: list[Slot], moved: list[StickReader]) -> None:
        self.name = name
        ways = {way: Slot(f"{name}.{way}") for way in WAYS}
        self.slots = tuple(ways.values())
        self._sectors = Sectors(feel.directions)
        self._sector_slots = [tuple(ways[way] for way in sector) for sector in SECTOR_WAYS]
        self._feel = feel
        self._changed = changed
        self._moved = moved
        self._x = 0.0
        self._y = 0.0
        self._sector: int | None = None

    @property
    def position(self) -> tuple[float, float]:
        """The shaped position, x to the right, y downwards, within the unit circle."""
        return shaped_stick(self._x, self._y, self._feel)

    def take_x(self, value: float) -> None:
        """Takes the position to the right, -1 to 1."""
        self._x = value
        if self not in self._moved:
            self._moved.append(self)

    def take_y(self, value: float) -> None:
        """Takes the position downwards, -1 to 1."""
        self._y = value
        if self not in self._moved:
            self._moved.append(self)

    def settle(self) -> None:
        """Notes the directions that change, what goes down first.

        Down before up, so that a key which serves both directions stays down in between.
        """
        for slot, depth in zip(self.slots, (-self._y, self._y, -self._x, self._x), strict=True):
            slot.depth = depth
        before = self._sector
        after = self._sectors.next(before, self._x, self._y)
        if after == before:
            return
        self._sector = after
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
