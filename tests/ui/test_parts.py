"""The plain classes behind the widgets."""

from __future__ import annotations

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QIcon, QImage
from PyQt6.QtWidgets import QApplication

from nub_shift.advice.clashes import clashes
from nub_shift.advice.move_coverage import move_coverage
from nub_shift.demo.games import demo_profile_text
from nub_shift.desktop import icon_path, small_icon_path
from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits.bindings import bind
from nub_shift.editing.edits.feel import HAVING_FEEL, settings
from nub_shift.editing.preview.practice import PointerTrail, TypedText, Walker
from nub_shift.editing.preview.strip import HOLD_US, PRESS_US, StripBar, strip_for
from nub_shift.editing.preview.tape_track import SPAN_US, TapeTrack
from nub_shift.editing.words.keys.key_names import codes_named
from nub_shift.editing.words.slot_views import LayerMark, slot_view
from nub_shift.engine.values import Key, Output, Pointer, Wheel
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import MotionSwitch, PointerSpeed, Turn
from nub_shift.model.profile.feel import Ramp, Smoothing, StickFeel
from nub_shift.model.profile.reactions import Assignment, Hold, MoreTaps
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import ChannelChange, Telemetry
from nub_shift.store.profile_files import parse_profile
from nub_shift.ui.frame.tape_strip import POINTER, TapeStrip
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.widgets.key_input import Listener
from tests.engine.playing import START_US
from tests.ui.conftest import Bench

DEMO = parse_profile(demo_profile_text())
END_US = PRESS_US + HOLD_US


@pytest.mark.parametrize(
    ("slot", "assignment", "bars", "clicks"),
    [
        ("south", Assignment(keys=("KEY_F",)), [StripBar("KEY_F", PRESS_US, END_US)], 0),
        ("left_stick.up", Assignment(move="forward"), [StripBar("KEY_W", PRESS_US, END_US)], 0),
        ("right_trigger.light", Assignment(move="beam"), [StripBar("BTN_LEFT", PRESS_US, END_US)], 0),
        ("left_stick.click", Assignment(move="brace"), [StripBar("KEY_V", PRESS_US, END_US)], 0),
        ("south", Assignment(move="next_lens"), [], 1),
        ("south", Assignment(layer="lamp"), [], 0),
    ],
)
def test_the_strip_is_what_the_engine_does(
    slot: str, assignment: Assignment, bars: list[StripBar], clicks: int
) -> None:
    strip = strip_for(bind(DEMO, "base", slot, assignment), "base", slot, us_layout())
    assert strip is not None
    assert list(strip.bars) == bars
    assert len(strip.clicks) == clicks


def test_the_strip_of_a_pointer_counts() -> None:
    profile = bind(DEMO, "base", "right_stick", Assignment(pointer=PointerSpeed(1000, 0)))
    strip = strip_for(profile, "base", "right_stick", us_layout())
    assert strip is not None and strip.counts == (260, 0)


def test_the_strip_is_made_by_a_press_that_fits() -> None:
    both = Assignment(tap=Action(keys=("KEY_T",)), hold=Hold(keys=("KEY_H",), after_ms=600))
    double = Assignment(keys=("KEY_P",), double_tap=MoreTaps(keys=("KEY_D",)))
    shown = {}
    for slot, assignment in (("south", both), ("east", double)):
        strip = strip_for(bind(DEMO, "base", slot, assignment), "base", slot, us_layout())
        assert strip is not None
        shown[slot] = (len(strip.presses), sorted(bar.code for bar in strip.bars))
    assert shown == {"south": (2, ["KEY_H", "KEY_T"]), "east": (3, ["KEY_D", "KEY_P", "KEY_P", "KEY_P"])}


def test_the_strip_of_a_stage_shows_what_the_other_stage_does_to_it() -> None:
    light = bind(DEMO, "base", "left_trigger.light", Assignment(keys=("KEY_F",)))
    turbo = Assignment(keys=("KEY_F",), manner=Manner.TURBO)
    strip = strip_for(bind(light, "base", "left_trigger.deep", turbo), "base", "left_trigger.deep", us_layout())
    assert strip is not None and len(strip.bars) == 1  # the light stage holds the same key: no pulses
    told = [found.text for found in clashes(bind(light, "base", "left_trigger.deep", turbo))]
    assert "Left trigger deep: its repeated key is held down by left trigger" in told
    alone = bind(DEMO, "base", "left_trigger.light", None)
    strip = strip_for(bind(alone, "base", "left_trigger.deep", turbo), "base", "left_trigger.deep", us_layout())
    assert strip is not None and len(strip.bars) > 1


def packet(t_us: int, touches: list[ChannelChange], outputs: list[Output], **values: float) -> Telemetry:
    named = {name.replace("__", "."): value for name, value in values.items()}
    return Telemetry(t_us, named, touches, outputs, ("base",), ())


def test_the_tape_keeps_what_is_in_its_span_and_forgets_the_rest() -> None:
    track = TapeTrack()
    t_us = START_US
    track.take(packet(t_us, [ChannelChange(t_us, "south", True)], [Key(t_us, "KEY_A", True), Wheel(t_us, 0, -120)]))
    track.take(
        packet(t_us + 9, [ChannelChange(t_us + 9, "south", False)], [Key(t_us + 9, "KEY_A", False)], left_stick__x=0.5)
    )
    assert [(bar.name, bar.start_us, bar.end_us) for bar in track.pad_bars] == [("south", t_us, t_us + 9)]
    assert track.active_keys(t_us + 10) == {"KEY_A": {0}, "Wheel ↓": {0}}
    assert track.active_controls(t_us + 10) == [(0, "left_stick"), (0, "south")]
    later = t_us + SPAN_US + 100
    track.take(packet(later, [], [Pointer(later, 1, 1)]))
    assert (list(track.pad_bars), list(track.game_bars), list(track.marks)) == ([], [], [])
    assert list(track.pointer) == [(later, 1, 1)]


def test_a_key_that_stays_down_stays_on_the_tape() -> None:
    track = TapeTrack()
    track.take(packet(START_US, [], [Key(START_US, "KEY_A", True)]))
    track.take(packet(START_US + 3 * SPAN_US, [], []))
    assert track.active_keys(START_US + 3 * SPAN_US) == {"KEY_A": {0}}


def test_typed_text_is_what_a_game_would_get() -> None:
    typed = TypedText(us_layout)
    typed.take([Key(0, "KEY_H", True), Key(0, "KEY_H", False), Key(0, "KEY_LEFTSHIFT", True), Key(0, "KEY_I", True)])
    typed.take(
        [Key(0, "KEY_SPACE", True), Key(0, "KEY_X", True), Key(0, "KEY_BACKSPACE", True), Key(0, "BTN_LEFT", True)]
    )
    assert typed.text == "hI "
    typed.take([Key(0, "KEY_LEFTCTRL", True), Key(0, "KEY_S", True)])
    assert typed.text == "hI "
    assert typed.down[-2:] == ["KEY_LEFTCTRL", "KEY_S"]


def test_the_walker_walks_by_the_games_own_keys() -> None:
    walker = Walker(DEMO)
    walker.advance(0, ["KEY_W", "KEY_D"])
    assert walker.advance(100_000, ["KEY_W", "KEY_D"])
    assert walker.x == pytest.approx(-walker.y) and walker.x > 0
    assert not walker.advance(200_000, ["KEY_A", "KEY_D"])
    walker.follow(edits.bind(DEMO, "base", "south", None))
    assert walker.can_walk


def test_the_pointers_trail_wraps_and_says_so() -> None:
    trail = PointerTrail(counts_across=100)
    trail.move(40, 0)
    trail.move(20, 0)
    assert [(round(x, 2), y, fresh) for x, y, fresh in trail.points] == [(0, 0, True), (0.8, 0, False), (-0.8, 0, True)]


def test_keys_are_named_by_label_or_kernel_name() -> None:
    assert codes_named("Ctrl+Shift+Page up", us_layout()) == ("KEY_LEFTCTRL", "KEY_LEFTSHIFT", "KEY_PAGEUP")
    assert codes_named("key_f20", us_layout()) == ("KEY_F20",)
    assert codes_named("Left click", us_layout()) == ("BTN_LEFT",)
    assert codes_named("Ctrl + nothing", us_layout()) is None


def test_a_listener_gives_keys_once_and_ignores_what_was_down_before() -> None:
    listener = Listener()
    assert listener.release("KEY_A") is None
    listener.press("KEY_A")
    listener.press("KEY_B")
    assert listener.release("KEY_A") == ("KEY_A", "KEY_B")
    assert listener.release("KEY_B") is None


def test_a_layer_shows_what_lies_below_it() -> None:
    own, below, silent = (slot_view(DEMO, "lamp", slot, us_layout()) for slot in ("south", "start", "dpad.down"))
    assert (own.text, own.inherited, own.caps) == ("Dim the lamp", False, ("Q",))
    assert (below.text, below.inherited, below.caps) == ("Pause", True, ("Esc",))
    assert silent.silent
    assert slot_view(DEMO, "base", "left_shoulder", us_layout()).layer == LayerMark("B", 1)


def test_moves_that_nothing_starts_are_known() -> None:
    reached = move_coverage(DEMO)
    assert {move.id for move in DEMO.moves} - set(reached) == {"tide"}
    assert reached["look"] == [("base", "right_stick"), ("lamp", "right_stick")]
    by_key = edits.bind(DEMO, "base", "home", Assignment(keys=("KEY_T",)))
    assert move_coverage(by_key)["tide"] == [("base", "home")]


def test_moves_in_rings_and_carousels_are_reached() -> None:
    profile = parse_profile(demo_profile_text("tidefold"))
    reached = move_coverage(profile)
    assert {move.id for move in profile.moves} == set(reached)
    assert reached["valley"] == [("folds", "left_stick")]
    labels = {
        slot: slot_view(profile, "base", slot, us_layout()).text for slot in ("west", "east", "slider_1.high_deep")
    }
    assert labels == {
        "west": "Time forward",
        "east": "Halt; double tap: Regatta",
        "slider_1.high_deep": "Look speed 35\N{NO-BREAK SPACE}%",
    }


def test_movement_is_found_by_the_usual_keys_where_the_moves_do_not_say_it() -> None:
    def up(text: str) -> Assignment:
        return edits.bind_movement(parse_profile(text), "base", "right_stick").layers[0].slots["right_stick.up"]

    unsaid = demo_profile_text().replace('direction = "up"', "")
    assert up(unsaid) == Assignment(move="forward")
    arrows = unsaid
    for letter, way in (("W", "UP"), ("A", "LEFT"), ("S", "DOWN"), ("D", "RIGHT")):
        arrows = arrows.replace(f'keys = ["KEY_{letter}"]', f'keys = ["KEY_{way}"]')
    assert up(arrows) == Assignment(move="forward")
    assert up('schema = 4\ntitle = "T"') == Assignment(keys=("KEY_W",))


def test_every_setting_of_the_feel_has_a_name_of_its_own() -> None:
    whole = StickFeel(smoothing=Smoothing(), ramp=Ramp())
    feel = replace(DEMO.feel, left_stick=whole, right_stick=whole, surface=whole)
    for control in HAVING_FEEL:
        labels = [setting.label for setting in settings(replace(DEMO, feel=feel), "base", control)]
        assert len(labels) == len(set(labels)) > 5, control
    assert "Edge: begins at" in [setting.label for setting in settings(DEMO, "base", "surface")]


def test_the_tape_scrolls_to_the_same_picture_that_is_drawn_at_once(qapp: QApplication) -> None:
    theme, track = Theme(DAY), TapeTrack()
    rows = [((0, "south"), QRectF(0, 0, 800, 20))]
    game = [(POINTER, QRectF(0, 30, 800, 20)), ("KEY_W", QRectF(0, 60, 800, 20))]
    scrolled = TapeStrip(theme, track)
    now_us = 10_000_000
    for frame in range(120):
        now_us += 40_000
        touches = [ChannelChange(now_us - 30_000, "south", frame % 7 < 3)] if frame % 7 in (0, 3) else []
        sent: list[Output] = [Pointer(now_us - 25_000, frame % 9, 3)]
        if frame % 11 in (0, 5):
            sent.append(Key(now_us - 20_000, "KEY_W", frame % 11 == 0))
        track.take(Telemetry(now_us - 10_000, {}, touches, sent, ("base",), ()))
        picture = scrolled.picture(QSize(800, 90), 1.0, rows, game, now_us).toImage()
    at_once = TapeStrip(theme, track).picture(QSize(800, 90), 1.0, rows, game, round(scrolled._drawn_us)).toImage()
    assert scrolled.whole == 1
    differ = sum(
        picture.pixelColor(x, y).alpha() // 128 != at_once.pixelColor(x, y).alpha() // 128
        for x in range(0, 800, 3)
        for y in range(0, 90, 5)
    )
    assert differ <= 0.02 * 267 * 18  # places are whole pixels there, and parts of them here


def test_a_closed_control_says_all_that_it_does() -> None:
    both = Assignment(keys=("KEY_F",), hold=Hold(move="wade"))
    profile = bind(bind(DEMO, "base", "south", both), "base", "motion", Assignment(turn=Turn(on=False)))
    profile = bind(profile, "base", "left_trigger.deep", Assignment(motion=MotionSwitch.ON))
    south = slot_view(profile, "base", "south", us_layout())
    assert (south.caps, south.text, south.beside) == (("F",), "F; hold: Wade low", "hold: Wade low")
    walk = slot_view(profile, "base", "left_stick.up", us_layout())
    assert (walk.caps, walk.beside) == (("W",), "Walk forward"), "a name that begins as its key does is whole"
    turned = slot_view(profile, "base", "motion", us_layout())
    assert turned.text == "Turn the view while left trigger deep is held"


def test_the_small_icon_is_the_icon(qapp: QApplication) -> None:
    small = QImage(str(small_icon_path()))
    drawn = QIcon(str(icon_path())).pixmap(small.size()).toImage()
    assert small.convertToFormat(drawn.format()) == drawn


def test_the_tape_says_how_much_it_leaves_out(bench: Bench) -> None:
    tape = bench.window.tape
    for count, said in ((3, False), (9, True)):
        codes = [f"KEY_{letter}" for letter in "ABCDEFGHIJ"[:count]]
        bench.link.touch(outputs=[Key(monotonic_us(), code, True) for code in codes])
        tape.grab()
        assert (" more" in tape.accessibleName()) is said, tape.accessibleName()
