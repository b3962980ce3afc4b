"""Introducing a pad: what is touched is what is understood, within a budget of touches."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import pytest

from nub_shift.editing.words.messages import message_words
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.pads.input_codes import Event
from nub_shift.pads.introduction.answers import Status
from nub_shift.pads.introduction.course import Introduction
from nub_shift.pads.known.cards import card_of
from nub_shift.pads.known.wiring import Wiring
from nub_shift.store.card_files import keep_card
from tests.pads.introduced import Hands, Held, pressing, rolling, sweeping


class IntroducedPad:
    """A made-up pad in somebody's hands while it is introduced."""

    def __init__(self, name: str) -> None:
        self.hands = Hands(name)
        self.introduction = Introduction(self.hands.pad.descriptions[0], self.hands.pad.positions())
        self.hands.pad.tap = self._listen
        self.hands.wait()
        self.built = self.hands.pad.traits.devices()[0].wiring

    def _listen(self, events: Sequence[Event]) -> None:
        self.introduction.feed(events)

    @property
    def requested(self) -> str:
        return self.introduction.requested

    def touch(self, *moments: list[Held]) -> str:
        """One touch after the other; returns what was made of the last."""
        for held in moments:
            self.hands.touch(held)
        note = self.introduction.note
        return message_words(note) if note is not None else ""

    def follow(self) -> None:
        """Does what is asked until nothing is, and says so where the pad has no such control."""
        while requested := self.requested:
            if (
                CONTROL_OF_CHANNEL.get(requested, None) is None
                and not {f"{requested}.x", f"{requested}.up"} & self.built.channels
            ):
                self.introduction.skip()
            elif requested.endswith("_stick"):
                self.touch(sweeping(requested))
            elif requested == "dpad":
                self.touch(rolling())
            elif requested in self.built.channels:
                self.touch(pressing(requested))
            else:
                self.introduction.skip()


@pytest.fixture
def plank() -> Iterator[IntroducedPad]:
    yield IntroducedPad("plank")


def ends(wiring: Wiring) -> dict[int, tuple[str, str, bool]]:
    """What each axis feeds, and whether it counts the other way round."""
    return {code: (use.above, use.below, use.low > use.high) for code, use in wiring.axes.items()}


def test_ten_buttons_and_a_stick_take_ten_presses_and_a_sweep(plank: IntroducedPad) -> None:
    plank.follow()
    assert plank.hands.touches == 11
    assert plank.introduction.wiring() == plank.built
    keep_card(card_of(plank.hands.pad.descriptions[0], plank.introduction.wiring()))
    plank.hands.pad.wire()
    plank.hands.wait()
    plank.hands.pad.hold({"south": 1.0, "left_stick.y": -1.0})
    reported = plank.hands.wait()
    assert [reported["south"], reported["left_stick.y"]] == pytest.approx([1.0, -1.0])


@pytest.mark.parametrize("name", ["gorse", "fretwork", "tern", "reed"])
def test_every_shape_is_understood_by_touch(name: str) -> None:
    course = IntroducedPad(name)
    course.follow()
    understood = course.introduction.wiring()
    assert understood.buttons == course.built.buttons
    one_sided = {"slider_1"}  # a slider may be pushed to the other side some day
    for code, (above, below, turned) in ends(course.built).items():
        expected = (above, above if above in one_sided else below, turned)
        assert ends(understood)[code] == expected
    if name == "gorse":  # its left stick rests off the middle: that is learned on the way
        assert understood.axes[0].rest == pytest.approx(127 - 0.06 * 127, abs=1.5)


def test_what_is_not_touched_stays_as_guessed(plank: IntroducedPad) -> None:
    guessed = plank.introduction.wiring()
    assert set(plank.introduction.status().values()) == {Status.GUESSED}
    plank.touch(sweeping("left_stick"), pressing("south"))
    status = plank.introduction.status()
    assert (status["south"], status["start"]) == (Status.UNDERSTOOD, Status.GUESSED)
    understood = plank.introduction.wiring()
    assert understood.buttons[0x121] == "south"
    assert understood.buttons[0x129] == guessed.buttons[0x129] == "start"


def test_a_known_button_says_there_is_none_and_held_takes_the_last_answer_back(plank: IntroducedPad) -> None:
    plank.touch(sweeping("left_stick"), pressing("south"))
    assert plank.requested == "east"
    assert plank.touch(pressing("south")) == "No east"
    assert (plank.requested, plank.introduction.status()["east"]) == ("west", Status.ABSENT)
    long = [{"south": 1.0}] * 25 + [{}]
    assert plank.touch(long) == "east is free again: press it"
    assert plank.requested == "east"
    assert plank.touch(pressing("east")) == "Set up: east"


def test_controls_may_be_touched_in_any_order(plank: IntroducedPad) -> None:
    plank.introduction.request("start")
    assert plank.touch(pressing("start")) == "Set up: start"
    assert plank.requested == "left_stick"
    assert "Press it again" in plank.touch(pressing("west"))
    assert plank.touch(pressing("west")) == "No left stick"
    assert plank.touch(sweeping("left_stick")) == "Set up: right stick"
    plank.introduction.request("left_stick")
    plank.touch(sweeping("left_stick"))
    assert plank.introduction.wiring().axes[0].above == "left_stick.x"


def test_a_button_that_the_person_claims_for_another_control_is_no_longer_the_first(plank: IntroducedPad) -> None:
    plank.introduction.request("south")
    plank.touch(pressing("south"))
    plank.introduction.request("east")
    plank.touch(pressing("south"))
    status = plank.introduction.status()
    assert status["east"] is Status.UNDERSTOOD and status.get("south") is not Status.UNDERSTOOD
    assert plank.requested == "left_stick"


def test_half_a_sweep_and_two_buttons_at_once_are_asked_for_again(plank: IntroducedPad) -> None:
    assert "all the way" in plank.touch([{"left_stick.x": 1.0, "left_stick.y": 1.0}, {}])
    plank.touch(sweeping("left_stick"))
    assert plank.touch([{"south": 1.0, "east": 1.0}, {}]) == "Two controls at once: press only one"
    assert plank.requested == "south"


def test_the_last_touch_keeps_all_from_the_pad_alone(plank: IntroducedPad) -> None:
    plank.follow()
    assert not plank.introduction.finished
    plank.touch(pressing("south"))
    assert plank.introduction.finished
