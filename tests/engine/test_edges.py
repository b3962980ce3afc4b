"""Edges of the engine where a small fault would change play and no other test would notice."""

from __future__ import annotations

from functools import partial
from itertools import pairwise

import pytest

from nub_shift.editing.preview.practice import TypedText
from nub_shift.engine.agenda import Agenda
from nub_shift.engine.effects.sequences import MAX_QUEUE
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.pointer import GAP_US, PointerMotion
from nub_shift.engine.program import Program
from nub_shift.engine.shaping.directions import Sectors
from nub_shift.engine.values import Key, Output, Pointer
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.feel import Directions
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, Player, brief, profile_text

A, B = 'keys = ["KEY_A"]', 'keys = ["KEY_B"]'
CAROUSEL = """
[[carousels]]
id = "tools"
label = "Tools"
rest_ms = 1000
entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }, { keys = ["KEY_3"] }]
"""


def test_timers_that_are_due_at_the_same_time_happen_as_they_were_made() -> None:
    agenda = Agenda()
    happened: list[int] = []
    for number in range(20):
        agenda.at(100, partial(lambda number, _t_us: happened.append(number), number))
    agenda.postpone(5)
    while agenda.due_us() is not None:
        agenda.pop().act(105)
    assert happened == list(range(20))


def test_a_pulse_that_leaves_too_short_a_gap_is_held_through() -> None:
    # 10 times a second: pulled to 0.85 the gap is 15 ms, which a game can see; to 0.96 it is 4 ms, which it cannot, and
    # comes with the next one.
    for pull, expected in ((0.85, "+A -A +A -A"), (0.96, "+A")):
        player = Player(
            f'"right_trigger.light" = {{ {A}, manner = "pulse" }}', rest="[feel.right_trigger.light]\noff = 0.001"
        )
        player.feed(right_trigger=pull)
        player.wait(190)
        assert brief(player.outputs) == expected, pull


def test_a_step_begins_the_rest_of_a_carousel_anew() -> None:
    player = Player('south = { carousel = { id = "tools" } }', rest=CAROUSEL)
    for wait_ms in (900, 900, 1100):
        player.feed(south=1)
        player.feed(south=0)
        player.wait(wait_ms)
    player.feed(south=1)
    # Three steps in time, then a long wait: it is at the first again, from where one step leads to the second.
    assert brief(player.outputs) == "+2 -2 +3 -3 +1 -1 +2"


def test_no_more_than_a_few_sequences_wait_their_turn() -> None:
    sequence = '[[sequences]]\nid = "s"\nlabel = "S"\nagain = "queue"\nsteps = [{ tap = ["KEY_A"] }]'
    player = Player('south = { sequence = "s" }', rest=sequence)
    for _ in range(MAX_QUEUE + 5):
        player.feed(south=1)
        player.feed(south=0)
    player.wait(2000)
    assert brief(player.outputs).split().count("+A") == 1 + MAX_QUEUE


@pytest.mark.parametrize(("late_us", "counts"), [(GAP_US, 250), (GAP_US + 2_000, 1)])
def test_what_a_suspended_caller_missed_is_left_out_beyond_a_quarter_of_a_second(late_us: int, counts: int) -> None:
    assert GAP_US == 250_000
    player = Player("right_stick = { pointer = { x = 1000, y = 0 } }")
    player.feed(right_stick__x=1.0)
    due = player.engine.deadline()
    assert due is not None
    sent = sum(output.dx for output in player.engine.advance(due + late_us) if isinstance(output, Pointer))
    assert abs(sent - counts) <= 1


def test_a_turbo_finishes_its_press_whatever_ends_it_but_a_stop() -> None:
    slots = f'"left_stick.up" = {{ {A}, manner = "turbo", rate_hz = 5, duty = 0.5 }}\nsouth = {{ layer = "shift" }}'
    player = Player(slots, f'"left_stick.up" = {{ {B} }}')
    player.feed(left_stick__y=-1.0)
    player.wait(20)
    assert brief(player.feed(south=1.0)) == "+B"
    assert brief(player.wait(70)) == ""
    assert brief(player.wait(20)) == "-A"
    player.feed(south=0.0)
    player.wait(20)
    player.feed(left_stick__y=0.0)
    assert brief(player.stop()) == "-A"


def test_the_first_press_of_a_turbo_is_told_apart_from_its_last() -> None:
    player = Player(f'south = {{ {A}, manner = "turbo", rate_hz = 5, duty = 0.5 }}')
    player.feed(south=1.0)
    player.wait(30)
    player.feed(south=0.0)
    player.wait(10)
    assert brief(player.feed(south=1.0)) == "-A +A"
    player.feed(south=0.0)
    assert brief(player.wait(200)) == "-A"


SHIFT = 'left_shoulder = { layer = "shift" }'


@pytest.mark.parametrize(
    ("slots", "layer_slots", "before", "after"),
    [
        # What a layer gives to a whole stick hides its parts below, and the reverse.
        (f'"left_stick.up" = {{ {A} }}\n"left_stick.edge" = {{ {B} }}', "left_stick = { silence = true }", "+A +B", ""),
        (f'"left_stick.up" = {{ {A} }}', "left_stick = { scroll = { y = 0 } }", "+A", ""),
        ('left_stick = { position = { hold = ["KEY_B"] } }', f'"left_stick.up" = {{ {A} }}', "+B", "+A"),
        (f'"left_stick.click" = {{ {A} }}', "left_stick = { silence = true }", "+A", "+A"),
        (f'"left_stick.up" = {{ {A} }}', f'"left_stick.edge" = {{ {B} }}', "+A", "+A +B"),
    ],
)
def test_whole_and_parts_hide_each_other(slots: str, layer_slots: str, before: str, after: str) -> None:
    for held, expected in ((0.0, before), (1.0, after)):
        player = Player(f"{slots}\n{SHIFT}", layer_slots)
        player.feed(left_shoulder=held)
        player.feed(left_stick__y=-1.0, left_stick__click=1.0)
        keys: list[Output] = [output for output in player.outputs if isinstance(output, Key)]
        assert brief(keys) == expected


@pytest.mark.parametrize(("speed", "shift"), [(3.0, 0.4), (3.0, -0.4), (50.0, 0.9), (50.0, -0.9)])
def test_a_drag_beside_another_motion_keeps_the_sum_and_the_deadline(speed: float, shift: float) -> None:
    motion, out, t_us = PointerMotion(Pointer), list[Output](), START_US
    motion.set_velocity(speed, 0.0, t_us, out)
    for _ in range(2_000):
        t_us += 4_000
        motion.advance(t_us, out)
        motion.shift(shift, 0.0, t_us, out)
        assert motion.due_us is not None and motion.due_us >= t_us
    sent = sum(output.dx for output in out if isinstance(output, Pointer))
    assert abs(sent - (speed * 8 + shift * 2_000)) <= 1


def test_a_quick_trigger_lets_go_below_off_however_slowly_it_eases() -> None:
    feel = "[feel.right_trigger]\nquick = true\nease = 0.5\nlight = { on = 0.4, off = 0.3 }"
    player = Player(f'"right_trigger.light" = {{ {A} }}', rest=feel)
    assert brief(player.feed(right_trigger=0.41)) == ""  # it must be pulled by `ease` first
    assert brief(player.feed(right_trigger=0.6)) == "+A"
    assert brief(player.feed(right_trigger=0.31)) == ""
    assert brief(player.feed(right_trigger=0.29)) == "-A"


def test_pointer_and_wheel_of_one_late_call_come_in_the_order_of_time() -> None:
    player = Player("right_stick = { pointer = { x = 900, y = 0 } }\nleft_stick = { scroll = { x = 0, y = 9 } }")
    player.feed(right_stick__x=1.0)
    player.now_us += 300  # each goes by a grid of its own, from the moment when it began to move
    player.feed(left_stick__y=-1.0)
    both = 0
    for late_us in (20_100, 30_700, 25_200, 41_900):
        player.now_us += late_us
        outputs = player.engine.advance(player.now_us)
        times = [output.t_us for output in outputs]
        assert times == sorted(times), late_us
        both += len({type(output) for output in outputs}) == 2
    assert both >= 2


def test_the_next_layer_from_one_that_is_not_in_the_list_is_the_first_of_it() -> None:
    rest = f'[[layers]]\nid = "third"\nlabel = "Third"\n[layers.slots]\neast = {{ {B} }}\n'
    slots = 'south = { next = ["shift", "base"] }\nnorth = { stay = "third" }'
    player = Player(slots, f"east = {{ {A} }}", rest)
    for control in ("north", "south"):
        player.feed(**{control: 1.0})
        player.feed(**{control: 0.0})
    assert player.engine.state().layers == ("base", "shift")


def test_a_border_belongs_to_whoever_has_it() -> None:
    sectors = Sectors(Directions(ways=4, on=0.5, off=0.4, hysteresis_degrees=0.0))
    assert sectors.next(None, 0.0, -0.5, 0.5) == 0  # at `on` it starts
    assert sectors.next(0, 0.0, -0.4, 0.4) == 0  # at `off` it is still there
    assert sectors.next(0, 0.0, -0.4, 0.39999) is None
    player = Player(f'"right_trigger.light" = {{ {A} }}', rest="[feel.right_trigger]\nlight = { on = 0.4, off = 0.3 }")
    assert brief(player.feed(right_trigger=0.4)) == "+A"
    assert brief(player.feed(right_trigger=0.3)) == ""
    assert player.now_us == START_US


WHEEL = """
[[carousels]]
id = "wheel"
label = "Wheel"
entries = [{ layer = "shift" }]
"""


def test_a_turbo_owns_its_slot_if_what_it_does_does() -> None:
    """Otherwise the layer that it brings on would end it, and that would bring it on again."""
    slots = '"right_trigger.light" = { carousel = { id = "wheel" }, manner = "turbo" }'
    player = Player(slots, f'"right_trigger.light" = {{ {A} }}', WHEEL)
    player.feed(right_trigger=1)
    player.wait(1000)
    player.feed(right_trigger=0)
    player.wait(1000)
    assert player.engine.state().layers == ("base",)


RING = """
[[rings]]
id = "ring"
label = "Ring"
confirm = "CONFIRM"
entries = [{ label = "A", keys = ["KEY_A"], manner = "turbo" }, { label = "B", keys = ["KEY_B"] }]
"""


@pytest.mark.parametrize("confirm", ["enter", "click"])
def test_stopping_cuts_what_a_ring_has_begun(confirm: str) -> None:
    player = Player('right_stick = { ring = "ring" }', rest=RING.replace("CONFIRM", confirm))
    player.feed(right_stick__y=0.0)
    player.feed(right_stick__y=-1.0, right_stick__click=1)
    assert brief(player.stop()) == "-A"
    assert player.wait(1000) == [] and player.engine.state().down == ()


def test_a_toggle_of_a_layer_that_others_are_based_on_has_one_state() -> None:
    rest = f'[[layers]]\nid = "third"\nlabel = "Third"\nbased_on = "shift"\n[layers.slots]\nwest = {{ {B} }}\n'
    slots = 'left_shoulder = { layer = "shift" }\nright_shoulder = { layer = "third" }'
    player = Player(slots, f'south = {{ {A}, manner = "toggle" }}', rest)
    player.feed(left_shoulder=1, south=1)
    player.feed(left_shoulder=0, south=0)
    player.feed(right_shoulder=1, south=1)
    assert brief(player.outputs) == "+A -A"


def test_two_slots_that_toggle_the_same_move_share_its_state() -> None:
    walk = '{ move = "walk", manner = "toggle" }'
    player = Player(f"south = {walk}\neast = {walk}")
    for slot in ("south", "east"):
        player.feed(**{slot: 1.0})
        player.feed(**{slot: 0.0})
    assert brief(player.outputs) == "+W -W"
    assert player.engine.state().toggles == ()


def test_where_a_carousel_stands_outlives_pauses_reconnection_and_edits() -> None:
    player = Player('south = { carousel = { id = "tools" } }', rest=CAROUSEL.replace("1000", "0"))
    player.feed(south=1)
    player.feed(south=0)
    player.stop()
    player.engine.resume(player.now_us)
    player.engine.forget_pad(player.now_us)
    player.engine.resume(player.now_us)
    assert player.engine.state().carousels == {"tools": 1}
    shorter = CAROUSEL.replace(', { keys = ["KEY_3"] }', "").replace("1000", "0")
    for rest, stands in ((CAROUSEL.replace("1000", "0"), 1), (shorter, 1)):
        profile = parse_profile(profile_text('south = { carousel = { id = "tools" } }', rest=rest))
        player.engine.replace(Program(profile), player.now_us)
        assert player.engine.state().carousels == {"tools": stands}
    player.feed(south=1)
    assert player.engine.state().carousels == {"tools": 0}


def test_hasty_presses_are_seen_one_after_the_other_and_no_more_than_can_be_followed() -> None:
    player = Player(f"south = {{ {A} }}", shortest_ms=20)
    for _ in range(10):
        player.feed(south=1)
        player.wait(1)
        player.feed(south=0)
        player.wait(1)
    player.wait(500)
    downs = [output for output in player.outputs if isinstance(output, Key) and output.down]
    times = [output.t_us for output in player.outputs]
    assert 2 <= len(downs) <= 4
    assert all(after - before >= 20_000 for before, after in pairwise(times))
    assert player.engine.state().down == ()


def test_one_seats_stop_leaves_the_tap_of_another_its_time() -> None:
    ledger = Ledger()
    mine, yours = (Player(f"south = {{ {A if here else B} }}", shortest_ms=20, ledger=ledger) for here in (True, False))
    for player in (mine, yours):
        player.feed(south=1)
        player.feed(south=0)
    assert brief(mine.stop()) == "-A"
    assert brief(yours.wait(30)) == "-B"


TEXTS = """
[[moves]]
id = "say"
label = "Say"
text = "Ab!cD"
[[sequences]]
id = "text"
label = "Text"
steps = [{ text = "Ab!cD" }]
[[sequences]]
id = "move"
label = "Move"
steps = [{ move = "say" }]
"""


@pytest.mark.parametrize(
    "says", ['move = "say"', 'move = "say", manner = "once"', 'sequence = "text"', 'sequence = "move"']
)
@pytest.mark.parametrize("shortest_ms", [0, 20, 60])
def test_text_is_typed_as_it_is_written(shortest_ms: int, says: str) -> None:
    """Also where keys must be down for long, and while another slot holds Shift."""
    player = Player(f'south = {{ {says} }}\neast = {{ keys = ["KEY_LEFTSHIFT"] }}', rest=TEXTS, shortest_ms=shortest_ms)
    player.feed(east=1)
    player.wait(100)
    player.feed(south=1)
    typed = TypedText(us_layout)
    player.wait(3000)
    typed.take(player.outputs)
    assert typed.text == "Ab!cD"
    assert typed.down == ["KEY_LEFTSHIFT"]
    assert brief(player.feed(east=0)) == "-LEFTSHIFT"


def test_what_comes_exactly_at_its_limit_is_in_time() -> None:
    double = f"south = {{ tap = {{ {A} }}, double_tap = {{ {B}, within_ms = 100 }} }}"
    player = Player(double)
    player.feed(south=1)
    player.feed(south=0)
    player.wait(100)
    assert brief(player.feed(south=1)) == "+B"
    together = f'south = {{ {A} }}\n[[layers.together]]\nslots = ["south", "east"]\nwithin_ms = 60\n{B}'
    player = Player(together)
    player.feed(south=1)
    player.wait(60)
    assert brief(player.feed(east=1)) == "+B"


def test_a_hold_that_may_have_a_partner_counts_from_the_press() -> None:
    slots = f"south = {{ tap = {{ {A} }}, hold = {{ {B}, after_ms = 200 }}, tap_ms = 150 }}"
    player = Player(f'{slots}\n[[layers.together]]\nslots = ["south", "east"]\nwithin_ms = 60\nkeys = ["KEY_C"]')
    player.feed(south=1)
    assert brief(player.wait(199)) == "" and brief(player.wait(2)) == "+B"
    assert brief(player.feed(south=0)) == "-B"
    player.feed(south=1)
    player.wait(180)  # beside a hold, what ends before it is a tap
    assert brief(player.feed(south=0)) == "+A -A"


def test_two_together_are_one_gesture_in_any_order_and_silenced_by_silencing_both() -> None:
    pair = '[[layers.together]]\nslots = ["south", "east"]\nkeys = ["KEY_C"]'
    layered = Player(f'west = {{ layer = "shift" }}\n{pair}', f'[[layers.together]]\nslots = ["east", "south"]\n{B}')
    layered.feed(west=1)
    layered.feed(south=1)
    assert brief(layered.feed(east=1)) == "+B"
    assert brief(layered.wait(200)) == "" and brief(layered.feed(south=0, east=0)) == "-B"
    both = "south = { silence = true }\neast = { silence = true }"
    for silent, expected in ((both, ""), ("south = { silence = true }", "+C"), (f"{both}\n{pair}", "+C")):
        player = Player(f'west = {{ layer = "shift" }}\n{pair}', silent)
        player.feed(west=1)
        player.feed(south=1)
        assert brief(player.feed(east=1) + player.wait(100)) == expected
    whole = Player(
        'west = { layer = "shift" }\n' + pair.replace("east", "left_stick.up"), "left_stick = { pointer = {} }"
    )
    whole.feed(west=1)
    whole.feed(south=1)
    assert "+C" not in brief(whole.feed(left_stick__y=-1.0))
    for order, twice in (("any", True), ("given", False)):
        doubled = "\n".join(
            f'[[layers.together]]\nslots = {slots}\norder = "{order}"\n{B}'
            for slots in ('["south", "east"]', '["east", "south"]')
        )
        if twice:
            with pytest.raises(ProfileError, match=r"together\[1\].slots: is the same as together\[0\]"):
                Player(doubled)
        else:
            Player(doubled)
