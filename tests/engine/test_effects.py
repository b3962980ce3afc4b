"""Effects on the view and the pointer, and what they depend on besides their own slot."""

from __future__ import annotations

import pytest

from nub_shift.engine.values import Key, Output, Place, PlaceBack, Pointer
from nub_shift.model.problems import ProfileError
from tests.engine.playing import START_US, Player, brief


def turned(outputs: list[Output]) -> int:
    """By how many counts the pointer has gone to the right."""
    return sum(output.dx for output in outputs if isinstance(output, Pointer))


@pytest.mark.parametrize(("held_ms", "over_ms"), [(10, 100), (10, 0), (500, 300)])
def test_a_button_turns_the_view_by_degrees_and_finishes_it(held_ms: int, over_ms: int) -> None:
    player = Player(f"south = {{ turn_by = {{ degrees = -90, over_ms = {over_ms} }} }}\neast = {{ pace = 0.1 }}")
    player.feed(south=1.0, east=1.0)
    player.wait(held_ms)
    player.feed(south=0.0)
    player.wait(1_000)
    assert turned(player.outputs) == -900 and player.engine.deadline() is None  # of 3600 counts; no pace changes it
    assert player.outputs[-1].t_us <= START_US + (over_ms + 1) * 1000
    player.feed(south=0.0)
    player.feed(south=1.0)
    player.stop()
    before = turned(player.outputs)
    player.wait(1_000)
    assert turned(player.outputs) == before, "a stop ends it"


@pytest.mark.parametrize(
    ("of", "by_stick", "by_gyro"), [("all", 500, 900), ("stick", 500, 1800), ("motion", 1000, 900)]
)
def test_a_pace_may_be_for_the_stick_or_the_gyro_alone(of: str, by_stick: int, by_gyro: int) -> None:
    slots = f'south = {{ pace = 0.5, pace_of = "{of}" }}\nright_stick = {{ pointer = {{ x = 1000, y = 0 }} }}'
    feel = "[feel.motion]\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0\naxis = 'yaw'"
    stick = Player(f"{slots}\nmotion = {{ turn = {{}} }}", rest=feel)
    stick.feed(south=1.0, right_stick__x=1.0)
    assert turned(stick.wait(1_000)) == pytest.approx(by_stick, abs=2)
    gyro = Player(f"{slots}\nmotion = {{ turn = {{}} }}", rest=feel)
    gyro.engine.set_bias((0.0, 0.0, 0.0))
    gyro.feed(south=1.0)
    for _ in range(250):
        gyro.feed(motion__gyro_y=-180.0)
        gyro.wait(4)
    assert turned(gyro.outputs) == pytest.approx(by_gyro, abs=20)


def test_a_pace_for_one_way_of_looking_goes_by_depth() -> None:
    slots = '"left_trigger.light" = { pace = 0.2, pace_of = "stick", by_depth = true }'
    player = Player(f"{slots}\nright_stick = {{ pointer = {{ x = 1000, y = 0 }} }}")
    player.feed(left_trigger=0.625, right_stick__x=1.0)  # half of the way from where it is left
    assert turned(player.wait(1_000)) == pytest.approx(600, abs=5)


def test_the_pad_is_turned_for_one_thing_and_tilted_for_another() -> None:
    ring = '[[rings]]\nid = "r"\nlabel = "R"\nconfirm = "enter"\nentries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]'
    feel = "[feel.motion]\nratio = 1\ngate_dps = 0\nsmooth_below_dps = 0\naxis = 'yaw'"
    feel += "\n[feel.motion.tilt]\ncentre = 'level'"
    player = Player(
        'motion = { turn = {}, ring = "r" }\nsouth = { layer = "shift" }', "motion = { turn = {} }", f"{ring}\n{feel}"
    )
    player.engine.set_bias((0.0, 0.0, 0.0))
    for step in range(300):
        tilted = 0.7 if step >= 50 else 0.0
        player.feed(motion__gyro_y=-45.0, motion__accel_y=1.0 - tilted / 2, motion__accel_z=tilted)
        player.wait(4)
    assert turned(player.outputs) > 350
    keys = [output for output in player.outputs if isinstance(output, Key)]
    assert len(keys) == 1 and keys[0].down, "the entry that it is tilted to"
    player.feed(south=1.0)
    assert [output for output in player.outputs if isinstance(output, Key)][-1].down is False, "the layer only turns"
    with pytest.raises(ProfileError, match="stand together"):
        Player('motion = { tilt = {}, ring = "r" }', rest=ring)


def test_each_way_of_a_stick_may_have_a_threshold_of_its_own() -> None:
    slots = "\n".join(f'"left_stick.{way}" = {{ keys = ["KEY_{way[0].upper()}"] }}' for way in ("up", "right", "down"))
    feel = "[feel.left_stick.directions]\non = 0.4\noff = 0.3\nup = { on = 0.8, off = 0.6 }"
    player = Player(slots, rest=feel)

    def said(x: float, y: float) -> str:
        return brief(player.feed(left_stick__x=x, left_stick__y=y))

    assert [said(0.0, -0.7), said(0.0, -0.85), said(0.0, -0.65), said(0.0, -0.55)] == ["", "+U", "", "-U"]
    assert [said(0.0, 0.45), said(0.0, 0.0)] == ["+D", "-D"]
    assert said(0.45, -0.45) == "+R", "of the diagonal's two ways the one that is reached"
    assert said(0.65, -0.65) == "+U" and said(0.4, -0.4) == "-U" and said(0.1, -0.1) == "-R"


WHILE = 'south = { keys = ["KEY_A"], while = ["left_trigger.light", "east"] }'


def test_an_action_begins_only_while_others_are_held() -> None:
    player = Player(WHILE)
    said = [
        brief(player.feed(**{slot: value})) for slot, value in [("south", 1), ("south", 0), ("east", 1), ("south", 1)]
    ]
    assert said == ["", "", "", ""]
    player.feed(south=0, left_trigger=1.0)
    assert brief(player.feed(south=1)) == "+A"
    assert brief(player.feed(left_trigger=0.0, east=0)) == "", "what a press started, its release ends"
    assert brief(player.feed(south=0)) == "-A"
    together = Player(WHILE)
    assert brief(together.feed(south=1, east=1, left_trigger=1.0)) == "+A", "those in the same frame count"
    slots = 'south = { keys = ["KEY_A"], manner = "toggle", while = ["left_stick.up"] }'
    toggle = Player(slots + '\n"left_stick.up_left" = { keys = ["KEY_B"] }')
    toggle.feed(left_stick__x=-0.7, left_stick__y=-0.7)
    assert brief(toggle.feed(south=1)) == "+A", "a diagonal leans that way"
    toggle.feed(south=0, left_stick__x=0, left_stick__y=0)
    assert brief(toggle.feed(south=1)) == "-A", "what is on can be ended"
    with pytest.raises(ProfileError, match=r"south\.while: 'left_stick' is no slot that is pressed"):
        Player('south = { keys = ["KEY_A"], while = ["left_stick"] }')


def test_the_pointer_is_placed_and_goes_back() -> None:
    player = Player("south = { place = { x = 0.25, y = 1 } }\neast = { place = { back = false } }")
    player.feed(south=1)
    player.feed(south=0)
    player.feed(east=1)
    player.feed(east=0)
    player.feed(south=1)
    player.stop()
    there = Place(START_US, 0.25, 1.0)
    assert player.outputs == [there, PlaceBack(START_US), Place(START_US, 0.5, 0.5), there, PlaceBack(START_US)]
    for slots in ("south = { tap = { place = {} } }", 'south = { place = {}, manner = "once" }'):
        with pytest.raises(ProfileError, match=r"only lasts|cannot be kept up"):
            Player(slots)


def test_pulses_come_more_often_the_deeper_their_slot_is_pressed() -> None:
    slots = '"right_trigger.light" = { keys = ["KEY_A"], manner = "pulse", rate_hz = 10, light_hz = 2 }'
    feel = "[feel.right_trigger]\nlight = { on = 0.05, off = 0.02 }"
    for depth, pulses in ((0.12, 5), (0.5, 12), (0.9, 18)):
        player = Player(slots, rest=feel)
        player.feed(right_trigger=depth)
        player.wait(2_000)
        downs = [output for output in player.outputs if isinstance(output, Key) and output.down]
        assert len(downs) == pytest.approx(pulses, abs=1), depth


@pytest.mark.parametrize("runs", ["once", "while_held", "until_pressed"])
def test_a_sequence_that_is_toggled_goes_on_until_it_is_pressed_again(runs: str) -> None:
    steps = (
        f'[[sequences]]\nid = "s"\nlabel = "S"\nruns = "{runs}"\nsteps = [{{ tap = ["KEY_A"] }}, {{ wait_ms = 100 }}]'
    )
    player = Player('south = { sequence = "s", manner = "toggle", ended_by = ["east"] }', rest=steps)
    player.feed(south=1)
    player.feed(south=0)
    assert brief(player.wait(1_000)).count("+A") >= 5
    player.feed(south=1)
    player.feed(south=0)
    player.outputs.clear()
    player.wait(1_000)
    assert brief(player.outputs) == ""
    player.feed(south=1)
    player.feed(east=1)
    player.outputs.clear()
    player.wait(1_000)
    assert brief(player.outputs) == "", "what ends a toggle ends it, too"
