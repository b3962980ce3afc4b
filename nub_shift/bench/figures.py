"""One measured figure, and how a loop is timed."""

from __future__ import annotations

import gc
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass


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


def best_seconds(works: Sequence[Callable[[], object]], calls: int, rounds: int) -> list[float]:
    """Seconds a call for each of several works: the best of all rounds, since all else on the machine only adds.

    The works take turns, so that a slow spell of the machine hits them alike.
    """
    best = [float("inf")] * len(works)
    gc.collect()
    gc.disable()
    try:
        for _ in range(rounds):
            for index, work in enumerate(works):
                start = time.perf_counter()
                for _ in range(calls):
                    work()
                best[index] = min(best[index], (time.perf_counter() - start) / calls)
    finally:
        gc.enable()
    return best
