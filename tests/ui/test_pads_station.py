"""Station Pads with a real runner and made-up pads that a person works with the mouse; touches are counted."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date
from math import cos, radians, sin
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QPoint, QRect, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QMenu, QWidget
from pytestqt.qtbot import QtBot

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.model.controls import Finger, Kind, by_finger
from nub_shift.model.pad.card import PadCard
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.pad.measures import Measured
from nub_shift.model.pad.trim import StickTrim
from nub_shift.pads.known.cards import wiring_by
from nub_shift.pads.made_up.shapes import PLANK
from nub_shift.protocol.calls import Call, WorkByHand
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import ConnectedPads, FrameNews, PadInfo, PadsNews
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.store.atomic import write_text
from nub_shift.store.card_files import card_folder, find_cards
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.commands import Command, Station
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.map.lane import Lane
from nub_shift.ui.pads.station import PadsStation
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.window import Window
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, work_by_keys

LIMIT_MS = 20_000
PLANK_CARD = "0003-1209-5101-0100"


class Person:
    """Someone at the window, whose touches are counted."""

    def __init__(self, qtbot: QtBot, path: Path, pad: str, scale: int) -> None:
        write_text(path, demo_profile_text())
        self.qtbot = qtbot
        self.touches = 0
        self.document = Document(path, read_profile(path))
        self.link = RunnerLink(OwnRunner(path, f"simulated:{pad}", "print"))
        theme = Theme(DAY)
        theme.points *= scale
        self.by_keys = scale > 1
        self.window = Window(theme, self.document, self.link)
        qtbot.addWidget(self.window)
        self.window.resize(1280, 800)
        self.window.show()
        self.window.show_station(Station.PADS)
        self.link.start()
        self.until(lambda: self.station.pad is not None)

    @property
    def station(self) -> PadsStation:
        return self.window.pads

    @property
    def pad(self) -> PadInfo:
        assert self.station.pad is not None
        return self.station.pad

    def until(self, true: Callable[[], bool]) -> None:
        self.qtbot.waitUntil(true, timeout=LIMIT_MS)

    def click(self, widget: QWidget) -> None:
        """A touch of a button in the window; who has large text has no mouse."""
        self.until(widget.isVisible)
        if self.by_keys:
            self.touches += work_by_keys(self.window, widget)
            return
        self.touches += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)

    def choose(self, text: str) -> None:
        """A touch of an entry of the menu that is open."""
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        names = [entry.text() for entry in menu.actions()]
        for key in [Qt.Key.Key_Down] * (names.index(text) + 1) + [Qt.Key.Key_Return] if self.by_keys else []:
            self.touches += 1
            QTest.keyClick(menu, key)
        if not self.by_keys:
            self.touches += 1
            menu.actions()[names.index(text)].trigger()
            menu.close()
        self.window.activateWindow()
        self.until(self.window.isActiveWindow)

    def press(self, control: str) -> None:
        """A touch of a button or trigger of the pad."""
        self.touches += 1
        instrument = self.station.lanes.instruments[control]
        place = instrument.picture().toRect().center()
        if instrument.control.kind is Kind.TRIGGER:  # pulled all the way
            place.setY(int(instrument.picture().top()) - 2)
        QTest.mousePress(instrument, Qt.MouseButton.LeftButton, pos=place)
        self.until(lambda: 1.0 in self.values().values())
        QTest.mouseRelease(instrument, Qt.MouseButton.LeftButton)

    def sweep(self, stick: str) -> None:
        """A touch of a stick: up, once round to the right, and let go."""
        self.touches += 1
        instrument = self.station.lanes.instruments[stick]
        circle = instrument.picture()
        for angle in range(0, 375, 15):
            way = QPoint(
                round(sin(radians(angle)) * circle.width() / 2), round(-cos(radians(angle)) * circle.height() / 2)
            )
            place, before = circle.toRect().center() + way, self.values().copy()
            if angle == 0:
                QTest.mousePress(instrument, Qt.MouseButton.LeftButton, pos=place)
            else:
                QTest.mouseMove(instrument, pos=place)
            self.until(lambda before=before: self.values() != before)  # type: ignore[misc]
        QTest.mouseRelease(instrument, Qt.MouseButton.LeftButton)

    def values(self) -> dict[str, float]:
        return self.station.pads.values.get(self.station.chosen, {})

    def requested(self) -> str:
        """What an introduction asks for; "-" when there is none."""
        return self.station.course.requested if self.station.course is not None else "-"


@pytest.fixture
def sit_down(qtbot: QtBot, tmp_path: Path) -> Iterator[Callable[..., Person]]:
    people: list[Person] = []

    def start(pad: str, scale: int = 1) -> Person:
        people.append(Person(qtbot, tmp_path / "game.toml", pad, scale))
        return people[-1]

    yield start
    for person in people:
        person.window.close()


@pytest.mark.parametrize("scale", [1, 2])
def test_an_unknown_pad_is_introduced_in_ten_presses_a_sweep_and_two_touches(
    sit_down: Callable[..., Person], scale: int
) -> None:
    person = sit_down("plank", scale)
    assert person.pad.source == "guess"
    done = [""]
    person.click(person.station.banner.introduce)
    person.until(lambda: person.requested() == "left_stick")
    if scale == 1:  # what was left out is chosen again by its name, which works nothing
        person.click(person.station.banner.skip)
        person.until(lambda: person.requested() != "left_stick")
        instrument = person.station.lanes.instruments["left_stick"]
        QTest.mouseClick(instrument, Qt.MouseButton.LeftButton, pos=QPoint(20, 6))
        person.until(lambda: person.requested() == "left_stick")
        person.touches = 1
    person.sweep("left_stick")
    for _ in range(10):
        person.until(lambda: person.requested() not in ("left_stick", done[-1]))
        done.append(person.requested())
        person.press(done[-1])
    person.until(lambda: person.requested() == "")
    person.click(person.station.banner.keep)
    person.until(lambda: person.pad.source == "card")
    assert person.touches <= 10 + 1 + (3 if scale == 1 else 20)
    (card,) = find_cards([PLANK_CARD])
    assert PLANK.built is not None
    understood, built = wiring_by(card), PLANK.built.wiring
    assert understood.buttons == built.buttons
    for code, use in built.axes.items():
        assert understood.axes[code].above == use.above
        assert (understood.axes[code].low, understood.axes[code].high) == pytest.approx((use.low, use.high), abs=8)
    # And it plays: the stick moves, the south button leaps.
    person.press("south")
    person.until(lambda: any(bar.name == "KEY_SPACE" for bar in person.window.tape.track.game_bars))


def test_a_guess_that_is_right_is_kept_in_one_touch_and_taken_back(sit_down: Callable[[str], Person]) -> None:
    person = sit_down("gorse")
    ways = person.window.play.players.stopping
    person.until(lambda: "not set up" in ways.text())
    person.click(person.station.banner.keep_guess)
    person.until(lambda: person.pad.source == "card" and "not set up" not in ways.text())
    QTest.keyClick(person.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    person.until(lambda: person.pad.source == "guess")
    assert list(card_folder().glob("*.toml")) == []


def test_a_pad_gets_name_colour_and_labels(sit_down: Callable[[str], Person]) -> None:
    person = sit_down("tern")
    marks = person.station.marks
    marks.name.setText("Old faithful")
    QTest.keyClick(marks.name, Qt.Key.Key_Return)
    person.until(lambda: person.pad.name == "Old faithful")
    person.click(marks.colours.dots["amber"])
    person.until(lambda: person.pad.colour == "amber")
    person.click(marks.styles[LabelStyle.LETTERS])
    person.until(lambda: person.pad.printed.get("south") == "A")
    QTest.mouseClick(person.station.lanes.instruments["home"], Qt.MouseButton.RightButton)
    marks.own.setText("Moon")
    QTest.keyClick(marks.own, Qt.Key.Key_Return)
    person.until(lambda: person.pad.printed.get("home") == "Moon")
    assert person.station.lanes.instruments["home"].accessibleName() == "Moon (home)"
    person.until(lambda: "A (south)" in person.window.map.lanes.instruments["south"].accessibleName())


def test_a_pad_is_measured_compared_and_corrected(bench: Bench) -> None:
    registry = PadRegistry(lambda: bench.now_us)
    registry.plug("tern")
    (entry,) = registry.entries()
    info = entry.info((0,), has_twin=False)
    station = bench.window.pads
    bench.window.show_station(Station.PADS)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((info,), {})))
    QTest.mouseClick(station.strip.rest, Qt.MouseButton.LeftButton)
    registry.work_by_hand("tern", {})
    pad = entry.open()
    pad.read(bench.now_us)
    for _ in range(1100):
        bench.now_us += 4_000
        frames = tuple(FrameNews(frame.t_us, frame.values) for frame in pad.read(bench.now_us))
        bench.link.pads.emit(PadsNews(bench.now_us, {}, frames))
    pad.close()
    bench.qtbot.waitUntil(lambda: find_cards([info.marks]) != [], timeout=LIMIT_MS)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((info,), {})))
    measured = find_cards([info.marks])[0].measured
    assert len(measured) == 1
    rest = measured[0].rest["left_stick"]
    assert rest.x == pytest.approx(0.035, abs=0.003)
    before = bench.document.profile
    offer = station.strip.offers["left_stick rest"]
    assert offer.text() == f"Stop the drift (dead zone {100 * rest.centred_dead_zone:g}\N{NO-BREAK SPACE}%)"
    QTest.mouseClick(offer, Qt.MouseButton.LeftButton)
    wanted = StickTrim(rest_x=rest.x, rest_y=rest.y, dead_zone=rest.centred_dead_zone)
    bench.qtbot.waitUntil(lambda: find_cards([info.marks])[0].trim.sticks == {"left_stick": wanted}, timeout=LIMIT_MS)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((info,), {})))
    assert station.strip.offers["left_stick rest"].isChecked(), "it is seen that it counts"
    assert bench.document.profile == before, "other pads play the profile, too"
    assert registry.entries()[0].open().trim.sticks == {"left_stick": wanted}
    QTest.mouseClick(station.strip.offers["left_stick rest"], Qt.MouseButton.LeftButton)
    bench.qtbot.waitUntil(
        lambda: find_cards([info.marks])[0].trim.sticks["left_stick"] == StickTrim(), timeout=LIMIT_MS
    )
    # It stood better in June.
    june = Measured(date(2026, 6, 3), rest={"left_stick": replace(rest, x=0.01, noise=rest.noise / 2)})
    card = find_cards([info.marks])[0]
    station.book.edit("June", replace(card, measured=(june, *measured)))
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((info,), {})))
    labels = station.strip.findChildren(QLabel)
    assert any("further from the middle than on 3 June 2026" in label.text() for label in labels)


@pytest.mark.parametrize("scale", [1, 2])
def test_halves_are_joined_and_taken_apart(sit_down: Callable[..., Person], scale: int) -> None:
    person = sit_down("left", scale)
    plugs = person.station.list.plugs
    person.until(lambda: len(plugs) > 3 and plugs["right"].y() > 0)
    before = {key: button.geometry() for key, button in plugs.items()}
    person.click(plugs["right"])
    person.until(lambda: person.station.chosen == "simulated:right")
    person.until(lambda: not plugs["right"].isEnabled())
    assert {key: plugs[key].geometry() for key in before} == before
    assert next(pad for pad in person.station.pads.pads if "right" in pad.key).by_hand, (
        "it rests until its demo is asked for"
    )
    person.click(person.station.marks.join)
    person.choose("Wren left half")
    person.until(lambda: bool(person.pad.parts))
    assert person.pad.name == "Wren right half + Wren left half"
    other = next(part.identity for part in person.pad.parts if part.identity != person.pad.moving)
    person.click(person.station.marks.moving[other])
    person.until(lambda: person.pad.moving == other)
    person.until(lambda: person.pad.seats == (0,))
    person.click(person.station.marks.apart)
    person.until(lambda: {pad.key for pad in person.station.pads.pads} == {"simulated:left", "simulated:right"})
    person.until(lambda: isinstance(person.station.pad, PadInfo))


def test_made_up_pads_come_go_and_perform(sit_down: Callable[[str], Person]) -> None:
    person = sit_down("tern")
    person.press("south")
    person.until(lambda: person.pad.by_hand)
    person.click(person.station.banner.play_demo)
    person.until(lambda: not person.pad.by_hand)
    plugs = person.station.list.plugs
    before = {key: button.geometry() for key, button in plugs.items()}
    person.click(person.station.banner.unplug)
    person.until(lambda: person.station.pad is None)
    assert {key: button.geometry() for key, button in plugs.items()} == before and "tern" in before
    assert "Plug in a pad" in person.station.banner.words.text()
    person.click(person.station.list.plugs["tern"])
    person.until(lambda: person.station.pad is not None and person.station.pad.seats == (0,))


def test_a_control_that_the_mouth_works_stands_in_its_lane_in_both_stations(sit_down: Callable[[str], Person]) -> None:
    person = sit_down("reed")
    station = person.station
    lanes = [by_finger(station.lanes.instruments, person.pad.fingers), by_finger(person.pad.controls, {})]
    assert [lane[Finger.OTHER] for lane in lanes] == [["left_stick", "slider_1"], ["slider_1"]]
    station.lanes.instruments["south"].picked.emit()
    station.marks.worked_by.setCurrentText("Mouth or other")
    station.marks.worked_by.activated.emit(station.marks.worked_by.currentIndex())
    person.until(lambda: person.pad.fingers.get("south") is Finger.OTHER)
    person.until(lambda: person.window.live.fingers.get("south") is Finger.OTHER)
    assert not station.marks.menu.isChecked()
    person.click(station.marks.menu)
    person.until(lambda: person.pad.menu == "south" and station.marks.menu.isChecked())
    shown = {
        lane.accessibleName(): len(lane.instruments)
        for lane in person.window.map.lanes.findChildren(Lane)
        if not lane.isHidden()
    }
    assert shown == {"Left thumb": 1, "Right thumb": 2, "Mouth or other": 3}


@pytest.mark.parametrize("scale", [1, 2])
def test_one_pad_is_shared_by_two_and_its_controls_change_hands(sit_down: Callable[..., Person], scale: int) -> None:
    person = sit_down("tern", scale)
    station, marks = person.station, person.station.marks
    person.until(lambda: person.pad.seats == (0,))
    person.touches = 0
    person.click(marks.share)
    person.choose("Saltglass Keeper")
    assert person.by_keys or person.touches == 2
    person.until(lambda: person.pad.seats == (0, 1))
    person.until(lambda: station.lanes.instruments["south"].accessibleName() == "South, player 2")
    assert station.lanes.instruments["left_stick"].accessibleName() == "Left stick"
    station.lanes.instruments["north"].picked.emit()
    assert [choice.isChecked() for choice in marks.players] == [False, True]
    person.click(marks.players[0])
    person.until(lambda: station.lanes.instruments["north"].accessibleName() == "North")
    person.click(station.banner.rest)
    person.until(lambda: person.pad.by_hand and 1.0 not in person.values().values())
    person.press("south")
    keys = person.window.tape.track.active_keys
    person.until(lambda: any(1 in seats for seats in keys(monotonic_us()).values()))
    person.click(marks.leave)
    person.until(lambda: person.pad.seats == (0,))
    person.until(lambda: station.lanes.instruments["south"].accessibleName() == "South")


def test_a_card_that_cannot_be_kept_is_said_and_nothing_is_lost(
    sit_down: Callable[[str], Person], monkeypatch: pytest.MonkeyPatch
) -> None:
    person = sit_down("tern")
    said: list[str] = []
    person.station.said.connect(said.append)

    def full(path: Path, _text: str) -> None:
        raise OSError(28, "No space left on device", str(path))

    monkeypatch.setattr("nub_shift.editing.card_book.write_text", full)
    person.station.book.edit("named", PadCard(schema=1, identity=person.pad.marks, name="New"))
    assert "no space left on device" in said[-1]
    assert person.station.book.history.undo is None
    person.station.book.edit("named", PadCard(schema=1, identity=person.pad.marks, name="New", motion="nowhere"))
    assert "motion: 'nowhere' is none of the parts" in said[-1]


def test_where_set_up_was_ended_nothing_is_unplugged_by_another_click(sit_down: Callable[[str], Person]) -> None:
    person = sit_down("plank")
    banner = person.station.banner
    person.click(banner.introduce)
    person.until(banner.stop.isVisible)
    place = banner.stop.mapTo(banner, banner.stop.rect().center())
    banner.stop.setFocus()
    QTest.keyClick(banner.stop, Qt.Key.Key_Space)
    person.until(banner.unplug.isVisible)
    unplugs = QRect(banner.unplug.mapTo(banner, QPoint()), banner.unplug.size())
    assert banner.introduce.hasFocus() and not unplugs.contains(place)


def test_the_simulated_pad_is_worked_beside_any_station(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[Call] = []
    monkeypatch.setattr(bench.link, "notify", told.append)
    window, hand_pad = bench.window, bench.window.hand_pad
    said: list[str] = []
    hand_pad.said.connect(said.append)
    window.actions_of[Command.HAND_PAD].trigger()
    assert "plug one in" in said[0]
    bench.link.pad_key = "simulated:tern"
    bench.link.tell_state()
    window.actions_of[Command.HAND_PAD].trigger()
    assert hand_pad.is_open and len(said) == 1
    registry = PadRegistry()
    registry.plug("tern")
    (info,) = (entry.info((0,), has_twin=False) for entry in registry.entries())
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=ConnectedPads((info,), {})))
    assert hand_pad.window.isVisible() and window.isActiveWindow(), "a key goes on to the slot that waits for it"
    south = hand_pad.window.lanes.instruments["south"]
    QTest.mousePress(south, Qt.MouseButton.LeftButton)
    QTest.mouseRelease(south, Qt.MouseButton.LeftButton)
    assert told == [WorkByHand(info.key, {"south": 1.0}), WorkByHand(info.key, {})]
    window.actions_of[Command.HAND_PAD].trigger()
    bench.qtbot.waitUntil(hand_pad.window.isActiveWindow)
    told.clear()
    QTest.keyPress(QApplication.focusWidget(), Qt.Key.Key_Space)
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    bench.qtbot.waitUntil(lambda: WorkByHand(info.key, {}) in told[1:])
    bench.qtbot.waitUntil(window.isActiveWindow)
    bench.link.pad_key = ""
    bench.link.tell_state()
    assert len(said) == 2 and not hand_pad.window.isVisible()


def test_a_demo_does_not_click_into_the_window(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QApplication, "activeWindow", lambda: None)  # as when a game has the keyboard
    for is_automatic in (False, True):
        bench.link.is_automatic = is_automatic
        bench.link.touch("south")
        monkeypatch.setattr(bench.window, "underMouse", lambda: True)
        QApplication.sendEvent(bench.window, QEvent(QEvent.Type.Enter))
        assert bench.link.in_front is is_automatic
        monkeypatch.setattr(bench.window, "underMouse", lambda: False)
        QApplication.sendEvent(bench.window, QEvent(QEvent.Type.Leave))
        assert not bench.link.in_front
