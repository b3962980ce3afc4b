"""Keeps the press of the button that opens the menu from the game until it is known to be no request for the menu."""

from __future__ import annotations

from nub_shift.engine.values import Frame


class OpenerGate:
    """Holds one channel's press back: let go in time it is a tap, held until the menu opens it is nothing.

    Attributes:
        channel: of the button; empty while nothing is held back.
    """

    def __init__(self, channel: str = "") -> None:
        self.channel = channel
        self._pressed = False

    def take(self, frame: Frame) -> list[Frame]:
        """The frames that the engine gets in place of one that has the channel."""
        values = frame.values.copy()
        down = values.pop(self.channel) > 0.5
        frames = [Frame(frame.t_us, values, frame.sensor_us)]
        if self._pressed and not down:
            frames += [Frame(frame.t_us, {self.channel: value}) for value in (1.0, 0.0)]
        self._pressed = down
        return frames

    def forget(self) -> None:
        """The menu is open, or the pad has gone: what is held is no tap any more."""
        self._pressed = False
