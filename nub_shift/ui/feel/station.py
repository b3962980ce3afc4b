"""Station Feel: pictures of a control with draggable lines, and all its settings."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QBoxLayout, QVBoxLayout, QWidget

from nub_shift.analysis.hands import Hands
from nub_shift.editing.document import Document, Edit
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.feel.handles import handles, shown_feel
from nub_shift.editing.feel.signal_way import SignalStage, signal_way
from nub_shift.editing.feel.stage_lines import stage_lines
from nub_shift.editing.feel.wishes import Wish
from nub_shift.editing.pad_view import PadView
from nub_shift.engine.values import Frame
from nub_shift.model.controls import (
    CONTROL_BY_NAME,
    CONTROL_OF_SLOT,
    MOTION_SLOT,
    STICK_SLOTS,
    Kind,
)
from nub_shift.model.pad.card import PadCard
from nub_shift.model.pad.measures import Measured, last_rest, last_rim
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.protocol.messages import FrameNews
from nub_shift.translation import inside, tr
from nub_shift.ui.feel.compare.flipping import Flipping, Key
from nub_shift.ui.feel.compare.outcome_panel import TURN_ROWS, OutcomePanel
from nub_shift.ui.feel.compare.outcomes import Outcomes
from nub_shift.ui.feel.compare.two_feels import TwoFeelsRow
from nub_shift.ui.feel.edits import FeelEdits
from nub_shift.ui.feel.live_marks import LiveMarks
from nub_shift.ui.feel.look_edits import LookEdits
from nub_shift.ui.feel.pictures.curve_panel import CurvePanel
from nub_shift.ui.feel.pictures.gauge import Gauge
from nub_shift.ui.feel.pictures.lens import Lens
from nub_shift.ui.feel.settings.control_choice import ControlChoice
from nub_shift.ui.feel.settings.motion_page import MotionPage
from nub_shift.ui.feel.settings.numbers import Numbers
from nub_shift.ui.feel.settings.pad_choice import WHICH_PADS_HELP, PadChoice
from nub_shift.ui.feel.settings.turn_row import TurnRow
from nub_shift.ui.feel.settings.way_row import WayRow
from nub_shift.ui.feel.settings.wish_list import WishList
from nub_shift.ui.feel.wish_edits import WishEdits
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.pads_live import PadsLive
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import FittedLabel
from nub_shift.ui.widgets.wrapping_row import Turning, WrappingRow

# Width below which all parts stand below one another.
_NARROW = 1000
_LOW_LENS, _NO_LIMIT = 300, 16_777_215


class FeelStation(QWidget):
    """Station for shaping controls.

    Attributes:
        control: shown control.
        choice: choice of the control.
        curving: curve with the choice of its axis.
        lens, curve, wishes: pictures and wishes of a stick or surface.
        pad: choice of the pad.
        hands, outcome_panel, turn_outcome_panel: recorded movements, and their outcomes.
        both, flipping: two versions of a feel.
        motion: page of motion.
        way: stages that shape the control.
        gauge: picture of a trigger, slider or sensor.
        to_map: returns to Map, for a person who came from there.
        start: offers starting points.
        numbers, table: button and table of all settings.

    Signals:
        said(str): a line for the person.
        left(): the person returns to Map.
        pad_chosen(): another pad is shown.
    """

    said = pyqtSignal(str)
    left = pyqtSignal()
    pad_chosen = pyqtSignal()

    def __init__(
        self,
        theme: Theme,
        document: Document,
        live: Live,
        link: RunnerLink,
        pads: PadsLive,
        marks: Callable[[str], PadCard | None],
        clock: Callable[[], int],
        parent: QWidget | None = None,
    ) -> None:
        """`marks` returns the card of the pad of a key, if the pad is within reach; `clock` counts microseconds."""
        super().__init__(parent)
        self._marks = marks
        self.theme = theme
        self.control = "left_stick"
        self._view = PadView(document)
        self._live = live
        self._link = link
        self._layer_id = BASE_LAYER
        self._edits = FeelEdits(self._view, link, self)
        self._edits.previewed.connect(self._on_previewed)
        self.hands = Hands()
        self.choice = ControlChoice(theme, self)
        self.choice.chosen.connect(self.show_control)
        head = WrappingRow(theme.px(6))
        head.head.addLayout(self.choice.row, 1)
        self.back = TextButton(theme, "", tr("Resets every number of this control"))
        self.back.clicked.connect(self._on_back)
        self._about = FittedLabel(theme.px(220))
        self._about.setFont(theme.font(1.2, bold=True))
        self.pad = PadChoice(theme, self._view, live, pads)
        self.pad.chosen.connect(self._on_pad)
        self.both = TwoFeelsRow(theme)
        self.flipping = Flipping(self._view, self.both, self)
        self.flipping.changed.connect(self._show)
        self.flipping.said.connect(self.said)
        self.lens = Lens(theme)
        self.curving = CurvePanel(theme)
        self.curve = self.curving.curve
        self.curving.axis_chosen.connect(self._on_axis)
        self.gauge = Gauge(theme, clock)
        self.motion = MotionPage(theme)
        self._edits.follow(self.lens, self.curve, self.gauge, self.motion)
        self._following = LiveMarks(self.hands, self.lens, self.curve, self.gauge, self.motion)
        self.way = WayRow(theme)
        self.way.without.connect(self._on_without)
        self.turn = TurnRow(theme)
        LookEdits(self.turn, self._view, self._edits, link, self).said.connect(self.said)
        self.outcome_panel = OutcomePanel(theme, self.hands)
        self.outcome_panel.refreshed.connect(self._on_refreshed)
        self.outcome_panel.said.connect(self.said)
        self.turn_outcome_panel = OutcomePanel(
            theme, self.hands, TURN_ROWS
        )  # the pictures of motion leave little room beside
        self.turn_outcome_panel.said.connect(self.said)
        self._outcomes = Outcomes(self._view, self.outcome_panel, self.turn_outcome_panel, self)
        self._outcomes.basis_changed.connect(self._show)
        self.wishes = WishList(theme)
        self.wishes.tried.connect(self._on_tried)
        self.numbers = TextButton(theme, tr("Numbers"), tr("Shows every number of this control, to type"))
        self.numbers.setCheckable(True)
        self.numbers.toggled.connect(self._show)
        self._tables = quiet_scroll()
        self._tables.setMinimumHeight(theme.px(90))
        self.table = self._make_table()
        pictures = QVBoxLayout()
        pictures.addWidget(self.lens, 1)
        pictures.addWidget(self.gauge, 1)
        pictures.addWidget(self.motion, 1)
        pictures.addWidget(self.way)
        right = QVBoxLayout()
        right.addWidget(self.curving, 1)
        right.addWidget(self.turn)
        right.addWidget(self.wishes)
        right.addWidget(self._tables, 1)
        right.addWidget(self.turn_outcome_panel, 1)
        right.addStretch(0)
        self.start = TextButton(theme, tr("Start from …"), tr("Starts from a ready-made feel for a way of playing"))
        self._wishing = WishEdits(self.wishes, self.start, self._edits, self)
        self._wishing.said.connect(self.said)
        self.to_map = TextButton(theme, tr("Back to Map"), tr("Goes back to the control you opened there"))
        self.to_map.hide()
        self.to_map.clicked.connect(self.left)
        head.tail.addWidget(self.pad)
        head.tail.addWidget(HelpMark(theme, tr("this choice of pads"), WHICH_PADS_HELP))
        head.tail.addWidget(self.to_map)
        head.tail.addWidget(self.start)
        head.tail.addWidget(self.numbers)
        head.tail.addWidget(self.back)
        self._head = head
        self._left = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._left.setSpacing(theme.px(14))
        self._left.addLayout(pictures, 3)
        self._left.addWidget(self.outcome_panel, 2)
        row = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        row.setSpacing(theme.px(14))
        row.addLayout(self._left, 4)
        row.addLayout(right, 3)
        self._row = row
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(4))
        column.addWidget(head)
        about = Turning(theme.px(14))
        about.box.addWidget(self._about)
        about.box.addWidget(self.both, 1)
        column.addWidget(about)
        column.addLayout(row, 1)
        document.on_change(self._on_document_changed)
        live.changed.connect(partial(self._show_live, True))
        live.touched.connect(self._on_touched)
        live.state_changed.connect(self._on_state)
        pads.changed.connect(partial(self._show_live, False))
        self._on_state()
        self.show_control(self.control)

    @property
    def needs_telemetry(self) -> bool:
        """Whether telemetry is needed while the window is invisible: for a measurement, or a press in the game."""
        return bool(self.flipping.slot) or self.turn.measuring

    @property
    def areas(self) -> tuple[QWidget, ...]:
        """Areas for the keyboard: choice of control, pictures, wishes or settings."""
        return (
            self._head,
            self.both,
            self.lens,
            self.gauge,
            self.motion,
            self.way,
            self.outcome_panel,
            self.turn_outcome_panel,
            self.curving,
            self.turn,
            self.wishes,
            self._tables,
        )

    def take(self, frames: Iterable[FrameNews]) -> None:
        """Processes frames of a pad, if it is the shown one."""
        if self._link.watched == self.pad.key:
            taken = [Frame(frame.t_us, frame.values) for frame in frames]
            count = self.hands.take(taken)
            if self.isVisible():
                self._following.show_frames(taken, count)

    def fit(self, width: int) -> None:
        """Fits into a width: narrow, or with a large font, the parts stand below one another."""
        narrow = width < self.theme.px(_NARROW)
        way = QBoxLayout.Direction.TopToBottom if narrow else QBoxLayout.Direction.LeftToRight
        self.lens.setMaximumHeight(self.theme.px(_LOW_LENS) if narrow else _NO_LIMIT)
        self._left.setDirection(way)
        self._row.setDirection(way)

    def forget_pad(self) -> None:
        """Forgets all movements, for another pad."""
        self._following.forget_pad()

    def show_control(self, name: str) -> None:
        """Shows another control."""
        if name != self.control:
            self.control = name
            self.lens.forget()
            self.gauge.forget()
            self.wishes.forget()
            self.table = self._make_table()
        self.choice.buttons[name].setChecked(True)
        self._show()

    def show_layer(self, layer_id: str) -> None:
        """Shows the feel of another layer."""
        self._layer_id = layer_id
        if layer_id != BASE_LAYER:
            self.pad.choose("", "")
        self._show()

    def _make_table(self) -> Numbers:
        table = Numbers(self.theme, self.control)
        table.edited.connect(self._on_number)
        self._tables.setWidget(table)  # deletes the former one
        return table

    def _on_number(self, said: str, edit: Edit) -> None:
        if not self._edits.edit(said, edit):
            self._show()  # restores a refused value

    def update_pads(self) -> None:
        """Shows changed knowledge about a pad, after the end of a drag."""
        if self.isVisible() and not self._edits.is_dragging:
            self._show()

    def _show(self, _on: bool = False) -> None:
        """Shows everything by the document."""
        self._edits.stop_dragging()
        profile = self._view.profile
        if profile.layer(self._layer_id) is None:
            self._layer_id = BASE_LAYER
        self._edits.layer_id, self._edits.control = self._layer_id, self.control
        self._following.control = self.control
        started = self._outcomes.begin(self._key)
        card = self._marks(self.pad.key)
        measured, trim = (card.measured, card.trim) if card is not None else ((), PadTrim())
        self.hands.fit(trim)
        self._outcomes.trim = trim
        self._show_head(profile)
        self._show_parts(profile, measured, trim)
        self.wishes.setVisible(not self.numbers.isChecked())
        self._wishing.show_profile(profile, started, measured)

    def _show_head(self, profile: Profile) -> None:
        """Shows the settings, and which of them can be reset or left out."""
        base = self._layer_id == BASE_LAYER
        label = CONTROL_BY_NAME[self.control].label
        found = feel_edits.settings(profile, self._layer_id, self.control)
        layer = profile.layer(self._layer_id)
        self._about.show_text(tr("{label}, in {layer}", label=label, layer=layer.label if layer is not None else ""))
        self.pad.show_layer(base)
        bare = tr("As on all pads") if self._view.identity else tr("As in a new profile")
        self.back.setText(bare if base else tr("As in {label}", label=profile.layers[0].label))
        self.back.setAccessibleName(f"{label}: {inside(self.back.text())}")
        own = self._view.changes(self.control) if self._view.identity else any(setting.own for setting in found)
        self.back.setEnabled(own)
        self.start.setEnabled(CONTROL_BY_NAME[self.control].kind is not Kind.SLIDER)
        self.flipping.show_control(self._key)
        self.way.show_way(signal_way(profile, self._layer_id, self.control, found))

    def _show_parts(self, profile: Profile, measured: Sequence[Measured], trim: PadTrim) -> None:
        """Shows the pictures of the control's kind, and the settings if requested."""
        pictured, moves = self.control in STICK_SLOTS, self.control == MOTION_SLOT
        staged = CONTROL_BY_NAME[self.control].kind in (Kind.TRIGGER, Kind.SLIDER)
        self.lens.setVisible(pictured)
        self.curving.setVisible(pictured)
        self.gauge.setVisible(staged)
        self.motion.setVisible(moves)
        self.outcome_panel.setVisible(pictured or staged)
        self.turn_outcome_panel.setVisible(moves and not self.numbers.isChecked())
        self._tables.setVisible(self.numbers.isChecked())
        if self.numbers.isChecked():
            self.table.show_profile(profile, self._layer_id)
        self.turn.show_profile(profile, self._layer_id, self.control)
        if pictured:
            rests, rims = last_rest(measured, self.control), last_rim(measured, self.control)
            own = trim.stick(self.control)
            self.lens.show_known(rests[0][1] if rests else None, rims[0][1] if rims else None, own)
        self._show_pictures(profile)

    @property
    def _key(self) -> Key:
        return self._view.path, self._layer_id, self.control, self._view.identity

    def _show_pictures(self, profile: Profile) -> None:
        """Shows a profile in the pictures; may be a preview."""
        layer_id, control = self._layer_id, self.control
        if control == MOTION_SLOT:
            self.motion.show_profile(profile, layer_id)
            self._show_outcome(profile)
            return
        if control in STICK_SLOTS:
            feel = shown_feel(profile, layer_id, control)
            below = self._below(profile)
            feel_below = shown_feel(below, BASE_LAYER, control) if below is not None else None
            self.lens.show_feel(control, feel, handles(profile, layer_id, control), feel_below)
            self._show_curve(profile)
        else:
            lines_below = stage_lines(self._below(profile) or profile, BASE_LAYER, control)
            self.gauge.show_lines(control, stage_lines(profile, layer_id, control), lines_below)
        self._show_outcome(profile)

    def _show_curve(self, profile: Profile) -> None:
        self.curving.show_profile(profile, self._below(profile), self._layer_id, self.control, self._edits.axis)

    def _below(self, profile: Profile) -> Profile | None:
        """Returns the profile to draw behind: of the base layer, or of all other pads; None for neither."""
        return self._view.for_all if self._layer_id == BASE_LAYER else profile

    def _show_outcome(self, profile: Profile, at_once: bool = False) -> None:
        self._outcomes.show(profile, self.motion.known_bias, at_once)

    def _on_refreshed(self) -> None:
        """Handles a renewed piece of recorded movements."""
        colour = self.theme.colour("pad")
        self._following.show_density((colour.red(), colour.green(), colour.blue()))

    def _on_document_changed(self) -> None:
        if self.isVisible():
            self._show()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._show()  # changes during the preview

    def _on_previewed(self, profile: Profile) -> None:
        """Shows the outcome during a drag, apart from the dragged picture itself."""
        if self.control in STICK_SLOTS and not self.curve.is_dragged:
            self._show_curve(profile)
        self._show_outcome(profile, at_once=True)

    def _on_without(self, stage: SignalStage | None) -> None:
        """Plays and shows the profile without a stage, until the release."""
        if stage is None:
            self._show()
            return
        self._edits.play(partial(stage.without, layer_id=self._layer_id, control=self.control))

    def _on_axis(self, axis: str) -> None:
        self._edits.axis = (axis,) if axis else ()
        self._show()

    def _on_tried(self, wish: Wish | None) -> None:
        """Previews the outcome of a wish."""
        profile = self._view.profile
        self._show_pictures(wish.edit(profile) if wish is not None else profile)

    def _on_back(self) -> None:
        self._edits.give_back(inside(self.back.text()))

    def _on_pad(self) -> None:
        """Handles another chosen pad."""
        self.forget_pad()
        self.pad_chosen.emit()
        self._on_state()
        self._show()

    def _show_live(self, ours: bool) -> None:
        """Shows the present values of the pad, if from the right source: the seat's pad, or another one."""
        if self.pad.is_ours is ours and self.isVisible():
            self._following.show_values(self.pad.values)

    def _on_touched(self, slot: str) -> None:
        """Shows a control that the person uses on the pad."""
        if self.flipping.take_press(slot):
            return
        if self.isVisible() and self._wishing.take_press(slot):
            return
        name = CONTROL_OF_SLOT[slot].name
        if self.isVisible() and self.choice.offers(name):
            self.show_control(name)

    def _on_state(self) -> None:
        """Updates the choice of controls to those of the pad."""
        has = self.pad.controls
        if not has:
            return
        first = self.choice.show_pad(has)
        if self.control not in has:
            self.show_control(first or self.control)
