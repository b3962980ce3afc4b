"""List of probable mistakes in the open profile; a click leads to the slot."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from nub_shift.advice.clashes import Clash, clashes
from nub_shift.model.controls import Fingers
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr, trn
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import set_tooltip

LATER_MS = 150


class ClashList(QWidget):
    """A button with the count. The owner shows the rows while the button is checked.

    Attributes:
        head: button with the count.
        rows: list of mistakes.

    Signals:
        picked(Clash): a chosen mistake.
        wanted(bool): show or hide the rows.
    """

    picked = pyqtSignal(object)
    wanted = pyqtSignal(bool)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._found: list[Clash] = []
        self._profile: Profile | None = None
        self._controls: tuple[str, ...] = ()
        self._fingers: Fingers = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(LATER_MS)
        self._timer.timeout.connect(self.look)
        self.head = TextButton(theme, tr("To check"), tr("What is probably a mistake"))
        self.head.setCheckable(True)
        self.head.toggled.connect(self._show)
        self.rows = QListWidget()
        self.rows.setAccessibleName(tr("To check"))
        self.rows.setObjectName("plain")
        self.rows.setFont(theme.font(0.85))
        self.rows.setWordWrap(True)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.rows.setResizeMode(QListWidget.ResizeMode.Adjust)  # filled while hidden and narrower
        self.rows.setFrameShape(QListWidget.Shape.NoFrame)
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.itemClicked.connect(self._on_picked)
        self.rows.itemActivated.connect(self._on_picked)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(2))
        column.addWidget(self.head, 0, Qt.AlignmentFlag.AlignLeft)
        self._show()

    def show_profile(self, profile: Profile, controls: tuple[str, ...], fingers: Fingers) -> None:
        """Updates the list for an edit, or another pad, after a short delay."""
        self._profile = profile
        self._controls = controls
        self._fingers = fingers
        self._timer.start()

    def look(self) -> None:
        """Updates the list now."""
        found = clashes(self._profile, self._controls, self._fingers) if self._profile is not None else []
        if found == self._found:
            return
        self._found = found
        self.rows.clear()
        for clash in found:
            item = QListWidgetItem(clash.text)
            set_tooltip(item, clash.text)
            item.setData(Qt.ItemDataRole.UserRole, clash)
            self.rows.addItem(item)
        self._show()

    def _show(self) -> None:
        count = len(self._found)
        self.head.setText(trn("{count} to check", "{count} to check", count) if count else tr("Nothing to check"))
        self.head.setAccessibleName(self.head.text())
        self.head.updateGeometry()
        self.head.setEnabled(count > 0)
        self.wanted.emit(count > 0 and self.head.isChecked())

    def _on_picked(self, item: QListWidgetItem) -> None:
        self.picked.emit(item.data(Qt.ItemDataRole.UserRole))
