"""Painting of signs, rings and the badge into pictures, independent of their display."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from math import cos, hypot, pi, sin
from typing import Final

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPen

from nub_shift.editing.words.slot_views import LayerMark
from nub_shift.engine.values import RingLook
from nub_shift.model.profile.listed import Ring
from nub_shift.model.profile.signs import SignKind
from nub_shift.ui.look.drawing import draw_layer_mark, fitted
from nub_shift.ui.look.theme import BASE_POINTS, NIGHT, Theme
from nub_shift.ui.signs.sign_kinds import Sign

# Larger than in a window, to be read from across a room.
POINTS: Final = BASE_POINTS * 1.5
WIDEST: Final = 420
RING_REACH: Final = 150
CORNER: Final = 5
# Shown beside a value that left and right change.
ARROWS: Final = ("\N{BLACK LEFT-POINTING TRIANGLE}", "\N{BLACK RIGHT-POINTING TRIANGLE}")


def sign_theme(size: float) -> Theme:
    """Returns the theme of signs: light on dark even by day, since a game may have any colour below. `size` is the
    profile's factor.
    """
    return Theme(NIGHT, POINTS * size)


@dataclass(frozen=True)
class Picture:
    """A picture to show.

    Attributes:
        outline: equal for pictures of the same outline.
        changed: area that differs from the former picture with the same image, empty for all.
    """

    image: QImage
    outline: object
    changed: QRect = field(default_factory=QRect)

    @property
    def size(self) -> QSize:
        """Size on the screen, in logical pixels."""
        return self.image.deviceIndependentSize().toSize()


def within(picture: Picture, room: QSize) -> Picture:
    """Returns the picture scaled down to `room` in logical pixels, if larger."""
    size = picture.size
    if room.isEmpty() or (size.width() <= room.width() and size.height() <= room.height()):
        return picture
    scale = picture.image.devicePixelRatio()
    aspect, smooth = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
    image = picture.image.scaled(room * scale, aspect, smooth)
    image.setDevicePixelRatio(scale)
    return Picture(image, picture.outline)


@dataclass(frozen=True)
class BadgeRow:
    """Active layers and toggles of one player."""

    seat: int
    marks: tuple[LayerMark, ...]
    toggles: str


@dataclass(frozen=True)
class MenuSheet:
    """Content of a pad menu.

    Attributes:
        rows: label, value, and whether left and right change it.
        chosen: index of the selected row.
        hints: functions of buttons.
    """

    head: str
    rows: tuple[tuple[str, str, bool], ...]
    chosen: int
    hints: tuple[str, ...]


class SignPainter:
    """Paints in one size and opacity.

    Pictures have an alpha channel; their background has `opacity`, texts and lines are opaque.
    """

    def __init__(self, theme: Theme, opacity: float, scale: float) -> None:
        """`scale` has device pixels per pixel, on each axis."""
        self.theme = theme
        self._opacity = opacity
        self._scale = scale
        self._sheet = self._ring = QImage()
        self._nub = QRect()
        self._sheet_key: tuple[Ring, tuple[str, ...], int | None] | None = None

    def stack(self, shown: Sequence[Sign], players: int) -> Picture:
        """Returns signs below one another; with several players, with the player's number."""
        theme = self.theme
        pictures = [self._line(sign, players > 1) for sign in shown]
        gap = theme.px(4)
        width = max(picture.deviceIndependentSize().width() for picture in pictures)
        height = sum(picture.deviceIndependentSize().height() + gap for picture in pictures) - gap
        image, painter = self._begin(width, height)
        y = 0.0
        for picture in pictures:
            painter.drawImage(QPointF((width - picture.deviceIndependentSize().width()) / 2, y), picture)
            y += picture.deviceIndependentSize().height() + gap
        painter.end()
        return Picture(image, (tuple(shown), self.theme))

    def badge(self, rows: Sequence[BadgeRow], players: int) -> Picture:
        """Returns a row for each player: marks of layers, and actions of toggles."""
        theme = self.theme
        metrics = QFontMetricsF(theme.font(0.72))
        tall, mark, gap = theme.px(17), theme.px(16), theme.px(5)
        number = theme.px(12) if players > 1 else 0
        width = max(
            number + len(row.marks) * (mark + gap) + min(metrics.horizontalAdvance(row.toggles) + 1, theme.px(WIDEST))
            for row in rows
        )
        width += 2 * gap if any(row.toggles for row in rows) else gap
        image, painter = self._begin(width, tall * len(rows))
        self._ground(painter, QRectF(0, 0, width, tall * len(rows)))
        for index, row in enumerate(rows):
            x, middle = float(gap), tall * (index + 0.5)
            if players > 1:
                painter.setFont(theme.font(0.72, bold=True))
                painter.setPen(theme.colour("muted"))
                room = QRectF(x, middle - tall / 2, number, tall)
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, str(row.seat + 1))
                x += number
            for found in row.marks:
                self._mark(painter, QPointF(x + mark / 2, middle), found, on=True, factor=0.7)
                x += mark + gap
            painter.setPen(theme.colour("ink"))
            painter.setFont(theme.font(0.72))
            room = QRectF(x, middle - tall / 2, width - x - gap, tall)
            painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted(painter, row.toggles, room.width() + 1))
        painter.end()
        return Picture(image, (width, len(rows), self.theme))

    def menu(self, sheet: MenuSheet) -> Picture:
        """Returns a pad menu: rows below one another, the selected one on a plate, with arrows if it can be changed."""
        theme = self.theme
        pad, tall, head, foot = theme.px(16), theme.px(30), theme.px(34), theme.px(18)
        width = theme.px(380)
        height = head + tall * len(sheet.rows) + foot * len(sheet.hints) + 2 * theme.px(10)
        image, painter = self._begin(width, height)
        self._ground(painter, QRectF(0, 0, width, height))
        inside = QRectF(pad, 0, width - 2 * pad, head)
        left, right = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setPen(theme.colour("pad"))
        painter.setFont(theme.font(0.85, bold=True))
        painter.drawText(inside, middle | left, fitted(painter, sheet.head, inside.width()))
        for index, (label, value, turns) in enumerate(sheet.rows):
            room = QRectF(pad, head + index * tall, width - 2 * pad, tall)
            chosen = index == sheet.chosen
            if chosen:
                painter.setPen(QPen(theme.colour("game"), theme.px(1.5)))
                painter.setBrush(theme.colour("game_soft"))
                plate = room.adjusted(-theme.px(8), theme.px(1), theme.px(8), -theme.px(1))
                painter.drawRoundedRect(plate, theme.px(3), theme.px(3))
            painter.setPen(theme.colour("ink"))
            painter.setFont(theme.font(0.95, bold=chosen))
            words = f"{ARROWS[0]}  {value}  {ARROWS[1]}" if chosen and turns else value
            painter.drawText(room, middle | right, fitted(painter, words, room.width() * 0.62))
            beside = room.width() - QFontMetricsF(painter.font()).horizontalAdvance(words) - theme.px(8)
            painter.drawText(room, middle | left, fitted(painter, label, max(beside, room.width() * 0.36)))
        painter.setFont(theme.font(0.72))
        painter.setPen(theme.colour("muted"))
        for index, hint in enumerate(sheet.hints):
            below = head + tall * len(sheet.rows) + theme.px(10) + index * foot
            line = QRectF(pad, below, width - 2 * pad, foot)
            painter.drawText(line, middle | left, fitted(painter, hint, line.width()))
        painter.end()
        return Picture(image, (height, self.theme))

    def ring(self, ring: Ring, words: Sequence[str], look: RingLook) -> Picture:
        """Returns a ring with its entries around the middle, or a grid in rows, and the direction of its stick."""
        side = 2 * self.theme.px(RING_REACH)
        key = ring, tuple(words), look.chosen
        if key != self._sheet_key:  # between most pictures only the stick moves
            self._sheet_key = key
            self._sheet, painter = self._begin(side, side)
            if ring.columns:
                self._cells(painter, ring, words, look.chosen, side)
            else:
                self._sectors(painter, ring, words, look.chosen, side)
            painter.end()
            self._ring, self._nub = self._sheet.copy(), QRect()
            before = QRect()
        else:
            before = self._nub
        painter = QPainter(self._ring)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not before.isEmpty():
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            scaled = QRectF(QRectF(before).topLeft() * self._scale, QRectF(before).size() * self._scale)
            painter.drawImage(QRectF(before), self._sheet, scaled)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        self._nub = self._stick(painter, side / 2, look)
        painter.end()
        return Picture(self._ring, (ring, self.theme), before.united(self._nub) if not before.isEmpty() else QRect())

    def _begin(self, width: float, height: float) -> tuple[QImage, QPainter]:
        scale = self._scale
        pixels = (max(1, round(width * scale + 0.49)), max(1, round(height * scale + 0.49)))
        image = QImage(*pixels, QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(scale)
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        return image, painter

    def _paper(self, role: str = "sheet") -> QColor:
        colour = QColor(self.theme.colour(role))
        colour.setAlphaF(self._opacity)
        return colour

    def _ground(self, painter: QPainter, rect: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._paper())
        painter.drawRoundedRect(rect, self.theme.px(CORNER), self.theme.px(CORNER))

    def _mark(self, painter: QPainter, centre: QPointF, mark: LayerMark, on: bool, factor: float = 1.0) -> None:
        painter.save()
        painter.translate(centre)
        painter.scale(factor, factor)
        draw_layer_mark(painter, self.theme, QPointF(0, 0), mark.letter, mark.hue, on)
        painter.restore()

    def _line(self, sign: Sign, numbered: bool) -> QImage:
        theme = self.theme
        pad, tall = theme.px(10), theme.px(32)
        strong = QFontMetricsF(theme.font(bold=True))
        beside = QFontMetricsF(theme.font(0.8))
        side = max((beside.horizontalAdvance(text) for text in (sign.before, sign.after) if text), default=0.0)
        side = min(side, theme.px(WIDEST / 3)) + 2 * pad if side else 0.0
        text = min(strong.horizontalAdvance(sign.text) + 1, theme.px(WIDEST))
        head = theme.px(24) if sign.mark is not None else theme.px(12)
        number = theme.px(14) if numbered else 0
        width = pad + number + head + theme.px(4) + side + text + side + pad
        image, painter = self._begin(width, tall)
        self._ground(painter, QRectF(0, 0, width, tall))
        middle = tall / 2
        x = float(pad)
        if numbered:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.font(0.8, bold=True))
            painter.drawText(QRectF(x, 0, number, tall), Qt.AlignmentFlag.AlignVCenter, str(sign.player + 1))
            x += number
        if sign.mark is not None:
            self._mark(painter, QPointF(x + head / 2 - theme.px(2), middle), sign.mark, sign.on)
        else:
            self._pip(painter, QPointF(x + theme.px(4), middle), sign)
        x += head + theme.px(4)
        ways = (
            (sign.before, x, Qt.AlignmentFlag.AlignLeft),
            (sign.after, x + side + text, Qt.AlignmentFlag.AlignRight),
        )
        painter.setPen(theme.colour("muted"))
        painter.setFont(theme.font(0.8))
        for words, at, way in ways:
            if words:
                room = QRectF(at, 0, side, tall)
                painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | way, fitted(painter, words, side - pad))
        painter.setPen(theme.colour("ink" if sign.on else "muted"))
        painter.setFont(theme.font(bold=True))
        room = QRectF(x + side, 0, text, tall)
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, fitted(painter, sign.text, text))
        painter.end()
        return image

    def _pip(self, painter: QPainter, centre: QPointF, sign: Sign) -> None:
        """Paints a mark for signs without a layer: filled for activated, hollow for deactivated."""
        about_pad = sign.kind in (SignKind.PAD, SignKind.BATTERY)
        colour = self.theme.colour("pad" if about_pad else "game")
        painter.setPen(QPen(colour, self.theme.px(2)))
        painter.setBrush(colour if sign.on else Qt.BrushStyle.NoBrush)
        reach = self.theme.px(4)
        painter.drawRect(QRectF(centre.x() - reach, centre.y() - reach, 2 * reach, 2 * reach))

    def _sectors(self, painter: QPainter, ring: Ring, words: Sequence[str], chosen: int | None, side: float) -> None:
        theme = self.theme
        middle, reach = QPointF(side / 2, side / 2), side / 2 - theme.px(2)
        inner = reach * ring.radius * 0.55
        width = 360.0 / len(words)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._paper())
        painter.drawEllipse(middle, inner, inner)
        # the selected outline over its neighbours'
        for index in sorted(range(len(words)), key=lambda index: index == chosen):
            path = QPainterPath()
            outer = QRectF(middle.x() - reach, middle.y() - reach, 2 * reach, 2 * reach)
            hole = QRectF(middle.x() - inner, middle.y() - inner, 2 * inner, 2 * inner)
            start = 90.0 - (index - 0.5) * width
            path.arcMoveTo(outer, start)
            path.arcTo(outer, start, -width)
            path.arcTo(hole, start - width, width)
            path.closeSubpath()
            self._plate(painter, index == chosen)
            painter.drawPath(path)
            angle = index * width / 180.0 * pi
            at = reach * (0.72 if len(words) <= 12 else 0.84)
            room = min(reach * 0.8, 2 * pi * at / max(len(words), 5) * 1.1)
            centre = QPointF(middle.x() + at * sin(angle), middle.y() - at * cos(angle))
            self._entry(painter, centre, words[index], room, index == chosen)

    def _cells(self, painter: QPainter, ring: Ring, words: Sequence[str], chosen: int | None, side: float) -> None:
        theme = self.theme
        rows = -(-len(words) // ring.columns)
        wide, tall = side / ring.columns, side / rows
        gap = theme.px(2)
        for index, text in enumerate(words):
            row, column = divmod(index, ring.columns)
            rect = QRectF(column * wide + gap, row * tall + gap, wide - 2 * gap, tall - 2 * gap)
            self._plate(painter, index == chosen)
            painter.drawRoundedRect(rect, theme.px(3), theme.px(3))
            self._entry(painter, rect.center(), text, wide - theme.px(10), index == chosen)

    def _plate(self, painter: QPainter, chosen: bool) -> None:
        """Paints the background of an entry."""
        theme = self.theme
        painter.setPen(QPen(theme.colour("game" if chosen else "line"), theme.px(2) if chosen else 1.0))
        painter.setBrush(self._paper("game_soft" if chosen else "sheet"))

    def _entry(self, painter: QPainter, centre: QPointF, text: str, width: float, chosen: bool) -> None:
        theme = self.theme
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.font(0.8, bold=chosen))
        tall = theme.px(20)
        room = QRectF(centre.x() - width / 2, centre.y() - tall / 2, width, tall)
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, fitted(painter, text, width))

    def _stick(self, painter: QPainter, reach: float, look: RingLook) -> QRect:
        """Paints the stick within its range; returns the painted area."""
        far = max(1.0, hypot(look.x, look.y)) / 0.92
        at = QPointF(reach + look.x / far * reach, reach + look.y / far * reach)
        painter.setPen(QPen(self.theme.colour("sheet"), self.theme.px(2)))
        painter.setBrush(self.theme.colour("pad"))
        size = self.theme.px(6)
        painter.drawEllipse(at, size, size)
        return QRectF(at.x() - 2 * size, at.y() - 2 * size, 4 * size, 4 * size).toAlignedRect()
