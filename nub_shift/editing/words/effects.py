"""Each effect, and each use of a whole stick, in the interface: label, menu, settings."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from enum import Enum
from typing import assert_never

from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import MOTION_SLOT, SURFACE_SLOT
from nub_shift.model.profile.effects import (
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Effect,
    Flick,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    PlacePointer,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    RequestProfile,
    Scroll,
    Silence,
    StayOnLayer,
    Step,
    StickUse,
    SwitchMotion,
    Tilt,
    Turn,
    TurnBy,
    WheelDirection,
)
from nub_shift.model.profile.listed import Confirm
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.references.named import Kind, Reference, label_of
from nub_shift.translation import inside, tr

WHEEL_WORDS = {
    WheelDirection.UP: tr("Wheel up"),
    WheelDirection.DOWN: tr("Wheel down"),
    WheelDirection.LEFT: tr("Wheel left"),
    WheelDirection.RIGHT: tr("Wheel right"),
}
STEP_WORDS = {Step.FORWARD: tr("forward"), Step.BACK: tr("back"), Step.FIRST: tr("to the first")}
MOTION_WORDS = {
    MotionSwitch.ON: tr("Gyro on"),
    MotionSwitch.OFF: tr("Gyro off"),
    MotionSwitch.RECENTRE: tr("Recentre the gyro"),
}


Choice = tuple[str, Effect | StickUse]


class Menu(Enum):
    """Menus of effects other than plain keys; the value describes each."""

    WHOLE = tr("The whole of it")
    LAYER = tr("A layer")
    WHEEL = tr("The mouse wheel")
    STEP = tr("A carousel: step through a list of moves")
    SEQUENCE = tr("Several keys, one after the other")
    PACE = tr("Another look speed")
    GYRO = tr("The gyro")
    POINTER = tr("A move of the pointer or the view")
    PROFILE = tr("Another profile")
    TOGETHER = tr("Together with another control")


def effect_label(profile: Profile, effect: Effect, layout: Layout) -> str:
    """Returns an effect in words."""
    match effect:
        case DoMove(move):
            return label_of(profile, Reference(Kind.MOVE, move))
        case PressKeys(keys):
            return layout.combination(keys)
        case ClickWheel(direction):
            return WHEEL_WORDS[direction]
        case HoldLayer(layer):
            return _layer_words(tr("Layer"), profile, layer)
        case StayOnLayer(layer):
            return _layer_words(tr("Stays on"), profile, layer)
        case NextLayer(layers):
            return _layer_words(tr("Next of"), profile, layers[0])
        case CarouselStep(carousel, step):
            return f"{label_of(profile, Reference(Kind.CAROUSEL, carousel))} {STEP_WORDS[step]}"
        case PlaySequence(sequence):
            return label_of(profile, Reference(Kind.SEQUENCE, sequence))
        case ChangePace(factor):
            return tr("Look speed {factor:g} %", factor=factor * 100)
        case SwitchMotion(switch):
            return MOTION_WORDS[switch]
        case RequestProfile(title):
            return tr("Profile {title}", title=title)
        case Scroll():
            return tr("Scroll")
        case Glide():
            return tr("Glide")
        case Nudge():
            return tr("Nudge")
        case TurnBy(degrees):
            side = tr("right") if degrees >= 0 else tr("left")
            return tr("Turn {degrees:g}° {side}", degrees=abs(degrees), side=side)
        case PlacePointer(x, y):
            return tr("Pointer to {x:g} %, {y:g} %", x=round(x * 100), y=round(y * 100))
        case Silence():
            return tr("Do nothing")
        case _:
            assert_never(effect)


def use_label(profile: Profile, use: StickUse) -> str:
    """Returns in words the use of a whole stick, a surface, or turning the pad."""
    match use:
        case PointerSpeed():
            return tr("Move the pointer")
        case Drag():
            return tr("Drag the pointer")
        case PointerPosition():
            return tr("Place the pointer")
        case Scroll():
            return tr("Scroll")
        case ChooseFromRing(ring):
            return tr("Ring {ring}", ring=label_of(profile, Reference(Kind.RING, ring)))
        case Turn(on):
            return tr("Turn the view") if on else tr("Turn the view when switched on")
        case Tilt():
            return tr("Move the pointer by tilting")
        case Flick():
            return tr("Turn to where it points")
        case _:
            assert_never(use)


def uses_label(profile: Profile, uses: Sequence[StickUse]) -> str:
    """Returns in words all uses of a control: the pad may be turned for one and tilted for another."""
    first, *others = (use_label(profile, use) for use in uses)
    return tr(" and ").join([first, *map(inside, others)])


def _layer_words(word: str, profile: Profile, layer_id: str) -> str:
    """Returns a layer's name after a word, without repeating "Layer" of a name like "Layer B"."""
    label = label_of(profile, Reference(Kind.LAYER, layer_id))
    return label if label.startswith(word) else f"{word} {label}"


def choices(menu: Menu, profile: Profile, slot: str, titles: list[str]) -> Iterator[Choice]:
    """Yields the entries of a menu for a slot; `titles` are the profiles to change to."""
    match menu:
        case Menu.WHOLE:
            return _use_choices(profile, slot)
        case Menu.LAYER:
            return _layer_choices(profile)
        case Menu.WHEEL:
            return _wheel_choices()
        case Menu.STEP:
            return _step_choices(profile)
        case Menu.SEQUENCE:
            return _sequence_choices(profile)
        case Menu.PACE:
            return _pace_choices()
        case Menu.GYRO:
            return ((word, SwitchMotion(switch)) for switch, word in MOTION_WORDS.items())
        case Menu.POINTER:
            return _pointer_choices()
        case Menu.PROFILE:
            return ((tr("Go to {title}", title=title), RequestProfile(title)) for title in titles)
        case Menu.TOGETHER:
            return iter(())
        case _:
            assert_never(menu)


def _layer_choices(profile: Profile) -> Iterator[Choice]:
    for layer in profile.layers:
        if layer.id != BASE_LAYER:
            yield tr("{layer} while held", layer=layer.label), HoldLayer(layer.id)
    for layer in profile.layers:
        if layer.id != BASE_LAYER:
            yield tr("{layer}, until changed", layer=layer.label), StayOnLayer(layer.id)
    if len(profile.layers) > 1:
        yield tr("Back to {label}", label=profile.layers[0].label), StayOnLayer(BASE_LAYER)
    if len(profile.layers) > 2:
        yield tr("The next layer, round"), NextLayer(tuple(layer.id for layer in profile.layers))


def _wheel_choices() -> Iterator[Choice]:
    for direction, word in _CLICK_WORDS.items():
        yield word, ClickWheel(direction)
    yield tr("Scroll up smoothly"), Scroll(y=12.0)
    yield tr("Scroll down smoothly"), Scroll(y=-12.0)


_CLICK_WORDS = {
    WheelDirection.UP: tr("One click up"),
    WheelDirection.DOWN: tr("One click down"),
    WheelDirection.LEFT: tr("One click left"),
    WheelDirection.RIGHT: tr("One click right"),
}


def _step_choices(profile: Profile) -> Iterator[Choice]:
    for carousel in profile.carousels:
        for step, word in STEP_WORDS.items():
            yield f"{carousel.label} {word}", CarouselStep(id=carousel.id, step=step)


def _sequence_choices(profile: Profile) -> Iterator[Choice]:
    for sequence in profile.sequences:
        yield sequence.label, PlaySequence(sequence.id)


def _pace_choices() -> Iterator[Choice]:
    for pace, word in (
        (0.25, tr("A quarter of the speed while held")),
        (0.5, tr("Half the speed while held")),
        (2.0, tr("Twice the speed while held")),
    ):
        yield word, ChangePace(pace)


def _pointer_choices() -> Iterator[Choice]:
    glides = (
        *((tr("Glides left while held"), -1, 0), (tr("Glides right while held"), 1, 0)),
        *((tr("Glides up while held"), 0, -1), (tr("Glides down while held"), 0, 1)),
    )
    for word, x, y in glides:
        yield word, Glide(x=400.0 * x, y=400.0 * y)
    jumps = (
        *((tr("Jumps left once"), -1, 0), (tr("Jumps right once"), 1, 0)),
        *((tr("Jumps up once"), 0, -1), (tr("Jumps down once"), 0, 1)),
    )
    for word, x, y in jumps:
        yield word, Nudge(x=50 * x, y=50 * y)
    for word, degrees in (
        (tr("Turns the view around"), 180.0),
        (tr("Turns the view a quarter to the left"), -90.0),
        (tr("Turns the view a quarter to the right"), 90.0),
    ):
        yield word, TurnBy(degrees)
    yield tr("Goes to a place on the screen while held"), PlacePointer()
    yield tr("Goes to a place on the screen and stays"), PlacePointer(back=False)


def _use_choices(profile: Profile, slot: str) -> Iterator[Choice]:
    if slot == MOTION_SLOT:
        yield tr("Turn the view"), Turn()
        yield tr("Turn the view only while switched on"), Turn(on=False)
        yield tr("Pointer speed by tilting"), Tilt()
        for ring in profile.rings:
            if ring.confirm is not Confirm.CLICK:
                yield tr("Ring {ring}, by tilting", ring=ring.label), ChooseFromRing(ring.id)
        return
    yield tr("Pointer speed"), PointerSpeed()
    yield tr("Pointer around a centre"), PointerPosition()
    yield tr("Pointer on a ring around a centre"), PointerPosition(ring=True)
    yield tr("Wheel"), Scroll(x=0.0, y=10.0)
    yield tr("Turn the view to where it points"), Flick()
    if slot == SURFACE_SLOT:
        yield tr("Drag the pointer"), Drag()
    for ring in profile.rings:
        yield tr("Ring {ring}", ring=ring.label), ChooseFromRing(ring.id)
