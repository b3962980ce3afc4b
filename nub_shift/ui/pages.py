"""The pages of the window, one for each station: where the focus is first, their areas, their places in the guide."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, assert_never

from PyQt6.QtWidgets import QWidget

from nub_shift.ui.commands import Station
from nub_shift.ui.help.places import set_place
from nub_shift.ui.library.station import LibraryStation
from nub_shift.ui.map.station import MapStation
from nub_shift.ui.pads.station import PadsStation
from nub_shift.ui.play.station import PlayingStation
from nub_shift.ui.practice.station import TryStation

if TYPE_CHECKING:
    from nub_shift.ui.feel.station import FeelStation


@dataclass(frozen=True)
class Pages:
    """Feel is made when it is first wanted: `feel_page` is where it goes, and `feel` makes it."""

    pads: PadsStation
    map: MapStation
    feel_page: QWidget
    feel: Callable[[], FeelStation]
    try_field: TryStation
    play: PlayingStation
    library: LibraryStation

    def page(self, station: Station) -> QWidget:
        """What is shown of a station."""
        match station:
            case Station.PADS:
                return self.pads
            case Station.MAP:
                return self.map
            case Station.FEEL:
                return self.feel_page
            case Station.TRY:
                return self.try_field
            case Station.PLAY:
                return self.play
            case Station.LIBRARY:
                return self.library
            case _:
                assert_never(station)

    def first(self, station: Station) -> QWidget | None:
        """What has the focus first in a station; None where there is nothing to do in it by keys."""
        match station:
            case Station.PADS:
                return self.pads.list
            case Station.MAP:
                return self.map.moves.list
            case Station.FEEL:
                feel = self.feel()
                return feel.choices[feel.control]
            case Station.TRY:
                return None
            case Station.PLAY:
                return self.play.rules.list
            case Station.LIBRARY:
                return self.library.list
            case _:
                assert_never(station)

    def areas(self, station: Station) -> tuple[QWidget, ...]:
        """What a station consists of, in the order of its work."""
        match station:
            case Station.PADS:
                return self.pads.areas
            case Station.MAP:
                return self.map.areas
            case Station.FEEL:
                return self.feel().areas
            case Station.TRY:
                return (self.try_field,)
            case Station.PLAY:
                return self.play.areas
            case Station.LIBRARY:
                return (self.library.list, self.library.view)
            case _:
                assert_never(station)

    def give_places(self) -> None:
        """Where the guide tells of each part."""
        places: dict[QWidget, str] = {
            self.pads: "unknown-pad",
            self.pads.strip: "unknown-pad#measure-it",
            self.pads.marks: "unknown-pad#names-and-labels",
            self.map: "first-profile",
            self.map.dock: "more-moves",
            self.feel_page: "tuning",
            self.try_field: "first-profile#try",
            self.play: "playing",
            self.play.players: "two-players#who-plays-what",
            self.play.rules: "playing#a-profile-that-comes-on-by-itself",
            self.play.signs: "playing#signs-on-the-screen",
            self.play.recap: "playing#last-sessions",
            self.library: "sharing",
        }
        for widget, place in places.items():
            set_place(widget, place)
