"""Processes of ours are started in one way, and no folder or variable decides what runs in them."""

from __future__ import annotations

import ast
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import nub_shift
from nub_shift.own_process import own_environment, start_own
from nub_shift.tasks.launchers import desktop_exec, desktop_words, systemd_exec
from tests.runner.processes import RunnerProcess
from tests.xserver import XWindow

PACKAGE = Path(nub_shift.__path__[0])
# Who starts programs of others, and which.
STARTS_OTHERS = {
    "cli/doctor.py": "sudo or pkexec, tee and udevadm",
    "pads/kernel/power.py": "busctl",
    "tasks/desktop_entry.py": "what refreshes the desktop's lists",
    "tasks/launchers.py": "the program, as an entry says",
    "tasks/session_start.py": "systemctl",
    "ui/signs/sounds.py": "what plays a sound",
}
STARTERS = {"Popen", "check_output", "execv", "execve", "execvp", "fork", "posix_spawn", "startDetached", "system"}


def test_processes_are_started_by_one_function() -> None:
    wrong = []
    for path in PACKAGE.rglob("*.py"):
        name = str(path.relative_to(PACKAGE))
        if name.startswith("bench/") or name in {"own_process.py", *STARTS_OTHERS}:
            continue
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            called = node.func if isinstance(node, ast.Call) else None
            word = ast.unparse(called or node) if isinstance(called or node, ast.Attribute) else ""
            starts = called is not None and (word == "subprocess.run" or word.rpartition(".")[2] in STARTERS)
            if starts or word == "sys.executable":
                wrong.append(f"{name} {word}")
    assert wrong == ["tasks/keep_resident.py os.execv"]  # the command that we start ourselves by, in this one's place


@pytest.fixture
def trap(tmp_path: Path) -> Path:
    """A folder with files that are called as what we import."""
    folder = tmp_path / "trap"
    folder.mkdir(mode=0o700)
    for name in (
        "click",
        "Xlib",
        "msgspec",
        "tomli",
        "evdev",
        "pathlib",
        "logging",
        "jeepney",
        "PyQt6",
        "platformdirs",
    ):
        text = f"open({str(tmp_path / 'ran')!r}, 'a').write('{name} ')\nraise ImportError\n"
        (folder / f"{name}.py").write_text(text)
    return folder


def test_files_in_the_folder_that_one_stands_in_do_not_run(
    trap: Path, x_window: XWindow, x_server: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("DISPLAY", x_server)
    monkeypatch.chdir(trap)
    runner = RunnerProcess(trap, "--pad", "simulated", "--output", "x11")
    x_window.until(lambda: bool(x_window.keys_down()))
    runner.end(signal.SIGKILL)
    x_window.until(lambda: not x_window.keys_down())
    assert not (trap.parent / "ran").exists()


def test_what_variables_say_to_python_does_not_run(trap: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PYTHONPATH", str(trap))
    monkeypatch.setenv("PYTHONSTARTUP", str(trap / "click.py"))
    assert not [name for name in own_environment() if name.startswith("PYTHON")]
    started = start_own("nub_shift", "--version", stdout=subprocess.PIPE)
    assert started.communicate(timeout=60)[0].startswith(b"nub-shift ")
    assert not (trap.parent / "ran").exists()


WORDS = st.lists(st.text(st.characters(blacklist_categories=["Cs", "Cc"]), min_size=1), min_size=1, max_size=4)


@given(words=WORDS)
def test_a_desktop_reads_the_words_that_were_written(words: list[str]) -> None:
    assert desktop_words(desktop_exec(words)) == words


def test_special_characters_are_written_as_the_formats_ask() -> None:
    odd = '/a b/50%/"x"/$HOME/`y`/\\z'
    assert desktop_exec([odd]) == r'"/a b/50%%/\\"x\\"/\\$HOME/\\`y\\`/\\\\z"'
    assert systemd_exec([odd]) == r':"/a b/50%%/\"x\"/$HOME/`y`/\\z"'


def test_a_module_that_is_run_from_its_own_folder_is_taken_from_there() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "nub_shift", "--version"],
        cwd=PACKAGE.parent,
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert done.stdout.startswith("nub-shift "), done.stderr
