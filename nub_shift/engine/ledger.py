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

    def press(self, code: str, t_us: int, out: list[Output]) -> None:
        """Adds a holder; the first one sends the key down."""
        count = self._holders.get(code, 0)
        self._holders[code] = count + 1
        if count == 0:
            out.append(Key(t_us, code, True))

    def release(self, code: str, t_us: int, out: list[Output]) -> None:
        """Takes a holder away; the last one sends the key up.

        Raises:
            KeyError: nobody holds `code`; that is a fault of the caller.
        """
        count = self._holders[code]
        if count > 1:
            self._holders[code] = count - 1
        else:
            del self._holders[code]
            out.append(Key(t_us, code, False))
