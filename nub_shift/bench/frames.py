"""The long run: random profiles in random hands, with every promise of the engine checked."""

from __future__ import annotations

import logging
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from random import Random
from zlib import crc32

import msgspec

from nub_shift.bench.figures import Figure
from nub_shift.bench.plain_model import differs
from nub_shift.bench.random_profiles import CHANNELS, random_frames, random_profile
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, output_line
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.controls import AT_REST
from nub_shift.model.profile.profile import BASE_LAYER, Profile

START_US = 5_000_000_000
# Bound on deadlines between two frames; turbo, pulses and the pointer need a few thousand.
MAX_WAKES = 6_000
PER_SECOND = 4_000
# Share of profiles that are also played by a shifted clock, and the shift.
ONE_IN = 8
LATER_US = 10**12
# Number of button events per profile against the independent model.
PRESSES = 100
# Time after the rest of all controls until everything begun by a press has ended; no sequence or linger is longer.
REST_US = 30_000_000


class PromiseBroken(Exception):
    """The engine has broken a promise; the text says which, with the seed of the profile."""


@dataclass(frozen=True)
class LongRun:
    """Results of a long run."""

    profiles: int
    frames: int
    outputs: int


def random_figures(quick: bool) -> list[Figure]:
    """Returns the figures of ten million frames over 4,000 profiles; prints its progress on standard error."""
    frames, profiles = (20_000, 40) if quick else (10_000_000, 4_000)
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
        Figure(
            "presses as an independent model has them",
            float(run.profiles * PRESSES),
            "",
            more_is_better=True,
            unseen=broken,
        ),
    ]


@dataclass(frozen=True)
class Outcome:
    """Outputs of one profile: number and checksum."""

    count: int
    checksum: int


class _Loud(logging.Handler):
    """Collects warnings of the engine."""

    def __init__(self) -> None:
        super().__init__(logging.ERROR)
        self.said: list[str] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.said.append(record.getMessage())


def long_run(frames: int, profiles: int, first_seed: int = 0) -> Iterator[LongRun]:
    """Plays at least this many frames and profiles; yields the progress after each profile.

    Raises:
        PromiseBroken: with the seed, which reproduces the fault.
    """
    each = max(1, -(-frames // profiles))
    played = outputs = 0
    for count in range(profiles):
        seed = first_seed + count
        compares = seed % ONE_IN == 0
        found = play_at_random(seed, each, 0 if compares else None)
        if compares and play_at_random(seed, each, LATER_US) != found:
            raise PromiseBroken(f"seed {seed}: another clock gives something else")
        if wrong := differs(seed, PRESSES):
            raise PromiseBroken(wrong)
        outputs += found.count
        played += each
        yield LongRun(count + 1, played, outputs)


def play_at_random(seed: int, frames: int, offset_us: int | None = None) -> Outcome:
    """Plays one random profile with times shifted by an offset; returns its outcome, with times shifted back.

    Raises:
        PromiseBroken: with the seed.
    """
    chance = Random(seed)
    loud = _Loud()
    log = logging.getLogger("nub_shift.engine")
    log.addHandler(loud)
    try:
        return _Play(sound_profile(chance), chance, offset_us).through(frames)
    except PromiseBroken as broken:
        raise PromiseBroken(f"seed {seed}: {broken}") from None
    except Exception as error:
        raise PromiseBroken(f"seed {seed}: {type(error).__name__}: {error}") from error
    finally:
        log.removeHandler(loud)
        if loud.said:
            raise PromiseBroken(f"seed {seed}: {loud.said[0]}")


def sound_profile(chance: Random) -> Profile:
    """Returns a random profile, which `check` must accept."""
    profile = random_profile(chance)
    problems = reference_problems(profile, us_layout)
    if problems:
        raise PromiseBroken(f"not accepted: {problems[0]}")
    return profile


class _Play:
    """One profile in random hands."""

    def __init__(self, profile: Profile, chance: Random, offset_us: int | None) -> None:
        self._chance = chance
        self._sums = offset_us is not None
        self._offset_us = offset_us or 0
        self._start_us = START_US + self._offset_us
        self._program = self._tuned = Program(profile)
        self._engine = Engine(self._program)
        self._times_us = profile.game.gap_ms * 1000, profile.game.key_ms * 1000
        self._down: set[str] = set()
        self._since_us: dict[str, int] = {}  # time of each key's last change
        self._now_us = self._last_us = self._start_us
        self._count = self._checksum = 0
        self._of_late: list[int] = []

    def through(self, frames: int) -> Outcome:
        for frame in random_frames(self._chance, frames, self._start_us):
            self._pass_time(frame.t_us)
            self._now_us = max(self._now_us, frame.t_us)
            self._take(self._engine.feed(frame))
            if self._chance.random() < 0.02:
                self._interrupt(self._now_us)
        self._come_to_rest()
        self._process_releases(self._engine.stop(self._now_us))
        self._at_rest()
        return Outcome(self._count, self._checksum)

    def _come_to_rest(self) -> None:
        """Releases all controls: after a while no key is down except by a toggle, layer or sequence."""
        engine = self._engine
        self._take(engine.feed(Frame(self._now_us, {name: AT_REST[name] for name in CHANNELS}, self._now_us % 2**32)))
        end_us = self._now_us + REST_US
        while (deadline := engine.deadline()) is not None and deadline <= end_us:
            self._now_us = max(self._now_us, deadline)
            self._take(engine.advance(self._now_us))
        state = engine.state()
        is_kept = state.slots or state.toggles or state.layers != (BASE_LAYER,) or engine.deadline() is not None
        if self._down and not is_kept:
            raise PromiseBroken(f"still down though all controls rest: {sorted(self._down)}")

    def _pass_time(self, until_us: int) -> None:
        wakes = 0
        while (deadline := self._engine.deadline()) is not None and deadline <= until_us:
            if deadline < self._now_us:
                raise PromiseBroken(f"the deadline lies {self._now_us - deadline} us back")
            wakes += 1
            if wakes > MAX_WAKES:
                raise PromiseBroken("more wake-ups than there can be")
            late_us = self._chance.choice((0, 0, 0, 40, 900, 12_000))
            self._now_us = max(self._now_us, deadline + late_us)
            self._take(self._engine.advance(self._now_us))

    def _interrupt(self, now_us: int) -> None:
        """Inserts a pause, a change of profile, an unplug, another window, another feel, or a suspension."""
        engine = self._engine
        match self._chance.randint(0, 5):
            case 0:
                self._process_releases(engine.stop(now_us))
                self._at_rest()
                self._take(engine.resume(now_us))
            case 1:
                self._tuned = self._program
                self._process_releases(engine.replace(self._program, now_us))
            case 2:
                self._process_releases(engine.forget_pad(now_us))
                self._at_rest()
            case 3:
                self._process_releases(engine.leave_game(now_us))
                self._take(engine.regain_game(now_us))
            case 4:
                feel = sound_profile(Random(self._chance.randint(0, 999))).feel
                tuned = self._tuned.retuned(msgspec.structs.replace(self._tuned.profile, feel=feel))
                if tuned is not None:
                    self._tuned = tuned
                    self._take(engine.retune(tuned, now_us))
            case _:
                # The engine is not called for some time; the next frames follow without a gap in theirs.
                self._now_us = now_us + 300_000
                self._take(engine.advance(self._now_us))

    def _process_releases(self, outputs: list[Output]) -> None:
        """Processes the releases at an end of play, which wait for no shortest time."""
        self._since_us.clear()
        self._take(outputs)
        self._since_us.clear()

    def _at_rest(self) -> None:
        if self._down:
            raise PromiseBroken(f"still down after a stop: {sorted(self._down)}")
        if self._engine.deadline() is not None:
            raise PromiseBroken("wants to be called though nothing is held")

    def _take(self, outputs: list[Output]) -> None:
        if not outputs:
            return
        pressed = False
        for output in outputs:
            if output.t_us < self._last_us:
                raise PromiseBroken("outputs go back in time")
            if output.t_us < self._now_us:
                raise PromiseBroken("an output lies before the call that returns it")
            self._last_us = output.t_us
            if isinstance(output, Key):
                pressed = True
                if (output.code in self._down) is output.down:
                    raise PromiseBroken(f"{output.code} goes {'down' if output.down else 'up'} twice")
                (self._down.add if output.down else self._down.discard)(output.code)
                since_us = self._since_us.get(output.code)
                if since_us is not None and output.t_us - since_us < self._times_us[not output.down]:
                    raise PromiseBroken(f"{output.code} was {'up' if output.down else 'down'} too shortly")
                self._since_us[output.code] = output.t_us
            if self._sums:
                self._checksum = crc32(output_line(output, self._offset_us), self._checksum)
        self._count += len(outputs)
        self._of_late += [output.t_us for output in outputs]
        if len(self._of_late) > PER_SECOND:
            if self._of_late[-1] - self._of_late[-PER_SECOND] < 1_000_000:
                raise PromiseBroken("floods the system")
            del self._of_late[:-PER_SECOND]
        if pressed and set(self._engine.state().down) != self._down:
            raise PromiseBroken("does not know what is down")
