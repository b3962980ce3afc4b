"""Pictures above everything in a Wayland session with layer surfaces (wlr-layer-shell)."""

from __future__ import annotations

import logging
import mmap
import os
from math import ceil
from typing import Any, Final

from PyQt6.QtCore import QObject, QSize, QSocketNotifier
from PyQt6.QtGui import QGuiApplication, QImage, QScreen
from PyQt6.sip import voidptr
from pywayland.client import Display
from pywayland.protocol.wayland import WlCompositor, WlShm

from nub_shift.front.wayland import opened
from nub_shift.ui.signs.board import EDGES, MARGIN, Spot
from nub_shift.ui.signs.game_output import GameOutputs, Output
from nub_shift.ui.signs.layer_shell import NO_KEYBOARD, OVER_PANELS, OVERLAY, Anchor, LayerShell
from nub_shift.ui.signs.painting import Picture, within

log = logging.getLogger("nub_shift.ui")

_COMPOSITOR_VERSION: Final = 4
# Namespace of the surfaces for the compositor, without a meaning.
_NAMESPACE: Final = "nub-shift"


class Connection:
    """A connection to the compositor, with the globals that signs need.

    Attributes:
        globals: by interface.
        outputs: outputs that show the game.
    """

    def __init__(self, display: Display) -> None:
        self.display = display
        self.globals: dict[type, Any] = {}
        self.outputs = GameOutputs()
        wanted = {WlCompositor: _COMPOSITOR_VERSION, WlShm: 1, LayerShell: 1}

        def on_global(registry: Any, number: int, interface: str, version: int) -> None:
            for kind, most in wanted.items():
                if kind.name == interface:
                    self.globals[kind] = registry.bind(number, kind, min(most, version))
            self.outputs.take_global(registry, number, interface, version)

        self._registry = display.get_registry()
        self._registry.dispatcher["global"] = on_global
        self._registry.dispatcher["global_remove"] = self.outputs.drop_global
        for _ in range(3):  # globals; windows and outputs; their properties
            display.roundtrip()

    @property
    def has_layers(self) -> bool:
        """Whether the compositor has everything that signs need."""
        return len(self.globals) == 3

    @classmethod
    def open(cls) -> Connection | None:
        """Connects; None unless this is a Wayland session with layer surfaces."""
        display = opened()
        if display is None:
            return None
        found = cls(display)
        if not found.has_layers:
            display.disconnect()
            return None
        return found


class LayerScreen(QObject):
    """A surface for each picture, on the output of the game, or one chosen by the compositor.

    A surface cannot change outputs: a visible picture gets a new surface when the game moves.
    """

    blends = True

    def __init__(self, connection: Connection) -> None:
        super().__init__()
        self.scale = 1.0
        self._connection = connection
        self._panes: dict[str, _Pane] = {}
        self._shown: dict[str, tuple[Picture, Spot]] = {}
        self._count = connection.outputs.count
        self._notifier = QSocketNotifier(voidptr(connection.display.get_fd()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._read)
        self.look_again()

    def show(self, key: str, picture: Picture, spot: Spot) -> None:
        """See `Screen`."""
        self._shown[key] = picture, spot
        output = self._connection.outputs.of_game
        pane = self._panes.get(key)
        if pane is not None and (pane.closed or pane.output is not output):
            pane.close()
            pane = None
        if pane is None:
            pane = self._panes[key] = _Pane(self._connection, output)
        pane.show_picture(picture, spot, self._room())
        self._flush()

    def hide(self, key: str) -> None:
        """See `Screen`."""
        self._shown.pop(key, None)
        pane = self._panes.pop(key, None)
        if pane is not None:
            pane.close()
            self._flush()

    def close(self) -> None:
        """See `Screen`."""
        for key in list(self._panes):
            self.hide(key)
        self._notifier.setEnabled(False)
        self._connection.display.disconnect()

    def look_again(self) -> None:
        """See `Screen`."""
        screen = self._screen()
        self.scale = float(ceil(screen.devicePixelRatio())) if screen is not None else 1.0

    def _screen(self) -> QScreen | None:
        """Returns Qt's screen of the game's output."""
        output = self._connection.outputs.of_game
        named = (screen for screen in QGuiApplication.screens() if output is not None and screen.name() == output.name)
        return next(named, QGuiApplication.primaryScreen())

    def _room(self) -> QSize:
        screen = self._screen()
        return screen.size() if screen is not None else QSize()

    def _read(self) -> None:
        try:
            self._connection.display.read()
            self._connection.display.dispatch(block=False)
        except RuntimeError as error:  # the session has ended
            log.warning("the compositor has gone: %s", error)
            self._notifier.setEnabled(False)
            QGuiApplication.exit(0)
            return
        outputs = self._connection.outputs
        if outputs.count != self._count:
            self._count = outputs.count
            self.look_again()
            for key, (picture, spot) in list(self._shown.items()):
                self.show(key, picture, spot)
        self._flush()

    def _flush(self) -> None:
        self._connection.outputs.settle(self._connection.display)


class _Buffer:
    """Shared memory with a picture for the compositor, reusable after its release."""

    def __init__(self, connection: Connection, image: QImage) -> None:
        self.size = image.width(), image.height(), image.bytesPerLine()
        self.busy = False
        length = image.sizeInBytes()
        fd = os.memfd_create("nub-shift sign", os.MFD_CLOEXEC)
        try:
            os.ftruncate(fd, length)
            self._memory = mmap.mmap(fd, length)
            pool = connection.globals[WlShm].create_pool(fd, length)
            self.proxy = pool.create_buffer(0, *self.size, WlShm.format.argb8888.value)
            pool.destroy()
        finally:
            os.close(fd)
        self.proxy.dispatcher["release"] = self._on_release

    def fill(self, image: QImage) -> None:
        """Copies an image: Qt's premultiplied ARGB32 is Wayland's argb8888."""
        bits = image.constBits()
        assert bits is not None
        self._memory[:] = bits.asstring(image.sizeInBytes())

    def close(self) -> None:
        """Frees the memory."""
        self.proxy.destroy()
        self._memory.close()

    def _on_release(self, _proxy: Any) -> None:
        self.busy = False


class _Pane:
    """One picture on a surface that takes neither keys nor clicks.

    Attributes:
        output: its output; None for the compositor's choice.
        closed: its output has gone, and the surface is invisible.
    """

    def __init__(self, connection: Connection, output: Output | None) -> None:
        self.output = output
        self.closed = False
        self._connection = connection
        self._buffers: list[_Buffer] = []
        self._picture: Picture | None = None
        self._arranged: tuple[object, ...] = ()
        self._ready = False
        compositor = connection.globals[WlCompositor]
        self._surface = compositor.create_surface()
        where = output.proxy if output is not None else None
        self._layer = connection.globals[LayerShell].get_layer_surface(self._surface, where, OVERLAY, _NAMESPACE)
        self._layer.dispatcher["configure"] = self._on_configure
        self._layer.dispatcher["closed"] = self._on_closed
        self._layer.set_keyboard(NO_KEYBOARD)
        self._layer.set_exclusive_zone(OVER_PANELS)
        nothing = compositor.create_region()
        self._surface.set_input_region(nothing)
        nothing.destroy()

    def show_picture(self, picture: Picture, spot: Spot, room: QSize) -> None:
        """Shows a picture at a spot of an output of that size, once the compositor has configured the surface."""
        self._picture = within(picture, room.shrunkBy(EDGES))
        size = self._picture.size
        arranged = size, spot, room
        if arranged != self._arranged:
            self._arranged = arranged
            self._layer.set_size(size.width(), size.height())
            self._arrange(spot, size, room)
            if not self._ready:
                self._surface.commit()  # without a picture, to request a configuration
        if self._ready:
            self._paint()

    def close(self) -> None:
        """Destroys the surface."""
        self._ready = False
        self._layer.destroy()
        self._surface.destroy()
        for buffer in self._buffers:
            buffer.close()

    def _arrange(self, spot: Spot, size: QSize, room: QSize) -> None:
        """Anchors the surface to an edge for a spot at an edge, centres it for the middle, else sets margins."""
        across = _held(spot.x, Anchor.LEFT, Anchor.RIGHT, room.width(), size.width())
        down = _held(spot.y, Anchor.TOP, Anchor.BOTTOM, room.height(), size.height())
        self._layer.set_anchor(int(across[0] | down[0]))
        self._layer.set_margin(down[1], MARGIN, MARGIN, across[1])

    def _on_configure(self, _proxy: Any, serial: int, _width: int, _height: int) -> None:
        self._layer.ack_configure(serial)
        self._ready = True
        self._paint()

    def _on_closed(self, _proxy: Any) -> None:
        self._ready = False
        self.closed = True

    def _paint(self) -> None:
        if self._picture is None:
            return
        image = self._picture.image
        buffer = self._free_buffer(image)
        buffer.fill(image)
        buffer.busy = True
        self._surface.set_buffer_scale(round(image.devicePixelRatio()))
        self._surface.attach(buffer.proxy, 0, 0)
        self._surface.damage_buffer(0, 0, image.width(), image.height())
        self._surface.commit()

    def _free_buffer(self, image: QImage) -> _Buffer:
        size = image.width(), image.height(), image.bytesPerLine()
        free = [buffer for buffer in self._buffers if not buffer.busy]
        for buffer in free:
            if buffer.size == size:
                return buffer
            self._buffers.remove(buffer)
            buffer.close()
        made = _Buffer(self._connection, image)
        self._buffers.append(made)
        return made


def _held(share: float, low: Anchor, high: Anchor, room: int, length: int) -> tuple[Anchor, int]:
    """Returns the anchored edge of an axis, and the margin from the low one."""
    if share == 0.5:
        return Anchor(0), 0
    if share == 1.0:
        return high, 0
    return low, MARGIN + round(max(0, room - length - 2 * MARGIN) * share)
