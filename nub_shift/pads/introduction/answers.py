"""Answers collected during a set-up, and the resulting wiring."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import Enum

from nub_shift.model.controls import CONTROL_BY_NAME, FACE_BUTTONS, STICKS
from nub_shift.model.slot_names import SlotName
from nub_shift.pads.description import Description
from nub_shift.pads.introduction.gestures import Gestures
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.known.wiring import AxisUse, Wiring

# Least part of a stick's reported range that its measured range must cover to be used.
_TRUSTED = 0.7

# Order in which controls are requested: common ones first.
TARGETS = (
    *("left_stick", "right_stick", *FACE_BUTTONS, "left_shoulder", "right_shoulder"),
    *("left_trigger", "right_trigger", "dpad", "dpad.up", "dpad.right", "dpad.down", "dpad.left", "select", "start"),
    *("home", "left_stick.click", "right_stick.click", "grip_1", "grip_2", "grip_3", "grip_4", "slider_1", "slider_2"),
)
TRIGGERS = ("left_trigger", "right_trigger")
SLIDERS = ("slider_1", "slider_2")
ARMS = ("dpad.up", "dpad.right", "dpad.down", "dpad.left")
ANALOGUE = (*STICKS, *SLIDERS)


class Status(Enum):
    """Status of a channel during the set-up."""

    GUESSED = "guessed"
    UNDERSTOOD = "understood"
    ABSENT = "absent"


@dataclass(frozen=True)
class Answer:
    """Answer for one target: its codes, or none.

    Attributes:
        ways: axis code and sign to channel.
        covered: further codes that report the same movement.
    """

    target: str
    buttons: Mapping[int, str]
    ways: Mapping[tuple[int, int], str]
    covered: frozenset[int] = frozenset()


class Answers:
    """Answers so far, over guesses by the codes.

    Attributes:
        settled: the answers in the order in which they were given.
    """

    def __init__(self, description: Description, gestures: Gestures) -> None:
        self.settled: list[Answer] = []
        self._description = description
        self._gestures = gestures
        self._guess = wiring_of(description)

    def settle(self, answer: Answer) -> None:
        """Adds an answer, and drops earlier answers for its target or with its codes."""
        codes = {*answer.buttons, *(code for code, _ in answer.ways)}
        self.settled = [
            before for before in self.settled if before.target != answer.target and codes.isdisjoint(before.buttons)
        ]
        self.settled.append(answer)

    def forget(self, target: str) -> None:
        """Drops the answer for a target."""
        self.settled = [answer for answer in self.settled if answer.target != target]

    def next_target(self) -> str:
        """Returns the first unanswered target that the pad can have; empty without one."""
        return next((target for target in TARGETS if self.is_open(target) and self._is_possible(target)), "")

    def has_direction(self, ways: list[tuple[int, int]]) -> bool:
        """Returns whether an answer contains one of these directions of an axis."""
        return any(way in answer.ways for answer in self.settled for way in ways)

    def wiring(self) -> Wiring:
        """Returns the wiring by the answers so far, with guesses for the rest."""
        buttons = {code: channel for answer in self.settled for code, channel in answer.buttons.items()}
        ways = {way: channel for answer in self.settled for way, channel in answer.ways.items()}
        axes = {code: self._use(code, ways) for code in {code for code, _ in ways}}
        taken = {*buttons.values(), *ways.values(), *self._absent()}
        used = self.used()
        for code, channel in self._guess.buttons.items():
            if code not in used and channel not in taken:
                buttons[code] = channel
        for code, use in self._guess.axes.items():
            if code not in used and taken.isdisjoint({use.above, use.below}):
                axes[code] = self._with_rest(code, use)
        return Wiring(buttons, axes)

    def status(self) -> dict[str, Status]:
        """Returns the status of each channel."""
        found = dict.fromkeys(self.wiring().channels, Status.GUESSED)
        found |= dict.fromkeys(self._absent(), Status.ABSENT)
        for answer in self.settled:
            found |= dict.fromkeys((*answer.buttons.values(), *answer.ways.values()), Status.UNDERSTOOD)
        return found

    def used(self) -> frozenset[int]:
        """Returns the codes that need no guess. Keys and axes share few numbers, none of them of pads."""
        found: set[int] = set()
        for answer in self.settled:
            found |= {*answer.buttons, *(code for code, _ in answer.ways), *answer.covered}
        return frozenset(found)

    def _absent(self) -> frozenset[str]:
        return frozenset(
            channel
            for answer in self.settled
            if not answer.buttons and not answer.ways
            for channel in _channels_of(answer.target)
        )

    def is_open(self, target: str) -> bool:
        """Returns whether a target has no answer yet."""
        settled = {answer.target for answer in self.settled}
        if target == "dpad":
            return settled.isdisjoint({"dpad", *ARMS})
        if target in ARMS:
            return target not in settled and "dpad" not in settled and "dpad.up" in settled
        return target not in settled

    def _is_possible(self, target: str) -> bool:
        """Returns whether unused codes could belong to a target."""
        used = self.used()
        keys = [code for code in self._description.keys if code not in used]
        axes = [code for code in self._gestures.rest if code not in used]
        plain = [code for code in axes if not self._gestures.is_switch(code)]
        if target in STICKS:
            return len(plain) >= 2
        if target in SLIDERS:
            return bool(plain)
        if target in TRIGGERS:
            return bool(plain or keys) or self._has_free_side()
        if target == "dpad":
            return len(axes) > len(plain) or len(keys) >= 4
        if SlotName.parse(target).part == "click":
            stick = SlotName.parse(target).control
            return bool(keys) and any(answer.target == stick and answer.ways for answer in self.settled)
        return bool(keys)

    def _has_free_side(self) -> bool:
        """Returns whether a trigger rests in the middle of an axis whose other side is free."""
        return any(self._is_half(code, sign) for answer in self.settled for code, sign in answer.ways)

    def _is_half(self, code: int, sign: int) -> bool:
        taken = {way for answer in self.settled for way in answer.ways}
        axis = self._description.axes[code]
        room = self._gestures.rest[code] - axis.minimum if sign > 0 else axis.maximum - self._gestures.rest[code]
        return (code, -sign) not in taken and room > 0.3 * (axis.maximum - axis.minimum)

    def _use(self, code: int, ways: Mapping[tuple[int, int], str]) -> AxisUse:
        """Returns the channels of an axis, by the directions in the answers and the positions seen."""
        up, down = ways.get((code, 1), ""), ways.get((code, -1), "")
        low, rest, high = self._extents(code)
        if up and up == down:
            first = next(way for way, channel in ways.items() if channel == up and way[0] == code)
            # The directions of a stick or slider are sorted: high, then low.
            return AxisUse(up, up, low, rest, high) if first[1] > 0 else AxisUse(up, up, high, rest, low)
        if up and not down and not self._is_half(code, 1):
            return AxisUse(up, "", rest, rest, high)
        if down and not up and not self._is_half(code, -1):
            return AxisUse(down, "", rest, rest, low)
        return AxisUse(up, down, low, rest, high)

    def _with_rest(self, code: int, use: AxisUse) -> AxisUse:
        """Returns a guessed use with the rest that was seen, for sticks alone, since other controls may have been
        held.
        """
        if not use.signed or self._gestures.is_switch(code):
            return use
        return AxisUse(use.above, use.below, use.low, round(self._gestures.rest[code], 1), use.high)

    def _extents(self, code: int) -> tuple[float, float, float]:
        axis = self._description.axes[code]
        rest = round(self._gestures.rest[code], 1)
        low, high = self._gestures.low[code], self._gestures.high[code]
        if rest - low < _TRUSTED * (rest - axis.minimum):
            low = axis.minimum
        if high - rest < _TRUSTED * (axis.maximum - rest):
            high = axis.maximum
        return min(low, rest), rest, max(high, rest)


def _channels_of(target: str) -> Iterator[str]:
    if target in CONTROL_BY_NAME:
        control = CONTROL_BY_NAME[target]
        yield from (channel for channel in control.channels if SlotName.parse(channel).part != "click")
    else:
        yield target
