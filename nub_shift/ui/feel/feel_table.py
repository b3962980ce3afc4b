"""The numbers of a control's feel, a row each: read, and written over."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem, QWidget

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.feel import Setting
from nub_shift.model.profile import Profile
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import set_tip

_ROWS = 6


class FeelTable(QTableWidget):
    """For the base layer the profile's feel, for another what is so while it is on. What is set there stands out.

    Signals:
        edited(str, Edit): a setting is to be another: what is done, and the edit.
        refused(str): what was written cannot be taken, and why.
    """

    edited = pyqtSignal(str, object)
    refused = pyqtSignal(str)

    def __init__(self, theme: Theme, control: str, parent: QWidget | None = None) -> None:
        super().__init__(0, 2, parent)
        self.theme = theme
        self._control = control
        self._layer_id = ""
        self._profile: Profile | None = None
        self._settings: list[Setting] = []
        self.setAccessibleName("Numbers of its feel")
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setShowGrid(False)
        self.setFixedHeight(theme.px(28 * _ROWS))
        for header in (self.horizontalHeader(), self.verticalHeader()):
            if header is not None:
                header.hide()
        across, down = self.horizontalHeader(), self.verticalHeader()
        if across is not None and down is not None:
            across.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
            across.resizeSection(1, theme.px(150))
            down.setDefaultSectionSize(theme.px(27))
        self.itemChanged.connect(self._on_written)

    def show_profile(self, profile: Profile, layer_id: str) -> None:
        """Follows an edit, or another layer."""
        self._profile, self._layer_id = profile, layer_id
        found = feel_edits.settings(profile, layer_id, self._control)
        if found == self._settings:
            return
        self._settings = found
        self.blockSignals(True)
        self.setRowCount(len(found))
        for row, setting in enumerate(found):
            name, value = (self._item(row, column) for column in range(2))
            name.setText(setting.label)
            name.setFlags(Qt.ItemFlag.ItemIsEnabled)
            value.setText(setting.text)
            for item in (name, value):
                set_tip(item, f"{setting.expected[:1].upper()}{setting.expected[1:]}. Empty: as it is without.")
                item.setFont(self.theme.font(0.92, bold=setting.own))
                item.setForeground(self.theme.colour("ink" if setting.own else "muted"))
            spoken = f"{setting.label}: {setting.text}, {setting.expected}"
            value.setData(Qt.ItemDataRole.AccessibleTextRole, spoken)
        self.blockSignals(False)

    def _item(self, row: int, column: int) -> QTableWidgetItem:
        """The item of a row and column; one that is there stays, since it may be the one that is being written."""
        item = self.item(row, column)
        if item is None:
            item = QTableWidgetItem()
            self.setItem(row, column, item)
        return item

    def _on_written(self, item: QTableWidgetItem) -> None:
        setting = self._settings[item.row()]
        if self._profile is None or item.text().strip() == setting.text:
            return
        try:
            made = feel_edits.given(self._profile, self._layer_id, self._control, setting.path, item.text())
        except ValueError as error:
            self.refused.emit(str(error))
            made = self._profile
        before, self._settings = self._settings, []  # shown anew in any case, as what was written may not be taken
        if made != self._profile:
            layer_id, control, path, text = self._layer_id, self._control, setting.path, item.text()
            self.edited.emit(
                f"{setting.label} {text.strip() or 'as without'}",
                lambda profile: feel_edits.given(profile, layer_id, control, path, text),
            )
        if self._settings != before and self._profile is not None:
            self.show_profile(self._profile, self._layer_id)
