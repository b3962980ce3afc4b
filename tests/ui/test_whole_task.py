"""One whole task, a profile of 27 moves from nothing: by mouse and by keyboard alone, with text as usual and large."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget

from nub_shift.editing.preview.strip import played, strip_for
from nub_shift.engine.program import Program
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.profile.actions import Manner
from nub_shift.model.profile.effects import CarouselStep, MotionSwitch, PointerSpeed, Step, Turn
from nub_shift.model.profile.reactions import Assignment, Hold, Reaction
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.map.editor.control_editor import ControlEditor
from nub_shift.ui.widgets.tab_order import bring_into_view
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, choose, popped, work_by_keys
from tests.ui.test_map_edits import GAME, Maker

MORE = """
Hands:
Save\tCtrl + S
Wave\tV
Point\tP
Nod\tN
Bow\tB
Sit\tX
Kneel\tK
"""
MOST_TOUCHES = 120
TAB, BACK = Qt.Key.Key_Tab, Qt.Key.Key_Backtab
CTRL = Qt.KeyboardModifier.ControlModifier


class Player(Maker):
    """What both ways have in common."""

    def __init__(self, bench: Bench) -> None:
        super().__init__(bench)
        self.station = bench.window.map
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(GAME + MORE)

    @property
    def opened(self) -> ControlEditor:
        assert self.station.opened is not None
        return self.station.opened

    def press(self, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """One key, where what has the focus is seen."""
        self.touches += 1
        QApplication.processEvents()  # what was shown has its place by then
        focus = QApplication.focusWidget()
        assert focus is not None and not focus.visibleRegion().isEmpty()
        QTest.keyClick(focus, key, held)

    def keys(self, *keys: Qt.Key) -> None:
        for key in keys:
            self.press(key)

    def type(self, text: str) -> None:
        self.touches += len(text)
        QTest.keyClicks(QApplication.focusWidget(), text)


class ByMouse(Player):
    """Who points, and uses the keyboard for the game's keys alone."""

    def click(self, widget: QWidget) -> None:
        QApplication.processEvents()
        if widget.visibleRegion().isEmpty():
            self.touches += 1  # the wheel
            bring_into_view(widget)
        assert not widget.visibleRegion().isEmpty()
        self.touches += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)

    def take(self) -> None:
        self.touches += 1
        QTest.mouseClick(self.station.moves.list, Qt.MouseButton.LeftButton)
        self.station.moves.list.setFocus()
        self.press(Qt.Key.Key_V, CTRL)

    def movement(self) -> None:
        self.click(self.opened.whole.movement)

    def pick(self, name: str) -> None:
        rows = self.station.moves.list
        item = next(item for item in rows.findItems(name, Qt.MatchFlag.MatchStartsWith) if not item.isHidden())
        viewport = rows.viewport()
        assert viewport is not None
        if not viewport.rect().contains(rows.visualItemRect(item).center()):
            self.touches += 1
            rows.scrollToItem(item)
        self.touches += 1
        QTest.mouseClick(viewport, Qt.MouseButton.LeftButton, pos=rows.visualItemRect(item).center())

    def manner(self, manner: Manner) -> None:
        self.click(self.opened.bar.manners[manner])

    def hold(self, key: Qt.Key) -> None:
        self.click(self.opened.bar.reactions[Reaction.HOLD])
        assert self.opened.edits.cell is not None
        self.click(self.opened.edits.cell)
        self.press(key)

    def write(self, text: str) -> None:
        self.click(self.opened.written.entry)
        self.type(text)
        self.press(Qt.Key.Key_Return)

    def turn_while(self) -> None:
        self.click(self.station.lanes.instruments["motion"])
        self.click(self.opened.whole.turn_while)

    def new_layer(self) -> None:
        window = self.bench.window
        if window.layers.isVisible():
            self.click(window.layers.new)
        else:  # with large text it is in the menu
            self.touches += 2
            choose(popped(window.help.more), "New layer")

    def ring(self, name: str) -> None:
        self.click(self.opened.grid.cells[self.station.layer_id, "right_stick"])
        self.pick(name)


class ByKeys(Player):
    """Who has no mouse."""

    def take(self) -> None:
        self.press(Qt.Key.Key_V, CTRL)

    def movement(self) -> None:
        self.press(Qt.Key.Key_Backspace, CTRL)
        self.keys(BACK, BACK, BACK, Qt.Key.Key_Space)

    def pick(self, name: str) -> None:
        self.press(Qt.Key.Key_F, CTRL)
        self.type(name)
        self.press(Qt.Key.Key_Return)

    def manner(self, manner: Manner) -> None:
        steps = list(self.opened.bar.manners).index(manner)
        self.keys(TAB, TAB, TAB, *[Qt.Key.Key_Right] * steps)

    def hold(self, key: Qt.Key) -> None:
        self.keys(TAB, TAB, Qt.Key.Key_Right, Qt.Key.Key_Right, BACK, BACK, Qt.Key.Key_Return, key)

    def write(self, text: str) -> None:
        self.press(Qt.Key.Key_Backspace, CTRL)
        self.keys(TAB, TAB, TAB)
        self.type(text)
        self.press(Qt.Key.Key_Return)

    def turn_while(self) -> None:
        self.press(Qt.Key.Key_F, CTRL)
        self.keys(TAB, TAB, TAB, *[Qt.Key.Key_Right] * 6, Qt.Key.Key_Return, BACK, BACK, Qt.Key.Key_Space)

    def new_layer(self) -> None:
        window = self.bench.window
        if window.layers.isVisible():
            self.keys(Qt.Key.Key_F6, TAB, TAB, Qt.Key.Key_Space)
            return
        self.touches += work_by_keys(window, window.help.more)
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Return):
            self.touches += 1
            QTest.keyClick(QApplication.activePopupWidget(), key)

    def ring(self, name: str) -> None:
        self.press(Qt.Key.Key_Backspace, CTRL)
        self.keys(Qt.Key.Key_Up, Qt.Key.Key_Return)
        self.pick(name)


@pytest.mark.parametrize("scale", [1, 2])
@pytest.mark.parametrize("way", [ByMouse, ByKeys])
def test_a_whole_profile_is_made_in_few_touches(
    make_bench: Callable[[Theme], Bench], way: type[ByMouse | ByKeys], scale: int
) -> None:
    theme = Theme(DAY)
    theme.points *= scale
    maker = way(make_bench(theme))
    maker.take()
    maker.pad("left_stick.up")
    maker.movement()
    for slot, name in (("right_stick.up", "L"), ("right_trigger.light", "S"), ("left_trigger.light", "G")):
        maker.pad(slot)
        maker.pick(name)
    maker.pad("south")
    maker.press(Qt.Key.Key_Space)
    maker.manner(Manner.TURBO)
    maker.pad("east")
    maker.key(Qt.Key.Key_Control)
    maker.manner(Manner.TOGGLE)
    maker.pad("west")
    maker.press(Qt.Key.Key_Q)
    maker.hold(Qt.Key.Key_V)
    maker.pad("start")
    maker.key(Qt.Key.Key_Control, Qt.Key.Key_S)
    maker.pad("select")
    maker.write('"gg"')
    before = maker.touches
    for slot in ("left_shoulder", "right_shoulder"):
        maker.pad(slot)
        maker.pick("To")
    assert way is ByKeys or maker.touches - before <= 5
    maker.turn_while()
    maker.pad("left_trigger.light")
    before = maker.touches
    maker.new_layer()
    maker.pad("dpad.up")
    assert way is ByKeys or maker.touches - before <= 3
    maker.pad("right_stick.up")
    maker.ring("C")
    keys = {"south": "T", "east": "F", "west": "E", "north": "Z", "dpad.left": "M", "dpad.right": "P"}
    keys |= {"dpad.down": "N", "home": "B", "left_stick.click": "X", "right_stick.click": "K"}
    for slot, key in keys.items():
        maker.pad(slot)
        maker.press(Qt.Key[f"Key_{key}"])

    profile = maker.bench.document.profile
    assert read_profile(maker.bench.document.path) == profile and len(profile.moves) == 27
    base, held = profile.layers
    wanted = {
        "right_stick": Assignment(pointer=PointerSpeed(1200, 900)),
        "right_trigger.light": Assignment(move="strike"),
        "left_trigger.light": Assignment(move="guard", hold=Hold(motion=MotionSwitch.ON, after_ms=20)),
        "motion": Assignment(turn=Turn(on=False)),
        "south": Assignment(move="leap", manner=Manner.TURBO),
        "east": Assignment(move="dodge", manner=Manner.TOGGLE),
        "west": Assignment(move="shout", hold=Hold(move="wave")),
        "start": Assignment(move="save"),
        "select": Assignment(sequence=profile.sequences[0].id),
        "left_shoulder": Assignment(carousel=CarouselStep("tools", Step.BACK)),
        "right_shoulder": Assignment(carousel=CarouselStep("tools")),
        "dpad.up": Assignment(layer=held.id),
    }
    assert {slot: found for slot, found in base.slots.items() if not slot.startswith("left_stick")} == wanted
    assert [step.text for step in profile.sequences[0].steps] == ["gg"]
    walking = [base.slots[f"left_stick.{way}"].move for way in ("up", "left", "down", "right")]
    assert (
        walking
        == [move.id for move in profile.moves[:4]]
        == [f"walk_{way}" for way in ("forward", "left", "back", "right")]
    )
    assert held.slots["right_stick"] == Assignment(ring="camp")
    assert {found.move for slot, found in held.slots.items() if slot != "right_stick"} == {
        *("tent", "fire", "eat", "rest", "map", "point", "nod", "bow", "sit", "kneel")
    }
    assert maker.touches <= MOST_TOUCHES, maker.touches
    # In the whole profile, with the layer held on, everything does what its strip shows.
    program = Program(profile)
    for layer, on in ((base, {}), (held, {"dpad.up": 1.0})):
        for slot in layer.slots:
            strip = strip_for(profile, layer.id, slot, us_layout())
            assert strip is not None
            assert played(program, slot, strip.presses, on) == replace(strip, typed=""), slot
            assert strip.bars or strip.counts != (0, 0) or slot in ("dpad.up", "right_stick", "motion"), slot
