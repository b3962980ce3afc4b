"""Rings and grids."""

from __future__ import annotations

import pytest

from nub_shift.model.problems import ProfileError
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import Player, brief, profile_text

RING = """
[[rings]]
id = "r"
label = "R"
{}
entries = [{{ label = "Up", keys = ["KEY_1"] }}, {{ keys = ["KEY_2"] }}, {{ keys = ["KEY_3"] }}, {{ keys = ["KEY_4"] }}]
"""
SLOTS = 'right_stick = { ring = "r" }\nleft_shoulder = { layer = "shift" }'


def steer(settings: str, *steps: tuple[float, float, int]) -> list[str]:
    """What follows each place of the stick and its click."""
    player = Player(SLOTS, "right_stick = { silence = true }", RING.format(settings))
    player.feed(right_stick__x=0, right_stick__y=0)
    found = [
        brief(player.feed(right_stick__x=x, right_stick__y=y, **{"right_stick__click": click})) for x, y, click in steps
    ]
    player.stop()
    assert player.engine.state().down == ()
    return found


def test_by_release_the_entry_fires_as_the_stick_comes_back() -> None:
    assert steer("", (0, -1, 0), (0, -0.55, 0), (0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 0)) == [
        "", "", "+1 -1", "", "", "+3 -3",
    ]  # fmt: skip


def test_the_border_between_entries_has_hysteresis() -> None:
    # 47 degrees is past the border of the first entry but not by enough, 52 degrees is.
    assert steer("", (0, -1, 0), (0.73, -0.68, 0), (0, 0, 0)) == ["", "", "+1 -1"]
    assert steer("", (0, -1, 0), (0.79, -0.62, 0), (0, 0, 0)) == ["", "", "+2 -2"]


def test_by_click_the_entry_lasts_as_long_as_the_click() -> None:
    assert steer('confirm = "click"', (-1, 0, 0), (-1, 0, 1), (0, 0, 1), (0, 0, 0), (0, 0, 1)) == [
        "", "+4", "", "-4", "",
    ]  # fmt: skip


def test_by_entering_each_entry_lasts_while_the_stick_is_there() -> None:
    assert steer('confirm = "enter"', (0, -1, 0), (1, 0, 0), (1, 0, 0), (0, 0, 0)) == ["+1", "-1 +2", "", "-2"]


def test_a_grid_is_chosen_by_cell() -> None:
    grid = 'columns = 2\nconfirm = "enter"'
    assert steer(grid, (-0.6, -0.6, 0), (0.6, -0.6, 0), (-0.6, 0.6, 0), (0.6, 0.6, 0), (0, 0, 0)) == [
        "+1", "-1 +2", "-2 +3", "-3 +4", "-4",
    ]  # fmt: skip


def test_a_layer_without_the_ring_ends_what_it_began() -> None:
    player = Player(SLOTS, "right_stick = { silence = true }", RING.format('confirm = "enter"'))
    player.feed(right_stick__y=0)
    assert brief(player.feed(right_stick__y=-1)) == "+1"
    assert player.engine.state().rings == {"right_stick": 0}
    assert brief(player.feed(left_shoulder=1)) == "-1"
    assert player.engine.state().rings == {}


def test_rings_that_open_each_other_come_to_rest() -> None:
    rings = """
[[rings]]
id = "r"
label = "R"
confirm = "enter"
entries = [{ stay = "shift" }, { keys = ["KEY_1"] }]
[[rings]]
id = "q"
label = "Q"
confirm = "enter"
entries = [{ stay = "base" }, { keys = ["KEY_2"] }]
"""
    player = Player(SLOTS, 'right_stick = { ring = "q" }', rings)
    player.feed(right_stick__y=0)
    layers = []
    for y in (-1, -0.9, 0, -1, -1, 0):
        player.feed(right_stick__y=y)
        layers.append(player.engine.state().layers[-1])
    assert layers == ["shift", "shift", "shift", "base", "base", "base"]


@pytest.mark.parametrize(
    ("slots", "rest", "part"),
    [
        ('right_stick = { ring = "no" }', "", "right_stick.ring: there is no ring 'no'"),
        ('south = { ring = "r" }', RING.format(""), "only a whole stick can do that"),
        ("", RING.format("").replace('{ keys = ["KEY_2"] }', "{}"), "rings.r.entries[1]: says nothing"),
        ("", RING.format("").replace('keys = ["KEY_2"]', 'layer = "shift"'), "entries[1]: lasts, but a ring that is"),
        ("", RING.format("radius = 2"), "rings.r.radius: 2 does not fit, expected a number from 0.1 to 0.95"),
    ],
)
def test_what_cannot_be_is_refused(slots: str, rest: str, part: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_profile(profile_text(slots, "", rest))
    assert part in str(caught.value)
