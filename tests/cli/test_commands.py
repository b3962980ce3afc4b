"""The commands as a person runs them."""

from __future__ import annotations

import json
import os
import shlex
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


HEAD = 'schema = 4\ntitle = "T"\n[[layers]]\nid = "base"\nlabel = "Base"\n[layers.slots]\n'
SLOTS = "7: layers.base.slots."
# What stands in the file, what is said of it, and what would be right.
FAULTS = [
    ('left_stick.up = { keys = ["KEY_W"] }', f"{SLOTS}left_stick.up: unknown key 'up'", '"left_stick.up"'),
    ('south = { keys = ["F"] }', f"{SLOTS}south.keys: there is no key 'F'", "did you mean 'KEY_F'?"),
    ("south = { keys = [“KEY_F”] }", "7: column 19: Invalid value", "write straight quotes in place of the curly ones"),
    ("south = {}\n[layers.slots]", "8: column 14: the table layers.slots is written twice", "expected TOML"),
    (f"south = {{ keys = {['KEY_A'] * 7} }}", f"{SLOTS}south.keys: a list of 7 does not fit", "a list of at most 6"),
    ("button_a = {}", f"{SLOTS}button_a: no control has a slot 'button_a'", "a place on the pad, as south"),
    ('[[moves]]\nid = "a"\nlabel = "A"\n[[moves]]\nid = "b"\nlabel = 3', "12: moves.b.label: 3 does not fit", "a text"),
    ('[[layers]]\nlabel = """\n[[moves]]\n"""', "7: layers[1].id: is missing", "a lower-case name"),
]


@pytest.mark.parametrize(("wrong", "said", "right"), FAULTS)
def test_check_says_on_which_line_what_is_wrong_and_what_to_do(
    tmp_path: Path, wrong: str, said: str, right: str
) -> None:
    path = tmp_path / "p.toml"
    path.write_text(f"{HEAD}{wrong}\n")
    done = CliRunner().invoke(main, ["check", str(path), str(DEMO_PROFILE)])
    assert done.exit_code == 1
    assert any(line.startswith(f"{path}:{said}") and right in line for line in done.output.splitlines()), done.output
    assert done.output.endswith(f"{DEMO_PROFILE}: fine\n")
    told = json.loads(CliRunner().invoke(main, ["check", "--json", str(path)]).output)
    assert int(said.partition(":")[0]) in {fault["line"] for fault in told[0]["faults"]}


def test_a_newer_schema_and_a_full_disk_are_no_faults_of_ours(tmp_path: Path) -> None:
    path = tmp_path / "p.toml"
    path.write_text(HEAD.replace("schema = 4", "schema = 9"))
    assert "update Nub Shift" in nub("check", path).stdout
    command = [sys.executable, "-m", "nub_shift", "check", str(DEMO_PROFILE)]
    with Path("/dev/full").open("w") as full:
        done = subprocess.run(command, check=False, stdout=full, stderr=subprocess.PIPE, text=True)
    assert (done.returncode, done.stderr) == (1, "nub-shift: cannot print: no space left on device\n")
    for words in ("pads", "doctor"):
        json.loads(nub(words, "--json").stdout)
    assert "does not answer" in nub("window", DISPLAY=":250", QT_QPA_PLATFORM="xcb").stderr


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


@pytest.mark.parametrize(
    ("given", "not_fine"),
    [
        ({"DISPLAY": ":987"}, ("Session:", "Keys through the X", "Which game", "Signs on", "Pause key", "Session bus")),
        (
            {"WAYLAND_DISPLAY": "nobody-0", "XDG_CURRENT_DESKTOP": "KDE", "DBUS_SESSION_BUS_ADDRESS": "unix:path=/no"},
            ("Session:", "Session bus", "Signs on", "Pause key"),
        ),
    ],
    ids=["a display that is dead", "a desktop that is only named"],
)
def test_the_doctor_asks_before_it_says_that_something_is_fine(
    given: dict[str, str], not_fine: tuple[str, ...]
) -> None:
    lines = nub("doctor", **given).stdout.splitlines()
    fine = [line.removeprefix("fine:").strip() for line in lines if line.startswith("fine:")]
    assert [line for line in fine if line.startswith(not_fine)] == []
    assert not any("KWin" in line for line in lines)
    assert [line for line in lines if "reach no program" in line or "987 does not answer" in line]


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


@pytest.mark.parametrize(
    ("beside", "opened"),
    [
        (("7fdb000000000000 0 0 0 0",), True),  # a gamepad's buttons
        (("ffff0000 0 0 0 0", "100000000 0 0 0 0"), True),  # a mouse, and something with the first joystick button
        (("ffff0000 0 0 0 0", "e520 10000 0 0 0 0", "fffffffffffffffe", "0"), False),  # mouse, touchpad, keys, nothing
    ],
)
def test_the_rule_opens_sensors_only_beside_the_buttons_of_a_pad(
    tmp_path: Path, beside: tuple[str, ...], opened: bool
) -> None:
    (tmp_path / "dev/input/input1/event1").mkdir(parents=True)
    for number, keys in enumerate(beside):
        shown = tmp_path / f"dev/input/input{number}/capabilities/key"
        shown.parent.mkdir(parents=True)
        shown.write_text(keys + "\n")
    requested = RULE.split('PROGRAM=="')[1].split('"')[0].replace("\\\n", "")
    requested = requested.replace("/sys%p", f"{tmp_path}/dev/input/input1/event1").replace(
        "$$", "$"
    )  # as the daemon does
    assert (subprocess.run(shlex.split(requested), check=False).returncode == 0) is opened
