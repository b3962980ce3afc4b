"""Timers of the engine, kept in a heap."""

from __future__ import annotations

from collections.abc import Callable
from heapq import heapify, heappop, heappush

Act = Callable[[int], None]


def earlier(one_us: int | None, other_us: int | None) -> int | None:
    """Returns the earlier of two times; None stands for never."""
    return one_us if other_us is None or (one_us is not None and one_us < other_us) else other_us


class Timer:
    """Action due at `due_us` unless cancelled."""

    __slots__ = ("act", "cancelled", "due_us", "order")

    def __init__(self, due_us: int, order: int, act: Act) -> None:
        self.due_us = due_us
        self.order = order
        self.act = act
        self.cancelled = False

    def cancel(self) -> None:
        """Cancels the timer. May be called at any time, also after the timer has fired."""
        self.cancelled = True

    def __lt__(self, other: Timer) -> bool:
        return (self.due_us, self.order) < (other.due_us, other.order)


class Agenda:
    """Heap of timers, ordered by due time; equal times keep the order of their creation.

    Attributes:
        timers: the heap; may still contain cancelled timers while others are pending.
    """

    def __init__(self) -> None:
        self.timers: list[Timer] = []
        self._made = 0

    def at(self, due_us: int, act: Act) -> Timer:
        """Schedules `act`, which is called with its due time."""
        self._made += 1
        timer = Timer(due_us, self._made, act)
        heappush(self.timers, timer)
        return timer

    def due_us(self) -> int | None:
        """Returns the due time of the next timer, None without one."""
        heap = self.timers
        while heap and heap[0].cancelled:
            heappop(heap)
        return heap[0].due_us if heap else None

    def pop(self) -> Timer:
        """Removes and returns the next timer. Only to be called directly after `due_us` returned a time."""
        return heappop(self.timers)

    def postpone(self, by_us: int) -> None:
        """Delays all timers, after a suspension during which engine time stood still."""
        for timer in self.timers:
            timer.due_us += by_us
        heapify(self.timers)

    def clear(self) -> None:
        """Removes all timers."""
        for timer in self.timers:
            timer.cancelled = True
        self.timers.clear()
