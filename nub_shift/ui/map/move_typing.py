"""Processing of typed and pasted moves, and of new names of moves and groups."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import QObject, Qt, pyqtSignal

from nub_shift.editing.edits import moves as move_edits
from nub_shift.editing.edits.moves import WrittenMove
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.labels import move_count
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.profile.effects import ClickWheel, PressKeys, WheelDirection
from nub_shift.model.profile.profile import Move, Profile
from nub_shift.model.profile.schema_types import MAX_LABEL, MAX_SHORT_LABEL
from nub_shift.translation import tr
from nub_shift.ui.map.move_entry import MoveEntry


class MoveTyping(QObject):
    """Converts lines of the entry into edits of the move list.

    Signals:
        edited(str, Edit): description and edit.
        refused(str): reason for a refused line; or the next step.
    """

    edited = pyqtSignal(str, object)
    refused = pyqtSignal(str)

    def __init__(
        self,
        entry: MoveEntry,
        waiting: Waiting,
        layout: LayoutSource,
        chosen: Callable[[], Move | None],
        parent: QObject,
    ) -> None:
        """`chosen` returns the selected move of the list."""
        super().__init__(parent)
        self._entry = entry
        self._waiting = waiting
        self._layout = layout
        self._chosen = chosen
        self._profile: Profile | None = None
        self._to_mend: list[str] = []  # pasted lines that were not recognised
        self._pending = WrittenMove("", "")  # move that awaits its key
        self._to_group: tuple[str, ...] = ()  # ids of moves for a new group, while its name is awaited
        self._new_group: str | None = None  # group of the next moves, if a line has named one
        entry.named.connect(self._on_named)
        entry.pasted.connect(self.paste)
        entry.input_given.connect(self._on_input)
        entry.unkeyed.connect(self._on_unkeyed)

    def show_profile(self, profile: Profile) -> None:
        """Sets the profile after an edit."""
        self._profile = profile

    def await_key(self, move: Move) -> None:
        """Awaits another key of a move."""
        self._await_input(WrittenMove(move.group, move.label), move.id)

    def begin_text(self, move: Move) -> None:
        """Writes the line that gives a move a text, with the text selected."""
        begin = f'{move.label} = "'
        text = move.text.removesuffix("\n") or tr("text")
        enter = f" + {self._layout().label('KEY_ENTER')}" if "\n" in move.text else ""
        self._entry.setText(f'{begin}{text}"{enter}')
        self._entry.setFocus(Qt.FocusReason.OtherFocusReason)
        self._entry.setSelection(len(begin), len(text))

    def await_new_name(self, move: Move) -> None:
        """Awaits another name of a move."""
        self._await_name(Wait(Awaited.MOVE_NAME, move=move.id, label=move.label))

    def name_group(self, moves: tuple[Move, ...]) -> None:
        """Awaits the name of a new group of these moves."""
        self._to_group = tuple(move.id for move in moves)
        self._await_name(Wait(Awaited.GROUP_NAME))

    def rename_group(self, group: str) -> None:
        """Awaits another name of a group."""
        self._await_name(Wait(Awaited.GROUP_NAME, label=group))

    def _await_name(self, wait: Wait) -> None:
        self._waiting.begin(wait)
        self._entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_group_named(self, wait: Wait, text: str) -> None:
        if wait.label:
            renamed = partial(move_edits.rename_group, group=wait.label, label=text)
            self.edited.emit(tr("Group {name}: named {words}", name=wait.label, words=text), renamed)
        else:
            self.edited.emit(
                tr("Group {words}", words=text), partial(move_edits.set_group, move_ids=set(self._to_group), group=text)
            )

    def _group(self) -> str:
        """Returns the group of a new move: the last named one, that of the selected move, else the last group."""
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
            taken = self._profile is not None and any(
                move.label.casefold() == text.casefold() and move.id != wait.move for move in self._profile.moves
            )
            if taken or not text:
                said = tr("There is a move called {words} already", words=text) if taken else tr("A move needs a name")
                self.refused.emit(said)
                self._entry.setText(text)
                return
            self._waiting.handle_event(WaitEvent.GIVEN)
            rename = partial(move_edits.rename, move_id=wait.move, label=text[:MAX_LABEL])
            self.edited.emit(tr("Move {words}", words=text), rename)
            return
        if wait.awaited is Awaited.GROUP_NAME:
            if not text:
                self.refused.emit(tr("A group needs a name"))
                return
            self._waiting.handle_event(WaitEvent.GIVEN)
            self._on_group_named(wait, text.rstrip(":")[:MAX_SHORT_LABEL])
            return
        if text.endswith(":"):
            self._new_group = text[:-1].strip()
            self.refused.emit(tr("Now type the moves of {new_group}", new_group=self._new_group))
            return
        written = move_edits.parse_moves(text, self._layout(), self._group())
        if len(written) == 1 and written[0].untyped:
            self.refused.emit(tr("Your keyboard layout cannot type {untyped}", untyped=" ".join(written[0].untyped)))
            self._entry.setText(text)
        elif len(written) == 1 and not written[0].is_clear:
            if written[0].unclear:
                self.refused.emit(
                    tr("There is no key called {unclear!r}. Press the key you mean", unclear=written[0].unclear)
                )
            self._await_input(written[0])
        elif written:
            self._take(written)

    def _on_unkeyed(self, label: str) -> None:
        self.refused.emit(
            tr(
                "No key was pressed for {label}. Enter waits again, Backspace changes the name, Esc cancels",
                label=label,
            )
        )

    def _await_input(self, move: WrittenMove, move_id: str = "") -> None:
        """Listens for the key of a move, named by group and label; an existing move has an id."""
        self._pending = move
        self._waiting.begin(Wait(Awaited.MOVE_INPUT, move=move_id, label=move.label))
        self._entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def paste(self, text: str) -> None:
        """Processes several lines."""
        self._take(move_edits.parse_moves(text, self._layout(), self._group(), pasted=True))

    def _take(self, moves: list[WrittenMove]) -> None:
        """Adds the recognised moves, and reports the others."""
        clear = [move for move in moves if move.is_clear]
        if clear:
            self.edited.emit(self._added_words(clear), partial(move_edits.add, moves=clear))
        unclear = [move for move in moves if move not in clear]
        if unclear:
            words = ", ".join(f"{move.label} ({move.unclear or tr('no key')})" for move in unclear)
            self.refused.emit(tr("Not added, because the key is not understood: {unclear}", unclear=words))
            self._to_mend += [f"{move.label} = {move.unclear}" for move in unclear]
        self._offer_to_mend()

    def _added_words(self, moves: list[WrittenMove]) -> str:
        """Returns the number of new moves, and of those that had a key already."""
        there = len(move_edits.known_labels(self._profile, moves)) if self._profile is not None else 0
        new = len(moves) - there
        what = moves[0].label if len(moves) == 1 else move_count(new)
        if not there:
            return tr("Added {what}", what=what)
        if new:
            return tr("Added {what}, {there} were there", what=what, there=there)
        if there == 1:
            return tr("{what}: was there", what=moves[0].label)
        return tr("Nothing new, {there} were there", there=there)

    def _offer_to_mend(self) -> None:
        """Puts the next unrecognised line back into the field, unless something else is being written."""
        if self._to_mend and not self._entry.text():
            self._entry.setText(self._to_mend.pop(0))
            self._entry.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_input(self, keys: tuple[str, ...], wheel: WheelDirection | None) -> None:
        self._waiting.handle_event(WaitEvent.GIVEN)
        self._new_group = self._pending.group  # the next move joins the same group
        made = replace(self._pending, sent=ClickWheel(wheel) if wheel is not None else PressKeys(keys), unclear="")
        self.edited.emit(tr("Move {move}", move=made.label), partial(move_edits.add, moves=[made]))
