"""Everything stops at once, from the pad or the keyboard, whatever is going on, and goes on when asked again."""

from __future__ import annotations

from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nub_shift.bench.random_profiles import random_frames, random_profile
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key
from nub_shift.model.controls import CONTROLS
from nub_shift.model.halting import HALT_HOLD_MS, HALT_KEY, halt_chord
from nub_shift.model.pad.pad_menu import opener_of
from nub_shift.pads.made_up.shapes import SIMULATED, simulated_pad
from nub_shift.runner.seats.pad_signals import PadSignals
from nub_shift.runner.seats.signs_feed import SignsFeed
from tests.engine.playing import START_US, brief
from tests.runner.fakes import Bench

HOLD_US = HALT_HOLD_MS * 1000


class Halting(Bench):
    """A live session whose pad has the chord."""

    def __init__(self, slots: str = 'south = { keys = ["KEY_A"] }') -> None:
        super().__init__(slots)
        self.t_us = START_US
        self.session.work(self.t_us)
        self.seat.signals = PadSignals([control.name for control in CONTROLS])
        self.session.switch.go(True, self.t_us)

    def chord(self, held_us: int = HOLD_US) -> None:
        """Both buttons are held for so long, and let go."""
        self.t_us += 1000
        self.play(self.t_us, select=1.0, start=1.0)
        self.t_us += held_us
        self.session.work(self.t_us)
        self.t_us += 1000
        self.play(self.t_us, select=0.0, start=0.0)


def test_a_chord_that_is_held_long_enough_stops_everything_and_goes_on() -> None:
    bench = Halting()
    bench.play(bench.t_us, south=1.0)
    bench.chord(HOLD_US - 2000)
    assert bench.session.switch.live and bench.session.ledger.down == ("KEY_A",)
    bench.chord()
    stopped = bench.session.state()
    assert (stopped.live, stopped.halted, stopped.down) == (False, True, ())
    assert not bench.pad.grabs[-1], "others may have the pad"
    bench.chord()
    assert bench.session.switch.live and not bench.session.switch.halted
    bench.session.switch.go(False, bench.t_us)
    bench.chord()
    assert not bench.session.switch.wanted, "what nobody had stopped so is not begun so"


def test_a_key_stops_everything_unless_a_profile_presses_it() -> None:
    bench = Halting(f'south = {{ keys = ["{HALT_KEY}"] }}')
    bench.play(bench.t_us, south=1.0)
    bench.session.switch.halt(bench.t_us, HALT_KEY)
    assert bench.session.switch.live
    bench.play(bench.t_us + 500_000, south=0.0)
    bench.session.work(bench.t_us + 900_000)
    bench.session.switch.halt(bench.t_us + 900_000, HALT_KEY)
    assert not bench.session.switch.live


@settings(max_examples=30)
@given(st.integers(0, 2**32 - 1), st.integers(5, 60))
def test_nothing_is_down_and_nothing_comes_after_it_out_of_any_state(seed: int, count: int) -> None:
    bench, chance = Halting(), Random(seed)  # a profile draws more numbers than hypothesis keeps of one example
    bench.session.load(bench.seat, Program(random_profile(chance)), bench.t_us)
    for frame in random_frames(chance, count, bench.t_us):
        bench.t_us = frame.t_us
        bench.pad.waiting.append(frame)
        bench.session.work(frame.t_us)
    bench.chord()
    assert bench.session.switch.halted
    down: set[str] = set()
    for output in bench.output.sent:
        if isinstance(output, Key):
            (down.add if output.down else down.discard)(output.code)
    assert down == set()
    sent = len(bench.output.sent)
    for frame in random_frames(chance, count, bench.t_us):
        bench.t_us = frame.t_us
        bench.pad.waiting.append(Frame(frame.t_us, frame.values))
        bench.session.work(frame.t_us)
    assert len(bench.output.sent) == sent


@pytest.mark.parametrize("shape", SIMULATED)
def test_every_made_up_pad_has_a_chord(shape: str) -> None:
    controls = simulated_pad(shape, 0).controls
    opener = opener_of(controls)
    chord = halt_chord(controls, opener)
    assert len(chord) == 2 and opener and opener not in chord


def test_the_opener_of_the_menu_reaches_the_game_as_a_tap_and_its_hold_does_not() -> None:
    bench = Halting('start = { keys = ["KEY_ESC"] }\nsouth = { keys = ["KEY_A"] }')
    bench.seat.signals = PadSignals(["start", "select", "south", "left_shoulder"])
    bench.seat._set_gate()
    bench.play(bench.t_us + 1_000, start=1.0, south=1.0)
    assert brief(bench.output.sent) == "+A"
    bench.play(bench.t_us + 100_000, start=0.0)
    bench.session.work(bench.t_us + 200_000)
    assert brief(bench.output.sent) == "+A +ESC -ESC"
    bench.play(bench.t_us + 300_000, start=1.0)
    bench.session.signs.append(SignsFeed())  # somebody shows the menu
    bench.session.work(bench.t_us + 300_000 + HOLD_US)
    assert bench.seat.in_menu
    bench.play(bench.t_us + 2_000_000, start=0.0)
    bench.session.open_menu(bench.seat, False, bench.t_us + 2_100_000)
    assert "ESC" not in brief(bench.output.sent[3:])


def test_the_opener_and_the_chord_close_a_menu_that_nobody_shows_any_more() -> None:
    bench = Halting()
    bench.session.signs.append(SignsFeed())
    for way in ("home", "chord"):
        bench.session.open_menu(bench.seat, True, bench.t_us)
        assert bench.seat.in_menu
        if way == "home":
            bench.play(bench.t_us + 1_000, home=1.0)
            bench.t_us += 1_000 + HOLD_US
            bench.session.work(bench.t_us)
            bench.play(bench.t_us + 1_000, home=0.0)
        else:
            bench.chord()
        assert not bench.seat.in_menu
