"""The library: all profiles, with search; what each does, in words; new ones, copies, and the bin."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from html import escape
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStackedWidget,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from nub_shift.editing.compare.differences import Difference, differences
from nub_shift.editing.document import Document
from nub_shift.editing.words.summary import summary
from nub_shift.model.colours import Colour
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile import Profile
from nub_shift.model.schema_types import MAX_LABEL
from nub_shift.store.journal import Line
from nub_shift.store.library import Entry, entries, fresh_path, from_bin, note_used, to_bin
from nub_shift.store.profile_files import parse_profile, read_profile, write_profile
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.colour_dots import ColourDots
from nub_shift.ui.widgets.difference_list import DifferenceList
from nub_shift.ui.widgets.entry_rows import COLOUR, EntryPainter
from nub_shift.ui.widgets.notes import Notes
from nub_shift.ui.widgets.wrapping_row import WrappingRow

MAX_PAST = 200
_ENTRY = Qt.ItemDataRole.UserRole


class LibraryStation(QWidget):
    """Profiles of the folder in which the open one is kept.

    Attributes:
        search, list, name, colours, path: where one is looked for, chosen, named, and taken in from a file.
        notes: what is to be remembered of the chosen one.
        found: what differs, while it is compared.
        past: earlier states of the open profile.
        compare: whether only what differs from the open profile is shown.
        buttons: by what they do.

    Signals:
        opened(): another profile is open now.
        said(str): a line for the person.
    """

    opened = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._document = document
        self._outside: Path | None = None
        self._shown: Profile | None = None
        self._open_path = document.path
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search")
        self.search.setAccessibleName("Search the library")
        self.search.textChanged.connect(self.refresh)
        self.list = _plain_list("Profiles")
        self.list.setItemDelegate(EntryPainter(theme, self.list))
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_entry())
        self.list.itemActivated.connect(lambda _item: self._on_open())
        self.name = QLineEdit()
        self.name.setMaxLength(60)
        self.name.setPlaceholderText("Title")
        self.name.setAccessibleName("Title for a new one, a copy, or the chosen one")
        self.notes = Notes()
        self.notes.setFixedHeight(theme.px(48))
        self.notes.written.connect(lambda text: self._change("Notes", notes=text))
        self.colours = ColourDots(theme)
        self.colours.picked.connect(self._on_colour)
        self.path = QLineEdit()
        self.path.setPlaceholderText("A profile file: Enter reads what it does, before it is taken in")
        self.path.setAccessibleName("A profile file from elsewhere")
        self.path.returnPressed.connect(self._on_path)
        self.buttons = self._make_buttons()
        self._words = QTextBrowser()
        self._words.setAccessibleName("What the profile does")
        self._words.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.found = DifferenceList(theme)
        self.found.taken.connect(self._on_taken)
        self._sheets = QStackedWidget()
        self._sheets.addWidget(self._words)
        self._sheets.addWidget(self.found)
        self.compare = TextButton(theme, "Compare with the open one", "Only what differs, each to be taken over")
        self.compare.setCheckable(True)
        self.compare.toggled.connect(self._show_again)
        self.past = _plain_list("Earlier states of the open profile")
        self.past.setItemDelegate(EntryPainter(theme, self.past))
        self.past.currentItemChanged.connect(lambda _now, _before: self._show_past())
        columns = QHBoxLayout(self)
        columns.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(6))
        columns.setSpacing(theme.px(18))
        columns.addLayout(self._make_left(), 2)
        columns.addLayout(self._make_right(), 5)

    def _make_buttons(self) -> dict[str, TextButton]:
        actions: dict[str, tuple[str, str, Callable[[], None]]] = {
            "open": ("Open", "Enter", self._on_open),
            "copy": ("Copy", "A copy of the chosen one", self._on_copy),
            "bin": ("To the bin", "It can be brought back", self._on_bin),
            "rename": ("Rename", "Give the chosen one that title", self._on_rename),
            "new": ("New", "An empty profile of that title", self._on_new),
            "moves": ("New with its moves", "The same game, nothing mapped yet", self._on_moves),
            "point": (
                "Name this point",
                "The open profile as it is now, to go back to; the title is its name",
                self._on_point,
            ),
            "back": (
                "Go back to it",
                "The open profile becomes what it was then; undo brings it forward",
                self._on_back,
            ),
            "export": ("Write it there", "The chosen profile, to the file that is named here", self._on_export),
            "take": ("Take it in", "Keep the profile that is shown in the library", self._on_take),
            "all": ("Take all", "The open profile becomes like this one, but for its title", self._on_take_all),
        }
        buttons = {key: TextButton(self.theme, text, tip) for key, (text, tip, _) in actions.items()}
        for key, (_, _, act) in actions.items():
            buttons[key].clicked.connect(act)
        return buttons

    def _make_left(self) -> QVBoxLayout:
        left = QVBoxLayout()
        left.setSpacing(self.theme.px(4))
        left.addWidget(self.search)
        left.addWidget(self.list, 3)
        left.addWidget(self._heading("Earlier states of the open profile"))
        left.addWidget(self.past, 2)
        left.addLayout(self._row("point", "back"))
        return left

    def _make_right(self) -> QVBoxLayout:
        right = QVBoxLayout()
        right.setSpacing(self.theme.px(7))
        known = WrappingRow(self.theme.px(4))
        known.head.addWidget(self.name, 1)
        known.head.addWidget(self.buttons["rename"])
        known.tail.addWidget(self.colours)
        right.addWidget(known)
        right.addWidget(self.notes)
        done = WrappingRow(self.theme.px(4))
        done.head.addLayout(self._row("open", "copy", "bin", "new", "moves"))
        for button in (self.compare, self.buttons["all"]):
            done.tail.addWidget(button)
        done.tail.addStretch(0)
        right.addWidget(done)
        right.addWidget(self._sheets, 1)
        right.addWidget(self._heading("A file from elsewhere, or for somebody else"))
        row = QHBoxLayout()
        row.addWidget(self.path, 1)
        for key in ("take", "export"):
            row.addWidget(self.buttons[key])
        right.addLayout(row)
        return right

    def _heading(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setFont(self.theme.font(0.92, bold=True))
        return label

    def _row(self, *keys: str) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(4))
        for key in keys:
            row.addWidget(self.buttons[key])
        row.addStretch(1)
        return row

    @property
    def folder(self) -> Path:
        """Where profiles are kept."""
        return self._document.path.parent

    def showEvent(self, event: QShowEvent | None) -> None:
        self.refresh()
        super().showEvent(event)

    def refresh(self) -> None:
        """Looks at the folder anew."""
        wanted, chosen = self.search.text().casefold(), self.chosen
        same = chosen is not None and self._open_path == self._document.path
        keep = chosen.path if chosen is not None and same else self._document.path
        self._open_path = self._document.path
        self.list.clear()
        for entry in entries(self.folder):
            if wanted not in entry.title.casefold():
                continue
            day = datetime.fromtimestamp(entry.used).astimezone()
            open_now = ", open now" if entry.path == self._document.path else ""
            where = "in the bin" if entry.binned else f"used {day:%d %B %Y, %H:%M}{open_now}"
            item = QListWidgetItem(f"{entry.title}\n{where}")
            item.setData(_ENTRY, entry)
            item.setData(COLOUR, entry.colour)
            self.list.addItem(item)
            if entry.path == keep:
                self.list.setCurrentItem(item)
        self.past.clear()
        for line in reversed(self._document.journal.lines[-MAX_PAST:]):
            moment = datetime.fromtimestamp(line.at).astimezone()
            what = f"★ {line.label}" if line.did == "point" else f"Before: {line.label}"
            item = QListWidgetItem(f"{what}\n{moment:%d %B %Y, %H:%M:%S}")
            item.setData(_ENTRY, line)
            self.past.addItem(item)
        self._show_entry()

    @property
    def chosen(self) -> Entry | None:
        """The profile that is chosen."""
        item = self.list.currentItem()
        found = item.data(_ENTRY) if item is not None else None
        return found if isinstance(found, Entry) else None

    def _show_entry(self) -> None:
        entry = self.chosen
        self._outside = None
        for key in ("take", "back"):
            self.buttons[key].setEnabled(False)
        self._show_own(entry is not None)
        if entry is not None:
            self._choose_none(self.past)
        for key in ("open", "moves", "copy", "rename", "bin"):
            self.buttons[key].setEnabled(entry is not None)
        if entry is None:
            self._words.clear()
            return
        self.name.setText(entry.title)
        self.buttons["bin"].setText("Bring it back" if entry.binned else "To the bin")
        self.buttons["bin"].updateGeometry()
        self._read(entry.path)

    def _show_own(self, own: bool) -> None:
        """Whether what is shown is a profile of the library, which can be given a colour, notes and a title."""
        for widget in (self.colours, self.notes, self.buttons["rename"]):
            widget.setEnabled(own)

    def _read(self, path: Path) -> Profile | None:
        """Shows what a file does, or what is wrong with it."""
        try:
            profile = read_profile(path, self._document.layout)
        except ProfileError as error:
            faults = "".join(f"<p>{escape(str(problem))}</p>" for problem in error.problems)
            self._words.setHtml(f"<p><b>It cannot be read</b></p>{faults}")
            self._sheets.setCurrentWidget(self._words)
            return None
        self._show_profile(profile)
        return profile

    def _show_profile(self, profile: Profile) -> None:
        """What a profile does; or, compared, what differs from the open one to it."""
        self._shown = profile
        self.colours.show_colour(profile.colour.value if profile.colour is not None else "")
        self.notes.show_text(profile.notes)
        compared = self.compare.isChecked()
        self._sheets.setCurrentWidget(self.found if compared else self._words)
        self.buttons["all"].setVisible(compared)
        if compared:
            self.found.show_differences(differences(self._document.profile, profile, self._document.layout()))
            return
        parts = summary(profile, self._document.layout())
        self._words.setHtml(
            "".join(
                f"<p><b>{escape(head)}</b><br>{'<br>'.join(escape(line) for line in lines)}</p>"
                for head, lines in parts
            )
        )

    def _choose_none(self, rows: QListWidget) -> None:
        """What is shown is of the other list."""
        rows.blockSignals(True)
        rows.setCurrentItem(None)
        rows.clearSelection()
        rows.blockSignals(False)

    def _on_taken(self, found: Difference) -> None:
        """One difference is taken over into the open profile."""
        self._document.edit(f"Taken: {found.text}"[:80], found.copy_over)
        self._show_again()

    def _on_take_all(self) -> None:
        if self._shown is not None:
            shown = self._shown
            self._document.edit(f"Made like {shown.title}", lambda mine: replace(shown, title=mine.title))
            self._show_again()

    def _on_colour(self, colour: str) -> None:
        self._change("Colour", colour=Colour(colour) if colour else None)

    def _show_again(self) -> None:
        if self._shown is not None:
            self._show_profile(self._shown)

    def _past_profile(self) -> Profile | None:
        """The open profile as it was at the chosen earlier state."""
        item = self.past.currentItem()
        line = item.data(_ENTRY) if item is not None else None
        if not isinstance(line, Line):
            return None
        try:
            return parse_profile(line.text, layout=self._document.layout)
        except ProfileError:
            return None

    def _show_past(self) -> None:
        profile = self._past_profile()
        if profile is not None:
            self._choose_none(self.list)
            self._show_own(False)
        self.buttons["back"].setEnabled(profile is not None)
        if profile is not None:
            self._show_profile(profile)

    def _on_point(self) -> None:
        name = self._title("A point")
        self._document.name_point(name)
        self.said.emit(f"Named: {name}")
        self.refresh()

    def _on_back(self) -> None:
        profile = self._past_profile()
        if profile is not None:
            self._document.edit("Back to an earlier state", lambda _: profile)
            self.refresh()

    def _chosen_profile(self) -> Profile | None:
        entry = self.chosen
        return self._read(entry.path) if entry is not None else None

    def _title(self, otherwise: str) -> str:
        return self.name.text().strip()[:MAX_LABEL] or otherwise

    def _on_open(self) -> None:
        entry, profile = self.chosen, self._chosen_profile()
        if entry is None or profile is None:
            return
        path = entry.path
        if entry.binned:
            moved = self._try(lambda: from_bin(path))
            if moved is None:
                return
            path = moved
        self._open(path, profile)

    def _open(self, path: Path, profile: Profile) -> None:
        self._document.open(path, profile)
        note_used(path)
        self.opened.emit()

    def _make(self, profile: Profile) -> None:
        """Keeps a profile as a new file, and opens it."""
        path = fresh_path(self.folder, profile.title)
        if self._try(lambda: _written(path, profile)) is not None:
            self._open(path, profile)

    def _on_moves(self) -> None:
        profile = self._chosen_profile()
        if profile is not None:
            self._make(Profile(schema=2, title=self._fresh_title(profile), moves=profile.moves, game=profile.game))

    def _on_copy(self) -> None:
        profile = self._chosen_profile()
        if profile is not None:
            self._make(replace(profile, title=self._fresh_title(profile)))

    def _fresh_title(self, profile: Profile) -> str:
        """The title that was typed, or one that tells the copy from the other."""
        typed = self._title(profile.title)
        return typed if typed != profile.title else f"{profile.title[:55]} copy"

    def _on_rename(self) -> None:
        title = self._title("")
        if title:
            self._change(f"Title {title}", title=title)

    def _change(self, what: str, **values: object) -> None:
        """Changes what the chosen profile is known by; the open one can be undone."""
        entry, profile = self.chosen, self._chosen_profile()
        if entry is None or profile is None:
            return
        if entry.path == self._document.path:
            self._document.edit(what, lambda profile: replace(profile, **values))
        else:
            made = replace(profile, **values)
            self._try(lambda: _written(entry.path, made))
        self.refresh()

    def _on_new(self) -> None:
        self._make(Profile(schema=2, title=self._title("New profile")))

    def _on_bin(self) -> None:
        entry = self.chosen
        if entry is None:
            return
        if entry.path == self._document.path:
            self.said.emit("The open profile stays: open another one first")
            return
        self._try(lambda: from_bin(entry.path) if entry.binned else to_bin(entry.path))
        self.refresh()

    def _on_path(self) -> None:
        """Shows what a file from elsewhere would do, before it is taken in."""
        path = Path(self.path.text().strip()).expanduser()
        profile = self._read(path)
        self._outside = path if profile is not None else None
        self._show_own(False)
        self.buttons["take"].setEnabled(profile is not None)
        if profile is not None:
            self.name.setText(profile.title)

    def _on_export(self) -> None:
        profile, typed = self._chosen_profile(), self.path.text().strip()
        if profile is None or not typed:
            self.said.emit("Choose a profile, and name the file to write below")
            return
        path = Path(typed).expanduser()
        if path.exists():
            self.said.emit(f"{path} is there already; name another file")
        elif self._try(lambda: _written(path, profile)) is not None:
            self.said.emit(f"Written: {path}")

    def _on_take(self) -> None:
        if self._outside is None:
            return
        profile = self._read(self._outside)
        if profile is not None:
            self._make(replace(profile, title=self._title(profile.title)))

    def _try(self, act: Callable[[], Path]) -> Path | None:
        """Does something with a file; what the system has against it is said."""
        try:
            return act()
        except OSError as error:
            self.said.emit(f"{error.filename or self.folder}: {(error.strerror or str(error)).lower()}")
            return None


def _written(path: Path, profile: Profile) -> Path:
    write_profile(path, profile)
    return path


def _plain_list(name: str) -> QListWidget:
    rows = QListWidget()
    rows.setAccessibleName(name)
    rows.setObjectName("plain")
    rows.setFrameShape(QListWidget.Shape.NoFrame)
    return rows
