"""Profiles made in station Map, with the touches counted that each task takes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QWidget
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits import slots as slot_edits
from nub_shift.editing.edits.removal import remove
from nub_shift.editing.edits.written_sequence import parse_sequence
from nub_shift.editing.waiting import Awaited, Wait
from nub_shift.editing.words.effects import Menu
from nub_shift.editing.words.labels import REACTION_WORDS
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Pointer
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.profile.actions import Action, Manner
from nub_shift.model.profile.effects import Flick, MotionSwitch, PaceOf, PlacePointer, Snap, Tilt, Turn, TurnBy
from nub_shift.model.profile.profile import Direction, Profile
from nub_shift.model.profile.reactions import Assignment, Hold, MoreTaps, Reaction, Release
from nub_shift.model.references.named import Kind, Reference
from nub_shift.store.profile_files import format_profile, parse_profile
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.map.editor.cell import Cell
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.map.move_list import MoveList
from nub_shift.ui.widgets.spins import ScrollSafeChoice
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, choose, popped

GAME = """
Walk: WASD
Look around: mouse
Fight:
Strike\tLeft click
Guard\tRight click
Dodge\tCtrl
Leap\tSpace
Shout\tQ
Camp:
Tent = T
Fire = F
Eat = E
Rest = Z
Map = M
Tools:
Axe\t1
Pick\t2
Rope\t3
Lamp\t4
Hook\t5
"""


class Maker:
    """A person who makes a profile from nothing, and counts."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        self.touches = 0
        bench.document.edit("From nothing", lambda _: Profile(schema=4, title="Made up"))

    @property
    def profile(self) -> Profile:
        return self.bench.document.profile

    @property
    def moves(self) -> MoveList:
        return self.bench.window.map.moves

    @property
    def bar(self) -> QWidget:
        assert self.bench.window.map.opened is not None
        return self.bench.window.map.opened.bar

    def pad(self, slot: str) -> None:
        """Touches a control of the pad and lets go."""
        self.touches += 1
        self.bench.link.touch(slot)
        self.bench.link.touch()

    def key(self, *keys: Qt.Key) -> None:
        """Presses keys together."""
        self.touches += 1
        cell = QApplication.focusWidget()
        assert cell is not None
        for key in keys:
            QTest.keyPress(cell, key)
        for key in reversed(keys):
            QTest.keyRelease(cell, key)

    def click(self, widget: QWidget) -> None:
        self.touches += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)

    def pick(self, text: str) -> None:
        """Clicks a move, or the heading of a group."""
        self.touches += 1
        rows = self.moves.list
        (item,) = rows.findItems(text, Qt.MatchFlag.MatchExactly)
        rows.scrollToItem(item)
        viewport = rows.viewport()
        assert viewport is not None
        QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=rows.visualItemRect(item).center())

    def paste(self, text: str) -> None:
        """Pastes lines into the entry: a click and a shortcut."""
        self.touches += 2
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(text)
        QTest.keyClick(self.moves.entry, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)


@pytest.fixture
def maker(bench: Bench) -> Maker:
    return Maker(bench)


def test_look_with_motion_while_the_trigger_is_held(maker: Maker) -> None:
    maker.paste("Aim\tRight click\nCall\tQ")
    station = maker.bench.window.map
    maker.pad("left_trigger.light")
    maker.pick("Aim")
    before = maker.touches
    maker.click(station.lanes.instruments["motion"])
    assert station.opened is not None
    maker.click(station.opened.whole.turn_while)
    maker.pad("left_trigger.light")
    assert maker.touches - before <= 4
    base = maker.profile.layers[0]
    assert base.slots["motion"] == Assignment(turn=Turn(on=False))
    assert base.slots["left_trigger.light"] == Assignment(
        move="aim", hold=Hold(motion=MotionSwitch.ON, after_ms=slot_edits.SOONEST_MS)
    )
    maker.click(station.lanes.instruments["motion"])
    maker.click(station.opened.whole.turn_while)
    before_text = maker.bench.document.text
    QTest.keyClick(station, Qt.Key.Key_Escape)
    maker.pad("south")
    assert maker.bench.document.text == before_text
    counts = []
    for pulled in (0.0, 1.0):
        engine = Engine(Program(maker.profile))
        out = engine.feed(Frame(0, {"left_trigger": pulled}))
        for time_us in range(100_000, 600_000, 4_000):
            out += engine.feed(Frame(time_us, {"motion.gyro_y": -90.0 + time_us % 3}))
        counts.append(sum(abs(sent.dx) for sent in out if isinstance(sent, Pointer)))
    assert counts[0] == 0 < counts[1]


def test_moves_are_typed_and_their_keys_pressed(maker: Maker, qtbot: QtBot) -> None:
    entry = maker.moves.entry
    QTest.keyClicks(entry, "Jump")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert entry.listening and "for Jump" in maker.bench.window.map.dock.wait_line.text.text()
    QTest.keyPress(entry, Qt.Key.Key_Space)
    QTest.keyRelease(entry, Qt.Key.Key_Space)
    assert [(move.label, move.keys) for move in maker.profile.moves] == [("Jump", ("KEY_SPACE",))]
    QTest.keyClicks(entry, "Dodge = Ctrl + C")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert maker.profile.moves[1].keys == ("KEY_LEFTCTRL", "KEY_C")
    # Another key for a move changes it everywhere at once.
    maker.pad("south")
    maker.pick("Jump")
    maker.moves.list.setCurrentRow(0)
    choose(popped(maker.moves.tools), "Another key …")
    QTest.mouseClick(entry, Qt.MouseButton.RightButton)
    move = maker.profile.move("jump")
    assert move is not None and move.keys == ("BTN_RIGHT",)
    assert maker.bench.assigned("south") == Assignment(move="jump")
    QTest.keyClick(maker.moves.list, Qt.Key.Key_F2)
    entry.setText("Hop")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert maker.profile.moves[0].label == "Hop"
    maker.moves.list.setCurrentRow(0)
    QTest.keyClick(maker.moves.list, Qt.Key.Key_Delete)
    assert [move.label for move in maker.profile.moves] == ["Dodge"]
    assert maker.bench.assigned("south") == Assignment(keys=("BTN_RIGHT",))


def test_what_cannot_be_taken_is_said_and_the_rest_is_taken(maker: Maker) -> None:
    said: list[str] = []
    maker.moves.refused.connect(said.append)
    maker.paste("Jump\tSpace\nFly\tNokey\nSwim\n")
    assert [move.label for move in maker.profile.moves] == ["Jump"]
    assert said == ["Not added, because the key is not understood: Fly (Nokey), Swim (no key)"]
    entry = maker.moves.entry
    assert entry.text() == "Fly = Nokey", "it stays to be mended, and the next one comes after it"
    entry.setText("Fly = Left Alt")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert entry.text() == "Swim = "
    entry.clear()
    told: list[str] = []
    maker.moves.edited.connect(lambda what, _edit: told.append(what))
    maker.paste("Jump\tSpace\nFly\tLeft Alt\nDive: mouse wheel down")
    assert told == ["Added 1 move, 2 were there"]
    maker.pick("Fly")
    QTest.keyClick(maker.moves.list, Qt.Key.Key_F2)
    for wrong, why in (("jump", "There is a move called jump already"), ("", "A move needs a name")):
        entry.setText(wrong)
        QTest.keyClick(entry, Qt.Key.Key_Return)
        assert said[-1] == why
    entry.setText("Glide")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert [move.label for move in maker.profile.moves] == ["Jump", "Glide", "Dive"]
    maker.paste("Walk: E S D F\nStand: G H")
    walking = {move.direction: move.keys for move in maker.profile.moves if move.direction is not None}
    assert (walking[Direction.UP], walking[Direction.RIGHT], len(walking)) == (("KEY_E",), ("KEY_F",), 4)


def choose_reaction(opened: ControlEditor, reaction: Reaction) -> None:
    """By its button, or in the menu of the rarer ones."""
    button = opened.bar.reactions.get(reaction)
    if button is not None:
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        return
    QTest.mouseClick(opened.bar.other_reactions, Qt.MouseButton.LeftButton)
    popup = QApplication.activePopupWidget()
    assert isinstance(popup, QMenu)
    next(entry for entry in popup.actions() if entry.text().startswith(REACTION_WORDS[reaction])).trigger()
    popup.close()


def test_reactions_manners_and_times_are_edited_beside_each_other(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    opened.edits.give(Action(keys=("KEY_A",)))
    for reaction, name in ((Reaction.HOLD, "F5"), (Reaction.DOUBLE_TAP, "F6")):
        choose_reaction(opened, reaction)
        opened.written.entry.setText(name)
        QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    assert bench.assigned("home") == Assignment(
        keys=("KEY_A",), hold=Hold(keys=("KEY_F5",)), double_tap=MoreTaps(keys=("KEY_F6",))
    )
    opened.bar.time.setValue(180)
    QTest.mouseClick(opened.bar.manners[Manner.TURBO], Qt.MouseButton.LeftButton)
    opened.bar.rate.setValue(15)
    found = bench.assigned("home")
    assert isinstance(found, Assignment)
    assert found.double_tap == MoreTaps(keys=("KEY_F6",), within_ms=180, manner=Manner.TURBO, rate_hz=15.0)
    QTest.mouseClick(opened.bar.empty, Qt.MouseButton.LeftButton)
    QTest.mouseClick(opened.bar.reactions[Reaction.HOLD], Qt.MouseButton.LeftButton)
    QTest.mouseClick(opened.bar.empty, Qt.MouseButton.LeftButton)
    assert bench.assigned("home") == Assignment(keys=("KEY_A",))


def test_a_manner_of_what_comes_from_the_base_is_the_layers_own(bench: Bench) -> None:
    bench.window.map.show_layer("lamp")
    bench.window.map.open_slot("select", listen=False)
    opened = bench.window.map.opened
    assert opened is not None and bench.assigned("select", "lamp") is None
    QTest.mouseClick(opened.bar.manners[Manner.TOGGLE], Qt.MouseButton.LeftButton)
    base = bench.assigned("select")
    assert isinstance(base, Assignment)
    assert bench.assigned("select", "lamp") == Assignment(move=base.move, manner=Manner.TOGGLE)


def test_a_sequence_is_written_step_by_step(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    opened.written.entry.setText('Ctrl + C, 100 ms, down Shift, "hi, you", up Shift')
    QTest.keyClick(opened.written.entry, Qt.Key.Key_Return)
    (sequence,) = (found for found in bench.document.profile.sequences if found.id.startswith("steps"))
    assert bench.assigned("home") == Assignment(sequence=sequence.id)
    assert [step.tap or step.press or step.release or step.text or step.wait_ms for step in sequence.steps] == [
        *(("KEY_LEFTCTRL", "KEY_C"), 100, ("KEY_LEFTSHIFT",), "hi, you", ("KEY_LEFTSHIFT",))
    ]
    with pytest.raises(ValueError, match="There is no key 'Nokey'"):
        parse_sequence("A, Nokey", [], us_layout())


def test_layers_are_named_copied_moved_based_and_removed(bench: Bench) -> None:
    tools = bench.window.layers
    bench.window.map.show_layer("lamp")

    def act(*path: str) -> None:
        """Chooses from the tools' menu."""
        tools.open_tools()
        menu: QMenu | None = tools.menu
        for text in path:
            assert menu is not None
            (action,) = (found for found in menu.actions() if found.text() == text)
            if action.menu() is None:
                action.trigger()
            menu = action.menu()
        assert tools.menu is not None
        tools.menu.close()

    act("A copy above it")
    assert [layer.label for layer in bench.document.profile.layers] == ["Base", "Lamp", "Lamp copy"]
    copy = bench.window.map.layer_id
    act("Based on", "Lamp")
    tools.open_tools()
    assert tools.pace is not None
    for percent, pace in ((100, None), (50, 0.5)):
        tools.pace.setValue(percent)
        tools.pace.editingFinished.emit()
        assert bench.document.profile.layers[2].pace == pace
    layer = bench.document.profile.layer(copy)
    assert layer is not None and (layer.based_on, layer.pace) == ("lamp", 0.5)
    act("Further down")
    assert [layer.id for layer in bench.document.profile.layers] == ["base", copy, "lamp"]
    tools.open_tools()
    line = tools.name
    assert isinstance(line, QLineEdit)
    line.setText("Night")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert bench.document.profile.layers[1].label == "Night"
    bench.window.map.show_layer("lamp")
    act("Remove this layer")
    assert [layer.label for layer in bench.document.profile.layers] == ["Base", "Night"]
    assert bench.assigned("left_shoulder") is None
    parse_profile(format_profile(bench.document.profile))


def test_a_move_is_dropped_on_a_control(bench: Bench) -> None:
    instruments = bench.window.map.lanes.instruments
    instruments["home"].given.emit("tide")
    assert bench.assigned("home") == Assignment(move="tide")
    instruments["left_stick"].given.emit("tide")
    assert bench.assigned("left_stick.click") == Assignment(move="tide")
    instruments["left_stick"].given.emit("look")
    found = bench.assigned("left_stick")
    assert isinstance(found, Assignment) and found.pointer is not None


def test_what_is_waited_for_is_one_thing_in_one_line(bench: Bench) -> None:
    station = bench.window.map
    moves, line = station.moves, station.dock.wait_line
    bench.link.touch("home")
    assert line.text.text() == "Press the key for home, or click a move" and line.cancel.isVisible()
    # To wait for a name ends the wait for a key, and a name that is not given is not given to the next new move.
    moves.choose("tide")
    QTest.keyClick(moves.list, Qt.Key.Key_F2)
    assert line.text.text() == "Type the new name of Read the tide, then press Enter"
    assert moves.entry.text() == "Read the tide"
    QTest.mouseClick(line.cancel, Qt.MouseButton.LeftButton)
    assert moves.entry.text() == "" and not line.cancel.isVisible()
    moves.entry.named.emit("Sing = F9")
    assert [bench.document.profile.moves[n].label for n in (-1,)] == ["Sing"]
    assert bench.document.profile.move("tide") is not None
    moves.choose("tide")
    QTest.keyClick(moves.list, Qt.Key.Key_F2)
    moves.list.setFocus()  # to go elsewhere is to give no name
    assert moves.entry.text() == "" and line.text.text().startswith("Click a slot")
    # What is waited for ends with the control that it is for.
    bench.link.touch()
    bench.link.touch("south")
    station.waiting.begin(Wait(Awaited.PARTNER, "base", "south"))
    bench.link.touch("east")
    moves.list.setFocus()
    assert line.text.text() == "Click a move for south and east together"
    station.dock.close_control()
    assert line.text.text().startswith("Press a control")
    # The companions of a move are clicked until that is ended; a press on the pad ends it.
    moves.choose("tide")
    choose(popped(moves.tools), "Used together with …")
    assert station.waiting.wait.awaited is Awaited.LINKED_MOVES
    bench.link.touch()
    bench.link.touch("south")
    assert line.text.text().startswith("Press the key for south")


def test_keys_of_a_combination_that_come_up_later_do_nothing(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None and opened.edits.cell is not None
    cell = opened.edits.cell
    QTest.keyPress(cell, Qt.Key.Key_Control)
    QTest.keyPress(cell, Qt.Key.Key_Return)
    QTest.keyRelease(cell, Qt.Key.Key_Control)
    assert bench.assigned("home") == Assignment(keys=("KEY_LEFTCTRL", "KEY_ENTER"))
    QTest.keyRelease(cell, Qt.Key.Key_Return)  # by itself, Enter on a cell begins to listen
    assert not cell.listening


def test_a_control_that_is_waited_for_counts_though_touches_are_not_followed(bench: Bench) -> None:
    bench.window.map_tools.set_follow(False)
    bench.link.touch("east")
    assert bench.window.map.opened is None
    bench.link.touch()
    bench.window.map.await_layer("lamp")
    bench.link.touch("home")
    assert bench.assigned("home") == Assignment(layer="lamp")


def test_two_slots_together_get_a_key_of_their_own(bench: Bench) -> None:
    bench.link.touch("south")
    opened = bench.window.map.opened
    assert opened is not None
    opened.edits.await_partner()
    bench.link.touch("east")
    opened = bench.window.map.opened
    assert opened is not None and opened.edits.cell is not None
    QTest.keyPress(opened.edits.cell, Qt.Key.Key_F7)
    QTest.keyRelease(opened.edits.cell, Qt.Key.Key_F7)
    (pair,) = bench.document.profile.layers[0].together
    assert (pair.slots, pair.keys) == (("south", "east"), ("KEY_F7",))
    assert "with south: F7" in opened.edits.cell.accessibleName()
    assert bench.assigned("east") == Assignment(move="wade")
    for choice, left in (
        ("Within 100\N{NO-BREAK SPACE}ms", [(100, Manner.HELD)]),
        ("Toggle", [(100, Manner.TOGGLE)]),
        ("And the next control you press", [(100, Manner.TOGGLE)]),
        ("Each by itself", []),
    ):
        QTest.mouseClick(opened.bar.other, Qt.MouseButton.LeftButton)
        under = [menu for menu in opened.bar.findChildren(QMenu) if menu.title().startswith("Together with south")][-1]
        next(entry for entry in under.actions() if entry.text() == choice).trigger()
        pairs = bench.document.profile.layers[0].together
        assert [(found.within_ms, found.manner) for found in pairs] == left
        if choice.startswith("And"):
            bench.link.touch()
            for slot in ("east", "west"):
                bench.link.touch(slot)  # the first of them is there already
            (trio,) = bench.document.profile.layers[0].together
            assert (trio.slots, trio.keys, trio.manner) == (("south", "east", "west"), ("KEY_F7",), Manner.TOGGLE)


def test_what_slots_share_is_set_and_removed() -> None:
    profile = parse_profile(demo_profile_text("tidefold"))
    made = part_edits.change(profile, Reference(Kind.CAROUSEL, "clock"), wrap=False)
    assert not made.carousels[0].wrap
    for kind, part in ((Kind.CAROUSEL, "clock"), (Kind.RING, "folds"), (Kind.SEQUENCE, "regatta")):
        profile = remove(profile, Reference(kind, part))
    assert (profile.carousels, profile.rings, profile.sequences) == ((), (), ())
    assert parse_profile(format_profile(profile)) == profile


def test_layers_side_by_side_lead_to_the_place_and_one_is_made_like_another(bench: Bench) -> None:
    window = bench.window
    QTest.mouseClick(window.layers.table, Qt.MouseButton.LeftButton)
    table = window.map.table
    assert table.isVisible() and table.columnCount() == 2
    row = [table.verticalHeaderItem(place).text() for place in range(table.rowCount())].index("South")  # type: ignore[union-attr]
    item = table.item(row, 1)
    assert item is not None and item.text() == "Q  Dim the lamp"
    table.setCurrentItem(item)
    QTest.keyClick(table, Qt.Key.Key_Return)
    opened = window.map.opened
    assert opened is not None and opened.edits.cell is not None
    assert (opened.edits.cell.layer_id, opened.edits.cell.slot) == ("lamp", "south")
    assert not window.layers.table.isChecked()
    like = layer_edits.copy_content(bench.document.profile, "lamp", "base")
    assert like.layers[1].slots == like.layers[0].slots


def test_what_is_worth_a_look_leads_to_its_place(bench: Bench) -> None:
    rows = bench.window.map.clashes
    rows.look()
    QTest.mouseClick(rows.head, Qt.MouseButton.LeftButton)
    item = rows.rows.item(0)
    assert item is not None and "no move of the game uses" in item.text()
    rows.rows.itemActivated.emit(item)
    opened = bench.window.map.opened
    assert opened is not None and isinstance(opened.edits.cell, Cell)
    assert (bench.window.map.layer_id, opened.edits.cell.slot) == ("lamp", "west")
    last = rows.rows.item(rows.rows.count() - 1)
    assert last is not None and last.text() == "No control does Read the tide"
    rows.rows.itemActivated.emit(last)
    chosen = bench.window.map.moves.list.currentItem()
    assert chosen is not None and chosen.text() == "Read the tide"


def test_the_window_survives_many_layers(make_bench: Callable[[Theme], Bench], tmp_path: Path) -> None:
    bench = make_bench(Theme(DAY))
    for _ in range(10):
        bench.window.layers.new.click()
        bench.link.touch("select")
        bench.link.touch()
    assert len(bench.document.profile.layers) == 12
    last = bench.document.profile.layers[-1].id
    bench.window.map.show_layer(last)
    opened = bench.window.map.open_slot("left_stick.up", listen=False)
    assert len(opened.grid.layers) == 4 and {"base", last} <= set(opened.grid.layers)
    bench.window.map.show_layer("lamp")
    again = bench.window.map.opened
    assert again is not None and "lamp" in again.grid.layers and again.edits.cell is not None


def test_slots_pressed_together_are_tapped_and_held_in_their_own_way(bench: Bench) -> None:
    bench.link.touch("south")
    opened = bench.window.map.opened
    assert opened is not None
    choose_reaction(opened, Reaction.HOLD)
    choose(popped(opened.bar.other), Menu.TOGETHER.value, "With the next control you press")
    bench.link.touch("east")
    opened = bench.window.map.opened
    assert opened is not None and opened.edits.cell is not None
    QTest.keyClick(opened.edits.cell, Qt.Key.Key_F7)
    choose(popped(opened.bar.other), Menu.TOGETHER.value, "Together with south", "When", "Tap: Nothing")
    QTest.keyClick(opened.edits.cell, Qt.Key.Key_F8)
    (pair,) = bench.document.profile.layers[0].together
    assert {reaction: action.keys for reaction, action in pair.reactions.items()} == {
        Reaction.TAP: ("KEY_F8",),
        Reaction.HOLD: ("KEY_F7",),
    }
    assert "with south: tap: F8; hold: F7" in opened.edits.cell.accessibleName()
    choose(popped(opened.bar.other), Menu.TOGETHER.value, "Together with south", "When", "Clear hold")
    (pair,) = bench.document.profile.layers[0].together
    assert list(pair.reactions) == [Reaction.TAP]


def test_what_a_slot_does_only_while_another_is_held_and_when_it_is_let_go(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    choose_reaction(opened, Reaction.RELEASE)
    opened.edits.give(Action(keys=("KEY_A",)))
    opened.bar.time.setValue(300)
    choose(popped(opened.bar.other_reactions), "Only while another is held", "Left trigger", "Left trigger")
    found = bench.assigned("home")
    assert isinstance(found, Assignment)
    assert found.release == Release(keys=("KEY_A",), after_ms=300, while_=("left_trigger.light",))
    assert opened.edits.cell is not None and "while left trigger is held" in opened.edits.cell.accessibleName()
    choose(popped(opened.bar.other_reactions), "Only while another is held", "Left trigger", "Left trigger")
    opened.bar.time.setValue(0)
    assert bench.assigned("home") == Assignment(release=Release(keys=("KEY_A",)))


def test_view_and_pointer_moves_are_given_and_set(bench: Bench) -> None:
    bench.link.touch("home")
    opened = bench.window.map.opened
    assert opened is not None
    bar = opened.bar

    def press() -> Action:
        found = bench.assigned("home")
        assert isinstance(found, Assignment)
        return found.bare

    choose(popped(bar.other), Menu.POINTER.value, "Turns the view around")
    bar.amounts.spins[0].setValue(-90)
    bar.amounts.spins[1].setValue(250)
    assert press() == Action(turn_by=TurnBy(-90.0, 250))
    choose(popped(bar.other), Menu.POINTER.value, "Goes to a place on the screen while held")
    QTest.mouseClick(bar.manners[Manner.TOGGLE], Qt.MouseButton.LeftButton)
    bar.amounts.spins[0].setValue(10)
    QTest.mouseClick(bar.amounts.switches[-1], Qt.MouseButton.LeftButton)  # stays where it is: nothing to toggle
    assert press() == Action(place=PlacePointer(0.1, 0.5, back=False))
    choose(popped(bar.other), Menu.PACE.value, "Half the speed while held")
    pick(bar.amounts.choices[0], "Only the gyro")
    assert press() == Action(pace=0.5, pace_of=PaceOf.MOTION)


def test_a_flick_snaps_and_the_pad_is_turned_and_tilted_at_once(bench: Bench) -> None:
    window = bench.window
    window.map.open_slot("right_stick", listen=False)
    assert window.map.opened is not None
    bar = window.map.opened.bar
    choose(popped(bar.whole), "Turn the view to where it points")
    pick(bar.amounts.choices[0], "By quarters of a turn")
    assert bench.assigned("right_stick") == Assignment(flick=Flick(snap=Snap.QUARTER))
    window.map.open_slot("motion", listen=False)
    bar = window.map.opened.bar
    choose(popped(bar.whole), "Turn the view")
    choose(popped(bar.whole), "And tilting", "Move the pointer by tilting")
    bar.amounts.spins[0].setValue(500)
    assert bench.assigned("motion") == Assignment(turn=Turn(), tilt=Tilt(x=500.0))
    assert bar.does.text().startswith("Turn the view and")
    choose(popped(bar.whole), "And tilting", "Nothing")
    assert bench.assigned("motion") == Assignment(turn=Turn())


def pick(field: ScrollSafeChoice, text: str) -> None:
    """Chooses from a list as a person does."""
    field.setCurrentIndex(field.findText(text))
    field.activated.emit(field.currentIndex())


def test_after_a_move_is_deleted_the_next_one_is_chosen(maker: Maker) -> None:
    maker.paste("Jump\tSpace\nDodge\tX\nFly\tF\nSwim\tG")
    for gone, chosen in (("Dodge", "Fly"), ("Swim", "Fly")):
        maker.pick(gone)
        QTest.keyClick(maker.moves.list, Qt.Key.Key_Delete)
        assert gone not in [move.label for move in maker.profile.moves]
        assert [move.label for move in maker.moves._several()] == [chosen]


def test_a_move_goes_to_a_reaction_that_was_chosen_and_replaces_nothing(bench: Bench) -> None:
    station = bench.window.map
    station.open_slot("south", listen=False)
    assert station.opened is not None
    QTest.mouseClick(station.opened.bar.reactions[Reaction.HOLD], Qt.MouseButton.LeftButton)
    for move in ("brace", "beam"):  # the second would take the place of the first
        station.moves.picked.emit(move)
    south = bench.document.profile.layers[0].slots["south"]
    assert south.move == "leap" and south.hold is not None and south.hold.move == "brace"
    station.open_slot("home", listen=False)
    for group in ("Light", "Walking"):
        station.moves.group_picked.emit(group)
    home = bench.document.profile.layers[0].slots["home"]
    assert home.carousel is not None and home.carousel.id == "light"
