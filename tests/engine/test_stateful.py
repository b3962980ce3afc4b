"""Any order of frames, time, pauses, changes of profile and unplugging: what goes down comes up, and nothing stays."""

from __future__ import annotations

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from nub_shift.bench.random_profiles import CHANNELS
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output
from nub_shift.model.profile.profile import Profile
from nub_shift.store.profile_files import format_profile, parse_profile
from tests.engine.playing import START_US
from tests.engine.test_properties import profiles


class Play(RuleBasedStateMachine):
    """An engine in the hands of somebody who does everything at any time."""

    @initialize(profile=profiles)
    def begin(self, profile: Profile) -> None:
        self.engine = Engine(Program(parse_profile(format_profile(profile))))
        self.now_us = START_US
        self.last_us = START_US
        self.down: set[str] = set()
        self.paused = False

    @rule(channels=st.dictionaries(st.sampled_from(CHANNELS), st.sampled_from([-1.0, 0.0, 0.3, 0.6, 1.0]), max_size=6))
    def feed(self, channels: dict[str, float]) -> None:
        values = {name: abs(value) if name.endswith("trigger") else value for name, value in channels.items()}
        self._take(self.engine.feed(Frame(self.now_us, values)))

    @rule(ms=st.integers(1, 600))
    def wait(self, ms: int) -> None:
        end_us = self.now_us + ms * 1000
        while (deadline := self.engine.deadline()) is not None and deadline <= end_us:
            self._take(self.engine.advance(deadline))
        self.now_us = end_us

    @rule(seconds=st.integers(1, 100))
    def be_suspended(self, seconds: int) -> None:
        self.now_us += seconds * 1_000_000
        self._take(self.engine.advance(self.now_us))

    @rule()
    def stop(self) -> None:
        self._take(self.engine.stop(self.now_us))
        self.paused = True
        assert not self.down
        assert self.engine.deadline() is None
        assert self.engine.state().layers == ("base",)

    @precondition(lambda self: self.paused)
    @rule()
    def resume(self) -> None:
        self._take(self.engine.resume(self.now_us))
        self.paused = False

    @rule(profile=profiles)
    def replace(self, profile: Profile) -> None:
        self._take(self.engine.replace(Program(profile), self.now_us))

    @rule()
    def unplug(self) -> None:
        self._take(self.engine.forget_pad(self.now_us))
        assert not self.down
        assert self.engine.state().slots == ()

    @invariant()
    def the_engine_knows_what_is_down(self) -> None:
        if hasattr(self, "engine"):
            assert set(self.engine.state().down) == self.down

    def teardown(self) -> None:
        if hasattr(self, "engine"):
            self.stop()

    def _take(self, outputs: list[Output]) -> None:
        for output in outputs:
            assert output.t_us >= self.last_us, "time goes back"
            self.last_us = output.t_us
            if isinstance(output, Key):
                assert (output.code in self.down) is not output.down
                (self.down.add if output.down else self.down.discard)(output.code)


Play.TestCase.settings = settings(max_examples=60, stateful_step_count=40)
TestPlay = Play.TestCase
