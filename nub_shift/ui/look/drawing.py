"""Drawing of keycaps, layer marks and controls."""

from __future__ import annotations

from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QIcon, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QStyle

from nub_shift.ui.look.theme import Theme

_CENTRE = Qt.AlignmentFlag.AlignCenter
CAP_HEIGHT = 24
# Colours of pads: plastics, distinct from signal colours.
SWATCHES = {
    "red": "#b8313a",
    "amber": "#d99a1c",
    "green": "#4f8f3a",
    "blue": "#2f6fc4",
    "violet": "#7a4fb0",
    "pink": "#d987b0",
    "white": "#f6f4ee",
    "black": "#2b2b31",
}


# Percentage of a letter's usual width.
_NARROWEST = 72
_SMALLEST = 0.8  # of the size


def fitted(painter: QPainter, text: str, width: float) -> str:
    """Returns a text no wider than `width`: narrows the painter's font, then reduces it, then cuts the text.

    Texts differ in length between languages.
    """
    font = painter.font()
    if font.stretch() not in (0, 100):  # set by an earlier text; checked, since changing a font is slow
        font.setStretch(100)
        painter.setFont(font)
    needs = QFontMetricsF(font).horizontalAdvance(text)
    if needs <= width:
        return text
    if width > 0:
        stretch = max(_NARROWEST, int(100 * width / needs))
        font.setStretch(stretch)
        font.setPointSizeF(font.pointSizeF() * min(1.0, max(_SMALLEST, 100 * width / (needs * stretch))))
    painter.setFont(font)
    return QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, width)


def cap_width(theme: Theme, text: str) -> float:
    """Returns the width of a keycap."""
    return max(theme.px(CAP_HEIGHT), theme.text_width(text, 0.92, bold=True) + theme.px(13))


def draw_cap(painter: QPainter, theme: Theme, rect: QRectF, text: str, down: bool = False, ghost: bool = False) -> None:
    """Draws a keycap: a plate on a foot, which sinks when the key is down; a ghost comes from the layer below."""
    foot = theme.px(3)
    radius = theme.px(4)
    game = theme.colour("game")
    line = theme.colour("muted", 150) if ghost else game
    plate = QRectF(rect.x(), rect.y() + (foot if down else 0), rect.width(), rect.height() - foot)
    pen = QPen(line, 1.2)
    if ghost:
        pen.setStyle(Qt.PenStyle.DotLine)
    painter.setPen(pen)
    painter.setBrush(theme.colour("game_soft") if not ghost else QBrush(Qt.BrushStyle.NoBrush))
    if not down:
        painter.drawRoundedRect(rect, radius, radius)
    painter.setBrush(game if down else theme.colour("raised"))
    painter.drawRoundedRect(plate, radius, radius)
    painter.setFont(theme.font(0.92, bold=True))
    painter.setPen(theme.colour("sheet") if down else (theme.colour("muted") if ghost else theme.colour("ink")))
    painter.drawText(plate, _CENTRE, fitted(painter, text, plate.width() - 4))


def draw_caps(
    painter: QPainter,
    theme: Theme,
    at: QPointF,
    caps: tuple[str, ...],
    room: float,
    down: bool = False,
    ghost: bool = False,
) -> float:
    """Draws keycaps in a row from `at`, in at most `room` pixels; returns the width used.

    A row that does not fit becomes a single cap, since a combination without one of its keys would be misread.
    """
    gap = theme.px(3)
    if len(caps) > 1 and sum(cap_width(theme, text) + gap for text in caps) - gap > room:
        caps = ("+".join(caps),)
    x = at.x()
    end = at.x() + room
    for text in caps:
        width = min(cap_width(theme, text), end - x)
        if width < theme.px(14):
            break
        draw_cap(painter, theme, QRectF(x, at.y(), width, theme.px(CAP_HEIGHT)), text, down, ghost)
        x += width + gap
    return max(0.0, x - at.x() - gap)


def draw_layer_mark(painter: QPainter, theme: Theme, centre: QPointF, letter: str, number: int, on: bool) -> None:
    """Draws the mark of a layer: a leaf in its hue with its letter, filled while active."""
    hue = theme.hue(number)
    size = theme.px(20)
    rect = QRectF(centre.x() - size / 2, centre.y() - size / 2, size, size)
    painter.setPen(QPen(hue, 1.6))
    painter.setBrush(hue if on else theme.colour("raised"))
    corner = theme.px(6)
    leaf = QPolygonF(
        [
            rect.topLeft() + QPointF(corner, 0),
            rect.topRight(),
            rect.bottomRight() - QPointF(0, corner),
            rect.bottomRight() - QPointF(corner, 0),
            rect.bottomLeft(),
            rect.topLeft() + QPointF(0, corner),
        ]
    )
    painter.drawPolygon(leaf)
    painter.setFont(theme.font(0.85, bold=True))
    painter.setPen(theme.colour("sheet") if on else hue)
    painter.drawText(rect, _CENTRE, letter)


def layer_icon(theme: Theme, letter: str, number: int) -> QIcon:
    """Returns the mark of a layer for a menu or a heading."""
    size = theme.px(24)
    picture = QPixmap(size, size)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_layer_mark(painter, theme, QPointF(size / 2, size / 2), letter, number, False)
    painter.end()
    return QIcon(picture)


def draw_wire(painter: QPainter, theme: Theme, start: QPointF, end: QPointF, lit: bool, dashed: bool = False) -> None:
    """Draws the wire from a control to its key, lit while active."""
    pen = QPen(theme.colour("pad" if lit else "line"), 2.2 if lit else 1.3)
    if dashed:
        pen.setStyle(Qt.PenStyle.DotLine)
    painter.setPen(pen)
    painter.drawLine(start, end)
    painter.setBrush(pen.color())
    painter.drawEllipse(end, theme.px(1.8), theme.px(1.8))


def draw_button(painter: QPainter, theme: Theme, rect: QRectF, down: bool) -> None:
    """A round button, pressed in when it is down."""
    pad = theme.colour("pad")
    painter.setPen(QPen(pad, 1.6))
    painter.setBrush(theme.colour("pad_soft"))
    painter.drawEllipse(rect)
    inner = rect.adjusted(4, 4, -4, -4) if not down else rect.adjusted(1, 1, -1, -1)
    painter.setBrush(pad if down else theme.colour("raised"))
    painter.drawEllipse(inner)


def draw_paddle(painter: QPainter, theme: Theme, rect: QRectF, down: bool) -> None:
    """Draws a shoulder button or grip as a flat bar."""
    pad = theme.colour("pad")
    bar = QRectF(rect.x(), rect.center().y() - rect.height() / 5, rect.width(), rect.height() / 2.5)
    painter.setPen(QPen(pad, 1.6))
    painter.setBrush(pad if down else theme.colour("pad_soft"))
    painter.drawRoundedRect(bar, bar.height() / 2, bar.height() / 2)


def draw_trigger(painter: QPainter, theme: Theme, rect: QRectF, value: float, threshold: float, down: bool) -> None:
    """Draws a trigger as a gauge that fills from the bottom, with its threshold."""
    pad = theme.colour("pad")
    gauge = QRectF(rect.center().x() - rect.width() / 4, rect.y(), rect.width() / 2, rect.height())
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("pad_soft"))
    painter.drawRoundedRect(gauge, 3, 3)
    filled = gauge.height() * max(0.0, min(value, 1.0))
    painter.setBrush(pad if down else theme.colour("pad", 120))
    painter.drawRoundedRect(QRectF(gauge.x(), gauge.bottom() - filled, gauge.width(), filled), 3, 3)
    painter.setPen(QPen(pad, 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(gauge, 3, 3)
    y = gauge.bottom() - gauge.height() * threshold
    painter.setPen(QPen(theme.colour("ink"), 1.4))
    painter.drawLine(QPointF(gauge.x() - 4, y), QPointF(gauge.right() + 4, y))


def draw_stick(painter: QPainter, theme: Theme, rect: QRectF, x: float, y: float, dead: float, clicked: bool) -> None:
    """Draws a stick from above: rim, dead zone and nub."""
    pad = theme.colour("pad")
    centre = rect.center()
    reach = rect.width() / 2
    painter.setPen(QPen(pad, 1.6))
    painter.setBrush(theme.colour("raised"))
    painter.drawEllipse(rect)
    painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
    painter.setBrush(theme.colour("pad_soft"))
    painter.drawEllipse(centre, reach * dead, reach * dead)
    nub = centre + QPointF(x, y) * (reach * 0.8)
    painter.setPen(QPen(pad, 2.0))
    painter.drawLine(centre, nub)
    size = reach * (0.26 if clicked else 0.2)
    painter.setBrush(pad)
    painter.drawEllipse(nub, size, size)


def draw_slider(painter: QPainter, theme: Theme, rect: QRectF, value: float) -> None:
    """Draws a slider or sensor as a gauge that fills from its middle to either side."""
    pad = theme.colour("pad")
    painter.setPen(QPen(pad, 1.6))
    painter.setBrush(theme.colour("pad_soft"))
    painter.drawRoundedRect(rect, 3, 3)
    half = rect.width() / 2 * max(-1.0, min(value, 1.0))
    painter.fillRect(QRectF(rect.center().x(), rect.y(), half, rect.height()).normalized(), pad)


def draw_cross(painter: QPainter, theme: Theme, rect: QRectF, ways: frozenset[str]) -> None:
    """Draws a D-pad with the pressed arms filled."""
    pad = theme.colour("pad")
    third = rect.width() / 3
    centre = rect.center()
    painter.setPen(QPen(pad, 1.6))
    for way, (dx, dy) in {"up": (0, -1), "down": (0, 1), "left": (-1, 0), "right": (1, 0)}.items():
        arm = QRectF(0, 0, third, third)
        arm.moveCenter(centre + QPointF(dx, dy) * third)
        painter.setBrush(pad if way in ways else theme.colour("pad_soft"))
        painter.drawRoundedRect(arm, 3, 3)


def draw_surface(painter: QPainter, theme: Theme, rect: QRectF, x: float, y: float, touched: bool, down: bool) -> None:
    """Draws a touch surface from above, with the finger."""
    pad = theme.colour("pad")
    painter.setPen(QPen(pad, 2.4 if down else 1.6))
    painter.setBrush(theme.colour("pad_soft" if touched else "raised"))
    painter.drawRoundedRect(rect, rect.height() / 5, rect.height() / 5)
    if touched:
        spot = rect.center() + QPointF(x * rect.width() / 2, y * rect.height() / 2) * 0.86
        painter.setBrush(pad)
        painter.drawEllipse(spot, theme.px(4), theme.px(4))


def draw_motion(painter: QPainter, theme: Theme, rect: QRectF, yaw: float, pitch: float) -> None:
    """Draws motion as a horizon tilted by the rates of turning, in degrees a second."""
    pad = theme.colour("pad")
    centre = rect.center()
    reach = rect.width() / 2
    painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(rect)
    angle = radians(max(-60.0, min(yaw / 2, 60.0)))
    offset = QPointF(0, -max(-1.0, min(pitch / 90, 1.0)) * reach * 0.6)
    arm = QPointF(cos(angle), sin(angle)) * reach * 0.85
    painter.setPen(QPen(pad, 3.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    painter.drawLine(centre + offset - arm, centre + offset + arm)
    painter.setPen(QPen(pad, 1.6))
    painter.drawLine(centre + offset, centre + offset + QPointF(arm.y(), -arm.x()) * 0.35)


def draw_row_ground(painter: QPainter, theme: Theme, rect: QRectF, state: QStyle.StateFlag) -> None:
    """Draws the background of a list row: faint under the pointer, raised with a bar if selected, framed with the
    focus.
    """
    chosen = bool(state & QStyle.StateFlag.State_Selected)
    focused = bool(state & QStyle.StateFlag.State_HasFocus)
    if not (chosen or focused or state & QStyle.StateFlag.State_MouseOver):
        return
    painter.setPen(QPen(theme.colour("ink"), 1.2, Qt.PenStyle.DashLine) if focused else Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("raised", 255 if chosen else 110))
    ground = rect.adjusted(1, 1, -1, -1)
    painter.drawRoundedRect(ground, theme.px(4), theme.px(4))
    if chosen:
        bar = ground.adjusted(0, theme.px(5), 0, -theme.px(5))
        bar.setWidth(theme.px(3))
        painter.fillRect(bar, theme.colour("game"))


def draw_swatch(painter: QPainter, theme: Theme, centre: QPointF, colour: str, reach: float = 7) -> None:
    """Draws the colour that marks a pad; a ring if it has none."""
    painter.setPen(QPen(theme.colour("muted"), 1.4))
    painter.setBrush(QColor(SWATCHES[colour]) if colour else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, theme.px(reach), theme.px(reach))


def sheet_brush(theme: Theme) -> QBrush:
    """Returns the background of every station, a sheet with a fine grid of dots, as a brush."""
    step = theme.px(20)
    tile = QPixmap(step, step)
    tile.fill(theme.colour("sheet"))
    painter = QPainter(tile)
    painter.setPen(QPen(theme.colour("grid"), 1.6))
    painter.drawPoint(1, 1)
    painter.end()
    return QBrush(tile)


def soft(colour: QColor, alpha: int) -> QColor:
    """Returns a colour with lower opacity."""
    made = QColor(colour)
    made.setAlpha(alpha)
    return made
