"""Properties of the game: how it reads keys, counts of a full turn, the grip."""

from __future__ import annotations

from enum import Enum
from math import ceil
from typing import Annotated, Final

from msgspec import Meta

from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

# Slowest common frame rate; a key that lasts for a frame of it lasts for faster games too.
UNKNOWN_RATE_HZ: Final = 30
LEAST_RATE_HZ: Final = 10
MOST_RATE_HZ: Final = 1000
_Milliseconds = Annotated[int, Meta(ge=0, le=200, description=tr("milliseconds, from 0 to 200"))]


class Grip(Enum):
    """Grip of the pad: the fingers on the triggers and the face buttons."""

    INDEX = "index"
    INDEX_AND_MIDDLE = "index_and_middle"
    INDEX_ON_FACE = "index_on_face"


class Game(Record, frozen=True):
    """Game-specific settings.

    `counts_per_turn` is the number of pointer counts for a full turn of the view. The game reads its keys once a frame,
    `frame_rate_hz` times a second; an unknown rate counts as `UNKNOWN_RATE_HZ`. No key is down for less than
    `shortest_key_ms`, nor up between two presses for less than `shortest_gap_ms`; each is one frame of the game by
    default. A game that `reads_pads` gets the pad itself besides its keys. With `recap` the actions of a session are
    counted, and kept on this machine. `grip` is the grip during play.
    """

    counts_per_turn: Annotated[float, Meta(ge=100.0, le=200000.0, description=tr("counts, from 100 to 200000"))] = (
        6000.0
    )
    frame_rate_hz: (
        Annotated[int, Meta(ge=LEAST_RATE_HZ, le=MOST_RATE_HZ, description=tr("frames a second, from 10 to 1000"))]
        | None
    ) = None
    shortest_key_ms: _Milliseconds | None = None
    shortest_gap_ms: _Milliseconds | None = None
    reads_pads: bool = False
    recap: bool = True
    grip: Grip = Grip.INDEX

    @property
    def rate_hz(self) -> int:
        """Rate at which the game is assumed to read its keys."""
        return UNKNOWN_RATE_HZ if self.frame_rate_hz is None else self.frame_rate_hz

    @property
    def frame_ms(self) -> int:
        """The time between two readings of the keys, rounded up to whole milliseconds."""
        return ceil(1000 / self.rate_hz)

    @property
    def key_ms(self) -> int:
        """Shortest time of a key down."""
        return self.frame_ms if self.shortest_key_ms is None else self.shortest_key_ms

    @property
    def gap_ms(self) -> int:
        """Shortest time of a key up between two presses."""
        return self.frame_ms if self.shortest_gap_ms is None else self.shortest_gap_ms

    def repeat_times(self, rate_hz: float, duty: float) -> tuple[float, float]:
        """Returns the milliseconds down and up of a repeated key, no less than its shortest times.

        `rate_hz` is the requested rate of presses, `duty` the requested part of the time down.
        """
        period_ms = 1000 / rate_hz
        return max(period_ms * duty, self.key_ms), max(period_ms * (1 - duty), self.gap_ms)

    def presses_seen(self, rate_hz: float, duty: float) -> float:
        """Returns the rate of presses that the game sees of a repeated key, averaged over the phase of its readings.

        The game sees a press where the key is down at one reading and was up at the reading before. With d down in each
        period p and readings t apart, the chance per reading is the part of a period in which the key is down but was
        not t earlier: (d - overlap of d with itself shifted by t modulo p) / (p t).
        """
        down_ms, up_ms = self.repeat_times(rate_hz, duty)
        period_ms, reading_ms = down_ms + up_ms, 1000 / self.rate_hz
        shift_ms = reading_ms % period_ms
        overlap_ms = max(0.0, down_ms - shift_ms) + max(0.0, down_ms - (period_ms - shift_ms))
        return (down_ms - overlap_ms) / period_ms * self.rate_hz
