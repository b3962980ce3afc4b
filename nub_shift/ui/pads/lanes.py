"""All controls of a pad as live instruments, by fingers."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QWidget

from nub_shift.model.controls import CONTROL_OF_CHANNEL, CONTROLS, Fingers, by_finger
from nub_shift.protocol.messages import Introducing, PadInfo
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.lane import Lane
from nub_shift.ui.map.lane_rows import LaneRows
from nub_shift.ui.pads.instrument import PadInstrument

# Least width of a column.
_COLUMN = 118


class PadLanes(QScrollArea):
    """All lanes of one pad.

    Attributes:
        instruments: by control.

    Signals:
        held(dict): channels held by hand.
        picked(str): name of a selected control.
        name_requested(): edit the label of the selected one.
    """

    held = pyqtSignal(dict)
    picked = pyqtSignal(str)
    name_requested = pyqtSignal()

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.instruments: dict[str, PadInstrument] = {}
        self._controls: tuple[str, ...] = ()
        self._fingers: Fingers = {}
        self._key = ""
        self._held: dict[str, dict[str, float]] = {}
        inner = QWidget()
        self._rows = LaneRows(theme.px(6), theme.px(4), inner)
        self.setWidget(inner)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_pad(self, pad: PadInfo | None, course: Introducing | None, seconds: Collection[str]) -> None:
        """Shows a pad, the progress of its set-up, and the controls of the second of two players."""
        key, controls = (pad.key, pad.controls) if pad is not None else ("", ())
        if key != self._key:
            self._key, self._controls = key, ()
        if course is not None:
            # All possible controls are shown throughout, so that answers do not move the lanes.
            known = {CONTROL_OF_CHANNEL[channel].name for channel in course.status}
            requested = {course.requested, course.requested.split(".")[0]}
            controls = tuple(
                control.name
                for control in CONTROLS
                if control.name in known | requested or control.name in self._controls
            )
        fingers = pad.fingers if pad is not None else {}
        if (controls, fingers) != (self._controls, self._fingers):
            self._fingers = fingers
            self._lay_out(controls)
        if pad is not None:
            for name, instrument in self.instruments.items():
                status = course.status if course is not None else {}
                instrument.show_pad(pad, status, course.requested if course is not None else "")
                instrument.show_player(pad.seats[1] + 1 if name in seconds else 0)

    def follow(self, values: Mapping[str, float]) -> None:
        """Updates the live values."""
        for instrument in self.instruments.values():
            instrument.follow(values)

    def _lay_out(self, controls: tuple[str, ...]) -> None:
        lanes: list[Lane] = []
        self._controls = controls
        self.instruments.clear()
        self._held.clear()
        for finger, names in by_finger(controls, self._fingers).items():
            for name in names:
                instrument = PadInstrument(self.theme, name)
                instrument.held.connect(lambda held, found=name: self._on_held(found, held))
                instrument.picked.connect(lambda found=name: self.picked.emit(found))
                instrument.name_requested.connect(self.name_requested)
                self.instruments[name] = instrument
            lanes.append(Lane(self.theme, finger, [self.instruments[name] for name in names]))
        self._rows.set_lanes(lanes, [1] * len(lanes))
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """Arranges the lanes in several rows in a narrow place."""
        self._rows.arrange(self.width() // self.theme.px(_COLUMN))

    def _on_held(self, control: str, held: dict[str, float]) -> None:
        self._held[control] = held
        self.held.emit({channel: value for part in self._held.values() for channel, value in part.items()})
