"""Walks through the window in whatever language it has and prints, as JSON, what is cut of its texts.

A process of its own for each language, since texts are translated as modules are loaded.

usage: python -m tests.ui.cut_texts [WIDTH HEIGHT PERCENT]     the window's size, and that of the text
"""

from __future__ import annotations

import json
import runpy
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEventLoop, QRectF, Qt, QTimer
from PyQt6.QtGui import QFontMetrics, QFontMetricsF, QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QRadioButton,
    QWidget,
)

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.document import Document
from nub_shift.store.atomic import write_text
from nub_shift.store.profile_files import parse_profile, read_profile
from nub_shift.translation import tr, trc
from nub_shift.ui.commands import Station
from nub_shift.ui.help.guide import GuideWindow
from nub_shift.ui.help.settings_window import SettingsWindow
from nub_shift.ui.help.welcome import Welcome
from nub_shift.ui.language import speak
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.theme import DAY, Theme
from nub_shift.ui.runner_start import OwnRunner
from nub_shift.ui.widgets.layer_name import LayerChip
from nub_shift.ui.widgets.plain import ElidedLabel, FittedLabel
from nub_shift.ui.window import Window

SIZE = (int(sys.argv[1]), int(sys.argv[2])) if sys.argv[1:] else (1280, 800)
SCALE = int(sys.argv[3]) / 100 if sys.argv[1:] else 1.0
IS_LARGE = SCALE > 1.5  # then pages may be scrolled sideways, and layers may be known by their letters
_SETTLES_S, _TRIES = 0.15, 12
_EDGES = 4  # of a field, beside its text
_ARROW = 26  # of a list, with its edges


def cut(widget: QWidget) -> str:
    """What of a widget's text does not fit into it, or nothing."""
    metrics = QFontMetrics(widget.font())
    match widget:
        case FittedLabel() | ElidedLabel():  # whose tip has what is cut
            return ""
        case LayerChip() if IS_LARGE:
            return ""
        case QLabel() if widget.textFormat() is not Qt.TextFormat.RichText:
            text = widget.text()
            if widget.wordWrap():
                return text if widget.heightForWidth(widget.width()) > widget.height() + 1 else ""
            return text if metrics.size(0, text).width() > widget.width() + 1 else ""
        case QComboBox():
            text = widget.currentText()
            icon = 0 if widget.itemIcon(widget.currentIndex()).isNull() else widget.iconSize().width() + _EDGES
            return text if _wide(metrics, text, widget, _ARROW + icon) else ""
        case QLineEdit():
            text = "" if widget.text() else widget.placeholderText()
            return text if _wide(metrics, text, widget, 2 * _EDGES) else ""
        case QRadioButton() | QAbstractButton():
            text = widget.text()
            return text if _wide(metrics, text, widget, 0) else ""
        case _:
            return ""


def _wide(metrics: QFontMetrics, text: str, widget: QWidget, besides: int) -> bool:
    return bool(text) and metrics.horizontalAdvance(text) + besides > widget.width()


# Painted texts that did not fit into their place. What people name may be as long as they like; the rest may not.
PAINTED: set[str] = set()


def watch_painting() -> None:
    """Notes texts of the interface that are painted into too little room, or cut to fit."""
    texts = runpy.run_path(str(Path(__file__).parents[2] / "tools" / "catalogue.py"))["texts"]()
    words = {trc(context, text) if context else tr(text) for text, context, _ in texts if isinstance(text, str)}
    profile = parse_profile(demo_profile_text())
    words -= {*(move.label for move in profile.moves), *(layer.label for layer in profile.layers)}
    draw: Any = QPainter.drawText
    elide = QFontMetricsF.elidedText

    def watched_draw(self: QPainter, *args: Any) -> Any:
        rect, flags, text = args[0], args[1], args[-1]
        wraps = len(args) > 2 and int(getattr(flags, "value", flags)) & Qt.TextFlag.TextWordWrap.value
        known = isinstance(rect, QRectF) and not wraps and text in words
        if known and QFontMetricsF(self.font()).horizontalAdvance(text) > rect.width() + 1:
            PAINTED.add(text)
        return draw(self, *args)

    def watched_elide(self: QFontMetricsF, text: str, mode: Qt.TextElideMode, width: float, flags: int = 0) -> str:
        made = elide(self, text, mode, width, flags)
        if made != text and text in words:
            PAINTED.add(text)
        return made

    for owner, name, watched in ((QPainter, "drawText", watched_draw), (QFontMetricsF, "elidedText", watched_elide)):
        setattr(owner, name, watched)


def cut_in(window: QWidget, where: str) -> Iterator[tuple[str, str, str]]:
    """Where, what, and by what of all that is seen in a window."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisibleTo(window) or widget.width() <= 1:
            continue
        if text := cut(widget):
            yield where, type(widget).__name__, text
        bar = widget.horizontalScrollBar() if isinstance(widget, QAbstractScrollArea) and not IS_LARGE else None
        if bar is not None and bar.maximum() > 0:
            yield where, type(widget).__name__, f"has to be scrolled sideways: {widget.accessibleName()}"
        around = widget.parentWidget()
        told = isinstance(widget, QAbstractButton | QLabel | QLineEdit)
        if told and around is not None and not around.rect().adjusted(-1, -1, 1, 1).contains(widget.geometry()):
            yield where, type(widget).__name__, f"lies outside: {widget.accessibleName() or _name(widget)}"
        shown = widget.visibleRegion().boundingRect()
        partly = 0 < shown.width() < widget.width() and not (IS_LARGE and _scrolls_sideways(widget))
        if partly and told:
            yield where, type(widget).__name__, f"only a part is seen: {widget.accessibleName() or widget.objectName()}"
    window.grab()
    yield from ((where, "painted", text) for text in sorted(PAINTED))
    PAINTED.clear()


def _name(widget: QWidget) -> str:
    return widget.text() if isinstance(widget, QAbstractButton | QLabel) else widget.objectName()


def _scrolls_sideways(widget: QWidget) -> bool:
    """Whether the rest of it is reached by scrolling."""
    around = widget.parentWidget()
    while around is not None:
        bar = around.horizontalScrollBar() if isinstance(around, QAbstractScrollArea) else None
        if bar is not None and bar.maximum() > 0:
            return True
        around = around.parentWidget()
    return False


def cut_at_last(window: QWidget, where: str) -> list[tuple[str, str, str]]:
    """The same once it is laid out, which on a busy machine takes a while."""
    found: list[tuple[str, str, str]] = []
    for _ in range(_TRIES):
        wait(_SETTLES_S)
        found = list(cut_in(window, where))
        if not found:
            break
    return found


def wait(seconds: float) -> None:
    loop = QEventLoop()
    QTimer.singleShot(round(seconds * 1000), loop.quit)
    loop.exec()


def walk(window: Window) -> Iterator[tuple[str, str, str]]:
    """Station by station, with controls opened."""
    wait(1.5)
    for station in Station:
        window.show_station(station)
        yield from cut_at_last(window, station.value)
        if (window.width(), window.height()) != SIZE:
            yield station.value, "Window", f"is {window.width()} x {window.height()}"
    window.show_station(Station.MAP)
    for slot in ("south", "left_stick", "right_trigger.light", "motion", "dpad.up"):
        window.map.open_slot(slot, listen=False)
        yield from cut_at_last(window, f"map: {slot}")
    window.show_station(Station.FEEL)
    for control in ("right_stick", "left_stick", "right_trigger", "motion"):
        window.feel.show_control(control)
        for numbers in (False, True):
            window.feel.numbers.setChecked(numbers)
            yield from cut_at_last(window, f"feel: {control}, {'numbers' if numbers else 'pictures'}")


def main(folder: Path) -> None:
    watch_painting()
    application = QApplication(sys.argv[:1])
    speak(application)
    theme = Theme(DAY)
    theme.points *= SCALE
    theme.apply(application)
    profile = folder / "saltglass.toml"
    write_text(profile, demo_profile_text())
    link = RunnerLink(OwnRunner(profile, "simulated:tern", "print"))
    window = Window(theme, Document(profile, read_profile(profile)), link)
    window.resize(*SIZE)
    window.show()
    link.start()
    found = list(walk(window))
    guide = GuideWindow(theme, window)
    guide.show_place()
    welcome = Welcome(theme)
    welcome.resize(*SIZE)  # it is a page of the window
    for other in (SettingsWindow(theme, window), welcome, guide):
        other.show()
        found += cut_at_last(other, type(other).__name__)
    print(json.dumps({"right_to_left": application.isRightToLeft(), "cut": found}, ensure_ascii=False, indent=1))
    window.close()
    link.end()


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as made:
        main(Path(made))
