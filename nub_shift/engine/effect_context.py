"""What effects work with: the slot they belong to, and the context that has everything in force."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, NamedTuple

from nub_shift.engine.agenda import Agenda
from nub_shift.engine.budget import Budget
from nub_shift.engine.layers import LayerStack
from nub_shift.engine.ledger import KeyTimes, Ledger
from nub_shift.engine.tally import Tally
from nub_shift.engine.values import Output
from nub_shift.model.controls import CONTINUOUS_SLOTS
from nub_shift.model.profile.effects import PaceOf


class Slot:
    """One slot at work.

    Attributes:
        down: whether it is pressed.
        depth: how far it is pressed, 0 to 1; a button knows only the two.
        effect: what its press began; None if nothing, or if a stop has ended it.
        run: what its release will end.
        continuous: whether it follows layers while it is pressed.
        pressed_us: when it was pressed.
        began_us: when the hand began a press that is only now known to be one; None where that is the same time.
        begun: what has begun in this press, if it follows layers.
    """

    __slots__ = ("began_us", "begun", "continuous", "depth", "down", "effect", "name", "pressed_us", "run")

    def __init__(self, name: str, pressed_us: int = 0) -> None:
        self.name = name
        self.continuous = name in CONTINUOUS_SLOTS
        self.down = False
        self.depth = 1.0
        self.effect: Effect | None = None
        self.run: Run | None = None
        self.pressed_us = pressed_us
        self.began_us: int | None = None
        self.begun: set[Effect] = set()

    def note_press(self, t_us: int) -> None:
        """It is pressed now, or was from `began_us` on."""
        self.pressed_us = t_us if self.began_us is None else self.began_us
        self.began_us = None

    @property
    def pull(self) -> float:
        """The part of an analogue effect that it asks for: how deep it is pressed, or all if the effect outlives it."""
        return max(0.0, min(self.depth, 1.0)) if self.down else 1.0


# Base classes rather than protocols: compiled code calls a method of a class at once, but looks one of a protocol up.
# Not abstract ones: mypyc makes no dataclasses of classes with a metaclass.


class Run:
    """One start of an effect, until it ends; this base holds nothing, and ends alike however it is ended."""

    @property
    def owns_slot(self) -> bool:
        """Whether the run stays until its slot is released, whatever layers do: it changed them, or is a gesture."""
        return False

    def end(self, context: EffectContext, t_us: int) -> None:
        """Ends what a release ends, and releases what goes on by itself from its slot."""

    def leave(self, context: EffectContext, t_us: int) -> None:
        """Ends as by a release, but completes no gesture: a layer gives the slot, still held, another effect."""
        self.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        """Takes back all that is still in force, since play ends."""
        self.end(context, t_us)


class Effect:
    """Immutable description of what happens; what effects remember lies in `EffectContext.memory`."""

    @property
    def brings_layers(self) -> bool:
        """Whether beginning the effect may change at once which layers are on."""
        return False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        """Starts the effect at a press."""
        raise NotImplementedError

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:  # noqa: ARG002
        """Starts the effect in the midst of a press, since layers have changed or play goes on.

        An effect that is over once it has begun does nothing if it has begun in this press before (`again`).
        """
        return self.begin(context, t_us, slot)


class CarouselPosition(NamedTuple):
    """Position of a carousel, and the time of its last step."""

    entry: int
    since_us: int


class PaceFactor(NamedTuple):
    """A factor on pointer speed, which looking it is for, and the slot by whose depth it goes, if it does."""

    factor: float
    of: PaceOf
    slot: Slot | None


class ViewTurn:
    """A turn of the view by so many counts, spread over a time."""

    def __init__(self, counts: float, begun_us: int, over_us: int) -> None:
        self._counts = counts
        self._begun_us = begun_us
        self._over_us = over_us
        self._sent = 0.0

    def take(self, now_us: int) -> float:
        """The counts that have become due since the last call."""
        passed_us = now_us - self._begun_us
        due = self._counts if passed_us >= self._over_us else self._counts * passed_us / self._over_us
        taken, self._sent = due - self._sent, due
        return taken

    def is_through(self, now_us: int) -> bool:
        """Whether nothing is left."""
        return now_us - self._begun_us >= self._over_us


@dataclass
class EffectContext:
    """All that effects change.

    Attributes:
        out: outputs of the present step.
        loose: runs that go on though their slot has been let go.
        memory: what effects remember, by effect, until play stops.
        pressed: the slots that are pressed, in the order in which they were.
        waiting: presses that wait for partners, by slot.
        positions: where carousels stand, by their ids; it outlives pauses and other profiles.
        budget: for outputs that are no keys.
        paces: factors on pointer speed, by the run that set each.
        scrolls: wheel speeds in clicks a second, and the slot whose depth is the part of it, by the run that set each.
        glides: pointer speeds in counts a second, likewise.
        turns: turns of the view that have begun and are not through.
        motion_switches: whether each run that switches motion switches it on, by run.
        recentre: the neutral attitude is to be taken anew.
        times: how long keys are down and up at the least.
        tally: what was done, in counts.
        stale: pointer and wheel are to be set going anew, for something that they depend on has changed.
    """

    ledger: Ledger
    layers: LayerStack = field(default_factory=LayerStack)
    agenda: Agenda = field(default_factory=Agenda)
    out: list[Output] = field(default_factory=list)
    loose: dict[Run, None] = field(default_factory=dict)
    memory: dict[Any, Any] = field(default_factory=dict)
    pressed: dict[Slot, None] = field(default_factory=dict)
    waiting: dict[str, Any] = field(default_factory=dict)
    positions: dict[str, CarouselPosition] = field(default_factory=dict)
    budget: Budget = field(default_factory=Budget)
    paces: dict[Run, PaceFactor] = field(default_factory=dict)
    scrolls: dict[Run, tuple[float, float, Slot]] = field(default_factory=dict)
    glides: dict[Run, tuple[float, float, Slot]] = field(default_factory=dict)
    turns: list[ViewTurn] = field(default_factory=list)
    motion_switches: dict[Run, bool] = field(default_factory=dict)
    recentre: bool = False
    times: KeyTimes = field(default_factory=KeyTimes)
    stale: bool = True
    tally: Tally = field(default_factory=Tally)

    def emit(self, output: Output) -> None:
        """Puts out what is no key, within the budget."""
        if self.budget.take(output.t_us):
            self.out.append(output)

    def motion_on(self, by_itself: bool) -> bool:
        """Whether motion moves the pointer: not while anything switches it off, else while anything switches it on."""
        switches = self.motion_switches.values()
        return all(switches) and (by_itself or bool(switches))
