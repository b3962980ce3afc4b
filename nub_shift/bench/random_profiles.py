"""Random profiles and frames with all features of profiles, nested in every way accepted by `check`.

Few controls, layers and keys, so that their assignments interact. Used by the long run of the bench and by the property
tests.
"""

from __future__ import annotations

from collections.abc import Iterator
from random import Random
from typing import Any, TypeVar, assert_never

import msgspec

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_BY_NAME, MOTION_SLOT, STICK_SLOTS, SURFACE_SLOT
from nub_shift.model.profile.actions import REPEATS, Action, Manner
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
    PaceOf,
    PlacePointer,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    RequestProfile,
    Scroll,
    Snap,
    StayOnLayer,
    Step,
    StickUse,
    SwitchMotion,
    Tilt,
    Turn,
    TurnBy,
    WheelDirection,
)
from nub_shift.model.profile.feel import Feel, FeelChange
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.listed import (
    Again,
    Carousel,
    Confirm,
    Ring,
    RingEntry,
    Runs,
    Sequence,
    SequenceStep,
    StepAct,
)
from nub_shift.model.profile.profile import SCHEMA_VERSION, Layer, Move, Profile
from nub_shift.model.profile.reactions import (
    Assignment,
    Hold,
    LongHold,
    MoreTaps,
    Order,
    Reacting,
    Reaction,
    Release,
    Together,
)
from nub_shift.model.references.effect_facts import manners_of
from nub_shift.model.references.profile_index import ProfileIndex

# One control of each kind, and two buttons for combinations.
LIVELY = tuple(
    CONTROL_BY_NAME[name]
    for name in ("south", "left_shoulder", "right_trigger", "left_stick", "surface", "slider_1", "motion")
)
CHANNELS = tuple(channel for control in LIVELY for channel in control.channels)
_WHOLE = tuple(slot for control in LIVELY for slot in control.slots if slot in STICK_SLOTS)
PRESS_SLOTS = tuple(
    slot for control in LIVELY for slot in control.slots if slot not in STICK_SLOTS and slot != MOTION_SLOT
)
_LAYERS = ("aim", "swim", "dive")
_KEYS = ("KEY_W", "KEY_A", "KEY_LEFTSHIFT", "BTN_LEFT", "KEY_Q")
_SHORT = (Manner.HELD, Manner.ONCE, Manner.TOGGLE)
_T = TypeVar("_T")
_A = TypeVar("_A", bound=Action)
_R = TypeVar("_R", bound=Reacting)


def random_profile(chance: Random) -> Profile:
    """Returns a profile that `check` accepts."""
    return _Maker(chance).profile()


def random_frames(chance: Random, count: int, start_us: int) -> Iterator[Frame]:
    """Yields frames of a hand that uses every control; some frames come late or in bunches."""
    t_us = sensor_us = start_us
    for _ in range(count):
        usual = chance.random() < 0.95
        t_us += chance.choice((0, 0, 1000, 4000, 4000, 4000, 9000, 20_000, 40_000) if usual else (150_000, 700_000))
        sensor_us += chance.choice((1000, 4000, 4000, 50_000))
        values: dict[str, float] = {}
        for channel in chance.sample(CHANNELS, chance.randint(1, 5)):
            low = -1.0 if channel.endswith((".x", ".y")) or "slider" in channel or "motion" in channel else 0.0
            value = chance.choice((low, 0.0, 0.0, 1.0, 1.0, 0.5, chance.uniform(low, 1.0)))
            values[channel] = value * (90.0 if "gyro" in channel else 1.0)
        yield Frame(t_us, values, sensor_us & 0xFFFFFFFF if chance.random() < 0.7 else None)


_MOVES = (
    Move(id="walk", label="Walk", keys=("KEY_W",)),
    Move(id="next", label="Next", wheel=WheelDirection.DOWN),
    Move(id="say", label="Say", text="aB\n"),
)
_MOVES_ONLY = ProfileIndex.of(Profile(schema=SCHEMA_VERSION, title="Any", moves=_MOVES))


class _Maker:
    """Builds one profile."""

    def __init__(self, chance: Random) -> None:
        self._chance = chance
        self._layers = _LAYERS[: chance.randint(1, len(_LAYERS))]
        self._game = chance.choice((Game(shortest_key_ms=0, shortest_gap_ms=0), Game(), Game(shortest_key_ms=60)))

    def profile(self) -> Profile:
        entries = tuple(self._whole(Action, self._effect(layers=False, parts=False)) for _ in range(self._some(3)))
        return Profile(
            schema=SCHEMA_VERSION,
            title="Any",
            moves=_MOVES,
            layers=tuple(self._layer(name) for name in ("base", *self._layers)),
            sequences=tuple(self._sequence(name) for name in ("through", "any")),
            carousels=(
                # The first carousel is for sequences, so without layers and sequences.
                Carousel(id="plain", label="P", entries=entries, wrap=self._flip(), rest_ms=self._pick(0, 90)),
                Carousel(
                    id="wheel",
                    label="W",
                    entries=tuple(self._whole(Action, self._effect(steps=False)) for _ in range(self._some(3))),
                    wrap=self._flip(),
                ),
            ),
            rings=tuple(self._ring(f"ring_{confirm.value}", confirm) for confirm in Confirm),
            game=self._game,
            feel=msgspec.convert(self._feel(), Feel),
        )

    def _layer(self, name: str) -> Layer:
        slots = {slot: self._assignment() for slot in self._chance.sample(PRESS_SLOTS, self._chance.randint(2, 9))}
        for slot in (*_WHOLE, MOTION_SLOT):
            if self._chance.random() < 0.4:
                slots[slot] = Assignment.of_uses(self._uses(slot, name))
        own: dict[str, Any] = {}
        if name != "base":
            own["feel"] = msgspec.convert(self._feel(), FeelChange)
            own["pace"] = self._pick(None, None, 0.5)
            own["based_on"] = self._pick(None, self._layers[0]) if name != self._layers[0] else None
            own["enter"] = self._pick(None, self._whole(Action, self._effect(layers=False, steps=False)))
            own["leave"] = self._pick(None, self._over_at_once(steps=False))
        together = {pair.gesture: pair for pair in (self._together() for _ in range(self._pick(0, 0, 1, 2)))}
        return Layer(id=name, label=name, slots=slots, together=tuple(together.values()), **own)

    def _assignment(self) -> Assignment:
        if self._chance.random() < 0.05:
            return Assignment(silence=True)
        return self._reacting(self._whole(Assignment, self._effect()))

    def _reacting(self, made: _R) -> _R:
        """Adds further reactions, half of the time."""
        if self._chance.random() < 0.5:
            return made
        made = msgspec.structs.replace(made, tap_ms=self._ms())
        for reaction in self._chance.sample(tuple(Reaction), self._pick(1, 2, 3)):
            match reaction:
                case Reaction.PRESS:
                    continue
                case Reaction.TAP:
                    action: Action = self._over_at_once()
                case Reaction.RELEASE:
                    once = self._over_at_once()
                    action = Release(**once.own_fields, after_ms=self._pick(0, 60))
                case Reaction.HOLD:
                    action = msgspec.structs.replace(self._whole(Hold, self._effect()), after_ms=self._ms())
                case Reaction.LONG_HOLD:
                    action = msgspec.structs.replace(self._whole(LongHold, self._effect()), after_ms=300)
                case Reaction.DOUBLE_TAP | Reaction.TRIPLE_TAP:
                    action = msgspec.structs.replace(self._whole(MoreTaps, self._effect()), within_ms=self._ms())
                case _:
                    assert_never(reaction)
            made = msgspec.structs.replace(made, **{reaction.value: action})
        return made

    def _together(self) -> Together:
        count = self._pick(2, 3)
        made = self._reacting(self._whole(Together, self._effect()))
        return msgspec.structs.replace(
            made,
            slots=tuple(self._chance.sample(PRESS_SLOTS, count)),
            within_ms=self._ms(),
            order=self._pick(*Order),
        )

    def _whole(self, kind: type[_A], effect: Effect) -> _A:
        """Returns an action of a type with the effect in a random fitting manner, sometimes with another beside it."""
        made = self._kept_up(kind, effect, tuple(Manner))
        if self._chance.random() < 0.2:
            layers = not isinstance(effect, PressKeys | DoMove | ClickWheel | Nudge)
            if kind in (Assignment, Hold, LongHold, MoreTaps) and layers:
                also = (self._kept_up(Action, self._effect(), tuple(Manner)),)
            else:
                also = (self._kept_up(Action, PressKeys(self._keys()), tuple(Manner)),)
            made = msgspec.structs.replace(made, also=also)
        return made

    def _over_at_once(self, steps: bool = True) -> Action:
        effects: list[Effect] = [
            PressKeys(self._keys()),
            DoMove("walk"),
            DoMove("next"),
            DoMove("say"),
            ClickWheel(WheelDirection.UP),
            Nudge(3, -2),
            TurnBy(over_ms=100),
            PlacePointer(back=False),
            PlaySequence("through"),
            CarouselStep("wheel" if steps else "plain", self._pick(*Step)),
        ]
        return self._kept_up(Action, self._chance.choice(effects), _SHORT)

    def _kept_up(self, kind: type[_A], effect: Effect, manners: tuple[Manner, ...]) -> _A:
        fit = manners_of(effect, _MOVES_ONLY)
        manner = self._chance.choice([manner for manner in manners if manner in fit])
        if manner is Manner.ONCE and effect == PlaySequence("any"):
            manner = Manner.HELD  # a sequence without waits would end at once
        settings: dict[str, Any] = {"manner": manner}
        if manner in REPEATS:
            settings["rate_hz"] = self._pick(2.0, 5.0, 7.0)
            settings["light_hz"] = self._pick(None, 2.0)
        if manner in (Manner.TOGGLE, Manner.LOCK, Manner.TOGGLE_TURBO):
            settings |= {"regain": self._flip(), "group": self._pick(None, "one"), "lock_ms": self._ms()}
            settings["ended_by"] = self._pick((), (self._chance.choice(PRESS_SLOTS),))
        if manner in (Manner.HELD, Manner.TURBO, Manner.PULSE):
            settings["linger_ms"] = self._pick(0, 0, 0, 30, 300)
        if isinstance(effect, ChangePace):
            settings |= {"by_depth": self._flip(), "pace_of": self._pick(*PaceOf)}
        if self._chance.random() < 0.1:
            settings["while_"] = (self._chance.choice(PRESS_SLOTS),)
        return kind.of(effect, **settings)

    def _effect(self, layers: bool = True, parts: bool = True, steps: bool = True) -> Effect:
        """Returns a random effect; `layers`: including changes of layers; `parts`: sequences; `steps`: carousels that
        may change layers.
        """
        plain: list[Effect] = [
            PressKeys(self._keys()),
            PressKeys(self._keys()),
            DoMove(self._pick("walk", "next", "say")),
            ClickWheel(self._pick(*WheelDirection)),
            Scroll(x=1.0, y=self._pick(9.0, -3.0)),
            Glide(x=self._pick(900.0, -70.0, -70.0), y=70.0),
            Nudge(self._pick(5, -9), 1),
            TurnBy(self._pick(180.0, -90.0), self._pick(0, 40, 300)),
            PlacePointer(0.5, self._pick(0.0, 1.0), back=self._flip()),
            ChangePace(self._pick(0.25, 2.0)),
            SwitchMotion(self._pick(*MotionSwitch)),
            RequestProfile("Other"),
        ]
        if parts:
            plain += [PlaySequence("through"), PlaySequence("any")]
        if layers:
            layer = self._chance.choice(self._layers)
            plain += [HoldLayer(layer), HoldLayer(layer), StayOnLayer(self._pick("base", layer))]
            plain.append(NextLayer(("base", *self._layers)))
        if steps:
            plain += [CarouselStep("wheel", self._pick(*Step))] * 2 if layers else []
        return self._chance.choice(plain)

    def _uses(self, slot: str, layer: str) -> list[StickUse]:
        use = self._use(slot, layer)
        turns = slot == MOTION_SLOT and not isinstance(use, Turn) and self._flip()
        return [Turn(on=self._flip()), use] if turns else [use]

    def _use(self, slot: str, layer: str) -> StickUse:
        confirms = [confirm for confirm in Confirm if confirm is not Confirm.LET_GO or layer != "base"]
        if slot == MOTION_SLOT:
            confirms.remove(Confirm.CLICK)
            return self._chance.choice((Turn(), Turn(on=False), Tilt(x=90.0, y=70.0), self._ring_use(confirms)))
        uses: list[StickUse] = [
            PointerSpeed(self._pick(900.0, 90.0, 90.0), -70.0),
            PointerPosition(self._pick(9, 300), 40, ring=self._flip(), hold=self._pick((), ("BTN_LEFT",))),
            PointerPosition(hold_move="walk"),
            Scroll(x=3.0, y=9.0),
            Flick(settle_ms=self._ms(), snap=self._pick(*Snap)),
            *(self._ring_use(confirms) for _ in range(3)),
        ]
        if slot == SURFACE_SLOT:
            uses.append(Drag(roll_ms=self._pick(0, 300)))
        return self._chance.choice(uses)

    def _ring_use(self, confirms: list[Confirm]) -> ChooseFromRing:
        return ChooseFromRing(f"ring_{self._chance.choice(confirms).value}")

    def _ring(self, name: str, confirm: Confirm) -> Ring:
        entries = []
        for _ in range(self._chance.randint(2, 5)):
            if confirm in (Confirm.RELEASE, Confirm.LET_GO):
                action = self._over_at_once()
                entries.append(RingEntry(**action.own_fields))
            else:
                entries.append(self._whole(RingEntry, self._effect()))
        return Ring(id=name, label="R", entries=tuple(entries), confirm=confirm, columns=self._pick(0, 0, 2))

    def _sequence(self, name: str) -> Sequence:
        runs = self._pick(*Runs) if name == "any" else self._pick(Runs.ONCE, Runs.UNTIL_PRESSED)
        steps = tuple(self._step() for _ in range(self._some(5)))
        return Sequence(id=name, label=name, steps=steps, runs=runs, again=self._pick(*Again))

    def _step(self) -> SequenceStep:
        return self._pick(
            SequenceStep(press=self._keys()),
            SequenceStep(release=self._keys()),
            SequenceStep(tap=self._keys()),
            SequenceStep(hold=self._keys()),
            SequenceStep(wait_ms=self._pick(1, 30, 90)),
            SequenceStep(text="Hi"),
            SequenceStep(move="walk", act=self._pick(*StepAct)),
            SequenceStep(move="say"),
            SequenceStep(move="next"),
            SequenceStep(wheel=WheelDirection.UP),
            SequenceStep(nudge=Nudge(2, 2)),
            SequenceStep(carousel=CarouselStep("plain", self._pick(*Step))),
        )

    def _feel(self) -> dict[str, Any]:
        """Returns settings of a feel, each valid on its own; several layers together need not be consistent."""
        dead_zone = self._pick(0.0, 0.12, 0.6, 0.9)
        stick = {
            "dead_zone": dead_zone,
            "edge_zone": 0.05 if dead_zone > 0.3 else self._pick(0.0, 0.5),
            "anti_dead_zone": self._pick(0.0, 0.5),
            "dead_zone_shape": self._pick("radial", "axial", "both"),
            "rotation_degrees": self._pick(0, 30),
            "square_off": self._pick(0, 1, -1),
            "power": self._pick(1, 0.2, 5),
            "points": self._pick([], [[0.2, 0.5], [0.8, 0.5]], [[0.0, 0.0], [1.0, 0.0]]),
            "smoothing": self._pick(None, {}),
            "ramp": self._pick(None, {}),
            "x": self._pick(None, {"power": 2, "dead_zone": 0.9}),
            "directions": self._pick({}, {"on": 0.2, "off": 0.1}, {"up": {"on": 0.8, "off": 0.5}, "left": {}}),
        }
        feel = {
            "left_stick": {name: value for name, value in stick.items() if value is not None},
            "surface": {"dead_zone": self._pick(0.0, 0.7), "edge_zone": 0.2},
            "right_trigger": {
                "quick": self._flip(),
                "stages": self._pick("both", "replace", "either"),
                "either_ms": self._ms(),
            },
            "motion": {
                "ratio": self._pick(2, 0.1, 0.1),
                "slow_dps": self._pick(0, 10, 300),
                "fast_dps": self._pick(301, 400),
                "fast_ratio": self._pick(1, 5),
                "axis": self._pick("yaw", "roll", "gravity"),
                "gate_dps": self._pick(0, 5),
                "tilt": {"centre": self._pick("held", "level"), "dead_degrees": self._pick(0, 20), "full_degrees": 21},
            },
        }
        return {name: feel[name] for name in self._chance.sample(tuple(feel), self._chance.randint(0, 4))}

    def _keys(self) -> tuple[str, ...]:
        return tuple(self._chance.sample(_KEYS, self._pick(1, 1, 2)))

    def _ms(self) -> int:
        return self._pick(20, 60, 250)

    def _some(self, most: int) -> int:
        return self._chance.randint(1, most)

    def _flip(self) -> bool:
        return self._chance.random() < 0.5

    def _pick(self, *options: _T) -> _T:
        return self._chance.choice(options)
