"""A connection whose events wake the window."""

from __future__ import annotations

from typing import Generic, Protocol, TypeVar

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal
from PyQt6.sip import voidptr


class Connection(Protocol):
    """A connection to read events from."""

    def fileno(self) -> int:
        """Returns the descriptor that becomes readable with events."""

    def close(self) -> None:
        """Closes the connection."""


C = TypeVar("C", bound=Connection)


class ConnectionNotifier(QObject, Generic[C]):
    """Polls one connection at a time, and closes it afterwards.

    Attributes:
        connection: polled connection.

    Signals:
        news(): the connection is readable.
    """

    news = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.connection: C | None = None
        self._notifier: QSocketNotifier | None = None

    def begin(self, connection: C) -> None:
        """Polls another connection from now on."""
        self.end()
        self.connection = connection
        self._notifier = QSocketNotifier(voidptr(connection.fileno()), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self.news)

    def end(self) -> None:
        """Stops polling and closes the connection."""
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None
        connection, self.connection = self.connection, None
        if connection is not None:
            connection.close()
