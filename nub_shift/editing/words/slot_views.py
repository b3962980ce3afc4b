"""Content of a slot's display, without drawing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import assert_never

from nub_shift.advice.layer_activation import Activation, layer_activations
from nub_shift.editing.words.labels import REACTION_WORDS, reacting_words, slot_words
from nub_shift.editing.words.reach import plainly
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import CONTROL_BY_NAME, MOTION_SLOT, slot_label
from nub_shift.model.profile.actions import Manner
from nub_shift.model.profile.effects import (
    ClickWheel,
    HoldLayer,
    MotionSwitch,
    PressKeys,
    Sent,
    Silence,
    SwitchMotion,
    Turn,
    TypeText,
)
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.reactions import Assignment, Order, Reaction, Together
from nub_shift.model.references.assignments import own_assignment, shown_assignment
from nub_shift.model.references.named import Kind, Reference, label_of
from nub_shift.model.references.walk import (
    CarouselOrigin,
    LayerOrigin,
    PairOrigin,
    RingOrigin,
    SlotOrigin,
    layer_actions,
    sent_input,
)
from nub_shift.translation import inside, tr

HUE_NAMES = (tr("Blue"), tr("Rose"), tr("Olive"), tr("Indigo"), tr("Violet"))
ARROWS = {"up": "↑", "down": "↓", "left": "←", "right": "→"}


# Parts of a profile that affect the view of a slot.
_DECIDE_VIEWS = ("moves", "sequences", "carousels", "rings", "game", "feel")


@dataclass(frozen=True)
class LayerMark:
    """Mark of a layer.

    Attributes:
        letter: by its position in the profile.
        hue: index of its hue; 0 for the base layer.
    """

    letter: str
    hue: int


@dataclass(frozen=True)
class SlotView:
    """Display of one slot in one layer.

    Attributes:
        assignment: from this layer or from the base below; None if unassigned.
        inherited: whether the assignment comes from the base layer.
        caps: texts of the keycaps.
        text: assignment in words.
        beside: the same without what the keycaps say.
        layer: mark of the layer that the slot activates, or None.
    """

    slot: str
    assignment: Assignment | None
    inherited: bool
    caps: tuple[str, ...]
    text: str
    beside: str
    layer: LayerMark | None = None

    @property
    def silent(self) -> bool:
        """Whether the slot is silenced on purpose."""
        return self.assignment is not None and isinstance(self.assignment.effect, Silence)


def slot_view(profile: Profile, layer_id: str, slot: str, layout: Layout) -> SlotView:
    """Returns the view of a slot in a layer."""
    shown = shown_assignment(profile, layer_id, slot)
    inherited = shown is not None and layer_id != BASE_LAYER and own_assignment(profile, layer_id, slot) is None
    brings = None
    if shown is not None and isinstance(shown.effect, HoldLayer):
        brings = layer_mark(profile, shown.effect.layer)
    pairs = profile.shown_together(layer_id, slot)
    words = [slot_words(profile, slot, shown, layout)] if shown is not None or not pairs else []
    words += [f"{with_words(pair, slot)}: {reacting_words(profile, pair, layout)}" for pair in pairs]
    text, caps = "; ".join(words), _caps(profile, shown, layout)
    beside = _besides(" + ".join(caps), text)
    if shown is not None and slot == MOTION_SLOT and shown.uses == (Turn(on=False),):
        text = beside = _turns_while(profile, text)
    return SlotView(slot, shown, inherited, caps, text, beside, brings)


def _besides(said: str, text: str) -> str:
    """Returns the part of a text that the keycaps do not say; the whole text for a name that only begins with the same
    letter.
    """
    if not said or text == said:
        return "" if said else text
    found = (text.removeprefix(said + joint) for joint in ("; ", ", ", tr(" and ")))
    return next((rest for rest in found if rest != text), text)


def _turns_while(profile: Profile, otherwise: str) -> str:
    """Returns in words the use of turning the pad, with the controls that switch it on."""
    slots = [
        inside(slot_label(origin.slot))
        for layer in profile.layers
        for origin, action in layer_actions(layer)
        if isinstance(origin, SlotOrigin)
        and isinstance(action.effect, SwitchMotion)
        and action.effect.switch is MotionSwitch.ON
        and action.manner is Manner.HELD
    ]
    return (
        tr("Turn the view while {controls} is held", controls=tr(" or ").join(dict.fromkeys(slots)))
        if slots
        else otherwise
    )


def with_words(pair: Together, slot: str) -> str:
    """Returns the partners of a combination, such as "with east", in the order of presses."""
    others = tr(" and ").join(inside(slot_label(other)) for other in pair.slots if other != slot)
    if pair.order is Order.GIVEN:
        return (
            tr("while {others} is held", others=others)
            if slot == pair.slots[-1]
            else tr("held for {others}", others=others)
        )
    return tr("with {others}", others=others)


def control_views(profile: Profile, layer_id: str, control: str, layout: Layout) -> dict[str, SlotView]:
    """Returns the views of all slots of a control."""
    return {slot: slot_view(profile, layer_id, slot, layout) for slot in CONTROL_BY_NAME[control].slots}


def has_same_views(before: Profile, now: Profile, control: str) -> bool:
    """Returns whether an edit leaves `control_views` of a control unchanged; quick, and False if uncertain."""
    if control == MOTION_SLOT or any(getattr(before, name) is not getattr(now, name) for name in _DECIDE_VIEWS):
        return False
    if len(before.layers) != len(now.layers):
        return False
    changed = [(old, new) for old, new in zip(before.layers, now.layers, strict=True) if old is not new]
    slots = CONTROL_BY_NAME[control].slots
    return all(
        (old.id, old.label, old.hue, old.based_on) == (new.id, new.label, new.hue, new.based_on)
        and all(old.slots.get(slot) is new.slots.get(slot) for slot in slots)
        for old, new in changed
    ) and not any(layer.together for layer in (*before.layers, *now.layers))


def layer_mark(profile: Profile, layer_id: str) -> LayerMark:
    """Returns the mark of a layer, with its own hue or that of its position."""
    index = [layer.id for layer in profile.layers].index(layer_id)
    by_position = 1 + (index - 1) % len(HUE_NAMES) if index else 0
    return LayerMark(layer_letter(index), profile.layers[index].hue or by_position)


def comes_on(profile: Profile, layer_id: str) -> list[str]:
    """Returns the activations of a layer in words, such as "While left shoulder is held"."""
    return [_direction_words(profile, way) for way in layer_activations(profile) if way.layer == layer_id]


_MANNERS = {
    Manner.HELD: tr("held"),
    Manner.ONCE: tr("once"),
    Manner.TOGGLE: tr("toggle"),
    Manner.TURBO: tr("turbo"),
    Manner.PULSE: tr("pulse"),
    Manner.LOCK: tr("locks when held long"),
    Manner.TOGGLE_TURBO: tr("turbo, on and off"),
}


def _direction_words(profile: Profile, way: Activation) -> str:
    how = _MANNERS[way.manner] if way.manner is not None else tr("until changed")
    pressed = tr(" and ").join(inside(slot_label(slot)) for slot in way.slots)
    if way.held:
        one = len(way.slots) == 1
        return (
            tr("While {pressed} is held", pressed=pressed) if one else tr("While {pressed} are held", pressed=pressed)
        )
    match way.origin:
        case CarouselOrigin() | RingOrigin():
            return tr("By an entry of a carousel or ring, {how}", how=how)
        case SlotOrigin(_, _, reaction) if reaction is not Reaction.PRESS:
            return tr(
                "By {reaction} of {pressed}, {how}", reaction=inside(REACTION_WORDS[reaction]), pressed=pressed, how=how
            )
        case SlotOrigin() | PairOrigin():
            return tr("By {pressed}, {how}", pressed=pressed, how=how)
        case LayerOrigin(layer_id, leaves):
            label = label_of(profile, Reference(Kind.LAYER, layer_id))
            return tr("As layer {label} goes", label=label) if leaves else tr("As layer {label} comes on", label=label)
        case _:
            assert_never(way.origin)


def layer_letter(index: int) -> str:
    """Returns the letter of the layer at a position."""
    return "ABCDEFGHIJKLMNOPQRSTUVWXYZ"[index]


def _caps(profile: Profile, assignment: Assignment | None, layout: Layout) -> tuple[str, ...]:
    if assignment is None:
        return ()
    action = next(iter(assignment.reactions.values()), assignment)
    return input_caps(sent_input(profile, action), layout)


def input_caps(sent: Sent | None, layout: Layout) -> tuple[str, ...]:
    """Returns the keycap texts of keys, a wheel click, or a text with the Enter that ends it; empty for None."""
    match sent:
        case None:
            return ()
        case PressKeys(keys):
            return tuple(layout.label(code) for code in keys)
        case ClickWheel(direction):
            return (tr("Wheel {arrows}", arrows=ARROWS[direction.value]),)
        case TypeText(text):
            line = text.removesuffix("\n")
            typed = tr("“{typed}”", typed=plainly(line))
            return (typed,) if line == text else (typed, layout.label("KEY_ENTER"))
        case _:
            assert_never(sent)
