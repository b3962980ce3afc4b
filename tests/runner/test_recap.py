"""What is done in a session is counted while it is live, kept with its profile, and told in words."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace

from nub_shift.editing.words.recap import duration_words, recap_lines, session_words, unused_moves, used_moves
from nub_shift.engine.program import Program
from nub_shift.store import played
from nub_shift.store.played import LEAST_S, MOST, Recap, forget_played, keep_played, read_played
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US
from tests.runner.fakes import Bench

S = 1_000_000
SLOTS = """
south = { tap = { move = "next" }, hold = { move = "walk", after_ms = 300 } }
east = { move = "next", manner = "toggle" }
left_shoulder = { layer = "shift" }
"""


def test_what_is_done_while_live_is_counted_and_handed_over_as_it_ends() -> None:
    bench = Bench(SLOTS)
    kept: list[tuple[str, Recap]] = []
    bench.session.keep_recap = lambda file, recap: kept.append((file, recap))
    bench.seat.file = "/games/keeper.toml"
    now = START_US
    bench.session.work(now)
    bench.play(now, south=1.0)  # in rehearsal nothing is counted
    bench.play(now + S, south=0.0)
    bench.session.switch.go(True, now := now + 2 * S)
    for press_us in (30_000, 600_000):
        bench.play(now := now + S, south=1.0)
        bench.session.work(now + press_us)
        bench.play(now := now + press_us, south=0.0)
    bench.play(now := now + S, east=1.0, left_shoulder=1.0)
    bench.play(now := now + S, east=0.0, left_shoulder=0.0)
    bench.session.pause_seat(bench.seat, True, now)
    bench.session.pause_seat(bench.seat, False, now := now + 100 * S)
    bench.pad.unplugged = True
    bench.session.work(now := now + S)
    assert kept == []
    bench.session.switch.go(False, now)
    ((file, recap),) = kept
    assert file == "/games/keeper.toml"
    assert recap.moves == {"next": 2, "walk": 1}
    assert (recap.layers, recap.short) == ({"shift": 1}, {"south": 1})
    assert (recap.pauses, recap.losses) == (1, 1)
    assert 5 < recap.seconds < 10, "without the pause"


def test_a_profile_may_say_that_nothing_is_counted_and_another_one_is_counted_for_itself() -> None:
    bench = Bench(SLOTS)
    quiet = bench.seat.program.profile
    bench.seat.load(Program(replace(quiet, game=replace(quiet.game, recap=False))), START_US)
    kept: list[tuple[str, Recap]] = []
    bench.session.keep_recap = lambda file, recap: kept.append((file, recap))
    bench.seat.file = "/games/quiet.toml"
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    assert bench.seat.playing is None
    other = Bench(SLOTS).seat.program
    bench.session.load(bench.seat, other, START_US + S, "/games/other.toml")
    bench.play(START_US + 2 * S, east=1.0)
    bench.session.close(START_US + 3 * S)
    ((file, recap),) = kept
    assert (file, recap.moves) == ("/games/other.toml", {"next": 1})


def recap_of(started: float, seconds: float = 100.0, **moves: int) -> Recap:
    return Recap(started, started + seconds, seconds, moves, battery=(80, 70))


def test_sessions_are_kept_few_and_one_that_goes_on_soon_is_the_same(tmp_path: Path) -> None:
    file = tmp_path / "game.toml"
    keep_played(file, recap_of(0.0, LEAST_S - 1))
    assert read_played(file) == []
    keep_played(file, recap_of(0.0, leap=1))
    keep_played(file, recap_of(200.0, leap=2, walk=1))
    (one,) = read_played(file)
    assert (one.seconds, one.moves, one.battery) == (200.0, {"leap": 3, "walk": 1}, (80, 70))
    for number in range(2 * MOST):
        keep_played(file, recap_of(10_000.0 * (number + 1)))
    assert len(read_played(file)) == MOST
    played.played_path(file).write_text("spoiled")
    assert read_played(file) == []
    forget_played(file)
    assert not played.played_path(file).exists()


@pytest.mark.parametrize(("seconds", "words"), [(40, "40 s"), (720, "12 min"), (7500, "2 h 5 min")])
def test_how_long_it_was_is_said_plainly(seconds: float, words: str) -> None:
    assert duration_words(seconds) == words
    assert session_words(recap_of(0.0, seconds)).endswith(words)


def test_the_recap_says_what_was_never_used_and_what_a_game_may_miss() -> None:
    profile = parse_profile(
        'schema = 4\ntitle = "G"\n[[moves]]\nid = "leap"\nlabel = "Leap"\nkeys = ["KEY_A"]\n'
        '[[moves]]\nid = "dig"\nlabel = "Dig"\nkeys = ["KEY_B"]\n[[layers]]\nid = "base"\nlabel = "Base"\n'
        '[[layers]]\nid = "aim"\nlabel = "Aim"\n'
    )
    recap = Recap(0.0, 60.0, 60.0, {"leap": 3, "gone": 2}, {}, {"south": 4}, pauses=1, battery=(80, 60))
    assert used_moves(profile, recap) == [("Leap", 3)]
    assert unused_moves(profile, recap) == ["Dig"]
    brief = replace(profile, game=replace(profile.game, frame_rate_hz=60, shortest_key_ms=0))
    assert (
        "Presses shorter than a frame (17\N{NO-BREAK SPACE}ms), some of which the game may have missed: South 4"
        in recap_lines(brief, recap)
    )
    assert list(recap_lines(profile, recap)) == [
        "Never used: Dig",
        "Presses shorter than a frame (34\N{NO-BREAK SPACE}ms), made longer so that the game sees them: South 4",
        "Layers that never came on: Aim",
        "Paused once",
        "Battery: 80\N{NO-BREAK SPACE}% at the start, 60\N{NO-BREAK SPACE}% at the end",
    ]
