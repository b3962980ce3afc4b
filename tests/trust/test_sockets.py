"""Where a runner listens: nobody else's, nothing deleted that is not its own."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.listener import Listener
from nub_shift.protocol.sockets import check_private, runtime_folder
from tests.runner.processes import DEMO_PROFILE, LIMIT_S


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "own"
    made.mkdir(mode=0o700)
    return made


def a_file(folder: Path) -> Path:
    (folder / "s").write_text("kept")
    return folder / "s"


def a_link_to_a_file(folder: Path) -> Path:
    (folder / "s").symlink_to(a_file(folder.parent))
    return folder / "s"


def an_open_folder(folder: Path) -> Path:
    folder.chmod(0o755)
    return folder / "s"


def a_link_to_a_folder(folder: Path) -> Path:
    (folder.parent / "link").symlink_to(folder)
    return folder.parent / "link" / "s"


def a_long_path(folder: Path) -> Path:
    return folder / ("s" * 120)


CASES: list[tuple[Callable[[Path], Path], str]] = [
    (a_file, "is there already and is no socket"),
    (a_link_to_a_file, "is there already and is no socket"),
    (an_open_folder, "others may enter this folder"),
    (a_link_to_a_folder, "is a link"),
    (a_long_path, "is too long for a socket (at most 107 bytes); choose a shorter one with --socket"),
]


@pytest.mark.parametrize(("made", "expected"), CASES)
def test_a_place_that_cannot_be_trusted_is_refused_and_left_alone(
    folder: Path, made: Callable[[Path], Path], expected: str
) -> None:
    path = made(folder)
    command = [sys.executable, "-m", "nub_shift", "run", str(DEMO_PROFILE), "--pad", "simulated", "--output", "print"]
    done = subprocess.run(
        [*command, "--socket", str(path)], check=False, capture_output=True, text=True, timeout=LIMIT_S
    )
    assert done.returncode == 1
    assert expected in done.stderr and str(path if "is no socket" in expected else path.parent) in done.stderr
    assert done.stderr.count("\n") == 1
    assert not path.exists() or path.read_text() == "kept"


def test_a_second_runner_is_refused_and_a_dead_ones_socket_is_taken_over(folder: Path) -> None:
    path = folder / "s"
    first = Listener(path, 1)
    with pytest.raises(OSError, match="somebody listens there"):
        Listener(path, 1)
    first.socket.close()  # as if it had been killed
    second = Listener(path, 1)
    first.close()
    assert path.exists()  # it is not its own
    second.close()
    assert not path.exists()


def test_a_client_trusts_no_open_folder(folder: Path) -> None:
    listener = Listener(folder / "s", 1)
    folder.chmod(0o777)
    with pytest.raises(PermissionError):
        RunnerClient(folder / "s")
    listener.close()


def test_without_a_session_the_socket_is_at_home_and_not_where_others_may_write(
    monkeypatch: pytest.MonkeyPatch, _own_home: Path
) -> None:
    monkeypatch.delenv("XDG_RUNTIME_DIR")
    assert runtime_folder().is_relative_to(_own_home)
    listener = Listener(runtime_folder() / "s", 1)
    check_private(runtime_folder() / "s")
    assert runtime_folder().stat().st_uid == os.getuid()
    listener.close()
