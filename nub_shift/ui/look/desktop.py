"""What the desktop says about how things are to be shown: day or night, contrast, motion."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage, QDBusPendingCallWatcher, QDBusPendingReply
from PyQt6.QtGui import QGuiApplication

from nub_shift.ui.look.theme import DAY, DAY_CONTRAST, NIGHT, NIGHT_CONTRAST, Look

_SERVICE, _PATH = "org.freedesktop.portal.Desktop", "/org/freedesktop/portal/desktop"
_SETTINGS = "org.freedesktop.portal.Settings"
_CONTRAST = ("org.freedesktop.appearance", "contrast")
_SOON_MS = 100
# What the desktop portal calls it, with the value that asks for less; the second is of older desktops.
_LESS_MOTION: dict[tuple[str, str], Any] = {
    ("org.freedesktop.appearance", "reduced-motion"): 1,
    ("org.gnome.desktop.interface", "enable-animations"): False,
}


def desktop_look() -> Look:
    """Day or night, with much contrast or not."""
    hints = QGuiApplication.styleHints()
    if hints is None:
        return DAY
    dark = hints.colorScheme() is Qt.ColorScheme.Dark
    access = hints.accessibility()
    if access is not None and access.contrastPreference() is Qt.ContrastPreference.HighContrast:
        return NIGHT_CONTRAST if dark else DAY_CONTRAST
    return NIGHT if dark else DAY


class Desktop(QObject):
    """Listens to the desktop, whose portal tells by D-Bus; nothing waits for its answers.

    Attributes:
        less_motion: less is to move.

    Signals:
        look_changed(): `desktop_look` may be another.
        motion_changed(bool): whether less is to move.
    """

    look_changed = pyqtSignal()
    motion_changed = pyqtSignal(bool)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.less_motion = False
        self._says: dict[tuple[str, str], bool] = {}
        self._asked: list[QDBusPendingCallWatcher] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self.look_changed)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._on_scheme)
        bus = QDBusConnection.sessionBus()
        if not bus.isConnected():
            return
        bus.connect("", _PATH, _SETTINGS, "SettingChanged", self._on_news)
        for setting in _LESS_MOTION:
            message = QDBusMessage.createMethodCall(_SERVICE, _PATH, _SETTINGS, "Read")
            message.setArguments(list(setting))
            watcher = QDBusPendingCallWatcher(bus.asyncCall(message), self)
            watcher.setProperty("setting", list(setting))
            watcher.finished.connect(self._on_answer)
            self._asked.append(watcher)

    def _on_scheme(self) -> None:
        self.look_changed.emit()

    def _on_answer(self, watcher: QDBusPendingCallWatcher) -> None:
        reply = QDBusPendingReply(watcher)
        namespace, key = watcher.property("setting")
        if reply.isValid():
            self._take((namespace, key), reply.reply().arguments()[0])

    @pyqtSlot(QDBusMessage)
    def _on_news(self, message: QDBusMessage) -> None:
        namespace, key, value = message.arguments()
        if (namespace, key) == _CONTRAST:
            self._soon.start()  # Qt hears of it too, and has a value for it that PyQt gives no signal for
        self._take((namespace, key), value)

    def _take(self, setting: tuple[str, str], value: object) -> None:
        if setting not in _LESS_MOTION:
            return
        self._says[setting] = value == _LESS_MOTION[setting]
        less = any(self._says.values())
        if less is not self.less_motion:
            self.less_motion = less
            self.motion_changed.emit(less)
