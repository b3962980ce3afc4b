"""The profile as immutable values.

Every setting is described once, here: type, default, range, unit and help. Reading, the published JSON Schema and the
documents use these descriptions.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from enum import Enum
from typing import Annotated, Final, Literal, TypeVar

import msgspec
from msgspec import Meta

from nub_shift.model.controls import PARTS_OF_WHOLE, WAYS_OF_WHOLE
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.activation import ActivationRules
from nub_shift.model.profile.colours import Colour
from nub_shift.model.profile.effects import ClickWheel, Pace, PressKeys, Sent, TypeText, WheelDirection
from nub_shift.model.profile.feel import Feel, FeelChange, changed_feel
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.listed import Carousel, Ring, Sequence
from nub_shift.model.profile.reactions import Assignment, Gesture, Together
from nub_shift.model.profile.schema_types import Identifier, Identity, KeyCodes, Label, Record, ShortLabel, TypedText
from nub_shift.model.profile.signs import Signs
from nub_shift.translation import tr

SCHEMA_VERSION: Final = 4
BASE_LAYER = "base"
MAX_LAYERS = 24
MAX_PADS = 16


class Direction(Enum):
    """Direction of walking, for the moves that walk."""

    UP = "up"
    DOWN = "down"
    LEFT = "left"
    RIGHT = "right"


class Move(Record, frozen=True):
    """An ability of the player in the game, and the input that the game expects for it.

    `together` names moves that must be possible at the same time.
    """

    id: Identifier
    label: Label
    group: ShortLabel = ""
    keys: KeyCodes = ()
    wheel: WheelDirection | None = None
    text: TypedText = ""
    look: bool = False
    direction: Direction | None = None
    together: Annotated[tuple[str, ...], Meta(max_length=12, description=tr("a list of up to 12 move ids"))] = ()

    @property
    def sent(self) -> Sent | None:
        """Input that the game expects; None for looking, which is no press."""
        if self.text:
            return TypeText(self.text)
        if self.wheel is not None:
            return ClickWheel(self.wheel)
        return PressKeys(self.keys) if self.keys else None


class Layer(Record, frozen=True):
    """Slot assignments over those of the layer below.

    A layer `based_on` another inherits its assignments and overrides some. While active, the layer multiplies pointer
    speed by its `pace`, and changes the profile's feel by its own `feel`. `hue` is its display colour, counted from 1;
    by default from its position among the layers. `enter` begins at activation and ends at deactivation; `leave` is
    done at deactivation. A `silent` layer shows no sign.
    """

    id: Identifier
    label: Label
    slots: dict[str, Assignment] = {}  # noqa: RUF012 - msgspec copies it for each layer
    together: tuple[Together, ...] = ()
    based_on: Identifier | None = None
    pace: Pace | None = None
    feel: FeelChange = FeelChange()
    enter: Action | None = None
    leave: Action | None = None
    hue: Annotated[int, Meta(ge=1, le=5, description=tr("a whole number from 1 to 5"))] | None = None
    silent: bool = False

    @property
    def used_slots(self) -> list[str]:
        """Slots assigned in the layer, alone or together with another."""
        return [*self.slots, *(slot for pair in self.together for slot in pair.slots)]

    @property
    def hidden_below(self) -> frozenset[str]:
        """Slots of lower layers that the layer hides without assigning them.

        An assigned whole stick hides its parts, and the reverse.
        """
        found: set[str] = set()
        for whole, parts in PARTS_OF_WHOLE.items():
            if whole in self.slots:
                found |= parts
            if not WAYS_OF_WHOLE[whole].isdisjoint(self.slots):
                found.add(whole)
        return frozenset(found.difference(self.slots))


T = TypeVar("T")


def merge_together(below: Mapping[Gesture, T], layer: Layer, own: Mapping[Gesture, T]) -> dict[Gesture, T]:
    """Returns the combinations in force for a layer with its `own` over layers with those `below`.

    A layer removes a combination from below if it silences all its slots, or hides one of them.
    """
    silenced = {slot for slot, assignment in layer.slots.items() if assignment.silence}
    hidden = layer.hidden_below
    shown = {
        gesture: what
        for gesture, what in below.items()
        if not silenced.issuperset(gesture) and hidden.isdisjoint(gesture)
    }
    return shown | dict(own)


class PadFeel(Record, frozen=True):
    """Changes of the profile's feel for one pad, or for all pads of one kind.

    `identity` is that of the card, `name` the name of the pad when the change was made.
    """

    identity: Identity
    name: Label
    feel: FeelChange = FeelChange()


class Profile(Record, frozen=True):
    """The mapping of one game. The first layer is the base layer, which is always active."""

    schema: Literal[4]
    title: Label
    notes: Annotated[str, Meta(max_length=4000, description=tr("a text of up to 4000 characters"))] = ""
    moves: tuple[Move, ...] = ()
    layers: tuple[Layer, ...] = (Layer(id=BASE_LAYER, label=tr("Base")),)
    sequences: tuple[Sequence, ...] = ()
    carousels: tuple[Carousel, ...] = ()
    rings: tuple[Ring, ...] = ()
    game: Game = Game()
    feel: Feel = Feel()
    pads: Annotated[
        tuple[PadFeel, ...], Meta(max_length=MAX_PADS, description=tr("at most {most} pads", most=MAX_PADS))
    ] = ()
    comes_on: ActivationRules = ActivationRules()
    signs: Signs = Signs()
    colour: Colour | None = None

    def move(self, move_id: str) -> Move | None:
        """Returns the move of that id, or None."""
        return next((move for move in self.moves if move.id == move_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        """Returns the layer of that id, or None."""
        return next((layer for layer in self.layers if layer.id == layer_id), None)

    def on_pad(self, identities: Collection[str]) -> Profile:
        """Returns the profile with the changes for a pad with these identities, the most specific first."""
        changes = {pad.identity: pad.feel for pad in self.pads}
        change = next((changes[identity] for identity in identities if identity in changes), None)
        return self if change is None else msgspec.structs.replace(self, feel=changed_feel(self.feel, change))

    def shown_together(self, layer_id: str, slot: str) -> list[Together]:
        """Returns the combinations of a slot while a layer alone is active over the base layer.

        Requires a checked profile.
        """
        if not any(layer.together for layer in self.layers):
            return []
        layer = self.layer(layer_id)
        parts = [self.layers[0], *(self.bases(layer) if layer is not None and layer is not self.layers[0] else ())]
        found: dict[Gesture, Together] = {}
        for part in parts:
            found = merge_together(found, part, {pair.gesture: pair for pair in part.together})
        return [pair for pair in found.values() if slot in pair.slots]

    def bases(self, layer: Layer) -> list[Layer]:
        """Returns the bases of a layer, the deepest first, then the layer itself. Requires a checked profile."""
        found = [layer]
        while found[0].based_on is not None:
            basis = self.layer(found[0].based_on)
            assert basis is not None, "the profile has been checked"
            found.insert(0, basis)
        return found


def json_schema() -> dict[str, object]:
    """Returns the JSON Schema of a profile file, generated from these types."""
    return msgspec.json.schema(Profile)
