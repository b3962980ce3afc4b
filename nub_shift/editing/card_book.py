"""Pad cards under edit: each edit is saved at once and can be undone."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from msgspec.structs import replace

from nub_shift.editing.history import Change, History
from nub_shift.editing.profile_file import Worker
from nub_shift.model.pad.card import CARD_SCHEMA_VERSION, MAX_MEASURED, PadCard, joined_identity
from nub_shift.model.pad.measures import Measured
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.store.atomic import write_text
from nub_shift.store.card_files import card_path, card_text, format_card, parse_card
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr

# A card's file and its content; None for a missing file.
_File = tuple[Path, str | None]


class CardBook:
    """Reads and writes cards. `changed` is called after each change, with a line for the person.

    Attributes:
        history: undoable changes.
    """

    def __init__(self, changed: Callable[[str], None], worker: Worker) -> None:
        """`worker` writes the files."""
        self._changed = changed
        self._worker = worker
        self._writing: dict[Path, str | None] = {}  # content of files that are being written
        self.history: History[_File] = History()

    def card(self, identity: str, name: str) -> PadCard:
        """Returns the card of an identity; a new one if there is none, or none that can be read."""
        text = self._text(card_path(identity))
        with suppress(ProfileError):
            if text is not None:
                return parse_card(text)
        return PadCard(schema=CARD_SCHEMA_VERSION, identity=identity, name=name[:MAX_LABEL] or tr("Pad"))

    def edit(self, label: str, card: PadCard) -> None:
        """Saves a card in place of the one with its identity."""
        path = card_path(card.identity)
        before = self._text(path)
        try:
            text = card_text(parse_card(format_card(card)), before)
        except ProfileError as error:
            self._changed(tr("this cannot be done: {problems}", problems=error.problems[0]))
            return
        if text != before:
            self._put(path, text, tr("saved: {label}", label=label), self.history.note(label, (path, before)))

    def add_measured(self, identity: str, name: str, measured: Measured) -> None:
        """Saves the measurements of today, merged with earlier ones of the same day."""
        card = self.card(identity, name)
        before = card.measured
        if before and before[-1].on == measured.on:
            last = before[-1]
            measured = Measured(
                measured.on, last.rest | measured.rest, last.rim | measured.rim, measured.motion or last.motion
            )
            before = before[:-1]
        self.edit(tr("{card}: measured", card=card.name), replace(card, measured=(*before, measured)[-MAX_MEASURED:]))

    def join(self, name: str, parts: tuple[str, ...], moving: str) -> None:
        """Combines pads into one."""
        card = PadCard(
            schema=CARD_SCHEMA_VERSION,
            identity=joined_identity(parts),
            name=name[:MAX_LABEL],
            parts=parts,
            motion=moving,
        )
        self.edit(tr("{card}: combined", card=card.name), card)

    def remove(self, label: str, identity: str) -> None:
        """Removes a card; undo brings it back."""
        path = card_path(identity)
        before = self._text(path)
        if before is not None:
            self._put(path, None, label, self.history.note(label, (path, before)))

    def undo(self) -> str:
        """Undoes the last change; returns its label, empty if there is none."""
        change = self.history.undo
        return "" if change is None else self._restore(change, self.history.undone)

    def redo(self) -> str:
        """Redoes the last undone change; returns its label, empty if there is none."""
        change = self.history.redo
        return "" if change is None else self._restore(change, self.history.redone)

    def _restore(self, change: Change[_File], moved: Callable[[_File], None]) -> str:
        path, text = change.state
        moved((path, self._text(path)))
        self._put(path, text, "")
        return change.label

    def _put(self, path: Path, text: str | None, said: str, change: Change[_File] | None = None) -> None:
        """Writes or removes a card's file; then passes `said`, or the reason of a failure, to `changed`."""

        def put() -> str:
            try:
                if text is None:
                    path.unlink(missing_ok=True)
                else:
                    write_text(path, text)
            except OSError as error:
                return f"{error.filename or path}: {system_fault(error)}"
            return ""

        def on_put(fault: str) -> None:
            if self._writing.get(path) == text:
                self._writing.pop(path, None)
            if fault and change is not None:
                self.history.forget(change)
            self._changed(fault or said)

        self._writing[path] = text
        self._worker.run(put, on_put)

    def _text(self, path: Path) -> str | None:
        if path in self._writing:
            return self._writing[path]
        try:
            return read_bounded(path)
        except ProfileError:
            return None
