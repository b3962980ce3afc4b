"""The user guide from its files, the shortcuts, and the about page, in a window of their own."""

from __future__ import annotations

import re
from functools import partial
from html import escape
from pathlib import Path
from threading import Thread
from typing import Any, Final

import platformdirs
from PyQt6.QtCore import QByteArray, Qt, QTimer, QUrl, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QImage, QKeySequence, QShortcut, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QTextBrowser, QVBoxLayout, QWidget

import nub_shift
from nub_shift import VERSION
from nub_shift.compiled import kind
from nub_shift.store.library import library_folder
from nub_shift.translation import LANGUAGE, tr
from nub_shift.ui.commands import TEXTS
from nub_shift.ui.help.places import FIRST_PLACE
from nub_shift.ui.help.report import report
from nub_shift.ui.look.theme import Theme, fitting
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import name_scroll_bars
from nub_shift.ui.widgets.plain import PlainLabel

FOLDER: Final = Path(nub_shift.__path__[0]) / "guide"
# Pages in the reader's language, if available.
READ: Final = FOLDER / LANGUAGE if (FOLDER / LANGUAGE).is_dir() else FOLDER
# In reading order.
PAGES: Final = (
    "index",
    "first-profile",
    "unknown-pad",
    "more-moves",
    "tuning",
    "playing",
    "two-players",
    "sharing",
    "trouble",
)
SHORTCUTS: Final = "shortcuts"
ABOUT: Final = "about"
_SIZE = (980, 640)
_HEADING = re.compile(r"#+ ")


def heading_id(text: str) -> str:
    """Returns the id of a heading, such as `dead-zone` for "Dead zone"."""
    return re.sub(r"[\W_]+", "-", text.lower()).strip("-")


def page_title(page: str) -> str:
    """Returns the heading of a page."""
    return _HEADING.sub("", (READ / f"{page}.md").read_text("utf-8").splitlines()[0], count=1)


def headings(folder: Path, page: str) -> list[str]:
    """Returns the ids of all headings of a page, from the top."""
    lines = (folder / f"{page}.md").read_text("utf-8").splitlines()
    return [heading_id(_HEADING.sub("", line, count=1)) for line in lines if _HEADING.match(line)]


class GuideWindow(QWidget):
    """Stays open beside the window.

    Attributes:
        pages: list of pages, by file name.
        text: the page.
        copy: copies a report about this machine.
    """

    _reported = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle(tr("Guide"))
        self.resize(fitting(theme, _SIZE))
        self.pages = QListWidget()
        self.pages.setObjectName("plain")
        self.pages.setAccessibleName(tr("Pages of the guide"))
        for page, title in (
            *((page, page_title(page)) for page in PAGES),
            (SHORTCUTS, tr("Keyboard shortcuts")),
            (ABOUT, tr("About Nub Shift")),
        ):
            item = QListWidgetItem(title)
            item.setData(Qt.ItemDataRole.UserRole, page)
            self.pages.addItem(item)
        self.pages.setFixedWidth(self.pages.sizeHintForColumn(0) + 2 * self.pages.frameWidth() + theme.px(8))
        self.text = _Pages(theme)
        self.text.followed.connect(self.show_place)
        self.copy = TextButton(theme, tr("Copy report"), tr("Copies the version and what doctor finds"))
        self.copy.clicked.connect(self._copy_report)
        self._said = PlainLabel()
        foot = QHBoxLayout()
        for widget in (self.copy, self._said):
            foot.addWidget(widget)
        foot.addStretch()
        column = QVBoxLayout()
        column.addWidget(self.text, 1)
        column.addLayout(foot)
        row = QHBoxLayout(self)
        row.addWidget(self.pages)
        row.addLayout(column, 1)
        QShortcut(QKeySequence.StandardKey.Cancel, self, self.close)
        name_scroll_bars(self)
        self.pages.currentItemChanged.connect(self._on_page)
        self._reported.connect(self._on_report)

    def show_place(self, place: str = FIRST_PLACE) -> None:
        """Shows a page in front, at a heading if given."""
        page, _, heading = place.partition("#")
        for row in range(self.pages.count()):
            item = self.pages.item(row)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == page:
                self.pages.setCurrentItem(item)
        if heading:
            here = headings(FOLDER, page)  # places use the English headings
            wanted = headings(READ, page)[here.index(heading)] if heading in here else heading
            self.text.show_heading(wanted)
            if not self.isVisible():  # has its size only after it is shown
                QTimer.singleShot(0, partial(self.text.show_heading, wanted))
        self.show()
        self.raise_()
        self.activateWindow()

    def _on_page(self, item: QListWidgetItem | None, _before: QListWidgetItem | None) -> None:
        page = item.data(Qt.ItemDataRole.UserRole) if item is not None else FIRST_PLACE
        self.copy.setVisible(page == ABOUT)
        self._said.setText("")
        match page:
            case "shortcuts":
                self.text.setHtml(_shortcuts())
            case "about":
                self.text.setHtml(_about())
            case _:
                self.text.show_file(READ / f"{page}.md")

    def _copy_report(self) -> None:
        """Collects the report in the background, since reading the process table takes a moment."""
        self.copy.setEnabled(False)
        self._said.setText(tr("Looking …"))
        Thread(target=lambda: self._reported.emit(report()), daemon=True).start()

    def _on_report(self, text: str) -> None:
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(text)
        self.copy.setEnabled(True)
        self._said.setText(tr("Copied"))


class _Pages(QTextBrowser):
    """Shows a page, with pictures scaled to its width.

    Signals:
        followed(str): a link to another place of the guide was clicked.
    """

    followed = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setAccessibleName(tr("Guide"))
        self.setOpenLinks(False)
        self.anchorClicked.connect(self._on_link)
        self.setFont(theme.font())
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # keeps the width of pictures constant
        document = self.document()
        if document is not None:
            document.setDefaultStyleSheet(f"a {{ color: {theme.look.pad} }}")

    def show_file(self, path: Path) -> None:
        """Shows a page of the guide."""
        self.setSearchPaths([str(path.parent)])
        self.setMarkdown(path.read_text("utf-8"))
        self.moveCursor(QTextCursor.MoveOperation.Start)

    def show_heading(self, heading: str) -> None:
        """Scrolls to a heading."""
        document = self.document()
        block = document.begin() if document is not None else None
        while block is not None and block.isValid():
            if block.blockFormat().headingLevel() and heading_id(block.text()) == heading:
                self.setTextCursor(QTextCursor(block))
                bar = self.verticalScrollBar()
                if bar is not None:
                    bar.setValue(bar.value() + self.cursorRect().top())
                return
            block = block.next()

    def loadResource(self, type: int, name: QUrl) -> Any:  # noqa: A002 - as Qt calls it
        if type != QTextDocument.ResourceType.ImageResource.value:
            return super().loadResource(type, name)
        picture = QImage(str((READ / name.path()).resolve()))
        viewport = self.viewport()
        room = (viewport.width() if viewport is not None else picture.width()) - 24
        if picture.isNull():
            return QByteArray()
        return picture.scaledToWidth(min(room, picture.width()), Qt.TransformationMode.SmoothTransformation)

    def _on_link(self, link: QUrl) -> None:
        page = link.path().removesuffix(".md")
        if not link.scheme() and page in PAGES:
            self.followed.emit(f"{page}#{link.fragment()}" if link.hasFragment() else page)


def _shortcuts() -> str:
    """Returns the page of all shortcuts, in the desktop's form."""
    rows = []
    for text in TEXTS.values():
        keys = QKeySequence(text.shortcut).toString(QKeySequence.SequenceFormat.NativeText)
        rows.append(f"<tr><td><b>{escape(keys)}</b></td><td>{escape(text.text)}</td><td>{escape(text.help)}</td></tr>")
    more = (
        (tr("Tab"), tr("Next group"), tr("The arrow keys go from one to the next within a group")),
        (tr("Enter"), tr("Listen"), tr("On a slot: the next key is what the slot presses")),
        ("F2", tr("Rename"), tr("A move, a layer, a list")),
        (tr("Delete"), tr("Clear"), tr("A slot, a move, a point of a curve")),
        (tr("Menu"), tr("What can be done"), tr("The same as a right click")),
    )
    rows += [f"<tr><td><b>{keys}</b></td><td>{text}</td><td>{help_text}</td></tr>" for keys, text, help_text in more]
    return f"<h1>{tr('Keyboard shortcuts')}</h1><table cellpadding='4'>{''.join(rows)}</table>"


def _about() -> str:
    """Returns the page about the program and its files."""
    folders = {
        tr("Profiles and pads"): library_folder().parent,
        tr("Sessions and logs"): platformdirs.user_state_path("nub-shift"),
        tr("Settings of the window"): platformdirs.user_config_path("nub-shift"),
    }
    rows = "".join(f"<tr><td>{name}</td><td>{escape(str(path))}</td></tr>" for name, path in folders.items())
    kept = tr(
        "GPL-3.0-or-later. With PyQt6, which the window needs and which is GPL-3.0-only, the program as a whole can be "
        "given on under GPL-3.0 only. There is no warranty."
    )
    return (
        f"<h1>Nub Shift {VERSION}</h1><p>{tr('Play games for keyboard and mouse with a pad.')} ({kind()})</p>"
        f"<h2>{tr('Where your files are')}</h2><table cellpadding='4'>{rows}</table>"
        f"<h2>{tr('License')}</h2><p>{kept}</p>"
    )
