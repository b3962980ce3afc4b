"""Pad cards: what they say is what comes out, in TOML and as mapping lines."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.model.pad.card import AxisCard, PadCard
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.pad.measures import Measured, MotionRest, StickRest, StickRim
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.colours import Colour
from nub_shift.pads.combined.joined import JoinedPad
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import (
    ABS_HAT0X,
    ABS_HAT0Y,
    ABS_HAT2X,
    ABS_HAT2Y,
    ABS_X,
    ABS_Y,
    ABS_Z,
    EV_ABS,
    EV_KEY,
    Axis,
)
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.known.cards import Source, card_of, identities_of, keep_gyro_bias, known_as, own_identity, wiring_by
from nub_shift.pads.known.gamepad import wiring_of
from nub_shift.pads.known.mapping_line import MappingError, read_mapping, write_mapping
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.pad import PadGone
from nub_shift.store.card_files import card_folder, format_card, keep_card, parse_card

OLD = Description(
    "Attic stick",
    bus=3,
    vendor=0x1209,
    product=0x0042,
    version=0x0110,
    keys=frozenset(range(0x120, 0x12A)),
    axes={
        ABS_X: Axis(0, 255),
        ABS_Y: Axis(0, 255),
        ABS_Z: Axis(0, 255),
        ABS_HAT0X: Axis(-1, 1),
        ABS_HAT0Y: Axis(-1, 1),
    },
)
IDENTITY = "0003-1209-0042-0110"
CARD = f"""
schema = 1
identity = "{IDENTITY}"
name = "Old faithful"
[buttons]
0x120 = "south"
0x121 = "grip_1"
[axes.0x0]
above = "left_stick.x"
below = "left_stick.x"
low = 255
rest = 120
high = 0
[axes.0x2]
above = "right_trigger"
below = "left_trigger"
low = 0
rest = 127
high = 255
"""
LINE = "03000000091200004200000010010000,Attic stick,a:b1,b:b0,start:b9,dpup:h0.1,dpleft:h0.8,leftx:a0,lefty:a1~,"
LINE += "righttrigger:-a2,lefttrigger:+a2,platform:Linux,"


def values(card: PadCard, *events: tuple[int, int, int]) -> dict[str, float]:
    """What one packet of these events comes out as, by that card."""
    packet = [(0, 0, *event) for event in (*events, (0, 0, 0))]
    return Decoder(wiring_by(card)).decode(packet)[0].values


def test_a_card_turns_splits_and_measures_from_rest() -> None:
    card = parse_card(CARD)
    assert parse_card(format_card(card)) == card
    assert values(card, (EV_KEY, 0x121, 1), (EV_KEY, 0x125, 1), (EV_ABS, ABS_X, 0)) == {
        "grip_1": 1.0,
        "left_stick.x": 1.0,
    }
    assert values(card, (EV_ABS, ABS_X, 120))["left_stick.x"] == 0.0
    assert values(card, (EV_ABS, ABS_X, 255))["left_stick.x"] == -1.0
    assert values(card, (EV_ABS, ABS_X, 300))["left_stick.x"] == -1.0
    assert values(card, (EV_ABS, ABS_Z, 191)) == pytest.approx({"right_trigger": 0.5, "left_trigger": 0.0})
    assert values(card, (EV_ABS, ABS_Z, 0)) == {"right_trigger": 0.0, "left_trigger": 1.0}


@pytest.mark.parametrize(
    ("old", "new", "expected"),
    [
        ("0x120", "120", "buttons.120: is no code, expected a number as 0x130"),
        ('"grip_1"', '"south"', "buttons.0x121: 'south' is fed by buttons.0x120 already"),
        ('"grip_1"', '"fire"', "buttons.0x121: no pad has a channel 'fire'"),
        ("rest = 120", "rest = 400", "axes.0x0: low, rest and high do not stand in a row"),
        ('above = "right_trigger"\nbelow = "left_trigger"', "", "axes.0x2: feeds nothing, give above, below or both"),
        ("schema = 1", "schema = 9", "schema: is 9, written by a newer Nub Shift"),
        ("name =", "nmae =", "nmae: unknown key 'nmae', did you mean 'name'?"),
    ],
)
def test_a_fault_in_a_card_is_told_with_its_place(old: str, new: str, expected: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_card(CARD.replace(old, new, 1), "a.toml")
    assert f"a.toml: {expected}" in str(caught.value)


def test_the_example_in_the_document_is_sound() -> None:
    text = (Path(__file__).parents[2] / "docs" / "pad-card.md").read_text()
    assert parse_card(text.split("```toml\n")[1].split("```")[0]).name == "Old faithful"


def test_equal_pads_are_told_apart_by_their_serial_number_and_nameless_kinds_by_their_name() -> None:
    one = Description("P", 5, 1, 2, 3, uniq="AA:BB")
    assert identities_of(one) == ("0005-0001-0002-0003-aa-bb", "0005-0001-0002-0003")
    assert identities_of(Description("Half Pad (L)")) == ("0006-0000-0000-0000-half-pad-l",)


def test_a_pad_is_known_by_the_card_of_its_kind_and_by_its_own() -> None:
    one, other = replace(OLD, phys="usb-1/input0"), replace(OLD, phys="usb-2/input0")
    assert own_identity(one, has_twin=False) == IDENTITY
    assert own_identity(one, has_twin=True) == f"{IDENTITY}-at-usb-1-input0"
    assert own_identity(replace(one, uniq="7"), has_twin=False) == f"{IDENTITY}-7"
    keep_card(parse_card(CARD))
    marks = PadCard(1, own_identity(one, has_twin=True), "Mine", Colour.RED, LabelStyle.NUMBERS, {"grip_1": "Coin"})
    keep_card(marks)
    mine, theirs = known_as(one), known_as(other)
    assert (mine.name, mine.colour, mine.source) == ("Mine", Colour.RED, Source.CARD)
    assert mine.printed == {"south": "1", "grip_1": "Coin"}
    assert (theirs.name, theirs.colour, theirs.printed) == ("Old faithful", None, {})
    assert mine.wiring == theirs.wiring


@pytest.mark.parametrize(
    ("more", "expected"),
    [
        ('parts = ["0003-1", "0003-1"]', "parts: are not several pads"),
        ('parts = ["0003-1", "0003-2"]', "parts: stand beside buttons or axes"),
        ('motion = "0003-1"', "motion: '0003-1' is none of the parts"),
        ('own_labels = { fire = "X" }', "own_labels.fire: is no control"),
        ('worked_by = { fire = "mouth" }', "worked_by.fire: is no control"),
        ('worked_by = { south = "nose" }', "worked_by.south"),
        ('colour = "beige"', 'colour: "beige" does not fit, expected "red" or'),
    ],
)
def test_marks_and_parts_that_make_no_sense_are_told(more: str, expected: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_card(CARD.replace("schema = 1", f"schema = 1\n{more}"), "a.toml")
    assert expected in str(caught.value)


def test_what_was_measured_comes_back_from_the_card() -> None:
    rest = StickRest(0.01, -0.02, 0.004, 0.01, 0.001, 0.05, 4.0)
    rim = StickRim(tuple(0.95 + number / 1000 for number in range(36)), 0.06, 0.0)
    measured = Measured(
        date(2026, 6, 3), {"left_stick": rest}, {"left_stick": rim}, MotionRest((0.0, 0.7, 0.1), 0.1, 0.5)
    )
    card = PadCard(1, IDENTITY, "Measured", measured=(measured,))
    assert parse_card(format_card(card)) == card


def test_joined_pads_play_as_one_and_the_motion_of_one_part_counts() -> None:
    left, right = simulated_pad("left", 0), simulated_pad("right", 0)
    pair = JoinedPad("joined-1", "Pair", (left, right), moving=1)
    assert {"left_stick", "right_stick", "grip_1", "grip_2", "motion"} <= set(pair.controls)
    left.hold({"grip_1": 1.0, "motion.gyro_x": 90.0})
    right.hold({"south": 1.0, "motion.gyro_x": -30.0})
    frames = pair.read(500_000)
    values = {channel: value for frame in frames for channel, value in frame.values.items()}
    assert (values["grip_1"], values["south"]) == (1.0, 1.0)
    assert values["motion.gyro_x"] == pytest.approx(-30.0, abs=1.0)
    assert [frame.t_us for frame in frames] == sorted(frame.t_us for frame in frames)
    left.plugged = False
    with pytest.raises(PadGone, match=r"unplugged.*Wren left half"):
        pair.read(600_000)


def test_a_mapping_line_is_read_for_the_device_and_written_back() -> None:
    name, wiring = read_mapping(LINE, OLD)
    card = card_of(OLD, wiring, name)
    assert card.identity == IDENTITY
    assert card.buttons == {"0x120": "east", "0x121": "south", "0x129": "start"}
    assert card.axes["0x1"] == AxisCard(above="left_stick.y", below="left_stick.y", low=255, rest=127.5, high=0)
    assert (card.axes["0x2"].above, card.axes["0x2"].below) == ("left_trigger", "right_trigger")
    assert (card.axes["0x11"].below, card.axes["0x10"].below) == ("dpad.up", "dpad.left")
    assert read_mapping(write_mapping(name, OLD, wiring), OLD) == (name, wiring)
    guess = wiring_of(OLD)
    assert read_mapping(write_mapping("Guess", OLD, guess), OLD) == ("Guess", guess)


def test_triggers_on_hat_axes_are_axes_in_a_mapping_line() -> None:
    axes = OLD.axes | {ABS_HAT2X: Axis(0, 255), ABS_HAT2Y: Axis(0, 255)}
    pad = Description("By the document", keys=frozenset([0x130]), axes=axes)
    wiring = wiring_of(pad)
    line = write_mapping("By the document", pad, wiring)
    assert "lefttrigger:a4" in line and "righttrigger:a3" in line and "dpup:h0.1" in line
    assert read_mapping(line, pad)[1].axes[ABS_HAT2Y] == wiring.axes[ABS_HAT2Y]


@pytest.mark.parametrize(
    ("line", "part"),
    [
        ("nonsense", "this is no mapping"),
        (LINE.replace("a:b1", "a:b77"), "a:b77: this pad has only 10 of those"),
        (LINE.replace("a:b1", "a:c1"), "a:c1 is no pair"),
        (LINE.replace("h0.1", "h3.1"), "has only 1 of those"),
    ],
)
def test_what_is_wrong_with_a_mapping_line_is_said(line: str, part: str) -> None:
    with pytest.raises(MappingError, match=part):
        read_mapping(line, OLD)


def test_a_card_that_is_taken_in_is_what_its_recording_plays_by(tmp_path: Path) -> None:
    recording, line, stranger = tmp_path / "old.rec", tmp_path / "old.txt", tmp_path / "other.toml"
    keys = bytearray(96)
    keys[0x120 // 8], keys[0x120 // 8 + 1] = 0xFF, 0x03
    events = "".join(f"E: 0.{at}00000 0001 0120 {down}\nE: 0.{at}00000 0000 0000 0\n" for at, down in ((1, 1), (2, 0)))
    recording.write_text(f"N: Attic stick\nI: 0003 1209 0042 0110\nB: 01 {keys.hex(' ')}\n{events}")
    line.write_text(f"# from a friend\n{LINE.split(',dpup')[0]}\n")
    stranger.write_text(CARD.replace(IDENTITY, "0003-0001-0001-0001"))
    pad = ["card", "--pad", f"recorded:{recording}"]

    def run(*arguments: str) -> str:
        return CliRunner().invoke(main, [*pad, *arguments]).output

    assert '0x120 = "south"' in run()
    assert "expected 0003-1209-0042-0110" in run("--take", str(stranger))
    assert run("--take", str(line)).startswith("Attic stick: kept as")
    assert '0x120 = "east"' in run()
    assert "b:b0" in run("--mapping")
    replay = ["replay", str(recording), "nub_shift/demo/saltglass.toml"]
    replayed = CliRunner().invoke(main, replay).stdout
    assert '"KEY_C"' in replayed and '"KEY_SPACE"' not in replayed
    (card_folder() / f"{IDENTITY}.toml").write_text("name = 3")
    broken = CliRunner().invoke(main, replay)
    assert (broken.exit_code, "name: 3 does not fit" in broken.output) == (1, True)


def test_a_bias_that_was_learned_is_in_the_card_and_known_from_then_on() -> None:
    pad = Description("Pad", 3, 0x1234, 0x5678, 1, uniq="SERIAL", keys=frozenset({0x130}))
    assert known_as(pad).gyro_bias is None
    keep_gyro_bias(pad, (0.1, 0.70012, 0.0))
    known = known_as(pad)
    assert (known.gyro_bias, known.source, known.name) == ((0.1, 0.7, 0.0), Source.DOCUMENT, "Pad")
