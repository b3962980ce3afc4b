"""Station Library: all profiles, with search and summary; creation, copies, bin and history."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import count
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QShowEvent
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nub_shift.editing.catalogue import Catalogue, copy_title
from nub_shift.editing.document import Document
from nub_shift.model.plain_text import system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.colours import Colour
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile
from nub_shift.model.profile.schema_types import MAX_LABEL
from nub_shift.store.library import EXPORT_SUFFIX, Entry
from nub_shift.store.profile_files import write_profile
from nub_shift.translation import tr
from nub_shift.ui.library.outside import OutsideBar
from nub_shift.ui.library.profile_view import ProfileView
from nub_shift.ui.library.rows import EarlierRows, ProfileRows
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.colour_dots import ColourDots
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.notes import Notes
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.wrapping_row import WrappingRow

_FILES = tr("Profiles (*{export_suffix} *.toml);;All files (*)", export_suffix=EXPORT_SUFFIX)


class LibraryStation(QWidget):
    """Profiles of the open one's folder.

    Attributes:
        search, list, name, colours: search, list, title and colour of profiles.
        outside: bar above a profile from elsewhere.
        catalogue: the files.
        notes: notes of the selected profile.
        view: summary or differences of the selected profile.
        past: history of the open profile.
        compare: whether differences are shown.
        buttons: by function.

    Signals:
        opened(): another profile is open.
        said(str): a line for the person.
        binned(): a profile was moved to the bin, or out of it.
    """

    opened = pyqtSignal()
    said = pyqtSignal(str)
    binned = pyqtSignal()

    def __init__(
        self, theme: Theme, document: Document, examples: Iterable[str] = (), parent: QWidget | None = None
    ) -> None:
        """`examples` are the texts of profiles that come with the program."""
        super().__init__(parent)
        self.theme = theme
        self._document = document
        self.catalogue = Catalogue(document, examples)
        self._is_new = False  # whether the open profile is new and has no title yet
        self.setAcceptDrops(True)
        self._outside: tuple[str, Profile] | None = None  # text and profile of a file from elsewhere
        self._open_path = document.path
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Search"))
        self.search.setAccessibleName(tr("Search the library"))
        self.search.textChanged.connect(self.refresh)
        self.list = ProfileRows(theme)
        self.list.currentItemChanged.connect(lambda _now, _before: self._show_entry())
        self.list.itemActivated.connect(lambda _item: self._on_open())
        self.name = QLineEdit()
        self.name.setMaxLength(MAX_LABEL)
        self.name.setPlaceholderText(tr("Title"))
        self.name.setAccessibleName(tr("Title for a new profile, a copy, or the chosen profile"))
        self.notes = Notes()
        self.notes.setFixedHeight(theme.px(48))
        self.notes.written.connect(lambda text: self._change(tr("Notes"), notes=text))
        self.colours = ColourDots(theme)
        self.colours.picked.connect(
            lambda colour: self._change(tr("Colour"), colour=Colour(colour) if colour else None)
        )
        self.name.returnPressed.connect(self._on_rename)
        self.outside = OutsideBar(theme)
        self.outside.added.connect(self._on_take)
        self.outside.closed.connect(self._on_outside_closed)
        self._to_show: list[Path] = []  # files to show after the present one
        self.view = ProfileView(theme, document)
        self.buttons = self._make_buttons()
        self.buttons["all"].hide()
        self.compare = TextButton(
            theme, tr("Compare with the open one"), tr("Shows only what differs; each difference can be copied over")
        )
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
            "open": (tr("Open"), tr("Enter"), self._on_open),
            "copy": (tr("Copy"), tr("Make a copy of the chosen profile"), self._on_copy),
            "bin": (tr("Move to bin"), tr("You can restore it later"), self._on_bin),
            "rename": (tr("Rename"), tr("Give the chosen profile this title (Enter)"), self._on_rename),
            "new": (tr("New"), tr("Make an empty profile, and type its title"), self._on_new),
            "moves": (
                tr("New with its moves"),
                tr("Make a profile for the same game with nothing assigned yet"),
                self._on_moves,
            ),
            "point": (
                tr("Save a restore point"),
                tr("Keeps the open profile as it is now, under the name in the title field"),
                self._on_point,
            ),
            "back": (
                tr("Restore this state"),
                tr("Sets the open profile back to that state. Undo reverses this"),
                self._on_back,
            ),
            "import": (tr("Import …"), tr("Look at a profile file; you can also drop one here"), self._on_import),
            "export": (
                tr("Export …"),
                tr("Saves the chosen profile to a file that you can give to somebody"),
                self._on_export,
            ),
            "all": (
                tr("Copy all over"),
                tr("Make the open profile like this one, except its title"),
                self.view.take_all,
            ),
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
        left.addWidget(self._heading(tr("History of the open profile")))
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
        help_text = tr("Marks the profile in the list, so that you find it sooner.")
        known.tail.addWidget(HelpMark(self.theme, tr("the colour"), help_text))
        right.addWidget(known)
        right.addWidget(self.notes)
        done = self._row("open", "copy", "bin", "new", "moves")
        for button in (self.compare, self.buttons["all"]):
            done.addWidget(button)
        right.addLayout(done)
        right.addWidget(self.outside)
        right.addWidget(self.view, 1)
        right.addLayout(self._row("import", "export"))
        return right

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text)
        label.setFont(self.theme.font(0.92, bold=True))
        return label

    def _row(self, *keys: str) -> Flow:
        row = Flow(self.theme.px(4), grows=True)
        for key in keys:
            row.addWidget(self.buttons[key])
        return row

    def showEvent(self, event: QShowEvent | None) -> None:
        self.refresh()
        super().showEvent(event)

    def refresh(self) -> None:
        """Reads the folder again."""
        chosen = self.list.chosen
        same = chosen is not None and self._open_path == self._document.path
        keep = chosen.path if chosen is not None and same else self._document.path
        self._open_path = self._document.path
        self.list.show_entries(self.catalogue.entries(self.search.text()), self._document.path, keep)
        self.past.show_lines(self._document.journal.lines)
        self._show_entry()

    def _show_entry(self) -> None:
        entry = self.list.chosen
        self._is_new = False  # selecting another profile would give it the typed title
        self._show_inside()
        self.buttons["back"].setEnabled(False)
        self._show_chosen(entry)
        if entry is not None:
            self.past.choose_none()
        if entry is None:
            self.view.show_nothing()
            return
        self.name.setText(entry.title)
        self.buttons["bin"].setText(tr("Restore") if entry.binned else tr("Move to bin"))
        self.buttons["bin"].updateGeometry()
        self._read(entry)

    def _show_inside(self) -> None:
        """Shows the library in place of a file from elsewhere."""
        self._outside = None
        self.outside.hide()

    def _show_chosen(self, entry: Entry | None) -> None:
        """Enables the actions for the selected profile; an example gets no colour, notes or title."""
        own = entry is not None and not entry.example
        for widget in (self.colours, self.notes, self.buttons["rename"], self.buttons["bin"]):
            widget.setEnabled(own)
        for key in ("open", "moves", "copy", "export"):
            self.buttons[key].setEnabled(entry is not None)

    def _read(self, entry: Entry) -> Profile | None:
        """Shows the summary of a profile, or the faults of its file."""
        try:
            profile = self.catalogue.read(entry)
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
        """Returns the open profile in the selected earlier state."""
        line = self.past.chosen
        try:
            return self.catalogue.earlier(line) if line is not None else None
        except ProfileError:
            return None

    def _show_past(self) -> None:
        profile = self._past_profile()
        self.buttons["back"].setEnabled(profile is not None)
        if profile is not None:
            self._show_inside()
            self.list.choose_none()
            self._show_chosen(None)
            self._show_profile(profile)

    def _on_point(self) -> None:
        name = self._title() or tr("Restore point")
        self._document.name_point(name)
        self.said.emit(tr("Named: {name}", name=name))
        self.refresh()

    def _on_back(self) -> None:
        profile = self._past_profile()
        if profile is not None:
            self._document.edit(tr("Restored an earlier state"), lambda _: profile)
            self.refresh()

    def _chosen_profile(self) -> Profile | None:
        entry = self.list.chosen
        return self._read(entry) if entry is not None else None

    def _title(self) -> str:
        return self.name.text().strip()[:MAX_LABEL]

    def _on_open(self) -> None:
        entry, profile = self.list.chosen, self._chosen_profile()
        if entry is not None and profile is not None and self._try(lambda: self.catalogue.open(entry, profile)):
            self.opened.emit()

    def _make(self, profile: Profile) -> None:
        """Saves a profile as a new file, and opens it."""
        if self._try(lambda: self.catalogue.make(profile)):
            self.opened.emit()

    def make_titled(self, title: str) -> None:
        """Creates an empty profile of that title, and opens it."""
        self._make(Profile(schema=SCHEMA_VERSION, title=title))

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
        title, was_new = self._title(), self._is_new
        self._is_new = False
        if title and self.buttons["rename"].isEnabled():
            self._change(tr("Title {title}", title=title), title=title)
            if was_new:
                self.opened.emit()

    def _change(self, what: str, **values: object) -> None:
        """Changes title, colour or notes of the selected profile."""
        entry, profile = self.list.chosen, self._chosen_profile()
        if entry is not None and profile is not None:
            self._try(lambda: self.catalogue.change(entry, profile, what, **values))
            self.refresh()

    def _on_new(self) -> None:
        """Creates a profile and focuses its title."""
        taken = {entry.title for entry in self.catalogue.entries()}
        title = next(name for number in count(1) if (name := tr("New profile {number}", number=number)) not in taken)
        if self._try(lambda: self.catalogue.make(Profile(schema=SCHEMA_VERSION, title=title))):
            self.refresh()
            self._is_new = True
            self.name.setFocus(Qt.FocusReason.OtherFocusReason)
            self.name.selectAll()

    def _on_bin(self) -> None:
        entry = self.list.chosen
        if entry is None:
            return
        if self.catalogue.is_open(entry):
            self.said.emit(tr("The open profile cannot be moved to the bin: open another one first"))
            return
        self._try(lambda: self.catalogue.toggle_bin(entry))
        self.refresh()
        self.binned.emit()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and _dropped(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        paths = _dropped(event) if event is not None else []
        if event is not None and paths:
            event.acceptProposedAction()
            self.show_file(*paths)

    def _on_outside_closed(self) -> None:
        """Shows the next dropped file, or the library."""
        if self._to_show:
            self.show_file(*self._to_show)
        else:
            self.refresh()

    def show_file(self, path: Path, *then: Path) -> None:
        """Shows a file from elsewhere in words, before it is added; further files follow."""
        self._to_show = list(then)
        self.list.choose_none()
        self._show_chosen(None)
        try:
            text, profile = self.catalogue.read_outside(path)
        except ProfileError as error:
            self._outside = None
            self.view.show_problems(error.problems)
        else:
            self._outside = text, profile
            self._show_profile(profile)
            self.name.setText(profile.title)
        self.outside.show_file(path.name, str(path), self._outside is not None, len(self._to_show))
        self.outside.add.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_import(self) -> None:
        dialog = QFileDialog(self, tr("Import a profile"), "", _FILES)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        dialog.fileSelected.connect(lambda name: self.show_file(Path(name)))
        dialog.open()

    def _on_export(self) -> None:
        profile = self._chosen_profile()
        if profile is None:
            return
        dialog = QFileDialog(self, tr("Export {profile}", profile=profile.title), "", _FILES)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(EXPORT_SUFFIX)
        dialog.selectFile(f"{profile.title.replace('/', '-')}{EXPORT_SUFFIX}")
        dialog.fileSelected.connect(lambda name: self.export(Path(name), profile))
        dialog.open()

    def export(self, path: Path, profile: Profile) -> None:
        """Writes a profile to a file chosen by the person; the dialog has asked before overwriting."""
        if self._try(lambda: write_profile(path, profile)):
            self.said.emit(tr("Written: {path}", path=path))

    def _on_take(self) -> None:
        """Adds exactly the shown text, even if the file has changed since."""
        if self._outside is not None:
            text, profile = self._outside
            title = self._title() or profile.title
            if not self._try(lambda: self.catalogue.add_imported(text, profile, title)):
                return
            if self._to_show:
                self.said.emit(tr("Added: {title}", title=title))
                self._on_outside_closed()
            else:
                self.opened.emit()

    def _try(self, act: Callable[[], None]) -> bool:
        """Runs an operation on a file and reports the system's error; returns whether it succeeded."""
        try:
            act()
        except OSError as error:
            where = error.filename or self.catalogue.folder
            self.said.emit(f"{where}: {system_fault(error)}")
            return False
        return True


def _dropped(event: QDropEvent) -> list[Path]:
    """Returns the dropped local files."""
    data = event.mimeData()
    return [Path(url.toLocalFile()) for url in (data.urls() if data is not None else []) if url.isLocalFile()]
