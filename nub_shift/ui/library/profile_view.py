"""A profile in words, or its differences from the open one."""

from __future__ import annotations

from collections.abc import Iterable
from html import escape

from msgspec.structs import replace
from PyQt6.QtWidgets import QStackedWidget, QTextBrowser, QWidget

from nub_shift.editing.compare.differences import Difference, differences
from nub_shift.editing.document import Document
from nub_shift.editing.words.summary import LOOK_FIRST, summary
from nub_shift.model.problems import Problem
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.difference_list import DifferenceList

_MAX_EDIT_LABEL = 80


class ProfileView(QStackedWidget):
    """Shows one profile.

    Attributes:
        profile: shown profile.
        compares: whether differences from the open profile are shown.
        found: the differences.
    """

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.profile: Profile | None = None
        self.compares = False
        self._document = document
        self._words = QTextBrowser()
        self._words.setAccessibleName(tr("What the profile does"))
        self._words.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.found = DifferenceList(theme)
        self.found.taken.connect(self._on_taken)
        self.addWidget(self._words)
        self.addWidget(self.found)

    def show_nothing(self) -> None:
        """Clears the view."""
        self._words.clear()

    def show_problems(self, problems: Iterable[Problem]) -> None:
        """Shows the faults of a file."""
        faults = "".join(f"<p>{escape(str(problem))}</p>" for problem in problems)
        self._words.setHtml(f"<p><b>{tr('This profile cannot be read')}</b></p>{faults}")
        self.setCurrentWidget(self._words)

    def show_profile(self, profile: Profile) -> None:
        """Shows a profile in words, or its differences."""
        self.profile = profile
        self.setCurrentWidget(self.found if self.compares else self._words)
        layout = self._document.layout()
        if self.compares:
            self.found.show_differences(differences(self._document.profile, profile, layout))
            return
        parts = summary(profile, layout)
        paragraphs = (
            f"<p><b>{'⚠ ' if head == LOOK_FIRST else ''}{escape(head)}</b><br>{'<br>'.join(map(escape, lines))}</p>"
            for head, lines in parts
        )
        self._words.setHtml("".join(paragraphs))

    def set_compares(self, on: bool) -> None:
        """Shows differences, or the whole profile."""
        self.compares = on
        self._show_again()

    def take_all(self) -> None:
        """Copies all differences except the title to the open profile."""
        if self.profile is not None:
            shown = self.profile
            self._document.edit(
                tr("Made the same as {title}", title=shown.title), lambda mine: replace(shown, title=mine.title)
            )
            self._show_again()

    def _on_taken(self, found: Difference) -> None:
        """Copies one difference to the open profile."""
        self._document.edit(tr("Copied over: {words}", words=found.text)[:_MAX_EDIT_LABEL], found.copy_over)
        self._show_again()

    def _show_again(self) -> None:
        if self.profile is not None:
            self.show_profile(self.profile)
