"""What the runner asks of any output, and the ledger's last line of defence."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from nub_shift.engine.values import Key, Output
from nub_shift.model.messages import Saying


class OutputError(Saying):
    """An output cannot be opened or has failed; the message says why."""


class OutputDevice(Protocol):
    """Where engine outputs go."""

    def send(self, outputs: list[Output]) -> None:
        """Sends the outputs of one step.

        Raises:
            OutputError: the system did not take them.
        """

    @property
    def holds(self) -> bool:
        """Whether anything that was sent is down, and would stay down if this process hung."""

    def beat(self) -> None:
        """Sends a sign of life to the watcher: at least every `BEAT_US` while it `holds`, and once after that.

        Raises:
            OutputError: the watcher has gone.
        """

    def fileno(self) -> int:
        """A descriptor that becomes readable when the receiver goes; -1 if there is none."""

    def check(self) -> None:
        """To be called when that is readable.

        Raises:
            OutputError: the receiver has gone.
        """

    def close(self) -> None:
        """Releases whatever is still down, then closes. May be called twice."""


class DownKeys:
    """What was sent down and not up, kept by each output for itself, whatever the engine believes."""

    def __init__(self) -> None:
        self._down: dict[str, None] = {}

    def __bool__(self) -> bool:
        return bool(self._down)

    def note(self, outputs: Iterable[Output]) -> None:
        """Remembers what these outputs press and release."""
        for output in outputs:
            if isinstance(output, Key):
                if output.down:
                    self._down[output.code] = None
                else:
                    self._down.pop(output.code, None)

    def releases(self, t_us: int = 0) -> list[Output]:
        """What would release everything, last pressed first."""
        return [Key(t_us, code, False) for code in reversed(self._down)]


class WheelClicks:
    """Collects 120ths of a wheel click into whole clicks, for receivers that know only those."""

    def __init__(self) -> None:
        self._rest = [0, 0]

    def take(self, axis: int, amount: int) -> int:
        """Adds to an axis (0: x, 1: y); returns the whole clicks that are now complete."""
        clicks, self._rest[axis] = _divided(self._rest[axis] + amount, 120)
        return clicks


def _divided(amount: int, unit: int) -> tuple[int, int]:
    """Quotient towards zero, and the rest."""
    whole = int(amount / unit)
    return whole, amount - whole * unit
