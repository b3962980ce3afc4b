"""The benchmark's soak, as short as it can be; the whole day is `nub-shift bench --part soak`."""

from __future__ import annotations

from nub_shift.bench.soak import run_soak


def test_the_same_hands_give_the_same_keys_round_after_round_and_nothing_is_kept() -> None:
    soak = run_soak(10)
    assert soak.cycle > 0
    assert soak.odd == 0
    assert soak.drift <= 2
    assert soak.grown < 50
