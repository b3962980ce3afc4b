"""The guide, the settings, and what a newcomer does first."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QByteArray, QSize, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QAbstractSpinBox, QApplication, QCheckBox, QComboBox, QMenu, QWidget, QWidgetAction
from PyQt6.sip import isdeleted
from pytestqt.qtbot import QtBot

from nub_shift.editing.first_steps import Step
from nub_shift.engine.values import Key
from nub_shift.model.profile.activation import ActivationRules, Rule
from nub_shift.model.profile.feel import Feel, StickFeel
from nub_shift.model.profile.profile import SCHEMA_VERSION, Profile
from nub_shift.protocol.messages import Telemetry
from nub_shift.ui import settings
from nub_shift.ui.commands import Command, Station
from nub_shift.ui.help.guide import ABOUT, FOLDER, PAGES, SHORTCUTS, GuideWindow, heading_id
from nub_shift.ui.help.places import place_of
from nub_shift.ui.help.settings_window import SettingsWindow
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.shown_window import ShownWindow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.spins import ScrollSafeChoice
from nub_shift.ui.window import Window
from tests.ui.conftest import Bench
from tests.ui.hands import QTest, popped


def headings(page: str) -> set[str]:
    """What can be named in a page of the guide."""
    lines = (FOLDER / f"{page}.md").read_text().splitlines()
    return {heading_id(line.lstrip("# ")) for line in lines if line.startswith("#")}


def exists(place: str) -> bool:
    page, _, heading = place.partition("#")
    return page in PAGES and (not heading or heading in headings(page))


def test_every_place_that_f1_opens_and_every_link_of_the_guide_exists(bench: Bench) -> None:
    bench.window.begin_first_steps(newcomer=True)
    places = {place_of(widget) for widget in bench.window.findChildren(QWidget)}
    assert len(places) > 12
    assert not [place for place in places if not exists(place)]
    assert sorted(f"{page}.md" for page in PAGES) == sorted(path.name for path in FOLDER.iterdir() if path.is_file())
    for page in PAGES:
        for link in re.findall(r"\]\(([^)]+)\)", (FOLDER / f"{page}.md").read_text()):
            known = (FOLDER / link).exists() if link.endswith(".png") else exists(link.replace(".md", ""))
            assert known, f"{page}: {link}"


def marks_in(menu: QMenu) -> Iterator[HelpMark]:
    """The question marks of a menu itself, without those of the menus below it."""
    for entry in menu.actions():
        line = entry.defaultWidget() if isinstance(entry, QWidgetAction) else None
        if line is not None:
            yield from line.findChildren(HelpMark)


def test_every_number_and_every_choice_says_what_it_does(bench: Bench) -> None:
    window, opened = bench.window, bench.window.map.open_slot("left_stick", listen=False)
    menus = []
    for layer in ("base", "lamp"):
        window.map.show_layer(layer)
        window.layers.open_tools()
        menus.append(window.layers.menu)
    window.map.game.open_tools()
    menus += [window.map.game.menu, popped(opened.bar.whole)]
    window.map.open_slot("east", listen=False)
    menus += [popped(opened.bar.other), popped(window.map.moves.tools)]
    for station in Station:
        window.show_station(station)
    silent = [
        field.accessibleName()
        for field in window.findChildren(QWidget)
        if isinstance(field, QAbstractSpinBox | QComboBox) and not field.accessibleDescription()
    ]
    for menu in menus:
        assert menu is not None
        for below in (menu, *menu.findChildren(QMenu)):
            if any(entry.isCheckable() for entry in below.actions()) and not list(marks_in(below)):
                silent.append(below.title())
    assert not silent, "; ".join(silent)
    for control in ("right_stick", "right_trigger", "motion"):  # a mark goes with what it explains
        window.show_station(Station.FEEL)
        window.feel.show_control(control)
        seen = [mark for mark in window.feel.findChildren(HelpMark) if mark.isVisible()]
        assert window.feel.curving.point.isVisible() is any("Both axes" in mark.accessibleName() for mark in seen)


def test_the_guide_opens_where_one_works_and_about_copies_a_report(bench: Bench) -> None:
    bench.window.show_station(Station.FEEL)
    bench.window.actions_of[Command.GUIDE].trigger()
    guide = bench.window.help.guide
    assert guide.isVisible() and guide.text.toPlainText().startswith("Tune sticks")
    guide.show_place("tuning#dead-zone")
    assert guide.text.textCursor().block().text() == "Dead zone"
    first = GuideWindow(bench.window.theme, bench.window)
    first.show_place("more-moves#layers")  # it is at its place as it opens, too
    bench.qtbot.waitUntil(lambda: first.text.textCursor().block().text() == "Layers")
    bench.qtbot.waitUntil(lambda: 0 <= first.text.cursorRect().top() < 40)
    first.close()
    guide.show_place(SHORTCUTS)
    assert "Ctrl+Shift+Z" in guide.text.toPlainText()
    guide.show_place(ABOUT)
    QTest.mouseClick(guide.copy, Qt.MouseButton.LeftButton)
    bench.qtbot.waitUntil(guide.copy.isEnabled, timeout=60_000)
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    assert "Keys through the kernel" in clipboard.text() and clipboard.text().startswith("Nub Shift ")
    QTest.keyClick(guide, Qt.Key.Key_Escape)
    assert not guide.isVisible()


def test_settings_count_at_once_and_are_kept(bench: Bench) -> None:
    window = bench.window
    window.actions_of[Command.SETTINGS].trigger()
    shown = window.help.settings

    def choose(name: str, index: int) -> None:
        field = shown.fields[name]
        assert isinstance(field, ScrollSafeChoice)
        field.setCurrentIndex(index)
        field.activated.emit(index)

    low = window.tape.height()
    choose("Tape", 3)
    bench.qtbot.waitUntil(lambda: window.tape.height() > low * 1.5)
    choose("Wait for a key", 4)
    assert "60\N{NO-BREAK SPACE}s" in window.map.dock.wait_line.time.text()
    follows = shown.fields["Presses on the pad open their control in Map"]
    assert isinstance(follows, QCheckBox)
    follows.setChecked(False)
    assert not window.actions_of[Command.FOLLOW].isChecked()
    choose("Text size", 2)
    choose("Look", 2)
    kept = SettingsWindow(window.theme, window)
    indexes = [field.currentIndex() for field in kept.fields.values() if isinstance(field, ScrollSafeChoice)]
    assert indexes == [2, 2, 4, 3, 0]
    window.actions_of[Command.FOLLOW].trigger()
    choose("Moving pictures", 2)
    assert window.actions_of[Command.FOLLOW].isChecked(), "another setting leaves it"
    shown.hide()
    shown.show()
    assert follows.isChecked() and settings.follows_presses()
    assert settings.text_size() == 150 and settings.look_choice() is settings.LookChoice.NIGHT


@pytest.mark.parametrize("written", ["nonsense", "999999999999", "-1", "1.5", "true", "@Invalid()"])
def test_settings_that_somebody_has_spoiled_are_as_if_they_were_not_there(bench: Bench, written: str) -> None:
    del bench
    for name in ("text_size", "tape_height", "listening_ms", "look", "motion", "follows_presses", "first_steps"):
        settings._settings().setValue(name, written)
    assert settings.text_size() == 100 and settings.tape_height() == settings.USUAL_TAPE
    assert settings.look_choice() is settings.LookChoice.DESKTOP and settings.follows_presses()
    settings.keep_view(QByteArray(), "feel", "lamp")
    assert settings.last_view() == ("feel", "lamp")


def test_a_newcomer_is_led_from_the_name_of_a_game_to_play(bench: Bench) -> None:
    window, document = bench.window, bench.document
    document.edit("empty", lambda _: Profile(schema=SCHEMA_VERSION, title="First profile"))
    window.begin_first_steps(newcomer=True)
    steps, welcome = window.leading.steps, window.leading.welcome
    assert steps is not None and welcome is not None

    def done() -> set[Step]:
        return {step for step, button in steps.steps.items() if button.isChecked()}

    assert done() == {Step.PAD}  # the bench has one
    QTest.keyClicks(welcome.title, "Harbour Night")
    QTest.keyClick(welcome.title, Qt.Key.Key_Return)
    assert document.profile.title == "Harbour Night" and window.station is Station.MAP
    assert window.focusWidget() is window.map.moves.entry
    QTest.keyClicks(window.map.moves.entry, "Jump")
    QTest.keyClick(window.map.moves.entry, Qt.Key.Key_Return)
    QTest.keyClick(window.map.moves.entry, Qt.Key.Key_Space)
    assert done() == {Step.PAD, Step.MOVES}
    QTest.mouseClick(steps.steps[Step.TRY], Qt.MouseButton.LeftButton)
    assert window.tabs.currentIndex() == list(Station).index(Station.TRY) and Step.TRY not in done()
    bench.link.telemetry.emit(Telemetry(1, {}, [], [Key(1, "KEY_SPACE", True)], ("base",), ()))
    assert Step.TRY in done()
    rules = ActivationRules(rules=(Rule(window="harbour"),))
    feel = Feel(left_stick=StickFeel(dead_zone=0.3))
    document.edit("more", lambda mine: replace(mine, comes_on=rules, feel=feel))
    assert {Step.FEEL, Step.COMES_ON} <= done()
    QTest.mouseClick(steps.dismiss, Qt.MouseButton.LeftButton)
    assert not steps.isVisible() and not settings.shows_first_steps()


def test_what_leads_a_newcomer_fits_the_screen_with_text_of_twice_the_size(qtbot: QtBot, tmp_path: Path) -> None:
    theme = Theme(DAY)
    theme.points *= 2
    bench = Bench(qtbot, tmp_path / "first.toml", theme)
    bench.window.begin_first_steps(newcomer=True)
    steps = bench.window.leading.steps
    assert steps is not None
    bench.qtbot.waitUntil(lambda: steps.dismiss.geometry().right() <= steps.width() and steps.dismiss.y() > 0)
    assert (bench.window.width(), bench.window.height()) == (1280, 800) and steps.width() <= 1280


def test_who_goes_live_for_the_first_time_is_told_how_to_stop(bench: Bench) -> None:
    said: list[str] = []
    bench.window.leading.said.connect(said.append)
    bench.link.go(False)
    assert said == []
    for live in (True, False, True):
        bench.link.go(live)
    assert len(said) == 1 and "To stop everything at once: hold " in said[0]


def test_another_text_size_counts_at_once_and_nothing_is_lost(application: QApplication, bench: Bench) -> None:
    theme, document = bench.window.theme, bench.document

    def make() -> Window:
        return Window(theme, document, bench.link, lambda: bench.now_us)

    document.forget_listeners()
    shown = ShownWindow(application, theme, document, make)
    try:
        old = shown.window
        old.resize(1280, 800)
        old.show()
        bench.link.tell_state()
        document.edit("Title", lambda mine: replace(mine, title="Glass"))
        old.map.open_slot("south", listen=False)
        width = old.map.moves.width()
        old.help.show_settings()
        sizes = old.help.settings.size_field
        assert isinstance(sizes, QComboBox)
        sizes.activated.emit(sizes.findText("150 %"))
        bench.qtbot.waitUntil(lambda: shown.window is not old)
        new = shown.window
        bench.qtbot.waitUntil(lambda: isdeleted(old))
        assert new.isVisible() and new.size() == QSize(1280, 800)
        assert new.map.opened is not None and new.map.opened.control.name == "south"
        assert new.map.moves.width() > width, "it is made with the new size"
        assert new.help.settings.isVisible() and settings.text_size() == 150
        document.edit("Title", lambda mine: replace(mine, title="Sand"))
        bench.link.touch("south")
        assert new.live.seat is not None
        document.undo()
        document.undo()
        assert document.profile.title == "Saltglass Keeper" and new.windowTitle().startswith("Saltglass Keeper")
    finally:
        shown.close()
        shown.window.deleteLater()
