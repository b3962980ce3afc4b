"""Profile files: what is wrong is said with its place, and a write is whole or not at all."""

from __future__ import annotations

import os
from pathlib import Path
from random import Random

import pytest
from evdev import ecodes
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from nub_shift.bench.random_profiles import random_profile
from nub_shift.demo.games import GAMES, PAD_OF_GAME, demo_profile_text
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Key, Pointer
from nub_shift.keyboard.keys import KEY_BY_CODE, modifiers_first
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.checks.references import ReferenceCheck, reference_problems
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.feel import changed_feel
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile, json_schema
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.store.profile_files import (
    ProfileWriter,
    format_profile,
    left_to_the_pad,
    parse_profile,
    read_profile,
    write_profile,
)

GOOD = """
schema = 4
title = "Test"
[[moves]]
id = "jump"
label = "Jump"
keys = ["KEY_SPACE"]
[[moves]]
id = "look"
label = "Look"
look = true
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { move = "jump" }
left_shoulder = { layer = "aim" }
[[layers]]
id = "aim"
label = "Aim"
[feel.left_stick]
dead_zone = 0.2
"""

FAULTS = [
    (
        "schema = 4",
        "schema = 5",
        ["schema: is 5, written by a newer Nub Shift, this one reads up to 4: update Nub Shift"],
    ),
    ("schema = 4", "", ["schema: is missing, expected 4"]),
    ("schema = 4", "schema = ", ["line 2, column 10: Invalid value, expected TOML"]),
    ('title = "Test"', 'titel = "Test"', ["titel: unknown key 'titel', did you mean 'title'?", "title: is missing"]),
    ('["KEY_SPACE"]', '["KEY_SPAC"]', ["moves.jump.keys: there is no key 'KEY_SPAC', did you mean 'KEY_SPACE'?"]),
    ('["KEY_SPACE"]', '"KEY_SPACE"', ['moves.jump.keys: "KEY_SPACE" does not fit, expected a list of at most 6']),
    ('["KEY_SPACE"]', '["KEY_A", "KEY_A"]', ["moves.jump.keys: 'KEY_A' appears twice"]),
    (
        'keys = ["KEY_SPACE"]',
        "",
        ["moves.jump: says nothing of what the game expects, give one of keys, wheel, text, look"],
    ),
    ('id = "look"', 'id = "jump"', ["moves.jump: appears twice, give each its own id"]),
    ('id = "look"', 'id = "Look at"', ['moves[1].id: "Look at" does not fit, expected a lower-case name']),
    (
        'move = "jump" }',
        'move = "jumps" }',
        ["layers.base.slots.south.move: there is no move 'jumps', did you mean 'jump'"],
    ),
    ('move = "jump" }', 'move = "look" }', ["layers.base.slots.south.move: 'look' is looking, not a press"]),
    ('{ move = "jump" }', "{ }", ["layers.base.slots.south: says nothing, give exactly one of"]),
    (
        'move = "jump" }',
        'move = "jump", silence = true }',
        ["layers.base.slots.south: move and silence stand together, silence stands alone"],
    ),
    ("south =", "soth =", ["layers.base.slots.soth: no control has a slot 'soth', did you mean 'south'?"]),
    (
        "south =",
        "left_stick =",
        ["layers.base.slots.left_stick: a whole stick takes no press, give one of pointer"],
    ),
    ('{ move = "jump" }', "{ pointer = {} }", ["layers.base.slots.south: only a whole stick can do that"]),
    ('layer = "aim"', 'layer = "am"', ["layers.base.slots.left_shoulder.layer: there is no layer to shift to, 'am'"]),
    ('layer = "aim"', 'layer = "base"', ["there is no layer to shift to, 'base', expected one of aim"]),
    (
        'id = "base"',
        'id = "ground"',
        ["layers: the first layer is 'ground', expected the first layer to have the id 'base'"],
    ),
    (
        "dead_zone = 0.2",
        "dead_zone = 2",
        ["feel.left_stick.dead_zone: 2 does not fit, expected a number from 0 to 0.9"],
    ),
    ("dead_zone = 0.2", "dead_zone = 0.9\nedge_zone = 0.2", ["feel.left_stick: dead zone and edge zone meet"]),
    ("dead_zone = 0.2", "directions = { on = 0.2 }", ["feel.left_stick.directions: off (0.35) is not below on (0.2)"]),
    (
        "dead_zone = 0.2",
        "directions = { diagonal_degrees = 30, hysteresis_degrees = 20 }",
        ["hysteresis_degrees: is as wide as a direction"],
    ),
    (
        'label = "Aim"',
        'label = "Aim"\n[layers.feel.left_stick]\nedge_zone = 0.9\n',
        ["layers.aim.feel.left_stick.edge_zone: 0.9 does not fit, expected a number from 0 to 0.5"],
    ),
    (
        'label = "Aim"',
        'label = "Aim"\n[layers.feel.left_stick.directions]\non = 0.3\n',
        ["layers.aim.feel.left_stick.directions: off (0.35) is not below on (0.3)"],
    ),
    (
        'label = "Base"',
        'label = "Base"\nfeel = { motion = { ratio = 2 } }',
        ["layers.base: the base layer has feel, the profile's feel is the one of the base layer"],
    ),
    ("[feel.left_stick]", "[feel.left_stik]", ["feel.left_stik: unknown key 'left_stik', did you mean 'left_stick'?"]),
]


@pytest.mark.parametrize(("old", "new", "expected"), FAULTS, ids=[new or f"no {old}" for old, new, _ in FAULTS])
def test_a_fault_is_told_with_its_place_and_what_would_be_right(old: str, new: str, expected: list[str]) -> None:
    assert old in GOOD
    with pytest.raises(ProfileError) as caught:
        parse_profile(GOOD.replace(old, new, 1), "game.toml")
    told = [f"game.toml: {problem}" for problem in caught.value.problems]
    assert len(told) == len(expected)
    for line, part in zip(told, expected, strict=True):
        assert part in line


def test_all_faults_are_told_at_once() -> None:
    text = GOOD.replace("south", "soth").replace("KEY_SPACE", "KEY_X1").replace('layer = "aim"', 'layer = "x"')
    with pytest.raises(ProfileError) as caught:
        parse_profile(text)
    assert len(caught.value.problems) == 3


OLDER = """
schema = 1
title = "Kept since the first version"
shortest_key_ms = 35
[feel.motion]
counts_per_turn = 5200
ratio = 3
"""


def test_an_older_file_is_read_and_written_in_the_present_schema() -> None:
    profile = parse_profile(OLDER)
    assert (profile.game.shortest_key_ms, profile.game.counts_per_turn, profile.feel.motion.ratio) == (35, 5200, 3)
    assert format_profile(profile).startswith(f"schema = {SCHEMA_VERSION}\n")
    assert parse_profile(format_profile(profile)) == profile


SECOND = """
schema = 2
title = "Of the second version"
[feel.motion.lean]
on_degrees = 31
[[layers]]
id = "base"
label = "Base"
slots = { "motion.lean_left" = { keys = ["KEY_Q"] } }
together = [{ slots = ["motion.lean_back", "south"], keys = ["KEY_E"] }]
[[layers]]
id = "aim"
label = "Aim"
feel = { motion = { lean = { off_degrees = 12 } } }
"""


def test_what_was_called_leaning_is_tilting_wherever_it_stands() -> None:
    profile = parse_profile(SECOND)
    base, aim = profile.layers
    assert list(base.slots) == ["motion.tilt_left"]
    assert base.together[0].slots == ("motion.tilt_back", "south")
    assert profile.feel.motion.tilt.on_degrees == 31
    assert changed_feel(profile.feel, aim.feel).motion.tilt.off_degrees == 12
    for right, wrong, place in (
        ("on_degrees = 31", "on_degrees = 900", "feel.motion.lean.on_degrees"),
        ("KEY_Q", "KEY_QQ", "layers.base.slots.motion.lean_left.keys"),
        ("off_degrees = 12", "of_degrees = 12", "layers.aim.feel.motion.lean.of_degrees"),
    ):
        with pytest.raises(ProfileError) as caught:
            parse_profile(SECOND.replace(right, wrong))
        assert [problem.path for problem in caught.value.problems] == [place]


THIRD = """
schema = 3
title = "Fitted to a worn pad"
feel = { left_stick = { rest_x = 0.05, dead_zone = 0.045 } }
pads = [{ identity = "0003-1234-5678-0001", name = "Worn", feel = { right_stick = { rest_y = 0.1 } } }]
[[layers]]
id = "base"
label = "Base"
[[layers]]
id = "aim"
label = "Aim"
feel = { left_stick = { rest_y = -0.02, power = 2 } }
"""


def test_what_was_measured_of_one_pad_is_left_out_of_an_older_profile_and_named() -> None:
    profile = parse_profile(THIRD)
    aim = changed_feel(profile.feel, profile.layers[1].feel)
    assert (profile.feel.left_stick.dead_zone, aim.left_stick.power) == (0.045, 2)
    places = ["feel.left_stick.rest_x", "layers[1].feel.left_stick.rest_y", "pads[0].feel.right_stick.rest_y"]
    assert left_to_the_pad(THIRD) == places
    assert left_to_the_pad(format_profile(profile)) == left_to_the_pad("not TOML at all") == []
    with pytest.raises(ProfileError):
        parse_profile(THIRD.replace("schema = 3", "schema = 4"))


def test_a_fault_in_an_older_file_is_told_by_the_place_that_it_has_there() -> None:
    for wrong, place in (("shortest_key_ms = 900", "shortest_key_ms"), ("feel = 3", "feel")):
        with pytest.raises(ProfileError) as caught:
            parse_profile(f'schema = 1\ntitle = "Old"\n{wrong}')
        assert [problem.path for problem in caught.value.problems] == [place]


def test_what_is_no_file_or_no_text_is_told(tmp_path: Path) -> None:
    (tmp_path / "bytes.toml").write_bytes(b"title = '\xff'")
    for name, part in (("bytes.toml", "byte 9 is not text"), ("none.toml", "no such file"), (".", "is a directory")):
        with pytest.raises(ProfileError, match=part):
            read_profile(tmp_path / name)


def test_a_failed_write_leaves_the_old_file_and_nothing_else(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "game.toml"
    write_profile(path, parse_profile(GOOD))
    before = path.read_bytes()

    def full(_handle: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        write_profile(path, Profile(schema=4, title="Other"))
    assert path.read_bytes() == before
    assert list(tmp_path.iterdir()) == [path]


@pytest.mark.parametrize("game", GAMES)
def test_the_demo_profiles_are_sound_survive_writing_and_play(game: str) -> None:
    profile = parse_profile(demo_profile_text(game))
    assert parse_profile(format_profile(profile)) == profile
    assert len(profile.moves) >= 12
    pad, engine = simulated_pad(PAD_OF_GAME[game], 1_000_000), Engine(Program(profile))
    outputs = [output for frame in pad.read(25_000_000) for output in engine.feed(frame)]
    sent = {output.code for output in outputs if isinstance(output, Key)}
    assert len(sent) >= 8
    assert any(isinstance(output, Pointer) for output in outputs)


def test_key_numbers_are_the_kernels() -> None:
    for key in KEY_BY_CODE.values():
        assert ecodes.ecodes[key.code] == key.number


def test_modifiers_come_first_in_a_combination() -> None:
    assert modifiers_first(("KEY_C", "KEY_LEFTSHIFT", "KEY_LEFTCTRL")) == ("KEY_LEFTSHIFT", "KEY_LEFTCTRL", "KEY_C")


def test_the_schema_describes_ranges() -> None:
    text = str(json_schema())
    assert "a number from 0 to 0.9" in text
    assert "'maximum': 0.9" in text


@given(seed=st.integers(0, 2**32), changes=st.lists(st.integers(0, 2**32), max_size=3))
def test_what_is_written_part_by_part_is_the_same_text_and_what_is_checked_so_has_the_same_faults(
    seed: int, changes: list[int]
) -> None:
    profile, writer, check = random_profile(Random(seed)), ProfileWriter(), ReferenceCheck()
    for change in [None, *changes]:
        if change is not None:
            chance = Random(change)
            other = random_profile(chance)
            field = chance.choice(["layers", "moves", "feel", "game", "sequences", "title"])
            wanted = getattr(other, field)
            if field == "layers":  # one layer of another profile among its own
                place = chance.randrange(len(profile.layers))
                mixed = replace(chance.choice(wanted), id=profile.layers[place].id)
                wanted = (*profile.layers[:place], mixed, *profile.layers[place + 1 :])
            profile = replace(profile, **{field: wanted})
        assert writer.text(profile) == format_profile(profile)
        assert check.problems(profile, us_layout) == reference_problems(profile, us_layout)
