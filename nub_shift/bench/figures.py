"""One measured figure, and how a loop is timed."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from operator import truediv
from statistics import median


@dataclass(frozen=True)
class Figure:
    """A measurement against its limit.

    Attributes:
        limit: what it should be at most, or at least if `more_is_better`; None for a baseline.
        unseen: why it does not count: what was measured was not seen to happen. Empty if it was.
    """

    name: str
    value: float
    unit: str
    limit: float | None = None
    more_is_better: bool = False
    unseen: str = ""

    @property
    def holds(self) -> bool:
        """Whether the limit is kept, by something that was seen to happen."""
        if self.unseen:
            return False
        if self.limit is None:
            return True
        return self.value >= self.limit if self.more_is_better else self.value <= self.limit


@dataclass(frozen=True)
class Timed:
    """Time of a call of a work.

    Attributes:
        best: seconds, the best of all rounds, since all else on the machine only adds.
        ratio: how many times as long as the first work in the same round, the median of all rounds. A machine changes
            its pace from second to second, so that the best of two works may belong to different paces.
    """

    best: float
    ratio: float


def best_seconds(works: Sequence[Callable[[], object]], calls: int, rounds: int) -> list[float]:
    """Seconds a call for each of several works, the best of all rounds."""
    return [timed.best for timed in timed_by_turns(works, calls, rounds)]


def timed_by_turns(works: Sequence[Callable[[], object]], calls: int, rounds: int) -> list[Timed]:
    """Times each of several works, which take turns, so that a slow spell of the machine hits them alike."""
    taken: list[list[float]] = [[] for _ in works]
    gc.collect()
    gc.disable()
    try:
        for _ in range(rounds):
            for seconds, work in zip(taken, works, strict=True):
                start = time.perf_counter()
                for _ in range(calls):
                    work()
                seconds.append((time.perf_counter() - start) / calls)
    finally:
        gc.enable()
    return [Timed(min(own), median(map(truediv, own, taken[0]))) for own in taken]
