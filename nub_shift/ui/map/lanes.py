"""The finger lanes: the controls of each finger, nearest first, as live instruments at fixed places."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QMoveEvent, QResizeEvent
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.document import Document
from nub_shift.model.controls import Fingers, by_finger
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.instrument import Instrument
from nub_shift.ui.map.lane import Lane
from nub_shift.ui.map.lane_rows import LaneRows
from nub_shift.ui.widgets.roving import make_stop

# Least width of a column.
_COLUMN = 108


class Lanes(QWidget):
    """All lanes of a pad: in one row, thumbs in two columns, if the width allows.

    Attributes:
        instruments: by control.

    Signals:
        open_requested(str): name of a clicked control.
        move_given(str, str): control, and the move dropped on it.
        stepped_to(str): control that got the focus by keys.
        arranged(): the needed height may have changed.
    """

    open_requested = pyqtSignal(str)
    move_given = pyqtSignal(str, str)
    stepped_to = pyqtSignal(str)
    arranged = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, live: Live, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.instruments: dict[str, Instrument] = {}
        self._document = document
        self._live = live
        self._fingers: Fingers = {}
        self._rows = LaneRows(theme.px(6), theme.px(4), self)

    def set_controls(self, controls: tuple[str, ...], fingers: Fingers) -> None:
        """Lays out the lanes for a pad with these controls; `fingers` has unusual fingers of controls."""
        self.instruments = {}
        self._fingers = fingers
        lanes: list[Lane] = []
        for finger, names in by_finger(controls, fingers).items():
            for name in names:
                instrument = self.instruments[name] = Instrument(self.theme, name, self._live)
                instrument.given.connect(lambda move, found=name: self.move_given.emit(found, move))
                instrument.clicked.connect(lambda _checked, found=name: self.open_requested.emit(found))
                instrument.stepped.connect(partial(self._step, name))
                instrument.focused.connect(partial(self._stop_at, name))
            lanes.append(Lane(self.theme, finger, [self.instruments[name] for name in names]))
        self._stop_at(next(iter(self.instruments), ""))
        self._rows.set_lanes(lanes, [lane.widest for lane in lanes])
        self._arrange()

    def show_layer(self, layer_id: str) -> None:
        """Shows the assignments of every control in a layer."""
        for instrument in self.instruments.values():
            instrument.show_layer(self._document.profile, layer_id, self._document.layout())

    def show_opened(self, control: str) -> None:
        """Marks the opened control; empty for none."""
        for name, instrument in self.instruments.items():
            instrument.set_opened(name == control)

    def show_plugged(self, plugged: bool) -> None:
        """Greys the controls without a pad."""
        for instrument in self.instruments.values():
            instrument.set_plugged(plugged)

    def update_live(self) -> None:
        """Updates the live values."""
        for instrument in self.instruments.values():
            instrument.update_live()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._arrange()

    def moveEvent(self, event: QMoveEvent | None) -> None:
        """Keeps the names of lanes visible while scrolling."""
        super().moveEvent(event)
        self._rows.keep_heads(-self.y())

    def _arrange(self) -> None:
        """Puts the lanes side by side, or in several rows in a narrow place."""
        if self._rows.arrange(self.width() // self.theme.px(_COLUMN)):
            self._rows.addStretch(1)
        self.arranged.emit()

    def _stop_at(self, name: str) -> None:
        """Makes the control the stop of the Tab key."""
        make_stop(self.instruments.values(), self.instruments.get(name))

    def _step(self, name: str, across: int, down: int) -> None:
        """Moves the focus to the next instrument in the lane, or to the one beside it in the next lane."""
        lanes = list(by_finger(self.instruments, self._fingers).values())
        lane = next(index for index, names in enumerate(lanes) if name in names)
        row = lanes[lane].index(name) + down
        lane = min(max(lane + across, 0), len(lanes) - 1)
        target = lanes[lane][min(max(row, 0), len(lanes[lane]) - 1)]
        self.instruments[target].setFocus(Qt.FocusReason.TabFocusReason)
        self.stepped_to.emit(target)
