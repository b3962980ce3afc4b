"""The window: signal bar, stations, tape."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import cached_property, partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QGuiApplication, QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QMainWindow, QMenu, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.editing.card_book import CardBook
from nub_shift.editing.catalogue import Catalogue
from nub_shift.editing.document import ELSEWHERE, Document
from nub_shift.editing.undoing import Undoes, Undoing
from nub_shift.editing.waiting import Heard
from nub_shift.editing.words.messages import message_words
from nub_shift.model.problems import ProfileError
from nub_shift.protocol.calls import AssignPad
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import Telemetry
from nub_shift.store.library import is_own, library_folder, note_used, titled_profiles
from nub_shift.store.profile_files import read_profile
from nub_shift.translation import beginning, tr
from nub_shift.ui import settings
from nub_shift.ui.commands import COMMAND_OF_STATION, Command, Station, make_actions
from nub_shift.ui.file_watch import FileWatch
from nub_shift.ui.frame.announcing import Announcing
from nub_shift.ui.frame.both_changed import BothChanged
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.messages import Messages
from nub_shift.ui.frame.signal_bar import SignalBar
from nub_shift.ui.frame.station_bar import StationBar
from nub_shift.ui.frame.tape import LEAST_TAPE, LOW_TAPE, Tape
from nub_shift.ui.help.helping import Helping
from nub_shift.ui.help.leading import Leading
from nub_shift.ui.help.places import set_place
from nub_shift.ui.history_tools import HistoryTools
from nub_shift.ui.library.station import LibraryStation
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.layer_tools import LayerTools
from nub_shift.ui.map.station import MapStation
from nub_shift.ui.pads.hand_pad import HandPad
from nub_shift.ui.pads.station import PadsStation
from nub_shift.ui.pages import Pages
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.play.station import PlayingStation
from nub_shift.ui.practice.station import TryStation
from nub_shift.ui.runner_start import RunnerStart
from nub_shift.ui.runner_view import RunnerView
from nub_shift.ui.seen import Seen
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import PageScroll, name_scroll_bars
from nub_shift.ui.widgets.tab_order import bring_into_view, go_on, go_to_next_area
from nub_shift.ui.widgets.wrapping_row import WrappingRow

if TYPE_CHECKING:
    from nub_shift.ui.feel.station import FeelStation

# The window goes onto a screen of this size, however large the font; what does not fit is scrolled to.
_SMALLEST = (800, 440)
# A window that is lower than this has a low head and no tape.
_LOW = 540
# Below this the tape has no room at all.
_LOWEST = 300
# How often the pad is told in Feel, where its trail is followed by the eye.
_FEEL_HZ = 60
# Long enough to be read twice.
SAID_MS = 10_000


class Window(QMainWindow):
    """Composes what the person sees around one document and one runner.

    Attributes:
        pads, map, feel, try_field, play, tape, bar: the parts.
        live: the present, as telemetry tells it.
    """

    def __init__(
        self,
        theme: Theme,
        document: Document,
        link: RunnerLink,
        clock: Callable[[], int] = monotonic_us,
        examples: Iterable[str] = (),
        own_runner: Callable[[Path], RunnerStart] | None = None,
    ) -> None:
        """`clock` says what time it is, in microseconds, as the runner's does; `examples` are texts of profiles.

        `own_runner` says who starts a runner of the window's own for the profile of a file; without it the runner
        stays the one that it is.
        """
        super().__init__()
        self.theme = theme
        self.live = Live()
        self._ground = drawing.sheet_brush(theme)
        self._document = document
        self._opened = Path()
        self._has_dialog = self._performs = self._tight = False
        self._undoing = Undoing(document, lambda: self._beside)
        self.history = HistoryTools(self._undoing, self)
        self.history.said.connect(self.say)
        self.history.done.connect(self._on_history)
        self._link = link
        self._examples = examples
        self._tape_percent = settings.tape_height()
        self.help = Helping(theme, self)
        self.help.said.connect(self.say)
        self.help.more_opened.connect(self._fill_more)
        self.help.settings_changed.connect(self._follow_settings)
        self.leading = Leading(theme, document, self.live, self)
        self.leading.station_wanted.connect(self.show_station)
        self.leading.demo_wanted.connect(self.help.show_demo)
        self.leading.named.connect(self._on_game_named)
        self.leading.said.connect(self.say)
        self.setMinimumSize(*_SMALLEST)
        self.bar = SignalBar(theme, self.live)
        self.pads = PadsStation(theme, document, self.live, link, clock)
        self.pads.said.connect(self.say)
        self.pads.cards_changed.connect(self.history.show)
        self.hand_pad = HandPad(theme, self, self.live, self.pads.pads, link)
        self.hand_pad.open_changed.connect(self._watch_pads)
        self.hand_pad.said.connect(self.say)
        self.pads.at_hand_wanted.connect(self.hand_pad.open)
        self.help.hand_pad_wanted.connect(self.hand_pad.open)
        self.map = MapStation(theme, document, self.live, clock)
        self.map.said.connect(self.say)
        self.map.dock.feel_wanted.connect(self._on_feel)
        self._feel_page = QWidget()
        QVBoxLayout(self._feel_page).setContentsMargins(0, 0, 0, 0)
        self._clock = clock
        self._pad_key = self._missing = ""
        self.try_field = TryStation(theme, document)
        session = SessionSwitch(theme, link.stays, own_runner is not None)
        self.play = PlayingStation(theme, document, self.live, session, _titles, link.ask)
        self.play.said.connect(self.say)
        self.tape = Tape(theme, document.layout)
        self._runner = RunnerView(link, document, self.bar, self.tape, session, own_runner)
        self._runner.elsewhere.connect(self._on_elsewhere)
        self.both_changed = BothChanged(theme, document)
        self._foot = QStackedWidget()
        self._foot.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self._foot.addWidget(self.tape)
        self._foot.addWidget(self.both_changed)
        self._stations = QStackedWidget()
        self.tabs = StationBar(theme)
        self._unsay = QTimer(self)
        self._unsay.setSingleShot(True)
        self._unsay.setInterval(SAID_MS)
        self._unsay.timeout.connect(self._say_fault)
        self.actions_of = make_actions(self, self._commands())
        self.actions_of[Command.FOLLOW].setChecked(settings.follows_presses())
        self.tape.clicked.connect(self.actions_of[Command.PAUSE].trigger)
        middle = QWidget()
        self.setCentralWidget(middle)
        column = self._column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.bar)
        column.addWidget(self._make_tab_row())
        self._middle = QStackedWidget()
        self._middle.addWidget(self._stations)
        column.addWidget(self._middle, 1)
        column.addWidget(self._foot)
        self.bar.layer_picked.connect(self.map.show_layer)
        self.bar.spare_taken.connect(lambda key: link.ask(AssignPad(key)))
        self.bar.tools_wanted.connect(self._on_layer_tools)
        self.map.layer_shown.connect(self.bar.show_layer)
        document.on_change(self._on_document_changed)
        document.on_change(self._say_left_out)
        self._say_left_out()
        self._file_watch = FileWatch(document, self)
        link.telemetry.connect(self._on_telemetry)
        link.state_changed.connect(self.live.take_state)
        link.message.connect(self.say)
        self.live.state_changed.connect(self._on_state)
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._on_focus)
            application.focusWindowChanged.connect(self._hold_back)
        self._seen = Seen(self)
        self._seen.changed.connect(self._on_seen)
        self._pages.give_places()
        set_place(self.bar, "index#rehearsal-and-live")
        set_place(self.layers, "more-moves#layers")
        for widget in (self._foot, self.tabs):
            set_place(widget, "index#how-the-window-is-laid-out")
        self._on_follow()
        self._show_document()
        self.show_station(Station.MAP)

    def has_layer(self, layer_id: str) -> bool:
        """Whether the open profile has that layer."""
        return self._document.profile.layer(layer_id) is not None

    @property
    def station(self) -> Station:
        """The one that is shown."""
        return list(Station)[self._stations.currentIndex()]

    def begin_first_steps(self, newcomer: bool) -> None:
        """Shows what to do first, and a newcomer the ways in."""
        self.leading.begin(self._column, self._middle, newcomer)

    def _on_game_named(self) -> None:
        self.show_station(Station.MAP)
        self.map.moves.entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def _follow_settings(self) -> None:
        """What the person has chosen counts from now on."""
        self.set_follow(settings.follows_presses())
        self.map.dock.wait_line.choose_time(settings.listening_ms())
        self._tape_percent = settings.tape_height()
        self._fit_foot()
        self.leading.follow_settings()

    def _fit_foot(self) -> None:
        """As high as the settings say; higher than usual it takes room from the station."""
        part = self.height() * self._tape_percent // 100
        least = LOW_TAPE if self._is_low else LEAST_TAPE
        self._foot.setMaximumHeight(max(self.theme.px(least), part))
        self._foot.setMinimumHeight(part if self._tape_percent > settings.USUAL_TAPE else 0)

    def show_station(self, station: Station) -> None:
        """Shows a station."""
        if station is Station.FEEL:
            self.feel.show()
        self._middle.setCurrentWidget(self._stations)
        self._stations.setCurrentIndex(list(Station).index(station))
        self.tabs.setCurrentIndex(list(Station).index(station))
        self._watch_pads()
        name_scroll_bars(self)
        if not self.tabs.hasFocus():  # whoever goes on by arrows is left there
            first = self._pages.first(station)
            (self.tabs if first is None else first).setFocus(Qt.FocusReason.OtherFocusReason)
        self._fit_tools()
        self.history.show()
        self.say("")  # what was said belongs to the other one

    def _watch_pads(self) -> None:
        """Pads tells of all pads; Feel and Try want all that ours does, since it is gone through again in Feel."""
        match self.station:
            case Station.PADS:
                self._link.watch_pads(True, self.pads.chosen)
            case Station.FEEL:
                self._link.watch_pads(True, self.feel.pad.key, _FEEL_HZ)
                return
            case Station.TRY:
                self._link.watch_pads(True, self.live.pad_key)
                return
            case _:
                self._link.watch_pads(self.hand_pad.is_open)
        if self._made_feel is not None:
            self._made_feel.hands.pause()

    def say(self, text: str) -> None:
        """Shows a line for the person, for a while; what is wrong with the file stays."""
        self._unsay.start()
        self._message.say(beginning(text))

    def _say_fault(self) -> None:
        """What is wrong with the file stays said."""
        self.say(self._document.fault)

    def _say_left_out(self) -> None:
        """Says once that an older profile had settings of one pad, which made other pads drift."""
        if self._document.path != self._opened:
            self._opened = self._document.path
            if self._document.left_out:
                line = tr("This profile said where one pad's sticks rest. That is left out: measure your pad in Pads.")
                QTimer.singleShot(0, partial(self.say, line))  # after whatever opens it has shown its station

    def show_again(self, profile: str) -> str:
        """Comes to the front, with the profile of that file if one is named; returns why that fails, or empty."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.activateWindow()
        QApplication.alert(self)  # where the desktop lets no program put itself in front
        path = Path(profile)
        if profile and not is_own(path):
            self.show_given(path)
            return ""
        if not profile or path == self._document.path.absolute():
            return ""
        fault = self._open(path)
        if not fault:
            self.show_station(Station.MAP)
        return fault

    def _open(self, path: Path) -> str:
        """Goes on with the profile of another file; returns why that fails, or empty."""
        try:
            self._document.open(path, read_profile(path, self._document.layout))
        except ProfileError as error:
            return str(error)
        note_used(path)
        return ""

    def show_given(self, path: Path) -> None:
        """Shows a profile that somebody has given, before it is added to the library."""
        self.show_station(Station.LIBRARY)
        self.library.show_file(path)

    def follow_look(self) -> None:
        """The theme has other colours now: whatever keeps some takes the new ones."""
        self._ground = drawing.sheet_brush(self.theme)
        self.map.follow_look()
        for widget in QApplication.allWidgets():
            widget.update()

    def follow_layout(self) -> None:
        """The person's keyboard has another layout now."""
        self._document.follow_layout()
        self.say(tr("Keyboard layout: {name}", name=self._document.layout().name))

    def set_live_wanted(self, wanted: bool) -> None:
        """Closes or opens the switch. Outputs flow only while another window is in front."""
        self._runner.want_live(wanted)

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            self._hold_back()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape ends a wait wherever the focus is; what listens for keys takes its own."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.map.waiting.heard(Heard.CANCELLED)
        super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.WindowBlocked, QEvent.Type.WindowUnblocked):
            self._has_dialog = event.type() == QEvent.Type.WindowBlocked
            self._hold_back()
        elif event is not None and event.type() in (QEvent.Type.Enter, QEvent.Type.Leave):
            self._hold_back()
        return super().event(event)

    def _hold_back(self) -> None:
        """Nothing goes out while any window of this process has the keyboard, or a dialog waits for an answer.

        The dialog may be the desktop's own, which is no window of ours: keys would go into its file name. A demo, which
        nobody's hand aims, does not click into this window either.
        """
        clicks_here = self.live.performs and self.underMouse()
        self._link.hold_back(self._has_dialog or clicks_here or QApplication.activeWindow() is not None)

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002 - as Qt calls it
        return go_on(self, next)

    def _on_focus(self, _before: QWidget | None, now: QWidget | None) -> None:
        """What has the focus is seen; where the mouse gave it, it was."""
        if now is not None and self.isAncestorOf(now) and not QGuiApplication.mouseButtons().value:
            bring_into_view(now)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        # With a large font the stations need the room more than the tape and the head do.
        for part in (self.bar, self.tabs, self.tape):
            part.set_low(self._is_low)
        if self._made_feel is not None:
            self._made_feel.fit(self.width())
        self._fit_tools()
        self._fit_foot()
        self._show_foot()

    @property
    def _is_low(self) -> bool:
        return self.height() < self.theme.px(_LOW)

    def _fit_tools(self) -> None:
        """Shows the tools of Map beside the stations, or where they would need another line, in the menu More."""
        tools: tuple[QWidget, ...] = (self.layers, self.follow)
        row = (self.tabs, *tools, *self._steps, self.help.more)
        needed = sum(part.sizeHint().width() + self.theme.px(6) for part in row)
        self._tight = self.width() < needed + self.theme.px(20)
        for tool in tools:
            tool.setVisible(self.station is Station.MAP and not self._tight)

    def _fill_more(self, menu: QMenu) -> None:
        """Adds the tools of Map to the menu More where they have no room of their own."""
        if self._tight and self.station is Station.MAP:
            self.layers.fill(menu, self.help.more)
            menu.addAction(self.actions_of[Command.FOLLOW])
            menu.addSeparator()

    def _show_foot(self) -> None:
        """The tape where there is room for it, and in its place what the person has to choose."""
        asks = self.both_changed.follow_document()
        self._foot.setCurrentWidget(self.both_changed if asks else self.tape)
        self._foot.setVisible(asks or self.height() >= self.theme.px(_LOWEST))

    def retire(self) -> None:
        """Leaves the link and its runner to the window that replaces this one, and goes."""
        self._seen.changed.disconnect()
        self._unsay.stop()
        self.hide()
        self.deleteLater()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._unsay.stop()
        self._link.end()
        super().closeEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if event is not None:
            QPainter(self).fillRect(event.rect(), self._ground)

    def _make_tab_row(self) -> WrappingRow:
        theme = self.theme
        row = WrappingRow(theme.px(6))
        row.setContentsMargins(theme.px(6), 0, theme.px(14), 0)
        self.library = LibraryStation(theme, self._document, self._examples)
        self.library.said.connect(self.say)
        self.library.binned.connect(self.history.show)
        self.library.opened.connect(partial(self.show_station, Station.MAP))
        self.leading.profile_wanted.connect(self.library.make_titled)
        self._pages = Pages(
            self.pads, self.map, self._feel_page, lambda: self.feel, self.try_field, self.play, self.library
        )
        for station in Station:
            page = self._pages.page(station)
            action = self.actions_of[COMMAND_OF_STATION[station]]
            self.tabs.setTabToolTip(self.tabs.addTab(action.text()), action.toolTip())
            self._stations.addWidget(PageScroll(page))  # with a large font it may need more room than there is
        self.tabs.tabBarClicked.connect(self._on_tab)
        self.tabs.currentChanged.connect(self._on_tab)
        row.head.addWidget(self.tabs)
        self._message = Messages(theme, self.tape)
        self._announcing = Announcing(self._document, self.live, self.map.waiting, self._message)
        row.head.addWidget(self._message, 1)
        self.follow = self._button_for(Command.FOLLOW)
        self._steps = [self._button_for(command) for command in (Command.UNDO, Command.REDO)]
        for command, step in zip((Command.UNDO, Command.REDO), self._steps, strict=True):
            self.history.tell_by(command, self.actions_of[command], step)
        self.layers = LayerTools(theme, self._document)
        self.layers.layer_made.connect(self.map.await_layer)
        self.layers.layer_shown.connect(self.map.show_layer)
        self.layers.refused.connect(self.say)
        self.layers.compare_wanted.connect(self._on_compare)
        self.layers.table_wanted.connect(self._on_table)
        self.map.table_left.connect(self._leave_table)
        self.map.layer_shown.connect(self.layers.show_layer)
        for tool in (self.layers, self.follow, *self._steps, self.help.more):
            row.tail.addWidget(tool)
        return row

    def _on_tab(self, index: int) -> None:
        station = list(Station)[index]
        if index != self._stations.currentIndex() or self._middle.currentWidget() is not self._stations:
            self.show_station(station)

    def _on_layer_tools(self, layer_id: str) -> None:
        self.show_station(Station.MAP)
        self.map.show_layer(layer_id)
        self.layers.open_tools()

    def _areas(self) -> tuple[QWidget, ...]:
        """The areas of the station, then its tabs and the head."""
        return (*self._pages.areas(self.station), self.tabs, self.bar)

    def _button_for(self, command: Command) -> TextButton:
        action = self.actions_of[command]
        button = TextButton(self.theme, action.text())
        button.follow(action)
        return button

    def _commands(self) -> dict[Command, Callable[[], object]]:
        does: dict[Command, Callable[[], object]] = {
            Command.UNDO: self.history.undo,
            Command.REDO: self.history.redo,
            Command.LIVE: self._switch_live,
            Command.FOLLOW: self._on_follow_chosen,
            Command.QUIT: self.close,
            Command.NEXT_AREA: lambda: go_to_next_area(self._areas()),
            Command.PREVIOUS_AREA: lambda: go_to_next_area(self._areas()[::-1]),
            Command.FIND: self._on_find,
            Command.STOP_LISTENING: partial(self.map.waiting.heard, Heard.CANCELLED),
            Command.PAUSE: self._on_pause,
            Command.FLIP: self._on_flip,
            Command.HAND_PAD: self.hand_pad.open,
            Command.GUIDE: self.help.show_guide,
            Command.SETTINGS: self.help.show_settings,
        }
        does |= {command: partial(self.show_station, station) for station, command in COMMAND_OF_STATION.items()}
        return {command: partial(self._do, do) for command, do in does.items()}

    def _do(self, do: Callable[[], object]) -> None:
        """A command; keys of its shortcut are no binding."""
        self.map.forget_keys()
        do()

    def _leave_table(self) -> None:
        self.layers.table.setChecked(False)

    def _switch_live(self) -> None:
        self.set_live_wanted(not self.bar.switch.isChecked())

    def _on_elsewhere(self, file: str) -> None:
        """The runner plays another profile by now: that is the one to be edited."""
        with self._runner.adopting():
            fault = self._open(Path(file))
        if fault:
            self.say(fault)

    def _on_table(self, on: bool) -> None:
        if on:
            self.show_station(Station.MAP)
        self.map.show_table(on)

    def _on_compare(self, layer_id: str, other_id: str) -> None:
        self.show_station(Station.MAP)
        self.map.show_difference(layer_id, other_id)

    def set_follow(self, on: bool) -> None:
        """Whether a touch on the pad opens its control."""
        self.actions_of[Command.FOLLOW].setChecked(on)
        self._on_follow()

    @cached_property
    def feel(self) -> FeelStation:
        """Station Feel, made when it is first wanted: it computes with NumPy, which takes its time to be there."""
        from nub_shift.ui.feel.station import FeelStation

        made = FeelStation(
            self.theme, self._document, self.live, self._link, self.pads.pads, self.pads.card, self._clock
        )
        made.said.connect(self.say)
        made.pad_chosen.connect(self._watch_pads)
        made.left.connect(partial(self.show_station, Station.MAP))
        self.pads.pads.frames.connect(made.take)
        self.pads.pads.connected_changed.connect(made.follow_pads)
        self.pads.cards_changed.connect(made.follow_pads)
        self.map.layer_shown.connect(made.show_layer)
        made.show_layer(self.map.layer_id)
        made.fit(self.width())
        page = self._feel_page.layout()
        if page is not None:
            page.addWidget(made)
        return made

    @property
    def _made_feel(self) -> FeelStation | None:
        """Station Feel if it has been wanted by now."""
        return vars(self).get("feel")

    def _on_feel(self, control: str, layer_id: str) -> None:
        self.map.show_layer(layer_id)
        self.feel.show_control(control)
        self.feel.to_map.show()
        self.show_station(Station.FEEL)

    def _on_flip(self) -> None:
        """Where there are no two feels yet, Feel is where the second is made."""
        if self._made_feel is None:
            self.show_station(Station.FEEL)
        else:
            self._made_feel.flipping.flip()

    def _on_find(self) -> None:
        """To the search for moves, from anywhere; a slot that waits goes on waiting for a move."""
        if self.station is not Station.MAP:
            self.show_station(Station.MAP)
        self.map.moves.search.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.map.moves.search.selectAll()

    def _on_pause(self) -> None:
        self.tape.pause(self.actions_of[Command.PAUSE].isChecked())

    def _on_follow(self) -> None:
        self.map.set_follow(self.actions_of[Command.FOLLOW].isChecked())

    def _on_follow_chosen(self) -> None:
        settings.follows_presses.keep(self.actions_of[Command.FOLLOW].isChecked())
        self._on_follow()

    def _on_history(self, whose: Undoes) -> None:
        if self.station is Station.LIBRARY:  # also an edit of the open profile: its title may be another
            self.library.refresh()
        if whose is self.library.catalogue:
            self.history.show()

    @property
    def _beside(self) -> CardBook | Catalogue | None:
        """What else than the profile is changed in the present station: pads' cards, or files."""
        match self.station:
            case Station.PADS:
                return self.pads.book
            case Station.LIBRARY:
                return self.library.catalogue
            case _:
                return None

    def _on_document_changed(self) -> None:
        self._runner.load()
        self._show_document()
        self._show_foot()
        change = self._document.history.undo
        kept = change.label if change is not None else tr("unchanged")
        if self._document.elsewhere and self._document.disputed:
            self.say(tr("Changed here and elsewhere: choose below which version to keep"))
        elif self._document.elsewhere and kept == ELSEWHERE:
            self.say(tr("Changed elsewhere: you now see that version. Undo brings yours back"))
        elif self._document.elsewhere:
            self.say(self._document.fault or tr("Saved: {kept}, together with changes made elsewhere", kept=kept))
        else:
            self.say(self._document.fault or tr("Saved: {kept}", kept=kept))

    def _show_document(self) -> None:
        self._file_watch.follow()
        self.setWindowTitle(tr("{profile} – Nub Shift", profile=self._document.profile.title))
        self.bar.show_profile(self._document.profile, self.map.layer_id)
        self.history.show()

    def _on_state(self) -> None:
        state, seat = self.live.state, self.live.seat
        if state is None or seat is None:
            return
        if self.live.pad_key != self._pad_key:
            self._pad_key = self.live.pad_key
            self._watch_pads()
            if self._made_feel is not None:
                self._made_feel.forget_pad()
        self._runner.show(state)
        if self.live.performs is not self._performs:
            self._performs = self.live.performs
            self._hold_back()
        missing = message_words(seat.pad.missing) if not seat.pad.name and seat.pad.missing is not None else ""
        if missing and seat.pad.spare is not None:
            spare = seat.pad.spare.name
            missing = tr("{missing}. {pad} is here: click it at the top left to use it", missing=missing, pad=spare)
        if missing != self._missing:  # said once, and not with each state: it would hide what is said besides
            self._missing = missing
            if missing:
                self.say(missing)

    def _on_seen(self, seen: bool) -> None:
        """What nobody sees is neither asked for nor drawn, but for what goes on while the game is in front."""
        made = self._made_feel
        self._link.set_seen(seen or (made is not None and made.wants_news))
        if not seen:
            self.tape.rest()
        if not seen and made is not None:
            made.hands.pause()

    def _on_telemetry(self, packet: Telemetry) -> None:
        if packet.seat == 0:  # the one whose profile is open
            self.live.take_telemetry(packet)
        self.tape.take(packet)
        self.try_field.take(packet)
        if packet.outputs:
            self.leading.note_played(self.station)


def _titles() -> list[str]:
    """Of the profiles in the library."""
    return [title for title, _ in titled_profiles([library_folder()])]
