"""The three practice fields: typed text, pointer trail, movement."""

from __future__ import annotations

from math import cos, pi, sin

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontDatabase, QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

from nub_shift.editing.preview.practice import PointerTrail, TypedText, Walker
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr
from nub_shift.ui.look import drawing
from nub_shift.ui.look.theme import Theme


class Field(QLabel):
    """A framed part of the practice field with a title."""

    def __init__(self, theme: Theme, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._title = title
        self.setAccessibleName(tr("Practice field: {title}", title=title))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(300), self.theme.px(200))

    def notify(self, text: str) -> None:
        """Describes the field for assistive tools."""
        help_text = tr("Practice field: {title}. {words}", title=self._title, words=text)
        if help_text != self.accessibleName():
            self.setAccessibleName(help_text)

    def begin(self, painter: QPainter) -> QRectF:
        """Paints frame and title; returns the area inside."""
        theme = self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setFont(theme.font(0.92, bold=True))
        painter.setPen(theme.colour("ink"))
        painter.drawText(rect.adjusted(theme.px(8), 0, 0, 0), Qt.AlignmentFlag.AlignTop, self._title)
        frame = rect.adjusted(0, theme.px(22), 0, 0)
        painter.setPen(QPen(theme.colour("game"), 1.2))
        painter.setBrush(theme.colour("raised"))
        painter.drawRoundedRect(frame, theme.px(5), theme.px(5))
        return frame.adjusted(theme.px(10), theme.px(10), -theme.px(10), -theme.px(10))


class TypedField(Field):
    """Shows the typed text, the keys that are down, and their moves."""

    def __init__(self, theme: Theme, typed: TypedText, profile: Profile) -> None:
        super().__init__(theme, tr("Typing"))
        self._typed = typed
        self.profile = profile

    def held_moves(self) -> list[str]:
        """Returns the labels of moves whose keys are all down."""
        down = set(self._typed.down)
        return [move.label for move in self.profile.moves if move.keys and down.issuperset(move.keys)]

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        room = self.begin(painter)
        self.notify(
            tr(
                "{typed}. Down: {labels}",
                typed=self._typed.text or tr("Nothing typed"),
                labels=", ".join(self._typed.labels) or tr("nothing"),
            )
        )
        theme = self.theme
        cap_row = QRectF(room.x(), room.bottom() - theme.px(48), room.width(), theme.px(24))
        drawing.draw_caps(painter, theme, cap_row.topLeft(), self._typed.labels, room.width(), down=True)
        painter.setFont(theme.font())
        painter.setPen(theme.colour("game"))
        words = QRectF(room.x(), cap_row.bottom() + theme.px(4), room.width(), theme.px(20))
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, ", ".join(self.held_moves()))
        font = QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont)
        font.setPointSizeF(theme.points * 1.25)
        painter.setFont(font)
        page = QRectF(room.x(), room.y(), room.width(), cap_row.y() - room.y() - theme.px(4))
        if not self._typed.text:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.font())
            painter.drawText(page, tr("What the pad types appears here."))
            return
        painter.setPen(theme.colour("ink"))
        painter.setClipRect(page)
        flags = int(Qt.TextFlag.TextWrapAnywhere | Qt.AlignmentFlag.AlignLeft)
        shown = self._typed.text + "▏"
        height = painter.boundingRect(page, flags, shown).height()
        painter.drawText(page.translated(0, min(0.0, page.height() - height)), flags, shown)


class PointerField(Field):
    """Trail of the pointer over a figure of eight to follow."""

    def __init__(self, theme: Theme, trail: PointerTrail) -> None:
        super().__init__(theme, tr("Pointer"))
        self._trail = trail

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        room = self.begin(painter)
        x, y, _ = self._trail.points[-1]
        self.notify(tr("{x} percent across, {y} down", x=round(x * 100), y=round(y * 100)))
        theme = self.theme
        centre = room.center()
        half = QPointF(room.width() / 2, room.height() / 2)
        self._paint_guide(painter, centre, min(half.x() / 2, half.y()) * 0.62)

        def spot(x: float, y: float) -> QPointF:
            return centre + QPointF(x * half.x(), y * half.y())

        for x, y, code in self._trail.clicks:
            painter.setPen(QPen(theme.colour("game"), 1.6))
            painter.setBrush(theme.colour("game_soft") if code == "BTN_LEFT" else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(spot(x, y), theme.px(9), theme.px(9))
        x, y, _ = self._trail.points[0]
        path = QPainterPath(spot(x, y))  # the oldest point begins a line even if the line's own begin was dropped
        for x, y, fresh in self._trail.points:
            (path.moveTo if fresh else path.lineTo)(spot(x, y))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("game", 170), 2))
        painter.drawPath(path)
        x, y, _ = self._trail.points[-1]
        painter.setPen(QPen(theme.colour("game"), 2))
        arm = theme.px(8)
        at = spot(x, y)
        painter.drawLine(at - QPointF(arm, 0), at + QPointF(arm, 0))
        painter.drawLine(at - QPointF(0, arm), at + QPointF(0, arm))

    def _paint_guide(self, painter: QPainter, centre: QPointF, size: float) -> None:
        painter.setPen(QPen(self.theme.colour("line"), 1.5, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        steps = 96
        angles = [2 * pi * step / steps for step in range(steps + 1)]
        loop = QPolygonF([centre + QPointF(sin(a) * size * 2, sin(2 * a) * size) for a in angles])
        painter.drawPolyline(loop)


class WalkField(Field):
    """A walker seen from above, and the eight directions, lit while held."""

    def __init__(self, theme: Theme, walker: Walker, typed: TypedText) -> None:
        super().__init__(theme, tr("Walking"))
        self._walker = walker
        self._typed = typed

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        room = self.begin(painter)
        across, down = self._walker.velocity(self._typed.down)
        ways = {"forward": down < 0, "back": down > 0, "left": across < 0, "right": across > 0}
        held = [word for word, on in ways.items() if on]
        self.notify(tr("Walking {held}", held=tr(" and ").join(held)) if held else tr("Standing"))
        theme = self.theme
        if not self._walker.can_walk:
            painter.setPen(theme.colour("muted"))
            painter.drawText(room, Qt.TextFlag.TextWordWrap, tr("No move of this profile is for walking."))
            return
        centre = room.center()
        half = QPointF(room.width() / 2, room.height() / 2)
        painter.setPen(Qt.PenStyle.NoPen)
        for age, (x, y) in enumerate(reversed(self._walker.steps)):
            painter.setBrush(theme.colour("game", max(20, 200 - age * 3)))
            painter.drawEllipse(centre + QPointF(x * half.x(), y * half.y()), theme.px(2), theme.px(2))
        at = centre + QPointF(self._walker.x * half.x(), self._walker.y * half.y())
        velocity = self._walker.velocity(self._typed.down)
        reach = theme.px(26)
        for way in range(8):
            angle = way * pi / 4
            arm = QPointF(sin(angle), -cos(angle))
            lit = arm.x() * velocity[0] + arm.y() * velocity[1] > 0.95
            painter.setPen(QPen(theme.colour("game" if lit else "line"), 4 if lit else 1.4))
            painter.drawLine(at + arm * (reach * 0.55), at + arm * reach)
        heading = QPointF(*self._walker.heading)
        side = QPointF(-heading.y(), heading.x())
        body = theme.px(10)
        painter.setPen(QPen(theme.colour("ink"), 1.4))
        painter.setBrush(theme.colour("game"))
        back = at - heading * body * 0.7
        painter.drawPolygon(QPolygonF([at + heading * body, back + side * body * 0.7, back - side * body * 0.7]))
