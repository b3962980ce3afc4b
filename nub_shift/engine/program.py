"""A profile compiled into tables, so that the cost of a step does not depend on the size of the profile."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import reduce
from math import prod
from typing import Final, assert_never

from msgspec.structs import replace

from nub_shift.engine.effect_compiler import US_PER_MS, EffectCompiler
from nub_shift.engine.effect_context import Effect
from nub_shift.engine.effects.carousels import CarouselWheel
from nub_shift.engine.effects.plain import (
    EffectGroup,
)
from nub_shift.engine.effects.together import Chord, Chorded
from nub_shift.engine.readers import uses_diagonals
from nub_shift.engine.rings import RingUse
from nub_shift.engine.uses import DragUse, FlickUse, PositionUse, ScrollUse, SpeedUse, TiltUse, TurnUse, Use
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.controls import DIAGONALS, MOTION_SLOT, STICK_SLOTS, with_diagonals
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import (
    ChooseFromRing,
    Drag,
    Flick,
    Glide,
    PointerPosition,
    PointerSpeed,
    Scroll,
    StickUse,
    Tilt,
    Turn,
)
from nub_shift.model.profile.feel import Feel, FeelChange, changed_feel, sound_feel
from nub_shift.model.profile.profile import Layer, Profile, merge_together
from nub_shift.model.profile.reactions import Assignment, Gesture, Order, Together
from nub_shift.model.profile.signs import Signs
from nub_shift.model.references.walk import actions_in, uses_in
from nub_shift.model.slot_names import slot_name

# Few stacks of layers occur in play; the bound guards against a profile with many.
MAX_SHEETS: Final = 512
# Name in a sheet of turning the pad, which works beside tilting.
TURNING: Final = "motion.turn"


class Sheet:
    """Effects and uses of all slots for one stack of active layers.

    Attributes:
        effects: effects by slot.
        uses: uses of whole sticks, and of turning the pad.
        shifts: slots whose press may change other slots at once: those of layers, and those that another slot requires.
        pace: factor on pointer speed.
        feel: feel of the pad.
        steady: sticks that also count in their dead zone.
        drags: whether a finger on the surface drags the pointer.
    """

    def __init__(
        self,
        effects: dict[str, Effect],
        uses: dict[str, Use],
        pace: float,
        feel: Feel,
        conditions: frozenset[str] = frozenset(),
    ) -> None:
        self.pace = pace
        self.feel = feel
        self.effects = effects
        self.uses = uses
        self.steady = frozenset(name for name, use in uses.items() if use.steady)
        self.drags = any(isinstance(use, DragUse) for use in uses.values())
        self.shifts = conditions.union(slot for slot, effect in effects.items() if effect.can_change_layers)


def _without_feels(profile: Profile) -> Profile:
    """Returns the part of a profile that compiling depends on, without feels and pointer speeds."""
    bare, usual = FeelChange(), Feel()
    layers = tuple(
        replace(
            layer, feel=bare, silent=False, slots={slot: _evened(assigned) for slot, assigned in layer.slots.items()}
        )
        for layer in profile.layers
    )
    return replace(profile, feel=usual, pads=(), layers=layers, signs=Signs())


def _evened(assignment: Assignment) -> Assignment:
    """Returns the assignment with all pointer speeds set to one value."""
    pointer, tilt, drag = assignment.pointer, assignment.tilt, assignment.drag
    if pointer is None and tilt is None and drag is None:
        return assignment
    return replace(
        assignment,
        pointer=None if pointer is None else PointerSpeed(),
        tilt=None if tilt is None else Tilt(),
        drag=None if drag is None else Drag(roll_ms=drag.roll_ms),
    )


class Program:
    """A compiled profile, immutable; several engines may play one program.

    Attributes:
        regains: whether a toggle switches on again when the game is in front again.
        used: slots assigned in any layer.
        analogue: whether an effect depends on the depth of a slot.
    """

    def __init__(self, profile: Profile, layout: LayoutSource = us_layout, whole: bool = True) -> None:
        """Compiles all at once; without `whole` only the quick parts, and `compiling` does the rest."""
        self.profile = profile
        self.layer_ids = tuple(layer.id for layer in profile.layers)
        self._effects = EffectCompiler(profile, layout)
        self.shortest_us, self.gap_us = self._effects.shortest_us, self._effects.gap_us
        self.frame_us = profile.game.frame_ms * US_PER_MS
        self._layout = layout
        self._rings: dict[str, RingUse] = {}
        self._own: dict[str, dict[str, Effect | _Whole]] = {}
        self._layers: list[dict[str, Effect | _Whole]] = []
        self._hidden: list[frozenset[str]] = []
        self._chords: list[list[tuple[Layer, dict[Gesture, Chord]]]] = []  # of each layer and its bases
        self._sheets: dict[tuple[int, ...], Sheet] = {}
        self._shared: dict[object, Effect] = {}
        if whole:
            for _ in self.compiling():
                pass

    @property
    def carousels(self) -> dict[str, CarouselWheel]:
        """Carousels by id."""
        return self._effects.carousels

    @property
    def regains(self) -> bool:
        """Whether a toggle switches on again after a pause."""
        return self._effects.regains

    def compiling(self) -> Iterator[None]:
        """Compiles in short pieces, between which the caller can continue to play."""
        profile = self.profile
        yield from self._effects.carousels_compiling()
        for ring in profile.rings:
            entries = tuple(self._effects.whole_action(entry) for entry in ring.entries)
            self._rings[ring.id] = RingUse(ring.id, entries, ring.confirm, ring.radius, ring.columns)
            yield
        for layer in profile.layers:
            own = self._own[layer.id] = {}
            for slot, assignment in layer.slots.items():
                own.update(self._parts(slot, assignment))
                yield
        own_chords: dict[str, dict[Gesture, Chord]] = {}
        for layer in profile.layers:
            own_chords[layer.id] = {pair.gesture: self._chord(pair) for pair in layer.together}
            yield
        for layer in profile.layers:
            bases, merged = profile.bases(layer), self._whole_layer(layer)
            self._layers.append(merged)
            self._hidden.append(frozenset(slot for part in bases for slot in part.hidden_below).difference(merged))
            self._chords.append([(part, own_chords[part.id]) for part in bases])
            yield
        self.enters = self._own_actions("enter")
        self.leaves = self._own_actions("leave")
        self.tilts = any(slot == MOTION_SLOT and not isinstance(use, Turn) for _, slot, use in uses_in(profile))
        yield
        # Slots that no layer uses are not computed in full.
        self.used = frozenset(slot for layer in profile.layers for slot in layer.used_slots)
        yield
        enders: set[str] = set()
        conditions: set[str] = set()
        self.analogue = False
        for number, (_, action) in enumerate(actions_in(profile)):
            enders.update(with_diagonals(action.ended_by))
            conditions.update(with_diagonals(action.while_))
            self.analogue = self.analogue or _goes_by_depth(action)
            if number % 8 == 0:
                yield
        self.enders, self.conditions = frozenset(enders), frozenset(conditions)
        self._diagonal_sticks = tuple(stick for stick in STICK_SLOTS if uses_diagonals(stick, self.used))
        yield
        self.sheet(())

    def retuned(self, profile: Profile) -> Program | None:
        """Returns the program of a profile that differs in feels and pointer speeds alone; None for any other profile.

        The effects are the same objects, so that an engine continues held effects. Returns None for an equal profile
        too: that one is compiled again because the keyboard layout has changed.
        """
        if profile == self.profile or _without_feels(profile) != _without_feels(self.profile):
            return None
        made = Program(profile, self._layout, whole=False)
        made._effects, made._shared, made._rings = self._effects, self._shared, self._rings
        made._own, made._layers, made._hidden, made._chords = self._own, self._layers, self._hidden, self._chords
        made.enters, made.leaves, made.enders = self.enters, self.leaves, self.enders
        made.conditions = self.conditions
        made.tilts, made.used, made.analogue = self.tilts, self.used, self.analogue
        made._diagonal_sticks = self._diagonal_sticks
        if any(old.slots != new.slots for old, new in zip(self.profile.layers, profile.layers, strict=True)):
            made._take_speeds(self.profile)
        return made

    def _take_speeds(self, before: Profile) -> None:
        """Compiles the sticks and surfaces again whose speed differs from `before`."""
        own = {}
        for old, new in zip(before.layers, self.profile.layers, strict=True):
            own[new.id] = dict(self._own[new.id])
            for slot, assignment in new.slots.items():
                if assignment != old.slots[slot]:
                    own[new.id] |= self._parts(slot, assignment)
        self._own = own
        self._layers = [self._whole_layer(layer) for layer in self.profile.layers]

    def plays_like(self, other: Program) -> bool:
        """Returns whether an engine may change over to this program during play: only texts may be typed otherwise."""
        if self is other:
            return True
        types = any(step.text for sequence in self.profile.sequences for step in sequence.steps)
        return self.profile == other.profile and not types

    def on_pad(self, identities: Collection[str]) -> Program:
        """Returns the program with the profile's feel for the pad with these identities."""
        profile = self.profile.on_pad(identities)
        return self if profile is self.profile else self.retuned(profile) or self

    def sheet(self, stack: tuple[int, ...]) -> Sheet:
        """Returns the sheet for a stack of layers (indexes, the topmost last) over the base layer."""
        found = self._sheets.get(stack)
        if found is None:
            if len(self._sheets) >= MAX_SHEETS:
                self._sheets.clear()
            found = self._sheets[stack] = self._laid_over(stack)
        return found

    def _laid_over(self, stack: tuple[int, ...]) -> Sheet:
        merged = dict(self._layers[0])
        chords: dict[Gesture, Chord] = {}
        for layer in (0, *stack):
            for part, own in self._chords[layer]:
                chords = merge_together(chords, part, own)
        for layer in stack:
            for slot in self._hidden[layer]:
                merged.pop(slot, None)
            merged.update(self._layers[layer])
        effects = {slot: found for slot, found in merged.items() if not isinstance(found, _Whole)}
        uses = {slot: use for slot, found in merged.items() if isinstance(found, _Whole) and (use := found.use)}
        for stick in self._diagonal_sticks:
            for diagonal, ways in DIAGONALS.items():
                both = tuple(effects[slot] for way in ways if (slot := slot_name(stick, way)) in effects)
                if both:
                    effects.setdefault(slot_name(stick, diagonal), self._several(both))
        free: dict[str, list[Chord]] = {}
        ordered: dict[str, list[Chord]] = {}
        for chord in chords.values():
            for slot in chord.slots[-1:] if chord.in_order else chord.slots:
                (ordered if chord.in_order else free).setdefault(slot, []).append(chord)
        for slot in free.keys() | ordered.keys():
            effects[slot] = self._chorded(effects.get(slot), tuple(free.get(slot, ())), tuple(ordered.get(slot, ())))
        pace = prod(self.profile.layers[layer].pace or 1.0 for layer in stack)
        return Sheet(effects, uses, pace, self._feel(stack), self.conditions)

    def _several(self, effects: tuple[Effect, ...]) -> Effect:
        """Returns one shared effect for equal effects, so that a held slot continues across sheets."""
        return self._shared.setdefault(effects, EffectGroup(effects))

    def _chorded(self, own: Effect | None, free: tuple[Chord, ...], ordered: tuple[Chord, ...]) -> Effect:
        """Returns one shared effect for equal chords, likewise."""
        return self._shared.setdefault((own, free, ordered), Chorded(own, free, ordered))

    def _chord(self, together: Together) -> Chord:
        effect, within_us = self._effects.reacting(together), together.within_ms * US_PER_MS
        return Chord(together.slots, effect, within_us, together.order is Order.GIVEN)

    def _own_actions(self, name: str) -> dict[int, Effect]:
        """Returns the actions of layers at activation or deactivation: their own, or those of the nearest base.

        Inherited actions are the same effect object, so that a toggle has one state.
        """
        own = {
            layer.id: self._effects.whole_action(action)
            for layer in self.profile.layers
            if (action := getattr(layer, name)) is not None
        }
        found = {}
        for index, layer in enumerate(self.profile.layers):
            effects = [own[part.id] for part in self.profile.bases(layer) if part.id in own]
            if effects:
                found[index] = effects[-1]
        return found

    def _feel(self, stack: tuple[int, ...]) -> Feel:
        """Returns the profile's feel with the changes of a stack of layers."""
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
        """Returns all assignments of a layer, including those of its bases."""
        merged: dict[str, Effect | _Whole] = {}
        for part in self.profile.bases(layer):
            for slot in part.hidden_below:
                merged.pop(slot, None)
            merged.update(self._own[part.id])  # the same effects, so that a toggle has one state
        return merged

    def _parts(self, slot: str, assignment: Assignment) -> dict[str, Effect | _Whole]:
        """Returns the effects of a slot by their names in a sheet: turning and tilting the pad have one each."""
        uses = assignment.uses if slot in STICK_SLOTS or slot == MOTION_SLOT else ()
        if slot != MOTION_SLOT:
            return {slot: _Whole(self._use(uses[0])) if uses else self._effects.reacting(assignment)}
        found: dict[str, Effect | _Whole] = {slot: _Whole(None), TURNING: _Whole(None)}
        for use in uses:
            found[TURNING if isinstance(use, Turn) else slot] = _Whole(self._use(use))
        return found

    def _use(self, use: StickUse) -> Use:
        match use:
            case PointerSpeed(x, y):
                return SpeedUse(x, y)
            case PointerPosition():
                return PositionUse(use, use.hold or self._effects.keys_of_move(use.hold_move))
            case Scroll(x, y):
                return ScrollUse(x, y)
            case Drag(x, y, roll_ms):
                return DragUse(x, y, roll_ms * US_PER_MS)
            case ChooseFromRing(ring):
                return self._rings[ring]
            case Turn(on):
                return TurnUse(on)
            case Tilt(x, y):
                return TiltUse(x, y)
            case Flick(radius, settle_ms, snap):
                return FlickUse(radius, settle_ms * US_PER_MS, self.profile.game.counts_per_turn, snap)
            case _:
                assert_never(use)


def _goes_by_depth(action: Action) -> bool:
    """Returns whether an action depends on the depth of its slot."""
    goes = action.manner is Manner.PULSE or action.light_hz is not None or action.by_depth
    return goes or any(isinstance(effect, Scroll | Glide) for effect in action.effects)


@dataclass(frozen=True, eq=False)
class _Whole:
    """Use of a whole stick, surface or motion in a layer, apart from effects; None for none at all."""

    use: Use | None
