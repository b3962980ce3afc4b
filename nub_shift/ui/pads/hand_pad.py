"""The simulated pad in play, in a small window of its own, beside any station or over a game."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QKeyEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.protocol.calls import WorkByHand
from nub_shift.protocol.messages import PadInfo
from nub_shift.translation import tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.pads_live import PadsLive
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.pads.lanes import PadLanes
from nub_shift.ui.widgets.plain import PlainLabel

_SIZE = (620, 350)


class HandPad(QObject):
    """Opens the window for the first player's simulated pad, and sends the held controls.

    A click gives the window no focus, so that a key still goes to the listening slot, and a game stays in front while
    the pad is pressed. `take_keys` gives it the focus, and Escape returns the focus.

    Attributes:
        window: the small window.

    Signals:
        open_changed(): opened or closed; an open window needs the subscription to pads.
        said(str): a line for the person.
    """

    open_changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, theme: Theme, around: QWidget, live: Live, pads: PadsLive, link: RunnerLink) -> None:
        super().__init__(around)
        self._live = live
        self._pads = pads
        self._link = link
        self._key = ""
        self._opening = False
        self.window = _PadWindow(theme, around)
        self.window.closed.connect(self._on_closed)
        self.window.lanes.held.connect(self._on_held)
        pads.connected_changed.connect(self._follow)
        pads.changed.connect(self._on_values)
        live.state_changed.connect(self._follow)

    @property
    def is_open(self) -> bool:
        """Whether the window is open, or about to open."""
        return self._opening or self.window.isVisible()

    def open(self) -> None:
        """Opens the window; if it is open, gives it the keyboard."""
        if self.window.isVisible():
            self.window.take_keys(True)
            return
        self._opening = True
        self.open_changed.emit()
        self._follow()

    def _follow(self) -> None:
        """Shows the pad of the first player, or closes the window if that is not simulated."""
        if not self.is_open:
            return
        pad = self._pads.pad(self._live.pad_key)
        if pad is None and self._opening and self._live.pad_key:
            return  # the subscription has just begun
        if pad is None or not pad.simulated:
            self._opening = False
            self.said.emit(tr("You do not play with a simulated pad: plug one in, in Pads"))
            if self.window.isVisible():
                self.window.close()
            else:
                self.open_changed.emit()
            return
        self._key = pad.key
        self.window.show_pad(pad)
        if self._opening:
            self._opening = False
            self.window.show()

    def _on_values(self) -> None:
        if self.window.isVisible():
            self.window.lanes.follow(self._pads.values.get(self._key, {}))

    def _on_held(self, held: dict[str, float]) -> None:
        self._link.notify(WorkByHand(self._key, held))

    def _on_closed(self) -> None:
        self._link.notify(WorkByHand(self._key, {}))  # releases all controls
        self.open_changed.emit()


class _PadWindow(QWidget):
    """The pad's controls as in Pads.

    Signals:
        closed(): closed by the person.
    """

    closed = pyqtSignal()

    def __init__(self, theme: Theme, around: QWidget) -> None:
        super().__init__(around, Qt.WindowType.Tool | Qt.WindowType.WindowStaysOnTopHint)
        self.setWindowFlag(Qt.WindowType.WindowDoesNotAcceptFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.lanes = PadLanes(theme)
        help_text = PlainLabel(
            tr("Press with the mouse. Ctrl+J: press with the space bar and arrow keys, Escape to go back.")
        )
        help_text.setFont(theme.font(0.85))
        help_text.setWordWrap(True)
        column = QVBoxLayout(self)
        column.addWidget(self.lanes, 1)
        column.addWidget(help_text)
        self.setObjectName("plain")
        self.resize(*(theme.px(length) for length in _SIZE))

    def show_pad(self, pad: PadInfo) -> None:
        """Shows the controls of a pad."""
        self.setWindowTitle(pad.name)
        self.lanes.show_pad(pad, None, ())

    def take_keys(self, on: bool) -> None:
        """Takes the keyboard, or returns it to the window behind."""
        self.setWindowFlag(Qt.WindowType.WindowDoesNotAcceptFocus, not on)
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating, not on)
        self.show()  # changing a flag hides a window
        if on:
            self.activateWindow()
            first = next(iter(self.lanes.instruments.values()), None)
            if first is not None and not self.lanes.isAncestorOf(self.focusWidget()):
                first.setFocus(Qt.FocusReason.OtherFocusReason)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.WindowDeactivate and self._accepts_focus:
            self.take_keys(False)
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.take_keys(False)
            around = self.parentWidget()
            if around is not None:
                around.activateWindow()
            return
        super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        self.closed.emit()

    @property
    def _accepts_focus(self) -> bool:
        return not self.windowFlags() & Qt.WindowType.WindowDoesNotAcceptFocus
