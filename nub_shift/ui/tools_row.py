"""Row below the head: stations, messages, and the tools of the station."""

from __future__ import annotations

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from nub_shift.ui.frame.messages import Messages
from nub_shift.ui.frame.station_bar import StationBar
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.layer_tools import LayerTools
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.wrapping_row import WrappingRow


class ToolsRow(WrappingRow):
    """Shows the tools of Map beside the stations, or in the menu More if they do not fit.

    Attributes:
        follow, undo, redo: buttons.
    """

    def __init__(
        self,
        theme: Theme,
        tabs: StationBar,
        message: Messages,
        layers: LayerTools,
        more: TextButton,
        follow: QAction,
        undo: QAction,
        redo: QAction,
    ) -> None:
        super().__init__(theme.px(6))
        self._theme = theme
        self._layers = layers
        self._more = more
        self._follow_action = follow
        self._in_menu = False
        self.setContentsMargins(theme.px(6), 0, theme.px(14), 0)
        self.follow, self.undo, self.redo = (self._button_for(action) for action in (follow, undo, redo))
        self._tools: tuple[QWidget, ...] = (layers, self.follow)
        self._all: tuple[QWidget, ...] = (tabs, layers, self.follow, self.undo, self.redo, more)
        self.head.addWidget(tabs)
        self.head.addWidget(message, 1)
        for tool in self._all[1:]:
            self.tail.addWidget(tool)

    def fit(self, width: int, in_map: bool) -> None:
        """Shows the tools of Map in a window of this width, while Map is shown."""
        needed = sum(part.sizeHint().width() + self._theme.px(6) for part in self._all)
        is_tight = width < needed + self._theme.px(20)
        for tool in self._tools:
            tool.setVisible(in_map and not is_tight)
        self._in_menu = in_map and is_tight

    def fill_more(self, menu: QMenu) -> None:
        """Adds the tools of Map to the menu More if they do not fit into the row."""
        if self._in_menu:
            self._layers.fill(menu, self._more)
            menu.addAction(self._follow_action)
            menu.addSeparator()

    def _button_for(self, action: QAction) -> TextButton:
        button = TextButton(self._theme, action.text())
        button.follow(action)
        return button
