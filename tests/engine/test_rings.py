"""Rings and grids."""

from __future__ import annotations

import random
from math import cos, hypot, pi, sin, tau

import pytest

from nub_shift.engine.values import Key
from nub_shift.keyboard.keys import KEY_BY_CODE
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


def test_a_grid_enters_a_cell_once_the_stick_has_come_to_rest_in_it() -> None:
    player = Player(SLOTS, rest=RING.format('columns = 2\nconfirm = "enter"'))
    player.feed(right_stick__x=0, right_stick__y=0)
    found = []
    for x, y in ((-0.6, -0.6), (0.6, -0.6), (-0.6, 0.6), (0.6, 0.6)):
        assert brief(player.feed(right_stick__x=x, right_stick__y=y)) == ""
        found.append(brief(player.wait(70)))
    assert found == ["+1", "-1 +2", "-2 +3", "-3 +4"]
    assert brief(player.feed(right_stick__x=0, right_stick__y=0)) == "-4"


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
        (
            "",
            RING.format("").replace('keys = ["KEY_2"]', 'layer = "shift"'),
            "entries[1]: only lasts, but a ring that is",
        ),
        ("", RING.format("radius = 2"), "rings.r.radius: 2 does not fit, expected a number from 0.1 to 0.95"),
    ],
)
def test_what_cannot_be_is_refused(slots: str, rest: str, part: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_profile(profile_text(slots, "", rest))
    assert part in str(caught.value)


def ring_of(entries: int, columns: int, confirm: str) -> str:
    keys = [code for code in KEY_BY_CODE if code.startswith("KEY_")]
    rows = ", ".join(f'{{ label = "{index}", keys = ["{keys[index]}"] }}' for index in range(entries))
    return f'[[rings]]\nid = "r"\nlabel = "R"\ncolumns = {columns}\nconfirm = "{confirm}"\nentries = [{rows}]'


def picks(entries: int, columns: int, confirm: str, rounds: int) -> tuple[int, list[int]]:
    """How often the entry that a hand aimed at was sent, and nothing else; and how many were sent each time.

    The hand goes there in 60 to 160 ms, holds for 80 to 200 ms, trembling, and lets the stick snap back.
    """
    hand = random.Random(f"{entries} {columns} {confirm}")
    player = Player('left_stick = { ring = "r" }', rest=ring_of(entries, columns, confirm))
    player.feed(left_stick__x=0.0, left_stick__y=0.0)
    right, sent_each = 0, []
    keys = [code for code in KEY_BY_CODE if code.startswith("KEY_")]
    rows = -(-entries // columns) if columns else 0
    for number in range(rounds):
        aim = number % entries
        if columns:
            row, column = divmod(aim, columns)
            x, y = (2 * column + 1) / columns - 1.0, (2 * row + 1) / rows - 1.0
            x = 0.75 / columns if x == y == 0.0 else x
            rim = max(1.0, hypot(x, y))
            x, y = x / rim, y / rim
        else:
            x, y = sin(tau * aim / entries) * 0.97, -cos(tau * aim / entries) * 0.97
        out_ms, hold_ms, back_ms = hand.uniform(60, 160), hand.uniform(80, 200), hand.uniform(24, 70)
        made = []
        t_ms = 0.0
        while (t_ms := t_ms + 4) < out_ms + hold_ms + back_ms + 80:
            out = min(t_ms / out_ms, 1.0)
            back = max(0.0, min((t_ms - out_ms - hold_ms) / back_ms, 1.0))
            part = sin(out * pi / 2) * (1.0 - back)
            shake = 0.0 if back >= 1.0 else 0.25 / max(columns, 8)
            spot = {"x": x * part + hand.gauss(0, shake / 3), "y": y * part + hand.gauss(0, shake / 3)}
            made += player.feed(**{f"left_stick__{axis}": max(-1.0, min(at, 1.0)) for axis, at in spot.items()})
            made += player.wait(4)
        downs = [output.code for output in made if isinstance(output, Key) and output.down]
        sent_each.append(len(downs))
        right += downs == [keys[aim]]
    return right, sent_each


@pytest.mark.parametrize("confirm", ["release", "enter"])
@pytest.mark.parametrize(
    ("entries", "columns"), [(9, 3), (16, 4), (25, 5), (6, 2), (2, 0), (4, 0), (8, 0), (13, 0), (24, 0), (36, 0)]
)
def test_what_a_hand_aims_at_is_sent_and_nothing_on_the_way(entries: int, columns: int, confirm: str) -> None:
    right, sent_each = picks(entries, columns, confirm, 100)
    assert right >= 99, sorted(sent_each)


def test_a_stick_at_the_border_of_two_cells_does_not_flutter() -> None:
    player = Player('left_stick = { ring = "r" }', rest=ring_of(16, 4, "enter"))
    player.feed(left_stick__x=0.0, left_stick__y=0.0)
    hand = random.Random(1)
    made = []
    for _ in range(200):
        made += player.feed(left_stick__x=0.5 + hand.gauss(0, 0.01), left_stick__y=0.25)
        made += player.wait(4)
    assert len([output for output in made if isinstance(output, Key) and output.down]) == 1
