"""Shared parts of a profile, used by any slot: sequences, carousels, rings."""

from __future__ import annotations

from enum import Enum
from typing import Annotated, assert_never

from msgspec import Meta

from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import CarouselStep, Nudge, WheelDirection
from nub_shift.model.profile.schema_types import Identifier, KeyCodes, Label, Record, ShortLabel, TypedText
from nub_shift.translation import tr


class StepAct(Enum):
    """How a step uses the input of a move, like the keys of the same names."""

    TAP = "tap"
    PRESS = "press"
    RELEASE = "release"
    HOLD = "hold"


class SequenceStep(Record, frozen=True):
    """One step of a sequence: exactly one of these fields.

    `hold` keeps keys down, and the sequence waiting, until the release of the slot that started it. `act` selects what
    `move` does with the move's input.
    """

    press: KeyCodes = ()
    release: KeyCodes = ()
    tap: KeyCodes = ()
    hold: KeyCodes = ()
    move: Identifier | None = None
    act: StepAct = StepAct.TAP
    wheel: WheelDirection | None = None
    nudge: Nudge | None = None
    carousel: CarouselStep | None = None
    wait_ms: Annotated[int, Meta(ge=1, le=60000, description=tr("milliseconds, from 1 to 60000"))] | None = None
    text: TypedText = ""

    @classmethod
    def of_keys(cls, act: StepAct, keys: tuple[str, ...]) -> SequenceStep:
        """Builds the step that does `act` with keys."""
        match act:
            case StepAct.TAP:
                return cls(tap=keys)
            case StepAct.PRESS:
                return cls(press=keys)
            case StepAct.RELEASE:
                return cls(release=keys)
            case StepAct.HOLD:
                return cls(hold=keys)
            case _:
                assert_never(act)


class Runs(Enum):
    """How long a sequence runs."""

    ONCE = "once"
    WHILE_HELD = "while_held"
    UNTIL_PRESSED = "until_pressed"


class Again(Enum):
    """Reaction of a running sequence to another start."""

    IGNORE = "ignore"
    RESTART = "restart"
    QUEUE = "queue"
    OVERLAP = "overlap"


class Sequence(Record, frozen=True):
    """Timed keys. A sequence that is cut short releases what it has pressed."""

    id: Identifier
    label: Label
    steps: Annotated[tuple[SequenceStep, ...], Meta(min_length=1, max_length=200, description="1 to 200 steps")]
    runs: Runs = Runs.ONCE
    again: Again = Again.IGNORE


class Carousel(Record, frozen=True):
    """Entries with one position shared by all slots. The position returns to the first after `rest_ms` without a
    step.
    """

    id: Identifier
    label: Label
    entries: Annotated[tuple[Action, ...], Meta(min_length=1, max_length=64, description="1 to 64 entries")]
    wrap: bool = True
    rest_ms: Annotated[int, Meta(ge=0, le=600000, description=tr("milliseconds, from 0 (never) to 600000"))] = 0


class Confirm(Enum):
    """Confirmation of a ring's entry: return of the stick, its click, entering, or the end of the layer."""

    RELEASE = "release"
    CLICK = "click"
    ENTER = "enter"
    LET_GO = "let_go"


class RingEntry(Action, frozen=True):
    """One sector of a ring, or cell of a grid."""

    label: ShortLabel = ""


MIN_RING_ENTRIES = 2


class Ring(Record, frozen=True):
    """A menu on a stick: entries clockwise from the top, or with `columns` in rows from the upper left."""

    id: Identifier
    label: Label
    entries: Annotated[
        tuple[RingEntry, ...],
        Meta(
            min_length=MIN_RING_ENTRIES, max_length=36, description=tr("{least} to 36 entries", least=MIN_RING_ENTRIES)
        ),
    ]
    confirm: Confirm = Confirm.RELEASE
    radius: Annotated[float, Meta(ge=0.1, le=0.95, description=tr("a number from 0.1 to 0.95"))] = 0.6
    columns: Annotated[int, Meta(ge=0, le=6, description=tr("a whole number from 0 (a ring) to 6"))] = 0
