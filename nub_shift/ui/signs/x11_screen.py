"""Pictures above everything on an X server: override-redirect windows without clicks or keys."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QObject, QPoint, QRect, QSize, QSocketNotifier, Qt
from PyQt6.QtGui import (
    QBackingStore,
    QBitmap,
    QCursor,
    QExposeEvent,
    QGuiApplication,
    QImage,
    QPainter,
    QRegion,
    QSurfaceFormat,
    QWindow,
)
from PyQt6.sip import voidptr

from nub_shift.front.x11 import X11Windows
from nub_shift.ui.signs.board import EDGES, Spot
from nub_shift.ui.signs.painting import Picture, within


class X11Screen(QObject):
    """A window for each picture, created at first use, and raised above a window that has come to the front.

    Without a compositing manager windows cannot be translucent, and pictures are cut to their shape.
    """

    def __init__(self) -> None:
        super().__init__()
        self._panes: dict[str, _Pane] = {}
        self.scale = 1.0
        self.blends = False
        self._room: QRect | None = None  # of the game's screen; None until needed, and after each change of windows
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
        room = self._room
        if room is None:
            room = self._room_of_game()
            self._on_windows()  # events read during queries are queued in the library, and wake no poll
            self._room = room
        picture = within(picture, room.size().shrunkBy(EDGES))
        pane.show_picture(picture, _place(picture, spot, room), self.blends)

    def hide(self, key: str) -> None:
        """See `Screen`."""
        pane = self._panes.pop(key, None)
        if pane is not None:
            pane.destroy()
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
            self.blends = self._windows.has_compositor()
            self._on_windows()  # events read during queries are queued in the library, and wake no poll

    def _room_of_game(self) -> QRect:
        """Returns the screen of the game: the one with most of the window in front, else that of the pointer."""
        try:
            window = self._windows.in_front() if self._windows is not None else 0
            place = self._windows.place(window) if self._windows is not None and window else None
        except OSError:
            place = None
        screens = QGuiApplication.screens()
        rooms = [screen.geometry() for screen in screens]
        if place is not None and screens:
            scales = [screen.devicePixelRatio() for screen in screens]
            return rooms[screen_with_most(QRect(*place), rooms, scales)]
        screen = QGuiApplication.screenAt(QCursor.pos()) or QGuiApplication.primaryScreen()
        return screen.geometry() if screen is not None else QRect()

    def _on_windows(self) -> None:
        """Raises our windows above a full-screen window in front, and updates the game's screen."""
        self._room = None
        try:
            if self._windows is not None and self._windows.came():
                for pane in self._panes.values():
                    pane.raise_()
        except OSError:  # the server has gone, and Qt ends the process
            self._notifier.setEnabled(False)


def screen_with_most(window: QRect, rooms: Sequence[QRect], scales: Sequence[float]) -> int:
    """Returns the index of the screen with most of a window.

    Args:
        window: in pixels.
        rooms: screens with corners in pixels and logical sizes, as in Qt on an X server.
        scales: device pixels per pixel of each screen.
    """
    shares = []
    for room, scale in zip(rooms, scales, strict=True):
        whole = QRect(room.topLeft(), QSize(round(room.width() * scale), round(room.height() * scale)))
        shared = whole.intersected(window)
        shares.append(max(shared.width(), 0) * max(shared.height(), 0))
    return shares.index(max(shares))


def _place(picture: Picture, spot: Spot, room: QRect) -> QRect:
    """Returns the place of a picture that fits into the screen with its margins."""
    inner, size = room.marginsRemoved(EDGES), picture.size
    x = round((inner.width() - size.width()) * spot.x)
    y = round((inner.height() - size.height()) * spot.y)
    return QRect(inner.topLeft() + QPoint(x, y), size)


class _Pane(QWindow):
    """One picture, in a window with flags that exclude it from focus and window management.

    Painted at once and not by the event loop, since a ring has to follow its stick.
    """

    def __init__(self) -> None:
        super().__init__()
        self.setFlags(
            Qt.WindowType.ToolTip
            | Qt.WindowType.BypassWindowManagerHint
            | Qt.WindowType.FramelessWindowHint
            | Qt.WindowType.WindowStaysOnTopHint
            | Qt.WindowType.WindowTransparentForInput
            | Qt.WindowType.WindowDoesNotAcceptFocus
        )
        pixels = QSurfaceFormat()
        pixels.setAlphaBufferSize(8)
        self.setFormat(pixels)
        self.setTitle("Nub Shift sign")
        self.setSurfaceType(QWindow.SurfaceType.RasterSurface)
        self._store = QBackingStore(self)
        self._picture = QImage()
        self._outline: object = None

    def show_picture(self, picture: Picture, rect: QRect, blends: bool) -> None:
        """Shows a picture, cut to its outline without blending."""
        if self.geometry() != rect:
            self.setGeometry(rect)
        outline = None if blends else (picture.outline, rect.size())
        if outline != self._outline:
            self._outline = outline
            self.setMask(QRegion() if outline is None else _outline(picture, rect.size()))
        part = picture.changed if picture.image is self._picture and self._store.size() == rect.size() else QRect()
        self._picture = picture.image
        if self._store.size() != rect.size():
            self._store.resize(rect.size())
        if self.isVisible():
            self._paint(part)
        else:
            self.show()
            self.raise_()

    def exposeEvent(self, _event: QExposeEvent | None) -> None:
        if self.isExposed():
            self._paint(QRect())

    def _paint(self, part: QRect) -> None:
        """Paints a part, or everything if it is empty."""
        region = QRegion(part if not part.isEmpty() else QRect(QPoint(), self.size()))
        self._store.beginPaint(region)
        device = self._store.paintDevice()
        if device is not None:
            painter = QPainter(device)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            painter.setClipRegion(region)
            painter.drawImage(0, 0, self._picture)
            painter.end()
        self._store.endPaint()
        self._store.flush(region)


def _outline(picture: Picture, size: QSize) -> QRegion:
    image = picture.image.scaled(size) if picture.image.size() != size else picture.image
    return QRegion(QBitmap.fromImage(image.createAlphaMask()))
