"""Pages of the window, one for each station: first focus, areas, places in the guide."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Generic, TypeVar, assert_never

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.card_book import CardBook
from nub_shift.editing.catalogue import Catalogue
from nub_shift.editing.document import Document
from nub_shift.store.library import library_titles
from nub_shift.ui.commands import Station
from nub_shift.ui.frame.live import Live
from nub_shift.ui.help.places import set_place
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.station import MapStation
from nub_shift.ui.pads.station import PadsStation
from nub_shift.ui.play.session_switch import SessionSwitch
from nub_shift.ui.practice.station import TryStation

if TYPE_CHECKING:
    from nub_shift.ui.feel.station import FeelStation
    from nub_shift.ui.library.station import LibraryStation
    from nub_shift.ui.play.station import PlayingStation

# Frame rate of Feel, where the eye follows the trail of the stick.
_FEEL_HZ = 60


S = TypeVar("S", bound=QWidget)


class LazyPage(QWidget, Generic[S]):
    """Creates a station at first use, since importing and creating it takes time.

    Attributes:
        made: the station, or None before it is created.
    """

    def __init__(self, make: Callable[[], S]) -> None:
        super().__init__()
        self.made: S | None = None
        self._make = make
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)

    @property
    def station(self) -> S:
        """The station, created if necessary."""
        if self.made is None:
            self.made = self._make()
            self._column.addWidget(self.made)
        return self.made


@dataclass(frozen=True)
class Pages:
    """Pages by station. Stations that the window does not begin with are created at first use."""

    pads: PadsStation
    map: MapStation
    feel: LazyPage[FeelStation]
    try_field: TryStation
    play: LazyPage[PlayingStation]
    library: LazyPage[LibraryStation]

    def page(self, station: Station) -> QWidget:
        """Returns the page of a station."""
        match station:
            case Station.PADS:
                return self.pads
            case Station.MAP:
                return self.map
            case Station.FEEL:
                return self.feel
            case Station.TRY:
                return self.try_field
            case Station.PLAY:
                return self.play
            case Station.LIBRARY:
                return self.library
            case _:
                assert_never(station)

    def first(self, station: Station) -> QWidget | None:
        """Returns the widget with the first focus in a station; None without one."""
        match station:
            case Station.PADS:
                return self.pads.list
            case Station.MAP:
                return self.map.moves.first
            case Station.FEEL:
                feel = self.feel.station
                return feel.choice.buttons[feel.control]
            case Station.TRY:
                return None
            case Station.PLAY:
                return self.play.station.rules.list
            case Station.LIBRARY:
                return self.library.station.list
            case _:
                assert_never(station)

    def areas(self, station: Station) -> tuple[QWidget, ...]:
        """Returns the areas of a station, in the order of its work."""
        match station:
            case Station.PADS:
                return self.pads.areas
            case Station.MAP:
                return self.map.areas
            case Station.FEEL:
                return self.feel.station.areas
            case Station.TRY:
                return (self.try_field,)
            case Station.PLAY:
                return self.play.station.areas
            case Station.LIBRARY:
                return (self.library.station.list, self.library.station.view)
            case _:
                assert_never(station)

    def beside(self, station: Station) -> CardBook | Catalogue | None:
        """Returns the owner of a station's changes besides the profile: pads' cards, or files; None for the profile."""
        match station:
            case Station.PADS:
                return self.pads.book
            case Station.LIBRARY:
                return self.library.station.catalogue
            case Station.MAP | Station.FEEL | Station.TRY | Station.PLAY:
                return None
            case _:
                assert_never(station)

    def watch_pads(self, station: Station, link: RunnerLink, own: str, at_hand: bool) -> None:
        """Subscribes to the telemetry of pads that a station needs.

        Args:
            own: key of the pad in play.
            at_hand: whether the window of the simulated pad is open.
        """
        match station:
            case Station.PADS:
                link.watch_pads(True, self.pads.chosen)
            case Station.FEEL:
                link.watch_pads(True, self.feel.station.pad.key, _FEEL_HZ)
            case Station.TRY:
                link.watch_pads(True, own)  # every frame, for the record of movements
            case Station.MAP | Station.PLAY | Station.LIBRARY:
                link.watch_pads(at_hand)
            case _:
                assert_never(station)

    def make(self, station: Station) -> None:
        """Creates the content of a station, if necessary."""
        page = self.page(station)
        if isinstance(page, LazyPage):
            page.station.show()

    def give_places(self) -> None:
        """Links each part with its place in the guide."""
        places: dict[QWidget, str] = {
            self.pads: "unknown-pad",
            self.pads.strip: "unknown-pad#measure-it",
            self.pads.marks: "unknown-pad#names-and-labels",
            self.map: "first-profile",
            self.map.dock: "more-moves",
            self.feel: "tuning",
            self.try_field: "first-profile#try",
            self.play: "playing",
            self.library: "sharing",
        }
        for widget, place in places.items():
            set_place(widget, place)


def make_play(
    theme: Theme, document: Document, live: Live, session: SessionSwitch, link: RunnerLink, say: Callable[[str], None]
) -> PlayingStation:
    """Creates station Play; `say` receives lines for the person."""
    from nub_shift.ui.play.station import PlayingStation

    play = PlayingStation(theme, document, live, session, library_titles, link.call)
    play.said.connect(say)
    set_place(play.players, "two-players#who-plays-what")
    set_place(play.rules, "playing#a-profile-that-comes-on-by-itself")
    set_place(play.signs, "playing#signs-on-the-screen")
    set_place(play.recap, "playing#last-sessions")
    return play


def make_feel(
    theme: Theme,
    document: Document,
    live: Live,
    link: RunnerLink,
    pads: PadsStation,
    map_station: MapStation,
    clock: Callable[[], int],
) -> FeelStation:
    """Creates station Feel, which follows the pads and the shown layer of Map."""
    from nub_shift.ui.feel.station import FeelStation

    feel = FeelStation(theme, document, live, link, pads.pads, pads.card, clock)
    pads.pads.frames.connect(feel.take)
    pads.pads.connected_changed.connect(feel.update_pads)
    pads.cards_changed.connect(feel.update_pads)
    map_station.layer_shown.connect(feel.show_layer)
    feel.show_layer(map_station.layer_id)
    return feel
