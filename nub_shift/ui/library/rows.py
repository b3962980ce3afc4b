"""The library's lists: profiles of the folder, and the history of the open one."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from itertools import groupby
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QSizePolicy, QWidget

from nub_shift.store.journal import Line
from nub_shift.store.library import Entry
from nub_shift.translation import moment_text, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.entry_rows import COLOUR, EntryPainter

MAX_EARLIER = 200
_DATA = Qt.ItemDataRole.UserRole


class _Rows(QListWidget):
    def __init__(self, theme: Theme, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setObjectName("plain")
        self.setFrameShape(QListWidget.Shape.NoFrame)
        self.setItemDelegate(EntryPainter(theme, self))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setMinimumHeight(theme.px(90))
        # Takes the available height, since a scrolled page would otherwise grow to the lists' preferred height.
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)

    def choose_none(self) -> None:
        """Clears the selection without a signal, since the other list is shown."""
        self.blockSignals(True)
        self.setCurrentItem(None)
        self.clearSelection()
        self.blockSignals(False)

    def _chosen_data(self) -> object:
        item = self.currentItem()
        return item.data(_DATA) if item is not None else None


class ProfileRows(_Rows):
    """Profiles with the time of their last use."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, tr("Profiles"))

    @property
    def chosen(self) -> Entry | None:
        """The selected profile."""
        found = self._chosen_data()
        return found if isinstance(found, Entry) else None

    def show_entries(self, found: Iterable[Entry], open_path: Path, keep: Path) -> None:
        """Shows these profiles, with `keep` selected."""
        self.clear()
        for entry in found:
            used = moment_text(_moment(entry.used), year=True)
            if entry.example:
                where = tr("an example: make a copy to change it")
            else:
                where = (
                    tr("in the bin")
                    if entry.binned
                    else (
                        tr("used {day}, open now", day=used) if entry.path == open_path else tr("used {day}", day=used)
                    )
                )
            item = QListWidgetItem(f"{entry.title}\n{where}")
            item.setData(_DATA, entry)
            item.setData(COLOUR, entry.colour)
            self.addItem(item)
            if entry.path == keep:
                self.setCurrentItem(item)


class EarlierRows(_Rows):
    """Edits of the open profile, the latest first, each for the state before it; restore points have a star.

    Successive undo and redo share a row.
    """

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, tr("History of the open profile"))

    @property
    def chosen(self) -> Line | None:
        """The selected state."""
        found = self._chosen_data()
        return found if isinstance(found, Line) else None

    def show_lines(self, lines: list[Line]) -> None:
        """Shows the last of these."""
        self.clear()
        for moves_about, run in reversed(
            [(key, list(run)) for key, run in groupby(lines[-MAX_EARLIER:], _moves_about)]
        ):
            shown = [(tr("Undo and redo"), run[0])] if moves_about else [(_done(line), line) for line in reversed(run)]
            for what, line in shown:
                item = QListWidgetItem(f"{what}\n{moment_text(_moment(line.at), year=True, seconds=True)}")
                item.setData(_DATA, line)
                self.addItem(item)


def _moves_about(line: Line) -> bool:
    return line.did in ("undo", "redo")


def _done(line: Line) -> str:
    return f"★ {line.label}" if line.did == "point" else line.label


def _moment(seconds: float) -> datetime:
    """Returns the time of a file or a journal; times outside of the calendar become its beginning."""
    try:
        return datetime.fromtimestamp(seconds).astimezone()
    except (OverflowError, ValueError, OSError):
        return datetime.fromtimestamp(0).astimezone()
