"""One pad in play: rehearsal and live, unplugging, failures. Nothing stays down in any of them."""

from __future__ import annotations

import pytest

from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Pointer
from nub_shift.keyboard.xkb import Names, compile_layout
from nub_shift.model.messages import Code, Message
from nub_shift.outputs.output import OutputError
from nub_shift.runner.seats.seat_reports import seat_state
from nub_shift.runner.seats.telemetry import TelemetryFeed
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, brief, profile_text
from tests.runner.fakes import SEAT, SLOTS, Bench


@pytest.fixture
def bench() -> Bench:
    made = Bench()
    made.session.work(START_US)
    return made


def test_in_rehearsal_nothing_reaches_the_output_but_the_tape_sees_it(bench: Bench) -> None:
    feed = TelemetryFeed(60, {})
    bench.seat.feeds.append(feed)
    bench.play(START_US, south=1)
    assert bench.output.sent == []
    packet = feed.packet(START_US, 0, SEAT)
    assert packet is not None
    assert packet.outputs == [Key(START_US, "KEY_SPACE", True)]


def test_live_grabs_the_pad_and_rehearsal_lets_it_go(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.play(START_US, south=1)
    bench.session.switch.go(False, START_US + 1)
    assert bench.pad.grabs == [False, True, False]
    assert brief(bench.output.sent) == "+SPACE -SPACE"


def test_a_stick_that_is_held_while_going_live_acts_at_once(bench: Bench) -> None:
    bench.play(START_US, left_stick__y=-1)
    bench.session.switch.go(True, START_US + 1)
    assert brief(bench.output.sent) == "+W"


def test_an_output_that_cannot_be_opened_leaves_the_rehearsal_on(bench: Bench) -> None:
    bench.no_output = Code.UINPUT_NOT_ALLOWED
    with pytest.raises(OutputError, match="uinput_not_allowed"):
        bench.session.switch.go(True, START_US)
    assert not bench.session.switch.live


def test_an_output_that_breaks_ends_live_and_says_why(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.output.failing = True
    bench.play(START_US, south=1)
    assert not bench.session.switch.live
    assert bench.output.closed
    assert bench.told == ["back to rehearsal: the virtual devices do not take events (the fake output broke)"]
    assert bench.pad.grabs[-1] is False


def test_unplugging_releases_and_the_pad_that_comes_back_plays_on(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.play(START_US, south=1, left_shoulder=1)
    bench.pad.unplugged = True
    bench.session.work(START_US + 10)
    assert brief(bench.output.sent) == "+SPACE -SPACE"
    assert seat_state(bench.seat).pad.missing == Message(Code.UNPLUGGED, {"pad": "Fake pad"})
    assert bench.seat.due_us() == START_US + 10 + 1_000_000
    bench.session.work(START_US + 10 + 1_000_000)
    assert bench.pad.grabs[-1] is True
    bench.play(START_US + 2_000_000, left_stick__y=-1)
    assert brief(bench.output.sent) == "+SPACE -SPACE +W"  # the shift layer went with the pad


def test_what_was_learned_of_a_gyro_is_kept_with_the_pad(bench: Bench) -> None:
    slots = "motion = { turn = {} }"
    bench.session.work(START_US)
    bench.seat.load(Program(parse_profile(profile_text(slots))), START_US)
    for step in range(500):
        bench.play(START_US + step * 4000, motion__gyro_y=0.7, motion__accel_y=1.0)
    lying, lying.unplugged = bench.pad, True
    bench.session.work(START_US + 3_000_000)
    assert lying.gyro_bias == pytest.approx((0.0, 0.7, 0.0))


def test_a_pad_of_which_more_has_come_is_opened_anew_and_holds_nothing_meanwhile(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.play(START_US, south=1)
    first = bench.pad
    bench.session.rescan()
    bench.session.work(START_US + 10)
    assert bench.pad is first  # news of something else
    first.grown = True
    bench.session.rescan()
    bench.session.work(START_US + 20)
    assert (first.closed, len(bench.pads), bench.told) == (True, 2, [])
    assert brief(bench.output.sent) == "+SPACE -SPACE"


def test_a_game_that_reads_pads_itself_is_left_the_pad(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    reads = profile_text('south = { keys = ["KEY_SPACE"] }').replace("[game]", "[game]\nreads_pads = true")
    bench.session.load(bench.seat, Program(parse_profile(reads)), START_US)
    assert bench.pad.grabs == [False, True, False]
    bench.session.load(bench.seat, Program(parse_profile(profile_text(""))), START_US)
    assert bench.pad.grabs[-1] is True


def test_a_missing_pad_is_told_once() -> None:
    bench = Bench()
    bench.no_pad = Code.NO_PAD_CONNECTED
    for second in range(3):
        bench.session.work(START_US + second * 1_000_000)
    assert bench.told == ["waiting for a pad: no pad is connected; plug one in, or use a simulated pad"]


def test_another_profile_takes_over_without_losing_a_frame(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.play(START_US, left_stick__y=-1)
    bench.pad.waiting.append(Frame(START_US + 5, {"left_stick.y": 0.0, "south": 1.0}))
    bench.session.load(
        bench.seat, Program(parse_profile(profile_text('"left_stick.up" = { keys = ["KEY_I"] }'))), START_US + 6
    )
    bench.session.work(START_US + 7)
    assert brief(bench.output.sent) == "+W -W +I -I"


def test_two_seats_share_the_keys_of_one_game(bench: Bench) -> None:
    bench.add(profile_text('south = { keys = ["KEY_SPACE"] }\neast = { keys = ["KEY_E"] }'))
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    bench.play(START_US, pad=0, south=1)
    bench.play(START_US + 1, pad=1, south=1, east=1)
    bench.play(START_US + 2, pad=0, south=0)
    bench.pads[1].unplugged = True
    bench.session.work(START_US + 3)
    assert brief(bench.output.sent) == "+SPACE +E -E -SPACE"
    assert bench.session.state().seats[0].pad.name == "Fake pad"


def test_a_profile_that_is_asked_for_from_the_pad_is_played_from_the_next_step_on() -> None:
    other = profile_text('south = { keys = ["KEY_O"] }').replace('"Test"', '"Other"')
    bench = Bench('south = { profile = "Other" }\neast = { profile = "None" }', other)
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    bench.play(START_US, east=1)
    bench.play(START_US + 1, south=1)
    bench.play(START_US + 2, south=0)
    bench.play(START_US + 3, south=1)
    assert bench.told == ["there is no profile 'None'", "playing Other"]
    assert brief([output for output in bench.output.sent if isinstance(output, Key)]) == "+O"


def test_a_toggle_is_let_go_while_another_window_is_in_front_and_comes_back_with_the_game() -> None:
    game, other, third = 1, 2, 3
    bench = Bench(
        'south = { keys = ["KEY_A"], manner = "toggle", regain = true }\neast = { keys = ["KEY_B"], manner = "toggle" }'
    )
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    assert bench.session.needs_front
    bench.play(START_US, south=1)
    bench.play(START_US, south=0, east=1)
    bench.play(START_US, east=0)
    for window, before, expected in (
        (other, game, "-A"),
        (third, other, ""),
        (game, third, "+A"),
        (other, game, "-A"),
    ):
        bench.output.sent.clear()
        bench.session.front_changed(window, before, START_US + 50_000)
        assert brief(bench.output.sent) == expected
    bench.session.switch.go(False, START_US + 60_000)  # the editor is in front now
    bench.session.switch.go(True, START_US + 70_000)
    assert brief(bench.output.sent) == "-A -B +A"


def test_closing_releases_even_if_the_output_breaks(bench: Bench) -> None:
    bench.session.switch.go(True, START_US)
    bench.play(START_US, south=1)
    bench.output.failing = True
    bench.session.close(START_US + 1)
    assert bench.output.closed
    assert bench.pad.closed


def test_telemetry_is_thinned_and_silent_when_nothing_happens() -> None:
    feed = TelemetryFeed(50, {"left_stick.x": 0.5})
    first = feed.packet(START_US, 0, SEAT)
    assert first is not None and first.values == {"left_stick.x": 0.5}
    assert feed.due_us() is None
    for step in range(8):
        t_us = START_US + 1000 * step
        feed.note_frame(Frame(t_us, {"left_stick.x": step / 10, "south": float(step % 2)}))
        feed.note_outputs([Pointer(t_us, 2, -1)])
    assert feed.packet(START_US + 19_999, 0, SEAT) is None
    packet = feed.packet(START_US + 20_000, 0, SEAT)
    assert packet is not None
    assert packet.values == {"left_stick.x": 0.7, "south": 1.0}
    assert [touch.down for touch in packet.changes] == [False, True] * 4
    assert packet.outputs == [Pointer(START_US, 16, -8)]


def test_texts_are_typed_on_the_keyboard_layout_that_comes_while_playing() -> None:
    words = '[[sequences]]\nid = "word"\nlabel = "Word"\nsteps = [{ text = "%s" }]\n'
    bench = Bench('south = { sequence = "word" }', rest=words % "z")
    plain = bench.add(profile_text('east = { keys = ["KEY_A"] }'))
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    before = plain.program
    bench.source.layout = lambda: compile_layout(Names(layout="de"))
    bench.session.profile_requests.retype()
    assert plain.program is before
    bench.play(START_US + 1, 0, south=1)
    assert brief(bench.output.sent) == "+Y"
    bench.source.layout = lambda: compile_layout(Names(layout="gr"))
    bench.session.profile_requests.retype()
    assert "cannot type z" in bench.told[-1]
    assert brief(bench.output.sent) == "+Y"


def test_a_fault_in_play_lets_everything_go_and_is_told_and_play_can_begin_anew() -> None:
    bench = Bench('south = { keys = ["KEY_A"] }', rest="")
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    bench.play(START_US, south=1)
    bench.pad.waiting.append(Frame(START_US + 1, {"left_stick.x": "beyond words"}))  # type: ignore[dict-item]
    bench.session.work(START_US + 1)
    assert not bench.session.switch.live and bench.output.closed
    assert "all keys are released" in bench.told[-1]
    bench.session.switch.go(True, START_US + 2)
    bench.output.sent.clear()
    bench.play(START_US + 3, south=0)
    bench.play(START_US + 4, south=1)
    assert brief(bench.output.sent) == "+A"


def test_a_pad_that_cannot_be_read_is_lost_and_the_others_play_on() -> None:
    bench = Bench('south = { keys = ["KEY_A"] }')
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    bench.pad.read = lambda *_: 1 // 0  # type: ignore[method-assign, assignment]
    bench.session.work(START_US + 2)
    assert "does not answer (integer division or modulo by zero)" in bench.told[-1]
    assert bench.session.switch.live


def test_each_pad_is_played_by_its_own_feel_and_what_is_held_stays_held_as_it_is_set() -> None:
    def text(dead: float) -> str:
        own = f'[[pads]]\nidentity = "0003-0001-0002-0003"\nname = "Old"\n[pads.feel.right_stick]\ndead_zone = {dead}\n'
        return profile_text(SLOTS, rest="[feel.right_stick]\ndead_zone = 0.1\n" + own)

    bench = Bench()
    bench.seat.load(Program(parse_profile(text(0.5))), START_US)
    bench.seat.source.identities = ("0003-0001-0002-0003-at-port", "0003-0001-0002-0003")  # type: ignore[misc]
    bench.add(text(0.5))
    bench.session.work(START_US)
    bench.session.switch.go(True, START_US)
    for pad in (0, 1):
        bench.play(START_US + 1000, pad, right_stick__x=0.4)
    bench.session.work(START_US + 101_000)
    both = sum(output.dx for output in bench.output.sent if isinstance(output, Pointer))
    assert both == pytest.approx(1000 * 0.3 / 0.87 * 0.1, abs=2)  # by the pad without a feel of its own alone
    bench.play(START_US + 102_000, 0, south=1)
    bench.session.load(bench.seat, Program(parse_profile(text(0.2))), START_US + 103_000)
    bench.session.work(START_US + 203_000)
    assert brief([output for output in bench.output.sent if isinstance(output, Key)]) == "+SPACE"
    more = sum(output.dx for output in bench.output.sent if isinstance(output, Pointer)) - both
    assert more == pytest.approx(1000 * (0.3 / 0.87 + 0.2 / 0.77) * 0.1, abs=3)


def test_where_plugs_are_told_nobody_looks_for_a_pad_that_is_not_there_but_for_one_that_may_not_be_read() -> None:
    bench = Bench()
    bench.session.has_plug_events = True
    bench.no_pad = Code.NO_PAD_CONNECTED
    bench.session.work(START_US)
    assert bench.session.due_us() is None
    bench.session.rescan()
    bench.no_pad = Code.NOT_ALLOWED_TO_READ
    bench.session.work(START_US + 1)
    assert bench.session.due_us() is not None
    bench.no_pad = None
    bench.session.work(START_US + 2_000_000)
    assert bench.seat.pad is not None
