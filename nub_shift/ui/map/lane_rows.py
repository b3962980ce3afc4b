"""Layout of lanes side by side, or in several rows in a narrow place."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.ui.map.lane import Lane
from nub_shift.ui.widgets.layouts import take_all


class LaneRows(QVBoxLayout):
    """The rows with their lanes."""

    def __init__(self, row_gap: int, lane_gap: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(row_gap)
        self._lane_gap = lane_gap
        self._lanes: list[Lane] = []
        self._widest: list[int] = []
        self._arranged: list[list[int]] = []

    def set_lanes(self, lanes: list[Lane], widest: list[int]) -> None:
        """Replaces the lanes; `widest` has the largest number of columns of each."""
        for lane in self._lanes:
            lane.hide()
            lane.deleteLater()
        self._lanes, self._widest, self._arranged = lanes, widest, []

    def arrange(self, room: int) -> bool:
        """Lays out the lanes for a number of columns; returns whether their order has changed."""
        wanted = arranged(self._widest, room)
        if wanted == self._arranged:
            return False
        self._arranged = wanted
        take_all(self)
        lanes = iter(self._lanes)
        for columns in wanted:
            row = QHBoxLayout()
            row.setSpacing(self._lane_gap)
            self.addLayout(row)  # first, since lanes without a parent would be windows for a moment
            for count, lane in zip(columns, lanes, strict=False):
                lane.set_columns(count)
                row.addWidget(lane, count)
                lane.show()
        return True

    def keep_heads(self, top: int) -> None:
        """Keeps the names of the lanes visible; the part above `top` has been scrolled away."""
        for lane in self._lanes:
            lane.keep_head(top - lane.y())


def arranged(widest: list[int], room: int) -> list[list[int]]:
    """Returns the number of columns of each lane, for each row of lanes.

    Args:
        widest: largest number of columns of each lane.
        room: number of columns with room.
    """
    if sum(widest) <= room:
        return [widest]
    rows = -(-len(widest) // max(1, room))
    each = -(-len(widest) // rows) if rows else 0
    return [[1] * len(widest[first : first + each]) for first in range(0, len(widest), each or 1)]
