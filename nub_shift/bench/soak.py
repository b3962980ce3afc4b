"""A day of play in virtual time: no growth, no drift, and equal outputs for equal movements."""

from __future__ import annotations

import gc
from dataclasses import dataclass

from nub_shift.bench.figures import Figure
from nub_shift.demo.games import demo_profile_text
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND, Frame, Key, Output, Pointer
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.store.profile_files import parse_profile

ROUND_S = 60
DAY = 24 * 60
# Bound on the number of rounds until state that outlives a round, such as a carousel's position, repeats.
LONGEST_CYCLE = 40


@dataclass(frozen=True)
class Soak:
    """Results of a soak.

    Attributes:
        cycle: number of rounds after which the keys and their times repeat; 0 if they never do.
        odd: rounds, from the second on, whose keys differ from those of one cycle before.
        drift: difference of the pointer's path between both halves, in counts.
        keys: number of presses and releases.
        grown: Python objects present at the end but not after a tenth of the time.
    """

    cycle: int
    odd: int
    drift: int
    keys: int
    grown: int


def soak_figures(quick: bool) -> list[Figure]:
    """Returns the figures of a simulated day, or an hour."""
    rounds = 60 if quick else DAY
    soak = run_soak(rounds)
    length = f"{rounds // 60} h"
    unseen = "" if soak.cycle and soak.keys else "the keys never repeat" if soak.keys else "no key was sent"
    return [
        Figure(f"soak of {length}: rounds of {ROUND_S} s until the keys repeat", soak.cycle, "", unseen=unseen),
        Figure(f"soak of {length}: rounds whose keys or times differ", soak.odd, "", 0.0, unseen=unseen),
        Figure(f"soak of {length}: drift of the pointer", soak.drift, "counts", 2.0, unseen=unseen),
        Figure(f"soak of {length}: objects more than after a tenth of it", soak.grown, "", 50.0, unseen=unseen),
    ]


def run_soak(rounds: int) -> Soak:
    """Plays one minute of the demo repeatedly on one engine."""
    minute = simulated_pad("tern", 0).read(ROUND_S * US_PER_SECOND - 1)
    engine = Engine(Program(parse_profile(demo_profile_text())))
    keys: list[int] = []  # hash of each round's outputs
    halves = [0, 0]
    objects = sent = 0
    for number in range(rounds):
        outputs = _play(engine, minute, number * ROUND_S * US_PER_SECOND)
        halves[number >= rounds // 2] += sum(output.dx for output in outputs if isinstance(output, Pointer))
        start_us = number * ROUND_S * US_PER_SECOND
        sent += sum(isinstance(output, Key) for output in outputs)
        keys.append(hash(tuple((key.t_us - start_us, key.code, key.down) for key in outputs if isinstance(key, Key))))
        if number == rounds // 10:
            del outputs
            gc.collect()
            objects = len(gc.get_objects())
    outputs = []
    gc.collect()
    grown = len(gc.get_objects()) - objects
    cycle = next((size for size in range(1, LONGEST_CYCLE) if keys[1 : size + 1] == keys[1 + size : 1 + 2 * size]), 0)
    odd = sum(now != before for before, now in zip(keys[1:], keys[1 + cycle :], strict=False)) if cycle else rounds
    return Soak(cycle, odd, abs(halves[1] - halves[0]), sent, grown)


def _play(engine: Engine, minute: list[Frame], start_us: int) -> list[Output]:
    """Plays one round that begins at `start_us`."""
    outputs: list[Output] = []
    for frame in minute:
        t_us = start_us + frame.t_us
        while (deadline := engine.deadline()) is not None and deadline <= t_us:
            outputs += engine.advance(deadline)
        outputs += engine.feed(Frame(t_us, frame.values))
    return outputs
