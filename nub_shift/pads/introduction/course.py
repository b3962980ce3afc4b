"""Course of a set-up: the person moves one control after the other, which shows the code of each control.

Without I/O: events in, a wiring out. The guess by the codes is the start; answers override it, and controls without an
answer keep the guess. From the pad alone: pressing an answered button again means "this pad has no such control";
holding it for a second takes the last answer back.
"""

from __future__ import annotations

import logging
from collections.abc import Iterable, Mapping
from dataclasses import replace

from nub_shift.model.controls import CONTROL_OF_CHANNEL, STICKS
from nub_shift.model.messages import Code, Message
from nub_shift.model.slot_names import slot_name
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import Event
from nub_shift.pads.introduction.answers import ANALOGUE, ARMS, SLIDERS, TARGETS, TRIGGERS, Answer, Answers, Status
from nub_shift.pads.introduction.gestures import Gestures, Touched
from nub_shift.pads.known.gamepad import HAT_CHANNELS
from nub_shift.pads.known.wiring import Wiring

log = logging.getLogger("nub_shift.pads")

HELD_S = 1.0


class Introduction:
    """Set-up of one device.

    Attributes:
        note: result of the last movement.
        finished: all controls are answered, and a press has confirmed the result.
    """

    def __init__(self, description: Description, now_at: Mapping[int, int]) -> None:
        self.note: Message | None = None
        self.finished = False
        self._description = description
        self._gestures = Gestures(description.axes, now_at)
        self._answers = Answers(description, self._gestures)
        self._chosen = ""
        self._claims = False  # the person chose the target, which may take over codes of another answer
        self._doubted: int | None = None

    @property
    def requested(self) -> str:
        """Requested target, empty without any left."""
        if self._chosen:
            return self._chosen
        return self._answers.next_target()

    def feed(self, events: Iterable[Event]) -> bool:
        """Processes events; returns whether they gave an answer."""
        touches = self._gestures.feed(events)
        for touch in touches:
            self._take(touch)
        return bool(touches)

    def request(self, target: str) -> None:
        """Requests a target chosen by the person, and drops its answer."""
        if target in TARGETS:
            self._answers.forget(target)
            self._chosen, self._claims = target, True
            self.note = None

    def skip(self) -> None:
        """Records that the pad has no such control."""
        requested = self.requested
        if requested:
            self._settle(Answer(requested, {}, {}), Message(Code.NO_SUCH_CONTROL, {"control": requested}))

    def take_back(self) -> None:
        """Drops the last answer and requests its target again."""
        if self._answers.settled:
            self._chosen, self._claims = self._answers.settled.pop().target, False
            self.note = Message(Code.TAKEN_BACK, {"control": self._chosen})

    def wiring(self) -> Wiring:
        """Returns the wiring by the answers so far, with guesses for the rest."""
        return self._answers.wiring()

    def status(self) -> dict[str, Status]:
        """Returns the status of each channel."""
        return self._answers.status()

    def preview(self) -> Wiring:
        """Returns the wiring for the display meanwhile: an unanswered button stands for the requested one."""
        wiring, requested = self._answers.wiring(), self.requested
        if requested not in CONTROL_OF_CHANNEL:
            return wiring
        used = self._answers.used()
        return replace(
            wiring, buttons=wiring.buttons | {code: requested for code in self._description.keys if code not in used}
        )

    def _take(self, touch: Touched) -> None:
        """Processes one movement."""
        known = not self._answers.used().isdisjoint(touch.keys)
        if known and not touch.ways and not self._claims:
            if touch.seconds >= HELD_S:
                self.take_back()
            elif self.requested:
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
        requested = self.requested
        if requested == "dpad" and len(keys) == 4:
            self._settle(Answer("dpad", dict(zip(keys, ARMS, strict=True)), {}))
        elif len(keys) > 1:
            self.note = Message(Code.TWO_AT_ONCE)
        elif requested in ANALOGUE:
            if self._doubted == keys[0]:
                self.skip()
            else:
                self._doubted = keys[0]
                self.note = Message(Code.THAT_IS_A_BUTTON, {"control": requested})
        elif requested == "dpad":
            self._settle(Answer("dpad.up", {keys[0]: "dpad.up"}, {}))
        elif requested:
            self._settle(Answer(requested, {keys[0]: requested}, {}))

    def _take_cross(self, ways: list[tuple[int, int]]) -> None:
        """Processes the switches of a D-pad: rolled round, in the order of its arms; otherwise by the kernel's
        document.
        """
        if len(ways) == 4:
            found = dict(zip(ways, ARMS, strict=True))
        else:
            found = {}
            for code in {code for code, _ in ways}:
                for axis in (code & ~1, code | 1):  # hats of the kernel are pairs of an even code and the next
                    below, above = HAT_CHANNELS.get(axis, ("", ""))
                    if below and axis in self._description.axes:
                        found |= {(axis, -1): below, (axis, 1): above}
        if found:
            self._settle(Answer("dpad", {}, found))
        else:
            self.note = Message(Code.TOUCH_AS_ASKED, {"control": "dpad"})

    def _take_axis(self, touch: Touched) -> None:
        requested = self.requested
        (code, first), *other = touch.ways
        if requested in STICKS and other:
            self.note = Message(Code.ONCE_ROUND)
            return
        if self._answers.has_direction(touch.ways):
            self.skip()
            return
        targets = SLIDERS if other else (*TRIGGERS, *SLIDERS)
        target = (
            requested
            if requested in targets
            else next((target for target in targets if self._answers.is_open(target)), "")
        )
        if not target:
            self.note = Message(Code.TRIGGERS_UNDERSTOOD)
            return
        ways = {(code, first): target}
        if other or target in SLIDERS:
            ways[code, -first] = target
        self._settle(Answer(target, {}, ways, frozenset(touch.keys)))

    def _take_stick(self, touch: Touched) -> None:
        """Processes a stick, pushed up and then to the right, which shows its axes and their signs."""
        requested = self.requested
        target = (
            requested
            if requested in STICKS
            else next((target for target in STICKS if self._answers.is_open(target)), "")
        )
        (up_code, up), *rest = touch.ways
        right = next(((code, sign) for code, sign in rest if code != up_code), None)
        if not target or right is None:
            self.note = Message(Code.TOUCH_AS_ASKED, {"control": target}) if target else Message(Code.STICKS_UNDERSTOOD)
            return
        ways = {
            (up_code, -up): slot_name(target, "y"),
            (up_code, up): slot_name(target, "y"),
            right: slot_name(target, "x"),
            (right[0], -right[1]): slot_name(target, "x"),
        }
        self._settle(Answer(target, {}, ways))

    def _settle(self, answer: Answer, note: Message | None = None) -> None:
        self._answers.settle(answer)
        self._chosen, self._claims = "", False
        self._doubted = None
        log.debug("introduction: %s understood", answer.target)
        self.note = note or Message(Code.UNDERSTOOD, {"control": answer.target})
