"""The rules of the library's profiles, kept up to date beside play, since a disk may be slow or hang.

A failed reading never counts as an empty library: the list stays, and reading is retried after a wait.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Final

from nub_shift.engine.agenda import earlier
from nub_shift.model.messages import Code, Message
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.profiles.folder_watch import FolderWatch
from nub_shift.runner.profiles.loading import LIMIT_US, Loading
from nub_shift.runner.profiles.reading import RuledProfile

log = logging.getLogger("nub_shift.runner")

# First wait before a retry of slow folders, doubled each time, as is the time limit.
FIRST_WAIT_US: Final = 1_000_000
LONGEST_WAIT_US: Final = 60_000_000
LONGEST_LIMIT_US: Final = 120_000_000
# Quiet time after a change, since editors may write a file in several steps.
SETTLE_US: Final = 200_000

# Modification time of each file in nanoseconds since the epoch.
Stamps = dict[str, int]


class RuleList:
    """Rules of the profiles in some folders.

    Attributes:
        ruled: result of the last reading.
        is_read: whether any reading has succeeded.
        is_late: whether the last reading was too slow.
    """

    def __init__(
        self,
        loading: Loading,
        folders: Sequence[Path],
        beside: BackgroundWork,
        say: Callable[[Message], None],
        clock: Callable[[], int],
    ) -> None:
        """`loading` serves this list alone, so that a slow library delays no edit."""
        self.ruled: list[RuledProfile] = []
        self.is_read = False
        self._loading = loading
        self._folders = folders
        self._beside = beside
        self._say = say
        self._clock = clock
        self._watch: FolderWatch | None = None
        self._changed: Callable[[], None] = lambda: None
        self._when_tried: list[Callable[[], None]] = []
        self._stamps: Stamps = {}
        self._listed: Stamps | None = None  # of the list; None if the list is incomplete
        self._reads = self._stale = False
        self._again_us: int | None = None  # time of the next check
        self._wait_us = FIRST_WAIT_US
        self._limit_us = LIMIT_US
        self.is_late = False

    def start(self, changed: Callable[[], None], when_tried: Callable[[], None]) -> None:
        """Begins to read. `changed` is called whenever files have changed, `when_tried` once, after the first
        attempt.
        """
        self._changed = changed
        self._when_tried.append(when_tried)
        self._watch = FolderWatch(self._folders)
        self._look()

    def close(self) -> None:
        """Ends reading."""
        if self._watch is not None:
            self._watch.close()
        self._loading.close()

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        return earlier(self._again_us, self._loading.due_us())

    def work(self, now_us: int) -> None:
        """Advances the time, and reads changed files."""
        self._loading.work(now_us)
        if self._watch is not None and self._watch.came:
            self._watch.came = False
            self._again_us = earlier(self._again_us, now_us + SETTLE_US)
        if self._again_us is not None and now_us >= self._again_us:
            self._again_us = None
            self._look()

    def changed(self, file: str) -> int | None:
        """Returns the modification time of a file in nanoseconds since the epoch; None if the file was missing."""
        return self._stamps.get(file)

    def retry(self) -> None:
        """Reads everything again after a wait."""
        self._again_us = earlier(self._again_us, self._clock() + self._wait_us)
        self._wait_us = min(2 * self._wait_us, LONGEST_WAIT_US)

    def _look(self) -> None:
        if self._reads:
            self._stale = True
            return
        self._reads = True
        self._beside.run(partial(_stamps_of, self._folders), self._on_stamps)

    def _on_stamps(self, stamps: Stamps) -> None:
        self._stamps = stamps
        if stamps == self._listed:
            self._on_tried()
        else:
            self._loading.list_rules(partial(self._on_listed, stamps), self._limit_us)

    def _on_listed(self, stamps: Stamps, ruled: list[RuledProfile] | None) -> None:
        if ruled is None:
            self._limit_us = min(2 * self._limit_us, LONGEST_LIMIT_US)
            self.retry()
            if not self.is_late:
                self.is_late = True
                self._say(Message(Code.RULES_NOT_READ))
        else:
            self._wait_us, self._limit_us, self.is_late = FIRST_WAIT_US, LIMIT_US, False
            self.ruled, self._listed, self.is_read = ruled, stamps, True
        self._on_tried()

    def _on_tried(self) -> None:
        self._reads = False
        waiting, self._when_tried = self._when_tried, []
        for call in waiting:
            call()
        self._changed()
        if self._stale:
            self._stale = False
            self._look()


def _stamps_of(folders: Sequence[Path]) -> Stamps:
    """Returns the modification time of each profile; a file written in place changes only its own time, not the
    folder's.
    """
    found: Stamps = {}
    for folder in folders:
        for path in folder.glob("*.toml"):
            try:
                found[str(path)] = path.stat().st_mtime_ns
            except OSError as error:  # deleted meanwhile; the folder reports that
                log.info("%s: %s", path, error)
    return found
