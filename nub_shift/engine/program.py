"""A profile compiled into tables, once, so that a step costs the same however large the profile is."""

from __future__ import annotations

from dataclasses import dataclass
from functools import reduce
from math import prod
from typing import assert_never

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
    SilenceEffect,
    StayEffect,
    wheel_effect,
)
from nub_shift.engine.effects.reactions import Pair, Paired, Reactions
from nub_shift.engine.effects.sequences import SequenceEffect, Stroke
from nub_shift.engine.readers import uses_diagonals
from nub_shift.engine.rings import RingUse
from nub_shift.engine.uses import DragUse, PositionUse, ScrollUse, SpeedUse, TurnUse, Use
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.keyboard.keys import modifiers_first
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.actions import Action, Assignment, Manner, Reaction, Sequence, SequenceStep
from nub_shift.model.controls import DIAGONALS, MOTION_SLOT, STICK_SLOTS
from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ChooseFromRing,
    ClickWheel,
    DoMove,
    Drag,
    Glide,
    HoldLayer,
    NextLayer,
    Nudge,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    Silence,
    StayOnLayer,
    StickUse,
    SwitchMotion,
    Turn,
)
from nub_shift.model.feel import Feel, FeelChange, changed_feel, sound_feel
from nub_shift.model.profile import Layer, Profile
from nub_shift.model.slot_names import slot_name
from nub_shift.model.walk import sent_input

Input = tuple[tuple[str, ...], ClickWheel | None]

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
        uses: what each stick, and turning the pad, does as a whole.
        shifts: the slots that bring a layer on.
        pace: a factor on pointer speed.
        feel: how the pad is shaped.
        steady: the sticks that matter in their dead zone too.
        drags: a finger on the surface drags the pointer.
    """

    def __init__(self, effects: dict[str, Effect], uses: dict[str, Use], pace: float, feel: Feel) -> None:
        self.pace = pace
        self.feel = feel
        self.effects = effects
        self.uses = uses
        self.steady = frozenset(name for name, use in uses.items() if use.steady)
        self.drags = any(isinstance(use, DragUse) for use in uses.values())
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
        self.gap_us = profile.game.shortest_gap_ms * US_PER_MS
        self._layout = layout
        self.regains = False
        self._picks: dict[Input, list[tuple[CarouselWheel, int]]] = {}
        self._toggles: dict[tuple[str, bool], Toggle] = {}  # those of a move, which all slots that toggle it share
        self._sequences = {sequence.id: self._sequence(sequence) for sequence in profile.sequences}
        self.carousels: dict[str, CarouselWheel] = {}
        for carousel in profile.carousels:
            entries = tuple(self._action(entry) for entry in carousel.entries)
            self.carousels[carousel.id] = CarouselWheel(
                carousel.id, entries, carousel.wrap, carousel.rest_ms * US_PER_MS
            )
        for carousel in profile.carousels:
            for index, entry in enumerate(carousel.entries):
                found = sent_input(profile, entry)
                if found != ((), None):
                    self._picks.setdefault(found, []).append((self.carousels[carousel.id], index))
        self._rings = {
            ring.id: RingUse(
                tuple(self._action(entry) for entry in ring.entries), ring.confirm, ring.radius, ring.columns
            )
            for ring in profile.rings
        }
        self._own = {layer.id: self._layer(layer) for layer in profile.layers}
        self._layers = [self._whole_layer(layer) for layer in profile.layers]
        self._hidden = [
            frozenset(slot for part in profile.bases(layer) for slot in part.hidden_below) - self._layers[index].keys()
            for index, layer in enumerate(profile.layers)
        ]
        own_pairs = {
            layer.id: [(pair.slots, Pair(self._action(pair), pair.within_ms * US_PER_MS)) for pair in layer.together]
            for layer in profile.layers
        }
        self._pairs = [
            [pair for part in profile.bases(layer) for pair in own_pairs[part.id]] for layer in profile.layers
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
            for slot in self._hidden[layer]:
                merged.pop(slot, None)
            merged.update(self._layers[layer])
            pairs.update(self._pairs[layer])
        effects = {slot: found for slot, found in merged.items() if not isinstance(found, _Whole)}
        uses = {slot: found.use for slot, found in merged.items() if isinstance(found, _Whole)}
        for stick in self._diagonal_sticks:
            for diagonal, ways in DIAGONALS.items():
                both = tuple(effects[slot] for way in ways if (slot := slot_name(stick, way)) in effects)
                if both:
                    effects.setdefault(slot_name(stick, diagonal), Several(both))
        partners: dict[str, list[tuple[str, Pair]]] = {}
        for (first, second), pair in pairs.items():
            partners.setdefault(first, []).append((second, pair))
            partners.setdefault(second, []).append((first, pair))
        for slot, found in partners.items():
            effects[slot] = Paired(effects.get(slot), tuple(found))
        pace = prod(self.profile.layers[layer].pace or 1.0 for layer in stack)
        return Sheet(effects, uses, pace, self._feel(stack))

    def _feel(self, stack: tuple[int, ...]) -> Feel:
        """The profile's feel with what the layers of a stack change of it; the profile's own if they change nothing."""
        changes = [
            part.feel
            for layer in stack
            for part in self.profile.bases(self.profile.layers[layer])
            if part.feel != FeelChange()
        ]
        if not changes:
            return self.profile.feel
        return sound_feel(reduce(changed_feel, changes, self.profile.feel))

    def _whole_layer(self, layer: Layer) -> dict[str, Effect | _Whole]:
        """All that a layer has, with what it has from the layers that it is based on."""
        merged: dict[str, Effect | _Whole] = {}
        for part in self.profile.bases(layer):
            for slot in part.hidden_below:
                merged.pop(slot, None)
            merged.update(self._own[part.id])  # the same effects, so that a toggle has one state
        return merged

    def _layer(self, layer: Layer) -> dict[str, Effect | _Whole]:
        return {slot: self._slot(slot, assignment) for slot, assignment in layer.slots.items()}

    def _slot(self, slot: str, assignment: Assignment) -> Effect | _Whole:
        if slot in STICK_SLOTS or slot == MOTION_SLOT:
            use = assignment.use
            if use is not None:
                return _Whole(self._use(use))
        return self._assignment(assignment)

    def _use(self, use: StickUse) -> Use:
        match use:
            case PointerSpeed(x, y):
                return SpeedUse(x, y)
            case PointerPosition():
                return PositionUse(use)
            case Scroll(x, y):
                return ScrollUse(x, y)
            case Drag(x, y):
                return DragUse(x, y)
            case ChooseFromRing(ring):
                return self._rings[ring]
            case Turn(on):
                return TurnUse(on)
            case _:
                assert_never(use)

    def _assignment(self, assignment: Assignment) -> Effect:
        press = tap = hold_effect = double_tap = release = None
        for reaction, action in assignment.reactions.items():
            effect = self._action(action)
            match reaction:
                case Reaction.PRESS:
                    press = effect
                case Reaction.TAP:
                    tap = effect
                case Reaction.HOLD:
                    hold_effect = effect
                case Reaction.DOUBLE_TAP:
                    double_tap = effect
                case Reaction.RELEASE:
                    release = effect
                case _:
                    assert_never(reaction)
        if press is not None and assignment.reactions.keys() == {Reaction.PRESS}:
            return press
        hold, double = assignment.hold, assignment.double_tap
        return Reactions(
            press=press,
            tap=tap,
            hold=hold_effect,
            double_tap=double_tap,
            release=release,
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
                if isinstance(action.effect, DoMove):
                    return self._toggles.setdefault((action.effect.move, action.regain), Toggle(effect, action.regain))
                return Toggle(effect, action.regain)
            case Manner.TURBO:
                return Turbo(effect, period_us, round(period_us * action.duty))
            case Manner.PULSE:
                return Pulse(effect, period_us)

    def _effect(self, action: Action) -> Effect:
        effect = action.effect
        assert effect is not None, "the profile has been checked"
        match effect:
            case DoMove() | PressKeys() | ClickWheel():
                return self._sent(action)
            case Scroll(x, y):
                return ScrollEffect(x, y)
            case Glide(x, y):
                return GlideEffect(x, y)
            case Nudge(x, y):
                return NudgeEffect(x, y)
            case PlaySequence(sequence):
                return self._sequences[sequence]
            case CarouselStep(carousel, step):
                return CarouselEffect(self.carousels[carousel], step)
            case HoldLayer(layer):
                return LayerEffect(self.layer_ids.index(layer))
            case StayOnLayer(layer):
                return StayEffect((self.layer_ids.index(layer),))
            case NextLayer(layers):
                return StayEffect(tuple(self.layer_ids.index(layer) for layer in layers))
            case SwitchMotion(switch):
                return MotionEffect(switch)
            case ChangePace(factor):
                return PaceEffect(factor)
            case AskForProfile(title):
                return ProfileEffect(title)
            case Silence():
                return SilenceEffect()
            case _:
                assert_never(effect)

    def _sent(self, action: Action) -> Effect:
        """Keys or a wheel click; where carousels have just that as an entry, they are moved there."""
        keys, click = sent_input(self.profile, action)
        plain = wheel_effect(click.direction) if click is not None else KeysEffect(modifiers_first(keys))
        positions = self._picks.get((keys, click))
        return Pick(plain, tuple(positions)) if positions else plain

    def _sequence(self, sequence: Sequence) -> SequenceEffect:
        strokes = [stroke for step in sequence.steps for stroke in self._strokes(step)]
        return SequenceEffect(tuple(strokes), sequence.runs, sequence.again)

    def _strokes(self, step: SequenceStep) -> list[Stroke]:
        if step.press:
            return [Stroke(modifiers_first(step.press), (), 0)]
        if step.release:
            return [Stroke((), step.release, 0)]
        if step.tap:
            return self._typed(modifiers_first(step.tap))
        if step.wait_ms is not None:
            return [Stroke((), (), step.wait_ms * US_PER_MS)]
        letters = (self._layout().typed[letter] for letter in step.text)
        return [stroke._replace(text=True) for codes in letters for stroke in self._typed(codes)]

    def _typed(self, codes: tuple[str, ...]) -> list[Stroke]:
        down_us, pause_us = max(TYPED_DOWN_US, self.shortest_us), max(TYPED_PAUSE_US, self.gap_us)
        return [Stroke(codes, (), down_us), Stroke((), codes, pause_us)]


@dataclass(frozen=True, eq=False)
class _Whole:
    """What stands for a whole stick, surface or motion in a layer, told apart from effects."""

    use: Use
