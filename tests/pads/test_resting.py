"""Nothing acts before it has moved, and what a pad rests at is not taken for a push."""

from __future__ import annotations

import pytest

from nub_shift.pads.input_codes import EV_ABS, EV_KEY
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.kernel.resting import LIES_US
from nub_shift.pads.known.wiring import AxisUse, Wiring

STICK, TRIGGER, HAT, SOUTH = 0, 2, 16, 0x130
WIRING = Wiring(
    {SOUTH: "south"},
    {
        STICK: AxisUse("right_stick.y", "right_stick.y", 0, 128, 256),
        TRIGGER: AxisUse("left_trigger", "", 0, 0, 256),
        HAT: AxisUse("dpad.right", "dpad.left", -1, 0, 1),
    },
)


class Axis:
    """One axis of a pad whose play begins while the axis lies somewhere."""

    def __init__(self, code: int, channel: str, lies_at: int, certain: bool = False) -> None:
        self.decoder = Decoder(WIRING, certain)
        self._code, self._channel = code, channel
        self._t_us = 5_000_000
        self.decoder.begin({code: lies_at})
        self.first = self.decoder.state_frame(self._t_us, (), {code: lies_at}).values[channel]

    def at(self, value: int, ms: int = 4) -> float:
        """The channel after a move, so long after the one before."""
        self._t_us += ms * 1000
        values: dict[str, float] = {}
        self.decoder.read(values, [(EV_ABS, self._code, value)], self._t_us)
        return values[self._channel]


def test_an_axis_that_rests_at_one_end_does_nothing_there_and_something_beyond_the_presumed_rest() -> None:
    whammy = Axis(STICK, "right_stick.y", 0)
    assert whammy.first == 0.0
    assert [whammy.at(value) for value in (3, 60, 128, 192, 256)] == pytest.approx([0, 0, 0, 0.5, 1.0])
    assert [whammy.at(value) for value in (128, 40, 0)] == [0, 0, 0]
    assert whammy.decoder.away == ("right_stick",)


def test_a_stick_that_was_held_acts_as_ever_once_it_has_been_let_go() -> None:
    stick = Axis(STICK, "right_stick.y", 0)
    assert [stick.at(value) for value in (100, 130)] == pytest.approx([0, 0], abs=0.02)
    stick.at(131, ms=LIES_US // 1000)
    assert stick.at(0) == pytest.approx(-1.0)
    assert stick.decoder.away == ()


def test_a_trigger_on_a_shared_axis_is_not_half_pulled() -> None:
    trigger = Axis(TRIGGER, "left_trigger", 128)
    assert trigger.first == 0.0
    assert [trigger.at(value) for value in (129, 192, 256, 128, 0)] == pytest.approx([0, 0.5, 1.0, 0, 0])


def test_where_a_card_says_the_rest_it_was_a_hand_that_held_the_axis() -> None:
    stick = Axis(STICK, "right_stick.y", 0, certain=True)
    assert [stick.at(value) for value in (2, 64, 0)] == pytest.approx([0, -0.5, -1.0])
    assert stick.decoder.away == ()
    assert [Axis(HAT, "dpad.left", -1).at(value) for value in (-1, 0)] == [0, 0]


def test_a_stick_that_lies_a_little_off_is_taken_as_it_is() -> None:
    assert Axis(STICK, "right_stick.y", 140).first == pytest.approx(12 / 128)


def test_a_button_that_is_held_as_play_begins_does_nothing_before_its_next_press() -> None:
    decoder = Decoder(WIRING)
    decoder.begin({})
    values = decoder.state_frame(0, (), {}).values
    for pressed in (0, 1):
        decoder.read(values, [(EV_KEY, SOUTH, pressed)], 1)
        assert values["south"] == float(pressed)
