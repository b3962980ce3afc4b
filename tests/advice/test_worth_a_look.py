"""What in a sound profile is probably not meant, and what is offered in its stead."""

from __future__ import annotations

import pytest

from nub_shift.advice.clashes import clashes
from nub_shift.advice.relocation import find_displaced, relocate, suggest_places
from nub_shift.model.controls import Finger
from nub_shift.model.profile.profile import Profile
from nub_shift.store.profile_files import parse_profile


def made(slots: str = "", layer: str = "", rest: str = "", moves: str = "") -> Profile:
    return parse_profile(f"""
schema = 4
title = "T"
moves = [{{ id = "a", label = "A", keys = ["KEY_A"] }}, {{ id = "b", label = "B", keys = ["KEY_B"] {moves} }}]
{rest}
[[layers]]
id = "base"
label = "Base"
slots = {{ {slots} }}
[[layers]]
id = "dim"
label = "Dim"
slots = {{ {layer} }}
""")


def texts(profile: Profile, *controls: str) -> list[str]:
    """Without the row about moves that no control does."""
    return [clash.text for clash in clashes(profile, controls) if not clash.move]


HELD = 'left_shoulder = { layer = "dim" }'


@pytest.mark.parametrize(
    ("slots", "layer", "found"),
    [
        (f'{HELD}, south = {{ move = "a" }}, east = {{ keys = ["KEY_A"] }}', "", ["East sends the same as south"]),
        (f'{HELD}, south = {{ keys = ["KEY_Z"] }}', "", ["South sends a key, which no move of the game uses"]),
        ("", "", ["Nothing brings Dim on"]),
        (HELD, '"left_trigger.light" = { move = "a" }', ["Left trigger lies under the finger that holds Dim on"]),
        ('south = { stay = "dim" }', "", ["Dim stays on, and nothing turns it off"]),
        ('south = { stay = "dim" }', 'south = { stay = "base" }', []),
        (f'{HELD}, south = {{ move = "a", manner = "turbo", rate_hz = 14 }}', "", []),
        (
            f'{HELD}, south = {{ move = "a", manner = "turbo", rate_hz = 40 }}',
            "",
            ["South: of 40 presses a second the game sees about 15 at 30 frames a second"],
        ),
    ],
)
def test_every_kind_is_found(slots: str, layer: str, found: list[str]) -> None:
    assert texts(made(slots, layer)) == found


TOGETHER = ', together = ["a"]'
CLASH = "B and A go together, but no two fingers reach both"


@pytest.mark.parametrize(
    ("slots", "layer", "grip", "clash"),
    [
        ('south = { move = "a" }, east = { move = "b" }', "", "index", True),
        ('south = { move = "a" }, "left_trigger.light" = { move = "b" }', "", "index", False),
        ('south = { move = "a" }, grip_1 = { move = "b" }', "", "index", False),
        ('right_shoulder = { move = "a" }, "right_trigger.light" = { move = "b" }', "", "index", True),
        ('right_shoulder = { move = "a" }, "right_trigger.light" = { move = "b" }', "", "index_and_middle", False),
        ('south = { move = "a" }, "right_stick.up" = { move = "b" }', "", "index", True),
        ('south = { move = "a" }, "right_stick.up" = { move = "b" }', "", "index_on_face", False),
        ('"left_stick.up" = { move = "a" }, "left_stick.left" = { move = "b" }', "", "index", False),
        ('south = { move = "a", hold = { move = "b" } }', "", "index", True),
        ('south = { move = "a" }', '"left_trigger.light" = { move = "b" }', "index", True),
        ('south = { move = "a" }', '"left_stick.up" = { move = "b" }', "index", False),
        ('south = { move = "a" }', 'south = { move = "b" }', "index", True),
    ],
)
def test_moves_that_go_together_need_two_fingers_in_one_layer(slots: str, layer: str, grip: str, clash: bool) -> None:
    profile = made(f"{HELD}, {slots}", layer, f'game = {{ grip = "{grip}" }}', TOGETHER)
    assert (CLASH in texts(profile)) is clash


def test_moves_that_no_control_does_are_one_row() -> None:
    gaps = [[clash for clash in clashes(made(slots)) if clash.move] for slots in ("", 'south = { move = "a" }')]
    assert [(gap[0].text, gap[0].move) for gap in gaps] == [
        ("No control does A and 1 more", "a"),
        ("No control does B", "b"),
    ]


def test_what_the_mouth_works_lies_under_no_finger() -> None:
    profile = made(HELD, '"left_trigger.light" = { move = "a" }')
    for finger, count in ((Finger.OTHER, 0), (Finger.RIGHT_THUMB, 0), (Finger.LEFT_INDEX, 1)):
        found = clashes(profile, (), {"left_shoulder": finger})
        assert len([clash for clash in found if "lies under" in clash.text]) == count


def test_a_game_that_reads_pads_mixes_with_every_control_that_sends_something() -> None:
    profile = made(f'{HELD}, south = {{ move = "a" }}, east = {{ silence = true }}', "", "game = { reads_pads = true }")
    assert texts(profile) == [
        f"The game reads the {control} too: its prompts may flicker between pad and keys"
        for control in ("left shoulder", "south")
    ]


def test_what_a_pad_lacks_is_offered_a_free_place_of_the_same_kind() -> None:
    profile = made(f'{HELD}, grip_1 = {{ move = "a" }}, south = {{ move = "b" }}', 'grip_1 = { move = "b" }')
    assert "2 slots" not in (lacking := texts(profile, "south", "left_shoulder", "left_trigger")[0])
    assert lacking == "1 slot on grip 1, which this pad lacks"
    (grip,) = find_displaced(profile, ("south", "left_shoulder", "left_trigger", "left_stick"))
    assert [place.label for place in grip.places] == ["Left trigger", "Left stick click"]
    after = relocate(profile, grip.places[0].slots)
    assert [sorted(layer.slots) for layer in after.layers] == [
        ["left_shoulder", "left_trigger.light", "south"],
        ["left_trigger.light"],
    ]
    stick = made('"right_stick.up" = { move = "a" }, "right_stick.down" = { move = "b" }')
    (ways,) = find_displaced(stick, ("dpad", "left_stick", "south"))
    assert [place.label for place in ways.places] == ["Left stick", "D-pad"]
    looks = made('right_stick = { pointer = { x = 9, y = 9 } }, "left_stick.up" = { move = "a" }')
    assert find_displaced(looks, ("left_stick",))[0].places == (), "it would hide what is there"
    often = made('south = { move = "a" }, grip_1 = { move = "b" }', 'grip_1 = { move = "a" }')
    near, first = (
        suggest_places(find_displaced(often, controls)) for controls in (("east", "left_shoulder"), ("east",))
    )
    assert [place.label for place in near if place is not None] == ["East", "Left shoulder"], "by finger"
    assert first[0] is None and first[1] is not None, "what is used more often goes first"
    few = find_displaced(stick, ("south", "east"))
    assert [
        (one.label, place.label if place is not None else "")
        for one, place in zip(few, suggest_places(few), strict=True)
    ] == [
        ("Right stick up", "South"),
        ("Right stick down", "East"),
    ]
    assert suggest_places(find_displaced(stick, ("south",)))[1] is None
