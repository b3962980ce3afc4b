"""Small pictures of the values of a setting, for its list."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import cos, pi, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QIcon, QPainter, QPen, QPixmap, QPolygonF

from nub_shift.ui.look.theme import Theme

SIDE = 24
_MARGIN = 3
_STEPS = 24

_Draw = Callable[["_Tile"], None]


class _Tile:
    """A picture in progress: the middle is 0, 0, and coordinates go from -1 to 1."""

    def __init__(self, theme: Theme, painter: QPainter, area: QRectF) -> None:
        self._theme, self._painter, self._area = theme, painter, area

    def pen(self, role: str, width: float = 1.6) -> None:
        self._painter.setPen(QPen(self._theme.colour(role), width))
        self._painter.setBrush(Qt.BrushStyle.NoBrush)

    def fill(self, role: str) -> None:
        self._painter.setPen(Qt.PenStyle.NoPen)
        self._painter.setBrush(self._theme.colour(role))

    def line(self, *points: tuple[float, float]) -> None:
        self._painter.drawPolyline(QPolygonF([self._at(x, y) for x, y in points]))

    def disc(self, radius: float, x: float = 0.0, y: float = 0.0) -> None:
        reach = self._area.width() / 2 * radius
        self._painter.drawEllipse(self._at(x, y), reach, reach)

    def box(self, left: float, top: float, right: float, bottom: float) -> None:
        self._painter.drawRect(QRectF(self._at(left, top), self._at(right, bottom)))

    def arrow(self, begin: tuple[float, float], end: tuple[float, float]) -> None:
        """Draws a straight arrow."""
        self.line(begin, end)
        across, down = end[0] - begin[0], end[1] - begin[1]
        length = (across**2 + down**2) ** 0.5 or 1.0
        across, down = across / length * 0.45, down / length * 0.45
        sides = ((end[0] - across - down, end[1] - down + across), (end[0] - across + down, end[1] - down - across))
        self.line(sides[0], end, sides[1])

    def arc(self, radius_x: float, radius_y: float, begin_degrees: float, end_degrees: float) -> None:
        """Draws a curved arrow; angles run clockwise from the right."""
        span = radians(end_degrees - begin_degrees)
        angles = [radians(begin_degrees) + span * step / _STEPS for step in range(_STEPS + 1)]
        places = [(radius_x * cos(angle), radius_y * sin(angle)) for angle in angles]
        self.line(*places)
        self.arrow(places[-2], places[-1])

    def _at(self, x: float, y: float) -> QPointF:
        middle, reach = self._area.center(), self._area.width() / 2
        return middle + QPointF(x * reach, y * reach)


def _dead_zone(disc: bool, bands: bool, tile: _Tile) -> None:
    tile.fill("game")
    if disc:
        tile.disc(0.42)
    if bands:
        tile.box(-0.95, -0.14, 0.95, 0.14)
        tile.box(-0.14, -0.95, 0.14, 0.95)
    tile.pen("pad", 1.0)
    tile.disc(1.0)


def _stages(light: tuple[tuple[float, float], ...], tile: _Tile) -> None:
    """Draws a pull into the deep stage: the deep press above, the light stage's presses below."""
    tile.pen("pad", 1.0)
    tile.line((-1.0, 0.0), (1.0, 0.0))
    tile.fill("game")
    tile.box(-0.15, -0.75, 0.75, -0.3)
    for begin, end in light:
        tile.box(begin, 0.3, end, 0.75)


def _wheel(tilted: float, tile: _Tile) -> None:
    """Draws how a pad turns: seen from above where the pad lies flat, from behind for roll."""
    tile.pen("pad", 1.2)
    tile.line((-0.5, 0.1), (0.5, 0.1))
    tile.pen("game")
    tile.arc(0.9, 0.9 * tilted, 200.0, 340.0)


def _gravity(tile: _Tile) -> None:
    tile.pen("pad", 1.2)
    tile.line((0.0, -0.9), (0.0, 0.9))
    tile.pen("game")
    tile.arc(0.85, 0.35, 200.0, 490.0)


def _centre(slope: float, tile: _Tile) -> None:
    tile.pen("pad", 1.0)
    tile.line((-1.0, 0.6), (1.0, 0.6))
    tile.pen("game", 2.0)
    tile.line((-0.8, slope), (0.8, -slope))


def _turned(inverted: bool, upright: bool, tile: _Tile) -> None:
    """Draws the hand's motion and its result."""
    way = -1.0 if inverted else 1.0
    for role, place, sense in (("pad", -0.45, 1.0), ("game", 0.45, way)):
        tile.pen(role, 1.4)
        if upright:
            tile.arrow((place, 0.8 * sense), (place, -0.8 * sense))
        else:
            tile.arrow((-0.8 * sense, place), (0.8 * sense, place))


def _ways(count: int, tile: _Tile) -> None:
    tile.pen("game", 1.2)
    for number in range(count):
        angle = 2 * pi * number / count
        tile.line((0.3 * sin(angle), -0.3 * cos(angle)), (0.95 * sin(angle), -0.95 * cos(angle)))


def _quick(quick: bool, tile: _Tile) -> None:
    """Draws two short pulls above, and their presses below."""
    tile.pen("pad", 1.2)
    tile.line((-1.0, -0.1), (-0.6, -0.9), (0.0, -0.5), (0.5, -0.9), (1.0, -0.1))
    tile.fill("game")
    for begin, end in ((-0.8, -0.4), (0.2, 0.6)) if quick else ((-0.8, 0.9),):
        tile.box(begin, 0.35, end, 0.8)


def _steadied(on: bool, tile: _Tile) -> None:
    shaky = ((-1.0, 0.0), (-0.7, -0.5), (-0.4, 0.5), (-0.1, -0.5), (0.2, 0.5), (0.5, -0.5), (0.8, 0.3), (1.0, 0.0))
    tile.pen("pad" if on else "game", 1.0 if on else 1.4)
    tile.line(*shaky)
    if on:
        tile.pen("game", 1.8)
        tile.line((-1.0, 0.0), (1.0, 0.0))


def _speeding_up(on: bool, tile: _Tile) -> None:
    tile.pen("game")
    rise = ((-0.6, 0.8), (0.4, -0.7)) if on else ((-0.6, 0.8), (-0.6, -0.7))
    tile.line((-1.0, 0.8), *rise, (1.0, -0.7))


def _switched(on: bool, tile: _Tile) -> None:
    """Draws a part that is present or absent: a rim with or without content."""
    tile.pen("pad", 1.0)
    tile.disc(0.9)
    if on:
        tile.fill("game")
        tile.disc(0.45)


_OFF_ON = {"none": False, "on": True}
_NO_YES = {"no": False, "yes": True}
# By the last name of a setting's path and the word in the file.
_PICTURES: dict[tuple[str, str], _Draw] = {
    ("dead_zone_shape", "radial"): partial(_dead_zone, True, False),
    ("dead_zone_shape", "axial"): partial(_dead_zone, False, True),
    ("dead_zone_shape", "both"): partial(_dead_zone, True, True),
    ("stages", "both"): partial(_stages, ((-0.75, 0.75),)),
    ("stages", "replace"): partial(_stages, ((-0.75, -0.15),)),
    ("stages", "either"): partial(_stages, ()),
    ("axis", "yaw"): partial(_wheel, 0.4),
    ("axis", "roll"): partial(_wheel, 1.0),
    ("axis", "gravity"): _gravity,
    ("centre", "held"): partial(_centre, 0.35),
    ("centre", "level"): partial(_centre, 0.0),
    **{("ways", str(count)): partial(_ways, count) for count in (4, 8)},
    **{("invert_x", word): partial(_turned, yes, False) for word, yes in _NO_YES.items()},
    **{("invert_y", word): partial(_turned, yes, True) for word, yes in _NO_YES.items()},
    **{("quick", word): partial(_quick, yes) for word, yes in _NO_YES.items()},
    **{("smoothing", word): partial(_steadied, on) for word, on in _OFF_ON.items()},
    **{("ramp", word): partial(_speeding_up, on) for word, on in _OFF_ON.items()},
}


def choice_icon(theme: Theme, setting: str, word: str) -> QIcon:
    """Returns the picture of a value of a setting; `setting` is the last name of its path, `word` is from the file."""
    draw = _PICTURES.get((setting, word)) or partial(_switched, word in {"on", "yes"})
    side, margin = theme.px(SIDE), theme.px(_MARGIN)
    pixmap = QPixmap(side, side)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw(_Tile(theme, painter, QRectF(margin, margin, side - 2 * margin, side - 2 * margin)))
    painter.end()
    return QIcon(pixmap)
