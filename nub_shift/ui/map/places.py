"""List of assignments on controls that this pad lacks, with a chosen new place for each."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from nub_shift.advice.relocation import Displaced, find_displaced, relocate, suggest_places
from nub_shift.editing.document import Document
from nub_shift.editing.words.labels import slot_words
from nub_shift.translation import tr, trn
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip

_NOWHERE = tr("Leave unassigned")


class Places(QWidget):
    """A row for each displaced assignment.

    Attributes:
        rows: displaced assignments with their new places.
        put: moves all of them.

    Signals:
        closed(): the person has closed the list.
    """

    closed = pyqtSignal()

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.rows: list[tuple[Displaced, QComboBox]] = []
        self._document = document
        self._title = PlainLabel()
        self._title.setFont(theme.font(1.2, bold=True))
        self.put = TextButton(theme, tr("Use these places"), tr("Puts everything where the list says"))
        self.put.clicked.connect(self._on_put)
        self.put.set_main(True)
        done = TextButton(theme, tr("Cancel"), tr("Back to the lanes (Esc)"))
        done.clicked.connect(self.closed)
        head = QHBoxLayout()
        head.addWidget(self._title)
        names = tr(
            "Each line has the control of this pad that comes closest. "
            "Nothing changes before you press “Use these places”."
        )
        head.addWidget(HelpMark(theme, tr("Use these places"), names))
        head.addStretch(1)
        head.addWidget(self.put)
        head.addWidget(done)
        self._inner = QWidget()
        self._scroll = quiet_scroll(self._inner)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self._scroll, 1)

    def show_controls(self, controls: Collection[str]) -> None:
        """Lists the assignments on other than these controls, each with a suggestion."""
        theme, profile, layout = self.theme, self._document.profile, self._document.layout()
        found = find_displaced(profile, controls)
        self._title.setText(
            trn("{count} thing has no control on this pad", "{count} things have no control on this pad", len(found))
        )
        self._inner = QWidget()
        grid = QGridLayout(self._inner)
        grid.setHorizontalSpacing(theme.px(14))
        grid.setColumnStretch(3, 1)
        grid.setColumnMinimumWidth(1, theme.px(260))
        self.rows = []
        for row, (one, place) in enumerate(zip(found, suggest_places(found), strict=True)):
            names: dict[str, None] = {}
            for layer in profile.layers:
                for slot in one.slots:
                    if slot in layer.slots:
                        names[slot_words(profile, slot, layer.slots[slot], layout)] = None
            what = ", ".join(names) or tr("pressed together with another control")
            label, does = PlainLabel(one.label), PlainLabel(what)
            choice = QComboBox()
            choice.addItems([_NOWHERE, *(free.label for free in one.places)])
            choice.setCurrentIndex(one.places.index(place) + 1 if place is not None else 0)
            choice.setAccessibleName(tr("{what}: on", what=what))
            choice.setEnabled(bool(one.places))
            set_tooltip(choice, "" if one.places else tr("No control of its kind is free on this pad"))
            choice.activated.connect(lambda _index, at=row: self._on_chosen(at))
            grid.addWidget(label, row, 0)
            grid.addWidget(does, row, 1)
            grid.addWidget(choice, row, 2)
            self.rows.append((one, choice))
        grid.setRowStretch(len(self.rows), 1)
        self._scroll.setWidget(self._inner)
        self._show_put()
        first = next((choice for _, choice in self.rows if choice.isEnabled()), None)
        (first or self.put).setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_chosen(self, at: int) -> None:
        """Gives other assignments another free place if a choice takes theirs."""
        mine = set(_moved(*self.rows[at]).values())
        for row, (other, there) in enumerate(self.rows):
            if row != at and mine & set(_moved(other, there).values()):
                taken = {place for found in self.rows if found[1] is not there for place in _moved(*found).values()}
                free = (index for index, place in enumerate(other.places, 1) if taken.isdisjoint(place.slots.values()))
                there.setCurrentIndex(next(free, 0))
        self._show_put()

    def _show_put(self) -> None:
        self.put.setEnabled(any(choice.currentIndex() for _, choice in self.rows))

    def _on_put(self) -> None:
        moved = {slot: place for one, choice in self.rows for slot, place in _moved(one, choice).items()}
        self.closed.emit()
        self._document.edit(tr("Places on this pad"), lambda profile: relocate(profile, moved))


def _moved(one: Displaced, choice: QComboBox) -> dict[str, str]:
    """Returns the new slot of each displaced slot, by the choice."""
    return one.places[choice.currentIndex() - 1].slots if choice.currentIndex() else {}
