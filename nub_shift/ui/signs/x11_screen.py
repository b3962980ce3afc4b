"""Pictures above everything on an X server: override-redirect windows that no click and no key reaches."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QPoint, QRect, QSocketNotifier, Qt
from PyQt6.QtGui import QBitmap, QCursor, QGuiApplication, QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget
from PyQt6.sip import voidptr

from nub_shift.front.x11 import X11Windows
from nub_shift.ui.signs.board import Spot
from nub_shift.ui.signs.painting import Picture

MARGIN = 24


class X11Screen(QObject):
    """A window for each picture, made as it is first shown, and above a window that has come to the front since.

    Without a compositing manager nothing shines through: then pictures are cut to their shape.
    """

    def __init__(self) -> None:
        super().__init__()
        self._panes: dict[str, _Pane] = {}
        self.scale = 1.0
        self.blends = False
        self._windows = X11Windows.connect()
        if self._windows is not None:
            self._windows.follow()
            self._notifier = QSocketNotifier(voidptr(self._windows.fileno()), QSocketNotifier.Type.Read, self)
            self._notifier.activated.connect(self._on_windows)
        self.look_again()

    def show(self, key: str, picture: Picture, spot: Spot) -> None:
        """See `Screen`."""
        pane = self._panes.get(key)
        if pane is None:
            pane = self._panes[key] = _Pane()
        pane.show_picture(picture, _place(picture, spot, _room()), self.blends)

    def hide(self, key: str) -> None:
        """See `Screen`."""
        pane = self._panes.pop(key, None)
        if pane is not None:
            pane.hide()
            pane.deleteLater()

    def close(self) -> None:
        """See `Screen`."""
        for key in list(self._panes):
            self.hide(key)
        if self._windows is not None:
            self._notifier.setEnabled(False)
            self._windows.close()
            self._windows = None

    def look_again(self) -> None:
        """See `Screen`."""
        screen = QGuiApplication.primaryScreen()
        self.scale = screen.devicePixelRatio() if screen is not None else 1.0
        if self._windows is not None:
            self.blends = self._windows.composes()

    def _on_windows(self) -> None:
        """A full-screen window that comes to the front is put over ours."""
        try:
            if self._windows is not None and self._windows.came():
                for pane in self._panes.values():
                    pane.raise_()
        except OSError:  # the server has gone, and Qt ends the process
            self._notifier.setEnabled(False)


def _room() -> QRect:
    """The screen on which the pointer is, where the game is most likely."""
    screen = QGuiApplication.screenAt(QCursor.pos()) or QGuiApplication.primaryScreen()
    return screen.geometry() if screen is not None else QRect()


def _place(picture: Picture, spot: Spot, room: QRect) -> QRect:
    size = picture.size
    left = room.width() - size.width() - 2 * MARGIN
    above = room.height() - size.height() - 2 * MARGIN
    at = QPoint(room.x() + MARGIN + round(left * spot.x), room.y() + MARGIN + round(above * spot.y))
    return QRect(at, size)


class _Pane(QWidget):
    """One picture. The flags are what keeps it out of the way, and out of the window manager's hands."""

    def __init__(self) -> None:
        super().__init__(
            None,
            Qt.WindowType.ToolTip
            | Qt.WindowType.BypassWindowManagerHint
            | Qt.WindowType.FramelessWindowHint
            | Qt.WindowType.WindowStaysOnTopHint
            | Qt.WindowType.WindowTransparentForInput
            | Qt.WindowType.WindowDoesNotAcceptFocus,
        )
        self.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.setAttribute(Qt.WidgetAttribute.WA_TranslucentBackground)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.setWindowTitle("Nub Shift sign")
        self._picture = QImage()
        self._outline: object = None

    def show_picture(self, picture: Picture, rect: QRect, blends: bool) -> None:
        """Shows it there, cut to its outline if nothing shines through."""
        if self.geometry() != rect:
            self.setGeometry(rect)
        outline = None if blends else (picture.outline, rect.size())
        if outline != self._outline:
            self._outline = outline
            if outline is None:
                self.clearMask()
            else:
                alone = picture.image.scaled(rect.size()) if picture.size != picture.image.size() else picture.image
                self.setMask(QBitmap.fromImage(alone.createAlphaMask()))
        self._picture = picture.image
        if self.isVisible():
            self.update()
        else:
            self.show()
        self.raise_()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        painter.drawImage(0, 0, self._picture)
        painter.end()
