"""Content of the screen: signs for a while, rings while open, the badge while layers or toggles are on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Protocol

from PyQt6.QtCore import QMargins, QObject, QTimer

from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.profile.listed import Ring
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import Corner, Place, Signs
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import SeatSigns, SignsNews
from nub_shift.ui.signs.painting import BadgeRow, Picture, SignPainter, sign_theme
from nub_shift.ui.signs.sign_kinds import Sign, badge_layers, ring_words, signs, toggle_words

# More signs at once are not read during play.
MOST: Final = 3
# Distance from the edge of the screen, in pixels.
MARGIN: Final = 24
EDGES: Final = QMargins(MARGIN, MARGIN, MARGIN, MARGIN)
MS: Final = 1_000  # in microseconds


@dataclass(frozen=True)
class Spot:
    """Position on a screen, as shares of the free room: 0 is left and top, 1 right and bottom."""

    x: float
    y: float


SPOTS: Final = {
    Place.TOP_LEFT: Spot(0.0, 0.0),
    Place.TOP: Spot(0.5, 0.0),
    Place.TOP_RIGHT: Spot(1.0, 0.0),
    Place.MIDDLE: Spot(0.5, 0.62),  # below the crosshair
    Place.BOTTOM_LEFT: Spot(0.0, 1.0),
    Place.BOTTOM: Spot(0.5, 1.0),
    Place.BOTTOM_RIGHT: Spot(1.0, 1.0),
}
CORNERS: Final = {
    Corner.TOP_LEFT: Spot(0.0, 0.0),
    Corner.TOP_RIGHT: Spot(1.0, 0.0),
    Corner.BOTTOM_LEFT: Spot(0.0, 1.0),
    Corner.BOTTOM_RIGHT: Spot(1.0, 1.0),
}


class Screen(Protocol):
    """A screen that shows pictures above everything else, without focus or clicks.

    Attributes:
        scale: device pixels per pixel, on each axis.
        blends: whether pictures can be translucent.
    """

    scale: float
    blends: bool

    def show(self, key: str, picture: Picture, spot: Spot) -> None:
        """Shows a picture in place of the former one of that key."""

    def hide(self, key: str) -> None:
        """Hides a picture at once."""

    def close(self) -> None:
        """Hides everything, and disconnects."""

    def look_again(self) -> None:
        """Reads size and blending again."""


@dataclass(frozen=True)
class _Shown:
    sign: Sign
    until_us: int


class Board(QObject):
    """Shows a runner's state on a screen.

    Attributes:
        profiles: known profiles of the seats.
    """

    def __init__(self, screen: Screen, layout: LayoutSource, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._screen = screen
        self._layout = layout
        self._news: SignsNews | None = None
        self.profiles: dict[int, Profile] = {}
        self._shown: list[_Shown] = []
        self._keys: set[str] = set()
        self._painters: dict[tuple[float, float, float], SignPainter] = {}
        self._words: dict[str, tuple[Ring, list[str]]] = {}
        self._badge: object = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._show_signs)

    def take(self, news: SignsNews) -> list[Sign]:
        """Processes the runner's packet, and updates the screen; returns the new signs."""
        had = dict(self.profiles)
        self.profiles |= news.profiles
        self.profiles = {seat: self.profiles[seat] for seat in range(len(news.seats))}
        was, self._news = self._news, news
        if was is not None and was.live is not news.live:
            self._screen.look_again()
        came = signs(was, news, had, self.profiles, self._layout())
        for sign in came:
            self._shown = [old for old in self._shown if (old.sign.kind, old.sign.player) != (sign.kind, sign.player)]
            self._shown.append(_Shown(sign, monotonic_us() + self._signs_of(sign.player).lasts_ms * MS))
        if news.away:
            self._shown.clear()
            self._badge = None
            self._replace("", {})
            return came
        self._show_rings(news)
        if came or not self._shown:
            self._show_signs()
        self._show_badges(news)
        return came

    def rename_keys(self) -> None:
        """Renames keys in the visible content for another keyboard layout."""
        self._words.clear()
        if self._news is not None and not self._news.away:
            self._show_rings(self._news)
            self._show_badges(self._news)

    def clear(self) -> None:
        """Hides everything, since the runner has gone."""
        self._shown.clear()
        self._news = None
        self.profiles.clear()
        self._badge = None
        self._replace("", {})

    def _signs_of(self, seat: int) -> Signs:
        profile = self.profiles.get(seat)
        return profile.signs if profile is not None else Signs()

    def _painter(self, settings: Signs) -> SignPainter:
        opacity = settings.opacity if self._screen.blends else 1.0
        key = settings.size, opacity, self._screen.scale
        if key not in self._painters:
            self._painters.clear()
            self._painters[key] = SignPainter(sign_theme(settings.size), opacity, self._screen.scale)
        return self._painters[key]

    def _show_signs(self) -> None:
        """Shows the unexpired signs at their places."""
        now_us = monotonic_us()
        self._shown = [shown for shown in self._shown if shown.until_us > now_us and shown.sign.player in self.profiles]
        by_place: dict[Place, list[Sign]] = {}
        for shown in self._shown:
            settings = self._signs_of(shown.sign.player)
            if settings.shown:
                by_place.setdefault(settings.place, []).append(shown.sign)
        pieces = {}
        for place, found in by_place.items():
            painter = self._painter(self._signs_of(found[-1].player))
            pieces[f"signs {place.value}"] = painter.stack(found[-MOST:], len(self.profiles)), SPOTS[place]
        self._replace("signs ", pieces)
        if self._shown:
            nearest = min(shown.until_us for shown in self._shown)
            self._timer.start(max(1, (nearest - now_us) // MS + 1))

    def _show_rings(self, news: SignsNews) -> None:
        pieces = {}
        count = len(news.seats)
        for seat, state in enumerate(news.seats if news.live else ()):
            profile = self.profiles[seat]
            if not profile.signs.rings or not profile.signs.shown or state.paused:
                continue
            painter = self._painter(profile.signs)
            for index, look in enumerate(state.rings):
                ring = next((ring for ring in profile.rings if ring.id == look.ring), None)
                if ring is not None:
                    picture = painter.ring(ring, self._ring_words(profile, ring), look)
                    across = (seat + 0.5 + index * 0.1) / count  # each of two players has a half of the screen
                    pieces[f"ring {seat} {index}"] = picture, Spot(across, 0.5)
        self._replace("ring ", pieces)

    def _ring_words(self, profile: Profile, ring: Ring) -> list[str]:
        """Returns the entries' names of a ring, cached for the pictures that follow."""
        known = self._words.get(ring.id)
        if known is None or known[0] is not ring:
            known = self._words[ring.id] = ring, ring_words(profile, ring, self._layout())
        return known[1]

    def _show_badges(self, news: SignsNews) -> None:
        by_corner: dict[Corner, list[BadgeRow]] = {}
        for seat, state in enumerate(news.seats if news.live else ()):
            settings = self._signs_of(seat)
            if settings.shown and settings.badge is not Corner.NONE and not state.paused:
                row = self._badge_row(seat, state)
                if row.marks or row.toggles:
                    by_corner.setdefault(settings.badge, []).append(row)
        badge = by_corner, self._screen.scale, [self._signs_of(seat) for seat in range(len(news.seats))]
        if badge == self._badge:
            return  # otherwise painted with each picture of a ring
        self._badge = badge
        pieces = {}
        for corner, rows in by_corner.items():
            painter = self._painter(self._signs_of(rows[0].seat))
            pieces[f"badge {corner.value}"] = painter.badge(rows, len(news.seats)), CORNERS[corner]
        self._replace("badge ", pieces)

    def _badge_row(self, seat: int, state: SeatSigns) -> BadgeRow:
        profile = self.profiles[seat]
        toggles = sorted(toggle_words(profile, slot, self._layout()) for slot in state.toggles)
        return BadgeRow(seat, tuple(badge_layers(profile, state)), ", ".join(toggles))

    def _replace(self, kind: str, pieces: dict[str, tuple[Picture, Spot]]) -> None:
        """Shows these pictures, and hides all others of that kind."""
        for key in [key for key in self._keys if key.startswith(kind) and key not in pieces]:
            self._screen.hide(key)
            self._keys.discard(key)
        for key, (picture, spot) in pieces.items():
            self._screen.show(key, picture, spot)
            self._keys.add(key)
