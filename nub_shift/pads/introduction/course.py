"""Introducing a pad: the person touches one control after the other, and from that follows which code is which.

Without I/O: events in, a wiring out. What the codes suggest is the guess to begin with; whatever is touched goes before
it, and what nobody touches stays as guessed. From the pad alone: a button that is understood already, pressed again,
says "there is none of that"; held for a second it takes the last answer back.
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from enum import Enum

from nub_shift.model.controls import CONTROL_BY_NAME, CONTROL_OF_CHANNEL, FACE_BUTTONS, STICKS
from nub_shift.model.messages import Code, Message
from nub_shift.model.slot_names import SlotName, slot_name
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import HAT_CHANNELS, wiring_of
from nub_shift.pads.introduction.gestures import Gestures, Touched
from nub_shift.pads.kernel import Event
from nub_shift.pads.wiring import AxisUse, Wiring

log = logging.getLogger("nub_shift.pads")

HELD_S = 1.0
# A stick is taken to reach as far as it was swept if that is at least this part of what the device says of itself.
_TRUSTED = 0.7

# In this order controls are asked for: first what every pad has.
PLACES = (
    *("left_stick", "right_stick", *FACE_BUTTONS, "left_shoulder", "right_shoulder"),
    *("left_trigger", "right_trigger", "dpad", "dpad.up", "dpad.right", "dpad.down", "dpad.left", "select", "start"),
    *("home", "left_stick.click", "right_stick.click", "grip_1", "grip_2", "grip_3", "grip_4", "slider_1", "slider_2"),
)
_TRIGGERS = ("left_trigger", "right_trigger")
_SLIDERS = ("slider_1", "slider_2")
_ARMS = ("dpad.up", "dpad.right", "dpad.down", "dpad.left")
_ANALOGUE = (*STICKS, *_SLIDERS)


class Status(Enum):
    """What is known of a channel."""

    GUESSED = "guessed"
    UNDERSTOOD = "understood"
    ABSENT = "absent"


@dataclass(frozen=True)
class _Answer:
    """One place that is settled: by these codes, or by none.

    Attributes:
        ways: axis code and sign to channel.
        covered: codes that report the same touch besides.
    """

    place: str
    buttons: Mapping[int, str]
    ways: Mapping[tuple[int, int], str]
    covered: frozenset[int] = frozenset()


class Introduction:
    """One device being introduced.

    Attributes:
        note: what was made of the last touch.
        finished: everything was understood, and a touch has said that it is to be kept.
    """

    def __init__(self, description: Description, now_at: Mapping[int, int]) -> None:
        self.note: Message | None = None
        self.finished = False
        self._description = description
        self._gestures = Gestures(description.axes, now_at)
        self._guess = wiring_of(description)
        self._answers: list[_Answer] = []
        self._chosen = ""
        self._claims = False  # the person chose the place: a code that was understood otherwise moves there
        self._doubted: int | None = None

    @property
    def asked(self) -> str:
        """The place that is asked for, or empty when nothing on the pad is left."""
        if self._chosen:
            return self._chosen
        return next((place for place in PLACES if self._is_open(place) and self._is_possible(place)), "")

    def feed(self, events: Iterable[Event]) -> bool:
        """Takes events; returns whether anything was understood from them."""
        touches = self._gestures.feed(events)
        for touch in touches:
            self._take(touch)
        return bool(touches)

    def ask(self, place: str) -> None:
        """The person wants to touch this place next; what was understood of it is forgotten."""
        if place in PLACES:
            self._answers = [answer for answer in self._answers if answer.place != place]
            self._chosen, self._claims = place, True
            self.note = None

    def skip(self) -> None:
        """There is no such control on this pad."""
        asked = self.asked
        if asked:
            self._settle(_Answer(asked, {}, {}), Message(Code.NO_SUCH_CONTROL, {"control": asked}))

    def take_back(self) -> None:
        """Forgets the last answer and asks for it again."""
        if self._answers:
            self._chosen, self._claims = self._answers.pop().place, False
            self.note = Message(Code.TAKEN_BACK, {"control": self._chosen})

    def wiring(self) -> Wiring:
        """What is understood so far, and what is guessed of the rest."""
        buttons = {code: channel for answer in self._answers for code, channel in answer.buttons.items()}
        ways = {way: channel for answer in self._answers for way, channel in answer.ways.items()}
        axes = {code: self._use(code, ways) for code in {code for code, _ in ways}}
        taken = {*buttons.values(), *ways.values(), *self._absent()}
        used = self._used()
        for code, channel in self._guess.buttons.items():
            if code not in used and channel not in taken:
                buttons[code] = channel
        for code, use in self._guess.axes.items():
            if code not in used and taken.isdisjoint({use.above, use.below}):
                axes[code] = self._with_rest(code, use)
        return Wiring(buttons, axes)

    def preview(self) -> Wiring:
        """The wiring to show the pad by meanwhile: a button that is not understood yet is the one asked for."""
        wiring, asked = self.wiring(), self.asked
        if asked not in CONTROL_OF_CHANNEL:
            return wiring
        used = self._used()
        return replace(
            wiring, buttons=wiring.buttons | {code: asked for code in self._description.keys if code not in used}
        )

    def status(self) -> dict[str, Status]:
        """By channel, what is known of it."""
        found = dict.fromkeys(self.wiring().channels, Status.GUESSED)
        found |= dict.fromkeys(self._absent(), Status.ABSENT)
        for answer in self._answers:
            found |= dict.fromkeys((*answer.buttons.values(), *answer.ways.values()), Status.UNDERSTOOD)
        return found

    def _take(self, touch: Touched) -> None:
        """Makes something of one touch."""
        known = not self._used().isdisjoint(touch.keys)
        if known and not touch.ways and not self._claims:
            if touch.seconds >= HELD_S:
                self.take_back()
            elif self.asked:
                self.skip()
            else:
                self.finished = True
            return
        axes = sorted({code for code, _ in touch.ways})
        if not axes:
            self._take_keys(touch.keys)
        elif any(self._gestures.is_switch(code) for code in axes):
            self._take_cross(touch.ways)
        elif len(axes) == 1:
            self._take_axis(touch)
        elif len(axes) == 2 and len(touch.ways) == 4:
            self._take_stick(touch)
        else:
            self.note = Message(Code.ONCE_ROUND)

    def _take_keys(self, keys: list[int]) -> None:
        asked = self.asked
        if asked == "dpad" and len(keys) == 4:
            self._settle(_Answer("dpad", dict(zip(keys, _ARMS, strict=True)), {}))
        elif len(keys) > 1:
            self.note = Message(Code.TWO_AT_ONCE)
        elif asked in _ANALOGUE:
            if self._doubted == keys[0]:
                self.skip()
            else:
                self._doubted = keys[0]
                self.note = Message(Code.THAT_IS_A_BUTTON, {"control": asked})
        elif asked == "dpad":
            self._settle(_Answer("dpad.up", {keys[0]: "dpad.up"}, {}))
        elif asked:
            self._settle(_Answer(asked, {keys[0]: asked}, {}))

    def _take_cross(self, ways: list[tuple[int, int]]) -> None:
        """The switches of a pad cross: rolled round in the order of the arms, or as the kernel's document has them."""
        if len(ways) == 4:
            found = dict(zip(ways, _ARMS, strict=True))
        else:
            found = {}
            for code in {code for code, _ in ways}:
                for axis in (code & ~1, code | 1):  # the kernel's hats are pairs of an even code and the next
                    below, above = HAT_CHANNELS.get(axis, ("", ""))
                    if below and axis in self._description.axes:
                        found |= {(axis, -1): below, (axis, 1): above}
        if found:
            self._settle(_Answer("dpad", {}, found))
        else:
            self.note = Message(Code.TOUCH_AS_ASKED, {"control": "dpad"})

    def _take_axis(self, touch: Touched) -> None:
        asked = self.asked
        (code, first), *other = touch.ways
        if asked in STICKS and other:
            self.note = Message(Code.ONCE_ROUND)
            return
        if any(way in answer.ways for answer in self._answers for way in touch.ways):
            self.skip()
            return
        places = _SLIDERS if other else (*_TRIGGERS, *_SLIDERS)
        place = asked if asked in places else next((place for place in places if self._is_open(place)), "")
        if not place:
            self.note = Message(Code.TRIGGERS_UNDERSTOOD)
            return
        ways = {(code, first): place}
        if other or place in _SLIDERS:
            ways[code, -first] = place
        self._settle(_Answer(place, {}, ways, frozenset(touch.keys)))

    def _take_stick(self, touch: Touched) -> None:
        """Up first, then to the right: that is which axis is which, and which way it counts."""
        asked = self.asked
        place = asked if asked in STICKS else next((place for place in STICKS if self._is_open(place)), "")
        (up_code, up), *rest = touch.ways
        right = next(((code, sign) for code, sign in rest if code != up_code), None)
        if not place or right is None:
            self.note = Message(Code.TOUCH_AS_ASKED, {"control": place}) if place else Message(Code.STICKS_UNDERSTOOD)
            return
        ways = {
            (up_code, -up): slot_name(place, "y"),
            (up_code, up): slot_name(place, "y"),
            right: slot_name(place, "x"),
            (right[0], -right[1]): slot_name(place, "x"),
        }
        self._settle(_Answer(place, {}, ways))

    def _settle(self, answer: _Answer, note: Message | None = None) -> None:
        settled = {*answer.buttons, *(code for code, _ in answer.ways)}
        self._answers = [
            before for before in self._answers if before.place != answer.place and settled.isdisjoint(before.buttons)
        ]
        self._answers.append(answer)
        self._chosen, self._claims = "", False
        self._doubted = None
        log.debug("introduction: %s understood", answer.place)
        self.note = note or Message(Code.UNDERSTOOD, {"control": answer.place})

    def _used(self) -> frozenset[int]:
        """Codes that need no guess any more. Keys and axes have numbers of their own but for a few that no pad has."""
        found: set[int] = set()
        for answer in self._answers:
            found |= {*answer.buttons, *(code for code, _ in answer.ways), *answer.covered}
        return frozenset(found)

    def _absent(self) -> frozenset[str]:
        return frozenset(
            channel
            for answer in self._answers
            if not answer.buttons and not answer.ways
            for channel in _channels_of(answer.place)
        )

    def _is_open(self, place: str) -> bool:
        settled = {answer.place for answer in self._answers}
        if place == "dpad":
            return settled.isdisjoint({"dpad", *_ARMS})
        if place in _ARMS:
            return place not in settled and "dpad" not in settled and "dpad.up" in settled
        return place not in settled

    def _is_possible(self, place: str) -> bool:
        """Whether codes are left that could be this one."""
        used = self._used()
        keys = [code for code in self._description.keys if code not in used]
        axes = [code for code in self._gestures.rest if code not in used]
        plain = [code for code in axes if not self._gestures.is_switch(code)]
        if place in STICKS:
            return len(plain) >= 2
        if place in _SLIDERS:
            return bool(plain)
        if place in _TRIGGERS:
            return bool(plain or keys) or self._has_free_side()
        if place == "dpad":
            return len(axes) > len(plain) or len(keys) >= 4
        if SlotName.parse(place).part == "click":
            stick = SlotName.parse(place).control
            return bool(keys) and any(answer.place == stick and answer.ways for answer in self._answers)
        return bool(keys)

    def _has_free_side(self) -> bool:
        """Whether a trigger rests in the middle of an axis whose other side nothing feeds yet."""
        return any(self._is_half(code, sign) for answer in self._answers for code, sign in answer.ways)

    def _is_half(self, code: int, sign: int) -> bool:
        taken = {way for answer in self._answers for way in answer.ways}
        axis = self._description.axes[code]
        room = self._gestures.rest[code] - axis.minimum if sign > 0 else axis.maximum - self._gestures.rest[code]
        return (code, -sign) not in taken and room > 0.3 * (axis.maximum - axis.minimum)

    def _use(self, code: int, ways: Mapping[tuple[int, int], str]) -> AxisUse:
        """What an axis feeds, by the ways that were taken on it and the positions that were seen."""
        up, down = ways.get((code, 1), ""), ways.get((code, -1), "")
        low, rest, high = self._extents(code)
        if up and up == down:
            first = next(way for way, channel in ways.items() if channel == up and way[0] == code)
            # The ways of a stick or slider stand in the order of high, then low.
            return AxisUse(up, up, low, rest, high) if first[1] > 0 else AxisUse(up, up, high, rest, low)
        if up and not down and not self._is_half(code, 1):
            return AxisUse(up, "", rest, rest, high)
        if down and not up and not self._is_half(code, -1):
            return AxisUse(down, "", rest, rest, low)
        return AxisUse(up, down, low, rest, high)

    def _with_rest(self, code: int, use: AxisUse) -> AxisUse:
        """A guessed use with the rest that was seen: a stick's only, others are not known to have been left alone."""
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


def _channels_of(place: str) -> Iterator[str]:
    if place in CONTROL_BY_NAME:
        control = CONTROL_BY_NAME[place]
        yield from (channel for channel in control.channels if SlotName.parse(channel).part != "click")
    else:
        yield place
