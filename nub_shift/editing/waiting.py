"""What the window waits for: a control on the pad, a key, a move, a name. One thing at a time, in one place.

The table below is the whole behaviour. Each row is what is waited for, each column what is heard, each entry what is
waited for next. Whatever begins to wait for something else ends the wait before it.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import Enum
from typing import Final

from nub_shift.model.profile.reactions import Reaction

log = logging.getLogger("nub_shift.editing")


class Awaited(Enum):
    """Input that is awaited."""

    NOTHING = "nothing in particular: a control opens, a move goes to the chosen slot"
    SLOT_INPUT = "the key or the move for a slot"
    SLOT_MOVE = "the move for a slot, when keys are not listened to"
    PARTNER = "the control that is pressed together with a slot"
    PAIR_INPUT = "the key or the move for two slots together"
    PAIR_MOVE = "the same, when keys are no longer listened to"
    THIRD_CONTROL = "the control that is pressed together with two slots that do something together"
    LAYER_CONTROL = "the control that brings a layer on while it is held"
    TURNING_CONTROL = "the control that lets turning move the pointer while it is held"
    MOVE_INPUT = "the key that the game has for a move"
    MOVE_NAME = "another name for a move"
    GROUP_NAME = "the name of a group of moves"
    LINKED_MOVES = "the moves that must be possible at the same time as a move"
    STROKES = "keys that are recorded as a sequence"


class Heard(Enum):
    """Event that ends a wait, or turns it into another one."""

    CONTROL = "a control was pressed on the pad, or clicked"
    GIVEN = "a key, a move, an effect or a name was given"
    LEFT = "the focus went elsewhere"
    OVER = "the time is over"
    CANCELLED = "Escape, or the button that cancels"


_N, _S = Awaited.NOTHING, Awaited.SLOT_INPUT

TRANSITIONS: Final[dict[Awaited, dict[Heard, Awaited]]] = {
    awaited: dict(zip(Heard, row, strict=True))
    for awaited, row in {
        #                       CONTROL, GIVEN, LEFT, OVER, CANCELLED
        Awaited.NOTHING: (_S, _N, _N, _N, _N),
        Awaited.SLOT_INPUT: (_S, _N, Awaited.SLOT_MOVE, _N, _N),  # a click on a move takes the focus
        Awaited.SLOT_MOVE: (_S, _N, Awaited.SLOT_MOVE, Awaited.SLOT_MOVE, _N),
        Awaited.PARTNER: (Awaited.PAIR_INPUT, _N, Awaited.PARTNER, _N, _N),
        Awaited.PAIR_INPUT: (_S, _N, Awaited.PAIR_MOVE, Awaited.PAIR_MOVE, _N),
        Awaited.PAIR_MOVE: (_S, _N, Awaited.PAIR_MOVE, Awaited.PAIR_MOVE, _N),
        Awaited.THIRD_CONTROL: (_N, _N, Awaited.THIRD_CONTROL, _N, _N),
        Awaited.LAYER_CONTROL: (_N, _N, Awaited.LAYER_CONTROL, _N, _N),
        Awaited.TURNING_CONTROL: (_N, _N, Awaited.TURNING_CONTROL, _N, _N),
        Awaited.MOVE_INPUT: (_S, _N, _N, _N, _N),
        Awaited.MOVE_NAME: (_S, _N, _N, _N, _N),
        Awaited.GROUP_NAME: (_S, _N, _N, _N, _N),
        Awaited.LINKED_MOVES: (_S, Awaited.LINKED_MOVES, Awaited.LINKED_MOVES, Awaited.LINKED_MOVES, _N),
        Awaited.STROKES: (_S, _N, _N, _N, _N),
    }.items()
}

# How long keys are listened to unless the person has chosen another time; a sequence that is recorded ends by a pause.
# A control on the pad is further away than a key.
LISTEN_MS: Final = 8_000
CONTROL_MS: Final = 20_000
PAUSE_MS: Final = 3_000
# Waits for a control that is to be opened no more than now.
_FOR_CONTROL: Final = (Awaited.THIRD_CONTROL, Awaited.LAYER_CONTROL, Awaited.TURNING_CONTROL)
# Waits for a key, which last as long as the person has chosen.
_FOR_KEY: Final = (Awaited.SLOT_INPUT, Awaited.PAIR_INPUT, Awaited.MOVE_INPUT)
_FOR_SLOT: Final = (_S, Awaited.SLOT_MOVE, Awaited.PAIR_INPUT, Awaited.PAIR_MOVE, Awaited.STROKES)


@dataclass(frozen=True)
class Wait:
    """An awaited input and its purpose.

    Attributes:
        layer, slot: the cell that gets what is given, or the layer that a control is to bring on.
        partner: the slot that is pressed together with `slot`, once both are known.
        together: all slots that are pressed together, where they do something so already.
        reaction: how they are pressed.
        besides: what is given begins with what the reaction does already, and replaces nothing.
        move: id of the move; empty for one that is new.
        label: what that move is called.
    """

    awaited: Awaited = Awaited.NOTHING
    layer: str = ""
    slot: str = ""
    partner: str = ""
    together: tuple[str, ...] = ()
    reaction: Reaction = Reaction.PRESS
    besides: bool = False
    move: str = ""
    label: str = ""


class Waiting:
    """The state machine. It reads no clock of its own.

    Attributes:
        wait: what is waited for now.
        listen_ms: how long keys are listened to; 0 is until that is ended.
    """

    def __init__(self, clock_ms: Callable[[], int], listen_ms: int = LISTEN_MS) -> None:
        """`clock_ms` says what time it is, in milliseconds from any start."""
        self.wait = Wait()
        self.listen_ms = listen_ms
        self._clock_ms = clock_ms
        self._deadline_ms: int | None = None
        self._callbacks: list[Callable[[], None]] = []
        self._control_callbacks: list[Callable[[Wait, str], None]] = []

    def on_change(self, callback: Callable[[], None]) -> None:
        """Calls back whenever something else is waited for, and on every look at the clock."""
        self._callbacks.append(callback)

    def on_control(self, callback: Callable[[Wait, str], None]) -> None:
        """Calls back with a slot whose control was waited for and not to be opened, and with that wait."""
        self._control_callbacks.append(callback)

    def begin(self, wait: Wait) -> None:
        """Waits for something else from now on."""
        log.debug("waiting: %s -> %s", self.wait.awaited.name, wait.awaited.name)
        self.wait = wait
        self.extend()
        self._tell()

    def heard(self, heard: Heard, slot: str = "", layer: str = "") -> Wait:
        """Goes on as the table says; a control comes with its slot, and the layer that is shown.

        Returns what was waited for until now.
        """
        before = self.wait
        awaited = TRANSITIONS[before.awaited][heard]
        if awaited is before.awaited and heard is not Heard.CONTROL:
            return before
        own = (before.slot, before.partner) if before.awaited in (Awaited.PARTNER, Awaited.THIRD_CONTROL) else ()
        if heard is Heard.CONTROL and slot in own:
            return before  # no slot is its own partner
        if awaited is Awaited.PAIR_INPUT:
            self.begin(Wait(awaited, layer, slot, partner=before.slot, reaction=before.reaction))
        elif awaited is Awaited.SLOT_INPUT:
            self.begin(Wait(awaited, layer, slot))
        elif awaited is Awaited.NOTHING:
            self.begin(Wait())
        else:
            self.begin(replace(before, awaited=awaited))
        if heard is Heard.CONTROL and before.awaited in _FOR_CONTROL:
            for callback in self._control_callbacks:
                callback(before, slot)
        return before

    def aim(self, reaction: Reaction, besides: bool) -> None:
        """Says which reaction of the slot that is waited for gets what is given, and whether that comes besides."""
        wait = self.wait
        if wait.awaited in (_S, Awaited.SLOT_MOVE) and (wait.reaction, wait.besides) != (reaction, besides):
            self.wait = replace(wait, reaction=reaction, besides=besides)
            self._tell()

    def extend(self) -> None:
        """Restarts the time of the wait."""
        time_ms = self._time_ms
        self._deadline_ms = self._clock_ms() + time_ms if time_ms else None

    def choose_time(self, listen_ms: int) -> None:
        """Keys are listened to for so long from now on; 0 is until that is ended."""
        self.listen_ms = listen_ms
        self.extend()
        self._tell()

    @property
    def _time_ms(self) -> int:
        """How long this wait lasts; 0 for ever."""
        if self.wait.awaited is Awaited.STROKES:
            return PAUSE_MS
        if self.for_control:
            return max(self.listen_ms, CONTROL_MS) if self.listen_ms else 0
        return self.listen_ms if self.wait.awaited in _FOR_KEY else 0

    @property
    def timed(self) -> bool:
        """Whether the wait ends by itself."""
        return self._deadline_ms is not None

    @property
    def time_left(self) -> float:
        """The part of the time that is left, 0 to 1; 1 where there is no limit."""
        if self._deadline_ms is None:
            return 1.0
        return max(0, self._deadline_ms - self._clock_ms()) / self._time_ms

    def look_at_clock(self) -> None:
        """Ends a wait whose time is over."""
        if self.timed and self.time_left == 0:
            self.heard(Heard.OVER)
        else:
            self._tell()

    def listens_for(self, layer: str, slot: str) -> bool:
        """Whether keys are listened to for a slot of a layer."""
        wait = self.wait
        heard = wait.awaited in (Awaited.SLOT_INPUT, Awaited.PAIR_INPUT)
        return heard and (wait.layer, wait.slot) == (layer, slot)

    @property
    def for_control(self) -> bool:
        """Whether the next control is for something else than to be opened."""
        return self.wait.awaited in (Awaited.PARTNER, *_FOR_CONTROL)

    @property
    def for_slot(self) -> bool:
        """Whether a slot of the opened control gets what is given."""
        return self.wait.awaited in _FOR_SLOT

    def _tell(self) -> None:
        for callback in list(self._callbacks):
            callback()
