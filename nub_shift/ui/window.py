"""The window: signal bar, stations, tape."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QApplication, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.saved_words import saved_words
from nub_shift.editing.undo_choice import UndoChoice, UndoOwner
from nub_shift.editing.waiting import WaitEvent
from nub_shift.protocol.calls import AssignPad
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import Telemetry
from nub_shift.translation import beginning, tr
from nub_shift.ui import settings
from nub_shift.ui.commands import COMMAND_OF_STATION, Command, Station, make_actions
from nub_shift.ui.file_watch import FileWatch
from nub_shift.ui.frame.announcer import Announcer
from nub_shift.ui.frame.both_changed import BothChanged
from nub_shift.ui.frame.foot import Foot
from nub_shift.ui.frame.hold_back import HoldBack
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.messages import Messages
from nub_shift.ui.frame.signal_bar import SignalBar
from nub_shift.ui.frame.station_bar import StationBar
from nub_shift.ui.frame.tape import Tape
from nub_shift.ui.help.guidance import Guidance
from nub_shift.ui.help.help_tools import HelpTools
from nub_shift.ui.help.places import set_place
from nub_shift.ui.history_tools import HistoryTools
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.map_tools import MapTools
from nub_shift.ui.map.station import MapStation
from nub_shift.ui.pads.hand_pad import HandPad
from nub_shift.ui.pads.station import PadsStation
from nub_shift.ui.pages import LazyPage, Pages, make_feel, make_play
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.practice.station import TryStation
from nub_shift.ui.profile_opening import ProfileOpening
from nub_shift.ui.runner_start import RunnerStart
from nub_shift.ui.runner_view import RunnerView
from nub_shift.ui.tools_row import ToolsRow
from nub_shift.ui.visibility import Seen
from nub_shift.ui.widgets.layouts import PageScroll, name_scroll_bars
from nub_shift.ui.widgets.tab_order import FollowedFocus, focus_next, focus_next_area

if TYPE_CHECKING:
    from nub_shift.ui.feel.station import FeelStation
    from nub_shift.ui.library.station import LibraryStation
    from nub_shift.ui.play.station import PlayingStation

# Smallest window, for any font; larger content is scrolled.
_SMALLEST = (800, 440)
# Height below which the window has a low head and no tape.
_LOW = 540


class Window(QMainWindow):
    """Composes the parts around one document and one runner.

    Attributes:
        pads, map, feel, try_field, play, tape, bar: the parts.
        live: present state by telemetry.
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
        """`clock` returns the time in microseconds on the runner's clock; `examples` are texts of profiles.

        `own_runner` returns the start of a runner of the window's own for a file; None if the runner cannot be changed.
        """
        super().__init__()
        self.theme = theme
        self.live = Live()
        self._ground = drawing.sheet_brush(theme)
        self._document = document
        self._undoing = UndoChoice(document, lambda: self._pages.beside(self.station))
        self.history = HistoryTools(self._undoing, self)
        self.history.said.connect(self.say)
        self.history.done.connect(self._on_history)
        self._link = link
        self._examples = examples
        self.help = HelpTools(theme, self)
        self.help.said.connect(self.say)
        self.help.settings_changed.connect(self._follow_settings)
        self.leading = Guidance(theme, document, self.live, self)
        self.leading.station_requested.connect(self.show_station)
        self.leading.demo_requested.connect(self.help.show_demo)
        self.leading.named.connect(partial(self.show_station, Station.MAP))
        self.leading.said.connect(self.say)
        self.setMinimumSize(*_SMALLEST)
        self.bar = SignalBar(theme, self.live)
        self.pads = PadsStation(theme, document, self.live, link, clock)
        self.pads.said.connect(self.say)
        self.pads.cards_changed.connect(self.history.show)
        self.hand_pad = HandPad(theme, self, self.live, self.pads.pads, link)
        self.hand_pad.open_changed.connect(self._watch_pads)
        self.hand_pad.said.connect(self.say)
        self.pads.at_hand_requested.connect(self.hand_pad.open)
        self.help.hand_pad_requested.connect(self.hand_pad.open)
        self.map = MapStation(theme, document, self.live, clock)
        self.map.said.connect(self.say)
        self.map.dock.feel_requested.connect(self._on_feel)
        self._feel_page = LazyPage(partial(self._make_feel, clock))
        self._pad_key = ""
        self.try_field = TryStation(theme, document)
        session = SessionSwitch(theme, link.stays, own_runner is not None)
        self._play_page = LazyPage(partial(make_play, theme, document, self.live, session, link, self.say))
        self._library_page = LazyPage(self._make_library)
        self.tape = Tape(theme, document.layout)
        self._runner = RunnerView(link, document, self.bar, self.tape, session, own_runner)
        self._runner.said.connect(self.say)
        self._opening = ProfileOpening(document, self._runner, self)
        self._opening.said.connect(self.say)
        self._opening.opened.connect(partial(self.show_station, Station.MAP))
        self._opening.given.connect(self.show_given)
        self.both_changed = BothChanged(theme, document)
        self._foot = Foot(theme, self.tape, self.both_changed)
        self._stations = QStackedWidget()
        self.tabs = StationBar(theme)
        self.actions_of = make_actions(self, self._commands())
        self.tape.clicked.connect(self.actions_of[Command.PAUSE].trigger)
        middle = QWidget()
        self.setCentralWidget(middle)
        column = self._column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.bar)
        self._add_stations()
        column.addWidget(self.tools)
        self._middle = QStackedWidget()
        self._middle.addWidget(self._stations)
        column.addWidget(self._middle, 1)
        column.addWidget(self._foot)
        self.bar.layer_picked.connect(self.map.show_layer)
        self.bar.spare_taken.connect(lambda key: link.call(AssignPad(key)))
        self.bar.tools_requested.connect(self.map_tools.open_layer)
        self.map.layer_shown.connect(self.bar.show_layer)
        document.on_change(self._on_document_changed)
        document.on_change(self._opening.say_left_out)
        self._opening.say_left_out()
        self._file_watch = FileWatch(document, self)
        link.telemetry.connect(self._on_telemetry)
        link.state_changed.connect(self.live.take_state)
        link.message.connect(self.say)
        self.live.state_changed.connect(self._on_state)
        self._followed_focus = FollowedFocus(self)
        self._holding = HoldBack(self, self.live, link.hold_back)
        self._seen = Seen(self)
        self._seen.changed.connect(self._on_seen)
        self._pages.give_places()
        set_place(self.bar, "index#rehearsal-and-live")
        set_place(self.layers, "more-moves#layers")
        for widget in (self._foot, self.tabs):
            set_place(widget, "index#how-the-window-is-laid-out")
        self.map_tools.set_follow(settings.follows_presses())
        self._show_document()
        self.show_station(Station.MAP)

    def has_layer(self, layer_id: str) -> bool:
        """Returns whether the open profile has a layer."""
        return self._document.profile.layer(layer_id) is not None

    @property
    def station(self) -> Station:
        """The shown station."""
        return list(Station)[self._stations.currentIndex()]

    def begin_first_steps(self, newcomer: bool) -> None:
        """Shows the first steps, and the welcome page to a newcomer."""
        self.leading.begin(self._column, self._middle, newcomer)

    def _follow_settings(self) -> None:
        """Applies the chosen settings."""
        self.map_tools.set_follow(settings.follows_presses())
        self.map.dock.wait_line.choose_time(settings.listening_ms())
        self._foot.update_settings()
        self._foot.fit(self.height(), self._is_low)
        self.leading.update_settings()

    def show_station(self, station: Station) -> None:
        """Shows a station."""
        self._pages.make(station)
        self._middle.setCurrentWidget(self._stations)
        self._stations.setCurrentIndex(list(Station).index(station))
        self.tabs.setCurrentIndex(list(Station).index(station))
        self._watch_pads()
        name_scroll_bars(self)
        if not self.tabs.hasFocus():  # the arrow keys continue there
            first = self._pages.first(station)
            (self.tabs if first is None else first).setFocus(Qt.FocusReason.OtherFocusReason)
        self.tools.fit(self.width(), self.station is Station.MAP)
        self.history.show()
        self.say("")  # the message belongs to the former station

    def _watch_pads(self) -> None:
        self._pages.watch_pads(self.station, self._link, self.live.pad_key, self.hand_pad.is_open)
        if self.station not in (Station.FEEL, Station.TRY) and self._feel_page.made is not None:
            self._feel_page.made.hands.pause()

    def say(self, text: str) -> None:
        """Shows a line for the person for a while; a fault of the file stays."""
        self._message.say(beginning(text))

    def show_again(self, profile: str) -> str:
        """Brings the window to the front, with a profile if given; returns the reason of a failure, or empty."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.activateWindow()
        QApplication.alert(self)  # for desktops on which no program can raise itself
        return self._opening.show_file(profile)

    def show_given(self, path: Path) -> None:
        """Shows a profile from elsewhere, before it is added to the library."""
        self.show_station(Station.LIBRARY)
        self.library.show_file(path)

    def update_look(self) -> None:
        """Updates cached colours after a change of the theme."""
        self._ground = drawing.sheet_brush(self.theme)
        self.map.update_look()
        for widget in QApplication.allWidgets():
            widget.update()

    def update_layout(self) -> None:
        """Updates key names after a change of the keyboard layout."""
        self._document.update_layout()
        self.say(tr("Keyboard layout: {name}", name=self._document.layout().name))

    def set_live_requested(self, wanted: bool) -> None:
        """Closes or opens the switch. Outputs go out only while another window is in front."""
        self._runner.request_live(wanted)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Handles Escape, which ends a wait for any focus; listening widgets take their own keys."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.map.waiting.handle_event(WaitEvent.CANCELLED)
        super().keyPressEvent(event)

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002 - as Qt calls it
        return focus_next(self, next)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        # With a large font the stations need the room more than tape and head do.
        for part in (self.bar, self.tabs, self.tape):
            part.set_low(self._is_low)
        if self._feel_page.made is not None:
            self._feel_page.made.fit(self.width())
        self.tools.fit(self.width(), self.station is Station.MAP)
        self._foot.fit(self.height(), self._is_low)
        self._foot.show_part(self.height())

    @property
    def _is_low(self) -> bool:
        return self.height() < self.theme.px(_LOW)

    def retire(self) -> None:
        """Leaves link and runner to the window that replaces this one, and closes."""
        self._seen.changed.disconnect()
        self._message.rest()
        self.hide()
        self.deleteLater()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._message.rest()
        self._link.end()
        super().closeEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if event is not None:
            QPainter(self).fillRect(event.rect(), self._ground)

    def _add_stations(self) -> None:
        """Lays out all stations and tools."""
        theme = self.theme
        self.leading.profile_requested.connect(lambda title: self.library.make_titled(title))  # noqa: PLW0108 - made late
        self._pages = Pages(self.pads, self.map, self._feel_page, self.try_field, self._play_page, self._library_page)
        for station in Station:
            page = self._pages.page(station)
            action = self.actions_of[COMMAND_OF_STATION[station]]
            self.tabs.setTabToolTip(self.tabs.addTab(action.text()), action.toolTip())
            self._stations.addWidget(PageScroll(page))  # with a large font a page may need scrolling
        self.tabs.tabBarClicked.connect(self._on_tab)
        self.tabs.currentChanged.connect(self._on_tab)
        self._message = Messages(theme, self.tape, lambda: beginning(self._document.fault))
        self._announcing = Announcer(self._document, self.live, self.map.waiting, self._message)
        self.map_tools = MapTools(theme, self._document, self.map, self.actions_of[Command.FOLLOW])
        self.map_tools.map_requested.connect(partial(self.show_station, Station.MAP))
        self.map_tools.said.connect(self.say)
        self.layers = self.map_tools.layers
        follow, undo, redo = (self.actions_of[command] for command in (Command.FOLLOW, Command.UNDO, Command.REDO))
        self.tools = ToolsRow(theme, self.tabs, self._message, self.layers, self.help.more, follow, undo, redo)
        self.help.more_opened.connect(self.tools.fill_more)
        self.history.add_button(Command.UNDO, undo, self.tools.undo)
        self.history.add_button(Command.REDO, redo, self.tools.redo)

    def _on_tab(self, index: int) -> None:
        station = list(Station)[index]
        if index != self._stations.currentIndex() or self._middle.currentWidget() is not self._stations:
            self.show_station(station)

    def _areas(self) -> tuple[QWidget, ...]:
        """Returns the areas of the station, then its tabs and the head."""
        return (*self._pages.areas(self.station), self.tabs, self.bar)

    def _commands(self) -> dict[Command, Callable[[], object]]:
        does: dict[Command, Callable[[], object]] = {
            Command.UNDO: self.history.undo,
            Command.REDO: self.history.redo,
            Command.LIVE: self._switch_live,
            Command.FOLLOW: lambda: self.map_tools.keep_follow(),  # noqa: PLW0108 - made after the actions
            Command.QUIT: self.close,
            Command.NEXT_AREA: lambda: focus_next_area(self._areas()),
            Command.PREVIOUS_AREA: lambda: focus_next_area(self._areas()[::-1]),
            Command.FIND: self._on_find,
            Command.STOP_LISTENING: partial(self.map.waiting.handle_event, WaitEvent.CANCELLED),
            Command.PAUSE: lambda: self.tape.pause(self.actions_of[Command.PAUSE].isChecked()),
            Command.FLIP: self._on_flip,
            Command.HAND_PAD: self.hand_pad.open,
            Command.GUIDE: self.help.show_guide,
            Command.SETTINGS: self.help.show_settings,
        }
        does |= {command: partial(self.show_station, station) for station, command in COMMAND_OF_STATION.items()}
        return {command: partial(self._do, do) for command, do in does.items()}

    def _do(self, do: Callable[[], object]) -> None:
        """Runs a command; keys of its shortcut are not bound."""
        self.map.forget_keys()
        do()

    def _switch_live(self) -> None:
        self.set_live_requested(not self.bar.switch.isChecked())

    @property
    def feel(self) -> FeelStation:
        """Station Feel, created if necessary."""
        return self._feel_page.station

    @property
    def play(self) -> PlayingStation:
        """Station Play, created if necessary."""
        return self._play_page.station

    @property
    def library(self) -> LibraryStation:
        """Station Library, created if necessary."""
        return self._library_page.station

    def _make_library(self) -> LibraryStation:
        from nub_shift.ui.library.station import LibraryStation

        library = LibraryStation(self.theme, self._document, self._examples)
        library.said.connect(self.say)
        library.binned.connect(self.history.show)
        library.opened.connect(partial(self.show_station, Station.MAP))
        return library

    def _make_feel(self, clock: Callable[[], int]) -> FeelStation:
        feel = make_feel(self.theme, self._document, self.live, self._link, self.pads, self.map, clock)
        feel.said.connect(self.say)
        feel.pad_chosen.connect(self._watch_pads)
        feel.left.connect(partial(self.show_station, Station.MAP))
        feel.fit(self.width())
        return feel

    def _on_feel(self, control: str, layer_id: str) -> None:
        self.map.show_layer(layer_id)
        self.feel.show_control(control)
        self.feel.to_map.show()
        self.show_station(Station.FEEL)

    def _on_flip(self) -> None:
        """Flips between two versions of a feel; without a second one, shows Feel, where one can be made."""
        if self._feel_page.made is None:
            self.show_station(Station.FEEL)
        else:
            self._feel_page.made.flipping.flip()

    def _on_find(self) -> None:
        """Focuses the search for moves from anywhere; a waiting slot continues to await a move."""
        if self.station is not Station.MAP:
            self.show_station(Station.MAP)
        self.map.moves.search.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.map.moves.search.selectAll()

    def _on_history(self, whose: UndoOwner) -> None:
        library = self._library_page.made
        if library is not None and self.station is Station.LIBRARY:  # an edit may have changed the open profile's title
            library.refresh()
        if library is not None and whose is library.catalogue:
            self.history.show()

    def _on_document_changed(self) -> None:
        self._runner.load()
        self._show_document()
        self._foot.show_part(self.height())
        self.say(saved_words(self._document))

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
            if self._feel_page.made is not None:
                self._feel_page.made.forget_pad()
        self._runner.show(state, self.live.missing_pad)

    def _on_seen(self, seen: bool) -> None:
        """Suspends subscriptions and painting while the window is invisible, except those needed for play."""
        made = self._feel_page.made
        self._link.set_seen(seen or (made is not None and made.needs_telemetry))
        if not seen:
            self.tape.rest()
        if not seen and made is not None:
            made.hands.pause()

    def _on_telemetry(self, packet: Telemetry) -> None:
        if packet.seat == 0:  # seat of the open profile
            self.live.take_telemetry(packet)
        self.tape.take(packet)
        self.try_field.take(packet)
        if packet.outputs:
            self.leading.note_played(self.station)
