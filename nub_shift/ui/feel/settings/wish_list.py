"""List of wishes about a control: a button each, with a preview of its outcome."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QEnterEvent, QFocusEvent
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from nub_shift.editing.feel.wishes import PressWish, Wish
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.plain import PlainLabel


class WishList(QWidget):
    """Buttons of the effective wishes, and a line about their changes.

    Attributes:
        buttons: by the text of their wishes.

    Signals:
        tried(object): a wish to preview; None to end the preview.
        wished(object): the chosen wish.
    """

    tried = pyqtSignal(object)
    wished = pyqtSignal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.buttons: dict[str, WishButton] = {}
        self._wishes: dict[str, Wish | PressWish] = {}
        title = PlainLabel(tr("What should be better?"))
        title.setFont(theme.font(0.92, bold=True))
        self._note = ""
        self._says = PlainLabel()
        self._says.setFont(theme.font(0.85))
        self._says.setWordWrap(True)
        self._says.setFixedHeight(theme.px(36))  # reserves the room of its text
        self._says.setAlignment(Qt.AlignmentFlag.AlignTop)
        rows = QWidget()
        self._flow = Flow(theme.px(4), rows, grows=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(3))
        column.addWidget(title)
        column.addWidget(rows)
        column.addWidget(self._says)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)

    def show_wishes(self, found: Sequence[Wish | PressWish], later: str = "") -> None:
        """Shows the present wishes. A wish at its limit keeps its place, and is disabled.

        `later` is the text of a wish that appears after a change, and has its place reserved.
        """
        self._wishes = {wish.text: wish for wish in found}
        for text in dict.fromkeys((*self._wishes, *([later] if later else []))):
            if text not in self.buttons:
                button = self.buttons[text] = WishButton(self.theme, text)
                button.tried.connect(partial(self._on_tried, text))
                button.clicked.connect(partial(self._on_clicked, text))
                self._flow.addWidget(button)
        for text, button in self.buttons.items():
            button.setEnabled(text in self._wishes)
            says = self._wishes[text].says if text in self._wishes else ""
            button.setAccessibleDescription(says)

    def show_note(self, text: str) -> None:
        """Shows a line while no wish has the mouse or the focus."""
        if self._says.text() == self._note:
            self._says.setText(text)
        self._note = text

    def forget(self) -> None:
        """Clears the list for another control."""
        for button in self.buttons.values():
            self._flow.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = {}

    def _on_tried(self, text: str, on: bool) -> None:
        wish = self._wishes.get(text) if on else None
        self._says.setText(wish.says if wish is not None else self._note)
        self.tried.emit(wish if isinstance(wish, Wish) else None)

    def _on_clicked(self, text: str, _checked: bool = False) -> None:
        wish = self._wishes.get(text)
        if wish is not None:
            self.wished.emit(wish)
            self._on_tried(text, on=False)  # ends the preview first


class WishButton(TextButton):
    """A button that signals a preview under the mouse or with the focus.

    Signals:
        tried(bool): begin or end of the preview.
    """

    tried = pyqtSignal(bool)

    def __init__(self, theme: Theme, text: str) -> None:
        super().__init__(theme, text)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        super().enterEvent(event)
        self.tried.emit(True)

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self.tried.emit(False)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.tried.emit(True)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.tried.emit(False)
