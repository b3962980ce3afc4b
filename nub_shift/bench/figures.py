"""Measured figures, and timing of loops."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from operator import truediv
from statistics import median


@dataclass(frozen=True)
class Figure:
    """A measurement with its limit.

    Attributes:
        limit: upper limit, or lower limit if `more_is_better`; None for a baseline.
        unseen: reason why the figure does not count: the measured event was not observed. Empty if it was.
    """

    name: str
    value: float
    unit: str
    limit: float | None = None
    more_is_better: bool = False
    unseen: str = ""

    @property
    def holds(self) -> bool:
        """Whether the limit is kept by an observed event."""
        if self.unseen:
            return False
        if self.limit is None:
            return True
        return self.value >= self.limit if self.more_is_better else self.value <= self.limit


@dataclass(frozen=True)
class Timed:
    """Time of one call.

    Attributes:
        best: seconds, the best of all rounds, since other load only adds.
        ratio: median over rounds of the ratio to the first work in the same round. A machine changes its speed from
            second to second, so that the best times of two works may be of different speeds.
    """

    best: float
    ratio: float


def best_seconds(works: Sequence[Callable[[], object]], calls: int, rounds: int) -> list[float]:
    """Returns the seconds of one call of each work, the best of all rounds."""
    return [timed.best for timed in timed_by_turns(works, calls, rounds)]


def timed_by_turns(works: Sequence[Callable[[], object]], calls: int, rounds: int) -> list[Timed]:
    """Times works in alternation, so that slow spells of the machine affect them alike."""
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
