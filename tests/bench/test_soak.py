"""The benchmark's soak, as short as it can be; the whole day and evening are `nub-shift bench --part soak`."""

from __future__ import annotations

from nub_shift.bench.evening import run_evening
from nub_shift.bench.soak import run_soak


def test_the_same_hands_give_the_same_keys_round_after_round_and_nothing_is_kept() -> None:
    soak = run_soak(10)
    assert soak.cycle > 0
    assert soak.odd == 0
    assert soak.drift <= 2
    assert soak.grown < 50


def test_an_evening_of_game_switches_presses_what_is_held_once_and_nothing_where_no_rule_names_the_window() -> None:
    evening = run_evening(60, seed=2)
    assert evening.presses > 60
    assert (evening.stray, evening.repeated, evening.left_down) == (0, 0, 0)
