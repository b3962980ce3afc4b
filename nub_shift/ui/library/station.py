"""Station Library: all profiles, with search; what each does, in words; new ones, copies, and the bin."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nub_shift.editing.catalogue import Catalogue, copy_title
from nub_shift.editing.document import Document
from nub_shift.model.colours import Colour
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile import SCHEMA_VERSION, Profile
from nub_shift.model.schema_types import MAX_LABEL
from nub_shift.store.profile_files import write_profile
from nub_shift.ui.library.profile_view import ProfileView
from nub_shift.ui.library.rows import EarlierRows, ProfileRows
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.colour_dots import ColourDots
from nub_shift.ui.widgets.notes import Notes
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.wrapping_row import WrappingRow


class LibraryStation(QWidget):
    """Profiles of the folder in which the open one is kept.

    Attributes:
        search, list, name, colours, path: where one is looked for, chosen, named, and taken in from a file.
        notes: what is to be remembered of the chosen one.
        view: what the chosen one does, or what differs.
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
        self._catalogue = Catalogue(document)
        self._outside: tuple[str, Profile] | None = None  # a profile from elsewhere, as its file was and as it is shown
        self._open_path = document.path
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search")
        self.search.setAccessibleName("Search the library")
        self.search.textChanged.connect(self.refresh)
        self.list = ProfileRows(theme)
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_entry())
        self.list.itemActivated.connect(lambda _item: self._on_open())
        self.name = QLineEdit()
        self.name.setMaxLength(MAX_LABEL)
        self.name.setPlaceholderText("Title")
        self.name.setAccessibleName("Title for a new one, a copy, or the chosen one")
        self.notes = Notes()
        self.notes.setFixedHeight(theme.px(48))
        self.notes.written.connect(lambda text: self._change("Notes", notes=text))
        self.colours = ColourDots(theme)
        self.colours.picked.connect(lambda colour: self._change("Colour", colour=Colour(colour) if colour else None))
        self.path = QLineEdit()
        self.path.setPlaceholderText("A profile file: Enter shows what it does before you add it")
        self.path.setAccessibleName("A profile file from elsewhere")
        self.path.returnPressed.connect(self._on_path)
        self.view = ProfileView(theme, document)
        self.buttons = self._make_buttons()
        self.buttons["all"].hide()
        self.compare = TextButton(theme, "Compare with the open one", "Only what differs, each to be taken over")
        self.compare.setCheckable(True)
        self.compare.toggled.connect(self._on_compare)
        self.past = EarlierRows(theme)
        self.past.currentItemChanged.connect(lambda _now, _before: self._show_past())
        columns = QHBoxLayout(self)
        columns.setContentsMargins(theme.px(14), theme.px(8), theme.px(14), theme.px(6))
        columns.setSpacing(theme.px(18))
        columns.addLayout(self._make_left(), 2)
        columns.addLayout(self._make_right(), 5)

    def _make_buttons(self) -> dict[str, TextButton]:
        actions: dict[str, tuple[str, str, Callable[[], None]]] = {
            "open": ("Open", "Enter", self._on_open),
            "copy": ("Copy", "Make a copy of the chosen profile", self._on_copy),
            "bin": ("Move to bin", "It can be restored", self._on_bin),
            "rename": ("Rename", "Give the chosen profile the title above", self._on_rename),
            "new": ("New", "Make an empty profile with the title above", self._on_new),
            "moves": (
                "New with its moves",
                "Make a profile for the same game with nothing assigned yet",
                self._on_moves,
            ),
            "point": (
                "Save a restore point",
                "Keeps the open profile as it is now, under the name in the title field",
                self._on_point,
            ),
            "back": (
                "Restore this state",
                "The open profile becomes what it was then. Undo takes that back",
                self._on_back,
            ),
            "export": ("Export", "Write the chosen profile to the file named here", self._on_export),
            "take": ("Add to library", "Keep the profile that is shown", self._on_take),
            "all": ("Copy all over", "Make the open profile like this one, except its title", self.view.take_all),
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
        left.addWidget(self._heading("History of the open profile"))
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
        right.addWidget(self.view, 1)
        right.addWidget(self._heading("A file from elsewhere, or for somebody else"))
        row = QHBoxLayout()
        row.addWidget(self.path, 1)
        for key in ("take", "export"):
            row.addWidget(self.buttons[key])
        right.addLayout(row)
        return right

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text)
        label.setFont(self.theme.font(0.92, bold=True))
        return label

    def _row(self, *keys: str) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(4))
        for key in keys:
            row.addWidget(self.buttons[key])
        row.addStretch(1)
        return row

    def showEvent(self, event: QShowEvent | None) -> None:
        self.refresh()
        super().showEvent(event)

    def refresh(self) -> None:
        """Looks at the folder anew."""
        chosen = self.list.chosen
        same = chosen is not None and self._open_path == self._document.path
        keep = chosen.path if chosen is not None and same else self._document.path
        self._open_path = self._document.path
        self.list.show_entries(self._catalogue.entries(self.search.text()), self._document.path, keep)
        self.past.show_lines(self._document.journal.lines)
        self._show_entry()

    def _show_entry(self) -> None:
        entry = self.list.chosen
        self._outside = None
        for key in ("take", "back"):
            self.buttons[key].setEnabled(False)
        self._show_own(entry is not None)
        if entry is not None:
            self.past.choose_none()
        for key in ("open", "moves", "copy", "rename", "bin"):
            self.buttons[key].setEnabled(entry is not None)
        if entry is None:
            self.view.show_nothing()
            return
        self.name.setText(entry.title)
        self.buttons["bin"].setText("Restore" if entry.binned else "Move to bin")
        self.buttons["bin"].updateGeometry()
        self._read(entry.path)

    def _show_own(self, own: bool) -> None:
        """Whether what is shown is a profile of the library, which can be given a colour, notes and a title."""
        for widget in (self.colours, self.notes, self.buttons["rename"]):
            widget.setEnabled(own)

    def _read(self, path: Path) -> Profile | None:
        """Shows what a file does, or what is wrong with it."""
        try:
            profile = self._catalogue.read(path)
        except ProfileError as error:
            self.view.show_problems(error.problems)
            return None
        self._show_profile(profile)
        return profile

    def _show_profile(self, profile: Profile) -> None:
        self.colours.show_colour(profile.colour.value if profile.colour is not None else "")
        self.notes.show_text(profile.notes)
        self.view.show_profile(profile)

    def _on_compare(self, on: bool) -> None:
        self.buttons["all"].setVisible(on)
        self.view.set_compares(on)

    def _past_profile(self) -> Profile | None:
        """The open profile as it was at the chosen earlier state."""
        line = self.past.chosen
        try:
            return self._catalogue.earlier(line) if line is not None else None
        except ProfileError:
            return None

    def _show_past(self) -> None:
        profile = self._past_profile()
        self.buttons["back"].setEnabled(profile is not None)
        if profile is not None:
            self.list.choose_none()
            self._show_own(False)
            self._show_profile(profile)

    def _on_point(self) -> None:
        name = self._title() or "Restore point"
        self._document.name_point(name)
        self.said.emit(f"Named: {name}")
        self.refresh()

    def _on_back(self) -> None:
        profile = self._past_profile()
        if profile is not None:
            self._document.edit("Restored an earlier state", lambda _: profile)
            self.refresh()

    def _chosen_profile(self) -> Profile | None:
        entry = self.list.chosen
        return self._read(entry.path) if entry is not None else None

    def _title(self) -> str:
        return self.name.text().strip()[:MAX_LABEL]

    def _on_open(self) -> None:
        entry, profile = self.list.chosen, self._chosen_profile()
        if entry is not None and profile is not None and self._try(lambda: self._catalogue.open(entry, profile)):
            self.opened.emit()

    def _make(self, profile: Profile) -> None:
        """Keeps a profile as a new file, and opens it."""
        if self._try(lambda: self._catalogue.make(profile)):
            self.opened.emit()

    def _on_moves(self) -> None:
        profile = self._chosen_profile()
        if profile is not None:
            title = copy_title(self._title(), profile.title)
            self._make(Profile(schema=profile.schema, title=title, moves=profile.moves, game=profile.game))

    def _on_copy(self) -> None:
        profile = self._chosen_profile()
        if profile is not None:
            self._make(replace(profile, title=copy_title(self._title(), profile.title)))

    def _on_rename(self) -> None:
        title = self._title()
        if title:
            self._change(f"Title {title}", title=title)

    def _change(self, what: str, **values: object) -> None:
        """Changes what the chosen profile is known by."""
        entry, profile = self.list.chosen, self._chosen_profile()
        if entry is not None and profile is not None:
            self._try(lambda: self._catalogue.change(entry, profile, what, **values))
            self.refresh()

    def _on_new(self) -> None:
        self._make(Profile(schema=SCHEMA_VERSION, title=self._title() or "New profile"))

    def _on_bin(self) -> None:
        entry = self.list.chosen
        if entry is None:
            return
        if self._catalogue.is_open(entry):
            self.said.emit("The open profile stays: open another one first")
            return
        self._try(lambda: self._catalogue.throw_or_fetch(entry))
        self.refresh()

    def _on_path(self) -> None:
        """Shows what a file from elsewhere would do, before it is taken in."""
        self._show_own(False)
        try:
            text, profile = self._catalogue.read_outside(Path(self.path.text().strip()).expanduser())
        except ProfileError as error:
            self._outside = None
            self.view.show_problems(error.problems)
        else:
            self._outside = text, profile
            self._show_profile(profile)
            self.name.setText(profile.title)
        self.buttons["take"].setEnabled(self._outside is not None)

    def _on_export(self) -> None:
        profile, typed = self._chosen_profile(), self.path.text().strip()
        if profile is None or not typed:
            self.said.emit("Choose a profile, and name the file to write below")
            return
        path = Path(typed).expanduser()
        if path.exists():
            self.said.emit(f"{path} is there already; name another file")
        elif self._try(lambda: write_profile(path, profile)):
            self.said.emit(f"Written: {path}")

    def _on_take(self) -> None:
        """Keeps just what was shown, whatever the file says by now."""
        if self._outside is not None:
            text, profile = self._outside
            title = self._title() or profile.title
            if self._try(lambda: self._catalogue.take_in(text, profile, title)):
                self.opened.emit()

    def _try(self, act: Callable[[], None]) -> bool:
        """Does something with a file; what the system has against it is said. Returns whether it is done."""
        try:
            act()
        except OSError as error:
            where = error.filename or self._catalogue.folder
            self.said.emit(f"{where}: {(error.strerror or str(error)).lower()}")
            return False
        return True
