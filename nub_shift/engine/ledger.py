"""Who holds which key: down with the first holder, up with the last, and never down too shortly to be seen."""

from __future__ import annotations

from nub_shift.engine.budget import Budget
from nub_shift.engine.values import Key, Output


class Ledger:
    """Counts the holders of every key and mouse button.

    Several engines may share one ledger; each releases just what it pressed. A key whose last holder lets go before it
    has been down for the shortest time lingers until then.

    Presses beyond its budget are swallowed together with their releases.
    """

    def __init__(self) -> None:
        self._holders: dict[str, int] = {}
        self._since_us: dict[str, int] = {}
        self._swallowed: set[str] = set()
        self._budget = Budget()
        self.lingering: dict[str, int] = {}

    @property
    def down(self) -> tuple[str, ...]:
        """The codes that are held, in the order in which they went down, then those that linger."""
        return (*(code for code in self._holders if code not in self._swallowed), *self.lingering)

    def press(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Adds a holder to each code, in order; the first holder sends a key down.

        A key that lingers goes up first, so that the new press is seen as one.
        """
        holders = self._holders
        for code in codes:
            count = holders.get(code, 0)
            holders[code] = count + 1
            if count == 0:
                if code in self.lingering:
                    del self.lingering[code]
                    out.append(Key(t_us, code, False))
                if not self._budget.take(t_us):
                    self._swallowed.add(code)
                    continue
                self._since_us[code] = t_us
                out.append(Key(t_us, code, True))

    def release(self, codes: tuple[str, ...], t_us: int, shortest_us: int, out: list[Output]) -> None:
        """Takes a holder from each code, in reverse order; the last holder sends a key up, or leaves it lingering.

        Raises:
            KeyError: nobody holds a code; that is a fault of the caller.
        """
        holders = self._holders
        for code in reversed(codes):
            count = holders[code]
            if count > 1:
                holders[code] = count - 1
                continue
            del holders[code]
            if code in self._swallowed:
                self._swallowed.discard(code)
            elif t_us - self._since_us[code] >= shortest_us:
                out.append(Key(t_us, code, False))
            else:
                self.lingering[code] = self._since_us[code] + shortest_us

    def due_us(self) -> int | None:
        """When the next lingering key goes up."""
        return min(self.lingering.values()) if self.lingering else None

    def advance(self, now_us: int, out: list[Output]) -> None:
        """Sends up what has lingered long enough, the earliest first."""
        for code, due_us in sorted(self.lingering.items(), key=lambda item: item[1]):
            if due_us <= now_us:
                del self.lingering[code]
                out.append(Key(due_us, code, False))

    def settle(self, t_us: int, out: list[Output]) -> None:
        """Sends up all that lingers, at once."""
        out += [Key(t_us, code, False) for code in self.lingering]
        self.lingering.clear()
