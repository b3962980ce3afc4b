"""A profile compiled into tables, once, so that a step costs the same however large the profile is."""

from __future__ import annotations

from math import prod

from nub_shift.engine.effect_context import Effect
from nub_shift.engine.effects.carousels import CarouselEffect, CarouselWheel, Pick
from nub_shift.engine.effects.manners import Once, Pulse, Toggle, Turbo
from nub_shift.engine.effects.plain import (
    GlideEffect,
    KeysEffect,
    LayerEffect,
    MotionEffect,
    NudgeEffect,
    PaceEffect,
    ProfileEffect,
    ScrollEffect,
    Several,
    Silence,
    StayEffect,
    wheel_effect,
)
from nub_shift.engine.effects.reactions import Pair, Paired, Reactions
from nub_shift.engine.effects.rings import RingUse
from nub_shift.engine.effects.sequences import SequenceEffect, Stroke
from nub_shift.engine.readers import uses_diagonals
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.keyboard.keys import modifiers_first
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.actions import (
    Action,
    Assignment,
    Drag,
    Manner,
    PointerPosition,
    PointerSpeed,
    Scroll,
    Sequence,
    SequenceStep,
    Turn,
    WheelDirection,
    has_effect,
)
from nub_shift.model.controls import DIAGONALS, MOTION_SLOT, STICK_SLOTS
from nub_shift.model.feel import Feel, FeelChange, changed_feel
from nub_shift.model.profile import Layer, Profile

# What a stick, or turning the pad, can do as a whole.
StickUse = PointerSpeed | PointerPosition | Scroll | Turn | RingUse | Drag
Input = tuple[tuple[str, ...], WheelDirection | None]

US_PER_MS = 1000
# Few stacks of layers occur in play; the bound only guards against a profile that makes many.
MAX_SHEETS = 512
# How long each key of a typed text is down, and the pause after it; games read text once a frame.
TYPED_DOWN_US = 20_000
TYPED_PAUSE_US = 15_000


class Sheet:
    """What every slot does while one stack of layers is on.

    Attributes:
        effects: slot to effect, for slots that are pressed.
        sticks: what each stick, and turning the pad, does as a whole; `speeds`, `scrolls`, `turn` and `drag` are parts
            of it.
        shifts: the slots that bring a layer on.
        pace: a factor on pointer speed.
        feel: how the pad is shaped.
        steady: the sticks that matter in their dead zone too.
    """

    def __init__(self, effects: dict[str, Effect], sticks: dict[str, StickUse], pace: float, feel: Feel) -> None:
        self.pace = pace
        self.feel = feel
        self.effects = effects
        self.sticks = sticks
        self.speeds = tuple((name, use) for name, use in sticks.items() if isinstance(use, PointerSpeed))
        self.scrolls = tuple((name, use) for name, use in sticks.items() if isinstance(use, Scroll))
        self.drag = next((use for use in sticks.values() if isinstance(use, Drag)), None)
        self.turn = next((use for use in sticks.values() if isinstance(use, Turn)), None)
        self.steady = frozenset(name for name, use in sticks.items() if isinstance(use, PointerPosition | RingUse))
        self.shifts = frozenset(slot for slot, effect in effects.items() if isinstance(effect, LayerEffect))


class Program:
    """A compiled profile. It has no state of its own, so several engines may play it.

    Attributes:
        regains: a toggle comes back on when the game is in front again.
    """

    def __init__(self, profile: Profile, layout: LayoutSource = us_layout) -> None:
        self.profile = profile
        self.layer_ids = tuple(layer.id for layer in profile.layers)
        self.shortest_us = profile.game.shortest_key_ms * US_PER_MS
        self._layout = layout
        self.regains = False
        self._moves = {move.id: move for move in profile.moves}
        self._picks: dict[Input, list[tuple[CarouselWheel, int]]] = {}
        self._sequences = {sequence.id: self._sequence(sequence) for sequence in profile.sequences}
        self.carousels: dict[str, CarouselWheel] = {}
        for carousel in profile.carousels:
            entries = tuple(self._action(entry) for entry in carousel.entries)
            self.carousels[carousel.id] = CarouselWheel(entries, carousel.wrap, carousel.rest_ms * US_PER_MS)
        for carousel in profile.carousels:
            for place, entry in enumerate(carousel.entries):
                found = self._input(entry)
                if found is not None:
                    self._picks.setdefault(found, []).append((self.carousels[carousel.id], place))
        self._rings = {
            ring.id: RingUse(
                tuple(self._action(entry) for entry in ring.entries), ring.confirm, ring.radius, ring.columns
            )
            for ring in profile.rings
        }
        self._layers = [self._whole_layer(layer) for layer in profile.layers]
        self._pairs = [
            [
                (pair.slots, Pair(self._action(pair), pair.within_ms * US_PER_MS))
                for part in profile.bases(layer)
                for pair in part.together
            ]
            for layer in profile.layers
        ]
        # What no layer uses need not be computed in full.
        self.used = frozenset(slot for layer in profile.layers for slot in layer.used_slots)
        self._diagonal_sticks = tuple(stick for stick in STICK_SLOTS if uses_diagonals(stick, self.used))
        self._sheets: dict[tuple[int, ...], Sheet] = {}

    def sheet(self, stack: tuple[int, ...]) -> Sheet:
        """The sheet for the base layer with `stack` (layer indexes, the topmost last) over it."""
        found = self._sheets.get(stack)
        if found is None:
            if len(self._sheets) >= MAX_SHEETS:
                self._sheets.clear()
            found = self._sheets[stack] = self._laid_over(stack)
        return found

    def _laid_over(self, stack: tuple[int, ...]) -> Sheet:
        merged = dict(self._layers[0])
        pairs = dict(self._pairs[0])
        for layer in stack:
            merged.update(self._layers[layer])
            pairs.update(self._pairs[layer])
        effects: dict[str, Effect] = {}
        sticks: dict[str, StickUse] = {}
        for slot, item in merged.items():
            if isinstance(item, StickUse):
                sticks[slot] = item
            else:
                effects[slot] = item
        for stick in self._diagonal_sticks:
            for diagonal, ways in DIAGONALS.items():
                both = tuple(effects[slot] for way in ways if (slot := f"{stick}.{way}") in effects)
                if both:
                    effects.setdefault(f"{stick}.{diagonal}", Several(both))
        partners: dict[str, list[tuple[str, Pair]]] = {}
        for (first, second), pair in pairs.items():
            partners.setdefault(first, []).append((second, pair))
            partners.setdefault(second, []).append((first, pair))
        for slot, found in partners.items():
            effects[slot] = Paired(effects.get(slot), tuple(found))
        pace = prod(self.profile.layers[layer].pace or 1.0 for layer in stack)
        return Sheet(effects, sticks, pace, self._feel(stack))

    def _feel(self, stack: tuple[int, ...]) -> Feel:
        """The profile's feel with what the layers of a stack change of it; the profile's own if they change nothing."""
        feel = self.profile.feel
        for layer in stack:
            for part in self.profile.bases(self.profile.layers[layer]):
                if part.feel != FeelChange():
                    feel = changed_feel(feel, part.feel)
        return feel

    def _whole_layer(self, layer: Layer) -> dict[str, Effect | StickUse]:
        """All that a layer has, with what it has from the layers that it is based on."""
        merged: dict[str, Effect | StickUse] = {}
        for part in self.profile.bases(layer):
            merged.update(self._layer(part))
        return merged

    def _layer(self, layer: Layer) -> dict[str, Effect | StickUse]:
        return {slot: self._slot(slot, assignment) for slot, assignment in layer.slots.items()}

    def _slot(self, slot: str, assignment: Assignment) -> Effect | StickUse:
        if slot == MOTION_SLOT and assignment.turn is not None:
            return assignment.turn
        if slot in STICK_SLOTS:
            use = assignment.pointer or assignment.position or assignment.scroll or assignment.drag
            if use is not None:
                return use
            if assignment.ring is not None:
                return self._rings[assignment.ring]
        return self._assignment(assignment)

    def _assignment(self, assignment: Assignment) -> Effect:
        hold, double = assignment.hold, assignment.double_tap
        own = self._action(assignment) if has_effect(assignment) else None
        if own is not None and not any((assignment.tap, hold, double, assignment.release)):
            return own
        return Reactions(
            press=own,
            tap=self._action(assignment.tap) if assignment.tap is not None else None,
            hold=self._action(hold) if hold is not None else None,
            double_tap=self._action(double) if double is not None else None,
            release=self._action(assignment.release) if assignment.release is not None else None,
            tap_us=(hold.after_ms if hold is not None else assignment.tap_ms) * US_PER_MS,
            hold_us=hold.after_ms * US_PER_MS if hold is not None else 0,
            double_us=double.within_ms * US_PER_MS if double is not None else 0,
        )

    def _action(self, action: Action) -> Effect:
        effect = self._effect(action)
        period_us = round(US_PER_SECOND / action.rate_hz)
        match action.manner:
            case Manner.HELD:
                return effect
            case Manner.ONCE:
                return Once(effect)
            case Manner.TOGGLE:
                self.regains = self.regains or action.regain
                return Toggle(effect, action.regain)
            case Manner.TURBO:
                return Turbo(effect, period_us, round(period_us * action.duty))
            case Manner.PULSE:
                return Pulse(effect, period_us)

    def _effect(self, what: Action) -> Effect:
        keys_or_wheel = self._input(what)
        if keys_or_wheel is not None:
            keys, wheel = keys_or_wheel
            plain = wheel_effect(wheel) if wheel is not None else KeysEffect(modifiers_first(keys))
            places = self._picks.get(keys_or_wheel)
            return Pick(plain, tuple(places)) if places else plain
        if what.scroll is not None:
            return ScrollEffect(what.scroll.x, what.scroll.y)
        if what.glide is not None:
            return GlideEffect(what.glide.x, what.glide.y)
        if what.nudge is not None:
            return NudgeEffect(what.nudge.x, what.nudge.y)
        if what.sequence is not None:
            return self._sequences[what.sequence]
        if what.carousel is not None:
            return CarouselEffect(self.carousels[what.carousel.id], what.carousel.step)
        if what.layer is not None:
            return LayerEffect(self.layer_ids.index(what.layer))
        if what.stay is not None:
            return StayEffect((self.layer_ids.index(what.stay),))
        if what.next:
            return StayEffect(tuple(self.layer_ids.index(layer) for layer in what.next))
        if what.motion is not None:
            return MotionEffect(what.motion)
        if what.pace is not None:
            return PaceEffect(what.pace)
        if what.profile:
            return ProfileEffect(what.profile)
        return Silence()

    def _input(self, action: Action) -> Input | None:
        """The keys or the wheel click that an action sends, if it does just that."""
        if action.move is not None:
            move = self._moves[action.move]
            return move.keys, move.wheel
        return (action.keys, action.wheel) if action.keys or action.wheel is not None else None

    def _sequence(self, sequence: Sequence) -> SequenceEffect:
        strokes = [stroke for step in sequence.steps for stroke in self._strokes(step)]
        return SequenceEffect(tuple(strokes), sequence.runs, sequence.again)

    def _strokes(self, step: SequenceStep) -> list[Stroke]:
        if step.press:
            return [Stroke(modifiers_first(step.press), (), 0)]
        if step.release:
            return [Stroke((), step.release, 0)]
        if step.tap:
            return _typed(modifiers_first(step.tap))
        if step.wait_ms is not None:
            return [Stroke((), (), step.wait_ms * US_PER_MS)]
        return [stroke for letter in step.text for stroke in _typed(self._layout().typed[letter])]


def _typed(codes: tuple[str, ...]) -> list[Stroke]:
    return [Stroke(codes, (), TYPED_DOWN_US), Stroke((), codes, TYPED_PAUSE_US)]
