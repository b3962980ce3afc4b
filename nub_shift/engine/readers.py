"""One reader a control: channel values in, edges of its slots out."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from nub_shift.engine.directions import SECTOR_WAYS, next_sector
from nub_shift.engine.shaping import shaped_stick
from nub_shift.model.profile import Stage, StickFeel


class Edge(NamedTuple):
    """A slot goes down or up."""

    slot: str
    down: bool


Take = Callable[[float], None]


class ButtonReader:
    """A button: down above one half."""

    def __init__(self, slot: str, edges: list[Edge]) -> None:
        self._slot = slot
        self._edges = edges
        self.down = False

    def take(self, value: float) -> None:
        """Takes a value and appends an edge where it changes."""
        down = value > 0.5
        if down is not self.down:
            self.down = down
            self._edges.append(Edge(self._slot, down))


class StageReader:
    """A trigger stage: down from `on`, up below `off`."""

    def __init__(self, slot: str, stage: Stage, edges: list[Edge]) -> None:
        self._slot = slot
        self._stage = stage
        self._edges = edges
        self.down = False

    def take(self, value: float) -> None:
        """Takes a value from 0 to 1 and appends an edge where the stage changes."""
        down = value >= (self._stage.off if self.down else self._stage.on)
        if down is not self.down:
            self.down = down
            self._edges.append(Edge(self._slot, down))


class StickReader:
    """A stick: its directions as edges, and its shaped position.

    Both axes of one frame are taken first; `settle` then acts on them together.
    """

    def __init__(self, name: str, feel: StickFeel, edges: list[Edge], touched: list[StickReader]) -> None:
        self.name = name
        self._feel = feel
        self._edges = edges
        self._touched = touched
        self._x = 0.0
        self._y = 0.0
        self._sector: int | None = None
        self.position = (0.0, 0.0)

    def take_x(self, value: float) -> None:
        """Takes the position to the right, -1 to 1."""
        self._x = value
        self._touch()

    def take_y(self, value: float) -> None:
        """Takes the position downwards, -1 to 1."""
        self._y = value
        self._touch()

    def _touch(self) -> None:
        if self not in self._touched:
            self._touched.append(self)

    def settle(self) -> None:
        """Computes the shaped position and appends the edges of the directions, what goes down first.

        Down before up, so that a key which serves both directions stays down in between.
        """
        self.position = shaped_stick(self._x, self._y, self._feel)
        sector = next_sector(self._sector, self._x, self._y, self._feel.directions)
        if sector == self._sector:
            return
        before = SECTOR_WAYS[self._sector] if self._sector is not None else ()
        after = SECTOR_WAYS[sector] if sector is not None else ()
        self._sector = sector
        self._edges += [Edge(f"{self.name}.{way}", True) for way in after if way not in before]
        self._edges += [Edge(f"{self.name}.{way}", False) for way in before if way not in after]
