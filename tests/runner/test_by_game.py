"""The profile of the game in front plays by itself."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from Xlib import display

from nub_shift.bench.ready_library import Done, ReadyLibrary
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.activation import Front, matches_pattern
from nub_shift.protocol.calls import AssignPad, LoadProfile, PlugIn, SetLive, WorkByHand
from nub_shift.protocol.codec import Refused
from nub_shift.protocol.messages import State
from nub_shift.runner.profiles.by_game import ByGame
from nub_shift.runner.seats.seat_reports import seat_signs, seat_state
from nub_shift.store.atomic import write_text
from nub_shift.store.library import rules_in
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, brief, profile_text
from tests.runner.fakes import Bench
from tests.runner.resident import LIMIT_S, Home
from tests.xserver import window_manager

GAME = Path(__file__).parents[1] / "game_window.py"
LETTERS = st.text("aB*", max_size=8)


@given(pattern=LETTERS.filter(bool), text=LETTERS)
def test_a_star_stands_for_any_characters_and_case_for_nothing(pattern: str, text: str) -> None:
    wanted = ".*".join(re.escape(part) for part in pattern.split("*"))
    assert matches_pattern(pattern, text) is bool(text and re.fullmatch(wanted, text, re.IGNORECASE | re.DOTALL))


class Library(ReadyLibrary):
    """Profiles by their file, of which one that is called so is spoiled."""

    def __init__(self, **profiles: str) -> None:
        super().__init__({name: parse_profile(text) for name, text in profiles.items()})

    def load_file(self, file: str, done: Done) -> None:
        if self.profiles[file].title == "Spoiled":
            done(Refused(Message(Code.PROFILE_FAULTY, {"title": "Spoiled", "why": "a fault"})))
        else:
            super().load_file(file, done)


def text(title: str, rules: str = "", key: str = "KEY_X", left: str = "") -> str:
    """A profile that presses a key with `south`, and with `east` toggles another that comes back with the game."""
    slots = f'south = {{ keys = ["{key}"] }}\neast = {{ keys = ["KEY_T"], manner = "toggle", regain = true }}'
    said = f"[comes_on]\n{left}\n" + "".join(f"[[comes_on.rules]]\n{rule}\n" for rule in rules.split(";") if rule)
    return profile_text(slots, rest=said).replace('title = "Test"', f'title = "{title}"')


class Play:
    """A session of one seat, by what a library says."""

    def __init__(self, **profiles: str) -> None:
        self.bench = Bench()
        self.now_us = START_US
        self.library = Library(**profiles)
        self.by_game = ByGame(self.bench.session, self.library, self.library, (), lambda: self.now_us)
        self.bench.session.work(START_US)
        self.bench.session.switch.go(True, START_US)
        self.by_game.start()

    def front(self, window: int = 1, **said: object) -> str:
        """Another window comes to the front; the title of what is played then, in brackets if that is paused."""
        self.now_us += 1_000_000
        self.bench.session.work(self.now_us)
        self.by_game.on_front(Front(window, **said))  # type: ignore[arg-type]
        seat = seat_state(self.bench.seat)
        return f"({seat.title})" if seat.paused else seat.title

    def play(self, **values: float) -> str:
        """A frame comes; what follows from it within a second."""
        self.now_us += 1_000_000
        self.bench.output.sent.clear()
        self.bench.play(self.now_us, -1, **values)
        return brief(self.bench.output.sent)


def test_the_rule_that_says_most_counts_and_a_tie_is_told_once() -> None:
    play = Play(
        a=text("Any", 'window = "t*"'),
        b=text("Class", 'window = "tide"'),
        c=text("Both", 'window = "tide"\ntitle = "*harbour*"'),
        d=text("Loader", 'argument = "*tide.exe"'),
        e=text("Twin", 'argument = "*tide.exe"'),
    )
    assert play.front(names=("sea",)) == "Test"
    assert play.front(names=("torrent",)) == "Any"
    assert play.front(names=("Tide", "tide-main")) == "Class"
    assert play.front(names=("Tide",), title="Old Harbour - 2") == "Both"
    assert play.front(arguments=("--slow", r"C:\games\TIDE.exe")) == "Loader"
    play.front(names=("nothing",))
    assert play.front(arguments=("tide.exe", "x/tide.exe")) == "Loader", "what plays stays"
    assert [line for line in play.bench.told if "exact" in line] == [
        "this window matches the rules of Loader and Twin; make one of them more exact"
    ]


def test_what_is_left_pauses_and_comes_back_with_its_toggles_and_nothing_stays_pressed() -> None:
    play = Play(a=text("Game", 'window = "tide"'))
    assert play.front(names=("tide",)) == "Game"
    assert play.play(east=1) == "+T" and play.play(east=0, south=1) == "+X"
    play.bench.output.sent.clear()
    assert play.front(names=("mail",)) == "(Game)"
    assert sorted(brief(play.bench.output.sent).split()) == ["-T", "-X"] and not play.bench.output.keys.releases()
    assert not play.bench.pad.grabs[-1], "another game may read the pad meanwhile"
    assert play.play(south=0) == play.play(south=1) == play.play(left_stick__y=-1.0) == ""
    play.bench.output.sent.clear()
    assert play.front(names=("nub-shift",)) == "Game", "in our own window it can be tried; nothing goes out there"
    assert play.front(names=("mail",)) == "(Game)"
    play.bench.output.sent.clear()
    assert play.front(names=("tide",)) == "Game"
    assert brief(play.bench.output.sent) == "+T", "a button that is held waits for its next press"
    assert play.play(south=0) == "" and play.play(south=1) == "+X"
    assert play.bench.pad.grabs[-1]


@pytest.mark.parametrize(
    ("left", "then"),
    [
        ('when_left = "stay"', "Game"),
        ('when_left = "back"', "By hand"),
        ('when_left = "other"\nother = "Desk"', "Desk"),
        ('when_left = "other"\nother = "Gone"', "(Game)"),
    ],
)
def test_on_leaving_it_stays_goes_back_or_goes_on_to_another(left: str, then: str) -> None:
    play = Play(a=text("Game", 'window = "tide"', left=left), hand=text("By hand"), desk=text("Desk"))
    play.bench.session.load(play.bench.seat, Program(play.library.profiles["hand"]), START_US, "hand")
    assert play.front(names=("sea",)) == "By hand"
    assert play.front(names=("tide",)) == "Game"
    assert play.front(names=("mail",)) == then
    assert play.front(names=("tide",)) == "Game"


def test_what_a_person_chooses_for_a_window_stays_while_that_changes_its_title() -> None:
    play = Play(a=text("Game", 'window = "tide"'), hand=text("By hand"))
    assert play.front(5, names=("tide",)) == "Game"
    play.bench.session.load(play.bench.seat, Program(play.library.profiles["hand"]), play.now_us, "hand")
    assert play.front(5, names=("tide",), title="Level 2") == "By hand"
    assert play.front(6, names=("mail",)) == "By hand"
    assert play.front(5, names=("tide",), title="Level 2") == "By hand"
    assert play.front(7, names=("tide",)) == "Game"


def test_what_was_chosen_for_one_window_is_no_leave_to_play_another_profile_in_it() -> None:
    play = Play(a=text("Game", 'window = "tide"'), hand=text("By hand"))
    assert play.front(5, names=("mail",)) == "Test"
    play.bench.session.load(play.bench.seat, Program(play.library.profiles["hand"]), play.now_us, "hand")
    assert play.front(6, names=("tide",)) == "Game"
    assert play.front(5, names=("mail",)) == "By hand"


def test_a_choice_that_is_read_only_after_the_game_came_to_the_front_is_no_choice_for_that_game() -> None:
    play = Play(a=text("Game", 'window = "tide"'), hand=text("By hand"))
    session, seat, hand = play.bench.session, play.bench.seat, Program(play.library.profiles["hand"])
    assert play.front(5, names=("mail",)) == "Test"
    choice = session.choose(seat)
    assert play.front(6, names=("tide",)) == "Game"
    session.load(seat, hand, play.now_us, "hand", choice)
    assert play.front(6, names=("tide",), title="Level 2") == "Game"
    choice = session.choose(seat)
    assert play.front(7, names=("notes",)) == "(Game)"
    session.load(seat, hand, play.now_us, "hand", choice)
    assert (seat.chosen, seat.chosen_in) == ("hand", 6), "it was made for the game's window"


def test_a_profile_that_was_deleted_is_missed_once_where_its_window_comes_back() -> None:
    play = Play(a=text("Game", 'window = "tide"'), b=text("Other", 'window = "dust"'))
    assert play.front(5, names=("tide",)) == "Game"
    assert play.front(6, names=("dust",)) == "Other"
    del play.library.profiles["a"]
    for _ in range(2):
        assert play.front(5, names=("tide",)) == "(Other)"
        assert play.front(7, names=("mail",)) == "(Other)"
    assert play.bench.told.count("the profile Game of this window is gone from the library") == 1


def test_a_profile_that_cannot_be_read_makes_room_for_the_next_best() -> None:
    play = Play(a=text("Any", 'window = "t*"'), b=text("Spoiled", 'window = "tide"'))
    assert play.front(names=("tide",)) == "Any"
    assert [line for line in play.bench.told if "cannot be played" in line] != []


def test_a_profile_that_is_mended_while_its_game_is_in_front_is_taken() -> None:
    play = Play(a=text("Any", 'window = "t*"'), b=text("Spoiled", 'window = "tide"'))
    assert play.front(names=("tide",)) == "Any"
    play.library.profiles["b"] = parse_profile(text("Mended", 'window = "tide"'))
    play.library.stamp = 2
    play.by_game._on_listed()
    assert seat_state(play.bench.seat).title == "Mended"


def test_nobody_is_paused_for_a_list_that_was_not_read() -> None:
    play = Play(a=text("Game", 'window = "tide"'), b=text("Other", 'window = "dust"'))
    assert play.front(names=("tide",)) == "Game"
    play.library.is_read = False
    assert play.front(2, names=("dust",)) == "(Game)", "its own rules say that it is not for this window"
    assert play.front(3, names=("tide",)) == "Game", "and that it is for this one"
    play.library.is_read = True
    assert play.front(4, names=("dust",)) == "Other"


WINDOWS = st.sampled_from(["tide", "dust2", "post", "letters", "nub-shift"])
FRAMES = st.fixed_dictionaries(
    {},
    optional={
        "south": st.sampled_from([0.0, 1.0]),
        "east": st.sampled_from([0.0, 1.0]),
        "left_stick.y": st.sampled_from([-1.0, 0.0]),
        "right_trigger": st.sampled_from([0.0, 1.0]),
    },
)
DOINGS = st.lists(
    st.one_of(
        st.tuples(st.just("front"), WINDOWS),
        st.tuples(st.just("frame"), FRAMES),
        st.tuples(st.just("live"), st.booleans()),
        st.tuples(st.just("held back"), st.booleans()),
        st.tuples(st.just("hand"), st.sampled_from(["hand", "a", "b"])),
        st.tuples(st.just("replug"), st.none()),
    ),
    max_size=40,
)


@given(doings=DOINGS)
def test_whatever_comes_to_the_front_nothing_acts_while_paused_and_nothing_stays_pressed(
    doings: list[tuple[str, Any]],
) -> None:
    slots = '"left_stick.up" = { keys = ["KEY_U"] }\n"right_trigger.light" = { keys = ["KEY_R"], manner = "turbo" }'
    play = Play(
        a=text("A", 'window = "tide"').replace("[layers.slots]", f"[layers.slots]\n{slots}", 1),
        b=text("B", 'window = "dust2"', "KEY_Y", 'when_left = "back"'),
        hand=text("By hand", key="KEY_H"),
    )
    session, seat, output = play.bench.session, play.bench.seat, play.bench.output
    for what, value in doings:
        match what:
            case "front":
                play.front(len(value), names=(value,))
            case "frame":
                play.bench.pads[-1].waiting.append(Frame(play.now_us + 1, value))
            case "live":
                session.switch.go(value, play.now_us)
            case "held back":
                session.switch.hold_back(value, play.now_us)
            case "hand":
                session.load(seat, Program(play.library.profiles[value]), play.now_us, value)
            case _:
                session.reopen_pad(seat, play.now_us)
        for _ in range(4):
            play.now_us += 250_000
            session.work(play.now_us)
        if seat.paused or not session.switch.live:
            assert not output.keys.releases(), (what, value)
        assert session.switch.live or not session.switch.wanted or True in [v for w, v in doings if w == "held back"]
    session.close(play.now_us)
    assert not output.keys.releases()


def test_two_pads_follow_two_rules() -> None:
    play = Play(a=text("First", 'window = "tide"'), b=text("Second", 'window = "tide"\nplayer = 2'))
    second = play.bench.add(text("Nobody"))
    assert play.front(names=("tide",)) == "First"
    assert seat_state(second).title == "Second"


def test_what_files_say_is_found_and_a_faulty_one_is_in_nobodys_way(tmp_path: Path) -> None:
    write_text(tmp_path / "a.toml", text("A", 'window = "tide"'))
    write_text(tmp_path / "b.toml", text("B").replace("[comes_on]", "[comes_on]\nwhen_left = 3"))
    write_text(tmp_path / "c.toml", "title = 'C'\n[[comes_on.rules]\n")
    write_text(tmp_path / "d.toml", text("D"))
    assert [(path.name, title) for path, title, _ in rules_in([tmp_path])] == [("a.toml", "A")]


@contextmanager
def game(environment: dict[str, str], got: list[str], kind: str, title: str, *arguments: str) -> Iterator[int]:
    """A made-up game in a real window; its number. What it got is noted as it ends."""
    command = [sys.executable, str(GAME), kind, title, *arguments]
    with subprocess.Popen(
        command, env=environment, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None and process.stdin is not None
        try:
            yield int(process.stdout.readline())
        finally:
            process.stdin.close()
            got += process.stdout.read().splitlines()


def test_profiles_and_toggles_follow_real_windows_of_a_real_window_manager(x_server: str, tmp_path: Path) -> None:
    home = Home(tmp_path, DISPLAY=x_server)
    environment = {**home.environment, "DISPLAY": x_server}
    home.environment = environment
    write_text(home.profiles / "tide.toml", text("Tide", 'window = "tidegame"'))
    write_text(home.profiles / "dust.toml", text("Dust", r'argument = "*\\dust.exe"', "KEY_Y"))
    write_text(home.profiles / "desk.toml", text("Desk", key="KEY_Z"))
    os.utime(home.profiles / "tide.toml", (0, 0))
    os.utime(home.profiles / "dust.toml", (0, 0))

    def bring_to_front(window: int, title: str, down: tuple[str, ...], paused: bool = False) -> State:
        subprocess.run(["xdotool", "windowactivate", str(window)], env=environment, check=True, timeout=LIMIT_S)

        def is_there(state: State) -> bool:
            seat = state.seats[0]
            return (seat.title, seat.paused, state.down) == (title, paused, down)

        return home.await_state(is_there)

    got: list[str] = []
    with (
        window_manager(x_server),
        game(environment, got, "tidegame", "Tide") as tide,
        game(environment, got, "loader", "Dust", r"C:\games\dust.exe") as dust,
        game(environment, got, "mail", "Letters") as mail,
    ):
        home.start("--output", "x11")
        home.call(PlugIn("tern"), AssignPad("simulated:tern"), WorkByHand("tern", {}), SetLive(True))
        by_hand = home.profiles / "tide.toml"  # read by another way than what comes by itself
        subprocess.run(["xdotool", "windowactivate", str(tide)], env=environment, check=True, timeout=LIMIT_S)
        home.await_state(lambda state: state.front is not None and state.front.title == "Tide")
        home.call(LoadProfile(by_hand.read_text(), 0, str(by_hand)))
        bring_to_front(tide, "Tide", ())
        home.call(WorkByHand("tern", {"east": 1.0}))
        home.await_state(lambda state: state.down == ("KEY_T",))
        home.call(WorkByHand("tern", {}))
        state = bring_to_front(dust, "Dust", ())
        assert state.front is not None and state.front.title == "Dust" and state.seats[0].rule is not None
        home.call(WorkByHand("tern", {"south": 1.0}))
        home.await_state(lambda state: state.down == ("KEY_Y",))
        bring_to_front(mail, "Dust", (), paused=True)
        home.call(WorkByHand("tern", {}))
        bring_to_front(tide, "Tide", ("KEY_T",))  # as it was left
        bring_to_front(mail, "Tide", (), paused=True)
        bring_to_front(tide, "Tide", ("KEY_T",))
        home.end(9)
        home.start("--output", "x11")
        home.await_state(lambda state: state.live and state.seats[0].title == "Tide")
        bring_to_front(dust, "Dust", ())
        assert home.end() == 0
        listed = home.command("games", "--json").stdout
        assert [(window["title"], window["profiles"]) for window in json.loads(listed)] == [
            ("Tide", ["Tide"]),
            ("Dust", ["Dust"]),
            ("Letters", []),
        ]
    assert {line.split()[0] for line in got} == {"down", "up"}, "the games got real keys"
    with closing(display.Display(x_server)) as server:
        assert not any(server.query_keymap())


def test_who_presses_in_a_game_that_gets_nothing_is_told_why_once() -> None:
    play = Play(a=text("Game", 'window = "tide"'))
    session, seat = play.bench.session, play.bench.seat
    started: list[int] = []
    session.on_live = lambda: started.append(play.now_us)
    session.switch.go(False, play.now_us)
    play.play(south=1.0, east=0.0)
    assert not seat_signs(seat).rehearsed_press, "no game is known to be in front"
    play.front(names=("tide",))
    session.switch.hold_back(True, play.now_us)
    play.play(south=0.0)
    play.play(south=1.0)
    assert not seat_signs(seat).rehearsed_press, "our own window has the keyboard"
    session.switch.hold_back(False, play.now_us)
    for _ in range(3):
        play.play(south=0.0)
        play.play(south=1.0)
        assert seat_signs(seat).rehearsed_press
    assert len(started) == 1, "a sign is shown, once"
    session.switch.go(True, play.now_us)
    assert not seat_signs(seat).rehearsed_press
