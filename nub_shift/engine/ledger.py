"""Who holds which key: down with the first holder, up with the last, and each long enough for a game to see it.

what is wanted    what is so    what follows
----------------  ------------  -------------------------------------------------------------------------------
down              up            goes down once it has been up for the shortest gap
up                down          goes up once it has been down for the shortest time
another than the  any           is queued behind what is to come, so that a quick press, release and press are two
last to come                    presses; of more than `MAX_QUEUED` changes the last two cancel each other

Times are those of the strictest of all who hold the key, or have held it since it went down.
"""

from __future__ import annotations

from dataclasses import dataclass
from operator import itemgetter
from typing import Final

from nub_shift.engine.budget import Budget
from nub_shift.engine.values import Key, Output

# Bound on queued changes of a key: two quick presses ahead.
MAX_QUEUED: Final = 4
_LONG_AGO_US: Final = -(1 << 62)


@dataclass(frozen=True, eq=False)
class KeyTimes:
    """Shortest times of a key, down and up. Each engine has its own instance, which also identifies the engine as a
    holder.
    """

    shortest_us: int = 0
    gap_us: int = 0


class _Key:
    """One key or mouse button.

    Attributes:
        holders: number of holds by the times of each holder.
        masks: number of masks that keep the key up.
        down, since_us: state on the output, and time of the last change.
        queued: pending changes.
        suppressed: held, but the output did not get the press.
        users: holders whose times apply until the next press.
        shortest_us, gap_us: the strictest of these times.
    """

    __slots__ = ("down", "gap_us", "holders", "masks", "queued", "shortest_us", "since_us", "suppressed", "users")

    def __init__(self) -> None:
        self.holders: dict[KeyTimes, int] = {}
        self.masks = 0
        self.down = False
        self.since_us = _LONG_AGO_US
        self.queued: list[bool] = []
        self.suppressed = False
        self.users: list[KeyTimes] = []  # unique; one or two in practice
        self.shortest_us = self.gap_us = 0

    @property
    def is_requested(self) -> bool:
        """Whether the key is held and not masked."""
        return bool(self.holders) and not self.masks

    @property
    def due_us(self) -> int:
        """Earliest time of the next change."""
        return self.since_us + (self.shortest_us if self.down else self.gap_us)

    def hold(self, times: KeyTimes) -> None:
        """Adds the first hold by these times."""
        self.holders[times] = 1
        if times not in self.users:
            self.use([*self.users, times])

    def use(self, users: list[KeyTimes]) -> None:
        """Applies the strictest of these times."""
        self.users = users
        self.shortest_us = max([times.shortest_us for times in users], default=0)
        self.gap_us = max([times.gap_us for times in users], default=0)


class Ledger:
    """Reference counts of every key and mouse button.

    Several engines may share one ledger; each releases only what it pressed. Presses beyond the budget are swallowed
    together with their releases.

    Attributes:
        waiting: due times of keys with a pending change.
    """

    def __init__(self) -> None:
        self._keys: dict[str, _Key] = {}
        self._budget = Budget()
        self.waiting: dict[str, int] = {}

    @property
    def down(self) -> tuple[str, ...]:
        """Codes of the keys that are down, in the order of their presses."""
        found = [(key.since_us, code) for code, key in self._keys.items() if key.down]
        return tuple(code for _, code in sorted(found, key=itemgetter(0)))

    def press(self, codes: tuple[str, ...], t_us: int, times: KeyTimes, out: list[Output]) -> None:
        """Adds a holder to each code, in order; the first holder emits the press."""
        keys = self._keys
        for code in codes:
            key = keys.get(code)
            if key is None:
                key = keys[code] = _Key()
            holders = key.holders
            if times in holders:
                holders[times] += 1
            else:
                key.hold(times)
            if not key.masks:
                self._want(code, key, True, t_us, out)

    def release(self, codes: tuple[str, ...], t_us: int, times: KeyTimes, out: list[Output]) -> None:
        """Removes a holder from each code, in reverse order; the last holder emits the release.

        Raises:
            KeyError: a code is not held by these times, a fault of the caller.
        """
        for code in reversed(codes):
            key = self._keys[code]
            count = key.holders.get(times, 0)
            if not count:
                raise KeyError(code)
            if count > 1:
                key.holders[times] = count - 1
                continue
            del key.holders[times]
            if not key.holders:
                self._want(code, key, False, t_us, out)

    def mask(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Keeps keys up for some time, whoever holds or taps them, so that a text is typed as written."""
        for code in codes:
            key = self._keys.setdefault(code, _Key())
            key.masks += 1
            key.queued.clear()
            self._want(code, key, False, t_us, out)
            self._note_waiting(code, key)

    def unmask(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Removes a mask; a key that is still held goes down again."""
        for code in codes:
            key = self._keys[code]
            key.masks -= 1
            if key.is_requested:
                self._want(code, key, True, t_us, out)

    def due_us(self) -> int | None:
        """Returns when the next pending change is due."""
        return min(self.waiting.values()) if self.waiting else None

    def settled_us(self, codes: tuple[str, ...]) -> int | None:
        """Returns when the next pending changes of these keys are through; None without any."""
        return max((self.waiting[code] for code in codes if code in self.waiting), default=None)

    def advance(self, due_us: int, now_us: int, out: list[Output]) -> None:
        """Emits the changes due by `due_us`, the earliest first, stamped `now_us`, which may be later."""
        while self.waiting:
            code, first_us = min(self.waiting.items(), key=itemgetter(1))
            if first_us > due_us:
                return
            key = self._keys[code]
            self._change(code, key, key.queued.pop(0), now_us, out)
            self._note_waiting(code, key)

    def settle(self, t_us: int, times: KeyTimes, out: list[Output]) -> None:
        """Emits pending releases of one owner at once.

        Keys used by other owners since the press stay down for as long as those need.
        """
        for code, key in self._keys.items():
            if times not in key.users or times in key.holders:
                continue
            key.use([other for other in key.users if other is not times])
            if not key.holders:
                key.queued.clear()
                key.suppressed = False
                if key.down:
                    self._want(code, key, False, t_us, out)
            self._note_waiting(code, key)

    def _want(self, code: str, key: _Key, down: bool, t_us: int, out: list[Output]) -> None:
        queued = key.queued
        if not queued:
            if down is (key.down or key.suppressed):
                return
            if t_us - key.since_us >= (key.shortest_us if key.down else key.gap_us):
                self._change(code, key, down, t_us, out)
                return
        elif down is queued[-1]:
            self._note_waiting(code, key)  # a stricter holder may have joined
            return
        if len(queued) >= MAX_QUEUED:
            queued.pop()
        else:
            queued.append(down)
        self._note_waiting(code, key)

    def _change(self, code: str, key: _Key, down: bool, t_us: int, out: list[Output]) -> None:
        if not down and key.suppressed:
            key.suppressed = False
            return
        if down:
            if key.holders and not key.queued and len(key.users) > len(key.holders):
                key.use(list(key.holders))
            if not self._budget.take(t_us):
                key.suppressed = True
                return
        key.down = down
        key.since_us = t_us
        out.append(Key(t_us, code, down))

    def _note_waiting(self, code: str, key: _Key) -> None:
        if key.queued:
            self.waiting[code] = key.due_us
        else:
            self.waiting.pop(code, None)


def drop_empty_presses(out: list[Output]) -> None:
    """Removes keys that go down and up again within one stop.

    Cutting a text unmasks the Shift of another slot, which releases Shift a moment later.
    """
    downs: dict[str, int] = {}
    empty: set[int] = set()
    for index, output in enumerate(out):
        if isinstance(output, Key):
            if output.down:
                downs[output.code] = index
            elif output.code in downs:
                empty |= {downs.pop(output.code), index}
    if empty:
        out[:] = [output for index, output in enumerate(out) if index not in empty]
