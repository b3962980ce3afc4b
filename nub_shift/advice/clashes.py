"""Search for probable mistakes in a sound profile, each with its slot."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from nub_shift.advice.finger_conflicts import finger_conflicts, finger_of
from nub_shift.advice.layer_activation import layer_activations
from nub_shift.advice.missed_presses import presses_seen
from nub_shift.advice.move_coverage import move_coverage
from nub_shift.model.controls import CONTROL_OF_SLOT, WAYS, Fingers, Kind, slot_label
from nub_shift.model.pad.pad_menu import opener_of
from nub_shift.model.profile.actions import REPEATS, Action, Manner
from nub_shift.model.profile.effects import HoldLayer, NextLayer, PressKeys, Sent, Silence, StayOnLayer
from nub_shift.model.profile.feel import Stages, TriggerFeel
from nub_shift.model.profile.profile import BASE_LAYER, Layer, Profile
from nub_shift.model.profile.reactions import Reaction
from nub_shift.model.references.walk import SlotOrigin, layer_actions, sent_input, sent_keys
from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.translation import inside, tr, trn


@dataclass(frozen=True)
class Clash:
    """One probable mistake.

    Attributes:
        text: description in words.
        layer, slot: place; empty if there is none in particular.
        lacking: missing control of this pad, or empty.
        move: unassigned move, or empty.
    """

    text: str
    layer: str = ""
    slot: str = ""
    lacking: str = ""
    move: str = ""


def clashes(profile: Profile, controls: Collection[str] = (), fingers: Fingers = MappingProxyType({})) -> list[Clash]:
    """Returns all probable mistakes, layer by layer; with the `controls` of a pad also missing controls.

    `fingers` has the fingers of controls where unusual.
    """
    found: list[Clash] = []
    for layer in profile.layers:
        if controls:
            found += _missing_controls(layer, controls)
            found += _held_for_the_menu(layer, opener_of(controls))
        found += _repeated_inputs(profile, layer)
        found += _masked_repeats(profile, layer)
        found += _missed_turbos(profile, layer)
        found += _unknown_keys(profile, layer)
        found += _one_finger_slots(profile, layer, fingers)
    found += _linked_conflicts(profile, fingers)
    found += _double_reads(profile)
    brought = _activation_manners(profile)
    return [
        *found,
        *_unreached_layers(profile, brought),
        *_layers_without_exit(profile, brought),
        *_unreached_moves(profile),
    ]


def _inputs(profile: Profile, action: Action) -> Sent | None:
    """Returns the input that an action sends, keys in one order; None if it sends nothing."""
    sent = sent_input(profile, action)
    return PressKeys(tuple(sorted(sent.keys))) if isinstance(sent, PressKeys) else sent


def _slot_actions(layer: Layer) -> Iterator[tuple[str, Action]]:
    for origin, action in layer_actions(layer):
        if isinstance(origin, SlotOrigin):
            yield origin.slot, action


def _repeated_inputs(profile: Profile, layer: Layer) -> Iterator[Clash]:
    """Yields pairs of controls in a layer that send the same input."""
    seen: dict[Sent, str] = {}
    for slot, action in _slot_actions(layer):
        sent = _inputs(profile, action)
        if sent is None:
            continue
        before = seen.setdefault(sent, slot)
        if CONTROL_OF_SLOT[before] is not CONTROL_OF_SLOT[slot]:
            yield Clash(
                tr("{slot} sends the same as {before}", slot=slot_label(slot), before=inside(slot_label(before))),
                layer.id,
                slot,
            )


def _held_for_the_menu(layer: Layer, opener: str) -> Iterator[Clash]:
    """Yields actions that need a held press on the button that opens the menu when held."""
    for origin, action in layer_actions(layer):
        if isinstance(origin, SlotOrigin) and origin.slot == opener:
            held = origin.reaction is Reaction.HOLD or isinstance(action.effect, HoldLayer)
            if held or action.manner in (Manner.TURBO, Manner.PULSE):
                text = tr(
                    "{slot}: holding it opens the menu, so only short presses do something", slot=slot_label(opener)
                )
                yield Clash(text, layer.id, opener)
                return


def _masked_repeats(profile: Profile, layer: Layer) -> Iterator[Clash]:
    """Yields keys that repeat while another slot, pressed with this one, holds them."""
    held: dict[str, set[str]] = {}
    actions = list(_slot_actions(layer))
    for slot, action in actions:
        if action.manner in (Manner.HELD, Manner.TOGGLE, Manner.LOCK):
            held.setdefault(slot, set()).update(sent_keys(profile, action))
    for slot, action in actions:
        if action.manner not in REPEATS:
            continue
        keys = set(sent_keys(profile, action))
        for other in _pressed_with(profile, slot):
            if keys and keys <= held.get(other, set()):
                text = tr(
                    "{slot}: its repeated key is held down by {other}",
                    slot=slot_label(slot),
                    other=inside(slot_label(other)),
                )
                yield Clash(text, layer.id, slot)


def _missed_turbos(profile: Profile, layer: Layer) -> Iterator[Clash]:
    """Yields turbos that press faster than the game reads its keys."""
    for slot, action in _slot_actions(layer):
        for part in action.parts:
            seen = presses_seen(profile, part)
            if seen is not None:
                text = tr(
                    "{slot}: of {rate:g} presses a second the game sees about {seen} at {frames} frames a second",
                    slot=slot_label(slot),
                    rate=part.rate_hz,
                    seen=round(seen),
                    frames=profile.game.rate_hz,
                )
                yield Clash(text, layer.id, slot)


def _pressed_with(profile: Profile, slot: str) -> Iterator[str]:
    """Yields the slots of the same control that are down whenever this one is."""
    control = CONTROL_OF_SLOT[slot]
    part = SlotName.parse(slot).part
    feel = getattr(profile.feel, control.name, None)
    if part == "deep" and isinstance(feel, TriggerFeel) and feel.stages is Stages.BOTH:
        yield slot_name(control.name, "light")
    if control.kind in (Kind.STICK, Kind.SURFACE) and part in ("edge", *WAYS):
        yield from (slot_name(control.name, way) for way in (*WAYS, "edge") if way != part)


def _missing_controls(layer: Layer, controls: Collection[str]) -> Iterator[Clash]:
    """Yields one clash for each control that this pad lacks."""
    named = dict.fromkeys(CONTROL_OF_SLOT[slot].name for slot in layer.slots)
    for name in named:
        if name not in controls:
            count = sum(CONTROL_OF_SLOT[slot].name == name for slot in layer.slots)
            slot = next(slot for slot in layer.slots if CONTROL_OF_SLOT[slot].name == name)
            what = trn("{count} slot", "{count} slots", count)
            yield Clash(
                tr("{what} on {label}, which this pad lacks", what=what, label=inside(CONTROL_OF_SLOT[slot].label)),
                layer.id,
                slot,
                name,
            )


def _unknown_keys(profile: Profile, layer: Layer) -> Iterator[Clash]:
    """Yields keys that no move of the game expects, in a profile with moves."""
    expected = {tuple(sorted(move.keys)) for move in profile.moves if move.keys}
    if not expected:
        return
    found: dict[str, list[str]] = {}
    for slot, action in _slot_actions(layer):
        if isinstance(action.effect, PressKeys) and tuple(sorted(action.effect.keys)) not in expected:
            found.setdefault(CONTROL_OF_SLOT[slot].name, []).append(slot)
    for slots in found.values():
        label = slot_label(slots[0]) if len(slots) == 1 else CONTROL_OF_SLOT[slots[0]].label
        what = tr("a key") if len(slots) == 1 else tr("{count} keys", count=len(slots))
        yield Clash(
            tr("{label} sends {what}, which no move of the game uses", label=label, what=what), layer.id, slots[0]
        )


def _one_finger_slots(profile: Profile, layer: Layer, fingers: Fingers) -> Iterator[Clash]:
    """Yields slots of a layer that need the finger which holds the layer."""
    activations = (way for way in layer_activations(profile) if way.layer == layer.id)
    held = (way for way in activations if way.held and way.origin_layer == BASE_LAYER)
    for slot in dict.fromkeys(way.slots[0] for way in held if len(way.slots) == 1):
        holder = CONTROL_OF_SLOT[slot]
        grip = profile.game.grip
        for other in layer.slots:
            control = CONTROL_OF_SLOT[other]
            if finger_of(control, grip, fingers) == finger_of(holder, grip, fingers) and control is not holder:
                text = tr(
                    "{other} lies under the finger that holds {layer} on", other=slot_label(other), layer=layer.label
                )
                yield Clash(text, layer.id, other)


def _linked_conflicts(profile: Profile, fingers: Fingers) -> Iterator[Clash]:
    """Yields moves that must be possible at the same time but are on one finger."""
    labels = {move.id: move.label for move in profile.moves}
    for one, other, layer, slot in finger_conflicts(profile, fingers):
        yield Clash(
            tr(
                "{one} and {other} go together, but no two fingers reach both",
                one=labels[one],
                other=labels[other],
            ),
            layer,
            slot,
        )


def _double_reads(profile: Profile) -> Iterator[Clash]:
    """Yields controls that send keys or move the pointer while the game reads them from the pad."""
    if not profile.game.reads_pads:
        return
    told = set()
    for layer in profile.layers:
        for slot, assignment in layer.slots.items():
            control = CONTROL_OF_SLOT[slot]
            if (
                control.name not in told
                and not isinstance(assignment.effect, Silence)
                and control.kind is not Kind.MOTION
            ):
                told.add(control.name)
                text = tr(
                    "The game reads the {control} too: its prompts may flicker between pad and keys",
                    control=inside(control.label),
                )
                yield Clash(text, layer.id, slot)


def _activation_manners(profile: Profile) -> dict[str, set[Manner | None]]:
    """Returns the manners in which each layer is activated; None stands for staying."""
    found: dict[str, set[Manner | None]] = {}
    for way in layer_activations(profile):
        found.setdefault(way.layer, set()).add(way.manner)
    return found


def _unreached_layers(profile: Profile, brought: Mapping[str, set[Manner | None]]) -> Iterator[Clash]:
    based = {layer.based_on for layer in profile.layers}
    for layer in profile.layers[1:]:
        if layer.id not in brought and layer.id not in based:
            yield Clash(tr("Nothing brings {layer} on", layer=layer.label), layer.id)


def _unreached_moves(profile: Profile) -> Iterator[Clash]:
    """Yields one clash for all unassigned moves, which are many in a new profile."""
    reached = move_coverage(profile)
    missing = [move for move in profile.moves if move.id not in reached]
    if missing:
        more = tr(" and {count} more", count=len(missing) - 1) if len(missing) > 1 else ""
        yield Clash(tr("No control does {label}{more}", label=missing[0].label, more=more), move=missing[0].id)


def _layers_without_exit(profile: Profile, brought: Mapping[str, set[Manner | None]]) -> Iterator[Clash]:
    """Yields layers that are activated to stay and have no way back."""
    for layer in profile.layers[1:]:
        if brought.get(layer.id) != {None}:
            continue
        leaves = [
            action
            for shown in (profile.layers[0], layer)
            for slot, action in _slot_actions(shown)
            if _leaves_layer(layer, action) and (shown is layer or slot not in layer.slots)
        ]
        if not leaves:
            yield Clash(tr("{layer} stays on, and nothing turns it off", layer=layer.label), layer.id)


def _leaves_layer(layer: Layer, action: Action) -> bool:
    """Returns whether an action activates another layer to stay."""
    match action.effect:
        case StayOnLayer(other):
            return other != layer.id
        case NextLayer():
            return True
        case _:
            return False
