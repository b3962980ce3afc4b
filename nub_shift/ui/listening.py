"""A connection whose news wake the window."""

from __future__ import annotations

from typing import Generic, Protocol, TypeVar

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal
from PyQt6.sip import voidptr


class Connection(Protocol):
    """A connection that events are read from."""

    def fileno(self) -> int:
        """The descriptor that becomes readable with news."""

    def close(self) -> None:
        """Hangs up."""


C = TypeVar("C", bound=Connection)


class Listening(QObject, Generic[C]):
    """Listens to one connection at a time, and closes it afterwards.

    Attributes:
        connection: the one that is listened to.

    Signals:
        news(): there is something to read.
    """

    news = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.connection: C | None = None
        self._notifier: QSocketNotifier | None = None

    def begin(self, connection: C) -> None:
        """Listens to this one from now on."""
        self.end()
        self.connection = connection
        self._notifier = QSocketNotifier(voidptr(connection.fileno()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self.news)

    def end(self) -> None:
        """Listens no more."""
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None
        connection, self.connection = self.connection, None
        if connection is not None:
            connection.close()
