"""What a profile says about its game: how the game reads keys, how far the view turns, how the pad is held."""

from __future__ import annotations

from enum import Enum
from math import ceil
from typing import Annotated, Final

from msgspec import Meta

from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

# The slowest rate at which games are commonly played: a key that lasts for it lasts for a faster game, too.
UNKNOWN_RATE_HZ: Final = 30
LEAST_RATE_HZ: Final = 10
MOST_RATE_HZ: Final = 1000
_Milliseconds = Annotated[int, Meta(ge=0, le=200, description=tr("milliseconds, from 0 to 200"))]


class Grip(Enum):
    """How the pad is held: who works the triggers and the face buttons."""

    INDEX = "index"
    INDEX_AND_MIDDLE = "index_and_middle"
    INDEX_ON_FACE = "index_on_face"


class Game(Record, frozen=True):
    """Game-specific settings.

    `counts_per_turn` is by how many pointer counts the view turns once round. The game reads its keys once a frame,
    `frame_rate_hz` times a second; an unknown rate counts as `UNKNOWN_RATE_HZ`. No key is down more shortly than
    `shortest_key_ms`, nor up between two presses than `shortest_gap_ms`; without a number each is one frame of the
    game. A game that `reads_pads` gets the pad itself besides its keys. With `recap` what is done in a session is
    counted, and kept on this machine. `grip` is how the pad is held while it is played.
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
        """How often a second the game is taken to read its keys."""
        return UNKNOWN_RATE_HZ if self.frame_rate_hz is None else self.frame_rate_hz

    @property
    def frame_ms(self) -> int:
        """The time between two readings of the keys, rounded up to whole milliseconds."""
        return ceil(1000 / self.rate_hz)

    @property
    def key_ms(self) -> int:
        """The shortest time for which a key is down."""
        return self.frame_ms if self.shortest_key_ms is None else self.shortest_key_ms

    @property
    def gap_ms(self) -> int:
        """The shortest time for which a key is up between two presses."""
        return self.frame_ms if self.shortest_gap_ms is None else self.shortest_gap_ms

    def repeat_times(self, rate_hz: float, duty: float) -> tuple[float, float]:
        """The milliseconds for which a key that is repeated is down and up: no less than its shortest times.

        `rate_hz` is how often a second it is to be pressed, `duty` the part of the time for which it is to be down.
        """
        period_ms = 1000 / rate_hz
        return max(period_ms * duty, self.key_ms), max(period_ms * (1 - duty), self.gap_ms)

    def presses_seen(self, rate_hz: float, duty: float) -> float:
        """How many presses a second the game sees of a key that is repeated, on average over when it begins to read.

        The game sees a press where the key is down at one reading and was up at the one before. With d down in each
        period p and readings t apart, that is the part of a period in which the key is down but was not t earlier,
        for each reading: (d - overlap of d with itself shifted by t modulo p) / (p t).
        """
        down_ms, up_ms = self.repeat_times(rate_hz, duty)
        period_ms, reading_ms = down_ms + up_ms, 1000 / self.rate_hz
        shift_ms = reading_ms % period_ms
        overlap_ms = max(0.0, down_ms - shift_ms) + max(0.0, down_ms - (period_ms - shift_ms))
        return (down_ms - overlap_ms) / period_ms * self.rate_hz
