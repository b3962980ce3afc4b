"""Strip for measuring the shown pad: pictures, changes since the last time, suggested corrections."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from html import escape
from math import ceil, hypot

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nub_shift.analysis.comparing import motion_changes, stick_changes
from nub_shift.editing.fits import Fit, fits, motion_fits, percent
from nub_shift.model.controls import CONTROL_BY_NAME, STICKS
from nub_shift.model.pad.measures import Measured, last_motion, last_rest, last_rim
from nub_shift.model.pad.trim import PadTrim
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.pads.measure_report import StickReport
from nub_shift.ui.pads.measuring import Measuring, Task
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import keep_room, quiet_scroll
from nub_shift.ui.widgets.wrapping_row import Turning

# Height of title, two lines and two suggestions of a stick.
_ROOM = 124


class MeasureStrip(QWidget):
    """Measurements and their results.

    Attributes:
        rest, rim, cancel: buttons.
        offers: buttons checked while the pad's card has a correction, by control and corrected property.

    Signals:
        task_requested(Task): begin a measurement.
        offer_taken(PadTrim): correct the pad.
    """

    task_requested = pyqtSignal(object)
    offer_taken = pyqtSignal(object)

    def __init__(self, theme: Theme, measuring: Measuring, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._measuring = measuring
        self.rest = TextButton(theme, tr("Measure rest"), f"{Task.REST.words}, {Task.REST.seconds:g} s")
        self.rest.clicked.connect(lambda: self.task_requested.emit(Task.REST))
        self.rim = TextButton(theme, tr("Measure range"), Task.RIM.words)
        self.rim.clicked.connect(lambda: self.task_requested.emit(Task.RIM))
        self.cancel = TextButton(theme, tr("Cancel"))
        self.cancel.clicked.connect(measuring.cancel)
        keep_room(self.cancel)
        self._words = QLabel()
        self._words.setFont(theme.font(0.92))
        head = QHBoxLayout()
        head.setSpacing(theme.px(6))
        for widget in (self.rest, self.rim, self.cancel):
            head.addWidget(widget)
        head.addWidget(self._words, 1)
        self._motion = QLabel()
        self._motion.setFont(theme.font(0.85))
        self._motion_offers = QHBoxLayout()
        head.addWidget(self._motion)
        head.addLayout(self._motion_offers)
        self._reports = {stick: StickReport(theme, CONTROL_BY_NAME[stick].label) for stick in STICKS}
        self._texts = {name: _Text(theme) for name in STICKS}
        self.offers: dict[str, TextButton] = {}
        body = Turning(theme.px(8))
        for stick in STICKS:
            measured = QWidget()
            pair = QHBoxLayout(measured)
            pair.setContentsMargins(0, 0, 0, 0)
            pair.setSpacing(theme.px(8))
            pair.addWidget(self._reports[stick])
            pair.addWidget(self._texts[stick], 1)
            body.box.addWidget(measured, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(2), 0, 0)
        column.setSpacing(theme.px(2))
        column.addLayout(head)
        room = quiet_scroll(body)  # constant height for any result, so that the buttons above stay
        room.setFixedHeight(theme.px(_ROOM))
        column.addWidget(room)
        self._able = {self.rest: True, self.rim: True}
        measuring.went_on.connect(self.follow)
        self.follow()

    def show_measured(self, controls: tuple[str, ...], measured: Sequence[Measured], trim: PadTrim) -> None:
        """Shows the measurements of a pad's card, and their suggested corrections."""
        sticks = [stick for stick in STICKS if stick in controls]
        self.offers.clear()
        for stick in STICKS:
            self._reports[stick].setVisible(stick in sticks)
            self._texts[stick].setVisible(stick in sticks)
        for stick in sticks:
            self._show_stick(stick, measured, trim)
        self._show_motion("motion" in controls, measured, trim)
        self._able = {self.rest: bool(sticks) or "motion" in controls, self.rim: bool(sticks)}
        self.follow()

    def follow(self) -> None:
        """Updates the progress of a measurement."""
        task = self._measuring.task
        had_focus = self.cancel.hasFocus()
        self.cancel.setVisible(task is not None)
        for button, able in self._able.items():
            button.setEnabled(task is None and able)
        if had_focus and task is None:
            self.rest.setFocus(Qt.FocusReason.OtherFocusReason)
        self._words.setText(self._going_words(task) if task is not None else "")
        going = {Task.REST: "rest", Task.RIM: "rim", None: ""}[task]
        for stick, report in self._reports.items():
            report.show_points(self._measuring.points.get(stick, ()) if task is not None else (), going)
        self.update()

    def _going_words(self, task: Task) -> str:
        """Returns the instruction, with the remaining time or sticks."""
        if task is Task.RIM:
            labels = ", ".join(inside(CONTROL_BY_NAME[stick].label) for stick in self._measuring.unrolled)
            return tr("{task}. To do: {sticks}", task=task.words, sticks=labels)
        return f"{task.words}: {ceil(task.seconds * (1 - self._measuring.progress))} s"

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paints the progress as a line along the top."""
        if self._measuring.task is not None:
            painter = QPainter(self)
            width = self.width() * self._measuring.progress
            painter.fillRect(QRectF(0, 0, width, self.theme.px(2)), self.theme.colour("pad"))

    def _show_stick(self, stick: str, measured: Sequence[Measured], trim: PadTrim) -> None:
        rests, rims = last_rest(measured, stick), last_rim(measured, stick)
        rest = rests[0][1] if rests else None
        rim = rims[0][1] if rims else None
        self._reports[stick].show_values(
            rest, rim, rests[1][1] if len(rests) > 1 else None, rims[1][1] if len(rims) > 1 else None
        )
        lines = [CONTROL_BY_NAME[stick].label]
        if rest is not None:
            off = hypot(rest.x, rest.y)
            lines.append(
                tr(
                    "At rest: {off} off the middle, noise {noise}, drift {drift}",
                    off=percent(off),
                    noise=percent(rest.noise),
                    drift=percent(rest.drift),
                )
            )
        if rim is not None:
            lines.append(tr("Range: {least} to {most}", least=percent(min(rim.reach)), most=percent(max(rim.reach))))
        lines += stick_changes(measured, stick)
        if rest is None and rim is None:
            lines.append(tr("Not measured yet"))
        self._texts[stick].show_text(lines, self._offer_buttons(stick, fits(measured, stick, trim)))

    def _show_motion(self, able: bool, measured: Sequence[Measured], trim: PadTrim) -> None:
        """Shows the line and the suggestion for motion in the head."""
        while (item := self._motion_offers.takeAt(0)) is not None:
            button = item.widget()
            if button is not None:
                button.deleteLater()
        motions = last_motion(measured) if able else []
        self._motion.setVisible(bool(motions))
        if not motions:
            return
        motion = motions[0][1]
        turns = max(abs(rate) for rate in motion.bias_dps)
        lines = [
            tr("Gyro drifts by {turns:.1f} °/s at rest, noise {noise:.2f}", turns=turns, noise=motion.noise_dps),
            *motion_changes(measured),
        ]
        self._motion.setText(". ".join(lines))
        for button in self._offer_buttons("motion", motion_fits(measured, trim)):
            self._motion_offers.addWidget(button)

    def _offer_buttons(self, control: str, found: Sequence[Fit]) -> list[TextButton]:
        """Returns the buttons of suggested corrections; pressed again they remove the correction."""
        made = []
        for fit in found:
            button = TextButton(self.theme, fit.text, tr("{why} Counts on this pad, in all games.", why=fit.why))
            button.setCheckable(True)
            button.setChecked(fit.is_used)
            button.setAccessibleName(f"{CONTROL_BY_NAME[control].label}: {fit.text}")
            button.clicked.connect(partial(self._on_offer, fit))
            self.offers[f"{control} {fit.key}"] = button
            made.append(button)
        return made

    def _on_offer(self, fit: Fit, is_used: bool) -> None:
        self.offer_taken.emit(fit.used if is_used else fit.unused)


class _Text(QWidget):
    """Lines of text, the first one bold, with suggestions beneath."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._label = QLabel()
        self._label.setFont(theme.font(0.85))
        self._label.setWordWrap(True)
        self._label.setTextFormat(Qt.TextFormat.RichText)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._column.addWidget(self._label)
        self._column.addStretch(1)
        self._buttons: list[TextButton] = []

    def show_text(self, lines: Sequence[str], buttons: list[TextButton]) -> None:
        head, *rest = lines
        self._label.setText("<br>".join([f"<b>{escape(head)}</b>", *map(escape, rest)]))
        for button in self._buttons:
            self._column.removeWidget(button)
            button.deleteLater()
        self._buttons = buttons
        for index, button in enumerate(buttons, 1):
            self._column.insertWidget(index, button)
