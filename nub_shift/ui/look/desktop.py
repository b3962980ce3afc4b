"""Appearance settings of the desktop: day or night, contrast, motion.

Read from the portal itself, since Qt passes on only some of them, and not on every desktop. The rest is taken from Qt,
as far as the installed version has it.
"""

from __future__ import annotations

from typing import Any, Final

from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal, pyqtSlot
from PyQt6.QtDBus import (
    QDBusConnection,
    QDBusMessage,
    QDBusPendingCallWatcher,
    QDBusPendingReply,
    QDBusServiceWatcher,
    QDBusVariant,
)
from PyQt6.QtGui import QGuiApplication

from nub_shift.ui.look.theme import DAY, DAY_CONTRAST, NIGHT, NIGHT_CONTRAST, Look

_SERVICE, _PATH = "org.freedesktop.portal.Desktop", "/org/freedesktop/portal/desktop"
_SETTINGS = "org.freedesktop.portal.Settings"
_APPEARANCE: Final = "org.freedesktop.appearance"
_Setting = tuple[str, str]
_SCHEME, _CONTRAST = (_APPEARANCE, "color-scheme"), (_APPEARANCE, "contrast")
_DARK, _LIGHT, _HIGH = 1, 2, 1
_SOON_MS = 100
# Names in the desktop portal, with the value that requests less motion; the second is of older desktops.
_LESS_MOTION: dict[_Setting, Any] = {
    (_APPEARANCE, "reduced-motion"): 1,
    ("org.gnome.desktop.interface", "enable-animations"): False,
}


def look_of(scheme: int = 0, contrast: int | None = None) -> Look:
    """Returns the look for the portal's colour scheme and contrast, or Qt's values in their absence."""
    hints = QGuiApplication.styleHints()
    dark = scheme == _DARK
    if hints is not None and scheme not in (_DARK, _LIGHT):
        dark = hints.colorScheme() is Qt.ColorScheme.Dark
    much = contrast == _HIGH
    if hints is not None and contrast is None and hasattr(hints, "accessibility"):  # Qt has it since 6.10
        access = hints.accessibility()
        much = access is not None and access.contrastPreference() is Qt.ContrastPreference.HighContrast
    if much:
        return NIGHT_CONTRAST if dark else DAY_CONTRAST
    return NIGHT if dark else DAY


class Desktop(QObject):
    """Watches the portal through D-Bus, including one that starts later, without blocking.

    Attributes:
        less_motion: whether less motion is requested.

    Signals:
        look_changed(): `look` may have changed.
        motion_changed(bool): whether less motion is requested.
    """

    look_changed = pyqtSignal()
    motion_changed = pyqtSignal(bool)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.less_motion = False
        self._values: dict[_Setting, object] = {}
        self._requested: list[QDBusPendingCallWatcher] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)  # several settings change together
        self._soon.timeout.connect(self.look_changed)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._on_scheme)
        self._bus = QDBusConnection.sessionBus()
        if not self._bus.isConnected():
            return
        self._bus.connect("", _PATH, _SETTINGS, "SettingChanged", self._on_news)
        came = QDBusServiceWatcher.WatchModeFlag.WatchForRegistration
        self._watcher = QDBusServiceWatcher(_SERVICE, self._bus, came, self)
        self._watcher.serviceRegistered.connect(self._ask)
        self._ask()

    def look(self) -> Look:
        """Look for day or night and contrast."""
        scheme, contrast = self._values.get(_SCHEME), self._values.get(_CONTRAST)
        return look_of(scheme if isinstance(scheme, int) else 0, contrast if isinstance(contrast, int) else None)

    def _ask(self, _service: str = "") -> None:
        self._requested.clear()
        for setting in (_SCHEME, _CONTRAST, *_LESS_MOTION):
            message = QDBusMessage.createMethodCall(_SERVICE, _PATH, _SETTINGS, "Read")
            message.setArguments(list(setting))
            watcher = QDBusPendingCallWatcher(self._bus.asyncCall(message), self)
            watcher.setProperty("setting", list(setting))
            watcher.finished.connect(self._on_answer)
            self._requested.append(watcher)

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
        self._take((namespace, key), value)

    def _take(self, setting: _Setting, value: object) -> None:
        while isinstance(value, QDBusVariant):  # older portals wrap values twice
            value = value.variant()
        if self._values.get(setting) == value and setting in self._values:
            return
        self._values[setting] = value
        if setting in (_SCHEME, _CONTRAST):
            self._soon.start()
            return
        less = any(self._values.get(known) == wanted for known, wanted in _LESS_MOTION.items())
        if less is not self.less_motion:
            self.less_motion = less
            self.motion_changed.emit(less)
