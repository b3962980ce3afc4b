"""The engine's step and replay, against the least possible work in plain Python."""

from __future__ import annotations

import os

from nub_shift.bench.figures import Figure, best_seconds, timed_by_turns
from nub_shift.compiled import kind
from nub_shift.demo.games import demo_profile_text
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame
from nub_shift.keyboard.keys import KEY_BY_CODE, MOUSE_BUTTONS
from nub_shift.model.controls import CONTROLS, DIGITAL, STICK_SLOTS, Kind
from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.model.profile.effects import HoldLayer, PointerSpeed, PressKeys, Turn
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import SCHEMA_VERSION, Layer, Profile
from nub_shift.model.profile.reactions import Assignment
from nub_shift.model.slot_names import SlotName
from nub_shift.pads.input_codes import EV_ABS, EV_KEY, EV_SYN, SYN_REPORT
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.recorded.recording import Recording
from nub_shift.store.profile_files import parse_profile
from nub_shift.tasks.replay import replay_outputs

# A full frame: two sticks, two triggers, motion, all buttons; with the slots that a press of them means.
_CONTROLS = [control for control in CONTROLS if control.kind not in (Kind.SLIDER, Kind.SURFACE)]
_SLOTS = [
    slot
    for control in _CONTROLS
    if control.kind is not Kind.MOTION
    for slot in control.slots
    if slot not in STICK_SLOTS and SlotName.parse(slot).part not in ("inner", "edge", "deep")
]
_CHANNELS = [channel for control in _CONTROLS for channel in control.channels]
_BUTTONS = [channel for channel in _CHANNELS if channel in DIGITAL and not channel.startswith("grip")]
_HOLDING = ("grip_1", "grip_2")
_BUSY = 4
FRAME_US = 4_000


def engine_figures(quick: bool) -> list[Figure]:
    """Returns the figures of engine step, its growth with the size of the profile, and replay."""
    calls, rounds = (50, 60) if quick else (50, 800)
    plain = _PlainDecode()
    steps = [
        _Step(large_profile(3), _BUSY),
        _Step(large_profile(24), _BUSY),
        _Step(large_profile(3), len(_BUTTONS), swing=0.8),
    ]
    works = [plain.work, *(at_work.work for at_work in steps)]
    baseline, step, large, frantic = timed_by_turns(works, calls, rounds)
    compiled = kind() == "compiled"
    seen = [at_work.unseen for at_work in steps]
    return [
        Figure("plain decode of a full frame and one write", baseline.best * 1e6, "µs"),
        Figure(
            f"engine step, full frame, {_BUSY} buttons change, 3 layers on", step.best * 1e6, "µs", 30.0, unseen=seen[0]
        ),
        Figure("engine step against plain decode", step.ratio, "times", 1.3 if compiled else 3.6, unseen=seen[0]),
        Figure(
            "engine step with 8 times the layers and bindings", large.ratio / step.ratio, "times", 1.1, unseen=seen[1]
        ),
        Figure(
            "engine step, full frame, everything goes to its other end at once",
            frantic.best * 1e6,
            "µs",
            unseen=seen[2],
        ),
        *_replay_figures(10.0 if quick else 60.0),
    ]


def large_profile(layers: int) -> Profile:
    """Returns a profile with a different key on every slot in every layer; two grips hold the first layers."""
    codes = [code for code in KEY_BY_CODE if code not in MOUSE_BUTTONS]
    made = []
    for index in range(layers):
        slots = {
            slot: Assignment.of(PressKeys((codes[(index + at) % len(codes)],)))
            for at, slot in enumerate(_SLOTS)
            if slot not in _HOLDING
        }
        slots["motion"] = Assignment.of_use(Turn())
        slots["right_stick"] = Assignment.of_use(PointerSpeed(1000.0 + index, 800.0))
        made.append(Layer(id="base" if index == 0 else f"layer_{index}", label=f"Layer {index}", slots=slots))
    holds = {slot: Assignment.of(HoldLayer(f"layer_{n}")) for n, slot in enumerate(_HOLDING, 1)}
    made[0] = Layer(id="base", label="Base", slots={**made[0].slots, **holds})
    # Without shortest times, since buttons that change with every frame would otherwise all wait in the ledger.
    return Profile(
        schema=SCHEMA_VERSION, title="Bench", layers=tuple(made), game=Game(shortest_key_ms=0, shortest_gap_ms=0)
    )


def _full_frame(flip: bool, busy: int, swing: float) -> dict[str, float]:
    """Returns every channel of a pad. Analogue values differ between frames by `swing`, and `busy` buttons change."""
    values: dict[str, float] = {}
    for at, channel in enumerate(_CHANNELS):
        if channel in _HOLDING:
            values[channel] = 1.0
        elif channel in _BUTTONS:
            values[channel] = float(flip and _BUTTONS.index(channel) < busy)
        elif channel.startswith("motion"):
            values[channel] = 20.0 + at + flip
        else:
            values[channel] = 0.9 - 0.001 * at - (swing if (at % 2 == 0) is flip else 0.0)
    return values


class _Step:
    """Feeds full frames, with everything that is due in between."""

    def __init__(self, profile: Profile, busy: int, swing: float = 0.05) -> None:
        self._engine = Engine(Program(profile))
        self._frames = (_full_frame(False, busy, swing), _full_frame(True, busy, swing))
        self._t_us = 1_000_000_000
        self._flip = False
        self._fed = self._sent = 0
        self.work()

    def work(self) -> None:
        self._t_us += FRAME_US
        self._flip = not self._flip
        self._sent += len(self._engine.feed(Frame(self._t_us, self._frames[self._flip])))
        self._fed += 1

    @property
    def unseen(self) -> str:
        """Reason why the figure does not count: no layers, or too few outputs (the output rate is bounded)."""
        if len(self._engine.state().layers) != 3:
            return "the layers did not come on"
        return "" if self._sent >= _BUSY * (self._fed - 1) else f"{self._sent} outputs of {self._fed} frames"


class _PlainDecode:
    """Unpacks the kernel events of the same frame into a dictionary, and writes one event to nowhere."""

    def __init__(self) -> None:
        events = [(0, 0, EV_ABS if "." in channel else EV_KEY, at, at * 7) for at, channel in enumerate(_CHANNELS)]
        self._data = b"".join(INPUT_EVENT.pack(*event) for event in [*events, (0, 0, EV_SYN, SYN_REPORT, 0)])
        self._names = dict(enumerate(_CHANNELS))
        self._sink = os.open(os.devnull, os.O_WRONLY)

    def work(self) -> None:
        values = {}
        for seconds, micros, sort, code, value in INPUT_EVENT.iter_unpack(self._data):
            if sort != EV_SYN:
                values[self._names[code]] = value / 32767.0
            else:
                t_us = seconds * 1_000_000 + micros
                os.write(self._sink, INPUT_EVENT.pack(t_us, 0, EV_KEY, 30, 1))


def _replay_figures(seconds: float) -> list[Figure]:
    pad = simulated_pad("tern", 0)
    device = describe_canonical(pad.name, pad.controls)
    encoder = Encoder(wiring_of(device))
    events = [event for frame in pad.read(round(seconds * 1e6)) for event in encoder.encode(frame)]
    recording = Recording(device, events)
    profile = parse_profile(demo_profile_text())
    counts: list[int] = []
    (needed,) = best_seconds([lambda: counts.append(sum(1 for _ in replay_outputs([recording], profile)))], 1, 3)
    unseen = "" if min(counts) > seconds else f"{min(counts)} outputs in {seconds:g} s"
    return [Figure("replay of a 250 Hz recording", seconds / needed, "times real time", 300.0, True, unseen)]
