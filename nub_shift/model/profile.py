"""What a profile says, as immutable values.

Every setting is described once, here: type, default, range, unit and help. Reading, the published JSON Schema and the
documents draw on these descriptions.
"""

from __future__ import annotations

from enum import Enum
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

SCHEMA_VERSION = 1
BASE_LAYER = "base"

Identifier = Annotated[
    str, Meta(pattern="^[a-z][a-z0-9_]{0,39}$", description="a lower-case name of letters, digits and underscores")
]
Label = Annotated[str, Meta(min_length=1, max_length=60, description="a text of 1 to 60 characters")]
KeyCodes = Annotated[tuple[str, ...], Meta(max_length=6, description="a list of one to six kernel names of keys")]
Fraction = Annotated[float, Meta(ge=0.0, le=1.0, description="a number from 0 to 1")]
DeadZone = Annotated[float, Meta(ge=0.0, le=0.9, description="a number from 0 to 0.9")]
EdgeZone = Annotated[float, Meta(ge=0.0, le=0.5, description="a number from 0 to 0.5")]
Power = Annotated[float, Meta(ge=0.2, le=5.0, description="a number from 0.2 to 5")]
Counts = Annotated[float, Meta(ge=-20000.0, le=20000.0, description="counts a second, from -20000 to 20000")]


class Wheel(Enum):
    """One click of the mouse wheel."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class Direction(Enum):
    """Which way a move walks, for the moves that do."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class _Part(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Base of all parts of a profile: immutable, strict, short when written."""


class Move(_Part, frozen=True):
    """Something that the game lets the player do, and the input that the game expects for it."""

    id: Identifier
    label: Label
    group: Annotated[str, Meta(max_length=40, description="a text of up to 40 characters")] = ""
    keys: KeyCodes = ()
    wheel: Wheel | None = None
    look: bool = False
    direction: Direction | None = None


class PointerSpeed(_Part, frozen=True):
    """Pointer speed at full deflection, in counts a second; negative turns the axis round."""

    x: Counts = 1200.0
    y: Counts = 900.0


class Assignment(_Part, frozen=True):
    """What one slot does in one layer: exactly one of these."""

    move: Identifier | None = None
    keys: KeyCodes = ()
    wheel: Wheel | None = None
    pointer: PointerSpeed | None = None
    layer: Identifier | None = None
    silence: bool = False


class Layer(_Part, frozen=True):
    """A sheet of slot assignments over the one below."""

    id: Identifier
    label: Label
    slots: dict[str, Assignment] = {}


class Directions(_Part, frozen=True):
    """How a stick becomes four or eight directions.

    A direction starts when the radius passes `on` and ends below `off`; it changes when the angle passes a border by
    `hysteresis_degrees`. With eight ways each diagonal is `diagonal_degrees` wide.
    """

    ways: Literal[4, 8] = 8
    diagonal_degrees: Annotated[float, Meta(ge=10.0, le=80.0, description="degrees, from 10 to 80")] = 45.0
    on: Fraction = 0.45
    off: Fraction = 0.35
    hysteresis_degrees: Annotated[float, Meta(ge=0.0, le=20.0, description="degrees, from 0 to 20")] = 4.0


class StickFeel(_Part, frozen=True):
    """How a stick is shaped. Radii are parts of the full deflection.

    `dead_zone` is where output begins (what lies above is stretched to start from nothing), `edge_zone` how far before
    the rim it is full, `power` the exponent of the response curve (1 is straight).
    """

    dead_zone: DeadZone = 0.12
    edge_zone: EdgeZone = 0.03
    power: Power = 1.0
    directions: Directions = Directions()


class Stage(_Part, frozen=True):
    """A trigger stage: it starts at `on` and ends below `off`, as parts of the full pull."""

    on: Fraction = 0.35
    off: Fraction = 0.25


class TriggerFeel(_Part, frozen=True):
    """How a trigger is shaped."""

    light: Stage = Stage()


class Feel(_Part, frozen=True):
    """How the pad's analogue controls are shaped."""

    left_stick: StickFeel = StickFeel()
    right_stick: StickFeel = StickFeel()
    left_trigger: TriggerFeel = TriggerFeel()
    right_trigger: TriggerFeel = TriggerFeel()


class Profile(_Part, frozen=True):
    """All that one game needs. The first layer is the base layer, which is always on."""

    schema: Literal[1]
    title: Label
    notes: Annotated[str, Meta(max_length=4000, description="a text of up to 4000 characters")] = ""
    moves: tuple[Move, ...] = ()
    layers: tuple[Layer, ...] = (Layer(id=BASE_LAYER, label="Base"),)
    feel: Feel = Feel()

    def move(self, move_id: str) -> Move | None:
        """The move of that id, or None."""
        return next((move for move in self.moves if move.id == move_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        """The layer of that id, or None."""
        return next((layer for layer in self.layers if layer.id == layer_id), None)


def json_schema() -> dict[str, object]:
    """The JSON Schema of a profile file, made from the descriptions above."""
    return msgspec.json.schema(Profile)
