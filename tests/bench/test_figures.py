"""A figure counts only if what it measures was seen to happen."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.bench import processes, report
from nub_shift.bench.figures import Figure
from nub_shift.cli.main import main


def test_what_was_not_seen_does_not_hold_and_fails_the_command(monkeypatch: pytest.MonkeyPatch) -> None:
    assert Figure("load", 0.1, "%", 15.0).holds
    idle = Figure("load", 0.1, "%", 15.0, unseen="no frame was painted")
    assert not idle.holds
    monkeypatch.setattr(report, "engine_figures", lambda _quick: [idle])
    found = CliRunner().invoke(main, ["bench", "--part", "engine"])
    assert "no frame was painted" in " ".join(found.output.split())
    assert found.exit_code == 1


def test_a_runner_that_cannot_start_is_no_quick_one(tmp_path: Path) -> None:
    measured = processes._runner(tmp_path, tmp_path / "none.toml", "simulated:tern", 0.0)
    assert "the runner said" in measured.unseen and "none.toml" in measured.unseen


def test_a_window_that_says_nothing_has_painted_nothing() -> None:
    with subprocess.Popen(["true"], stdin=-1, stdout=-1, text=True) as process:
        assert processes._told(process) == (0, 0)
