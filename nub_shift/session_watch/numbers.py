"""Unique numbers for windows."""

from __future__ import annotations

import time
from collections.abc import Collection, Hashable
from dataclasses import dataclass
from itertools import count


@dataclass(frozen=True)
class _Known:
    """A numbered window, with its process and the start time of the process."""

    number: int
    process: tuple[int, int]


class WindowNumbers:
    """Assigns numbers to windows by the server's key, the process, and its start time.

    Display servers reuse the numbers of closed windows. Numbers here begin with the machine's uptime, so that a later
    process does not reuse them either.
    """

    def __init__(self) -> None:
        self._next = count(time.monotonic_ns() // 1000)
        self._known: dict[Hashable, _Known] = {}

    def number_of(self, key: Hashable, process: tuple[int, int] = (0, 0)) -> int:
        """Returns the number of a window; a new one if the window now belongs to another process.

        Args:
            process: id and start time, 0 if unknown.
        """
        known = self._known.get(key)
        if known is None or known.process != process:
            known = self._known[key] = _Known(next(self._next), process)
        return known.number

    @property
    def keys(self) -> Collection[Hashable]:
        """Keys that have a number."""
        return self._known.keys()

    def forget(self, keys: Collection[Hashable]) -> None:
        """Forgets closed windows: a later window with the same key gets another number."""
        for key in keys:
            self._known.pop(key, None)
