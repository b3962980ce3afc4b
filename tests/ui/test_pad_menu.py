"""The menu on the screen: worked by every made-up pad, and by a real one of them above a game that gets nothing."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from nub_shift.demo.games import demo_profile_text
from nub_shift.model.controls import WAYS
from nub_shift.model.pad.pad_menu import BACK, DO, opener_of
from nub_shift.model.profile.activation import ActivationRules, Front, Rule
from nub_shift.pads.made_up.shapes import SIMULATED, simulated_pad
from nub_shift.protocol.calls import OpenMenu, SetLive, StayOn, SwitchGyro
from nub_shift.protocol.messages import PadState, SeatState, State
from nub_shift.runner.seats.pad_menu import HOLD_US, PadMenu
from nub_shift.store.profile_files import parse_profile
from nub_shift.ui.signs.menu import ChangeSpeed, Kind, Menu, PlayProfile, Titled, ordered
from nub_shift.ui.signs.pad_menus import hints
from tests.runner.resident import until
from tests.ui.test_signs import Playing, Shown

OTHERS = [Titled("Tidefold", Path("/t.toml"), ActivationRules()), Titled("Keeper", Path("/k.toml"), ActivationRules())]


def opened(controls: tuple[str, ...] = ("motion",), file: str = "/k.toml", gyro: bool = True) -> Menu:
    """The menu of a demo profile."""
    seat = SeatState("Keeper", PadState("Tern", controls), ("base",), (), file=file)
    state = State(6, "0", True, "print", (seat,), (), wanted=True)
    text = demo_profile_text("dustwake") + "\n"
    return Menu(0, state, parse_profile(text), OTHERS, gyro)


@pytest.mark.parametrize("shape", SIMULATED)
def test_every_made_up_pad_opens_the_menu_and_reaches_all_of_it(shape: str) -> None:
    controls = simulated_pad(shape, 0).controls
    opener = opener_of(controls)
    pad = PadMenu(controls)
    pad.watch({opener: 1.0}, 0, in_menu=False)
    assert not pad.take(HOLD_US - 1) and pad.take(HOLD_US)
    pad.open({opener: 1.0})
    pad.steer({opener: 0.0})
    for channel in [*pad._buttons, *pad._sticks]:
        for value in (1.0, 0.0, -1.0, 0.0) if channel in pad._sticks else (1.0, 0.0):
            pad.steer({channel: value})
    assert pad.pressed == ()
    assert set(pad.counts) >= {*WAYS, DO, BACK}
    assert "Stop everything" in hints(PadState("pad", controls))[-1]


def test_with_four_ways_and_one_button_all_of_it_is_done() -> None:
    menu = opened()
    kinds = [row.kind for row in menu.rows]
    assert kinds == list(Kind)
    assert menu.press("right") == [] and menu.rows[0].value == "Tidefold"
    assert menu.press(DO) == [PlayProfile(Path("/t.toml")), OpenMenu(False)]
    menu.press("down")
    assert menu.press(DO) == [SetLive(False)]
    menu.press("down")
    menu.press("left")
    assert menu.rows[2].value == "Aim"
    menu.press("down")
    (slower,) = menu.press("left")
    assert isinstance(slower, ChangeSpeed) and slower.factor == pytest.approx(0.9)
    menu.press("down")
    (further,) = menu.press(DO)
    assert isinstance(further, ChangeSpeed) and further.factor == pytest.approx(1.1)
    menu.press("down")
    assert menu.press(DO) == [SwitchGyro(False)] and menu.rows[5].value == "Off"
    menu.press("down")
    assert menu.press(DO) == [StayOn("aim"), OpenMenu(False)] == menu.press(BACK)
    menu.press("down")
    assert menu.index == 0, "it goes round"


def test_profiles_of_the_game_in_front_come_first() -> None:
    with_rule = Titled("Zenith", Path("/z.toml"), ActivationRules(rules=(Rule(window="zenith"),)))
    found = ordered([*OTHERS, with_rule], Front(1, ("Zenith",)), 0)
    assert [profile.title for profile in found] == ["Zenith", "Keeper", "Tidefold"]


def test_a_stick_that_is_held_is_one_press_and_a_way_that_is_held_on_opening_none() -> None:
    pad = PadMenu(("left_stick", "dpad", "south", "home"))
    pad.watch({"home": 1.0}, 0, in_menu=False)
    pad.open({"home": 1.0, "left_stick.y": -1.0})
    for values in ({"home": 1.0, "left_stick.y": -0.9}, {"home": 0.0}, {"left_stick.y": 0.0}):
        assert not pad.steer(values)
    for x in (0.3, 0.7, 0.5, 0.8):
        pad.steer({"left_stick.x": x})
    assert (pad.counts, pad.pressed) == ({"right": 1}, ("right",))
    pad.steer({"left_stick.x": 0.2})
    pad.steer({"left_stick.x": -0.9})
    assert pad.counts == {"right": 1, "left": 1}


@pytest.fixture
def playing(tmp_path: Path, x_server: str) -> Iterator[Playing]:
    games = {game: demo_profile_text(game) for game in ("saltglass", "tidefold")}
    made = Playing(tmp_path, games, DISPLAY=x_server)
    yield made
    made.end()


def tap(playing: Playing, **values: float) -> None:
    """A press and its release, as long as a hand takes."""
    for held in (values, {}):
        playing.press(**held)
        time.sleep(0.03)


def test_from_the_sofa_a_speed_a_layer_and_a_profile_while_the_game_gets_nothing(
    playing: Playing, x_server: str
) -> None:
    shown = Shown(x_server)
    until(shown.panes)
    until(lambda: not shown.panes())
    path = playing.home.profiles / "saltglass.toml"
    before = parse_profile(path.read_text())
    playing.press(left_stick__y=-1.0, home=1.0)
    playing.home.await_state(lambda state: bool(state.down))
    until(lambda: any(width > 300 for width, _ in shown.sizes()))
    playing.press()
    assert playing.home.call().down == ()
    tap(playing, dpad__down=1.0)
    tap(playing, dpad__down=1.0)
    tap(playing, left_stick__x=1.0)
    tap(playing, dpad__down=1.0)
    tap(playing, dpad__right=1.0)
    until(lambda: parse_profile(path.read_text()) != before)
    assert playing.home.call().down == ()
    tap(playing, east=1.0)
    playing.home.await_state(lambda state: state.seats[0].layers == ("base", "lamp"))
    until(lambda: not any(width > 300 for width, _ in shown.sizes()))
    playing.press(south=1.0)
    playing.home.await_state(lambda state: bool(state.down))
    playing.press(home=1.0)
    until(lambda: any(width > 300 for width, _ in shown.sizes()))
    playing.press()
    tap(playing, dpad__right=1.0)
    tap(playing, south=1.0)
    state = playing.home.await_state(lambda state: state.seats[0].title == "Tidefold")
    assert state.down == ()
    shown.display.close()
