"""Reactions, manners and effects in time, as a table: a sentence, a profile, and what follows each step.

A step is a frame (channel values) or a wait (milliseconds); beside it stands what comes out, each output with the
milliseconds since the last step.
"""

from __future__ import annotations

import pytest

from nub_shift.engine.values import Key, Output
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.reactions import Reaction, waiting_ms
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import Player, brief, profile_text

A, B, C = 'keys = ["KEY_A"]', 'keys = ["KEY_B"]', 'keys = ["KEY_C"]'
DOWN, UP = {"south": 1.0}, {"south": 0.0}
EAST, EAST_UP = {"east": 1.0}, {"east": 0.0}

Step = tuple[dict[str, float] | float, str]

TABLE: list[tuple[str, str, str, list[Step]]] = [
    (
        "a hold starts after its time and lasts until release; a short press is the tap",
        f"south = {{ tap = {{ {A} }}, hold = {{ {B}, after_ms = 200 }} }}",
        "",
        [
            (DOWN, ""),
            (150, ""),
            (UP, "0:+A 0:-A"),
            (DOWN, ""),
            (500, "200:+B"),
            (UP, "0:-B"),
        ],
    ),
    (
        "a press beside a hold does not wait",
        f"south = {{ {A}, hold = {{ {B}, after_ms = 200 }} }}",
        "",
        [(DOWN, "0:+A"), (300, "200:+B"), (UP, "0:-B 0:-A")],
    ),
    (
        "a hold can fire once",
        f'south = {{ hold = {{ {B}, manner = "once", after_ms = 100 }} }}',
        "",
        [(DOWN, ""), (300, "100:+B 100:-B"), (UP, "")],
    ),
    (
        "a tap without other reactions must be short",
        f"south = {{ tap = {{ {A} }}, tap_ms = 100 }}",
        "",
        [(DOWN, ""), (100, ""), (UP, "0:+A 0:-A"), (DOWN, ""), (101, ""), (UP, "")],
    ),
    (
        "a tap waits for a second one only as long as a double tap may come",
        f"south = {{ tap = {{ {A} }}, double_tap = {{ {B}, within_ms = 150 }} }}",
        "",
        [
            (DOWN, ""),
            (50, ""),
            (UP, ""),
            (400, "150:+A 150:-A"),
            (DOWN, ""),
            (50, ""),
            (UP, ""),
            (100, ""),
            (DOWN, "0:+B"),
            (300, ""),
            (UP, "0:-B"),
            (400, ""),
        ],
    ),
    (
        "a third tap is a first one again",
        f"south = {{ tap = {{ {A} }}, double_tap = {{ {B}, within_ms = 150 }} }}",
        "",
        [
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, "0:+B"), (UP, "0:-B"),
            (50, ""), (DOWN, ""), (UP, ""), (200, "150:+A 150:-A"),
        ],
    ),
    (
        "tap, hold and double tap live together on one slot",
        f"south = {{ tap = {{ {A} }}, hold = {{ {B}, after_ms = 200 }}, double_tap = {{ {C}, within_ms = 100 }} }}",
        "",
        [
            (DOWN, ""), (250, "200:+B"), (UP, "0:-B"), (200, ""),
            (DOWN, ""), (50, ""), (UP, ""), (50, ""), (DOWN, "0:+C"), (400, ""), (UP, "0:-C"), (200, ""),
            (DOWN, ""), (50, ""), (UP, ""), (200, "100:+A 100:-A"),
        ],
    ),
    (
        "a release reaction fires when the slot is let go",
        f"south = {{ {A}, release = {{ {B} }} }}",
        "",
        [(DOWN, "0:+A"), (50, ""), (UP, "0:-A 0:+B 0:-B")],
    ),
    (
        "one, two and three taps, each waiting only as long as another may come",
        f"south = {{ tap = {{ {A} }}, double_tap = {{ {B}, within_ms = 150 }}, "
        f"triple_tap = {{ {C}, within_ms = 100 }}, tap_ms = 200 }}",
        "",
        [
            (DOWN, ""), (UP, ""), (400, "150:+A 150:-A"),
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, ""), (UP, ""), (400, "100:+B 100:-B"),
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, ""), (UP, ""), (50, ""), (DOWN, "0:+C"), (300, ""), (UP, "0:-C"),
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, ""), (400, "200:+B"), (UP, "0:-B"), (400, ""),
        ],
    ),
    (
        "two taps where there are only one and three are two of one; a second press that is held is a hold",
        f"south = {{ tap = {{ {A} }}, hold = {{ {B}, after_ms = 200 }}, triple_tap = {{ {C}, within_ms = 100 }} }}",
        "",
        [
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, ""), (UP, ""), (400, "100:+A 100:-A 100:+A 100:-A"),
            (DOWN, ""), (UP, ""), (50, ""), (DOWN, ""), (400, "200:+A 200:-A 200:+B"), (UP, "0:-B"), (400, ""),
        ],
    ),
    (
        "a longer hold takes the place of the first",
        f"south = {{ tap = {{ {A} }}, hold = {{ {B}, after_ms = 200 }}, long_hold = {{ {C}, after_ms = 500 }} }}",
        "",
        [(DOWN, ""), (400, "200:+B"), (200, "100:+C 100:-B"), (UP, "0:-C"), (DOWN, ""), (UP, "0:+A 0:-A")],
    ),
    (
        "on release only after a hold",
        f"south = {{ {A}, release = {{ {B}, after_ms = 300 }} }}",
        "",
        [(DOWN, "0:+A"), (299, ""), (UP, "0:-A"), (DOWN, "0:+A"), (300, ""), (UP, "0:-A 0:+B 0:-B")],
    ),
    (
        "two slots together may be tapped, held and tapped twice",
        "",
        '[[layers.together]]\nslots = ["south", "east"]\ntap_ms = 150\n'
        f"tap = {{ {A} }}\nhold = {{ {B}, after_ms = 300 }}\ndouble_tap = {{ {C}, within_ms = 200 }}",
        [
            (DOWN, ""), (20, ""), (EAST, ""), (50, ""), (UP, ""), (EAST_UP, ""), (400, "200:+A 200:-A"),
            (EAST, ""), (30, ""), (DOWN, ""), (400, "300:+B"), (EAST_UP, "0:-B"), (UP, ""),
            (DOWN, ""), (EAST, ""), (50, ""), (UP, ""), (EAST_UP, ""), (100, ""),
            (DOWN, ""), (EAST, "0:+C"), (50, ""), (UP, "0:-C"), (EAST_UP, ""), (400, ""),
        ],
    ),
    (
        "two slots together do what neither does alone, whichever comes first",
        f"south = {{ {A} }}\neast = {{ {B} }}",
        f'[[layers.together]]\nslots = ["south", "east"]\nwithin_ms = 60\n{C}',
        [
            (DOWN, ""), (30, ""), (EAST, "0:+C"), (100, ""), (UP, "0:-C"), (EAST_UP, ""),
            (EAST, ""), (59, ""), (DOWN, "0:+C"), (EAST_UP, "0:-C"), (UP, ""),
            (DOWN, ""), (100, "60:+A"), (EAST, ""), (100, "60:+B"), (UP, "0:-A"), (EAST_UP, "0:-B"),
            (DOWN, ""), (10, ""), (UP, "0:+A 0:-A"),
        ],
    ),
    (
        "a toggle goes on with one press and off with the next",
        f'south = {{ {A}, manner = "toggle" }}',
        "",
        [(DOWN, "0:+A"), (UP, ""), (900, ""), (DOWN, "0:-A"), (UP, "")],
    ),
    (
        "once is over at once",
        f'south = {{ {A}, manner = "once" }}',
        "",
        [(DOWN, "0:+A 0:-A"), (900, ""), (UP, "")],
    ),
    (
        "turbo presses at once and ends with a whole press",
        f'south = {{ {A}, manner = "turbo", rate_hz = 10, duty = 0.4 }}',
        "",
        [(DOWN, "0:+A"), (215, "40:-A 100:+A 140:-A 200:+A"), (UP, ""), (500, "25:-A")],
    ),
    (
        "turbo that is let go between two presses is over",
        f'south = {{ {A}, manner = "turbo", rate_hz = 10, duty = 0.4 }}',
        "",
        [(DOWN, "0:+A"), (60, "40:-A"), (UP, ""), (500, "")],
    ),
    (
        "turbo turns the wheel by clicks",
        'south = { wheel = "up", manner = "turbo", rate_hz = 20 }',
        "",
        [(DOWN, "0:wheel(0,120)"), (110, "50:wheel(0,120) 100:wheel(0,120)"), (UP, "")],
    ),
    (
        "a pulse is down for as much of each period as the trigger is pulled",
        f'"right_trigger.light" = {{ {A}, manner = "pulse", rate_hz = 10 }}',
        "",
        [
            ({"right_trigger": 0.625}, "0:+A"),  # half of the way from where it ends, 0.25
            (110, "50:-A 100:+A"),
            ({"right_trigger": 1.0}, ""),
            (300, "40:-A 90:+A"),
            ({"right_trigger": 0.0}, "0:-A"),
        ],
    ),
    (
        "a sequence presses, waits, taps and releases in its time",
        'south = { sequence = "combo" }',
        """[[sequences]]
id = "combo"
label = "Combo"
steps = [{ press = ["KEY_A"] }, { wait_ms = 30 }, { tap = ["KEY_B"] }, { release = ["KEY_A"] }]""",
        [(DOWN, "0:+A"), (UP, ""), (100, "30:+B 50:-B 65:-A")],
    ),
    (
        "text is typed key by key, with shift where it is needed",
        'south = { sequence = "say" }',
        '[[sequences]]\nid = "say"\nlabel = "Say"\nsteps = [{ text = "aB" }]',
        [(DOWN, "0:+A"), (100, "20:-A 35:+LEFTSHIFT 35:+B 55:-B 55:-LEFTSHIFT")],
    ),
    (
        "a sequence that runs while held is cut short and releases what it pressed",
        'south = { sequence = "walk" }',
        """[[sequences]]
id = "walk"
label = "Walk"
runs = "while_held"
steps = [{ press = ["KEY_A"] }, { wait_ms = 100 }, { release = ["KEY_A"] }, { wait_ms = 100 }]""",
        [(DOWN, "0:+A"), (350, "100:-A 220:+A 320:-A"), (UP, ""), (500, ""), (DOWN, "0:+A"), (50, ""), (UP, "0:-A")],
    ),
    (
        "a sequence runs on until it is pressed again",
        'south = { sequence = "drum" }',
        """[[sequences]]
id = "drum"
label = "Drum"
runs = "until_pressed"
steps = [{ tap = ["KEY_A"] }, { wait_ms = 45 }]""",
        [(DOWN, "0:+A"), (UP, ""), (110, "20:-A 100:+A"), (DOWN, "0:-A"), (UP, ""), (500, "")],
    ),
    (
        "a carousel has one position for forward and back, and follows when an entry is picked directly",
        """south = { carousel = { id = "tools" } }
east = { carousel = { id = "tools", step = "back" } }
north = { keys = ["KEY_3"] }
west = { carousel = { id = "tools", step = "first" } }""",
        """[[carousels]]
id = "tools"
label = "Tools"
entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }, { keys = ["KEY_3"] }]""",
        [
            (DOWN, "0:+2"), (UP, "0:-2"), (EAST, "0:+1"), (EAST_UP, "0:-1"), (EAST, "0:+3"), (EAST_UP, "0:-3"),
            ({"west": 1.0}, "0:+1"), ({"west": 0.0}, "0:-1"),
            ({"north": 1.0}, "0:+3"), ({"north": 0.0}, "0:-3"), (DOWN, "0:+1"), (UP, "0:-1"),
        ],
    ),
    (
        "a carousel can stop at its ends, and fall back to the first after a rest",
        'south = { carousel = { id = "t" } }',
        """[[carousels]]
id = "t"
label = "T"
wrap = false
rest_ms = 500
entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }]""",
        [(DOWN, "0:+2"), (UP, "0:-2"), (DOWN, "0:+2"), (UP, "0:-2"), (600, ""), (DOWN, "0:+2"), (UP, "0:-2")],
    ),
    (
        "a layer is toggled",
        f'left_shoulder = {{ layer = "shift", manner = "toggle" }}\nsouth = {{ {A} }}',
        "",
        [
            ({"left_shoulder": 1.0}, ""), ({"left_shoulder": 0.0}, ""), (DOWN, "0:+X"), (UP, "0:-X"),
            ({"left_shoulder": 1.0}, ""), ({"left_shoulder": 0.0}, ""), (DOWN, "0:+A"), (UP, "0:-A"),
        ],
    ),
    (
        "a layer comes to stay, and next goes round",
        f'left_shoulder = {{ next = ["base", "shift"] }}\nright_shoulder = {{ stay = "shift" }}\nsouth = {{ {A} }}',
        "",
        [
            ({"left_shoulder": 1.0}, ""), (DOWN, "0:+X"), (UP, "0:-X"), ({"left_shoulder": 0.0}, ""),
            ({"left_shoulder": 1.0}, ""), (DOWN, "0:+A"), (UP, "0:-A"),
            ({"right_shoulder": 1.0}, ""), ({"right_shoulder": 0.0}, ""), (DOWN, "0:+X"), (UP, "0:-X"),
        ],
    ),
    (
        "a nudge moves the pointer at once, a profile is wanted by the pad",
        'south = { nudge = { x = 5, y = -3 } }\neast = { profile = "Other game" }',
        "",
        [(DOWN, "0:<5,-3>"), (UP, ""), (EAST, "0:profile(Other game)")],
    ),
    (
        "a pace slows the pointer while it is held",
        'south = { pace = 0.5 }\nright_stick = { pointer = { x = 1000, y = 0 } }',
        "",
        [
            ({"right_stick.x": 1.0}, ""), (2, "1:<1,0> 2:<1,0>"), (DOWN, ""), (4, "2:<1,0> 4:<1,0>"), (UP, ""),
            (1, "1:<1,0>"),
        ],
    ),
    (
        "a glide moves the pointer as fast as its trigger is pulled",
        '"right_trigger.light" = { glide = { x = 1000 } }',
        "",
        [
            ({"right_trigger": 0.625}, ""), (4, "2:<1,0> 4:<1,0>"),
            ({"right_trigger": 1.0}, ""), (2, "1:<1,0> 2:<1,0>"),
            ({"right_trigger": 0.0}, ""), (20, ""),
        ],
    ),
    (
        "a glide that is toggled goes on at full speed",
        'south = { glide = { y = -1000 }, manner = "toggle" }',
        "",
        [(DOWN, ""), (1, "1:<0,-1>"), (UP, ""), (2, "1:<0,-1> 2:<0,-1>"), (DOWN, ""), (20, "")],
    ),
    (
        "the wheel turns smoothly while a scroll is held",
        "south = { scroll = { y = -100 } }",
        "",
        [(DOWN, ""), (2, "1:wheel(0,-12) 2:wheel(0,-12)"), (UP, ""), (100, "")],
    ),
    (
        "a hold that brings a layer on counts from its own time",
        f'left_shoulder = {{ hold = {{ layer = "shift", after_ms = 100 }} }}\n"left_stick.up" = {{ {A} }}',
        "",
        [
            ({"left_stick.y": -1.0}, "0:+A"), ({"left_shoulder": 1.0}, ""), (150, "100:+Y 100:-A"),
            ({"left_shoulder": 0.0}, "0:+A 0:-Y"),
        ],
    ),
]  # fmt: skip

TABLE += [
    (
        f"a sequence that is started again while it runs: {again}",
        'south = { sequence = "s" }',
        f"""[[sequences]]
id = "s"
label = "S"
again = "{again}"
steps = [{{ press = ["KEY_A"] }}, {{ wait_ms = 100 }}]""",
        [(DOWN, "0:+A"), (UP, ""), (40, ""), (DOWN, second), (UP, ""), (300, rest)],
    )
    for again, second, rest in (
        ("ignore", "", "60:-A"),
        ("restart", "0:-A 0:+A", "100:-A"),
        ("queue", "", "60:-A 80:+A 180:-A"),
        ("overlap", "", "100:-A"),
    )
]

SHIFT_SLOTS = 'south = { keys = ["KEY_X"] }\n"left_stick.up" = { keys = ["KEY_Y"] }'


def timed(outputs: list[Output], since_us: int) -> str:
    """Outputs with the milliseconds since the last step."""
    return " ".join(f"{round((output.t_us - since_us) / 1000, 2):g}:{brief([output])}" for output in outputs)


@pytest.mark.parametrize(("slots", "rest", "steps"), [row[1:] for row in TABLE], ids=[row[0] for row in TABLE])
def test_reactions_manners_and_effects(slots: str, rest: str, steps: list[Step]) -> None:
    # What belongs to the base layer must stand before the next layer.
    base, later = (f"{slots}\n{rest}", "") if "layers.together" in rest else (slots, rest)
    player = Player(base, SHIFT_SLOTS, later)
    for number, (step, expected) in enumerate(steps, 1):
        since_us = player.now_us
        if isinstance(step, dict):
            made = player.feed(**{name.replace(".", "__"): value for name, value in step.items()})
        else:
            made = player.wait(step)
        assert timed(made, since_us) == expected, f"step {number}: {step}"
    player.stop()
    assert player.engine.state().down == ()
    assert player.engine.deadline() is None


def test_the_waiting_that_reactions_cost_is_told() -> None:
    slot = (
        f"south = {{ {A}, tap = {{ {B} }}, hold = {{ {C}, after_ms = 180 }}, double_tap = {{ {A}, within_ms = 90 }} }}"
    )
    base = parse_profile(profile_text(f"{slot}\neast = {{ tap = {{ {B} }} }}")).layers[0]
    assert waiting_ms(base.slots["south"]) == {
        Reaction.PRESS: 0,
        Reaction.TAP: 90,
        Reaction.HOLD: 180,
        Reaction.DOUBLE_TAP: 0,
    }
    assert waiting_ms(base.slots["east"]) == {Reaction.TAP: 0}


def test_a_key_is_never_down_too_shortly_to_be_seen() -> None:
    player = Player(f"south = {{ {A} }}", shortest_ms=20)
    start_us = player.now_us
    player.feed(south=1)
    player.wait(5)
    player.feed(south=0)
    player.wait(3)
    player.feed(south=1)  # pressed again before the first press could be seen
    player.wait(50)
    player.feed(south=0)
    player.wait(10)
    assert timed(player.outputs, start_us) == "0:+A 20:-A 40:+A 60:-A"
    player.feed(south=1)
    player.feed(south=0)
    assert timed(player.wait(100), player.now_us - 100_000) == "12:+A 32:-A"


def test_stopping_in_the_middle_of_everything_leaves_nothing_behind() -> None:
    slots = f"""
south = {{ {A}, manner = "turbo" }}
east = {{ {B}, manner = "toggle" }}
north = {{ tap = {{ {C} }}, hold = {{ layer = "shift" }}, double_tap = {{ {A} }} }}
west = {{ sequence = "s" }}
start = {{ pace = 0.5, manner = "toggle" }}
select = {{ scroll = {{ y = 5 }} }}
left_shoulder = {{ stay = "shift" }}"""
    rest = '[[sequences]]\nid = "s"\nlabel = "S"\nsteps = [{ press = ["KEY_D"] }, { wait_ms = 999 }]'
    player = Player(slots, "", rest, shortest_ms=20)
    player.feed(south=1, east=1, north=1, west=1, start=1, select=1, left_shoulder=1)
    player.wait(333)
    player.stop()
    state = player.engine.state()
    assert (state.down, state.layers, state.toggles) == ((), ("base",), ())
    assert player.engine.deadline() is None


LAYERS = """
[[layers]]
id = "near"
label = "Near"
based_on = "shift"
pace = 0.5
[layers.slots]
east = { keys = ["KEY_N"] }
"""


def test_a_layer_that_is_based_on_another_differs_where_it_says_so() -> None:
    slots = 'left_shoulder = { layer = "near" }\nright_stick = { pointer = { x = 1000, y = 0 } }'
    player = Player(slots, 'south = { keys = ["KEY_X"] }\neast = { keys = ["KEY_Y"] }', LAYERS)
    player.feed(left_shoulder=1)
    assert brief(player.feed(south=1, east=1)) == "+X +N"
    player.feed(right_stick__x=1)
    assert brief(player.wait(4)) == "<1,0> <1,0>"
    player.feed(left_shoulder=0)
    assert brief(player.wait(2)) == "<1,0> <1,0>"


@pytest.mark.parametrize(
    ("old", "new", "part"),
    [
        ('based_on = "shift"', 'based_on = "no"', "layers.near.based_on: there is no layer 'no' to be based on"),
        ('based_on = "shift"', 'based_on = "base"', "there is no layer 'base' to be based on"),
        ('based_on = "shift"', 'based_on = "near"', "goes round in a circle: near → near"),
        ("pace = 0.5", "pace = 0", "layers.near.pace: 0 does not fit, expected a factor from 0.01 to 20"),
    ],
)
def test_a_basis_must_be_there_and_go_nowhere_round(old: str, new: str, part: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_profile(profile_text("", "", LAYERS.replace(old, new)))
    assert part in str(caught.value)


def test_after_a_pause_the_layer_that_stayed_and_regained_toggles_come_back() -> None:
    slots = f"""
south = {{ {A}, manner = "toggle", regain = true }}
east = {{ {B}, manner = "toggle" }}
left_shoulder = {{ stay = "shift" }}"""
    player = Player(slots)
    player.feed(south=1, east=1, left_shoulder=1)
    player.feed(south=0, east=0, left_shoulder=0)
    assert set(player.engine.state().toggles) == {"south", "east"}
    player.stop()
    assert brief(player.engine.resume(player.now_us)) == "+A"
    assert player.engine.state().layers == ("base", "shift")
    assert brief(player.feed(south=1)) == "-A"


def test_a_toggle_that_the_person_has_switched_on_meanwhile_is_not_regained_as_well() -> None:
    player = Player(f'south = {{ {A}, manner = "toggle", regain = true }}')
    player.feed(south=1)
    player.feed(south=0)
    assert brief(player.engine.leave_game(player.now_us)) == "-A"
    assert brief(player.feed(south=1)) == "+A"
    player.feed(south=0)
    assert brief(player.engine.regain_game(player.now_us)) == ""
    assert brief(player.feed(south=1)) == "-A"


def test_timers_do_not_make_up_for_a_gap() -> None:
    player = Player(f'south = {{ {A}, manner = "turbo", rate_hz = 10 }}')
    player.feed(south=1)
    player.now_us += 60_000_000
    assert brief(player.engine.advance(player.now_us)) == "-A"
    assert timed(player.wait(60), player.now_us - 60_000) == "50:+A"


@pytest.mark.parametrize(
    ("slots", "rest", "part"),
    [
        ("south = { tap = {} }", "", "slots.south.tap: says nothing, give exactly one of"),
        (f"south = {{ {A}, pace = 2 }}", "", "slots.south: keys and pace stand together"),
        (f"south = {{ silence = true, tap = {{ {A} }} }}", "", "silence and tap stand together, silence stands alone"),
        ('south = { layer = "shift", manner = "turbo" }', "", "manner: layer cannot be kept up as turbo"),
        ('south = { sequence = "none" }', "", "there is no sequence 'none', there is none yet"),
        ('south = { carousel = { id = "none" } }', "", "there is no carousel 'none'"),
        ('south = { next = ["shift", "no"] }', "", "south.next: there is no layer 'no'"),
        (f'south = {{ {A}, manner = "wild" }}', "", '"wild" does not fit, expected "held" or "once" or "toggle"'),
        (f"south = {{ {A}, rate_hz = 99 }}", "", "99 does not fit, expected times a second, from 1 to 60"),
        ("", '[[sequences]]\nid = "s"\nlabel = "S"\nsteps = []', "sequences.s.steps: there are 0, expected 1 to 200"),
        ("", '[[sequences]]\nid = "s"\nlabel = "S"\nsteps = [{}]', "sequences.s.steps[0]: says nothing, give exactly"),
        ("", '[[sequences]]\nid = "s"\nlabel = "S"\nsteps = [{text = "é"}]', "the keyboard layout us cannot type é"),
        (
            "",
            '[[carousels]]\nid = "c"\nlabel = "C"\nentries = [{ carousel = { id = "c" } }]',
            "carousels.c.entries[0]: a carousel steps a carousel",
        ),
        (f'[[layers.together]]\nslots = ["south", "soth"]\n{A}', "", "'soth' is no slot that is pressed, did you mean"),
        (
            f"south = {{ hold = {{ {A} }}, long_hold = {{ {A}, after_ms = 300 }} }}",
            "",
            "long_hold.after_ms: is no longer than the hold, expected more than 300",
        ),
        (
            f'[[layers.together]]\nslots = ["south"]\n{A}',
            "",
            "together[0].slots: a list of 1 does not fit, expected a list of two or three slots",
        ),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(slots: str, rest: str, part: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_profile(profile_text(slots, "", rest))
    assert part in str(caught.value)


def test_no_profile_floods_the_system() -> None:
    storm = ", ".join(f'{{ press = ["KEY_{key}"] }}, {{ release = ["KEY_{key}"] }}' for key in "ABCDEFGH" * 12)
    rest = f'[[sequences]]\nid = "s"\nlabel = "S"\nruns = "while_held"\nsteps = [{storm}]'
    player = Player('south = { sequence = "s" }', "", rest)
    player.feed(south=1)
    player.wait(5_000)
    player.stop()
    downs = [output for output in player.outputs if isinstance(output, Key) and output.down]
    assert 5_000 <= len(downs) <= 5_000 + 500
    held: set[str] = set()
    for output in player.outputs:
        assert isinstance(output, Key) and (output.code in held) is not output.down
        (held.add if output.down else held.discard)(output.code)
    assert not held
