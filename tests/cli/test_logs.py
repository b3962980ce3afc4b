"""What is written down: how much, where, and that it is bounded."""

from __future__ import annotations

import logging
from collections.abc import Iterator

import pytest

from nub_shift.cli.logs import MAX_BYTES, OLDER_FILES, log_path, note_fault, set_up_logging
from tests.engine.playing import Player


@pytest.fixture(autouse=True)
def _quiet_afterwards() -> Iterator[None]:
    yield
    for name in ("nub_shift", "nub_shift.runner", "nub_shift.engine"):
        logging.getLogger(name).setLevel(logging.NOTSET)
    for handler in list(logging.getLogger("nub_shift").handlers):
        logging.getLogger("nub_shift").removeHandler(handler)
        handler.close()


def test_levels_are_chosen_by_room_and_what_is_no_level_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("NUB_SHIFT_LOG", "runner=debug, warning, store=much")
    set_up_logging(verbose=False)
    levels = [logging.getLogger(f"nub_shift.{room}").getEffectiveLevel() for room in ("runner", "engine")]
    assert levels == [logging.DEBUG, logging.WARNING]
    assert "'store=much' is no level" in log_path().read_text()


def test_transitions_are_told_at_debug_level_and_the_file_turns_over(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("NUB_SHIFT_LOG", "engine=debug")
    set_up_logging(verbose=False)
    player = Player('south = { keys = ["KEY_A"], hold = { keys = ["KEY_B"], after_ms = 200 } }')
    player.feed(south=1)
    player.wait(250)
    assert "south: released -> pressed" in log_path().read_text() and "south: pressed -> held" in log_path().read_text()
    for _ in range(3 * MAX_BYTES // 1000):
        logging.getLogger("nub_shift.engine").debug("x" * 1000)
    files = sorted(log_path().parent.glob("nub-shift.log*"))
    assert 1 < len(files) <= 1 + OLDER_FILES
    assert all(path.stat().st_size <= MAX_BYTES for path in files)


def test_a_fault_of_ours_is_written_down_with_its_trace_and_told_in_one_line() -> None:
    set_up_logging(verbose=False)
    try:
        raise LookupError("made up")
    except LookupError as fault:
        line = note_fault(type(fault), fault, fault.__traceback__)
    assert str(log_path()) in line and "\n" not in line
    assert "LookupError: made up" in log_path().read_text()
