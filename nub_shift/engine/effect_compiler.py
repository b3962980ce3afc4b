"""Compiles actions and sequences into effects, independently of the layer that a slot is in."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace as replaced
from typing import Final, assert_never

from nub_shift.engine.effect_context import Effect
from nub_shift.engine.effects.carousels import CarouselEffect, CarouselPick, CarouselWheel
from nub_shift.engine.effects.manners import Lingering, Once, Pulse, Toggle, Turbo
from nub_shift.engine.effects.plain import (
    CountedInput,
    EffectGroup,
    GlideEffect,
    HeldCondition,
    KeysEffect,
    LayerEffect,
    MotionEffect,
    NudgeEffect,
    PaceEffect,
    PlaceEffect,
    ProfileEffect,
    RecentreEffect,
    ScrollEffect,
    SilenceEffect,
    StayEffect,
    TurnByEffect,
    wheel_effect,
)
from nub_shift.engine.effects.reactions import Reactions
from nub_shift.engine.effects.sequences import SequenceEffect, Stroke
from nub_shift.keyboard.keys import modifiers_first
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.controls import with_diagonals
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import (
    CarouselStep,
    ChangePace,
    ClickWheel,
    DoMove,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    PlacePointer,
    PlaySequence,
    PressKeys,
    RequestProfile,
    Scroll,
    Sent,
    Silence,
    StayOnLayer,
    SwitchMotion,
    TurnBy,
    TypeText,
)
from nub_shift.model.profile.listed import Again, Runs, Sequence, SequenceStep, StepAct
from nub_shift.model.profile.profile import Move, Profile
from nub_shift.model.profile.reactions import Reacting, Reaction, time_of
from nub_shift.model.references.walk import sent_input, sent_keys

# How long each key of a typed text is down, and up before the next, in microseconds; games read text once a frame.
TYPED_DOWN_US: Final = 20_000
TYPED_PAUSE_US: Final = 15_000
US_PER_MS: Final = 1000


class EffectCompiler:
    """Compiles the actions of one profile. Equal moves, texts, sequences and carousels share one effect each.

    Attributes:
        carousels: compiled carousels by id.
        regains: whether a compiled toggle switches on again after a pause.
    """

    def __init__(self, profile: Profile, layout: LayoutSource) -> None:
        """Compiles nothing yet; `layout` is requested at the first text."""
        self.profile = profile
        self.shortest_us = profile.game.key_ms * US_PER_MS
        self.gap_us = profile.game.gap_ms * US_PER_MS
        self.regains = False
        self.carousels: dict[str, CarouselWheel] = {}
        self._layout = layout
        self._layer_ids = [layer.id for layer in profile.layers]
        self._picks: dict[Sent, list[tuple[CarouselWheel, int]]] = {}
        self._toggles: dict[tuple[object, ...], Toggle] = {}  # one per move and manner, shared by all slots
        self._moves = {move.id: move for move in profile.moves}
        self._sequences: dict[str, SequenceEffect] = {}
        self._texts: dict[str, SequenceEffect] = {}

    def carousels_compiling(self) -> Iterator[None]:
        """Compiles all carousels one by one, before the first slot that may send one of their entries directly."""
        # A carousel may play sequences; a sequence may step carousels that play none.
        for carousel in self.profile.carousels:
            self.wheel(carousel.id)
            yield
        for carousel in self.profile.carousels:
            for index, entry in enumerate(carousel.entries):
                sent = sent_input(self.profile, entry)
                if sent is not None:
                    self._picks.setdefault(sent, []).append((self.carousels[carousel.id], index))
            yield

    def reacting(self, reacting: Reacting) -> Effect:
        """Returns the effect of pressing a slot or a combination of slots."""
        effects = {reaction: self.whole_action(action) for reaction, action in reacting.reactions.items()}
        if effects.keys() == {Reaction.PRESS}:
            return effects[Reaction.PRESS]

        def us(reaction: Reaction) -> int:
            return (time_of(reacting, reaction) or 0) * US_PER_MS

        tap_ms = reacting.first_hold_ms
        return Reactions(
            press=effects.get(Reaction.PRESS),
            tap=effects.get(Reaction.TAP),
            holds=tuple(
                (us(reaction), effects[reaction])
                for reaction in (Reaction.HOLD, Reaction.LONG_HOLD)
                if reaction in effects
            ),
            double_tap=effects.get(Reaction.DOUBLE_TAP),
            triple_tap=effects.get(Reaction.TRIPLE_TAP),
            release=effects.get(Reaction.RELEASE),
            tap_us=(tap_ms if tap_ms is not None else reacting.tap_ms) * US_PER_MS,
            double_us=us(Reaction.DOUBLE_TAP),
            triple_us=us(Reaction.TRIPLE_TAP),
            release_us=us(Reaction.RELEASE),
        )

    def whole_action(self, action: Action) -> Effect:
        """Compiles an action together with the actions that begin beside it."""
        effects = tuple(self._action(part) for part in action.parts)
        return EffectGroup(effects) if len(effects) > 1 else effects[0]

    def _action(self, action: Action) -> Effect:
        effect = self._kept_up(action)
        if action.linger_ms:
            effect = Lingering(effect, action.linger_ms * US_PER_MS)
        return (
            HeldCondition(effect, tuple(frozenset(with_diagonals((slot,))) for slot in action.while_))
            if action.while_
            else effect
        )

    def _kept_up(self, action: Action) -> Effect:
        effect = self._effect(action)
        match action.manner:
            case Manner.HELD:
                return effect
            case Manner.ONCE:
                return Once(effect)
            case Manner.TOGGLE | Manner.LOCK:
                return self._toggle(action, effect)
            case Manner.TURBO:
                return self._turbo(action, effect)
            case Manner.TOGGLE_TURBO:
                return self._toggle(action, self._turbo(action, effect))
            case Manner.PULSE:
                return Pulse(effect, action.rate_hz, action.light_hz)
            case _:
                assert_never(action.manner)

    def _turbo(self, action: Action, effect: Effect) -> Turbo:
        """Compiles a turbo, with each key down and up long enough for the game."""
        shortest_us, gap_us = (self.shortest_us, self.gap_us) if sent_keys(self.profile, action) else (0, 0)
        return Turbo(effect, action.rate_hz, action.duty, action.light_hz, shortest_us, gap_us)

    def _toggle(self, action: Action, effect: Effect) -> Toggle:
        """Returns the toggle shared by all slots that toggle the same move, so that they share one state."""
        self.regains = self.regains or action.regain
        lock_us = action.lock_ms * US_PER_MS if action.manner is Manner.LOCK else None
        made = Toggle(effect, action.regain, action.group, with_diagonals(action.ended_by), lock_us)
        if not isinstance(action.effect, DoMove):
            return made
        key = (action.effect.move, action.manner, made.regain, made.group, made.ended_by, lock_us)
        return self._toggles.setdefault(key, made)

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
            case TurnBy(degrees, over_ms):
                counts = degrees * self.profile.game.counts_per_turn / 360.0
                return TurnByEffect(counts, over_ms * US_PER_MS)
            case PlacePointer(x, y, back):
                return PlaceEffect(x, y, back)
            case PlaySequence(sequence):
                found = self._sequence_named(sequence)
                # A toggled sequence repeats until the toggle is off, whatever the sequence does after a press.
                return replaced(found, runs=Runs.WHILE_HELD) if action.manner is Manner.TOGGLE else found
            case CarouselStep(carousel, step):
                return CarouselEffect(self.wheel(carousel), step)
            case HoldLayer(layer):
                return LayerEffect(self._layer_ids.index(layer))
            case StayOnLayer(layer):
                return StayEffect((self._layer_ids.index(layer),))
            case NextLayer(layers):
                return StayEffect(tuple(self._layer_ids.index(layer) for layer in layers))
            case SwitchMotion(MotionSwitch.RECENTRE):
                return RecentreEffect()
            case SwitchMotion(switch):
                return MotionEffect(switch is MotionSwitch.ON)
            case ChangePace(factor):
                return PaceEffect(factor, action.by_depth, action.pace_of)
            case RequestProfile(title):
                return ProfileEffect(title)
            case Silence():
                return SilenceEffect()
            case _:
                assert_never(effect)

    def _sent(self, action: Action) -> Effect:
        """Compiles keys, a wheel click or a text. Carousels that have the same input as an entry move to this entry."""
        sent = sent_input(self.profile, action)
        assert sent is not None, "the profile has been checked"
        made: Effect
        match sent:
            case PressKeys(keys):
                made = KeysEffect(modifiers_first(keys))
            case ClickWheel(direction):
                made = wheel_effect(direction)
            case TypeText(text):
                made = self._typing(text)
            case _:
                assert_never(sent)
        positions = self._picks.get(sent)
        if positions:
            made = CarouselPick(made, tuple(positions))
        return CountedInput(action.effect.move, made) if isinstance(action.effect, DoMove) else made

    def _typing(self, text: str) -> SequenceEffect:
        """Returns the sequence shared by all slots that type the text, so that two of them never type at once."""
        if text not in self._texts:
            self._texts[text] = SequenceEffect(tuple(self._letters(text)), Runs.ONCE, Again.IGNORE)
        return self._texts[text]

    def wheel(self, wanted: str) -> CarouselWheel:
        """Returns a carousel by id, compiled at its first use."""
        if wanted not in self.carousels:
            carousel = next(found for found in self.profile.carousels if found.id == wanted)
            entries = tuple(self.whole_action(entry) for entry in carousel.entries)
            self.carousels[wanted] = CarouselWheel(wanted, entries, carousel.wrap, carousel.rest_ms * US_PER_MS)
        return self.carousels[wanted]

    def _sequence_named(self, wanted: str) -> SequenceEffect:
        if wanted not in self._sequences:
            sequence = next(found for found in self.profile.sequences if found.id == wanted)
            self._sequences[wanted] = self._sequence(sequence)
        return self._sequences[wanted]

    def _sequence(self, sequence: Sequence) -> SequenceEffect:
        strokes = [stroke for step in sequence.steps for stroke in self._strokes(step)]
        return SequenceEffect(tuple(strokes), sequence.runs, sequence.again)

    def _strokes(self, step: SequenceStep) -> list[Stroke]:
        if step.wait_ms is not None:
            return [Stroke((), (), step.wait_ms * US_PER_MS)]
        if step.text:
            return self._letters(step.text)
        if step.wheel is not None:
            return [Stroke((), (), 0, effect=wheel_effect(step.wheel))]
        if step.nudge is not None:
            return [Stroke((), (), 0, effect=NudgeEffect(step.nudge.x, step.nudge.y))]
        if step.carousel is not None:
            return [Stroke((), (), 0, effect=CarouselEffect(self.wheel(step.carousel.id), step.carousel.step))]
        if step.move is not None:
            return self._move_strokes(self._moves[step.move], step.act)
        act = next(act for act in StepAct if getattr(step, act.value))
        return self._struck(act, getattr(step, act.value))

    def _move_strokes(self, move: Move, act: StepAct) -> list[Stroke]:
        sent = move.sent
        assert sent is not None, "the profile has been checked"
        match sent:
            case PressKeys(keys):
                return self._struck(act, keys)
            case ClickWheel(direction):
                return [Stroke((), (), 0, effect=wheel_effect(direction))]
            case TypeText(text):
                return self._letters(text)
            case _:
                assert_never(sent)

    def _letters(self, text: str) -> list[Stroke]:
        letters = (self._layout().typed[letter] for letter in text)
        return [stroke._replace(text=True) for codes in letters for stroke in self._typed(codes)]

    def _struck(self, act: StepAct, codes: tuple[str, ...]) -> list[Stroke]:
        keys = modifiers_first(codes)
        match act:
            case StepAct.TAP:
                return self._typed(keys)
            case StepAct.PRESS:
                return [Stroke(keys, (), 0)]
            case StepAct.RELEASE:
                return [Stroke((), keys, 0)]
            case StepAct.HOLD:
                down, up = self._typed(keys)
                return [down, up._replace(while_held=True)]
            case _:
                assert_never(act)

    def keys_of_move(self, move_id: str | None) -> tuple[str, ...]:
        """Returns the keys of a move, modifiers first; empty for a move without keys."""
        move = self._moves.get(move_id) if move_id is not None else None
        return modifiers_first(move.keys) if move is not None else ()

    def _typed(self, codes: tuple[str, ...]) -> list[Stroke]:
        down_us, pause_us = max(TYPED_DOWN_US, self.shortest_us), max(TYPED_PAUSE_US, self.gap_us)
        return [Stroke(codes, (), down_us), Stroke((), codes, pause_us)]
