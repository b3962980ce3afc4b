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

# Changes of one key that wait for their time. More than two quick presses ahead nobody can follow.
MAX_QUEUED: Final = 4
_LONG_AGO_US: Final = -(1 << 62)


@dataclass(frozen=True, eq=False)
class KeyTimes:
    """How long a key is down and up at the least. Each engine has its own, by which its keys are known as well."""

    shortest_us: int = 0
    gap_us: int = 0


class _Key:
    """One key or mouse button.

    Attributes:
        holders: how often it is held, by whose times.
        masks: how many keep it up.
        down, since_us: how it is on the output, and since when.
        queued: the changes to come.
        swallowed: it is down for its holders, but the output did not get it.
        users: whose times count until it goes down the next time.
        shortest_us, gap_us: the strictest of these.
    """

    __slots__ = ("down", "gap_us", "holders", "masks", "queued", "shortest_us", "since_us", "swallowed", "users")

    def __init__(self) -> None:
        self.holders: dict[KeyTimes, int] = {}
        self.masks = 0
        self.down = False
        self.since_us = _LONG_AGO_US
        self.queued: list[bool] = []
        self.swallowed = False
        self.users: list[KeyTimes] = []  # each once; they are one or two
        self.shortest_us = self.gap_us = 0

    @property
    def is_wanted(self) -> bool:
        """Whether it is held, and nobody keeps it up."""
        return bool(self.holders) and not self.masks

    @property
    def due_us(self) -> int:
        """When the next change may come."""
        return self.since_us + (self.shortest_us if self.down else self.gap_us)

    def hold(self, times: KeyTimes) -> None:
        """The first holder by these times."""
        self.holders[times] = 1
        if times not in self.users:
            self.use([*self.users, times])

    def use(self, users: list[KeyTimes]) -> None:
        """Goes by the strictest of these times from now on."""
        self.users = users
        self.shortest_us = max([times.shortest_us for times in users], default=0)
        self.gap_us = max([times.gap_us for times in users], default=0)


class Ledger:
    """Counts the holders of every key and mouse button.

    Several engines may share one ledger; each releases just what it pressed. Presses beyond its budget are swallowed
    together with their releases.

    Attributes:
        waiting: the keys of which a change waits for its time, and that time.
    """

    def __init__(self) -> None:
        self._keys: dict[str, _Key] = {}
        self._budget = Budget()
        self.waiting: dict[str, int] = {}

    @property
    def down(self) -> tuple[str, ...]:
        """The codes that are down, in the order in which they went down."""
        found = [(key.since_us, code) for code, key in self._keys.items() if key.down]
        return tuple(code for _, code in sorted(found, key=itemgetter(0)))

    def press(self, codes: tuple[str, ...], t_us: int, times: KeyTimes, out: list[Output]) -> None:
        """Adds a holder to each code, in order; the first holder sends a key down."""
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
        """Takes a holder from each code, in reverse order; the last holder sends a key up.

        Raises:
            KeyError: nobody with these times holds a code; that is a fault of the caller.
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
        """Keeps keys up for a while, whoever holds or taps them: a text is typed as it is written."""
        for code in codes:
            key = self._keys.setdefault(code, _Key())
            key.masks += 1
            key.queued.clear()
            self._want(code, key, False, t_us, out)
            self._note_waiting(code, key)

    def unmask(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Ends that; a key that is still held goes down again."""
        for code in codes:
            key = self._keys[code]
            key.masks -= 1
            if key.is_wanted:
                self._want(code, key, True, t_us, out)

    def due_us(self) -> int | None:
        """When the next change that waits may come."""
        return min(self.waiting.values()) if self.waiting else None

    def settled_us(self, codes: tuple[str, ...]) -> int | None:
        """When the changes of these keys have come that come next; None where none waits."""
        return max((self.waiting[code] for code in codes if code in self.waiting), default=None)

    def advance(self, due_us: int, now_us: int, out: list[Output]) -> None:
        """Sends the changes that are due by `due_us`, the earliest first, as `now_us`, which may be later."""
        while self.waiting:
            code, first_us = min(self.waiting.items(), key=itemgetter(1))
            if first_us > due_us:
                return
            key = self._keys[code]
            self._change(code, key, key.queued.pop(0), now_us, out)
            self._note_waiting(code, key)

    def settle(self, t_us: int, times: KeyTimes, out: list[Output]) -> None:
        """Sends up at once what the owner of these times has let go and still waits.

        What others have used since it went down stays for as long as they need.
        """
        for code, key in self._keys.items():
            if times not in key.users or times in key.holders:
                continue
            key.use([other for other in key.users if other is not times])
            if not key.holders:
                key.queued.clear()
                key.swallowed = False
                if key.down:
                    self._want(code, key, False, t_us, out)
            self._note_waiting(code, key)

    def _want(self, code: str, key: _Key, down: bool, t_us: int, out: list[Output]) -> None:
        queued = key.queued
        if not queued:
            if down is (key.down or key.swallowed):
                return
            if t_us - key.since_us >= (key.shortest_us if key.down else key.gap_us):
                self._change(code, key, down, t_us, out)
                return
        elif down is queued[-1]:
            self._note_waiting(code, key)  # a stricter holder may have come
            return
        if len(queued) >= MAX_QUEUED:
            queued.pop()
        else:
            queued.append(down)
        self._note_waiting(code, key)

    def _change(self, code: str, key: _Key, down: bool, t_us: int, out: list[Output]) -> None:
        if not down and key.swallowed:
            key.swallowed = False
            return
        if down:
            if key.holders and not key.queued and len(key.users) > len(key.holders):
                key.use(list(key.holders))
            if not self._budget.take(t_us):
                key.swallowed = True
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

    A text that is cut gives back the Shift that it withheld from a slot, and that slot releases it a moment later.
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
