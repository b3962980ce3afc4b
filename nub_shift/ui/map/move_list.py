"""List of the game's moves, with their inputs and coverage."""

from __future__ import annotations

from collections.abc import Collection
from functools import partial, reduce
from html import escape

from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QLineEdit,
    QListWidgetItem,
    QStackedWidget,
    QVBoxLayout,
    QWhatsThis,
    QWidget,
)

from nub_shift.advice.move_coverage import Coverage
from nub_shift.editing.edits import moves as move_edits
from nub_shift.editing.edits.removal import remove
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.labels import move_count
from nub_shift.editing.words.slot_views import LayerMark, layer_mark
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.controls import CONTROL_OF_SLOT, slot_label
from nub_shift.model.profile.profile import Move, Profile
from nub_shift.model.references.named import Kind, Reference
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.move_entry import HELP, MoveEntry
from nub_shift.ui.map.move_menu import MoveActs, fill_for_group, fill_for_moves
from nub_shift.ui.map.move_rows import COVERED, LINKED, MOVE, MoveRows, move_caps
from nub_shift.ui.map.move_typing import MoveTyping
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import passing_menu
from nub_shift.ui.widgets.plain import ElidedLabel, set_tooltip


class MoveList(QWidget):
    """The list with its count, and a line for new moves.

    F2 renames the selected move, Delete removes it, and a dragged one stays where it is dropped.

    Attributes:
        head: row with the count and room for more.
        sheets: stack of the list and of what replaces it for a while.
        entry: field for new moves.
        search: filters moves by name or key.
        tools: opens the menu of the selected moves or group.

    Signals:
        picked(str): id of a clicked move, or of one with Enter.
        group_picked(str): the same for a group's heading.
        edited(str, Edit): description and edit.
        refused(str): reason for a refused text; or the next step.
    """

    picked = pyqtSignal(str)
    group_picked = pyqtSignal(str)
    edited = pyqtSignal(str, object)
    refused = pyqtSignal(str)

    def __init__(self, theme: Theme, waiting: Waiting, layout: LayoutSource, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._waiting = waiting
        self._layout = layout
        waiting.on_change(self._follow_waiting)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(2))
        self.heading = ElidedLabel()
        self.heading.setFont(theme.font(0.92))
        self.list = MoveRows(theme, layout)
        self.list.itemClicked.connect(self._on_picked)
        self.list.entered_on.connect(self._on_picked)
        self.list.deleted.connect(self._on_remove)
        self.list.renaming.connect(self._on_rename)
        self.list.dropped.connect(self._on_dropped)
        self.list.group_dropped.connect(self._on_group_dropped)
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_buttons())
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.list.customContextMenuRequested.connect(self._on_menu_requested)
        self.entry = MoveEntry(waiting)
        self._typing = MoveTyping(self.entry, waiting, layout, self._chosen, self)
        self._typing.edited.connect(self.edited)
        self._typing.refused.connect(self.refused)
        self.list.pasted.connect(self._typing.paste)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Find a move"))
        self.search.setAccessibleName(tr("Find a move"))
        self.search.setClearButtonEnabled(True)
        for button in self.search.findChildren(QAbstractButton):
            button.setAccessibleName(tr("Clear the search"))
        self.search.textChanged.connect(self._show_found)
        self.search.returnPressed.connect(self._pick_found)
        self.tools = TextButton(
            theme, tr("Move …"), tr("What can be done with the chosen moves; a right click does the same")
        )
        self.tools.clicked.connect(lambda: self.open_menu(self.tools.mapToGlobal(self.tools.rect().bottomLeft())))
        help_button = TextButton(theme, "?", tr("How to type and paste moves"))
        help_button.clicked.connect(lambda: self._show_help(help_button))
        row = QHBoxLayout()
        row.setSpacing(theme.px(3))
        row.addWidget(self.search, 1)
        row.addWidget(self.tools)
        typed = QHBoxLayout()
        typed.setSpacing(theme.px(3))
        typed.addWidget(self.entry, 1)
        typed.addWidget(help_button)
        self.head = QHBoxLayout()
        self.head.addWidget(self.heading, 1)
        column.addLayout(self.head)
        self.sheets = QStackedWidget()
        self.sheets.addWidget(self.list)
        column.addWidget(self.sheets, 1)
        column.addLayout(row)
        column.addLayout(typed)
        self._profile: Profile | None = None
        self.unassigned: tuple[str, ...] = ()
        self._shown: tuple[object, ...] = ()
        self._coverage = Coverage()
        self._marked_for = ""  # move whose linked moves are being clicked
        self._marks: dict[str, LayerMark] = {}
        self._shown_coverage: dict[str, list[tuple[str, str]]] = {}  # shown coverage of each move
        self._show_buttons()

    def show_profile(self, profile: Profile, controls: Collection[str]) -> None:
        """Shows a profile after an edit, or another pad; moves on none of its `controls` count as unassigned."""
        self._profile = profile
        self._typing.show_profile(profile)
        wait = self._waiting.wait
        if wait.move and profile.move(wait.move) is None:
            self._waiting.handle_event(WaitEvent.CANCELLED)
        covered = self._coverage.of(profile).items()
        here = {move_id: [at for at in found if CONTROL_OF_SLOT[at[1]].name in controls] for move_id, found in covered}
        reached = {move_id: found for move_id, found in here.items() if found}
        self.unassigned = tuple(move.label for move in profile.moves if move.id not in reached)
        missing = len(self.unassigned)
        tail = tr("{missing} unassigned", missing=missing) if missing else tr("all assigned")
        count = move_count(len(profile.moves))
        self.heading.setText(f"{count}, {tail}" if profile.moves else tr("No moves yet"))
        shown = (self._layout(), profile.moves, reached, [(layer.id, layer.hue) for layer in profile.layers])
        if shown == self._shown:
            return
        marks = {layer.id: layer_mark(profile, layer.id) for layer in profile.layers}
        if marks != self._marks:
            self._marks, self._shown_coverage = marks, {}
        same, self._shown = shown[:2] == self._shown[:2], shown
        if same:
            for row in range(self.list.count()):
                found = self.list.item(row)
                known = found.data(MOVE) if found is not None else None
                if found is not None and isinstance(known, Move):
                    self._update_coverage(found, known, reached.get(known.id, []))
            return
        row, chosen = self.list.currentRow(), {move.id for move in self._several()}
        bar = self.list.verticalScrollBar()
        at = bar.value() if bar is not None else 0
        self.list.clear()
        group = ""
        for move in profile.moves:
            if move.group != group:
                group = move.group
                self._add_group(group)
            self._add_move(move, reached.get(move.id, []))
        self.list.setCurrentRow(row)
        for item in self._items():
            move = item.data(MOVE)
            item.setSelected(isinstance(move, Move) and move.id in chosen)
        if chosen and not self._several():
            self._choose_near(row)
        self._show_found()
        if bar is not None:
            bar.setValue(at)
        self._show_buttons()

    @property
    def first(self) -> QWidget:
        """The list; if it is empty, the field for new moves."""
        return self.list if self.list.count() else self.entry

    def open_menu(self, place: QPoint) -> None:
        """Opens the menu of the selected moves, or of the selected group."""
        item, moves, profile = self.list.currentItem(), self._several(), self._profile
        if item is None or profile is None:
            return
        acts = MoveActs(
            *(partial(self._pick, item), self._on_key, self._on_text),
            *(self._on_rename, self._on_remove, self._on_link),
            *(self._typing.name_group, self._typing.rename_group, self.edited.emit),
        )
        menu = passing_menu(self)
        if moves and isinstance(item.data(MOVE), Move):
            fill_for_moves(menu, self.theme, profile, moves, acts)
        else:
            fill_for_group(menu, profile, item.text(), acts)
        menu.popup(place)

    def _on_menu_requested(self, place: QPoint) -> None:
        viewport = self.list.viewport()
        if viewport is not None:
            self.open_menu(viewport.mapToGlobal(place))

    def _show_help(self, beside: QWidget) -> None:
        QWhatsThis.showText(beside.mapToGlobal(QPoint(0, 0)), f"<pre>{escape(HELP)}</pre>", beside)

    def _items(self) -> list[QListWidgetItem]:
        items = (self.list.item(row) for row in range(self.list.count()))
        return [item for item in items if item is not None]

    def _choose_near(self, row: int) -> None:
        """Selects the neighbour of a removed move."""
        moves = [at for at, item in enumerate(self._items()) if isinstance(item.data(MOVE), Move)]
        near = next((at for at in moves if at >= row), moves[-1] if moves else -1)
        if near >= 0:
            self.list.setCurrentRow(near)

    def _several(self) -> tuple[Move, ...]:
        """Returns the selected moves in order."""
        found = (item.data(MOVE) for item in self._items() if item.isSelected())
        return tuple(move for move in found if isinstance(move, Move))

    def _show_found(self) -> None:
        """Shows the moves that match the search by name, key or group, with their headings."""
        wanted, heading, shown, in_found = self.search.text().casefold().strip(), None, False, False
        for item in self._items():
            move = item.data(MOVE)
            if not isinstance(move, Move):
                if heading is not None:
                    heading.setHidden(not shown)
                in_found = item.text().casefold().startswith(wanted)
                heading, shown = item, in_found
                continue
            text = f"{move.label} {' '.join(move_caps(move, self._layout()))}".casefold()
            item.setHidden(wanted not in text and not in_found)
            shown = shown or not item.isHidden()
        if heading is not None:
            heading.setHidden(not shown)

    def _pick_found(self) -> None:
        """Handles Enter in the search like a click on the best match: names that begin with the text first."""
        wanted = self.search.text().casefold().strip()

        def rank(item: QListWidgetItem) -> int:
            begins, is_move = item.text().casefold().startswith(wanted), isinstance(item.data(MOVE), Move)
            return (0 if is_move else 1) if begins else (2 if is_move else 3)

        found = min((item for item in self._items() if not item.isHidden()), key=rank, default=None)
        if not wanted or found is None or rank(found) > 2:
            self.refused.emit(
                tr('No move is called "{search}"', search=self.search.text())
                if wanted
                else tr("Type the name of a move")
            )
            return
        self.search.clear()
        self._pick(found)

    def show_in_place(self, sheet: QWidget, on: bool) -> None:
        """Shows another widget in place of the list, or the list again."""
        if self.sheets.indexOf(sheet) < 0:
            self.sheets.addWidget(sheet)
        self.sheets.setCurrentWidget(sheet if on else self.list)

    def choose(self, move_id: str) -> None:
        """Selects a move."""
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if isinstance(move, Move) and move.id == move_id:
                self.list.setCurrentItem(item, QItemSelectionModel.SelectionFlag.ClearAndSelect)
                self.list.scrollToItem(item)
                self.list.setFocus(Qt.FocusReason.OtherFocusReason)

    def _add_group(self, label: str) -> None:
        item = QListWidgetItem(label)
        item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsDragEnabled)
        set_tooltip(item, tr("All of them on the chosen control: a carousel on a button, a ring on a whole stick"))
        self.list.addItem(item)

    def _add_move(self, move: Move, slots: list[tuple[str, str]]) -> None:
        item = QListWidgetItem(move.label)
        item.setData(MOVE, move)
        self._update_coverage(item, move, slots)
        self.list.addItem(item)

    def _update_coverage(self, item: QListWidgetItem, move: Move, slots: list[tuple[str, str]]) -> None:
        """Updates the coverage of a move, if changed."""
        if self._shown_coverage.get(move.id) == slots and item.data(COVERED) is not None:
            return
        self._shown_coverage[move.id] = slots
        marks = [self._marks[layer] for layer in dict.fromkeys(layer for layer, _ in slots)]
        if item.data(COVERED) != marks:
            item.setData(COVERED, marks)
        where = ", ".join(dict.fromkeys(slot_label(slot) for _, slot in slots))
        layers = ", ".join(tr("layer {letter}", letter=mark.letter) for mark in marks)
        spoken = f"{move.label}, {(f'{where}; {layers}' if where else tr('unassigned'))}"
        if item.data(Qt.ItemDataRole.AccessibleTextRole) != spoken:
            set_tooltip(item, where or tr("Unassigned: press a control on the pad, then click this move"))
            item.setData(Qt.ItemDataRole.AccessibleTextRole, spoken)

    @property
    def _linked(self) -> str:
        """Id of the move whose linked moves are being clicked, or empty."""
        return self._waiting.wait.move if self._waiting.wait.awaited is Awaited.LINKED_MOVES else ""

    def _follow_waiting(self) -> None:
        self.entry.update_waiting()
        if self._marked_for != self._linked:
            self._show_buttons()

    def _on_picked(self, item: QListWidgetItem) -> None:
        """Handles a click or Enter. With a modifier it selects several moves, and assigns none."""
        if QGuiApplication.keyboardModifiers() == Qt.KeyboardModifier.NoModifier:
            self._pick(item)

    def _pick(self, item: QListWidgetItem) -> None:
        move, linked = item.data(MOVE), self._linked
        if linked:
            if isinstance(move, Move) and move.id != linked:
                link = partial(move_edits.toggle_link, move_id=linked, other_id=move.id)
                self.edited.emit(tr("Together with {move}", move=move.label), link)
        elif isinstance(move, Move):
            self.picked.emit(move.id)
        else:
            self.group_picked.emit(item.text())

    def _chosen(self) -> Move | None:
        item = self.list.currentItem()
        move = item.data(MOVE) if item is not None else None
        return move if isinstance(move, Move) else None

    def _show_buttons(self) -> None:
        self.tools.setEnabled(self.list.currentItem() is not None)
        self._marked_for = self._linked
        self._show_links()

    def _show_links(self) -> None:
        """Marks the moves linked with the selected one."""
        chosen = self._linked or getattr(self._chosen(), "id", "")
        found = move_edits.links(self._profile, chosen) if self._profile is not None and chosen else set()
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if item is not None and isinstance(move, Move):
                item.setData(LINKED, move.id in found)

    def _on_link(self) -> None:
        move = self._chosen()
        if move is not None:
            self._waiting.begin(Wait(Awaited.LINKED_MOVES, move=move.id, label=move.label))

    def _on_key(self) -> None:
        if (move := self._chosen()) is not None:
            self._typing.await_key(move)

    def _on_text(self) -> None:
        if (move := self._chosen()) is not None:
            self._typing.begin_text(move)

    def _on_rename(self) -> None:
        """Renames the selected move or group."""
        move, item = self._chosen(), self.list.currentItem()
        if move is not None:
            self._typing.await_new_name(move)
        elif item is not None:
            self._typing.rename_group(item.text())

    def _on_remove(self) -> None:
        moves = self._several()
        if not moves:
            return

        def without(profile: Profile) -> Profile:
            return reduce(lambda made, move: remove(made, Reference(Kind.MOVE, move.id)), moves, profile)

        what = moves[0].label if len(moves) == 1 else move_count(len(moves))
        self.edited.emit(tr("Removed {what}", what=what), without)

    def _on_group_dropped(self, group: str, target: QListWidgetItem) -> None:
        """Moves a group to the position of another."""
        move = target.data(MOVE)
        place = move.group if isinstance(move, Move) else target.text()
        if place != group:
            self.edited.emit(
                tr("Group {group} moved", group=group), partial(move_edits.move_group, group=group, place=place)
            )

    def _on_dropped(self) -> None:
        """Applies the order after a drop; each move belongs to the group of the heading above it."""
        order, groups, group = [], [], ""
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if isinstance(move, Move):
                order.append(move.id)
                groups.append(group)
            elif item is not None:
                group = item.text()
        self.edited.emit(tr("Moves in another order"), partial(move_edits.reorder, order=order, groups=groups))
