"""The commands as a person runs them."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli import doctor
from nub_shift.cli.main import main
from nub_shift.tasks.diagnostics import RULE
from tests.runner.processes import DEMO_PROFILE, LIMIT_S


def nub(*arguments: str | Path, **environment: str) -> subprocess.CompletedProcess[str]:
    """Runs `nub-shift` to its end."""
    command = [sys.executable, "-m", "nub_shift", *map(str, arguments)]
    kept = {name: value for name, value in os.environ.items() if name not in ("DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        command, capture_output=True, text=True, timeout=LIMIT_S, check=False, env={**kept, **environment}
    )


def test_check_is_silent_for_a_sound_file_and_names_faults_otherwise(tmp_path: Path) -> None:
    faulty = tmp_path / "faulty.toml"
    faulty.write_text(
        DEMO_PROFILE.read_text().replace("KEY_SPACE", "KEY_SPCE").replace("schema = 3", "schema = 2\nx = 2")
    )
    assert (nub("check", DEMO_PROFILE).returncode, nub("check", DEMO_PROFILE).stdout) == (0, "")
    done = nub("check", DEMO_PROFILE, faulty)
    assert done.returncode == 1
    assert done.stdout.startswith(f"{faulty}: x: unknown key 'x', known here: schema, title")


def test_replay_gives_the_same_bytes_every_time(tmp_path: Path) -> None:
    recording = tmp_path / "a.rec"
    assert nub("record", recording, "--pad", "simulated", "--seconds", "12").returncode == 0
    first, second = nub("replay", recording, DEMO_PROFILE), nub("replay", recording, DEMO_PROFILE)
    assert first.stdout == second.stdout
    lines = [json.loads(line) for line in first.stdout.splitlines()]
    assert {line["kind"] for line in lines} == {"key", "pointer"}
    assert lines[0]["code"] == "KEY_W" and 0.8 < lines[0]["t"] < 1.0
    assert sum(1 if line["down"] else -1 for line in lines if line["kind"] == "key") == 0


@pytest.mark.parametrize(
    ("arguments", "part"),
    [
        (("replay", "none.rec", DEMO_PROFILE), "none.rec: file: cannot be read"),
        (("replay", DEMO_PROFILE, DEMO_PROFILE), "line 1"),
        (("check", "none.toml"), "none.toml: file: cannot be read (no such file or directory)"),
        (("run", "none.toml"), "none.toml: file: cannot be read"),
        (("record", "/none/a.rec", "--pad", "simulated"), "/none/a.rec: no such file or directory"),
        (("window",), "there is no display"),
        (("bench", "--part", "kernel"), "the part kernel needs /dev/uinput"),
    ],
)
def test_a_fault_is_one_line_and_no_trace(arguments: tuple[str | Path, ...], part: str) -> None:
    done = nub(*arguments)
    assert done.returncode == 1
    assert part in done.stdout + done.stderr
    assert "Traceback" not in done.stderr


def test_the_doctor_says_what_is_missing_and_what_to_do() -> None:
    done = nub("doctor", XKB_DEFAULT_LAYOUT="de")
    assert done.returncode == 1
    assert "/dev/uinput is missing" in done.stdout
    assert "sudo modprobe uinput" in done.stdout
    assert "Keyboard layout: de" in done.stdout


def test_the_doctor_installs_the_rule_only_after_showing_it(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    rule = tmp_path / "70.rules"
    monkeypatch.setattr(doctor, "RULE_PATH", rule)
    monkeypatch.setattr(os, "getuid", lambda: 0)
    (tmp_path / "tee").symlink_to("/usr/bin/tee")
    monkeypatch.setenv("PATH", str(tmp_path))  # no modprobe, no udevadm
    refused = CliRunner().invoke(main, ["doctor", "--fix"], input="n\n")
    assert (refused.exit_code, rule.exists()) == (1, False)
    assert 'KERNEL=="uinput"' in refused.output
    assert CliRunner().invoke(main, ["doctor", "--fix"], input="y\n").exit_code == 0
    assert rule.read_text() == RULE
    again = CliRunner().invoke(main, ["doctor", "--fix"])
    assert (again.exit_code, "there already" in again.output) == (0, True)


def test_pads_says_so_when_there_is_none() -> None:
    done = nub("pads")
    assert done.returncode == 0
    assert "pad" in done.stdout.lower()


def test_the_demo_tells_itself_in_words_where_there_is_no_display() -> None:
    done = nub("demo", "--seconds", "3")
    assert done.returncode == 0
    assert "There is no display" in done.stdout
    assert "left stick up" in done.stdout
    assert "W down (Walk forward)" in done.stdout


def test_the_demo_window_ends_by_itself() -> None:
    done = nub("demo", "--seconds", "1.5", QT_QPA_PLATFORM="offscreen")
    assert (done.returncode, done.stderr) == (0, "")


def test_the_schema_is_json() -> None:
    assert json.loads(nub("schema").stdout)["$ref"] == "#/$defs/Profile"
