"""One pad for two people: each control plays for the one who has it, and nothing stays down for either."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nub_shift.engine.program import Program
from nub_shift.engine.values import Key, Output
from nub_shift.pads.pad import PadError
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.seat_reports import seat_state
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, profile_text
from tests.runner.fakes import Bench, FakePad, FakePads

MINE = """
south = { keys = ["KEY_1"] }
"left_stick.up" = { keys = ["KEY_2"] }
"""
OTHERS = """
south = { keys = ["KEY_3"] }
"left_stick.up" = { keys = ["KEY_4"] }
"""
KEYS = {"south": ("KEY_1", "KEY_3"), "left_stick": ("KEY_2", "KEY_4")}


class Shared(Bench):
    """A bench with a pad that two play."""

    def __init__(self) -> None:
        super().__init__(MINE)
        self.t_us = START_US
        self.session.work(self.t_us)
        self.session.shared_pads.share("fake", Program(parse_profile(profile_text(OTHERS))), self.t_us)
        self.second = self.session.seats[1]
        self.session.switch.go(True, self.t_us)

    def press(self, control: str, on: bool) -> list[Output]:
        """What that sends; long enough after what was before that no key lingers."""
        self.t_us += 1_000_000
        before = len(self.output.sent)
        if control == "south":
            self.play(self.t_us, south=float(on))
        else:
            self.play(self.t_us, left_stick__y=-float(on))
        self.t_us += 1_000_000
        self.session.work(self.t_us)
        return self.output.sent[before:]

    def keys_of(self, control: str) -> list[str]:
        """What pressing and letting go of a control sends."""
        return [output.code for on in (True, False) for output in self.press(control, on) if isinstance(output, Key)]

    def replug(self) -> None:
        """The pad goes, and is there again."""
        self.pad.unplugged = True
        for _ in range(2):
            self.t_us += 1_500_000
            self.session.work(self.t_us)


def test_what_the_right_hand_works_plays_for_the_second_one_until_it_is_split_otherwise() -> None:
    shared = Shared()
    assert [seat_state(seat).pad.controls for seat in shared.session.seats] == [("left_stick",), ("south",)]
    assert (shared.keys_of("south"), shared.keys_of("left_stick")) == (["KEY_3"] * 2, ["KEY_2"] * 2)
    shared.session.shared_pads.split("fake", ["left_stick"], shared.t_us)
    assert (shared.keys_of("south"), shared.keys_of("left_stick")) == (["KEY_1"] * 2, ["KEY_4"] * 2)
    assert shared.pad.grabs[-1], "it is live for both"
    with pytest.raises(PadError, match="no_such_control"):
        shared.session.shared_pads.split("fake", ["lever"], shared.t_us)
    with pytest.raises(PadError, match="pad_is_shared"):
        shared.session.shared_pads.share("fake", shared.second.program, shared.t_us)


@pytest.mark.parametrize("stays", [0, 1])
def test_who_stays_has_all_of_the_pad(stays: int) -> None:
    shared = Shared()
    for control in KEYS:
        shared.press(control, on=True)
    staying, leaving = shared.session.seats[stays], shared.session.seats[1 - stays]
    shared.session.remove(leaving, shared.t_us)
    assert shared.session.ledger.down == ()
    assert [shared.keys_of(control) for control in KEYS] == [[keys[stays]] * 2 for keys in KEYS.values()]
    assert seat_state(staying).pad.controls == FakePad.controls
    with pytest.raises(PadError, match="pad_is_not_shared"):
        shared.session.shared_pads.split("fake", [], shared.t_us)


def test_the_first_one_goes_on_with_another_pad_and_nobody_takes_a_shared_one() -> None:
    shared = Shared()
    third = shared.add(profile_text(MINE))
    other = FakePads(lambda: FakePad("other"))
    with pytest.raises(PadError, match="pad_is_shared"):
        shared.session.assign_pad(third, other, "fake", shared.t_us)
    shared.session.assign_pad(shared.seat, other, "other", shared.t_us)
    assert shared.seat.pad is not None and shared.seat.pad.key == "other"
    assert seat_state(shared.second).pad.controls == FakePad.controls


STEPS = ("press", "let go", "split", "replug", "reopen", "stop", "load")


@given(st.lists(st.tuples(st.sampled_from(STEPS), st.sampled_from(sorted(KEYS))), max_size=14))
def test_whatever_happens_each_control_plays_for_one_and_is_let_go(steps: list[tuple[str, str]]) -> None:
    shared = Shared()
    owner = {"south": 1, "left_stick": 0}
    seats: list[Seat] = shared.session.seats
    for step, control in steps:
        match step:
            case "press" | "let go":
                shared.press(control, on=step == "press")
            case "split":
                owner[control] = 1 - owner[control]
                shared.session.shared_pads.split("fake", [name for name, seat in owner.items() if seat], shared.t_us)
            case "replug":
                shared.replug()
                assert shared.session.ledger.down == ()
            case "reopen":
                for seat in seats:
                    shared.session.reopen_pad(seat, shared.t_us)
            case "stop":
                shared.session.release(shared.t_us)
                assert shared.session.ledger.down == ()
                shared.session.resume(shared.t_us)
            case _:
                shared.session.load(seats[0], Program(parse_profile(profile_text(MINE))), shared.t_us)
    for control, keys in KEYS.items():
        shared.press(control, on=False)
        assert shared.keys_of(control) == [keys[owner[control]]] * 2
    assert shared.session.ledger.down == ()
    assert shared.session.switch.live, "play never failed"
