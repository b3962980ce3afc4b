"""Station Feel: lines are dragged and stepped, and the numbers that come of it are those of the picture."""

from __future__ import annotations

from functools import partial
from itertools import combinations, pairwise
from math import sin

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QMenu, QSlider

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import bind, set_feel
from nub_shift.editing.edits.curve_points import Points, add_point, move_point, remove_point
from nub_shift.editing.feel.handles import handles, move_handle, shown_feel
from nub_shift.editing.feel.stage_lines import move_line, stage_lines
from nub_shift.editing.feel.wishes import PressWish, wishes
from nub_shift.engine.values import Frame
from nub_shift.model.controls import STICKS
from nub_shift.model.profile.feel import DeadZoneShape, Feel, StickFeel
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.model.profile.reactions import Assignment
from nub_shift.pads.recorded.recorded_pad import RecordedPad
from nub_shift.pads.recorded.recording import read_recording
from nub_shift.protocol.messages import ConnectedPads, FrameNews, PadInfo, PadsNews
from nub_shift.store.profile_files import format_profile, parse_profile
from nub_shift.ui.commands import Command, Station
from nub_shift.ui.feel.pictures.choice_pictures import choice_icon
from nub_shift.ui.feel.station import FeelStation
from tests.ui.conftest import Bench
from tests.ui.hands import QTest

DEMO = parse_profile(demo_profile_text())


@pytest.fixture
def station(bench: Bench) -> FeelStation:
    bench.window.show_station(Station.FEEL)
    return bench.window.feel


def drag(knob: QSlider, by: QPoint) -> None:
    middle = knob.rect().center()
    QTest.mousePress(knob, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseMove(knob, pos=middle + by)
    QTest.mouseRelease(knob, Qt.MouseButton.LeftButton, pos=middle + by)


@settings(max_examples=20)
@given(
    shape=st.sampled_from(DeadZoneShape),
    turned=st.tuples(st.integers(-180, 179), st.floats(-1.0, 1.0)),
    part=st.floats(0.0, 1.0),
    layer=st.sampled_from(["base", "lamp"]),
)
def test_where_a_line_is_dragged_it_lies_and_the_profile_stays_sound(
    shape: DeadZoneShape, turned: tuple[int, float], part: float, layer: str
) -> None:
    profile = set_feel(
        DEMO,
        "left_stick",
        dead_zone_shape=shape,
        rotation_degrees=float(turned[0]),
        square_off=round(turned[1], 2),
    )
    for handle in handles(profile, layer, "left_stick"):
        value = handle.held(handle.low + part * (handle.high - handle.low))
        made = move_handle(profile, layer, "left_stick", handle, value)
        feel = shown_feel(made, layer, "left_stick")
        assert handle.value(feel) == value
        assert handle.at(feel, *handle.place(feel)) == pytest.approx(value, abs=1e-3 * max(1.0, handle.step))
        assert parse_profile(format_profile(made)) == made
        untouched = shown_feel(made, "base" if layer == "lamp" else "lamp", "right_stick")
        assert untouched == shown_feel(profile, "base" if layer == "lamp" else "lamp", "right_stick")


def test_lines_are_dragged_by_the_mouse_and_stepped_by_keys(bench: Bench, station: FeelStation) -> None:
    def feel() -> StickFeel:
        return bench.document.profile.feel.left_stick

    lens = station.lens
    before, knob = feel(), lens.knobs["Dead zone"]
    drag(knob, QPoint(round(0.1 * lens._reach), 0))
    assert feel().dead_zone == pytest.approx(before.dead_zone + 0.1, abs=0.01)
    knob.setFocus()
    QTest.keyClick(knob, Qt.Key.Key_Right)
    stepped = feel().dead_zone
    QTest.keyClick(knob, Qt.Key.Key_PageDown)
    assert feel().dead_zone == pytest.approx(stepped - 0.1)
    assert knob.accessibleDescription() == f"{feel().dead_zone:g}"
    drag(lens.knobs["Diagonals"], QPoint(round(-0.2 * lens._reach), 0))
    assert feel().directions.diagonal_degrees > before.directions.diagonal_degrees + 10
    gap = before.directions.on - before.directions.off
    drag(lens.knobs["Directions from"], QPoint(30, 30))
    assert feel().directions.on > before.directions.on + 0.05
    assert feel().directions.on - feel().directions.off == pytest.approx(gap)
    drag(station.curve.knobs["power"], QPoint(0, 40))
    assert feel().power > 1.1
    drag(station.curve.knobs["anti_dead_zone"], QPoint(0, -30))
    assert 0.05 < feel().anti_dead_zone < 0.5
    assert len(bench.link.loaded) == 5 + 7, "each reaches the runner as it is dragged, and once it is kept"
    assert bench.link.loaded[-1] == bench.document.text
    QTest.mouseClick(station.back, Qt.MouseButton.LeftButton)
    assert feel() == StickFeel() and not station.back.isEnabled()


def test_a_layers_feel_is_its_own_and_given_back_in_one_touch(bench: Bench, station: FeelStation) -> None:
    bench.window.map.show_layer("lamp")
    before = bench.document.profile.feel
    own = shown_feel(bench.document.profile, "lamp", "left_stick")
    drag(station.lens.knobs["Dead zone"], QPoint(40, 0))
    profile = bench.document.profile
    assert profile.feel == before and shown_feel(profile, "lamp", "left_stick").dead_zone > own.dead_zone
    assert station.back.isEnabled()
    QTest.mouseClick(station.back, Qt.MouseButton.LeftButton)
    assert shown_feel(bench.document.profile, "lamp", "left_stick") == before.left_stick


def test_the_control_that_is_pressed_is_shown_and_the_stick_goes_through_its_picture(
    bench: Bench, station: FeelStation
) -> None:
    kinds = []
    for _ in range(8):
        bench.window.actions_of[Command.NEXT_AREA].trigger()
        kinds.append(type(QApplication.focusWidget()).__name__)
    assert kinds == ["Choice", "Knob", "TextButton", "TextButton", "Knob", "WishButton", "StationBar", "LayerChip"]
    bench.link.touch("right_trigger.light")
    assert station.control == "right_trigger" and not station.lens.isVisible()
    QTest.mouseClick(station.numbers, Qt.MouseButton.LeftButton)
    assert len(station.table.fields) > 3
    QTest.mouseClick(station.numbers, Qt.MouseButton.LeftButton)
    edge = Assignment(keys=("KEY_LEFTSHIFT",))
    bench.document.edit("Edge", partial(bind, layer_id="base", slot="left_stick.edge", assignment=edge))
    bench.link.touch("left_stick.up")
    assert station.lens.isVisible() and "Edge from" in station.lens.knobs
    levels = station.lens._levels
    assert [level.value() for level in levels[:2]] == [0, 0], "no stream of values is read out"
    bench.qtbot.waitUntil(lambda: [level.value() for level in levels] == [0, -100, 0, -100])


@settings(max_examples=20)
@given(
    control=st.sampled_from(["left_stick", "right_stick"]),
    layer=st.sampled_from(["base", "lamp"]),
    dead_zone=st.floats(0.0, 0.6).map(lambda value: round(value, 2)),
    power=st.floats(0.5, 4.0).map(lambda value: round(value, 2)),
    anti_dead_zone=st.sampled_from([0.0, 0.2]),
)
def test_each_wish_changes_what_it_says_and_nothing_else(
    control: str, layer: str, dead_zone: float, power: float, anti_dead_zone: float
) -> None:
    profile = set_feel(DEMO, control, dead_zone=dead_zone, power=power, anti_dead_zone=anti_dead_zone)
    found = wishes(profile, layer, control)
    assert len({wish.text for wish in found}) == len(found) > 3
    for wish in found:
        made = (wish.edit_of("south") if isinstance(wish, PressWish) else wish.edit)(profile)
        assert made != profile, wish.text
        said = {
            setting.label
            for stick in STICKS
            for setting, before in zip(
                *(feel_edits.settings(one, layer, stick) for one in (made, profile)), strict=True
            )
            if setting.text != before.text
        }
        told = {part.rsplit(" → ", 1)[0].rsplit(" ", 1)[0] for part in wish.says.split(", ") if " → " in part}
        if wish.text.startswith(("Look", "Both")):
            assert said == set() and "counts a second" in wish.says
        elif isinstance(wish, PressWish):
            assert said == set() and "pace=0.4" in str(made.layer(layer))
        elif wish.text == "Quicker at the edge":
            assert said == {"Curve power"} and "counts a second" in wish.says
        elif wish.text != "The same on the other stick":
            assert said == told, wish.text
        if wish is found[len(said) % len(found)]:  # which takes its time
            assert parse_profile(format_profile(made)) == made


def test_a_wish_is_shown_before_it_is_made_and_goes_into_the_profile_in_one_touch(
    bench: Bench, station: FeelStation
) -> None:
    before = bench.document.profile
    button = station.wishes.buttons["Steadier at rest"]
    button.setFocus()
    assert bench.document.profile == before, "looking changes nothing"
    shown = station.lens.knobs["Dead zone"].accessibleDescription()
    assert float(shown) == pytest.approx(before.feel.left_stick.dead_zone + 0.03)
    assert "Dead zone 0.15 → 0.18" in button.accessibleDescription()
    QTest.keyClick(button, Qt.Key.Key_Space)
    assert bench.document.profile.feel.left_stick.dead_zone == pytest.approx(0.18)
    station.choice.buttons["left_stick"].setFocus()
    assert station.lens.knobs["Dead zone"].accessibleDescription() == "0.18"


def test_a_triggers_stages_are_dragged_in_the_picture_of_its_last_pulls(bench: Bench, station: FeelStation) -> None:
    station.show_control("right_trigger")
    before = bench.document.profile.feel.right_trigger
    drag(station.gauge.knobs["Light from"], QPoint(0, -30))
    light = bench.document.profile.feel.right_trigger.light
    assert light.on > before.light.on + 0.05
    assert light.on - light.off == pytest.approx(before.light.on - before.light.off, abs=1e-6)
    knob = station.gauge.knobs["Light ends"]
    knob.setFocus()
    for _ in range(60):
        QTest.keyClick(knob, Qt.Key.Key_Up)
    light = bench.document.profile.feel.right_trigger.light
    assert light.on - 0.02 < light.off < light.on, "what begins also ends"
    for pull in (0.2, 0.9, 0.0, 1.0):
        bench.now_us += 200_000
        station.gauge.follow(pull)
    begun = [line.label for _, line in station.gauge._crossings()]
    assert begun.count("Light from") == 2 and begun.count("Deep from") == 2
    for control in ("slider_1", "right_trigger"):
        for line in stage_lines(DEMO, "lamp", control):
            for value in (line.low, line.high):
                made = move_line(DEMO, "lamp", control, line, value)
                assert parse_profile(format_profile(made)) == made


def test_points_of_the_curve_are_added_moved_and_taken_away(bench: Bench, station: FeelStation) -> None:
    def feel() -> StickFeel:
        return bench.document.profile.feel.left_stick

    QTest.mouseClick(station.curving.point, Qt.MouseButton.LeftButton)
    assert feel().points == ((0.5, 0.5),) and "power" not in station.curve.knobs
    drag(station.curve.knobs["Point 1"], QPoint(20, 30))
    ((x, y),) = feel().points
    assert x > 0.52 and y < 0.45
    area = station.curve._area
    QTest.mouseDClick(station.curve, Qt.MouseButton.LeftButton, pos=area.center().toPoint() + QPoint(-60, 40))
    first, _ = feel().points
    knob = station.curve.knobs["Point 1"]
    knob.setFocus()
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Up):
        QTest.keyClick(station.curve.knobs["Point 1"], key)
    assert feel().points[0] == pytest.approx((first[0] - 0.01, first[1] + 0.01), abs=0.006)
    for _ in range(80):
        QTest.keyClick(station.curve.knobs["Point 1"], Qt.Key.Key_Up)
    assert feel().points[0][1] == feel().points[1][1], "it never falls"
    QTest.mouseClick(station.curving.axes["x"], Qt.MouseButton.LeftButton)
    assert not station.curve.knobs["anti_dead_zone"].isVisible()
    drag(station.curve.knobs["power"], QPoint(0, 30))
    own = feel().x
    assert own is not None and own.power > 1.1 and feel().y is None
    QTest.mouseClick(station.curving.axes[""], Qt.MouseButton.LeftButton)
    for _ in range(2):
        QTest.keyClick(station.curve.knobs["Point 1"], Qt.Key.Key_Delete)
    assert feel().points == () and "power" in station.curve.knobs


@given(points=st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), max_size=30))
def test_a_curve_never_falls_whatever_is_done_with_its_points(points: list[tuple[float, float]]) -> None:
    made: Points = ()
    for number, (x, y) in enumerate(points):
        made = add_point(made, lambda x: x, x if number % 2 else None)
        if made:
            made = move_point(made, number % len(made), y, x)
        if number % 7 == 6:
            made = remove_point(made, 0)
        assert len(made) <= 12 and all(0.0 < x < 1.0 and 0.0 <= y <= 1.0 for x, y in made)
        assert all(x0 < x1 and y0 <= y1 for (x0, y0), (x1, y1) in pairwise(made))


def test_two_feels_are_flipped_by_key_and_by_the_pad_and_the_better_one_is_kept(
    bench: Bench, station: FeelStation
) -> None:
    def zone() -> float:
        return bench.document.profile.feel.left_stick.dead_zone

    first = zone()
    QTest.mouseClick(station.both.choices[1], Qt.MouseButton.LeftButton)
    assert "A and B are still the same" in station.both._says.text()
    drag(station.lens.knobs["Dead zone"], QPoint(30, 0))
    second = zone()
    assert f"A to B: Dead zone {first:g} → {second:g}" in station.both._says.text()
    station.both.name.setText("wide")
    station.both.name.editingFinished.emit()
    assert station.both.choices[1].text() == "B: wide"
    bench.window.actions_of[Command.FLIP].trigger()
    assert zone() == first and station.both.choices[0].isChecked()
    QTest.mouseClick(station.both.by_pad, Qt.MouseButton.LeftButton)
    bench.link.touch("select")
    assert zone() == first, "this press says only which control it shall be"
    bench.link.touch()
    bench.link.touch("select")
    assert zone() == second and "dead_zone = " in bench.link.loaded[-1], "the runner plays it"
    QTest.mouseClick(station.both.keep, Qt.MouseButton.LeftButton)
    assert zone() == second and not station.both.keep.isEnabled()
    bench.window.actions_of[Command.UNDO].trigger()
    assert zone() == first, "the other one is in the history"


def test_what_is_dragged_plays_and_is_worked_out_before_it_is_let_go(bench: Bench, station: FeelStation) -> None:
    bench.link._watching = (True, "", 0)
    station.show_control("right_stick")
    turns = [Frame(bench.now_us + 4_000 * at, {"right_stick.x": 0.5 * sin(at / 50)}) for at in range(2_000)]
    station.take(FrameNews(frame.t_us, frame.values) for frame in turns)
    station.outcome_panel._on_time()
    bench.qtbot.waitUntil(lambda: station.outcome_panel.settled)
    now = station.outcome_panel.rows
    assert now[4][1].text() == now[4][2].text() and not station.lens._density.isNull()
    before, text = now[4][2].text(), bench.document.text
    knob = station.lens.knobs["Dead zone"]
    middle = knob.rect().center()
    QTest.mousePress(knob, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseMove(knob, pos=middle + QPoint(30, 0))
    bench.qtbot.waitUntil(lambda: station.outcome_panel.settled)
    assert now[4][1].text() == before != now[4][2].text(), "the figures go with the hand"
    bench.qtbot.waitUntil(lambda: len(bench.link.loaded) == 1)
    assert bench.document.text == text, "nothing is kept yet"
    assert (
        parse_profile(bench.link.loaded[0]).feel.right_stick.dead_zone
        > bench.document.profile.feel.right_stick.dead_zone
    )
    station.show_control("left_stick")
    assert bench.link.loaded[-1] == text, "what is not let go is not played on"
    kept = bench.document.path.with_name("hands.txt")
    station.outcome_panel.keep_as(kept)
    pad = RecordedPad(read_recording(kept), 0)
    again = [value for frame in pad.read(60_000_000) if (value := frame.values.get("right_stick.x")) is not None]
    assert max(again) == pytest.approx(0.5, abs=1e-3) and min(again) == pytest.approx(-0.5, abs=1e-3)


def test_a_stage_is_left_out_for_as_long_as_it_is_held_down(bench: Bench, station: FeelStation) -> None:
    text = bench.document.text
    assert "Rotation" not in station.way.buttons, "it does nothing"
    button = station.way.buttons["Dead zone"]
    QTest.mousePress(button, Qt.MouseButton.LeftButton)
    bench.qtbot.waitUntil(lambda: len(bench.link.loaded) == 1)
    assert parse_profile(bench.link.loaded[0]).feel.left_stick.dead_zone == 0.0
    QTest.mouseRelease(button, Qt.MouseButton.LeftButton)
    assert bench.link.loaded[-1] == text == bench.document.text
    assert station.way.buttons["Dead zone"] is button


def test_a_second_players_pad_has_its_own_feel_and_its_own_hand(bench: Bench, station: FeelStation) -> None:
    ours = PadInfo("fake", "Tern", "Tern", marks="0003-0001-0001-0001", controls=("right_stick",), seats=(0,))
    other = PadInfo("far", "Old", "Old", marks="0003-0001-0002-0003", controls=("right_stick",), seats=(1,))
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((ours, other), {})))
    station.show_control("right_stick")
    before = bench.document.profile.feel
    QTest.mouseClick(station.pad, Qt.MouseButton.LeftButton)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    assert [entry.text() for entry in menu.actions()] == ["For all pads", "For Tern only", "For Old only"]
    menu.actions()[2].trigger()
    menu.close()
    assert bench.link.watched == "far"
    bench.link.pads.emit(PadsNews(bench.now_us, {"far": {"right_stick.x": 0.5, "right_stick.y": 0.0}}))
    frames = (FrameNews(bench.now_us, {"right_stick.x": 0.5, "right_stick.y": 0.0}),)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, frames=frames))
    assert station.hands.last(["right_stick.x"], 1)[0][0] == 0.5
    (knob,) = (knob for knob in station.lens.knobs.values() if knob.accessibleName() == "Dead zone")
    drag(knob, QPoint(20, 0))
    profile = bench.document.profile
    assert profile.feel == before
    assert [pad.name for pad in profile.pads] == ["Old"]
    assert profile.on_pad([other.marks]).feel.right_stick.dead_zone > before.right_stick.dead_zone
    assert parse_profile(bench.link.loaded[-1]).pads == profile.pads
    assert station.back.text() == "As on all pads"
    station.back.click()
    assert bench.document.profile.pads == ()
    bench.window.map.show_layer("lamp")
    assert station.pad.text() == "For all pads"
    assert not station.pad.isEnabled()


def test_every_choice_has_a_picture_of_its_own(bench: Bench) -> None:
    profile = bench.document.profile
    for control in msgspec.structs.fields(Feel):
        for setting in feel_edits.settings(profile, BASE_LAYER, control.name):
            match setting.kind:
                case feel_edits.ChoiceKind(words):
                    icons = [choice_icon(bench.window.theme, setting.path[-1], word) for word in words]
                    pictures = [icon.pixmap(48).toImage() for icon in icons]
                    assert all(one != other for one, other in combinations(pictures, 2)), setting.label


def test_the_key_up_lifts_every_handle_of_the_curve(bench: Bench, station: FeelStation) -> None:
    station.show_control("right_stick")
    for name in station.curve.knobs:
        before = station.curve.knobs[name].y()
        for _ in range(5):
            QTest.keyClick(station.curve.knobs[name], Qt.Key.Key_Up)
        assert station.curve.knobs[name].y() < before, name
