"""Station Pads: available pads with their state, faults and data."""

from __future__ import annotations

from collections.abc import Callable
from typing import assert_never

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.editing.card_book import CardBook
from nub_shift.editing.document import Document
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.pad.card import PadCard
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.pad.measures import Measured
from nub_shift.model.pad.trim import PadTrim
from nub_shift.protocol.calls import (
    AnswerIntroduction,
    AssignPad,
    Introduce,
    PlayDemo,
    PlugIn,
    ReloadCards,
    Unplug,
    WorkByHand,
)
from nub_shift.protocol.messages import Introducing, PadInfo
from nub_shift.store.library import library_folder, titled_profiles
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.pads_live import PadsLive
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.pads.banner import PadBanner, PadCommand
from nub_shift.ui.pads.card_edits import CardEdits
from nub_shift.ui.pads.lanes import PadLanes
from nub_shift.ui.pads.marks import PadMarks
from nub_shift.ui.pads.measure_strip import MeasureStrip
from nub_shift.ui.pads.measuring import Measuring, Task
from nub_shift.ui.pads.pad_list import PadList
from nub_shift.ui.pads.shown_pad import ShownPad
from nub_shift.ui.widgets.wrapping_row import Turning

_TOUCH = 0.6
_NARROW = 1120


class PadsStation(QWidget):
    """Station for showing, setting up, measuring, combining and naming pads.

    Attributes:
        shown: the shown pad, with commands for it.
        pads: available pads.
        book: pad cards and their history.
        cards: edits of the cards.

    Signals:
        said(str): a line for the person.
        cards_changed(): a pad's card has changed.
        at_hand_requested(): open the simulated pad in a window of its own.
    """

    said = pyqtSignal(str)
    cards_changed = pyqtSignal()
    at_hand_requested = pyqtSignal()

    def __init__(
        self,
        theme: Theme,
        document: Document,
        live: Live,
        link: RunnerLink,
        clock: Callable[[], int],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._theme = theme
        self.book = CardBook(self._on_cards_changed, document.worker)
        self.cards = CardEdits(self.book)
        self._document = document
        self._live = live
        self._link = link
        self.pads = PadsLive()
        self.shown = ShownPad(self.book, self.cards, link, self.pads, lambda: live.state, self)
        self._seats: list[str] = []
        self._controls: list[tuple[str, ...]] = []  # of each seat
        self._plugged = ""  # last plugged simulated pad
        self._wanted = ""  # pad to show once it appears
        self._keeping = ""  # pad whose guessed wiring is to be saved once it is reported
        self.list = PadList(theme)
        self.banner = PadBanner(theme)
        self.lanes = PadLanes(theme)
        self.lanes.setMinimumHeight(theme.px(120))  # at least one row
        self.measuring = Measuring(clock, self)
        self.strip = MeasureStrip(theme, self.measuring)
        self.marks = PadMarks(theme, self.shown, self._profiles)
        self.marks.setFixedWidth(theme.px(268))
        work = QWidget()
        middle = QVBoxLayout(work)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(theme.px(6))
        middle.addWidget(self.banner)
        middle.addWidget(self.lanes, 1)
        middle.addWidget(self.strip)
        row = QHBoxLayout(self)
        row.setContentsMargins(theme.px(14), theme.px(8), theme.px(8), theme.px(4))
        row.setSpacing(theme.px(12))
        row.addWidget(self.list)
        right = Turning(theme.px(12))
        right.box.addWidget(work, 1)
        right.box.addWidget(self.marks)
        row.addWidget(right, 1)
        self._connect()
        self._show()

    @property
    def areas(self) -> tuple[QWidget, ...]:
        """Areas for the keyboard: pads, head, controls, measurements, data."""
        return self.list, self.banner, self.lanes, self.strip, self.marks

    @property
    def chosen(self) -> str:
        """Key of the shown pad, or empty."""
        return self.shown.key

    @property
    def pad(self) -> PadInfo | None:
        """The shown pad, if available."""
        return self.shown.pad

    @property
    def course(self) -> Introducing | None:
        """Progress of the set-up of the shown pad, or None."""
        course = self.pads.introducing
        return course if course is not None and (course.pad == self.chosen or self.pad is None) else None

    def choose(self, key: str) -> None:
        """Shows another pad."""
        if key != self.chosen:
            self.measuring.cancel()
            self.shown.key = key
            if self.isVisible():
                self._link.watch_pads(True, key)
            self._show()

    def card(self, key: str) -> PadCard | None:
        """Returns the card with the data of the pad of a key; None for an unavailable pad."""
        pad = self.pads.pad(key)
        return self.cards.marks(pad) if pad is not None else None

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Gives spare height of the list of pads to the controls in a narrow window."""
        super().resizeEvent(event)
        theme = self._theme
        self.list.setFixedWidth(theme.px(150 if self.width() < theme.px(_NARROW) else 180))

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.measuring.cancel()
        super().hideEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Handles Backspace (take back) and Escape (stop) during a set-up, for any focus."""
        if event is not None and self.course is not None:
            do = {Qt.Key.Key_Backspace: PadCommand.BACK, Qt.Key.Key_Escape: PadCommand.STOP}.get(Qt.Key(event.key()))
            if do is not None:
                self._on_banner(do)
                return
        super().keyPressEvent(event)

    def _connect(self) -> None:
        self._link.pads.connect(self.pads.take)
        self._live.state_changed.connect(self._on_state)
        self.pads.connected_changed.connect(self._on_connected_pads)
        self.pads.changed.connect(self._on_values)
        self.pads.frames.connect(self.measuring.take)
        self.list.picked.connect(self.choose)
        self.list.plug_requested.connect(self._on_plug)
        self.banner.done.connect(self._on_banner)
        self.lanes.held.connect(lambda held: self._link.notify(WorkByHand(self.chosen, held)))
        self.lanes.picked.connect(self._on_control)
        self.lanes.name_requested.connect(self.marks.begin_naming)
        self.strip.task_requested.connect(self._on_task)
        self.strip.offer_taken.connect(self._on_offer)
        self.measuring.done.connect(self._on_measured)
        self.shown.combined.connect(self._on_combined)
        self.shown.said.connect(self.said)

    def _profiles(self) -> dict[str, str]:
        """Returns the profiles for a second seat: titles by file."""
        return {str(path): title for title, path in titled_profiles([self._document.path.parent, library_folder()])}

    def _on_state(self) -> None:
        state = self._live.state
        seats = [seat.title for seat in state.seats] if state is not None else []
        controls = [seat.pad.controls for seat in state.seats] if state is not None else []
        if (seats, controls) != (self._seats, self._controls):
            self._seats, self._controls = seats, controls
            self._show()

    def _on_connected_pads(self) -> None:
        if self.pads.pad(self._wanted) is not None:
            wanted, self._wanted = self._wanted, ""
            self.choose(wanted)
            if wanted == self._plugged and not self._live.pad_key:
                self._link.call(AssignPad(wanted))  # plugging it in without another pad means to play with it
        elif self.pad is None and self.pads.introducing is not None:
            self.measuring.cancel()
            if self.pads.pad(self.pads.introducing.pad) is not None:  # back, perhaps at another port
                self.choose(self.pads.introducing.pad)
        elif self.pad is None:
            self.measuring.cancel()
            seated = [pad.key for pad in self.pads.pads if 0 in pad.seats]
            usable = [pad.key for pad in self.pads.pads]
            self.choose((seated or usable or [""])[0])
        course = self.course
        if course is not None and (course.finished or course.pad == self._keeping):
            self._keeping = ""
            self._on_banner(PadCommand.KEEP)
            return
        self._show()

    def _on_values(self) -> None:
        if self.isVisible():
            values = self.pads.values.get(self.chosen, {})
            self.lanes.follow(values)
            touched = next((name for name, value in values.items() if value > _TOUCH and "." not in name), None)
            pad = self.pad
            if touched is not None and pad is not None and not pad.simulated:
                self.marks.show_control(CONTROL_OF_CHANNEL[touched].name, pad.printed)

    def _show(self) -> None:
        """Shows the present state of the pads."""
        pad, course = self.pad, self.course
        seats = self._seats
        self.list.show_pads(self.pads.pads, self.pads.unplugged, self.chosen, seats)
        self.banner.show_pad(pad, course)
        self.lanes.show_pad(pad, course, self.shown.seconds)
        self.lanes.follow(self.pads.values.get(self.chosen, {}))
        self.marks.setVisible(pad is not None and bool(pad.device))
        self.strip.setVisible(pad is not None and bool(pad.controls) and course is None)
        if pad is None or not pad.device:
            return
        marks, wiring = self.cards.marks(pad), self.cards.wiring(pad)
        others = {
            other.key: other.name
            for other in self.pads.pads
            if other.key != pad.key and other.controls and not other.parts
        }
        plays = [seats[seat] if seat < len(seats) else "" for seat in pad.seats]
        style = wiring.labels or marks.labels or LabelStyle.POSITIONS
        self.marks.show_pad(pad, style, plays, self.shown.seconds, others)
        self.strip.show_measured(pad.controls, marks.measured, marks.trim)

    def _on_plug(self, key: str) -> None:
        self._wanted = self._plugged = f"simulated:{key}"
        self._link.call(PlugIn(key))

    def _on_banner(self, command: PadCommand) -> None:
        pad, course = self.pad, self.course
        if pad is None:
            if command is PadCommand.STOP:
                self._link.call(Introduce())
            return
        match command:
            case PadCommand.INTRODUCE:
                self._put_at_rest(pad)
                self._link.call(Introduce(pad.key))
            case PadCommand.SKIP:
                self._link.call(AnswerIntroduction("skip"))
            case PadCommand.BACK:
                self._link.call(AnswerIntroduction("back"))
            case PadCommand.STOP:
                self._link.call(Introduce())
            case PadCommand.KEEP:
                if course is not None:
                    self._keep(pad, course)
            case PadCommand.KEEP_GUESS:
                self._keeping = pad.key
                self._link.call(Introduce(pad.key))
            case PadCommand.PLAY_DEMO:
                self._link.call(PlayDemo(pad.key))
            case PadCommand.UNPLUG:
                self._link.call(Unplug(pad.key))
            case PadCommand.AT_HAND:
                self.at_hand_requested.emit()
            case PadCommand.REST:
                self._put_at_rest(pad)
            case _:
                assert_never(command)

    def _put_at_rest(self, pad: PadInfo) -> None:
        """Puts a simulated pad at rest until a person uses it."""
        if pad.simulated:
            self._link.call(WorkByHand(pad.key, {}))

    def _keep(self, pad: PadInfo, course: Introducing) -> None:
        """Saves the result of a set-up; other content of the card stays."""
        self._link.call(Introduce())
        self.cards.keep(pad, course.card)

    def _on_control(self, control: str) -> None:
        pad, course = self.pad, self.course
        if pad is None:
            return
        if course is None:
            self.marks.show_control(control, pad.printed)
        else:
            self._link.call(AnswerIntroduction("ask", control))

    def _on_task(self, task: Task) -> None:
        pad = self.pad
        if pad is not None:
            self._put_at_rest(pad)
            self.measuring.start(task, pad.controls, self.pads.values.get(pad.key, {}))

    def _on_measured(self, measured: Measured, faults: list[str]) -> None:
        pad = self.pad
        if pad is not None and (measured.rest or measured.rim or measured.motion):
            self.cards.add_measured(pad, measured)
        if faults:
            self.said.emit("; ".join(faults))

    def _on_offer(self, trim: PadTrim) -> None:
        if self.pad is not None:
            self.cards.set_trim(self.pad, trim)

    def _on_combined(self, key: str) -> None:
        self._wanted = key

    def _on_cards_changed(self, line: str) -> None:
        self._link.call(ReloadCards())
        self.cards_changed.emit()
        if line:
            self.said.emit(line)
