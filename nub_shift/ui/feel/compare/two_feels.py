"""Row of two versions of a feel: their difference, and buttons to change between them."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLineEdit, QSizePolicy, QWidget

from nub_shift.editing.feel.two_feels import LETTERS, TwoFeels
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip

_LONGEST_NAME = 24


class TwoFeelsRow(QWidget):
    """A row with both names.

    Attributes:
        choices: buttons of the first and the second version.
        by_pad: lets a press on the pad change between versions.
        name: name of the present version.
        keep: ends the comparison with the present version.

    Signals:
        flipped(): change to the other version.
        kept(): keep the present version alone.
        named(str): name of the present version.
        pad_requested(): the next pressed control flips from then on, or an earlier one no longer does.
    """

    flipped = pyqtSignal()
    kept = pyqtSignal()
    pad_requested = pyqtSignal()
    named = pyqtSignal(str)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        group = QButtonGroup(self)
        self._says = PlainLabel()
        self._says.setFont(theme.font(0.85))
        self._says.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.choices = [Choice(theme, name) for name in LETTERS]
        for number, choice in enumerate(self.choices):
            choice.setAccessibleName(tr("Feel {choice}", choice=choice.text()))
            choice.clicked.connect(partial(self._on_chosen, number))
            group.addButton(choice)
            row.addWidget(choice)
        self.keep = TextButton(
            theme, tr("Keep this one"), tr("Ends the comparison. The other feel stays in the history")
        )
        self.keep.clicked.connect(self.kept)
        self.by_pad = TextButton(
            theme, tr("Switch by a press …"), tr("The next control you press will switch between A and B")
        )
        self.by_pad.clicked.connect(self.pad_requested)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("Name"))
        self.name.setAccessibleName(tr("Name of the feel that is on"))
        self.name.setMaxLength(_LONGEST_NAME)
        self.name.setFixedSize(theme.px(90), self.choices[0].sizeHint().height())
        self.name.editingFinished.connect(self._on_named)
        for widget in (self.name, self.keep, self.by_pad):
            row.addWidget(widget)
        row.addWidget(self._says, 1)
        self._shown = 0

    def show_feels(self, two: TwoFeels, differences: list[str] | None, flips: str) -> None:
        """Shows the present version, the differences from the first to the second, None without a second, and the
        flipping slot.
        """
        shown = self._shown = two.shown
        for choice, label in zip(self.choices, two.labels, strict=True):
            if choice.text() != label:
                choice.setText(label)
                choice.setAccessibleName(tr("Feel {label}", label=label))
                choice.updateGeometry()
        self.name.setText(two.names[shown])
        self.choices[shown].setChecked(True)
        set_tooltip(self.choices[1], tr("Starts a second feel as a copy of this one") if differences is None else "")
        for widget in (self.name, self.keep, self.by_pad):
            widget.setEnabled(differences is not None)
        if differences is None:
            says = ""
        elif not differences:
            says = tr("A and B are still the same: change something, then switch")
        else:
            says = tr(
                "{first} to {second}: {differences}",
                first=LETTERS[0],
                second=LETTERS[1],
                differences=", ".join(differences),
            )
        if flips:
            says = tr("{flips} switches between them. {says}", flips=flips, says=says)
        self._says.setText(says)
        set_tooltip(self._says, says)

    def _on_named(self) -> None:
        self.named.emit(self.name.text().strip())

    def _on_chosen(self, number: int, _checked: bool = False) -> None:
        if number != self._shown:
            self.flipped.emit()
