"""Each effect, and each use of a whole stick, as a person meets it: its name, where it is offered, what can be set."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import Enum
from typing import TypeVar, assert_never

from msgspec.structs import replace

from nub_shift.keyboard.layout import Layout
from nub_shift.model.actions import TURBOS, Action, Manner, with_effect
from nub_shift.model.controls import MOTION_SLOT, SURFACE_SLOT
from nub_shift.model.effects import (
    AskForProfile,
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
    Tilt,
    Turn,
    WheelDirection,
)
from nub_shift.model.listed import Confirm
from nub_shift.model.named import Kind, Reference, label_of
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.translation import tr

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


_BUTTONS = {"BTN_LEFT": tr("Holds the left button"), "BTN_RIGHT": tr("Holds the right button")}
Choice = tuple[str, Effect | StickUse]
# What an amount or a switch changes, as it stands when it is changed.
Subject = Action | StickUse
S = TypeVar("S", PointerSpeed, Tilt, PointerPosition, Scroll, Drag, Glide, Nudge)


class Menu(Enum):
    """The lists that offer what is no plain key; the value is what is said of each."""

    WHOLE = tr("The whole of it")
    LAYER = tr("A layer")
    WHEEL = tr("The mouse wheel")
    STEP = tr("A step through a list of moves")
    SEQUENCE = tr("Several keys, one after the other")
    PACE = tr("Another look speed")
    GYRO = tr("The gyro")
    POINTER = tr("A move of the pointer")
    PROFILE = tr("Another profile")
    TOGETHER = tr("Together with another control")


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
            return _layer_words(tr("Layer"), profile, layer)
        case StayOnLayer(layer):
            return _layer_words(tr("Stay on"), profile, layer)
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
        case AskForProfile(title):
            return tr("Profile {title}", title=title)
        case Scroll():
            return tr("Scroll")
        case Glide():
            return tr("Glide")
        case Nudge():
            return tr("Nudge")
        case Silence():
            return tr("Do nothing")
        case _:
            assert_never(effect)


def use_label(profile: Profile, use: StickUse) -> str:
    """What a whole stick, surface or turning the pad does, in words."""
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


def _layer_words(word: str, profile: Profile, layer_id: str) -> str:
    """A person may have called the layer "Layer B" already."""
    label = label_of(profile, Reference(Kind.LAYER, layer_id))
    return label if label.startswith(word) else f"{word} {label}"


def choices(menu: Menu, profile: Profile, slot: str, titles: list[str]) -> Iterator[Choice]:
    """What a menu offers for a slot; `titles` are the profiles that it can go to."""
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
            return ((tr("Go to {title}", title=title), AskForProfile(title)) for title in titles)
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
            yield tr("{layer} to stay", layer=layer.label), StayOnLayer(layer.id)
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


@dataclass(frozen=True)
class Amount:
    """A number that can be set.

    Attributes:
        change: the action or use with a new number.
        help: what it does, in a sentence.
    """

    label: str
    value: int
    low: int
    high: int
    unit: str
    change: Callable[[int], Subject]
    help: str


@dataclass(frozen=True)
class Switch:
    """Something that is so or not.

    Attributes:
        change: the action or use with it switched.
        help: a sentence of what it does.
    """

    label: str
    on: bool
    change: Callable[[bool], Subject]
    help: str


def amounts_of(does: Subject) -> Iterator[Amount]:
    """The numbers of an action, or of what a whole stick does."""
    if not isinstance(does, Action):
        yield from _use_amounts(does)
        return
    if does.effect is not None:
        yield from _effect_amounts(does, does.effect)
    if does.manner in TURBOS:
        yield Amount(
            tr("Held down for"),
            round(does.duty * 100),
            5,
            95,
            " %",
            lambda value: replace(does, duty=value / 100),
            tr("How much of each repeat the key is down. Games that miss short presses want more."),
        )
    yield from _manner_amounts(does)


def _manner_amounts(does: Action) -> Iterator[Amount]:
    """What of a manner is set for few; it shows once it is."""
    if does.manner is Manner.LOCK:
        yield Amount(
            tr("Locks after"),
            does.lock_ms,
            20,
            5000,
            " ms",
            lambda ms: replace(does, lock_ms=ms),
            tr("Held for longer than this, it stays down after you let go, until you press it again."),
        )
    if does.light_hz is not None:
        yield Amount(
            tr("Barely pressed"),
            round(does.light_hz),
            1,
            60,
            tr(" /s"),
            lambda value: replace(does, light_hz=float(value)),
            tr("How often it repeats when the trigger or stick is hardly moved; all the way it has its full rate."),
        )
    if does.linger_ms:
        yield Amount(
            tr("Stays on"),
            does.linger_ms,
            0,
            10_000,
            tr(" ms longer"),
            lambda ms: replace(does, linger_ms=ms),
            tr("How long it goes on after you let go."),
        )


def _effect_amounts(does: Action, effect: Effect) -> Iterator[Amount]:
    def changed(effect: Effect) -> Action:
        return with_effect(does, effect)

    match effect:
        case Glide():
            yield from _across_and_upright(effect, -20000, 20000, tr(" counts/s"), changed)
        case Nudge():
            yield from _across_and_upright(effect, -20000, 20000, tr(" counts"), changed)
        case Scroll():
            yield from _across_and_upright(effect, -100, 100, tr(" clicks/s"), changed)
        case ChangePace(factor):
            yield Amount(
                tr("Look speed"),
                round(factor * 100),
                1,
                2000,
                " %",
                lambda value: changed(ChangePace(value / 100)),
                tr("How fast looking is while this is on; 100 % is as without it."),
            )
        case DoMove() | PressKeys() | ClickWheel() | PlaySequence() | CarouselStep() | Silence():
            pass
        case HoldLayer() | StayOnLayer() | NextLayer() | SwitchMotion() | AskForProfile():
            pass
        case _:
            assert_never(effect)


def _use_amounts(use: StickUse) -> Iterator[Amount]:
    match use:
        case PointerSpeed():
            yield from _across_and_upright(use, -20000, 20000, tr(" counts/s"), lambda made: made)
        case Tilt():
            yield from _across_and_upright(use, -20000, 20000, tr(" counts/s"), lambda made: made)
        case Flick():
            yield Amount(
                tr("From"),
                round(use.radius * 100),
                30,
                95,
                " %",
                lambda value: replace(use, radius=value / 100),
                tr("How far the stick must be pushed, of the way to its edge, to turn the view to where it points."),
            )
            yield Amount(
                tr("Turns within"),
                use.settle_ms,
                20,
                1000,
                " ms",
                lambda ms: replace(use, settle_ms=ms),
                tr("How long the view takes to turn to where the stick points."),
            )
        case Scroll():
            yield from _across_and_upright(use, -100, 100, tr(" clicks/s"), lambda made: made)
        case Drag():
            yield from _across_and_upright(use, -20000, 20000, tr(" counts"), lambda made: made)
            yield Amount(
                tr("Rolls on for"),
                use.roll_ms,
                0,
                5000,
                " ms",
                lambda ms: replace(use, roll_ms=ms),
                tr("How long the pointer goes on after the finger has left the surface."),
            )
        case PointerPosition():
            yield from _across_and_upright(use, 1, 5000, tr(" counts"), lambda made: made)
        case ChooseFromRing() | Turn():
            pass
        case _:
            assert_never(use)


def _across_and_upright(pair: S, low: int, high: int, unit: str, changed: Callable[[S], Subject]) -> Iterator[Amount]:
    """An amount across and one up or down."""
    across, down = tr("How much to the right; below 0 to the left."), tr("How much downwards; below 0 upwards.")
    yield Amount(tr("Across"), round(pair.x), low, high, unit, lambda value: changed(replace(pair, x=value)), across)
    yield Amount(tr("Up and down"), round(pair.y), low, high, unit, lambda value: changed(replace(pair, y=value)), down)


def switches_of(does: Subject) -> Iterator[Switch]:
    """What is so or not of an action, or of what a whole stick does."""
    match does:
        case Action():
            if does.manner is Manner.TOGGLE:
                told = tr("When the game comes to the front again, the toggle is on again if it was on before.")
                yield Switch(tr("Comes back with the game"), does.regain, lambda on: replace(does, regain=on), told)
            if isinstance(does.effect, ChangePace):
                told = tr("The further you press, the more the speed changes.")
                label = tr("All of it when pressed deep")
                yield Switch(label, does.by_depth, lambda on: replace(does, by_depth=on), told)
        case PointerPosition():
            told = tr(
                "The pointer goes all the way at once, to where the stick points. Otherwise it goes as far as you push."
            )
            yield Switch(tr("On a ring"), does.ring, lambda on: replace(does, ring=on), told)
            told = tr("This mouse button is held down while the stick is pushed.")
            for code, name in _BUTTONS.items():
                yield Switch(name, code in does.hold, _holding(does, code), told)
        case Turn():
            told = tr("Turning the pad does nothing until a button that turns the gyro on is held or pressed.")
            yield Switch(tr("Only while switched on"), not does.on, lambda on: Turn(on=not on), told)
        case PointerSpeed() | Scroll() | Drag() | ChooseFromRing() | Tilt() | Flick():
            pass
        case _:
            assert_never(does)


def _holding(position: PointerPosition, code: str) -> Callable[[bool], PointerPosition]:
    rest = tuple(held for held in position.hold if held != code)
    return lambda on: replace(position, hold=(*rest, code) if on else rest)
