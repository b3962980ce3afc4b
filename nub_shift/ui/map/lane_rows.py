"""Lanes side by side, or in several rows where the room is too narrow for one."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.ui.map.lane import Lane
from nub_shift.ui.widgets.layouts import take_all


class LaneRows(QVBoxLayout):
    """The rows, each with its lanes."""

    def __init__(self, row_gap: int, lane_gap: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(row_gap)
        self._lane_gap = lane_gap
        self._lanes: list[Lane] = []
        self._widest: list[int] = []
        self._arranged: list[list[int]] = []

    def set_lanes(self, lanes: list[Lane], widest: list[int]) -> None:
        """Takes other lanes, and those that are there go; `widest` is into how many columns each can be laid out."""
        for lane in self._lanes:
            lane.hide()
            lane.deleteLater()
        self._lanes, self._widest, self._arranged = lanes, widest, []

    def arrange(self, room: int) -> bool:
        """Lays them out for that many columns; returns whether that is another order than before."""
        wanted = arranged(self._widest, room)
        if wanted == self._arranged:
            return False
        self._arranged = wanted
        take_all(self)
        lanes = iter(self._lanes)
        for columns in wanted:
            row = QHBoxLayout()
            row.setSpacing(self._lane_gap)
            self.addLayout(row)  # first, or its lanes would be windows of their own for a moment
            for count, lane in zip(columns, lanes, strict=False):
                lane.set_columns(count)
                row.addWidget(lane, count)
                lane.show()
        return True

    def keep_heads(self, top: int) -> None:
        """Keeps the names of the lanes in sight; what is above `top` has been scrolled away."""
        for lane in self._lanes:
            lane.keep_head(top - lane.y())


def arranged(widest: list[int], room: int) -> list[list[int]]:
    """How many columns each lane has, in each row of lanes.

    Args:
        widest: into how many columns each lane can be laid out.
        room: how many columns there is room for.
    """
    if sum(widest) <= room:
        return [widest]
    rows = -(-len(widest) // max(1, room))
    each = -(-len(widest) // rows) if rows else 0
    return [[1] * len(widest[first : first + each]) for first in range(0, len(widest), each or 1)]
