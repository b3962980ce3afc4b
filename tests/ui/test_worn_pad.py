"""From a drifting, worn, badly tuned pad to a steady look, as someone who has never been told how would get there."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import cos, sin

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.edits.bindings import set_feel
from nub_shift.protocol.messages import ConnectedPads, FrameNews, PadsNews
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.store.card_files import find_cards
from nub_shift.ui.commands import Station
from tests.ui.conftest import Bench
from tests.ui.hands import QTest


def test_a_worn_pad_gets_a_steady_whole_look_in_ten_touches(bench: Bench) -> None:
    """Measured at rest and round the rim, then fitted and softened: the station's own figures say by how much."""
    window, station = bench.window, bench.window.pads
    registry = PadRegistry(lambda: bench.now_us)
    registry.plug("teasel")
    (entry,) = registry.entries()
    pad = entry.open()
    bad = partial(set_feel, control="right_stick", dead_zone=0.02, edge_zone=0.0, power=0.7, anti_dead_zone=0.1)
    bench.document.edit("Badly tuned", bad)
    touches = 0

    def touch(widget: QWidget) -> None:
        nonlocal touches
        touches += 1
        bench.qtbot.waitUntil(widget.isVisible)
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton)

    def play(seconds: float, held: Callable[[float], dict[str, float]] | None = None) -> None:
        for step in range(round(seconds * 250)):
            if held is not None:
                registry.work_by_hand("teasel", held(step / 250))
            bench.now_us += 4_000
            frames = tuple(FrameNews(frame.t_us, frame.values) for frame in pad.read(bench.now_us))
            bench.link.pads.emit(PadsNews(bench.now_us, {}, frames))

    def round_the_rim(t_s: float) -> dict[str, float]:
        x, y = sin(1.6 * t_s), -cos(1.6 * t_s)
        return {"left_stick.x": x, "left_stick.y": y, "right_stick.x": x, "right_stick.y": y}

    def figures(column: int) -> dict[str, str]:
        bench.qtbot.waitUntil(lambda: window.feel.outcome_panel.settled)
        return {row[0].text(): row[column].text() for row in window.feel.outcome_panel.rows}

    def measured(count: int) -> bool:
        bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))
        return len([entry for card in find_cards([info.marks]) for entry in card.measured]) == count

    def rim_is_known() -> bool:
        return any("right_stick" in one.rim for card in find_cards([info.marks]) for one in card.measured)

    def see_in_feel() -> None:
        registry.play_demo("teasel")
        play(24.0)
        window.feel.outcome_panel._on_time()

    info = entry.info((0,), has_twin=False)
    connected = ConnectedPads((info,), {})
    bench.link.pad_key = info.key
    bench.link.tell_state()
    window.show_station(Station.FEEL)
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))
    QTest.mouseClick(window.feel.choice.buttons["right_stick"], Qt.MouseButton.LeftButton)
    see_in_feel()
    start = figures(1)
    window.show_station(Station.PADS)
    touches += 1
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))
    registry.work_by_hand("teasel", {})
    touch(station.strip.rest)
    play(4.8, lambda _t_s: {})
    bench.qtbot.waitUntil(lambda: measured(1), timeout=20_000)
    touch(station.strip.rim)
    play(8.8, round_the_rim)
    bench.qtbot.waitUntil(rim_is_known, timeout=20_000)
    for correction in ("rest", "range"):
        touch(station.strip.offers[f"right_stick {correction}"])
        bench.qtbot.waitUntil(lambda: bool(find_cards([info.marks])[0].trim.sticks), timeout=20_000)
        bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))
    window.show_station(Station.FEEL)
    touches += 1
    bench.link.pads.emit(PadsNews(bench.now_us, {}, connected=connected))
    feel = window.feel
    touch(feel.wishes.buttons["No jump at the start"])
    for _ in range(3):
        touch(feel.wishes.buttons["Softer near the centre"])
    see_in_feel()
    pad.close()
    end = figures(2)
    assert touches <= 10
    creeping, full = "Drift at rest", "Full speed reached"
    assert float(start[creeping].split("/")[0]) > 2_000 and float(end[creeping].split("/")[0]) < 20
    assert (start[full], end[full]) == ("4 of 6", "6 of 6")
