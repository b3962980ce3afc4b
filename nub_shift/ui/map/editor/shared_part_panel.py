"""Editor of the entries of a carousel or ring: a list with order and actions."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDropEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.slots import Making
from nub_shift.editing.words.labels import action_label
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.listed import MIN_RING_ENTRIES, Carousel, Ring, RingEntry
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.schema_types import MAX_SHORT_LABEL
from nub_shift.model.references.named import Kind, Reference, find
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.entry_rows import EntryPainter
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import make_spin, show_number

_ROWS = 6
_ENTRY = Qt.ItemDataRole.UserRole


class PartPanel(QWidget):
    """Entries of one carousel or ring.

    Attributes:
        reference: edited carousel or ring.
        name, rows, radius: its name, its entries, and the least radius of a ring's choice.

    Signals:
        chosen(): another entry is selected.
        edited(str, Edit): description and edit.
        closed(): the person has closed the editor.
    """

    chosen = pyqtSignal()
    edited = pyqtSignal(str, object)
    closed = pyqtSignal()

    def __init__(
        self, theme: Theme, profile: Profile, layout: Layout, reference: Reference, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.reference = reference
        is_ring = reference.kind is Kind.RING
        self._profile = profile
        self._layout = layout
        self.name = QLineEdit()
        self.name.setMaxLength(60)
        self.name.setAccessibleName(tr("Name of the ring") if is_ring else tr("Name of the carousel"))
        self.name.editingFinished.connect(self._on_named)
        self.radius = make_spin(tr("percent of the way to the rim"), 10, 95, " %")
        help_text = tr("How far you push the stick, of the way to its edge, to choose an entry.")
        self._reach_help = HelpMark(theme, tr("range"), help_text, self.radius)
        self.radius.setVisible(is_ring)
        self._reach_help.setVisible(is_ring)
        self.radius.valueChanged.connect(lambda value: self._change(tr("range"), radius=value / 100))
        done = TextButton(theme, tr("Done"), tr("Keys and moves then go to the control again"))
        done.clicked.connect(self.closed)
        self.rows = _Rows()
        self.rows.setItemDelegate(EntryPainter(theme, self.rows))
        self.rows.setFixedHeight(theme.px(25 * _ROWS + 4))
        self.rows.currentRowChanged.connect(lambda _row: self.chosen.emit())
        self.rows.itemChanged.connect(self._on_renamed)
        self.rows.dropped.connect(self._on_dropped)
        self.rows.moved.connect(self._on_moved)
        self.rows.removed.connect(self.remove_entry)
        names = tr(", F2 renames it") if is_ring else ""
        self._hint = PlainLabel(
            tr(
                "Click a move, or press a key on the slot, to add an entry. Alt and an arrow key move the chosen "
                "entry, Delete removes it{names}.",
                names=names,
            )
        )
        self._hint.setFont(theme.font(0.85))
        self._hint.setWordWrap(True)
        head = QHBoxLayout()
        head.setSpacing(theme.px(4))
        for widget in (self.name, self.radius, self._reach_help, done):
            head.addWidget(widget, 1 if widget is self.name else 0)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(3))
        column.addLayout(head)
        column.addWidget(self.rows)
        column.addWidget(self._hint)
        self.show_profile(profile, layout)

    @property
    def part(self) -> Carousel | Ring | None:
        """The edited part; None once removed."""
        found = find(self._profile, self.reference)
        return found if isinstance(found, Carousel | Ring) else None

    def show_profile(self, profile: Profile, layout: Layout) -> None:
        """Follows an edit."""
        self._profile = profile
        self._layout = layout
        part = self.part
        if part is None:
            self.closed.emit()
            return
        if not self.name.hasFocus():
            self.name.setText(part.label)
        if isinstance(part, Ring):
            show_number(self.radius, round(part.radius * 100))
        row = self.rows.currentRow()
        self.rows.blockSignals(True)
        self.rows.clear()
        for entry in part.entries:
            named = entry.label if isinstance(entry, RingEntry) else ""
            item = QListWidgetItem(named or action_label(profile, entry, layout))
            item.setData(_ENTRY, entry)
            if isinstance(entry, RingEntry):
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsEditable)
            self.rows.addItem(item)
        self.rows.setAccessibleName(tr("Entries of {part}", part=part.label))
        self.rows.setCurrentRow(min(row, self.rows.count() - 1))
        self.rows.blockSignals(False)

    @property
    def entry(self) -> Action | None:
        """The selected entry."""
        item = self.rows.currentItem()
        found = item.data(_ENTRY) if item is not None else None
        return found if isinstance(found, Action) else None

    def change_entry(self, what: str, **values: object) -> None:
        """Changes settings of the selected entry."""
        entries, row = self._entries(), self.rows.currentRow()
        if row >= 0:
            entries[row] = replace(entries[row], **values)
            self._change(what, entries=tuple(entries))

    def put_entry(self, what: str, action: Action) -> None:
        """Replaces effect or manner of the selected entry; its name stays."""
        self.change_entry(what, **action.own_fields)

    def give(self, making: Making) -> None:
        """Adds the result of `making` below the selected entry."""
        part = self.part
        if part is None:
            return
        row = self.rows.currentRow()
        at = row + 1 if row >= 0 else len(part.entries)
        made_of, action = making(self._profile)
        label = action_label(made_of, action, self._layout)
        made = RingEntry(**action.own_fields, label=label[:MAX_SHORT_LABEL]) if isinstance(part, Ring) else action.bare
        entries = (*part.entries[:at], made, *part.entries[at:])
        self.rows.setCurrentRow(-1)  # the list is rebuilt, and selects the new entry
        self.edited.emit(
            f"{part.label}: {label}",
            lambda profile: part_edits.change(making(profile)[0], self.reference, entries=entries),
        )
        self.rows.setCurrentRow(at)

    def _entries(self) -> list[Action]:
        items = (self.rows.item(row) for row in range(self.rows.count()))
        return [item.data(_ENTRY) for item in items if item is not None]

    def _on_renamed(self, item: QListWidgetItem) -> None:
        self.rows.setCurrentItem(item)
        if isinstance(self.entry, RingEntry):
            self.change_entry(tr("named {item}", item=item.text()), label=item.text().strip()[:MAX_SHORT_LABEL])

    def _on_dropped(self) -> None:
        self._change(tr("entries moved"), entries=tuple(self._entries()))

    def _on_moved(self, by: int) -> None:
        entries, row = self._entries(), self.rows.currentRow()
        target = row + by
        if row >= 0 and 0 <= target < len(entries):
            entries.insert(target, entries.pop(row))
            self.rows.setCurrentRow(target)
            self._change(tr("entries moved"), entries=tuple(entries))

    def remove_entry(self) -> None:
        """Removes the selected entry, unless too few would be left."""
        entries, row = self._entries(), self.rows.currentRow()
        least = MIN_RING_ENTRIES if self.reference.kind is Kind.RING else 1
        if row >= 0 and len(entries) > least:
            del entries[row]
            self._change(tr("entry removed"), entries=tuple(entries))

    def _on_named(self) -> None:
        text = self.name.text().strip()
        if text:
            self._change(tr("named {words}", words=text), label=text)

    def _change(self, what: str, **values: object) -> None:
        part = self.part
        if part is not None:
            reference = self.reference
            self.edited.emit(f"{part.label}: {what}", lambda profile: part_edits.change(profile, reference, **values))


class _Rows(QListWidget):
    """Entries that can be dragged, or moved with Alt and the arrow keys."""

    dropped = pyqtSignal()
    moved = pyqtSignal(int)
    removed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setObjectName("plain")
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        ways = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and event.key() in ways:
            self.moved.emit(ways[Qt.Key(event.key())])
        elif event.key() == Qt.Key.Key_Delete:
            self.removed.emit()
        else:
            super().keyPressEvent(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        super().dropEvent(event)
        QTimer.singleShot(0, self.dropped.emit)  # the list has its new order after the event
