"""Announcements for assistive tools: awaited input, and changes of state during play."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from nub_shift.editing.document import Document
from nub_shift.editing.waiting import Awaited, Waiting
from nub_shift.editing.words.changes import Present, change_words
from nub_shift.editing.words.waiting import waiting_words
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.messages import Messages


class Announcer(QObject):
    """Announces each change once. Demos are not announced, since they never end."""

    def __init__(self, document: Document, live: Live, waiting: Waiting, messages: Messages) -> None:
        super().__init__(messages)
        self._document = document
        self._live = live
        self._waiting = waiting
        self._messages = messages
        self._present = Present()
        self._waited = ""
        live.changed.connect(self._on_live)
        waiting.on_change(self._on_waiting)

    def _on_live(self) -> None:
        live = self._live
        now = Present(live.state is not None and live.state.live, live.layers, live.toggles)
        before, self._present = self._present, now
        if now != before and not live.is_automatic:
            self._say(change_words(self._document.profile, before, now))

    def _on_waiting(self) -> None:
        wait = self._waiting.wait
        text = ""
        if wait.awaited is not Awaited.NOTHING:
            text = waiting_words(self._document.profile, wait, True, True, self._document.layout())
        if text != self._waited:
            self._waited = text
            self._say(text)

    def _say(self, text: str) -> None:
        if text:
            self._messages.announce(text)
