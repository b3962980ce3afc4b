"""Table of all layers over all controls, with the assignments of each slot."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from nub_shift.editing.words.slot_views import SlotView, layer_mark, slot_view
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import CONTROLS, slot_label
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr
from nub_shift.ui.look.drawing import layer_icon
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.cell import paint_slot
from nub_shift.ui.widgets.plain import set_tooltip

_PLACE = Qt.ItemDataRole.UserRole
_VIEW = Qt.ItemDataRole.UserRole + 1


class LayerTable(QTableWidget):
    """A row for each slot assigned in some layer, a column for each layer.

    A layer's own assignments stand on its hue; inherited ones are faint.

    Signals:
        picked(str, str): layer and slot chosen by a click or Enter.
    """

    picked = pyqtSignal(str, str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.setAccessibleName(tr("Layers side by side"))
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setAlternatingRowColors(False)
        self.setItemDelegate(_SlotPainter(theme, self))
        self.itemClicked.connect(self._on_picked)

    def show_profile(self, profile: Profile, layout: Layout) -> None:
        """Follows an edit."""
        used = {slot for layer in profile.layers for slot in layer.slots}
        slots = [slot for control in CONTROLS for slot in control.slots if slot in used]
        self.setColumnCount(len(profile.layers))
        self.setRowCount(len(slots))
        for column, layer in enumerate(profile.layers):
            mark = layer_mark(profile, layer.id)
            head = QTableWidgetItem(layer_icon(self.theme, mark.letter, mark.hue), layer.label)
            self.setHorizontalHeaderItem(column, head)
        self.setVerticalHeaderLabels([slot_label(slot) for slot in slots])
        for row, slot in enumerate(slots):
            for column, layer in enumerate(profile.layers):
                self.setItem(row, column, self._item(profile, layer.id, slot, layout))
        header = self.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            header.setMinimumSectionSize(self.theme.px(130))
            header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
            header.setHighlightSections(False)
            header.setIconSize(QSize(self.theme.px(24), self.theme.px(24)))
        sides = self.verticalHeader()
        if sides is not None:
            sides.setDefaultSectionSize(self.theme.px(32))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        item = self.currentItem()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self._on_picked(item)
            return
        super().keyPressEvent(event)

    def _item(self, profile: Profile, layer_id: str, slot: str, layout: Layout) -> QTableWidgetItem:
        view = slot_view(profile, layer_id, slot, layout)
        empty = view.assignment is None
        item = QTableWidgetItem("" if empty else f"{' + '.join(view.caps)}  {view.text}".strip())
        set_tooltip(item, tr("Nothing") if empty else view.text)
        item.setData(_PLACE, (layer_id, slot))
        item.setData(_VIEW, view)
        if not view.inherited and not empty:
            mark = layer_mark(profile, layer_id)
            hue = QColor(self.theme.hue(mark.hue))
            hue.setAlpha(48 if mark.hue else 0)
            item.setBackground(hue)
        return item

    def _on_picked(self, item: QTableWidgetItem) -> None:
        layer_id, slot = item.data(_PLACE)
        self.picked.emit(layer_id, slot)


class _SlotPainter(QStyledItemDelegate):
    """Paints an assignment: keycaps, or the mark of the activated layer, and words."""

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.theme = theme

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        view = index.data(_VIEW)
        if painter is None or not isinstance(view, SlotView):
            return
        theme, rect = self.theme, QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(rect, index.data(Qt.ItemDataRole.BackgroundRole) or Qt.GlobalColor.transparent)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.setPen(QPen(theme.colour("ink"), 1.2, Qt.PenStyle.DashLine))
            painter.drawRoundedRect(rect.adjusted(2, 2, -2, -2), theme.px(4), theme.px(4))
        if view.assignment is not None:
            paint_slot(painter, theme, rect.adjusted(theme.px(8), 0, -theme.px(6), 0), view, view.text)
        painter.restore()
