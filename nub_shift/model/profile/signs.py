"""Signs on the screen during play."""

from __future__ import annotations

from enum import Enum
from typing import Annotated, Final

from msgspec import Meta

from nub_shift.model.profile.schema_types import Record
from nub_shift.translation import tr

# Battery level in percent below which the person is warned.
LOW_BATTERY: Final = 15


class SignKind(Enum):
    """Subjects of signs."""

    LAYER = "layer"
    PROFILE = "profile"
    LIVE = "live"
    TOGGLE = "toggle"
    CAROUSEL = "carousel"
    PACE = "pace"
    BATTERY = "battery"
    PAD = "pad"


class Place(Enum):
    """Place of signs on the screen."""

    TOP_LEFT = "top_left"
    TOP = "top"
    TOP_RIGHT = "top_right"
    MIDDLE = "middle"
    BOTTOM_LEFT = "bottom_left"
    BOTTOM = "bottom"
    BOTTOM_RIGHT = "bottom_right"


class Corner(Enum):
    """Corner of the badge."""

    NONE = "none"
    TOP_LEFT = "top_left"
    TOP_RIGHT = "top_right"
    BOTTOM_LEFT = "bottom_left"
    BOTTOM_RIGHT = "bottom_right"


MIN_SIZE: Final = 0.5
MAX_SIZE: Final = 3.0
MIN_OPACITY: Final = 0.2
MIN_LASTS_MS: Final = 300
MAX_LASTS_MS: Final = 10000


class Signs(Record, frozen=True):
    """Signs of a profile on the screen, and their looks.

    `silent` names the subjects without signs. A sign lasts for `lasts_ms`. `rings` shows rings and grids while they are
    open. The `badge` stays in a corner and shows the active layer and toggles. `rumble` signals changes by short
    patterns of the pad's motors, `sound` by short sounds, for people who do not look.
    """

    shown: bool = True
    silent: Annotated[
        tuple[SignKind, ...], Meta(max_length=len(SignKind), description=tr("a list of kinds of sign"))
    ] = ()
    place: Place = Place.BOTTOM
    size: Annotated[float, Meta(ge=MIN_SIZE, le=MAX_SIZE, description=tr("a number from 0.5 to 3"))] = 1.0
    opacity: Annotated[float, Meta(ge=MIN_OPACITY, le=1.0, description=tr("a number from 0.2 to 1"))] = 0.9
    lasts_ms: Annotated[
        int, Meta(ge=MIN_LASTS_MS, le=MAX_LASTS_MS, description=tr("milliseconds, from 300 to 10000"))
    ] = 1500
    rings: bool = True
    badge: Corner = Corner.NONE
    rumble: bool = False
    sound: bool = False
