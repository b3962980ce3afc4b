"""Who holds which key: down with the first holder, up with the last."""

from __future__ import annotations

from nub_shift.engine.values import Key, Output


class Ledger:
    """Counts the holders of every key and mouse button.

    Several engines may share one ledger; each releases just what it pressed.
    """

    def __init__(self) -> None:
        self._holders: dict[str, int] = {}

    @property
    def down(self) -> tuple[str, ...]:
        """The codes that are down, in the order in which they went down."""
        return tuple(self._holders)

    def press(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Adds a holder to each code, in order; the first holder sends a key down."""
        holders = self._holders
        for code in codes:
            count = holders.get(code, 0)
            holders[code] = count + 1
            if count == 0:
                out.append(Key(t_us, code, True))

    def release(self, codes: tuple[str, ...], t_us: int, out: list[Output]) -> None:
        """Takes a holder from each code, in reverse order; the last holder sends a key up.

        Raises:
            KeyError: nobody holds a code; that is a fault of the caller.
        """
        holders = self._holders
        for code in reversed(codes):
            count = holders[code]
            if count > 1:
                holders[code] = count - 1
            else:
                del holders[code]
                out.append(Key(t_us, code, False))
