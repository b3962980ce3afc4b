"""Notification of changes to the open profile's file from elsewhere."""

from __future__ import annotations

from PyQt6.QtCore import QFileSystemWatcher, QObject

from nub_shift.editing.document import Document


class FileWatch(QObject):
    """Watches the file of a document, and its folder, since a replaced file is a new one."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._on_news)
        self._watcher.directoryChanged.connect(self._on_news)

    def follow(self) -> None:
        """Watches the present file of the document."""
        wanted = {str(path) for path in (self._document.path, self._document.path.parent) if path.exists()}
        watched = {*self._watcher.files(), *self._watcher.directories()}
        if watched - wanted:
            self._watcher.removePaths(list(watched - wanted))
        if wanted - watched:
            self._watcher.addPaths(list(wanted - watched))

    def _on_news(self) -> None:
        self._document.check_file()
        self.follow()
