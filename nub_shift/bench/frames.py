"""The long run: random profiles in random hands, with each promise held against the outputs."""

from __future__ import annotations

import logging
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from random import Random

from nub_shift.bench.figures import Figure
from nub_shift.bench.random_profiles import random_frames, random_profile
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.profile import Profile

START_US = 5_000_000_000
# No frame may lead to more deadlines before the next one; turbo, pulses and the pointer's own need a few thousand.
MAX_WAKES = 6_000
PER_SECOND = 4_000


class PromiseBroken(Exception):
    """The engine did what it must not do; the text says what, with the seed of the profile."""


@dataclass(frozen=True)
class LongRun:
    """What a long run has seen."""

    profiles: int
    frames: int
    outputs: int


def random_figures(quick: bool) -> list[Figure]:
    """A million frames over 400 profiles, in minutes; tells how far it is on standard error."""
    frames, profiles = (20_000, 40) if quick else (1_000_000, 400)
    run, broken = LongRun(0, 0, 0), ""
    try:
        for run in long_run(frames, profiles):
            print(f"\r{run.profiles} of {profiles} profiles, {run.frames} frames", end="", file=sys.stderr, flush=True)
    except PromiseBroken as error:
        broken = str(error)
    print(file=sys.stderr)
    seen = broken or ("" if run.outputs else "nothing came out")
    return [
        Figure("random profiles played", run.profiles, "", float(profiles), more_is_better=True, unseen=seen),
        Figure("random frames with all promises kept", run.frames, "", float(frames), more_is_better=True, unseen=seen),
        Figure("outputs that they led to", run.outputs, "", unseen=seen),
    ]


class _Loud(logging.Handler):
    """Keeps what the engine complains of."""

    def __init__(self) -> None:
        super().__init__(logging.ERROR)
        self.said: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.said.append(record.getMessage())


def long_run(frames: int, profiles: int, first_seed: int = 0) -> Iterator[LongRun]:
    """Plays at least so many frames over at least so many profiles; yields how far it is after each.

    Raises:
        PromiseBroken: with the seed, which plays the same again.
    """
    each = max(1, -(-frames // profiles))
    played = outputs = 0
    for count in range(profiles):
        outputs += play_at_random(first_seed + count, each)
        played += each
        yield LongRun(count + 1, played, outputs)


def play_at_random(seed: int, frames: int) -> int:
    """Plays one random profile; returns how many outputs came.

    Raises:
        PromiseBroken: see there.
    """
    chance = Random(seed)
    loud = _Loud()
    log = logging.getLogger("nub_shift.engine")
    log.addHandler(loud)
    try:
        return _Play(sound_profile(chance), chance).through(frames)
    except PromiseBroken as broken:
        raise PromiseBroken(f"seed {seed}: {broken}") from None
    except Exception as error:
        raise PromiseBroken(f"seed {seed}: {type(error).__name__}: {error}") from error
    finally:
        log.removeHandler(loud)
        if loud.said:
            raise PromiseBroken(f"seed {seed}: {loud.said[0]}")


def sound_profile(chance: Random) -> Profile:
    """A random profile, which must be one that `check` accepts."""
    profile = random_profile(chance)
    problems = reference_problems(profile, us_layout)
    if problems:
        raise PromiseBroken(f"not accepted: {problems[0]}")
    return profile


class _Play:
    """One profile in random hands."""

    def __init__(self, profile: Profile, chance: Random) -> None:
        self._chance = chance
        self._program = Program(profile)
        self._engine = Engine(self._program)
        self._down: set[str] = set()
        self._now_us = self._last_us = START_US
        self._count = 0
        self._of_late: list[int] = []

    def through(self, frames: int) -> int:
        for frame in random_frames(self._chance, frames, START_US):
            self._pass_time(frame.t_us)
            self._take(self._engine.feed(frame))
            if self._chance.random() < 0.02:
                self._interrupt(frame)
        self._take(self._engine.stop(self._now_us))
        self._at_rest()
        return self._count

    def _pass_time(self, until_us: int) -> None:
        wakes = 0
        while (deadline := self._engine.deadline()) is not None and deadline <= until_us:
            if deadline < self._now_us:
                raise PromiseBroken(f"the deadline lies {self._now_us - deadline} us back")
            wakes += 1
            if wakes > MAX_WAKES:
                raise PromiseBroken("more wake-ups than there can be")
            self._now_us = deadline
            self._take(self._engine.advance(deadline))
        self._now_us = until_us

    def _interrupt(self, frame: Frame) -> None:
        """A pause, another profile, an unplugged pad, a window that goes in front, a suspended machine."""
        engine, now_us = self._engine, frame.t_us
        match self._chance.randint(0, 4):
            case 0:
                self._take(engine.stop(now_us))
                self._at_rest()
                self._take(engine.resume(now_us))
            case 1:
                self._take(engine.replace(self._program, now_us))
            case 2:
                self._take(engine.forget_pad(now_us))
                self._at_rest()
            case 3:
                self._take(engine.leave_game(now_us))
                self._take(engine.regain_game(now_us))
            case _:
                # What lies between did not pass for the engine; the frames that follow come as if at once.
                self._take(engine.advance(now_us + 300_000))

    def _at_rest(self) -> None:
        if self._down:
            raise PromiseBroken(f"still down after a stop: {sorted(self._down)}")
        if self._engine.deadline() is not None:
            raise PromiseBroken("wants to be called though nothing is held")

    def _take(self, outputs: list[Output]) -> None:
        for output in outputs:
            if output.t_us < self._last_us:
                raise PromiseBroken("outputs go back in time")
            self._last_us = output.t_us
            if isinstance(output, Key):
                if (output.code in self._down) is output.down:
                    raise PromiseBroken(f"{output.code} goes {'down' if output.down else 'up'} twice")
                (self._down.add if output.down else self._down.discard)(output.code)
        self._count += len(outputs)
        self._of_late += [output.t_us for output in outputs]
        if len(self._of_late) > PER_SECOND:
            if self._of_late[-1] - self._of_late[-PER_SECOND] < 1_000_000:
                raise PromiseBroken("floods the system")
            del self._of_late[:-PER_SECOND]
        if set(self._engine.state().down) != self._down:
            raise PromiseBroken("does not know what is down")
