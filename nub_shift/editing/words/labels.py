"""What a slot does, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.keyboard.layout import Layout
from nub_shift.model.actions import Action, Assignment, Manner, Reaction
from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS
from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    Silence,
    StayOnLayer,
    Step,
    StickUse,
    SwitchMotion,
    Turn,
    WheelDirection,
)
from nub_shift.model.profile import Profile
from nub_shift.model.walk import Kind, Reference, find

REACTION_WORDS = {
    Reaction.PRESS: "Press",
    Reaction.TAP: "Tap",
    Reaction.HOLD: "Hold",
    Reaction.DOUBLE_TAP: "Double tap",
    Reaction.RELEASE: "Release",
}
MANNER_WORDS = {
    Manner.HELD: "While held",
    Manner.TOGGLE: "Toggle",
    Manner.TURBO: "Turbo",
    Manner.ONCE: "Once",
    Manner.PULSE: "Pulse",
}
WHEEL_WORDS = {
    WheelDirection.UP: "Wheel up",
    WheelDirection.DOWN: "Wheel down",
    WheelDirection.LEFT: "Wheel left",
    WheelDirection.RIGHT: "Wheel right",
}
STEP_WORDS = {Step.FORWARD: "forward", Step.BACK: "back", Step.FIRST: "to the first"}
MOTION_WORDS = {
    MotionSwitch.ON: "Motion on",
    MotionSwitch.OFF: "Motion off",
    MotionSwitch.RECENTRE: "Motion recentre",
}
KIND_WORDS = {
    Kind.MOVE: "Moves",
    Kind.LAYER: "Layers",
    Kind.SEQUENCE: "Sequences",
    Kind.CAROUSEL: "Carousels",
    Kind.RING: "Rings",
}
NOTHING = "Nothing"


def count_words(count: int, one: str, several: str) -> str:
    """A number with its noun, as in "1 slot" and "3 slots"."""
    return f"{count} {one if count == 1 else several}"


def slot_words(profile: Profile, slot: str, assignment: Assignment | None, layout: Layout) -> str:
    """What an assignment does at a slot, keys as `layout` prints them, as "Leap; hold: Wade low"."""
    if assignment is None:
        return NOTHING
    use = assignment.use if slot in STICK_SLOTS or slot == MOTION_SLOT else None
    if use is not None:
        return use_label(profile, use)
    words = []
    for reaction, action in assignment.reactions.items():
        label = action_label(profile, action, layout)
        words.append(label if reaction is Reaction.PRESS else f"{REACTION_WORDS[reaction].lower()}: {label}")
    return "; ".join(words) or NOTHING


def use_label(profile: Profile, use: StickUse) -> str:
    """What a whole stick, surface or turning the pad does, in words."""
    match use:
        case PointerSpeed():
            return "Move the pointer"
        case Drag():
            return "Drag the pointer"
        case PointerPosition():
            return "Place the pointer"
        case Scroll():
            return "Scroll"
        case ChooseFromRing(ring):
            return f"Ring {label_of(profile, Reference(Kind.RING, ring))}"
        case Turn(on):
            return "Turn the view" if on else "Turn the view when switched on"
        case _:
            assert_never(use)


def action_label(profile: Profile, action: Action, layout: Layout) -> str:
    """What an action does, in words, as "Ctrl + C, toggle"."""
    effect = action.effect
    label = effect_label(profile, effect, layout) if effect is not None else NOTHING
    return label if action.manner is Manner.HELD else f"{label}, {MANNER_WORDS[action.manner].lower()}"


def effect_label(profile: Profile, effect: Effect, layout: Layout) -> str:
    """What an effect does, in words."""
    match effect:
        case DoMove(move):
            return label_of(profile, Reference(Kind.MOVE, move))
        case PressKeys(keys):
            return layout.combination(keys)
        case ClickWheel(direction):
            return WHEEL_WORDS[direction]
        case HoldLayer(layer):
            return _layer_words("Layer", profile, layer)
        case StayOnLayer(layer):
            return _layer_words("Stay on", profile, layer)
        case NextLayer(layers):
            return _layer_words("Next of", profile, layers[0])
        case CarouselStep(carousel, step):
            return f"{label_of(profile, Reference(Kind.CAROUSEL, carousel))} {STEP_WORDS[step]}"
        case PlaySequence(sequence):
            return label_of(profile, Reference(Kind.SEQUENCE, sequence))
        case ChangePace(factor):
            return f"Pace {factor:g}"
        case SwitchMotion(switch):
            return MOTION_WORDS[switch]
        case AskForProfile(title):
            return f"Profile {title}"
        case Scroll():
            return "Scroll"
        case Glide():
            return "Glide"
        case Nudge():
            return "Nudge"
        case Silence():
            return "Silence"
        case _:
            assert_never(effect)


def label_of(profile: Profile, reference: Reference) -> str:
    """What the person calls something; its id where there is no such thing."""
    found = find(profile, reference)
    return found.label if found is not None else reference.id


def _layer_words(word: str, profile: Profile, layer_id: str) -> str:
    """A person may have called the layer "Layer B" already."""
    label = label_of(profile, Reference(Kind.LAYER, layer_id))
    return label if label.startswith(word) else f"{word} {label}"
