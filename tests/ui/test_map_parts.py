"""What slots share, changed in station Map: sequences, carousels, rings; and what moves, layers and games are."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PyQt6.QtCore import QItemSelectionModel, QMimeData, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QMenu

from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits.feel import HAVING_FEEL, settings
from nub_shift.editing.edits.feel import set_setting as given_feel
from nub_shift.editing.edits.moves import parse_moves
from nub_shift.editing.edits.written_sequence import Stroke, parse_sequence, recorded_steps, steps_text
from nub_shift.editing.waiting import Awaited, Wait, WaitEvent
from nub_shift.editing.words.effects import Menu
from nub_shift.editing.words.slot_views import slot_view
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.controls import CONTROL_OF_SLOT, slot_label
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import (
    CarouselStep,
    ChooseFromRing,
    Glide,
    HoldLayer,
    PointerPosition,
    PressKeys,
    Step,
    TypeText,
)
from nub_shift.model.profile.feel import DeadZoneShape, Smoothing, StickFeel, changed_feel
from nub_shift.model.profile.game import Grip
from nub_shift.model.profile.listed import SequenceStep
from nub_shift.model.profile.profile import Direction
from nub_shift.model.profile.reactions import Assignment, Reaction
from nub_shift.model.references.named import Kind, Reference
from nub_shift.store.profile_files import format_profile, parse_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.map.editor.effect_menu import EXAMPLES
from nub_shift.ui.settings import listening_ms
from nub_shift.ui.widgets.spins import DecimalSpin, ScrollSafeChoice
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, choose, popped, work_by_keys

NB = "\N{NO-BREAK SPACE}"  # between a number and its unit


@given(
    st.lists(
        st.builds(lambda code: SequenceStep(tap=(code,)), st.sampled_from(sorted(KEY_BY_CODE)))
        | st.builds(lambda code: SequenceStep(press=("KEY_LEFTSHIFT", code)), st.sampled_from(["KEY_COMMA", "KEY_A"]))
        | st.builds(lambda text: SequenceStep(text=text), st.text('ab,"\\\\ ', min_size=1))
        | st.builds(lambda wait_ms: SequenceStep(wait_ms=wait_ms), st.integers(1, 60_000)),
        min_size=1,
    )
)
def test_steps_that_are_shown_are_read_as_they_were(steps: list[SequenceStep]) -> None:
    assert list(parse_sequence(steps_text(steps, us_layout()), [], us_layout()).steps) == steps


def test_a_sequence_is_recorded_by_typing(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    QTest.mouseClick(opened.written.record, Qt.MouseButton.LeftButton)
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Tab)
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Q)
    QTest.mouseClick(opened.written.record, Qt.MouseButton.LeftButton)
    assert not opened.written.entry.recording and opened.written.entry.text() == "Tab, Q"
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    assert bench.document.profile.sequences[-1].steps == (
        SequenceStep(tap=("KEY_TAB",)),
        SequenceStep(tap=("KEY_Q",)),
    )
    typed = [(0, "KEY_LEFTCTRL", 1), (40, "KEY_C", 1), (90, "KEY_C", 0), (120, "KEY_LEFTCTRL", 0)]
    typed += [(620, "KEY_W", 1), (630, "KEY_W", 1), (1620, "KEY_W", 0), (1700, "KEY_A", 1)]
    steps = recorded_steps(Stroke(at_ms, code, bool(down)) for at_ms, code, down in typed)
    assert steps_text(steps, us_layout()) == "Ctrl + C, 500 ms, down W, 1000 ms, up W, 80 ms, A"


def test_entries_are_added_moved_and_removed_one_by_one(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    bench.window.map.open_slot("right_stick", listen=False).edits.give_group("Light")
    opened = bench.window.map.open_slot("north", listen=False)
    opened.edits.give_group("Light")
    first = bench.document.profile.carousels[0]
    opened.change_part(Reference(Kind.CAROUSEL, first.id))
    panel = opened.edits.panel
    assert panel is not None
    panel.rows.setCurrentRow(0)
    opened.edits.give(Action(move="leap"))
    QTest.keyClick(panel.rows, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    now = bench.document.profile.carousels[0].entries
    assert now == (Action(move="leap"), *first.entries)
    QTest.mouseClick(opened.bar.manners[Manner.TOGGLE], Qt.MouseButton.LeftButton)
    assert bench.document.profile.carousels[0].entries[0] == Action(move="leap", manner=Manner.TOGGLE)
    QTest.keyClick(panel.rows, Qt.Key.Key_Delete)
    assert bench.document.profile.carousels[0] == first
    ring = bench.document.profile.rings[0]
    opened.change_part(Reference(Kind.RING, ring.id))
    assert opened.edits.panel is not None and opened.edits.panel is not panel
    opened.edits.panel.radius.setValue(80)
    assert bench.document.profile.rings[0] == replace(ring, radius=0.8)
    item = opened.edits.panel.rows.item(1)
    assert item is not None
    item.setText("Second of all")
    assert bench.document.profile.rings[0].entries[1].label == "Second of all"
    QTest.keyClick(opened.edits.panel.name, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(opened.edits.panel.name, "Wheel of tools")
    QTest.keyClick(opened.edits.panel.name, Qt.Key.Key_Return)
    assert bench.document.profile.rings[0].label == "Wheel of tools"


def test_the_steps_of_a_sequence_are_changed_where_they_are_written(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    opened.written.entry.setText("A, 100 ms, B")
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    before = bench.document.profile.sequences[-1]
    opened.change_part(Reference(Kind.SEQUENCE, before.id))
    opened.written.entry.setText(opened.written.entry.text().replace("100 ms", "200 ms"))
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    after = bench.document.profile.sequences[-1]
    assert (after.id, after.steps[1]) == (before.id, SequenceStep(wait_ms=200))
    assert bench.assigned("home") == Assignment(sequence=before.id)


def test_moves_are_linked_by_clicking_and_the_link_goes_with_the_move(bench: Bench) -> None:
    moves = bench.window.map.moves
    rows = {moves.list.item(row).text(): row for row in range(moves.list.count())}  # type: ignore[union-attr]
    label = {move.id: move.label for move in bench.document.profile.moves}
    moves.list.setCurrentRow(rows[label["leap"]])
    choose(popped(moves.tools), "Used together with …")
    item = moves.list.item(rows[label["brace"]])
    assert item is not None
    moves.list.itemClicked.emit(item)
    linked = bench.document.profile.move("leap")
    assert linked is not None and linked.together == ("brace",)
    bench.window.map.waiting.handle_event(WaitEvent.CANCELLED)
    moves.choose("brace")
    QTest.keyClick(moves.list, Qt.Key.Key_Delete)
    after = bench.document.profile.move("leap")
    assert after is not None and after.together == ()


def test_moves_are_grouped_sought_and_removed_several_at_once(bench: Bench) -> None:
    moves = bench.window.map.moves

    def choose_moves(*labels: str) -> None:
        moves.list.clearSelection()
        for label in labels:
            (item,) = moves.list.findItems(label, Qt.MatchFlag.MatchExactly)
            moves.list.setCurrentItem(item, QItemSelectionModel.SelectionFlag.Select)

    def groups() -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for move in bench.document.profile.moves:
            found.setdefault(move.group, []).append(move.label)
        return found

    before = groups()
    choose_moves("Leap", "Brace")
    choose(popped(moves.tools), "Group", "New group …")
    QTest.keyClicks(moves.entry, "Body")
    QTest.keyClick(moves.entry, Qt.Key.Key_Return)
    assert groups()["Body"] == ["Leap", "Brace"]
    (heading,) = moves.list.findItems("Body", Qt.MatchFlag.MatchExactly)
    moves.list.setCurrentItem(heading)
    QTest.keyClick(moves.list, Qt.Key.Key_F2)
    moves.entry.setText("Limbs")
    QTest.keyClick(moves.entry, Qt.Key.Key_Return)
    (heading,) = moves.list.findItems("Limbs", Qt.MatchFlag.MatchExactly)
    moves.list.setCurrentItem(heading)
    choose(popped(moves.tools), "Merge into", "Walking")
    assert {label: set(found) for label, found in groups().items()} == {
        label: set(found) for label, found in before.items()
    }
    order = list(before)
    (heading,) = moves.list.findItems(order[0], Qt.MatchFlag.MatchExactly)
    (target,) = moves.list.findItems(order[1], Qt.MatchFlag.MatchExactly)
    moves.list.setCurrentItem(heading)
    place = QPointF(moves.list.visualItemRect(target).center())
    plain = (Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    data = QMimeData()  # an event does not keep it
    moves.list.dropEvent(QDropEvent(place, Qt.DropAction.MoveAction, data, *plain))
    assert list(groups()) == [order[1], order[0], *order[2:]]
    (heading,) = moves.list.findItems(order[0], Qt.MatchFlag.MatchExactly)
    moves.list.setCurrentItem(heading)
    choose(popped(moves.tools), "Further up")
    assert list(groups()) == order
    choose_moves("Leap")
    choose(popped(moves.tools), "Walking", "Walk forward")
    walking = {move.label: move.direction for move in bench.document.profile.moves if move.direction is not None}
    assert walking["Leap"] is Direction.UP and "Walk forward" not in walking
    QTest.keyClicks(moves.search, "esc")
    seen = [item.text() for row in range(moves.list.count()) if (item := moves.list.item(row)) and not item.isHidden()]
    assert "Pause" in seen and "Leap" not in seen
    moves.search.clear()
    choose_moves("Leap", "Brace", "Hurry")
    QTest.keyClick(moves.list, Qt.Key.Key_Delete)
    assert not {"Leap", "Brace", "Hurry"} & {move.label for move in bench.document.profile.moves}


def test_a_move_can_be_a_text_and_its_slots_then_type_it_once(bench: Bench) -> None:
    found, moves, said = bench.window.map, bench.window.map.moves, list[str]()
    moves.refused.connect(said.append)
    found.open_slot("south", listen=False)
    assert found.opened is not None
    QTest.mouseClick(found.opened.bar.manners[Manner.TURBO], Qt.MouseButton.LeftButton)
    before = bench.document.profile.move("leap")
    for text in ("Up we go \u2603", "Up we go"):
        assert bench.document.profile.move("leap") == before
        moves.choose("leap")
        choose(popped(moves.tools), "Type a text …")
        moves.entry.insert(text)  # in place of what is selected
        QTest.keyClick(moves.entry, Qt.Key.Key_Return)
    assert said == ["Your keyboard layout cannot type \u2603"]
    leap, south = bench.document.profile.move("leap"), bench.document.profile.layers[0].slots["south"]
    assert leap is not None and leap.sent == TypeText("Up we go")
    assert (south.move, south.manner) == ("leap", Manner.HELD)
    assert slot_view(bench.document.profile, "base", "south", us_layout()).caps == ("“Up we go”",)


def test_pasted_lists_are_understood_as_people_write_them() -> None:
    text = (
        "Walk forward W\nStrafe left A\nFire left mouse\nZoom\tmouse 2\nNext weapon mouse button 4\nLook left Q\n"
        "Plan B\nSprint\tLeft Shift\nCrouch - LCtrl\nHeal (H)\nMap | PgUp\nPing: Numpad 5\nTurn = Left Arrow\n"
        'Ready "ready"\nThanks = "Thank you!" + Enter'
    )
    found = {move.label: (move.sent, move.direction) for move in parse_moves(text, us_layout(), pasted=True)}
    assert found == {
        "Walk forward": (PressKeys(("KEY_W",)), Direction.UP),
        "Strafe left": (PressKeys(("KEY_A",)), Direction.LEFT),
        "Fire": (PressKeys(("BTN_LEFT",)), None),
        "Zoom": (PressKeys(("BTN_RIGHT",)), None),
        "Next weapon": (PressKeys(("BTN_SIDE",)), None),
        "Look left": (PressKeys(("KEY_Q",)), None),
        "Plan": (PressKeys(("KEY_B",)), None),
        "Sprint": (PressKeys(("KEY_LEFTSHIFT",)), None),
        "Crouch": (PressKeys(("KEY_LEFTCTRL",)), None),
        "Heal": (PressKeys(("KEY_H",)), None),
        "Map": (PressKeys(("KEY_PAGEUP",)), None),
        "Ping": (PressKeys(("KEY_KP5",)), None),
        "Turn": (PressKeys(("KEY_LEFT",)), None),
        "Ready": (TypeText("ready"), None),
        "Thanks": (TypeText("Thank you!\n"), None),
    }
    assert [move.untyped for move in parse_moves('Cheer = "☃ ho"', us_layout())] == ["☃"]


def test_hue_grip_and_what_a_game_reads_are_chosen_from_menus(bench: Bench) -> None:
    bench.window.map.show_layer("lamp")
    bench.window.layers.open_tools()
    choose(bench.window.layers.menu, "Colour", "Violet")
    assert bench.document.profile.layers[1].hue == 5
    game = bench.window.map.game
    for path in (("The pad is held with", "Middle fingers on the triggers"), ("The game also reads the pad itself",)):
        game.open_tools()
        choose(game.menu, *path)
    assert bench.document.profile.game.grip is Grip.INDEX_AND_MIDDLE
    assert bench.document.profile.game.reads_pads
    game.open_tools()
    assert game.counts is not None
    game.counts.setValue(7200)
    game.counts.editingFinished.emit()
    assert bench.document.profile.game.counts_per_turn == 7200
    assert bench.document.undo() == "Game: 7200 counts a turn"
    for path in (
        ("Frame rate of the game", "60 frames a second"),
        ("Hold each key for at least", f"50{NB}ms"),
    ):
        game.open_tools()
        choose(game.menu, *path)
    chosen = bench.document.profile.game
    assert (chosen.frame_rate_hz, chosen.key_ms, chosen.gap_ms) == (60, 50, 17)
    game.open_tools()
    assert game.rate is not None
    game.rate.setValue(75)
    game.rate.editingFinished.emit()
    assert bench.document.profile.game.frame_rate_hz == 75
    for what in ("75 frames a second", f"50{NB}ms", "60 frames a second"):
        assert bench.document.undo() == f"Game: {what}"
    assert bench.document.undo() == "Game: the game also reads the pad itself"


def test_two_layers_are_compared_and_made_alike_slot_by_slot(bench: Bench) -> None:
    bench.window.map.show_layer("lamp")
    bench.window.layers.open_tools()
    menu = bench.window.layers.menu
    assert menu is not None
    assert "While left shoulder is held" in [entry.text() for entry in menu.actions()]
    choose(menu, "What differs from", "Base")
    rows = bench.window.map.compare.rows
    texts = [rows.item(row).text() for row in range(rows.count())]  # type: ignore[union-attr]
    assert texts[0] == "Layer Lamp" and "South: Dim the lamp → Leap" in texts
    rows.setCurrentRow(texts.index("South: Dim the lamp → Leap"))
    QTest.keyClick(rows, Qt.Key.Key_Return)
    assert bench.assigned("south", "lamp") == Assignment(move="leap")
    assert rows.count() == len(texts) - 1
    QTest.keyClick(rows, Qt.Key.Key_Escape)
    assert not rows.isVisible() and bench.window.map.lanes.isVisible()
    bench.window.layers.open_tools()
    choose(bench.window.layers.menu, "Turn it on with …")
    bench.link.touch("grip_1")
    assert bench.assigned("grip_1") == Assignment(layer="lamp")


def test_the_numbers_of_what_a_slot_does_are_set_beside_it(bench: Bench) -> None:
    opened = bench.window.map.open_slot("home", listen=False)
    row = opened.bar.amounts
    opened.edits.give(Action(glide=Glide(x=400.0)))
    assert [spin.value() for spin in row.spins] == [400, 0]
    row.spins[1].setValue(-250)
    assert bench.assigned("home") == Assignment(glide=Glide(x=400.0, y=-250))
    opened.edits.give(Action(keys=("KEY_A",), manner=Manner.TURBO))
    row.spins[0].setValue(30)
    assert bench.assigned("home") == Assignment(keys=("KEY_A",), manner=Manner.TURBO, duty=0.3)
    opened.edits.give(Action(keys=("KEY_A",), manner=Manner.TOGGLE))
    QTest.mouseClick(row.switches[0], Qt.MouseButton.LeftButton)
    assert bench.assigned("home") == Assignment(keys=("KEY_A",), manner=Manner.TOGGLE, regain=True)
    opened = bench.window.map.open_slot("left_stick", listen=False)
    opened.edits.set_use(PointerPosition())
    for place, value in enumerate((250, 200)):
        opened.bar.amounts.spins[place].setValue(value)
    for switch in opened.bar.amounts.switches:
        QTest.mouseClick(switch, Qt.MouseButton.LeftButton)
    assert bench.assigned("left_stick") == Assignment(
        position=PointerPosition(x=250, y=200, ring=True, hold=("BTN_LEFT", "BTN_RIGHT"))
    )
    opened.written.entry.setText("Shift")
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    placed = bench.assigned("left_stick")
    assert isinstance(placed, Assignment) and placed.position is not None
    assert placed.position.hold == ("KEY_LEFTSHIFT",)


def test_which_layers_are_gone_round_is_chosen(bench: Bench) -> None:
    for label in ("Dusk", "Night"):
        bench.document.edit(label, partial(layer_edits.add, layer_id=label.lower(), label=label))
    opened = bench.window.map.open_slot("home", listen=False)
    opened.edits.give(Action(next=("base", "lamp", "dusk", "night")))
    QTest.mouseClick(opened.bar.layer, Qt.MouseButton.LeftButton)
    menus = [menu for menu in opened.bar.findChildren(QMenu) if menu.title() == ""]
    choose(menus[-1], "Goes round", "Dusk")
    assert bench.assigned("home") == Assignment(next=("base", "lamp", "night"))


def test_every_number_of_feel_is_set_for_the_profile_or_for_a_layer(bench: Bench) -> None:
    opened = bench.window.map.open_slot("left_stick.up", listen=False)
    station = bench.window.feel
    QTest.mouseClick(opened.feel, Qt.MouseButton.LeftButton)
    assert station.isVisible() and station.control == "left_stick"
    QTest.mouseClick(station.numbers, Qt.MouseButton.LeftButton)

    def write(*path: str, text: str) -> str:
        """Types a number, and returns what stands there then."""
        field = station.table.fields[path]
        assert isinstance(field, DecimalSpin)
        line = field.lineEdit()
        assert line is not None
        field.setFocus()
        line.selectAll()
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
        return line.text()

    def pick(*path: str, text: str) -> None:
        field = station.table.fields[path]
        assert isinstance(field, ScrollSafeChoice)
        field.setCurrentText(text)
        field.activated.emit(field.currentIndex())

    def feel() -> StickFeel:
        return bench.document.profile.feel.left_stick

    assert write("dead_zone", text="0,2") == "0.2", "a comma does as well"
    assert feel().dead_zone == 0.2
    assert write("dead_zone", text="much") == "0.2", "what is no number cannot be typed"
    assert write("dead_zone", text="3") == "0.9", "the nearest that can be"
    write("dead_zone", text="0.213")
    assert feel().dead_zone == 0.213
    QTest.keyClick(station.table.fields["dead_zone",], Qt.Key.Key_Up)
    assert feel().dead_zone == pytest.approx(0.223)
    pick("smoothing", text="On")
    write("smoothing", "beta", text="7")
    pick("invert_y", text="Yes")
    pick("dead_zone_shape", text="A disc and bands")
    assert (feel().smoothing, feel().invert_y) == (Smoothing(beta=7.0), True)
    assert feel().dead_zone_shape is DeadZoneShape.BOTH
    assert write("directions", "off", text="0.9") == f"{feel().directions.on - 0.01:g}", "it ends below where it begins"
    bench.window.show_station(Station.MAP)
    opened.choose("lamp", "left_stick.up", listen=False)
    QTest.mouseClick(opened.feel, Qt.MouseButton.LeftButton)
    write("dead_zone", text="0.3")
    profile = bench.document.profile
    assert profile.feel.left_stick.dead_zone == pytest.approx(0.223)
    assert changed_feel(profile.feel, profile.layers[1].feel).left_stick.dead_zone == 0.3


@pytest.mark.parametrize("control", sorted(HAVING_FEEL))
def test_every_setting_of_feel_can_be_written_as_it_is_shown(control: str) -> None:
    profile = parse_profile(
        'schema = 4\ntitle = "T"\n[[layers]]\nid = "base"\nlabel = "B"\n[[layers]]\nid = "x"\nlabel = "X"'
    )
    for layer_id in ("base", "x"):
        for setting in settings(profile, layer_id, control):
            assert setting.expected
            made = given_feel(profile, layer_id, control, setting.path, setting.text)
            shown = {found.path: found.text for found in settings(made, layer_id, control)}
            assert shown[setting.path] == setting.text
            assert given_feel(made, layer_id, control, setting.path, "") == profile


def test_nine_ways_in_one_choice_show_their_diagonals(bench: Bench) -> None:
    opened = bench.window.map.open_slot("left_stick", listen=False)
    assert ("base", "left_stick.up_left") not in opened.grid.cells
    codes = edits.STICK_KEYS["Number pad, nine ways"]
    bench.document.edit("Nine ways", partial(edits.bind_stick_keys, layer_id="base", stick="left_stick", codes=codes))
    again = bench.window.map.opened
    assert again is not None and ("base", "left_stick.up_left") in again.grid.cells
    assert bench.assigned("left_stick.up_left") == Assignment(keys=("KEY_KP7",))


@pytest.mark.parametrize("scale", [1, 2])
def test_what_the_pad_lacks_is_moved_to_an_offered_place_by_keys(
    make_bench: Callable[[Theme], Bench], scale: int
) -> None:
    theme = Theme(DAY)
    theme.points *= scale
    bench = make_bench(theme)
    station = bench.window.map
    assert not station.dock.find_places.isVisible()
    profile = bench.document.profile
    for layer in ("base", "lamp"):
        for slot in ("south", "east", "west"):
            profile = edits.bind(profile, layer, slot, None)  # which are free now
    for slot, key in (("slider_2.high", "KEY_F9"), ("grip_3", "KEY_F8")):
        profile = edits.bind(profile, "base", slot, Assignment(keys=(key,)))
    bench.document.edit("By another pad", lambda _: profile)
    station.clashes.look()
    item = next(
        item
        for row in range(station.clashes.rows.count())
        if (item := station.clashes.rows.item(row)) is not None and "slider 2" in item.text()
    )
    station.clashes.rows.itemActivated.emit(item)
    assert station.places.isVisible()
    QTest.keyClick(station.places, Qt.Key.Key_Escape)
    assert not station.places.isVisible() and station.dock.find_places.isVisible()
    work_by_keys(bench.window, station.dock.find_places)
    (grip, first), (slider, second) = station.places.rows
    assert (grip.slots, slider.slots) == (("grip_3",), ("slider_2.high",))
    assert first.currentText() != second.currentText(), "no place is offered twice"
    before = first.currentText()
    work_by_keys(bench.window, second, Qt.Key.Key_Up)
    assert second.currentText() == before, "what is taken for one is not free for the other"
    assert first.currentText() not in (before, "Leave unassigned"), "which goes elsewhere"
    wanted = {key: slot for choice, key in ((first, "KEY_F8"), (second, "KEY_F9")) for slot in [choice.currentText()]}
    work_by_keys(bench.window, station.places.put)
    for key, label in wanted.items():
        slot = next(slot for slot in CONTROL_OF_SLOT if slot_label(slot) == label)
        assert bench.assigned(slot) == Assignment(keys=(key,))
    assert bench.assigned("grip_3") is None and not station.dock.find_places.isVisible()
    assert station.lanes.isVisible()


def test_ending_without_a_key_loses_nothing_and_a_late_key_lands_nowhere(bench: Bench) -> None:
    entry = bench.window.map.moves.entry
    said: list[str] = []
    bench.window.map.said.connect(said.append)
    before = bench.document.profile
    QTest.keyClicks(entry, "Jump")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    bench.now_us += 9_000_000
    bench.window.map.waiting.check_time()
    assert entry.text() == "Jump" and not entry.listening and "No key was pressed for Jump" in said[-1]
    QTest.keyClick(entry, Qt.Key.Key_W)
    assert entry.text() == "Jump" and bench.document.profile == before
    QTest.keyClick(entry, Qt.Key.Key_Return)
    QTest.keyClick(entry, Qt.Key.Key_W)
    assert bench.document.profile.moves[-1].label == "Jump" and entry.text() == ""


def test_how_long_a_key_is_waited_for_is_a_choice_that_is_kept(bench: Bench) -> None:
    line = bench.window.map.dock.wait_line
    QTest.mouseClick(line.time, Qt.MouseButton.LeftButton)
    popup = QApplication.activePopupWidget()
    assert isinstance(popup, QMenu) and popup.actions()[-1].text() == "Until you cancel"
    popup.actions()[-1].trigger()
    popup.close()
    bench.link.touch("south")
    assert "It replaces: Leap" in line.text.text()
    bench.now_us += 3_600_000_000
    bench.window.map.waiting.check_time()
    opened = bench.window.map.opened
    assert opened is not None and opened.edits.cell is not None and opened.edits.cell.listening
    assert listening_ms() == 0


def test_the_demo_of_a_simulated_pad_opens_and_binds_nothing_and_the_desktops_keys_are_left_alone(bench: Bench) -> None:
    bench.link.is_automatic = True
    bench.link.touch("home")
    assert not bench.window.map.findChildren(ControlEditor)
    bench.link.is_automatic = False
    bench.link.touch()
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None and opened.edits.cell is not None
    said: list[str] = []
    bench.window.map.said.connect(said.append)
    for keys in ((Qt.Key.Key_Meta,), (Qt.Key.Key_Alt, Qt.Key.Key_F4), (Qt.Key.Key_Alt, Qt.Key.Key_Tab)):
        for key in keys:
            QTest.keyPress(opened.edits.cell, key)
        for key in reversed(keys):
            QTest.keyRelease(opened.edits.cell, key)
        assert bench.assigned("home") is None and "Your desktop uses" in said.pop()
    QTest.keyClick(opened.edits.cell, Qt.Key.Key_F9)
    assert bench.assigned("home") == Assignment(keys=("KEY_F9",))


def test_the_rarer_settings_of_an_action_are_one_question_away(bench: Bench) -> None:
    opened = bench.window.map.open_slot("home", listen=False)
    opened.edits.give(Action(move="leap"))
    choose(popped(opened.bar.other), "And one more thing", "The next key or move you choose")
    assert opened.edits.cell is not None and opened.edits.cell.listening
    opened.edits.give(Action(keys=("KEY_F9",)))
    choose(popped(opened.bar.other_manners), "Stays on a little longer")
    opened.bar.amounts.spins[-1].setValue(300)
    both = Assignment(move="leap", linger_ms=300, also=(Action(keys=("KEY_F9",)),))
    assert bench.assigned("home") == both and f"Leap, 300{NB}ms longer and F9" in opened.bar.does.accessibleName()
    choose(popped(opened.bar.other), "And one more thing", "Without F9")
    QTest.mouseClick(opened.bar.manners[Manner.TURBO], Qt.MouseButton.LeftButton)
    choose(popped(opened.bar.other_manners), "Slower when barely pressed")
    turbo = bench.assigned("home")
    assert isinstance(turbo, Assignment) and (turbo.light_hz, turbo.also) == (5.0, ())
    QTest.mouseClick(opened.bar.manners[Manner.TOGGLE], Qt.MouseButton.LeftButton)
    choose(popped(opened.bar.other_manners), "Only one of a group at a time", "Group group")
    choose(popped(opened.bar.other_manners), "Also ends with", "Left stick", "Left stick down")
    assert bench.assigned("home") == Assignment(
        move="leap", manner=Manner.TOGGLE, group="group", ended_by=("left_stick.down",)
    )
    choose(popped(opened.bar.other), Menu.SEQUENCE.value, "An example to start from", EXAMPLES[0])
    assert opened.written.entry.text() == EXAMPLES[0]
    tools = bench.window.layers
    bench.window.map.show_layer("lamp")
    for when in ("When the layer comes on", "When the layer goes off"):
        tools.open_tools()
        choose(tools.menu, when, "Leap")
    lamp = bench.document.profile.layers[1]
    assert lamp.enter == lamp.leave == Action(move="leap")
    said: list[str] = []
    tools.refused.connect(said.append)
    for written in ("F13 + Ctrl", "nonsense"):
        tools.open_tools()
        tools.keys["enter"].setText(written)
        QTest.keyClick(tools.keys["enter"], Qt.Key.Key_Return)
    enter = bench.document.profile.layers[1].enter
    assert enter == Action(keys=("KEY_F13", "KEY_LEFTCTRL")) and said == [
        '"nonsense" is no key: write it as F13 or Ctrl + C'
    ]
    tools.open_tools()
    assert tools.keys["enter"].text() == "F13 + Ctrl"
    assert tools.menu is not None
    tools.menu.close()
    parse_profile(format_profile(bench.document.profile))


def test_rings_and_carousels_are_found_under_what(bench: Bench) -> None:
    """For a button at the chosen moment, for the whole of a stick; what was given is not waited for any longer."""
    map_ = bench.window.map
    bench.link.touch("home")
    assert map_.opened is not None
    bar = map_.opened.bar
    QTest.mouseClick(bar.reactions[Reaction.HOLD], Qt.MouseButton.LeftButton)
    choose(popped(bar.other), Menu.STEP.value, "A new carousel of", "Light")
    assert not map_.waiting.for_slot
    map_.open_slot("right_stick", listen=False)
    bar = map_.opened.bar
    choose(popped(bar.whole), "A new ring of", "Light")
    base = bench.document.profile.layers[0].slots
    step = base["home"].reactions[Reaction.HOLD].effect
    assert isinstance(step, CarouselStep) and step.id == bench.document.profile.carousels[-1].id
    assert base["right_stick"].uses == (ChooseFromRing(bench.document.profile.rings[-1].id),)


def test_what_is_made_first_goes_where_a_key_would_go(bench: Bench) -> None:
    """A step, layer or sequence is one thing more, an entry, or for two slots together, as a key is."""
    opened = bench.window.map.open_slot("home", listen=False)
    opened.edits.give(Action(move="leap"))
    choose(popped(opened.bar.other), "And one more thing", "The next key or move you choose")
    opened.edits.give_new_layer()
    layer = bench.document.profile.layers[-1].id
    assert bench.assigned("home") == Assignment(move="leap", also=(Action.of(HoldLayer(layer)),))
    opened.edits.give_group("Light")
    steps = bench.document.profile.carousels[-1]
    assert bench.assigned("home") == Assignment.of(CarouselStep(steps.id, Step.FORWARD))
    opened.change_part(Reference(Kind.CAROUSEL, steps.id))
    panel = opened.edits.panel
    assert panel is not None
    panel.rows.setCurrentRow(-1)
    opened.edits.give_new_layer()
    last = bench.document.profile.layers[-1].id
    assert last != layer and bench.document.profile.carousels[-1].entries[-1] == Action.of(HoldLayer(last))
    QTest.mouseClick(opened.bar.empty, Qt.MouseButton.LeftButton)
    assert bench.document.profile.carousels[-1] == steps and bench.assigned("home") is not None
    opened.close_part()
    bench.window.map.waiting.begin(Wait(Awaited.PAIR_INPUT, "base", "home", partner="south"))
    QTest.keyClicks(opened.written.entry, "A, 100 ms, B")
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    pair = bench.document.profile.layers[0].together[-1]
    assert set(pair.slots) == {"home", "south"} and pair.reactions[Reaction.PRESS].sequence


def test_escape_closes_what_was_opened_last_and_nothing_else(bench: Bench) -> None:
    station = bench.window.map
    station.clashes.head.setChecked(True)
    opened = station.open_slot("home", listen=False)
    opened.edits.give_group("Light")
    opened.change_part(Reference(Kind.CAROUSEL, bench.document.profile.carousels[-1].id))
    bench.window.layers.table.setChecked(True)
    station.waiting.begin(Wait(Awaited.PARTNER, "base", "home"))

    def left() -> list[bool]:
        waits = station.waiting.wait.awaited is not Awaited.NOTHING
        table, panel = bench.window.layers.table.isChecked(), opened.edits.panel is not None
        return [waits, table, panel, station.opened is not None, station.clashes.head.isChecked()]

    for still_open in range(5, 0, -1):
        assert left() == [number >= 5 - still_open for number in range(5)]
        QTest.keyClick(station, Qt.Key.Key_Escape)
    assert not any(left())
