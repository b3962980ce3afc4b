"""The window's wait for input: a control on the pad, a key, a move, a name. One wait at a time.

The table below is the whole behaviour: rows are awaited inputs, columns events, entries the next awaited input. A new
wait ends the former one.
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


class WaitEvent(Enum):
    """Event that ends a wait, or changes it into another one."""

    CONTROL = "a control was pressed on the pad, or clicked"
    GIVEN = "a key, a move, an effect or a name was given"
    LEFT = "the focus went elsewhere"
    OVER = "the time is over"
    CANCELLED = "Escape, or the button that cancels"


_N, _S = Awaited.NOTHING, Awaited.SLOT_INPUT

TRANSITIONS: Final[dict[Awaited, dict[WaitEvent, Awaited]]] = {
    awaited: dict(zip(WaitEvent, row, strict=True))
    for awaited, row in {
        # CONTROL, GIVEN, LEFT, OVER, CANCELLED
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

# Time limits of waits for keys, unless the person has chosen another time; a recorded sequence ends by a pause. A
# control on the pad is further away than a key.
LISTEN_MS: Final = 8_000
CONTROL_MS: Final = 20_000
PAUSE_MS: Final = 3_000
# Waits for a control that is not to be opened.
_FOR_CONTROL: Final = (Awaited.THIRD_CONTROL, Awaited.LAYER_CONTROL, Awaited.TURNING_CONTROL)
# Waits for a key, with the time limit chosen by the person.
_FOR_KEY: Final = (Awaited.SLOT_INPUT, Awaited.PAIR_INPUT, Awaited.MOVE_INPUT)
_FOR_SLOT: Final = (_S, Awaited.SLOT_MOVE, Awaited.PAIR_INPUT, Awaited.PAIR_MOVE, Awaited.STROKES)


@dataclass(frozen=True)
class Wait:
    """An awaited input and its purpose.

    Attributes:
        layer, slot: target cell, or the layer that a control is to activate.
        partner: slot pressed together with `slot`, once both are known.
        together: all slots of an assigned combination.
        reaction: reaction of the slot.
        besides: the input is added to the reaction's action and replaces nothing.
        move: id of the move; empty for a new one.
        label: name of that move.
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
    """The state machine.

    Attributes:
        wait: present wait.
        listen_ms: time limit for keys; 0 for none.
    """

    def __init__(self, clock_ms: Callable[[], int], listen_ms: int = LISTEN_MS) -> None:
        """`clock_ms` returns the time in milliseconds from any origin."""
        self.wait = Wait()
        self.listen_ms = listen_ms
        self._clock_ms = clock_ms
        self._deadline_ms: int | None = None
        self._callbacks: list[Callable[[], None]] = []
        self._control_callbacks: list[Callable[[Wait, str], None]] = []

    def on_change(self, callback: Callable[[], None]) -> None:
        """Calls `callback` at each change of the wait, and at each check of the time."""
        self._callbacks.append(callback)

    def on_control(self, callback: Callable[[Wait, str], None]) -> None:
        """Calls `callback` with a slot whose control was awaited and is not to be opened, and with the wait."""
        self._control_callbacks.append(callback)

    def begin(self, wait: Wait) -> None:
        """Begins another wait."""
        log.debug("waiting: %s -> %s", self.wait.awaited.name, wait.awaited.name)
        self.wait = wait
        self.extend()
        self._notify()

    def handle_event(self, handle_event: WaitEvent, slot: str = "", layer: str = "") -> Wait:
        """Processes an event by the table; a control has its slot and the shown layer.

        Returns the wait before the event.
        """
        before = self.wait
        awaited = TRANSITIONS[before.awaited][handle_event]
        if awaited is before.awaited and handle_event is not WaitEvent.CONTROL:
            return before
        own = (before.slot, before.partner) if before.awaited in (Awaited.PARTNER, Awaited.THIRD_CONTROL) else ()
        if handle_event is WaitEvent.CONTROL and slot in own:
            return before  # a slot is not its own partner
        if awaited is Awaited.PAIR_INPUT:
            self.begin(Wait(awaited, layer, slot, partner=before.slot, reaction=before.reaction))
        elif awaited is Awaited.SLOT_INPUT:
            self.begin(Wait(awaited, layer, slot))
        elif awaited is Awaited.NOTHING:
            self.begin(Wait())
        else:
            self.begin(replace(before, awaited=awaited))
        if handle_event is WaitEvent.CONTROL and before.awaited in _FOR_CONTROL:
            for callback in self._control_callbacks:
                callback(before, slot)
        return before

    def aim(self, reaction: Reaction, besides: bool) -> None:
        """Sets the reaction of the awaited slot that gets the input, and whether the input is added beside its
        action.
        """
        wait = self.wait
        if wait.awaited in (_S, Awaited.SLOT_MOVE) and (wait.reaction, wait.besides) != (reaction, besides):
            self.wait = replace(wait, reaction=reaction, besides=besides)
            self._notify()

    def extend(self) -> None:
        """Restarts the time of the wait."""
        time_ms = self._time_ms
        self._deadline_ms = self._clock_ms() + time_ms if time_ms else None

    def choose_time(self, listen_ms: int) -> None:
        """Sets the time limit for keys; 0 for none."""
        self.listen_ms = listen_ms
        self.extend()
        self._notify()

    @property
    def _time_ms(self) -> int:
        """Time limit of this wait; 0 for none."""
        if self.wait.awaited is Awaited.STROKES:
            return PAUSE_MS
        if self.for_control:
            return max(self.listen_ms, CONTROL_MS) if self.listen_ms else 0
        return self.listen_ms if self.wait.awaited in _FOR_KEY else 0

    @property
    def timed(self) -> bool:
        """Whether the wait has a time limit."""
        return self._deadline_ms is not None

    @property
    def time_left(self) -> float:
        """Remaining part of the time, 0 to 1; 1 without a limit."""
        if self._deadline_ms is None:
            return 1.0
        return max(0, self._deadline_ms - self._clock_ms()) / self._time_ms

    def check_time(self) -> None:
        """Ends a wait whose time is over."""
        if self.timed and self.time_left == 0:
            self.handle_event(WaitEvent.OVER)
        else:
            self._notify()

    def listens_for(self, layer: str, slot: str) -> bool:
        """Returns whether a key is awaited for a slot of a layer."""
        wait = self.wait
        handle_event = wait.awaited in (Awaited.SLOT_INPUT, Awaited.PAIR_INPUT)
        return handle_event and (wait.layer, wait.slot) == (layer, slot)

    @property
    def for_control(self) -> bool:
        """Whether the next control is awaited for a purpose other than opening it."""
        return self.wait.awaited in (Awaited.PARTNER, *_FOR_CONTROL)

    @property
    def for_slot(self) -> bool:
        """Whether the input goes to a slot of the opened control."""
        return self.wait.awaited in _FOR_SLOT

    def _notify(self) -> None:
        for callback in list(self._callbacks):
            callback()
