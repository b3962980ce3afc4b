"""The names of the fingers stay where they can be read, however the lanes are scrolled."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt

from nub_shift.ui.commands import Station
from nub_shift.ui.map.lane import Lane, LaneHead
from tests.ui.conftest import Bench
from tests.ui.hands import QTest


def test_fingers_are_named_and_keys_scroll_along(bench: Bench) -> None:
    window = bench.window
    window.show_station(Station.MAP)
    window.setMinimumSize(0, 0)
    window.resize(800, 440)
    lanes = window.map.lanes
    view = lanes.parentWidget()
    assert view is not None
    bench.qtbot.waitUntil(lambda: lanes.height() > view.height() > 0)
    first = next(iter(lanes.instruments.values()))
    first.setFocus(Qt.FocusReason.TabFocusReason)
    lowest = 0
    for _ in range(12):
        QTest.keyClick(window.focusWidget(), Qt.Key.Key_Right)
        QTest.keyClick(window.focusWidget(), Qt.Key.Key_Down)
        focused = window.focusWidget()
        assert focused is not None
        top = focused.mapTo(view, QPoint(0, 0)).y()
        lane = focused.parentWidget()
        assert isinstance(lane, Lane)
        (head,) = lane.findChildren(LaneHead)
        head_top = head.mapTo(view, QPoint(0, 0)).y()
        assert 0 <= head_top <= top - head.height()
        assert top < view.height()
        lowest = min(lowest, lanes.y())
    assert lowest < 0
