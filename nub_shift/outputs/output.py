"""Interface of outputs for the runner, with a second record of keys that are down."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol, assert_never

from nub_shift.engine.values import Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.model.messages import MessageError


class OutputError(MessageError):
    """An output cannot be opened or has failed; the message gives the reason."""


class OutputDevice(Protocol):
    """Destination of engine outputs."""

    def send(self, outputs: list[Output]) -> None:
        """Sends the outputs of one step.

        Raises:
            OutputError: the system did not accept the outputs.
        """

    @property
    def holds(self) -> bool:
        """Whether any sent key is down and would stay down if this process hung."""

    def beat(self) -> None:
        """Sends a heartbeat to the watcher: at least every `BEAT_US` while it `holds`, and once afterwards.

        Raises:
            OutputError: the watcher has gone.
        """

    def fileno(self) -> int:
        """Returns a descriptor that becomes readable when the receiver goes; -1 if there is none."""

    def check(self) -> None:
        """Checks the receiver; called when the descriptor is readable.

        Raises:
            OutputError: the receiver has gone.
        """

    def close(self) -> None:
        """Releases all keys that are down, then closes. May be called twice."""


class DownKeys:
    """Keys sent down and not up, recorded by each output independently of the engine."""

    def __init__(self) -> None:
        self._down: dict[str, None] = {}

    def __bool__(self) -> bool:
        return bool(self._down)

    def note(self, outputs: Iterable[Output]) -> None:
        """Records the presses and releases in outputs."""
        for output in outputs:
            match output:
                case Key(_, code, down):
                    if down:
                        self._down[code] = None
                    else:
                        self._down.pop(code, None)
                case Pointer() | Place() | PlaceBack() | Wheel() | ProfileRequest():
                    pass  # no holds
                case _:
                    assert_never(output)

    def releases(self, t_us: int = 0) -> list[Output]:
        """Returns the outputs that release everything, last pressed first."""
        return [Key(t_us, code, False) for code in reversed(self._down)]


class WheelClicks:
    """Collects 120ths of a wheel click into whole clicks, for receivers without finer steps."""

    def __init__(self) -> None:
        self._rest = [0, 0]

    def take(self, axis: int, amount: int) -> int:
        """Adds to an axis (0: x, 1: y); returns the completed whole clicks."""
        clicks, self._rest[axis] = _divided(self._rest[axis] + amount, 120)
        return clicks


def _divided(amount: int, unit: int) -> tuple[int, int]:
    """Returns the quotient rounded towards zero, and the remainder."""
    whole = int(amount / unit)
    return whole, amount - whole * unit
