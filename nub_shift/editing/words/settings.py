"""Settings of an action, or of a use of a whole stick: numbers, switches and choices."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TypeVar, assert_never

from msgspec.structs import replace

from nub_shift.model.profile.actions import TURBOS, Action, Manner, with_effect, with_manner
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
    NextLayer,
    Nudge,
    PaceOf,
    PlacePointer,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    RequestProfile,
    Scroll,
    Silence,
    Snap,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Tilt,
    Turn,
    TurnBy,
)
from nub_shift.translation import tr

_BUTTONS = {"BTN_LEFT": tr("Holds the left button"), "BTN_RIGHT": tr("Holds the right button")}
# Owner of a setting at the time of the change.
Subject = Action | StickUse
S = TypeVar("S", PointerSpeed, Tilt, PointerPosition, Scroll, Drag, Glide, Nudge)


@dataclass(frozen=True)
class Amount:
    """A number.

    Attributes:
        change: returns the action or use with a new number.
        help: a sentence about its effect.
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
    """A setting that is on or off.

    Attributes:
        change: returns the action or use with the setting switched.
        help: a sentence about its effect.
    """

    label: str
    on: bool
    change: Callable[[bool], Subject]
    help: str


def amounts_of(does: Subject) -> Iterator[Amount]:
    """Yields the numbers of an action, or of a use of a whole stick."""
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
    """Yields the rare settings of a manner; each is shown once it is set."""
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
        case TurnBy(degrees, over_ms):
            yield Amount(
                tr("Turns by"),
                round(degrees),
                -720,
                720,
                "°",
                lambda value: changed(replace(effect, degrees=float(value))),
                tr(
                    "How far the view turns; below 0 to the left. Measure a full turn first, "
                    "or it turns too far or not far enough."
                ),
            )
            yield Amount(
                tr("Time to turn"),
                over_ms,
                0,
                2000,
                " ms",
                lambda ms: changed(replace(effect, over_ms=ms)),
                tr("How long the view takes to turn. Some games miss part of a turn that comes all at once."),
            )
        case PlacePointer(x, y):
            yield Amount(
                tr("From the left"),
                round(x * 100),
                0,
                100,
                " %",
                lambda value: changed(replace(effect, x=value / 100)),
                tr("Where the pointer goes: 0 % is the left edge of the screen, 100 % the right one."),
            )
            yield Amount(
                tr("From the top"),
                round(y * 100),
                0,
                100,
                " %",
                lambda value: changed(replace(effect, y=value / 100)),
                tr("Where the pointer goes: 0 % is the top of the screen, 100 % the bottom."),
            )
        case DoMove() | PressKeys() | ClickWheel() | PlaySequence() | CarouselStep() | Silence():
            pass
        case HoldLayer() | StayOnLayer() | NextLayer() | SwitchMotion() | RequestProfile():
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
                tr("Time to turn"),
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
    """Yields a horizontal and a vertical amount."""
    across, down = tr("How much to the right; below 0 to the left."), tr("How much downwards; below 0 upwards.")
    yield Amount(tr("Across"), round(pair.x), low, high, unit, lambda value: changed(replace(pair, x=value)), across)
    yield Amount(tr("Up and down"), round(pair.y), low, high, unit, lambda value: changed(replace(pair, y=value)), down)


def switches_of(does: Subject) -> Iterator[Switch]:
    """Yields the switches of an action, or of the use of a whole stick."""
    match does:
        case Action():
            if does.manner is Manner.TOGGLE:
                told = tr("When the game comes to the front again, the toggle is on again if it was on before.")
                yield Switch(
                    tr("Still on when the game is back in front"),
                    does.regain,
                    lambda on: replace(does, regain=on),
                    told,
                )
            if isinstance(does.effect, ChangePace):
                told = tr("The further you press, the more the speed changes.")
                label = tr("All of it when pressed deep")
                yield Switch(label, does.by_depth, lambda on: replace(does, by_depth=on), told)
            if isinstance(does.effect, PlacePointer):
                told = tr("When you let go, the pointer goes back to where it was. On Wayland it stays.")
                yield Switch(tr("Goes back"), does.effect.back, lambda on: _placed(does, on), told)
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


@dataclass(frozen=True)
class Options:
    """A choice of several.

    Attributes:
        texts: the choices.
        now: index of the present one.
        change: returns the action or use with another choice, by index.
        help: a sentence about its effect.
    """

    label: str
    texts: tuple[str, ...]
    now: int
    change: Callable[[int], Subject]
    help: str


_SNAP_WORDS = {
    Snap.NONE: tr("Exactly where it points"),
    Snap.FORWARD: tr("Straight ahead if you push about forward"),
    Snap.EIGHTH: tr("By eighths of a turn"),
    Snap.QUARTER: tr("By quarters of a turn"),
}
_PACE_WORDS = {
    PaceOf.ALL: tr("Stick and gyro"),
    PaceOf.STICK: tr("Only the stick"),
    PaceOf.MOTION: tr("Only the gyro"),
}


def options_of(does: Subject) -> Iterator[Options]:
    """Yields the choices of an action, or of the use of a whole stick."""
    match does:
        case Action(effect=ChangePace()):
            yield Options(
                tr("Applies to"),
                tuple(_PACE_WORDS.values()),
                list(_PACE_WORDS).index(does.pace_of),
                lambda index: replace(does, pace_of=list(_PACE_WORDS)[index]),
                tr("Which way of looking gets another speed."),
            )
        case Flick():
            yield Options(
                tr("Turns to"),
                tuple(_SNAP_WORDS.values()),
                list(_SNAP_WORDS).index(does.snap),
                lambda index: replace(does, snap=list(_SNAP_WORDS)[index]),
                tr("Rounds the first turn. While you keep the stick out, the view goes round with it."),
            )
        case _:
            pass


def _placed(action: Action, back: bool) -> Action:
    """Returns the action with a pointer that returns or stays; a manner that does not fit becomes "while held"."""
    assert isinstance(action.effect, PlacePointer)
    made = with_effect(action, replace(action.effect, back=back))
    return with_manner(made, Manner.HELD)


def _holding(position: PointerPosition, code: str) -> Callable[[bool], PointerPosition]:
    rest = tuple(held for held in position.hold if held != code)
    return lambda on: replace(position, hold=(*rest, code) if on else rest)
