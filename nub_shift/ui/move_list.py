"""The game's moves: what each expects, and whether the pad reaches it yet."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from nub_shift.model.controls import slot_label
from nub_shift.model.profile import Move, Profile
from nub_shift.ui import drawing, edits
from nub_shift.ui.theme import Theme
from nub_shift.ui.views import input_caps, layer_index

_MOVE = Qt.ItemDataRole.UserRole
_REACHED = Qt.ItemDataRole.UserRole + 1


class MoveList(QWidget):
    """The list with its count.

    Signals:
        picked(str): a move was clicked, or Enter pressed on it; its id.
    """

    picked = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(theme.px(2))
        self.heading = QLabel()
        self.heading.setFont(theme.font(0.92))
        self.list = _List(theme)
        self.list.itemClicked.connect(self._on_picked)
        self.list.entered_on.connect(self._on_picked)
        layout.addWidget(self.heading)
        layout.addWidget(self.list, 1)

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        reached = edits.reached_moves(profile)
        missing = sum(move.id not in reached for move in profile.moves)
        tail = f"{missing} not reached" if missing else "all reached"
        self.heading.setText(f"{len(profile.moves)} moves, {tail}" if profile.moves else "No moves yet")
        row = self.list.currentRow()
        self.list.clear()
        group = ""
        for move in profile.moves:
            if move.group != group:
                group = move.group
                self._add_group(group)
            self._add_move(profile, move, reached.get(move.id, []))
        self.list.setCurrentRow(row)

    def _add_group(self, label: str) -> None:
        item = QListWidgetItem(label)
        item.setFlags(Qt.ItemFlag.NoItemFlags)
        self.list.addItem(item)

    def _add_move(self, profile: Profile, move: Move, places: list[tuple[str, str]]) -> None:
        item = QListWidgetItem(move.label)
        item.setData(_MOVE, move)
        item.setData(_REACHED, sorted({layer_index(profile, layer) for layer, _ in places}))
        where = ", ".join(slot_label(slot) for _, slot in places)
        item.setToolTip(where or "Not reached yet: choose a control, then click this move")
        item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{move.label}, {where or 'not reached'}")
        self.list.addItem(item)

    def _on_picked(self, item: QListWidgetItem) -> None:
        move = item.data(_MOVE)
        if isinstance(move, Move):
            self.picked.emit(move.id)


class _List(QListWidget):
    entered_on = pyqtSignal(QListWidgetItem)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setAccessibleName("Moves of the game")
        self.setItemDelegate(_MovePainter(theme, self))
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setMouseTracking(True)
        viewport = self.viewport()
        if viewport is not None:
            viewport.setAutoFillBackground(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        item = self.currentItem()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self.entered_on.emit(item)
            return
        super().keyPressEvent(event)


class _MovePainter(QStyledItemDelegate):
    """Draws a row: a socket (plugged in the hues of the layers that reach it, or open), label, keycaps."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme

    def sizeHint(self, _option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(28 if index.data(_MOVE) is not None else 26))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        theme = self.theme
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(option.rect)
        move = index.data(_MOVE)
        if not isinstance(move, Move):
            painter.setFont(theme.font(0.85))
            painter.setPen(theme.colour("muted"))
            painter.drawText(rect.adjusted(0, theme.px(8), 0, 0), Qt.AlignmentFlag.AlignVCenter, index.data())
        else:
            self._paint_move(painter, option, rect, move, index.data(_REACHED))
        painter.restore()

    def _paint_move(
        self, painter: QPainter, option: QStyleOptionViewItem, rect: QRectF, move: Move, layers: list[int]
    ) -> None:
        theme = self.theme
        state = option.state
        if state & (QStyle.StateFlag.State_MouseOver | QStyle.StateFlag.State_HasFocus):
            focused = bool(state & QStyle.StateFlag.State_HasFocus)
            painter.setPen(QPen(theme.colour("ink"), 1.2, Qt.PenStyle.DashLine) if focused else Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("raised"))
            painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), theme.px(4), theme.px(4))
        x = rect.x() + theme.px(10)
        self._paint_sockets(painter, QPointF(x, rect.center().y()), layers)
        caps = move_caps(move)
        widths = [drawing.cap_width(theme, cap) for cap in caps]
        used = sum(widths) + theme.px(3) * max(0, len(widths) - 1)
        cap_x = rect.right() - used - theme.px(6)
        at = QPointF(cap_x, rect.center().y() - theme.px(12))
        drawing.draw_caps(painter, theme, at, caps, used + 2, ghost=bool(layers))
        painter.setFont(theme.font(1.0, bold=not layers))
        painter.setPen(theme.colour("muted" if layers else "ink"))
        room = QRectF(x + theme.px(12), rect.y(), cap_x - x - theme.px(16), rect.height())
        fitted = QFontMetricsF(painter.font()).elidedText(move.label, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, fitted)

    def _paint_sockets(self, painter: QPainter, centre: QPointF, layers: list[int]) -> None:
        theme = self.theme
        radius = theme.px(5)
        if not layers:
            painter.setPen(QPen(theme.colour("game"), 1.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, radius, radius)
            return
        painter.setPen(Qt.PenStyle.NoPen)
        for place, layer in enumerate(layers[:3]):
            painter.setBrush(theme.hue(layer))
            painter.drawEllipse(centre + QPointF(place * theme.px(3), 0), theme.px(4), theme.px(4))


def move_caps(move: Move) -> tuple[str, ...]:
    """The keycaps of what a move expects."""
    if move.look:
        return ("Mouse",)
    return input_caps(move.keys, move.wheel)
