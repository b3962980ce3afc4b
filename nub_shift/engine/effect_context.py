"""Environment of effects: the slot that starts them, and the context of everything in force."""

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
    """State of one slot.

    Attributes:
        down: whether the slot is pressed.
        depth: pressed depth, 0 to 1; 0 or 1 for a button.
        effect: effect of the press; None if there is none or a stop has ended it.
        run: run that the release ends.
        continuous: whether the effect follows layers while the slot is pressed.
        pressed_us: time of the press.
        began_us: time at which the hand began a press that was recognised later; None if equal to `pressed_us`.
        begun: effects that have begun during this press, for slots that follow layers.
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
        """Records a press, dated back to `began_us` if given."""
        self.pressed_us = t_us if self.began_us is None else self.began_us
        self.began_us = None

    @property
    def pull(self) -> float:
        """The factor for an analogue effect: the pressed depth, or 1 if the effect outlives the press."""
        return max(0.0, min(self.depth, 1.0)) if self.down else 1.0


# Base classes and no protocols: compiled code calls a method of a class directly, but looks a method of a protocol up.
# Not abstract classes: mypyc makes no dataclasses of classes with a metaclass.


class Run:
    """One start of an effect, until its end. The base class holds nothing."""

    @property
    def owns_slot(self) -> bool:
        """Whether the run stays until the release of its slot even if layers change, since the run changed layers or is
        a gesture.
        """
        return False

    def end(self, context: EffectContext, t_us: int) -> None:
        """Ends the run at the release of its slot; runs that outlive the press are detached from the slot."""

    def leave(self, context: EffectContext, t_us: int) -> None:
        """Ends the run without completing a gesture, when a layer gives the slot another effect during the press."""
        self.end(context, t_us)

    def cut(self, context: EffectContext, t_us: int) -> None:
        """Ends everything still in force, at the end of play."""
        self.end(context, t_us)


class Effect:
    """Immutable description of an action's outcome. State of effects is kept in `EffectContext.memory`."""

    @property
    def can_change_layers(self) -> bool:
        """Whether beginning the effect may change the active layers at once."""
        return False

    def begin(self, context: EffectContext, t_us: int, slot: Slot) -> Run:
        """Starts the effect at a press."""
        raise NotImplementedError

    def resume(self, context: EffectContext, t_us: int, slot: Slot, again: bool) -> Run:  # noqa: ARG002
        """Starts the effect during a press, after a change of layers or at the end of a pause.

        A momentary effect that has begun in this press before (`again`) does nothing.
        """
        return self.begin(context, t_us, slot)


class CarouselPosition(NamedTuple):
    """Position of a carousel, and the time of its last step."""

    entry: int
    since_us: int


class PaceFactor(NamedTuple):
    """Factor on pointer speed, the kind of looking that it applies to, and the slot that scales it by depth."""

    factor: float
    of: PaceOf
    slot: Slot | None


class ViewTurn:
    """Turn of the view by a number of counts, spread over time."""

    def __init__(self, counts: float, begun_us: int, over_us: int) -> None:
        self._counts = counts
        self._begun_us = begun_us
        self._over_us = over_us
        self._sent = 0.0

    def take(self, now_us: int) -> float:
        """Returns the counts that have become due since the last call."""
        passed_us = now_us - self._begun_us
        due = self._counts if passed_us >= self._over_us else self._counts * passed_us / self._over_us
        taken, self._sent = due - self._sent, due
        return taken

    def is_through(self, now_us: int) -> bool:
        """Returns whether no counts are left."""
        return now_us - self._begun_us >= self._over_us


@dataclass
class EffectContext:
    """State shared by all effects.

    Attributes:
        out: outputs of the present step.
        detached: runs that continue after the release of their slot.
        memory: state of effects, by effect, until play stops.
        pressed: pressed slots in the order of their presses.
        waiting: presses that wait for partners, by slot.
        positions: positions of carousels by id; kept through pauses and profile changes.
        budget: budget of outputs other than keys.
        paces: factors on pointer speed, by the run that set each.
        scrolls: wheel speeds in clicks a second with the slot that scales them by depth, by run.
        glides: pointer speeds in counts a second, likewise.
        turns: turns of the view in progress.
        motion_switches: whether a run switches motion on or off, by run.
        recentre: the motion reader is to take its neutral attitude again.
        times: shortest times of keys, down and up.
        tally: counts for the recap of a session.
        stale: pointer and wheel speed have to be recomputed.
    """

    ledger: Ledger
    layers: LayerStack = field(default_factory=LayerStack)
    agenda: Agenda = field(default_factory=Agenda)
    out: list[Output] = field(default_factory=list)
    detached: dict[Run, None] = field(default_factory=dict)
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
        """Emits an output other than a key, within the budget."""
        if self.budget.take(output.t_us):
            self.out.append(output)

    def motion_on(self, by_itself: bool) -> bool:
        """Returns whether motion moves the pointer. Any run that switches motion off wins over those that switch it
        on.
        """
        switches = self.motion_switches.values()
        return all(switches) and (by_itself or bool(switches))
