"""Independent model of buttons, layers, toggles and groups, compared with the engine.

Without time: keys have no shortest times, buttons are pressed one after the other, and nothing waits. Written from the
documents, as simply as possible, without any code of the engine.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from random import Random

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import Effect, HoldLayer, NextLayer, PressKeys, StayOnLayer
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import BASE_LAYER, SCHEMA_VERSION, Layer, Profile
from nub_shift.model.profile.reactions import Assignment

BUTTONS = ("south", "east", "west", "north", "left_shoulder", "right_shoulder", "select", "start")
_LAYERS = ("aim", "swim", "dive")
_KEYS = ("KEY_A", "KEY_B", "KEY_C", "KEY_D", "KEY_LEFTSHIFT")
# Ends an effect that has begun.
End = Callable[[], None]
# Identity of a toggle: its layer, its slot, and its index there.
ToggleId = tuple[str, str, int]


@dataclass
class _On:
    """A toggle that is on."""

    action: Action
    slot: str
    end: End


@dataclass
class PlainModel:
    """Keys that are down and active layers, after each press and release.

    Attributes:
        keys: number of holders by key.
        layers: number of holders by layer, in the order of activation.
    """

    profile: Profile
    keys: Counter[str] = field(default_factory=Counter)
    layers: dict[str, int] = field(default_factory=dict)
    _toggles: dict[ToggleId, _On] = field(default_factory=dict)
    _held: dict[str, list[End]] = field(default_factory=dict)
    _staying: str = BASE_LAYER
    _entered: dict[str, list[End]] = field(default_factory=dict)

    @property
    def down(self) -> set[str]:
        """The keys that are down."""
        return {key for key, count in self.keys.items() if count}

    def press(self, slot: str) -> None:
        """Presses a button: ends the toggles that it ends, and begins its assignment in the layers active before."""
        owner, assignment = self._shown(slot)
        for on in list(self._toggles.values()):
            if slot in on.action.ended_by and on.slot != slot:
                self._switch_off(on)
        self._held[slot] = [] if assignment is None else self._begin_all(assignment, owner, slot)
        self._follow_layers()

    def release(self, slot: str) -> None:
        """Ends the effects of a press, in reverse order."""
        for end in reversed(self._held.pop(slot)):
            end()
        self._follow_layers()

    def _shown(self, slot: str) -> tuple[str, Assignment | None]:
        """Returns the topmost assignment of a slot, its own or from a base, and the layer that has it."""
        for name in (*reversed(list(self.layers)), BASE_LAYER):
            layer: Layer | None = self._layer(name)
            while layer is not None:
                if slot in layer.slots:
                    return layer.id, layer.slots[slot]
                layer = self._layer(layer.based_on) if layer.based_on is not None else None
        return "", None

    def _layer(self, name: str) -> Layer:
        return next(layer for layer in self.profile.layers if layer.id == name)

    def _begin_all(self, action: Action, owner: str, slot: str, place: str = "") -> list[End]:
        """Begins an action and its parts; `place` identifies the toggles, if not the slot."""
        return [self._begin(part, (owner, place or slot, number), slot) for number, part in enumerate(action.parts)]

    def _begin(self, action: Action, which: ToggleId, slot: str) -> End:
        if action.manner is not Manner.TOGGLE:
            return self._start(action)
        if which in self._toggles:
            self._switch_off(self._toggles[which])
            return lambda: None
        end = self._start(action)
        for on in list(self._toggles.values()):
            if action.group is not None and on.action.group == action.group:
                self._switch_off(on)
        self._toggles[which] = _On(action, slot, end)
        return lambda: None

    def _switch_off(self, on: _On) -> None:
        self._toggles = {which: other for which, other in self._toggles.items() if other is not on}
        on.end()

    def _start(self, action: Action) -> End:
        """Begins an effect; returns the function that ends it."""
        match action.effect:
            case PressKeys(keys):
                self.keys.update(keys)
                return lambda: self.keys.subtract(keys)
            case HoldLayer(layer):
                self._hold(layer)
                return lambda: self._let_go(layer)
            case StayOnLayer(layer):
                self._stay(layer)
            case NextLayer(layers):
                at = layers.index(self._staying) + 1 if self._staying in layers else 0
                self._stay(layers[at % len(layers)])
            case _:
                pass  # silence
        return lambda: None

    def _stay(self, layer: str) -> None:
        before, self._staying = self._staying, layer
        if layer != BASE_LAYER:
            self._hold(layer)
        if before != BASE_LAYER:
            self._let_go(before)

    def _hold(self, layer: str) -> None:
        self.layers[layer] = self.layers.get(layer, 0) + 1

    def _let_go(self, layer: str) -> None:
        self.layers[layer] -= 1
        if not self.layers[layer]:
            del self.layers[layer]

    def _follow_layers(self) -> None:
        """Runs the actions of activated layers and ends those of deactivated ones, until no layer changes."""
        while self._entered.keys() != self.layers.keys():
            gone = [name for name in self._entered if name not in self.layers]
            for name in [name for name in self.layers if name not in self._entered]:
                owner, enter = self._enter(name)
                self._entered[name] = [] if enter is None else self._begin_all(enter, "enter", name, owner)
            for name in gone:
                for end in reversed(self._entered.pop(name)):
                    end()

    def _enter(self, name: str) -> tuple[str, Action | None]:
        layer = self._layer(name)
        while layer.enter is None and layer.based_on is not None:
            layer = self._layer(layer.based_on)
        return layer.id, layer.enter


def differs(seed: int, presses: int) -> str:
    """Plays a random profile of buttons; returns where engine and model differ, empty if nowhere."""
    chance = Random(seed)
    profile = _random_profile(chance)
    model, engine = PlainModel(profile), Engine(Program(profile))
    held: set[str] = set()
    for number in range(presses):
        slot = chance.choice(BUTTONS)
        now_us = 1_000_000 + number * 10_000
        engine.feed(Frame(now_us, {slot: 0.0 if slot in held else 1.0}))
        (model.release if slot in held else model.press)(slot)
        held ^= {slot}
        state = engine.state()
        if set(state.down) != model.down or state.layers != (BASE_LAYER, *model.layers):
            return f"seed {seed}, press {number}: {state.down} in {state.layers}, not {model.down} in {model.layers}"
    return ""


def _random_profile(chance: Random) -> Profile:
    def some_keys() -> PressKeys:
        return PressKeys(tuple(chance.sample(_KEYS, chance.choice((1, 1, 2)))))

    def action(effects: tuple[Effect, ...]) -> Action:
        effect = chance.choice(effects)
        if isinstance(effect, PressKeys | HoldLayer) and chance.random() < 0.4:
            ended_by = tuple(chance.sample(BUTTONS, chance.choice((0, 0, 1, 2))))
            return Action.of(effect, manner=Manner.TOGGLE, group=chance.choice((None, "one")), ended_by=ended_by)
        return Action.of(effect)

    def assignment() -> Assignment:
        if chance.random() < 0.08:
            return Assignment(silence=True)
        layer = chance.choice(_LAYERS)
        shifts = (HoldLayer(layer), StayOnLayer(chance.choice((BASE_LAYER, layer))), NextLayer((BASE_LAYER, *_LAYERS)))
        first, *rest = (
            action((some_keys(), some_keys(), some_keys(), *shifts)) for _ in range(chance.choice((1, 1, 2)))
        )
        return Assignment(**first.own_fields | {"also": tuple(rest)})

    def layer(name: str, number: int) -> Layer:
        slots = {slot: assignment() for slot in chance.sample(BUTTONS, chance.randint(2, 7))}
        if name == BASE_LAYER:
            return Layer(id=name, label=name, slots=slots)
        based_on = chance.choice((None, *_LAYERS[: number - 1]))
        enter = action((some_keys(),)) if chance.random() < 0.5 else None
        return Layer(id=name, label=name, slots=slots, based_on=based_on, enter=enter)

    layers = tuple(layer(name, number) for number, name in enumerate((BASE_LAYER, *_LAYERS)))
    game = Game(shortest_key_ms=0, shortest_gap_ms=0)
    return Profile(schema=SCHEMA_VERSION, title="Buttons", layers=layers, game=game)
