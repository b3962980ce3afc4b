"""A profile from elsewhere hides nothing of what it can do."""

from __future__ import annotations

import pytest

from nub_shift.editing.words.reach import can_leave_a_game, combinations, plainly
from nub_shift.editing.words.summary import LOOK_FIRST, summary
from nub_shift.keyboard.layout import us_layout
from nub_shift.store.profile_files import parse_profile

GIFT = """
schema = 4
title = "Gift"
[[moves]]
id = "bye"
label = "Wave"
keys = ["KEY_LEFTALT", "KEY_F4"]
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { carousel = { id = "c" }, hold = { keys = ["KEY_2"], also = [{ keys = ["KEY_3"] }] } }
east = { sequence = "s" }
west = { profile = "Other" }
left_stick = { ring = "r" }
right_stick = { position = { x = 100, y = 100, hold_move = "bye" } }
[[layers.together]]
slots = ["north", "select"]
keys = ["KEY_4"]
[[layers]]
id = "other"
label = "Other"
enter = { keys = ["KEY_1"] }
[[carousels]]
id = "c"
label = "C"
entries = [{ keys = ["KEY_5"] }]
[[rings]]
id = "r"
label = "R"
entries = [{ keys = ["KEY_LEFTMETA"] }, { move = "bye" }]
[[sequences]]
id = "s"
label = "Say"
steps = [
    { press = ["KEY_LEFTCTRL"] }, { press = ["KEY_LEFTALT"] }, { tap = ["KEY_T"] }, { release = ["KEY_LEFTALT"] },
    { text = "rm x\\n" }, { wait_ms = 2000 },
]
"""


def test_every_key_is_named_however_it_is_reached_and_what_can_leave_a_game_stands_first() -> None:
    profile = parse_profile(GIFT)
    codes = {code for keys in combinations(profile) for code in keys}
    assert codes >= {"KEY_F4", "KEY_LEFTMETA", "KEY_T", *(f"KEY_{number}" for number in range(1, 6))}
    (head, lines), *rest = summary(profile, us_layout())
    assert head == LOOK_FIRST
    for expected in (
        "Alt + F4",
        "Super",
        "Ctrl + Alt + T",
        "rm x⏎ (Enter)",
        "waits for 2\N{NO-BREAK SPACE}s",
        "switch to the profile Other",
    ):
        assert any(expected in line for line in lines), expected
    assert any("Keys it can press: " in line for line in rest[0][1])


@pytest.mark.parametrize(
    ("codes", "leaves"),
    [
        (("KEY_LEFTALT", "KEY_TAB"), True),
        (("KEY_LEFTCTRL", "KEY_LEFTALT", "KEY_DELETE"), True),
        (("KEY_RIGHTMETA",), True),
        (("KEY_LEFTALT", "KEY_LEFTSHIFT"), False),
        (("KEY_LEFTCTRL", "KEY_C"), False),
        (("KEY_F4",), False),
    ],
)
def test_what_desktops_act_on_is_told_from_what_games_use(codes: tuple[str, ...], leaves: bool) -> None:
    assert can_leave_a_game(codes) is leaves


def test_what_cannot_be_seen_in_a_text_has_a_name() -> None:
    assert plainly("a\u202eb\u200b \u00a0é") == "a‹right-to-left override›b‹zero width space› ‹no-break space›é"


SNEAKY = """
schema = 4
title = "Sneaky"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { sequence = "s" }
east = { keys = ["KEY_LEFTALT"] }
west = { layer = "other" }
north = { keys = ["KEY_RIGHTCTRL", "KEY_V"] }
[[layers]]
id = "other"
label = "Other"
[layers.slots]
north = { keys = ["KEY_F4"] }
[[sequences]]
id = "s"
label = "Heal"
steps = [
    { tap = ["KEY_R"] }, { tap = ["KEY_M"] }, { tap = ["KEY_SPACE"] }, { tap = ["KEY_MINUS"] }, { tap = ["KEY_R"] },
    { tap = ["KEY_F"] }, { tap = ["KEY_SPACE"] }, { press = ["KEY_RIGHTSHIFT"] }, { tap = ["KEY_GRAVE"] },
    { release = ["KEY_RIGHTSHIFT"] }, { tap = ["KEY_KPENTER"] },
    { tap = ["KEY_LEFTCTRL", "KEY_V"] }, { tap = ["KEY_UP"] },
]
"""


def test_what_is_tapped_is_written_as_it_would_be_read_on_the_screen() -> None:
    (head, lines), *rest = summary(parse_profile(SNEAKY), us_layout())
    assert head == LOOK_FIRST
    assert 'Heal types text with Enter: "rm -rf ~⏎ (Enter)‹Ctrl + V›"' in lines
    assert "Alt + F4 can be pressed with several controls" in lines
    assert "It can paste with Ctrl + V, and press Enter" in lines
    assert 'Types "rm -rf ~⏎ (Enter)‹Ctrl + V›"' in rest[0][1]
