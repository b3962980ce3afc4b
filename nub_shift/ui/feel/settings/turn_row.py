"""Looking speed, and counts of a full turn: typed, measured with the person, or copied from another game."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.feel.look_speed import FASTEST, degrees_a_count, is_turn_known, speed
from nub_shift.engine.values import Output, Pointer
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.menus import add_entry, passing_menu
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import DecimalSpin, show_number, show_range
from nub_shift.ui.widgets.turn_field import FULL_TURN_HELP, LEAST_COUNTS, MOST_COUNTS, make_turn_spin


class TurnRow(QWidget):
    """Two lines below the curve, or below the pictures of motion.

    Attributes:
        across, down, alike: looking speed of a stick; whether both are equal.
        counts: counts of a full turn.
        measure: begins and ends a measurement.
        same: opens the games whose feel can be copied.
        measuring: a measurement is in progress.
        counts_mouse: counts of the person's mouse are included.

    Signals:
        speed_typed(float, float): counts a second, across and down.
        counts_typed(int): counts of a full turn.
        menu_requested(): the list of games is requested.
        same_requested(str): copy the feel from the game of that title.
        measuring_changed(bool): a measurement has begun or ended.
        said(str): a line for the person.
    """

    measuring_changed = pyqtSignal(bool)
    speed_typed = pyqtSignal(float, float)
    counts_typed = pyqtSignal(int)
    menu_requested = pyqtSignal()
    same_requested = pyqtSignal(str)
    said = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.measuring = self.counts_mouse = False
        self._theme = theme
        self._by_pad = self._by_mouse = 0.0  # horizontal counts
        self._counts = (0.0, 0.0)  # a second
        self._factor = 1.0  # from typed values to counts a second
        self.across = DecimalSpin(tr("Look speed across"), 0.0, FASTEST, 10.0, 0)
        self.down = DecimalSpin(tr("Look speed up and down"), 0.0, FASTEST, 10.0, 0)
        self.alike = TextButton(theme, tr("Alike"), tr("Keeps both axes at the same speed"))
        self.alike.setCheckable(True)
        self.across.valueChanged.connect(partial(self._on_speed, self.across))
        self.down.valueChanged.connect(partial(self._on_speed, self.down))
        self.alike.clicked.connect(self._on_alike)
        self._unit = PlainLabel()
        self._speeds = QWidget()
        speeds = Flow(theme.px(5), self._speeds, grows=True)
        speeds.addWidget(PlainLabel(tr("Look speed")))
        fast = tr("How fast the view turns when the stick is pushed all the way.")
        for widget in (self.across, PlainLabel("×"), self.down, self._unit, self.alike):
            speeds.addWidget(widget)
        speeds.addWidget(HelpMark(theme, tr("look speed"), fast, self.across))
        self.down.setAccessibleDescription(fast)
        self.counts = make_turn_spin(tr(" counts"))
        self.counts.valueChanged.connect(self.counts_typed)
        how = tr("Turn the view round once in the game, with the pad (live) or the mouse. The counts are added up")
        self.measure = TextButton(theme, tr("Measure …"), how)
        # constant for all its texts, so that nothing moves
        self.measure.setMinimumWidth(self.measure.sizeHint().width())
        self.measure.clicked.connect(self._on_measure)
        self.cancel = TextButton(theme, tr("Cancel"))
        self.cancel.clicked.connect(self._on_cancel)
        self.same = TextButton(theme, tr("Same as in …"), tr("Uses the speed of another game, in degrees of view"))
        self.same.clicked.connect(self.menu_requested)
        turn = Flow(theme.px(5), grows=True)
        turn.addWidget(PlainLabel(tr("Full turn")))
        turn.addWidget(self.counts)
        turn.addWidget(HelpMark(theme, tr("full turn"), FULL_TURN_HELP, self.counts))
        for button in (self.same, self.measure, self.cancel):
            turn.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(3))
        column.addWidget(self._speeds)
        column.addLayout(turn)
        self._follow_measuring()

    def show_profile(self, profile: Profile, layer_id: str, control: str) -> None:
        """Shows the values of a looking stick, or of motion; hidden for other uses."""
        looks = speed(profile, layer_id, control)
        self.setVisible(looks is not None or control == MOTION_SLOT)
        self._speeds.setVisible(looks is not None)
        known = is_turn_known(profile)
        self._factor = degrees_a_count(profile) if known else 1.0
        self._unit.setText(tr("degrees a second") if known else tr("counts a second"))
        if looks is not None:
            self._counts = abs(looks.x), abs(looks.y)
            for spin, counts in ((self.across, looks.x), (self.down, looks.y)):
                show_range(spin, 0.0, FASTEST * self._factor, 1 if known else 0)
                show_number(spin, abs(counts) * self._factor)
            if not self.across.hasFocus() and not self.down.hasFocus():
                self.alike.setChecked(abs(looks.x) == abs(looks.y))
        show_number(self.counts, profile.game.counts_per_turn)

    def take(self, outputs: Iterable[Output]) -> None:
        """Adds the outputs of the pad."""
        if self.measuring:
            moved = sum(output.dx for output in outputs if isinstance(output, Pointer))
            if moved:
                self._by_pad += moved
                self._follow_measuring()

    def take_mouse(self, counts: float) -> None:
        """Adds horizontal motion of the person's mouse."""
        if self.measuring:
            self._by_mouse += counts
            self._follow_measuring()

    @property
    def _turned(self) -> int:
        """The larger of the counts by pad and by mouse, since a server may report the pad as a mouse too."""
        return round(max(abs(self._by_pad), abs(self._by_mouse)))

    def offer(self, titles: Iterable[str]) -> None:
        """Shows games to choose from."""
        menu = passing_menu(self)
        for title in titles:
            add_entry(menu, title, partial(self.same_requested.emit, title))
        if menu.isEmpty():
            add_entry(menu, tr("There is no other game in the library yet"), lambda: None).setEnabled(False)
        menu.popup(self.same.mapToGlobal(QPoint(0, self.same.height())))

    def _on_speed(self, typed: DecimalSpin, value: float) -> None:
        counts = value / self._factor
        across, down = self._counts
        if typed is self.across or self.alike.isChecked():
            across = counts
        if typed is self.down or self.alike.isChecked():
            down = counts
        self.speed_typed.emit(across, down)

    def _on_alike(self) -> None:
        if self.alike.isChecked() and self.across.value() != self.down.value():
            self._on_speed(self.across, self.across.value())

    def _on_measure(self) -> None:
        turned = self._turned if self.measuring else None
        self._set_measuring(not self.measuring)
        if turned is not None and LEAST_COUNTS <= turned <= MOST_COUNTS:
            self.counts_typed.emit(turned)
        elif turned is not None:
            self.said.emit(
                tr(
                    "A full turn is {least} to {most} counts, not {turned}",
                    least=LEAST_COUNTS,
                    most=MOST_COUNTS,
                    turned=turned,
                )
            )

    def _on_cancel(self) -> None:
        self._set_measuring(False)

    def _set_measuring(self, on: bool) -> None:
        self.measuring, self._by_pad, self._by_mouse = on, 0.0, 0.0
        self.measuring_changed.emit(on)
        self._follow_measuring()

    def _follow_measuring(self) -> None:
        self.cancel.setEnabled(self.measuring)
        self.measure.setText(tr("Done") if self.measuring else tr("Measure …"))
        self.measure.setAccessibleName(self.measure.text())
        self.measure.updateGeometry()
        if self.measuring:
            by = tr("pad or mouse") if self.counts_mouse else tr("pad")
            self.said.emit(
                tr(
                    "{turned} counts so far. Turn the view round once in the game, with {by}",
                    turned=self._turned,
                    by=by,
                )
            )
