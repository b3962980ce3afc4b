"""Tools of Map outside of its page: layers, the table, following presses."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QAction

from nub_shift.editing.document import Document
from nub_shift.ui import settings
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.layer_tools import LayerTools
from nub_shift.ui.map.station import MapStation


class MapTools(QObject):
    """Connects the tools of Map with its page.

    Attributes:
        layers: tools for layers.

    Signals:
        map_requested(): a tool needs Map to be shown.
        said(str): a line for the person.
    """

    map_requested = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, theme: Theme, document: Document, page: MapStation, follow: QAction) -> None:
        """`follow` is the button that is checked while a press on the pad opens its control."""
        super().__init__(page)
        self._page = page
        self._follow = follow
        self.layers = LayerTools(theme, document)
        self.layers.layer_made.connect(page.await_layer)
        self.layers.layer_shown.connect(page.show_layer)
        self.layers.refused.connect(self.said)
        self.layers.compare_requested.connect(self._on_compare)
        self.layers.table_requested.connect(self._on_table)
        page.table_left.connect(lambda: self.layers.table.setChecked(False))
        page.layer_shown.connect(self.layers.show_layer)

    def open_layer(self, layer_id: str) -> None:
        """Shows a layer and the menu of layers."""
        self.map_requested.emit()
        self._page.show_layer(layer_id)
        self.layers.open_tools()

    def set_follow(self, on: bool) -> None:
        """Sets whether a press on the pad opens its control."""
        self._follow.setChecked(on)
        self._page.set_follow(on)

    def keep_follow(self) -> None:
        """Saves the choice."""
        settings.follows_presses.keep(self._follow.isChecked())
        self._page.set_follow(self._follow.isChecked())

    def _on_table(self, on: bool) -> None:
        if on:
            self.map_requested.emit()
        self._page.show_table(on)

    def _on_compare(self, layer_id: str, other_id: str) -> None:
        self.map_requested.emit()
        self._page.show_difference(layer_id, other_id)
