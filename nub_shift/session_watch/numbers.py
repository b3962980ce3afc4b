"""Numbers for windows, of which none is ever used for two of them."""

from __future__ import annotations

import time
from collections.abc import Collection, Hashable
from dataclasses import dataclass
from itertools import count


@dataclass(frozen=True)
class _Known:
    """A window that has a number, and the process behind it with the time of its start."""

    number: int
    process: tuple[int, int]


class WindowNumbers:
    """Hands out numbers by what a window is called where it is shown, its process, and when that was started.

    Display servers use their own numbers again as soon as a window has gone. Numbers here are of this machine's uptime,
    so that another process after this one does not use them again either.
    """

    def __init__(self) -> None:
        self._next = count(time.monotonic_ns() // 1000)
        self._known: dict[Hashable, _Known] = {}

    def number_of(self, key: Hashable, process: tuple[int, int] = (0, 0)) -> int:
        """The number of the window of that key; another one where the process behind the key is another.

        Args:
            process: its id and when it was started, 0 where that is not known.
        """
        known = self._known.get(key)
        if known is None or known.process != process:
            known = self._known[key] = _Known(next(self._next), process)
        return known.number

    @property
    def keys(self) -> Collection[Hashable]:
        """The keys that have a number."""
        return self._known.keys()

    def forget(self, keys: Collection[Hashable]) -> None:
        """Forgets windows that have gone: the next window with the same key is another one."""
        for key in keys:
            self._known.pop(key, None)
