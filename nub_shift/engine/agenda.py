"""What is to happen later."""

from __future__ import annotations

from collections.abc import Callable
from heapq import heapify, heappop, heappush

Act = Callable[[int], None]


def earlier(one_us: int | None, other_us: int | None) -> int | None:
    """The earlier of two times, each of which may be never."""
    return one_us if other_us is None or (one_us is not None and one_us < other_us) else other_us


class Timer:
    """Something that will happen at `due_us`, unless it is cancelled."""

    __slots__ = ("act", "cancelled", "due_us", "order")

    def __init__(self, due_us: int, order: int, act: Act) -> None:
        self.due_us = due_us
        self.order = order
        self.act = act
        self.cancelled = False

    def cancel(self) -> None:
        """It will not happen. May be called at any time, also after it has."""
        self.cancelled = True

    def __lt__(self, other: Timer) -> bool:
        return (self.due_us, self.order) < (other.due_us, other.order)


class Agenda:
    """Timers in the order of their deadlines; equal ones in the order in which they were made.

    Attributes:
        timers: the heap; empty when nothing is to come, cancelled ones may still be among them.
    """

    def __init__(self) -> None:
        self.timers: list[Timer] = []
        self._made = 0

    def at(self, due_us: int, act: Act) -> Timer:
        """Has `act` called with its due time once that has come."""
        self._made += 1
        timer = Timer(due_us, self._made, act)
        heappush(self.timers, timer)
        return timer

    def due_us(self) -> int | None:
        """When the next timer is due."""
        heap = self.timers
        while heap and heap[0].cancelled:
            heappop(heap)
        return heap[0].due_us if heap else None

    def pop(self) -> Timer:
        """Takes the next timer out; to be called only when `due_us` has just given a time."""
        return heappop(self.timers)

    def postpone(self, by_us: int) -> None:
        """All timers come later: for a stretch of time that did not pass for us."""
        for timer in self.timers:
            timer.due_us += by_us
        heapify(self.timers)

    def clear(self) -> None:
        """Nothing is to happen any more."""
        for timer in self.timers:
            timer.cancelled = True
        self.timers.clear()
