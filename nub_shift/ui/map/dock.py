"""Place of the opened control, always the same, so that nothing moves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.advice.relocation import Displaced
from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Awaited, WaitEvent, Waiting
from nub_shift.editing.words.lacking import lacking_words
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.translation import tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.grid_shape import columns, shown_slots
from nub_shift.ui.map.wait_line import WaitLine
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip

if TYPE_CHECKING:
    from nub_shift.ui.map.editor.control_editor import ControlEditor

HEIGHT = 270


class Dock(QWidget):
    """The awaited input, and below it the opened control.

    Attributes:
        opened: the opened control, or None.
        wait_line: text of the wait.
        overview: free moves and controls, while no control is open.
        find_places: offers places for controls that this pad lacks, while needed and no control is open.

    Signals:
        changed(str): name of the opened control; empty for none.
        closed(): the person has closed the control.
        feel_requested(str, str): control and layer to show in Feel.
        places_requested(): `find_places` was pressed.
        refused(str): reason for a refused input.
    """

    changed = pyqtSignal(str)
    closed = pyqtSignal()
    places_requested = pyqtSignal()
    feel_requested = pyqtSignal(str, str)
    refused = pyqtSignal(str)

    def __init__(
        self, theme: Theme, document: Document, live: Live, waiting: Waiting, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.theme = theme
        self.opened: ControlEditor | None = None
        self._editor: ControlEditor | None = None  # created at first use
        self._document = document
        self._live = live
        self._waiting = waiting
        waiting.on_change(self._follow_waiting)
        self._layer_id = BASE_LAYER
        self.wait_line = WaitLine(theme, waiting, document)
        self._scroll = quiet_scroll()  # for large fonts
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(3), 0, theme.px(2))
        column.setSpacing(0)
        column.addWidget(self.wait_line)
        self._lacks = QWidget()
        self._lacking = PlainLabel()
        self._lacking.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.find_places = TextButton(theme, tr("Find places …"), tr("Choose controls of this pad instead"))
        self.find_places.clicked.connect(self.places_requested)
        row = QHBoxLayout(self._lacks)
        row.setContentsMargins(theme.px(10), theme.px(2), theme.px(6), 0)
        row.addWidget(self._lacking, 1)
        row.addWidget(self.find_places)
        self._displaced: Sequence[Displaced] = ()
        column.addWidget(self._lacks)
        self.overview = PlainLabel()
        self.overview.setWordWrap(True)
        self.overview.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.overview.setContentsMargins(theme.px(10), theme.px(6), theme.px(10), 0)
        self.overview.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        column.addWidget(self.overview, 1)
        column.addWidget(self._scroll, 1)
        self._low = False
        self._room = theme.px(HEIGHT)
        self._is_tight = False
        self.show_displaced(())

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(400), self._height(self.theme.px(HEIGHT)))

    def hasHeightForWidth(self) -> bool:
        """Returns False: the height does not depend on the text."""
        return False

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(240), self._height(self.theme.px(110)))

    def _height(self, opened: int) -> int:
        """Returns the height: of the line alone while another part has the room, else with the control or the
        overview.
        """
        line = self.wait_line.sizeHint().height() + (self._lacks.sizeHint().height() if self._lacks.isVisible() else 0)
        if self._low:
            return line
        if self.opened is not None:
            return opened
        waits = self._waiting.wait.awaited is not Awaited.NOTHING
        if self._is_tight and self._room < line and not waits and not self._displaced:
            return 0
        return max(line, min(self._room, opened))

    def set_room(self, height: int, is_tight: bool) -> None:
        """Sets the height without an opened control; in a tight station 0, unless a press is awaited."""
        self._room, self._is_tight = height, is_tight
        self.updateGeometry()

    def show_fullness(self, found: Sequence[tuple[str, str]]) -> None:
        """Sets the overview shown without an opened control."""
        self.overview.setText("\n".join(f"{heading}: {line}" for heading, line in found))

    def _show_parts(self) -> None:
        """Shows the opened control, or the overview and missing controls."""
        self._lacks.setVisible(bool(self._displaced) and self.opened is None and not self._low)
        self._scroll.setVisible(not self._low and self.opened is not None)
        fits = self.height() >= self._height(0) + self.overview.heightForWidth(self.width())
        self.overview.setVisible(not self._low and self.opened is None and fits)
        self.updateGeometry()

    def show_displaced(self, found: Sequence[Displaced]) -> None:
        """Sets the missing controls shown without an opened control."""
        self._displaced = found
        self._lacking.setText(lacking_words(found))
        set_tooltip(self._lacking, self._lacking.text())
        self._show_parts()

    def set_low(self, low: bool) -> None:
        """Reduces the dock to the line of the wait, while another part has the room."""
        self._low = low
        self._show_parts()

    def show_layer(self, layer_id: str) -> None:
        """Follows an edit, or shows another layer."""
        self._layer_id = layer_id
        self.wait_line.update_profile()
        opened = self.opened
        if opened is None:
            return
        profile = self._document.profile
        layers = columns(profile, layer_id)
        if opened.grid.layers == layers and opened.grid.slots == shown_slots(profile, opened.control.name):
            opened.show_profile(profile)
        else:
            opened.show_layers(layers, layer_id)

    def open_control(self, name: str) -> ControlEditor:
        """Opens a control in place of another."""
        if self.opened is not None and self.opened.control.name == name:
            return self.opened
        self._close()
        layers = columns(self._document.profile, self._layer_id)
        opened = self._editor or self._made()
        opened.show_control(name, self._live.printed, layers)
        opened.fit(self.width())
        opened.show()
        self.opened = opened
        self._show_parts()
        self.wait_line.set_opened(True)
        self.changed.emit(name)
        return opened

    def _made(self) -> ControlEditor:
        from nub_shift.ui.map.editor.control_editor import ControlEditor  # takes time, and is needed later

        editor = self._editor = ControlEditor(self.theme, self._document, self._waiting)
        editor.closed.connect(self._on_closed)
        editor.refused.connect(self.refused)
        editor.feel_requested.connect(self.feel_requested)
        self._scroll.setWidget(editor)
        return editor

    def close_control(self) -> None:
        """Closes the opened control."""
        if self.opened is not None:
            self._close()
            self._show_parts()
            self.wait_line.set_opened(False)
            self.changed.emit("")

    def _close(self) -> None:
        opened, self.opened = self.opened, None
        if opened is None:
            return
        if self._waiting.for_slot:
            self._waiting.handle_event(WaitEvent.CANCELLED)
        opened.hide()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._show_parts()
        if self.opened is not None:
            self.opened.fit(self.width())

    def _follow_waiting(self) -> None:
        if self._is_tight:
            self.updateGeometry()
        if self.opened is not None:
            self.opened.update_waiting()

    def _on_closed(self) -> None:
        self.close_control()
        self.closed.emit()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.theme.colour("raised", 200))
        painter.setPen(QPen(self.theme.colour("line"), 1))
        painter.drawLine(0, 0, self.width(), 0)
