"""The game's moves: what each expects, and whether the pad reaches it yet."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nub_shift.advice.move_coverage import move_coverage
from nub_shift.editing.edits import moves as move_edits
from nub_shift.editing.edits.moves import Written
from nub_shift.editing.edits.removal import removed
from nub_shift.editing.waiting import Awaited, Heard, Wait, Waiting
from nub_shift.editing.words.labels import count_words
from nub_shift.editing.words.slot_views import layer_mark
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.controls import slot_label
from nub_shift.model.effects import WheelDirection
from nub_shift.model.named import Kind, Reference
from nub_shift.model.profile import Move, Profile
from nub_shift.model.schema_types import MAX_LABEL
from nub_shift.model.walk import LayerWalk
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.move_entry import MoveEntry
from nub_shift.ui.map.move_rows import COVERED, LINKED, MOVE, MoveRows
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel, set_tip


class MoveList(QWidget):
    """The list with its count, and a line to type more moves in.

    F2 renames the chosen move, Delete takes it away, and what is dragged stays where it is dropped.

    Attributes:
        head: the row with the count, which has room for more.
        entry: where moves are typed.
        key, rename, remove: buttons for the chosen move.
        link: while it is on, the moves that are clicked are those that must be possible at the same time as the chosen.

    Signals:
        picked(str): a move was clicked, or Enter pressed on it; its id.
        group_picked(str): the same for a group's heading.
        edited(str, Edit): the list is to be changed: what is done, and the edit.
        refused(str): what was typed cannot be taken, and why; or what to do next.
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
        self.heading = PlainLabel()
        self.heading.setFont(theme.font(0.92))
        self.list = MoveRows(theme, layout)
        self.list.itemClicked.connect(self._on_picked)
        self.list.entered_on.connect(self._on_picked)
        self.list.deleted.connect(self._on_remove)
        self.list.renaming.connect(self._on_rename)
        self.list.dropped.connect(self._on_dropped)
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_buttons())
        self.entry = MoveEntry(waiting)
        self.entry.named.connect(self._on_named)
        self.entry.pasted.connect(self._on_pasted)
        self.entry.input_given.connect(self._on_input)
        self.entry.unkeyed.connect(self._on_unkeyed)
        self.key = TextButton(theme, "Key", "The game has another key for this move")
        self.key.clicked.connect(self._on_key)
        self.rename = TextButton(theme, "Rename", "F2")
        self.rename.clicked.connect(self._on_rename)
        self.remove = TextButton(theme, "Remove", "Delete")
        self.remove.clicked.connect(self._on_remove)
        self.link = TextButton(theme, "With", "Then click the moves that must be possible at the same time as this one")
        self.link.setCheckable(True)
        self.link.clicked.connect(self._on_link)
        row = QHBoxLayout()
        row.setSpacing(theme.px(3))
        for button in (self.key, self.rename, self.remove, self.link):
            row.addWidget(button)
        row.addStretch(1)
        self.head = QHBoxLayout()
        self.head.addWidget(self.heading, 1)
        column.addLayout(self.head)
        column.addWidget(self.list, 1)
        column.addLayout(row)
        column.addWidget(self.entry)
        self._profile: Profile | None = None
        self._shown: tuple[object, ...] = ()
        self._walk = LayerWalk()
        self._pending = Written("", "")  # the move that a key is waited for
        self._new_group: str | None = None  # where the next moves go, where that was said
        self._show_buttons()

    def show_profile(self, profile: Profile) -> None:
        """Follows an edit."""
        self._profile = profile
        wait = self._waiting.wait
        if wait.move and profile.move(wait.move) is None:
            self._waiting.heard(Heard.CANCELLED)
        reached = move_coverage(profile, self._walk)
        missing = sum(move.id not in reached for move in profile.moves)
        tail = f"{missing} unassigned" if missing else "all assigned"
        count = count_words(len(profile.moves), "move", "moves")
        self.heading.setText(f"{count}, {tail}" if profile.moves else "No moves yet")
        shown = (self._layout(), profile.moves, reached, [(layer.id, layer.hue) for layer in profile.layers])
        if shown == self._shown:
            return
        same, self._shown = shown[:2] == self._shown[:2], shown
        if same:
            for row in range(self.list.count()):
                found = self.list.item(row)
                known = found.data(MOVE) if found is not None else None
                if found is not None and isinstance(known, Move):
                    self._tell_covered(found, profile, known, reached.get(known.id, []))
            return
        row = self.list.currentRow()
        self.list.clear()
        group = ""
        for move in profile.moves:
            if move.group != group:
                group = move.group
                self._add_group(group)
            self._add_move(profile, move, reached.get(move.id, []))
        self.list.setCurrentRow(row)
        self._show_buttons()

    def choose(self, move_id: str) -> None:
        """Goes to a move."""
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if isinstance(move, Move) and move.id == move_id:
                self.list.setCurrentItem(item)
                self.list.scrollToItem(item)
                self.list.setFocus(Qt.FocusReason.OtherFocusReason)

    def _add_group(self, label: str) -> None:
        item = QListWidgetItem(label)
        item.setFlags(Qt.ItemFlag.ItemIsEnabled)
        set_tip(item, "All of them on the chosen control: a carousel on a button, a ring on a whole stick")
        self.list.addItem(item)

    def _add_move(self, profile: Profile, move: Move, slots: list[tuple[str, str]]) -> None:
        item = QListWidgetItem(move.label)
        item.setData(MOVE, move)
        self._tell_covered(item, profile, move, slots)
        self.list.addItem(item)

    def _tell_covered(self, item: QListWidgetItem, profile: Profile, move: Move, slots: list[tuple[str, str]]) -> None:
        """Says from where a move is reached."""
        hues = sorted({layer_mark(profile, layer).hue for layer, _ in slots})
        if item.data(COVERED) != hues:
            item.setData(COVERED, hues)
        where = ", ".join(slot_label(slot) for _, slot in slots)
        told = f"{move.label}, {where or 'unassigned'}"
        if item.data(Qt.ItemDataRole.AccessibleTextRole) != told:
            set_tip(item, where or "Unassigned: press a control on the pad, then click this move")
            item.setData(Qt.ItemDataRole.AccessibleTextRole, told)

    @property
    def _linked(self) -> str:
        """Id of the move whose companions are clicked now, or empty."""
        return self._waiting.wait.move if self._waiting.wait.awaited is Awaited.LINKED_MOVES else ""

    def _follow_waiting(self) -> None:
        self.entry.follow_waiting()
        if self.link.isChecked() is not bool(self._linked):
            self.link.setChecked(bool(self._linked))
            self._show_buttons()

    def _on_picked(self, item: QListWidgetItem) -> None:
        move, linked = item.data(MOVE), self._linked
        if linked:
            if isinstance(move, Move) and move.id != linked:
                link = partial(move_edits.linked, move_id=linked, other_id=move.id)
                self.edited.emit(f"Together with {move.label}", link)
        elif isinstance(move, Move):
            self.picked.emit(move.id)
        else:
            self.group_picked.emit(item.text())

    def _chosen(self) -> Move | None:
        item = self.list.currentItem()
        move = item.data(MOVE) if item is not None else None
        return move if isinstance(move, Move) else None

    def _show_buttons(self) -> None:
        for button in (self.key, self.rename, self.remove):
            button.setEnabled(self._chosen() is not None)
        self.link.setEnabled(bool(self._linked) or self._chosen() is not None)
        self._show_links()

    def _show_links(self) -> None:
        """Marks the moves that go together with the chosen one."""
        chosen = self._linked or getattr(self._chosen(), "id", "")
        found = move_edits.links(self._profile, chosen) if self._profile is not None and chosen else set()
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if item is not None and isinstance(move, Move):
                item.setData(LINKED, move.id in found)

    def _on_link(self, on: bool) -> None:
        move = self._chosen()
        if on and move is not None:
            self._waiting.begin(Wait(Awaited.LINKED_MOVES, move=move.id, label=move.label))
        else:
            self._waiting.heard(Heard.CANCELLED)
        self._show_buttons()

    def _group(self) -> str:
        """Where a new move goes: where the person said, to the group of the chosen one, else to the last."""
        if self._new_group is not None:
            return self._new_group
        chosen = self._chosen()
        if chosen is not None:
            return chosen.group
        moves = self._profile.moves if self._profile is not None else ()
        return moves[-1].group if moves else ""

    def _on_named(self, text: str) -> None:
        wait = self._waiting.wait
        if wait.awaited is Awaited.MOVE_NAME:
            self._waiting.heard(Heard.GIVEN)
            rename = partial(move_edits.renamed, move_id=wait.move, label=text[:MAX_LABEL])
            self.edited.emit(f"Move {text}", rename)
            return
        if text.endswith(":"):
            self._new_group = text[:-1].strip()
            self.refused.emit(f"Now type the moves of {self._new_group}")
            return
        written = move_edits.written_moves(text, self._layout(), self._group())
        if len(written) == 1 and not (written[0].keys or written[0].wheel or written[0].look):
            if written[0].unclear:
                self.refused.emit(f"There is no key {written[0].unclear!r}: press it")
            self._await_input(written[0])
        elif written:
            self._take(written)

    def _on_unkeyed(self, label: str) -> None:
        self.refused.emit(f"No key came for {label}. Enter waits again; Backspace changes the name; Esc gives it up")

    def _await_input(self, move: Written, move_id: str = "") -> None:
        """Listens for the key of a move, which its group and label name; one that is there already has an id."""
        self._pending = move
        self._waiting.begin(Wait(Awaited.MOVE_INPUT, move=move_id, label=move.label))
        self.entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_pasted(self, text: str) -> None:
        self._take(move_edits.written_moves(text, self._layout(), self._group()))

    def _take(self, moves: list[Written]) -> None:
        """Adds what is understood, and says what is not."""
        clear = [move for move in moves if move.keys or move.wheel is not None or move.look]
        if clear:
            what = clear[0].label if len(clear) == 1 else count_words(len(clear), "move", "moves")
            self.edited.emit(f"Added {what}", partial(move_edits.added, moves=clear))
        unclear = [f"{move.label} ({move.unclear or 'no key'})" for move in moves if move not in clear]
        if unclear:
            self.refused.emit(f"Not added, because the key is not understood: {', '.join(unclear)}")

    def _on_input(self, keys: tuple[str, ...], wheel: WheelDirection | None) -> None:
        self._waiting.heard(Heard.GIVEN)
        self._new_group = self._pending.group  # the next one joins the same group
        made = replace(self._pending, keys=keys, wheel=wheel, unclear="")
        self.edited.emit(f"Move {made.label}", partial(move_edits.added, moves=[made]))

    def _on_key(self) -> None:
        move = self._chosen()
        if move is not None:
            self._await_input(Written(move.group, move.label), move.id)

    def _on_rename(self) -> None:
        move = self._chosen()
        if move is not None:
            self._waiting.begin(Wait(Awaited.MOVE_NAME, move=move.id, label=move.label))
            self.entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_remove(self) -> None:
        move = self._chosen()
        if move is not None:
            self.edited.emit(f"Removed {move.label}", partial(removed, reference=Reference(Kind.MOVE, move.id)))

    def _on_dropped(self) -> None:
        """Moves stand in another order, and belong to the group whose heading is above them."""
        order, groups, group = [], [], ""
        for row in range(self.list.count()):
            item = self.list.item(row)
            move = item.data(MOVE) if item is not None else None
            if isinstance(move, Move):
                order.append(move.id)
                groups.append(group)
            elif item is not None:
                group = item.text()
        self.edited.emit("Moves in another order", partial(move_edits.reordered, order=order, groups=groups))
