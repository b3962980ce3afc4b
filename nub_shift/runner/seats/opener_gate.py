"""Delay of the press of the menu button, until the press is known not to open the menu."""

from __future__ import annotations

from nub_shift.engine.values import Frame


class OpenerGate:
    """Delays the press of one channel: an early release makes a tap, a press that opens the menu is dropped.

    Attributes:
        channel: channel of the button; empty while inactive.
    """

    def __init__(self, channel: str = "") -> None:
        self.channel = channel
        self._pressed = False

    def take(self, frame: Frame) -> list[Frame]:
        """Returns the frames for the engine in place of one that contains the channel."""
        values = frame.values.copy()
        down = values.pop(self.channel) > 0.5
        frames = [Frame(frame.t_us, values, frame.sensor_us)]
        if self._pressed and not down:
            frames += [Frame(frame.t_us, {self.channel: value}) for value in (1.0, 0.0)]
        self._pressed = down
        return frames

    def forget(self) -> None:
        """Drops a delayed press: the menu is open, or the pad has gone."""
        self._pressed = False
