"""Events to frames, recordings, and the made-up pad."""

from __future__ import annotations

import io
import itertools
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_BY_NAME, CONTROLS
from nub_shift.model.pad.own_devices import BUS_VIRTUAL, PHYS, VENDOR
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import (
    ABS_HAT0X,
    ABS_HAT0Y,
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_X,
    ABS_Y,
    ABS_Z,
    EV_ABS,
    EV_KEY,
    EV_MSC,
    EV_REL,
    EV_SYN,
    INPUT_PROP_ACCELEROMETER,
    MSC_TIMESTAMP,
    REL_X,
    REL_Y,
    SYN_DROPPED,
    SYN_REPORT,
    Axis,
    Event,
)
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.kernel.finding import Device, pads_among
from nub_shift.pads.kernel.power import Battery, battery_of, show_player
from nub_shift.pads.known.cards import card_of
from nub_shift.pads.known.gamepad import is_gamepad, is_pad, wiring_of
from nub_shift.pads.made_up.encoder import Encoder, describe_canonical, describe_motion, describe_surface
from nub_shift.pads.made_up.pad import Traits
from nub_shift.pads.made_up.shapes import REED, SIMULATED, TERN, simulated_pad
from nub_shift.pads.pad import PadError, PadGone
from nub_shift.pads.recorded.recorded_pad import RecordedPad
from nub_shift.pads.recorded.recording import (
    RecordingError,
    parse_recording,
    read_recording,
    write_events,
    write_header,
)
from nub_shift.store.card_files import keep_card
from nub_shift.tasks.record import record_pad

STICKS = (ABS_X, ABS_Y, ABS_RX, ABS_RY)
PAD = Description(
    "Test pad",
    keys=frozenset({0x130, 0x136, 0x138}),
    axes={
        **{code: Axis(0, 255) for code in STICKS},
        ABS_Z: Axis(0, 1023),
        ABS_RZ: Axis(0, 1023),
        ABS_HAT0X: Axis(-1, 1),
        ABS_HAT0Y: Axis(-1, 1),
    },
)


def frames(*events: tuple[int, int, int], pad: Description = PAD) -> list[dict[str, float]]:
    """The values of the frames that these events (type, code, value) give."""
    decoder = Decoder(wiring_of(pad))
    return [frame.values for frame in decoder.decode((5, 0, *event) for event in events)]


SYN = (EV_SYN, SYN_REPORT, 0)


def test_a_packet_becomes_one_frame_of_canonical_channels() -> None:
    assert frames((EV_KEY, 0x130, 1), (EV_ABS, ABS_X, 255), (EV_ABS, ABS_Z, 1023), SYN, (EV_ABS, ABS_Y, 0), SYN) == [
        {"south": 1.0, "left_stick.x": 1.0, "left_trigger": 1.0},
        {"left_stick.y": -1.0},
    ]


def test_half_a_packet_that_is_older_than_the_state_is_not_taken_after_it() -> None:
    decoder = Decoder(wiring_of(PAD))
    dropped = [(0, 0, EV_SYN, SYN_DROPPED, 0), (0, 0, EV_SYN, SYN_REPORT, 0)]
    assert decoder.decode([*dropped, (0, 0, EV_KEY, 0x130, 1)]) == []  # the read ended within a packet
    assert decoder.needs_state
    assert decoder.state_frame(1, [], {}).values["south"] == 0.0
    assert decoder.decode([(0, 0, EV_SYN, SYN_REPORT, 0)]) == []


def test_a_hat_is_four_directions_and_values_beyond_the_extents_are_held() -> None:
    assert frames((EV_ABS, ABS_HAT0X, -1), SYN, (EV_ABS, ABS_HAT0X, 0), (EV_ABS, ABS_X, 400), SYN) == [
        {"dpad.left": 1.0, "dpad.right": 0.0},
        {"dpad.left": 0.0, "dpad.right": 0.0, "left_stick.x": 1.0},
    ]


def test_dropped_events_ask_for_the_state() -> None:
    decoder = Decoder(wiring_of(PAD))
    events = [(EV_KEY, 0x130, 1), (EV_SYN, SYN_DROPPED, 0), (EV_KEY, 0x136, 1), SYN]
    assert decoder.decode((5, 0, *event) for event in events) == []
    assert decoder.needs_state
    frame = decoder.state_frame(9, [0x136], {ABS_X: 0})
    assert (frame.values["south"], frame.values["left_shoulder"], frame.values["left_stick.x"]) == (0.0, 1.0, -1.0)
    assert not decoder.needs_state


def test_an_older_pad_is_offered_with_what_its_codes_suggest() -> None:
    stick = Description(
        "Arcade stick",
        keys=frozenset({0x120, 0x121, 0x122, 0x123, 0x129}),
        axes={code: Axis(0, 255) for code in (0, 1, 2, 5)},
    )
    assert is_pad(stick) and not is_gamepad(stick)
    assert frames(
        (EV_KEY, 0x122, 1), (EV_KEY, 0x129, 1), (EV_ABS, ABS_X, 0), (EV_ABS, ABS_RZ, 255), SYN, pad=stick
    ) == [{"west": 1.0, "left_shoulder": 1.0, "left_stick.x": -1.0, "right_stick.y": 1.0}]


def device(
    path: str, phys: str = "", uniq: str = "", parent: str = "", motion: bool = False, surface: bool = False
) -> Device:
    if motion or surface:
        described = describe_motion("M") if motion else describe_surface("S")
        return Device(path, replace(described, phys=phys, uniq=uniq), parent)
    return Device(path, replace(PAD, phys=phys, uniq=uniq), parent)


@pytest.mark.parametrize(
    "devices",
    [
        [device("a", uniq="1"), device("b", uniq="2"), device("ma", uniq="1", motion=True)],
        [device("a", "usb-1/input0"), device("b", "usb-2/input0"), device("ma", "usb-1/input2", motion=True)],
        [device("a", parent="/s/1"), device("b", parent="/s/2"), device("ma", parent="/s/1", motion=True)],
        [device("a", "x", "1"), device("b"), device("ma", "y", "1", motion=True), device("laptop", motion=True)],
    ],
    ids=["by serial number", "by plug", "by parent", "the laptop's own is nobody's"],
)
def test_motion_sensors_belong_to_the_pad_that_they_share_something_with(devices: list[Device]) -> None:
    found = {pad.path: pad.motion for pad in pads_among(devices)}
    assert found["a"] == ("ma",)
    if "laptop" not in [one.path for one in devices]:
        assert found["b"] == ()


def test_a_touch_surface_belongs_to_its_pad_and_one_alone_is_offered_to_nobody() -> None:
    devices = [device("a", uniq="1"), device("s", uniq="1", surface=True), device("laptop", "i2c-1", surface=True)]
    (pad,) = pads_among(devices)
    assert (pad.path, pad.surfaces, pad.motion) == ("a", ("s",), ())


@pytest.mark.parametrize("name", list(SIMULATED))
def test_every_shape_is_recorded_and_replayed_as_it_was_played(name: str, tmp_path: Path) -> None:
    pad = simulated_pad(name, 0)
    if pad.traits.built is not None:  # it has been introduced
        keep_card(card_of(pad.descriptions[0], pad.traits.built.wiring))
        pad.wire()
    played = [frame.values for frame in simulated_pad(name, 0).read(20_000_000)]
    record_pad(tmp_path / "pad.rec", f"simulated:{name}", 20.0, lambda _line: None)
    recording = read_recording(tmp_path / "pad.rec")
    again = RecordedPad(recording, 0)
    own = {channel for control in again.controls for channel in CONTROL_BY_NAME[control].channels}
    replayed = [frame.values for frame in again.read(30_000_000)]
    expected = [{channel: value for channel, value in values.items() if channel in own} for values in played]
    assert replayed == [values for values in expected if values]
    assert set(pad.traits.controls) - {"motion", "surface"} == set(again.controls)


def test_battery_and_player_lights_are_where_the_kernel_shows_them(tmp_path: Path) -> None:
    supply, lights = tmp_path / "power_supply" / "pad-battery", tmp_path / "leds"
    supply.mkdir(parents=True)
    assert battery_of(str(tmp_path)) is None and battery_of("") is None
    (supply / "capacity_level").write_text("Low\n")
    assert battery_of(str(tmp_path)) == Battery(15, False)
    (supply / "capacity").write_text("73\n")
    (supply / "status").write_text("Charging\n")
    assert battery_of(str(tmp_path)) == Battery(73, True)
    assert not show_player(str(tmp_path), 1)
    for light in ("pad:white:player-1", "pad:white:player-2", "pad:rgb:indicator"):
        (lights / light).mkdir(parents=True)
        (lights / light / "brightness").write_text("0")
    assert show_player(str(tmp_path), 2)
    assert [(path / "brightness").read_text() for path in sorted(lights.iterdir())] == ["0", "0", "1"]


def test_a_pad_is_known_by_what_it_can_do() -> None:
    assert is_gamepad(PAD)
    assert not is_gamepad(Description("Gamepad!", keys=frozenset({30, 0x110})))
    sensor = Description("Sensors", keys=PAD.keys, props=frozenset({INPUT_PROP_ACCELEROMETER}))
    assert not is_gamepad(sensor)


RELATIVE = {EV_REL: frozenset({REL_X, REL_Y})}
STICK = {ABS_X: Axis(0, 255), ABS_Y: Axis(0, 255)}


@pytest.mark.parametrize(
    ("is_one", "said"),
    [
        (False, Description("A mouse with many buttons", keys=frozenset({0x110, 0x111, 0x120, 0x130}), other=RELATIVE)),
        (False, Description("A keyboard with every key there is", keys=frozenset(range(1, 0x2FF)))),
        (False, Description("A keyboard with one", keys=frozenset({*range(1, 84), 0x130}))),
        (False, Description("A number pad with one", keys=frozenset({71, 72, 73, 0x130}))),
        (False, Description("A remote with two", keys=frozenset({103, 105, 106, 108, 0x160, 0x130, 0x131}))),
        (False, Description("A drawing tablet's buttons", keys=frozenset({0x100, 0x130, 0x131, 0x14B}), axes=STICK)),
        (True, Description("A switch", keys=frozenset({0x120}))),
        (True, Description("Half of a pair", keys=frozenset({0x220, 0x221, 0x222, 0x223, 0x13A}), axes=STICK)),
        (True, Description("A pad with volume keys", keys=frozenset({113, 114, 115, *range(0x130, 0x13B)}))),
        (True, Description("A mouth stick with keys", keys=frozenset({2, 3, 4, 0x120}), axes=STICK)),
    ],
)
def test_what_has_a_button_of_a_pad_is_not_always_one(is_one: bool, said: Description) -> None:
    assert is_pad(said) is is_one


def test_our_own_devices_are_known_by_more_than_a_path_that_others_can_copy() -> None:
    copied = replace(PAD, phys=f"{PHYS}keyboard")
    assert list(pads_among([Device("/dev/input/event1", copied)]))
    own = replace(copied, bus=BUS_VIRTUAL, vendor=VENDOR)
    assert not list(pads_among([Device("/dev/input/event1", own)]))


def test_an_analogue_trigger_is_preferred_to_its_button() -> None:
    wiring = wiring_of(PAD)
    assert (wiring.axes[ABS_Z].above, wiring.axes[ABS_RZ].above) == ("left_trigger", "right_trigger")
    assert 0x138 not in wiring.buttons
    digital = Description("Digital", keys=PAD.keys)
    assert wiring_of(digital).buttons[0x138] == "left_trigger"


def test_a_canonical_frame_survives_encoding_and_decoding() -> None:
    controls = tuple(control.name for control in CONTROLS if control.name not in ("motion", "surface"))
    wiring = wiring_of(describe_canonical("All", controls))
    assert wiring.controls == controls
    values = {channel: 1.0 for name in controls for channel in CONTROL_BY_NAME[name].channels}
    (frame,) = Decoder(wiring).decode(Encoder(wiring).encode(Frame(7, values)))
    assert frame == Frame(7, values)


def test_a_recording_is_written_and_read_back() -> None:
    pad = simulated_pad("tern", 0)
    encoder = Encoder(wiring_of(describe_canonical(pad.name, pad.controls)))
    events = [event for frame in pad.read(2_000_000) for event in encoder.encode(frame)]
    stream = io.StringIO()
    write_header(stream, describe_canonical(pad.name, pad.controls))
    write_events(stream, events, 0)
    recording = parse_recording(stream.getvalue())
    assert recording.events == events
    assert recording.description == describe_canonical(pad.name, pad.controls)


# The highest code of each event type in the kernel's input-event-codes.h.
HIGHEST = {0x01: 0x2FF, 0x02: 0x0F, 0x04: 0x07, 0x05: 0x10, 0x11: 0x0F, 0x12: 0x07, 0x14: 0x01, 0x15: 0x7F, 0x17: 0x01}
CODES = st.fixed_dictionaries(
    {}, optional={kind: st.frozensets(st.integers(0, most), min_size=1) for kind, most in HIGHEST.items()}
)


@given(codes=CODES, props=st.frozensets(st.integers(0, 31)))
@example(codes={0x15: frozenset({0x50, 0x51, 0x60, 0x7F})}, props=frozenset())  # a pad with motors
def test_whatever_a_device_says_of_itself_is_read_back(codes: dict[int, frozenset[int]], props: frozenset[int]) -> None:
    keys = codes.pop(0x01, frozenset())
    device = Description("Any", keys=keys, props=props, other=codes)
    stream = io.StringIO()
    write_header(stream, device)
    assert parse_recording(stream.getvalue()).description == device


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("E: 1.5 0001 0130 1", 'line 3: "E: 1.5 0001 0130 1" does not fit, expected "E: seconds.microseconds'),
        ("E: 0.400000 0001 0130 1", "line 3: the time goes back, expected"),
        ("A: 00 1", 'line 3: "A: 00 1" does not fit, expected "A: code minimum maximum'),
        ("Q: what", 'line 3: "Q: what" is no line of this format, expected one of the marks'),
    ],
)
def test_a_faulty_recording_is_told_by_line(line: str, expected: str) -> None:
    with pytest.raises(RecordingError) as caught:
        parse_recording(f"N: Pad\nE: 0.500000 0001 0130 1\n{line}\n", "a.rec")
    assert f"a.rec: {expected}" in str(caught.value)


def test_events_without_a_device_are_refused() -> None:
    with pytest.raises(RecordingError, match="no device description"):
        parse_recording("E: 0.500000 0001 0130 1\n")


def test_a_recorded_pad_keeps_the_times_and_then_goes() -> None:
    events = parse_recording("N: P\nE: 3.0 0 0 0\n".replace("3.0", "3.000000")).events
    assert events[0].t_us == 3_000_000
    text = "N: P\nB: 01 " + "00 " * 38 + "01\nE: 3.000000 0001 0130 1\nE: 3.000000 0000 0000 0\n"
    text += "E: 3.250000 0001 0130 0\nE: 3.250000 0000 0000 0\n"
    pad = RecordedPad(parse_recording(text), 1_000)
    assert (pad.controls, pad.due_us()) == (("south",), 1_000)
    assert pad.read(1_000) == [Frame(1_000, {"south": 1.0})]
    assert pad.due_us() == 251_000
    assert pad.read(999_999) == [Frame(251_000, {"south": 0.0})]
    with pytest.raises(PadGone):
        pad.read(1_000_000)


def test_the_made_up_pad_performs_the_same_every_time_with_noise_and_drift() -> None:
    first, second = simulated_pad("", 50), simulated_pad("two-stick", 50)
    performed = first.read(3_000_050)
    assert performed == second.read(3_000_050)
    still = [frame.values["left_stick.x"] for frame in performed[:150] if "left_stick.x" in frame.values]
    assert len(set(still)) > 10
    assert 0.02 < sum(still) / len(still) < 0.05
    gaps = {b.t_us - a.t_us for a, b in itertools.pairwise(performed)}
    assert len(gaps) > 20  # no metronome
    with pytest.raises(PadError, match=r"no_such_simulated_pad.*tern"):
        simulated_pad("nothing", 0)


@pytest.mark.parametrize("traits", [TERN, REED], ids=lambda traits: traits.name)
def test_the_performance_touches_every_control_of_its_pad(traits: Traits) -> None:
    pad = simulated_pad(traits.name, 0)
    touched = {channel for frame in pad.read(60_000_000) for channel, value in frame.values.items() if abs(value) > 0.3}
    for name in traits.controls:
        assert touched.intersection(CONTROL_BY_NAME[name].channels), name


def test_a_motion_sample_that_repeats_is_its_time_alone_and_a_button_has_none() -> None:
    buttons, motion = simulated_pad("tern", 0).descriptions[:2]
    packet = [Event(0, 0, EV_MSC, MSC_TIMESTAMP, 4000), Event(0, 0, EV_SYN, SYN_REPORT, 0)]
    assert Decoder(wiring_of(motion)).decode(packet) == [Frame(0, {}, 4000)]
    assert Decoder(wiring_of(buttons)).decode(packet) == []
