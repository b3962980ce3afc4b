"""What holds for any profile and any frames."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import msgspec
from hypothesis import assume, given
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.shaping.stick_shape import StickShape
from nub_shift.engine.values import Frame, Key, Output, Pointer
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.actions import (
    Action,
    Again,
    Assignment,
    Carousel,
    Confirm,
    DoubleTap,
    Hold,
    Manner,
    Ring,
    RingEntry,
    Runs,
    Sequence,
    SequenceStep,
    Together,
)
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.controls import CONTROL_BY_NAME, STICK_SLOTS
from nub_shift.model.effect_facts import manners_of
from nub_shift.model.effects import (
    AskForProfile,
    CarouselStep,
    ChangePace,
    ClickWheel,
    Effect,
    Glide,
    HoldLayer,
    MotionSwitch,
    NextLayer,
    Nudge,
    PlaySequence,
    PointerPosition,
    PointerSpeed,
    PressKeys,
    Scroll,
    StayOnLayer,
    Step,
    SwitchMotion,
    Turn,
    WheelDirection,
)
from nub_shift.model.feel import DeadZoneShape, Feel, FeelChange, Ramp, Smoothing, StickFeel, TriggerFeel
from nub_shift.model.profile import Game, Layer, Profile
from nub_shift.store.profile_files import format_profile, parse_profile
from tests.engine.playing import START_US

# One control of each kind, so that what is given to a slot is also touched.
LIVELY = [CONTROL_BY_NAME[name] for name in ("south", "right_trigger", "left_stick", "surface", "slider_1", "motion")]
CHANNELS = [channel for control in LIVELY for channel in control.channels]
WHOLE = [slot for control in LIVELY for slot in control.slots if slot in STICK_SLOTS]
PRESS_SLOTS = [slot for control in LIVELY for slot in control.slots if slot not in (*STICK_SLOTS, "motion")]
LAYERS = ("aim", "swim")
SEQUENCES = ("one", "two")

keys = st.lists(st.sampled_from(sorted(KEY_BY_CODE)[:12]), min_size=1, max_size=3, unique=True).map(tuple)
kept_up = st.sampled_from([Manner.HELD, Manner.ONCE, Manner.TOGGLE, Manner.TURBO, Manner.PULSE])
rates = st.integers(1, 60).map(float)
duties = st.sampled_from([0.05, 0.4, 0.95])
milliseconds = st.integers(20, 400)


effects = st.one_of(
    st.builds(PressKeys, keys),
    st.builds(HoldLayer, st.sampled_from(LAYERS)),
    st.builds(StayOnLayer, st.sampled_from(["base", *LAYERS])),
    st.just(NextLayer(("base", *LAYERS))),
    st.builds(ClickWheel, st.sampled_from(WheelDirection)),
    st.builds(Nudge, st.integers(-9, 9), st.integers(-9, 9)),
    st.builds(Glide, st.integers(-900, 900).map(float), st.just(70.0)),
    st.builds(Scroll, st.integers(-9, 9).map(float), st.just(1.0)),
    st.builds(PlaySequence, st.sampled_from(SEQUENCES)),
    st.builds(ChangePace, st.sampled_from([0.25, 2.0])),
    st.builds(SwitchMotion, st.sampled_from(MotionSwitch)),
    st.just(AskForProfile("Other")),
)
steps_of_carousel = st.builds(CarouselStep, st.just("wheel"), st.sampled_from(Step))


@st.composite
def actions(
    draw: st.DrawFn, /, kind: type[Action] = Action, does: st.SearchStrategy[Effect] | None = None, **more: Any
) -> Any:
    """Any effect in any manner that it can be kept up in, as an action or what extends one."""
    effect = draw(does if does is not None else effects | steps_of_carousel)
    manner = draw(st.sampled_from(sorted(manners_of(effect), key=lambda found: found.value)))
    given_more = {name: draw(value) for name, value in more.items()}
    return kind.of(
        effect, manner=manner, rate_hz=draw(rates), duty=draw(duties), regain=draw(st.booleans()), **given_more
    )


maybe_action = st.none() | actions()
assignments = st.one_of(
    actions(Assignment),
    actions(
        Assignment,
        tap=maybe_action,
        hold=st.none() | actions(Hold, after_ms=milliseconds),
        double_tap=st.none() | actions(DoubleTap, within_ms=milliseconds),
        release=maybe_action,
        tap_ms=milliseconds,
    ),
    st.just(Assignment(silence=True)),
)
pairs = st.lists(st.sampled_from(PRESS_SLOTS), min_size=2, max_size=2, unique=True).map(tuple)
togethers = actions(Together, slots=pairs, within_ms=milliseconds)
speeds = st.integers(-5000, 5000).map(float)
radii = st.integers(1, 500)
positions = st.builds(PointerPosition, radii, radii, st.booleans(), st.sampled_from([(), ("BTN_LEFT",)]))
pointers = st.one_of(
    st.builds(PointerSpeed, speeds, speeds).map(lambda speed: Assignment(pointer=speed)),
    positions.map(lambda position: Assignment(position=position)),
    st.just(Assignment(scroll=Scroll(3.0, 9.0))),
    st.just(Assignment(ring="ring")),
)
stick_feels = st.builds(
    StickFeel,
    dead_zone=st.sampled_from([0.0, 0.15]),
    dead_zone_shape=st.sampled_from(DeadZoneShape),
    points=st.sampled_from([(), ((0.3, 0.1), (0.7, 0.4))]),
    rotation_degrees=st.sampled_from([0.0, 30.0]),
    smoothing=st.none() | st.just(Smoothing()),
    ramp=st.none() | st.just(Ramp()),
)
trigger_feels = st.builds(TriggerFeel, quick=st.booleans())
steps = st.one_of(
    st.builds(SequenceStep, press=keys),
    st.builds(SequenceStep, release=keys),
    st.builds(SequenceStep, tap=keys),
    st.builds(SequenceStep, wait_ms=st.integers(1, 90)),
    st.just(SequenceStep(text="Hi")),
)


fractions = st.sampled_from([0.0, 0.1, 0.35, 0.5])
layer_feels = st.fixed_dictionaries(
    {},
    optional={
        "left_stick": st.fixed_dictionaries(
            {},
            optional={
                "dead_zone": st.sampled_from([0.0, 0.4, 0.6, 0.9]),
                "edge_zone": fractions,
                "anti_dead_zone": fractions,
                "rotation_degrees": st.sampled_from([0, 90]),
                "points": st.sampled_from([[], [[0.2, 0.5], [0.8, 0.5]], [[0.0, 0.0], [1.0, 0.0]]]),
                "directions": st.sampled_from([{"on": 0.9, "off": 0.8}, {"on": 0.4}, {"diagonal_degrees": 12}]),
                "edge": st.sampled_from([{"on": 0.86}, {"off": 0.91}]),
            },
        ),
        "surface": st.fixed_dictionaries({}, optional={"dead_zone": fractions, "edge_zone": fractions}),
        "right_trigger": st.just({"quick": True}),
        "motion": st.fixed_dictionaries(
            {},
            optional={
                "slow_dps": st.sampled_from([10, 300]),
                "fast_dps": st.sampled_from([20, 150, 400]),
                "fast_ratio": st.sampled_from([1, 5]),
            },
        ),
    },
).map(lambda data: msgspec.convert(data, FeelChange))


@st.composite
def rings(draw: st.DrawFn) -> Ring:
    confirm = draw(st.sampled_from(Confirm))
    entries = tuple(draw(st.lists(actions(RingEntry), min_size=2, max_size=4)))
    if confirm is Confirm.RELEASE:  # what lasts would be over at once, and is refused
        entries = tuple(replace(entry, manner=Manner.ONCE) for entry in entries)
    return Ring(id="ring", label="R", entries=entries, confirm=confirm, columns=draw(st.sampled_from([0, 2])))


@st.composite
def profiles(draw: st.DrawFn) -> Profile:
    layers = []
    for name in ("base", *LAYERS):
        slots = draw(st.dictionaries(st.sampled_from(PRESS_SLOTS), assignments, min_size=2, max_size=8))
        slots |= draw(st.dictionaries(st.sampled_from(WHOLE), pointers, max_size=2))
        slots |= draw(st.sampled_from([{}, {"motion": Assignment(turn=Turn())}]))
        together = tuple(draw(st.lists(togethers, max_size=2)))
        feel = draw(layer_feels) if name != "base" else FeelChange()
        based_on = draw(st.sampled_from([None, "aim"])) if name == "swim" else None
        layers.append(Layer(id=name, label=name, slots=slots, together=together, feel=feel, based_on=based_on))
    sequences = tuple(
        Sequence(
            id=name,
            label=name,
            steps=tuple(draw(st.lists(steps, min_size=1, max_size=5))),
            runs=draw(st.sampled_from(Runs)),
            again=draw(st.sampled_from(Again)),
        )
        for name in SEQUENCES
    )
    entries = tuple(draw(st.lists(actions(does=effects), min_size=1, max_size=3)))
    wheel = Carousel(id="wheel", label="W", entries=entries, wrap=draw(st.booleans()), rest_ms=draw(st.integers(0, 99)))
    profile = Profile(
        schema=2,
        title="Any",
        layers=tuple(layers),
        sequences=sequences,
        carousels=(wheel,),
        rings=(draw(rings()),),
        game=draw(st.sampled_from([Game(shortest_key_ms=0, shortest_gap_ms=0), Game()])),
        feel=draw(st.builds(Feel, left_stick=stick_feels, surface=stick_feels, right_trigger=trigger_feels)),
    )
    assume(not reference_problems(profile, us_layout))
    return profile


@st.composite
def streams(draw: st.DrawFn) -> list[Frame]:
    frames = []
    t_us = START_US
    for _ in range(draw(st.integers(1, 30))):
        t_us += draw(st.integers(0, 40_000))
        values: dict[str, float] = {}
        for channel in draw(st.lists(st.sampled_from(CHANNELS), min_size=1, max_size=5)):
            low = -1.0 if channel.endswith((".x", ".y")) or "slider" in channel else 0.0
            ends = st.sampled_from([low, 0.0, 1.0])
            values[channel] = draw(ends | ends | st.floats(low, 1.0)) * (90.0 if "gyro" in channel else 1.0)
        frames.append(Frame(t_us, values))
    return frames


def play(profile: Profile, frames: list[Frame], step_us: int | None = None) -> list[Output]:
    """All outputs; `advance` is called at each deadline, or every `step_us`."""
    engine = Engine(Program(profile))
    outputs: list[Output] = []
    now_us = START_US
    for frame in frames:
        while True:
            next_us: Any = engine.deadline() if step_us is None else now_us + step_us
            if next_us is None or next_us > frame.t_us:
                break
            now_us = next_us
            outputs += engine.advance(now_us)
        outputs += engine.feed(frame)
    return outputs + engine.stop(frames[-1].t_us)


@given(profiles(), streams())
def test_no_key_goes_down_or_up_twice_and_nothing_is_down_after_stop(profile: Profile, frames: list[Frame]) -> None:
    down: set[str] = set()
    for output in play(profile, frames):
        if isinstance(output, Key):
            assert (output.code in down) is not output.down
            (down.add if output.down else down.discard)(output.code)
    assert not down


@given(profiles(), streams())
def test_calling_at_deadlines_gives_the_same_as_calling_all_the_time(profile: Profile, frames: list[Frame]) -> None:
    assert play(profile, frames) == play(profile, frames, step_us=100)


@given(profiles(), streams())
def test_outputs_are_in_order_of_time_and_the_same_every_time(profile: Profile, frames: list[Frame]) -> None:
    outputs = play(profile, frames)
    assert outputs == play(profile, frames)
    times = [output.t_us for output in outputs]
    assert times == sorted(times)


@given(st.lists(layer_feels, min_size=2, max_size=3))
def test_feels_that_are_sound_one_by_one_are_sound_together(changes: list[FeelChange]) -> None:
    layers = [Layer(id="base", label="B")]
    layers += [Layer(id=f"l{number}", label="L", feel=change) for number, change in enumerate(changes)]
    profile = Profile(schema=2, title="F", layers=tuple(layers))
    assume(not reference_problems(profile, us_layout))
    together = Program(profile).sheet(tuple(range(1, len(layers)))).feel
    assert reference_problems(replace(profile, feel=together, layers=layers[:1]), us_layout) == []


@given(profiles())
def test_a_profile_that_is_written_reads_back_the_same(profile: Profile) -> None:
    assert parse_profile(format_profile(profile)) == profile


@given(
    st.lists(st.tuples(st.integers(1, 200_000), st.floats(-1, 1), st.floats(-1, 1)), min_size=1, max_size=40), speeds
)
def test_pointer_counts_sum_to_the_true_integral(path: list[tuple[int, float, float]], speed: float) -> None:
    slots = {"right_stick": Assignment(pointer=PointerSpeed(speed, 777.0))}
    feel = StickFeel(dead_zone=0.1, power=1.3)
    shape = StickShape(feel)
    profile = Profile(
        schema=2, title="Sum", layers=(Layer(id="base", label="Base", slots=slots),), feel=Feel(right_stick=feel)
    )
    frames = []
    t_us = START_US
    true_x = true_y = Fraction(0)
    for hold_us, x, y in path:
        frames.append(Frame(t_us, {"right_stick.x": x, "right_stick.y": y}))
        shaped_x, shaped_y = shape.shape(x, y)
        true_x += Fraction(shaped_x * speed) * hold_us / 1_000_000
        true_y += Fraction(shaped_y * 777.0) * hold_us / 1_000_000
        t_us += hold_us
    # What is left as it stops may wait until a millisecond after the last counts.
    frames += [Frame(t_us + later_us, {"right_stick.x": 0.0, "right_stick.y": 0.0}) for later_us in (0, 1_000)]
    moves = [output for output in play(profile, frames) if isinstance(output, Pointer)]
    assert abs(sum(move.dx for move in moves) - true_x) < 1 + Fraction(1, 10**6)
    assert abs(sum(move.dy for move in moves) - true_y) < 1 + Fraction(1, 10**6)


@given(st.floats(-1, 1), st.floats(-1, 1), st.floats(0, 0.9), st.floats(0, 0.05), st.floats(0.2, 5))
def test_shaping_keeps_the_angle_and_stays_in_the_circle(
    x: float, y: float, dead: float, edge: float, power: float
) -> None:
    shaped_x, shaped_y = StickShape(StickFeel(dead_zone=dead, edge_zone=edge, power=power)).shape(x, y)
    assert shaped_x**2 + shaped_y**2 <= 1 + 1e-9
    assert abs(shaped_x * y - shaped_y * x) < 1e-9
    assert shaped_x * x >= 0 and shaped_y * y >= 0
