"""Start of the runner with the desktop session, by systemd or by an autostart entry."""

from __future__ import annotations

import shutil
import subprocess
import time
from contextlib import closing
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

import platformdirs

from nub_shift.desktop import template
from nub_shift.model.messages import Code
from nub_shift.model.profile.activation import APP_ID
from nub_shift.own_process import program_command, start_program
from nub_shift.protocol.calls import GetState, Stop
from nub_shift.protocol.client import RunnerClient, RunnerError
from nub_shift.protocol.messages import State
from nub_shift.protocol.sockets import is_listening, resident_socket
from nub_shift.runner.errors import CannotPlay
from nub_shift.store.atomic import write_text
from nub_shift.tasks.launchers import desktop_exec, systemd_exec

UNIT = "nub-shift.service"
# Target that desktops reach once their session is up; desktops that do not use it start nothing by it.
_TARGET = "graphical-session.target"
LIMIT_S = 10.0


class Start(Enum):
    """Way in which the runner is started."""

    SYSTEMD = "systemd"
    AUTOSTART = "autostart"


@dataclass(frozen=True)
class StartStatus:
    """Present state: whether the runner starts with the session, and what it plays."""

    start: Start | None
    state: State | None


def switch_on() -> None:
    """Starts the runner now and with every session.

    Raises:
        OSError: a file cannot be written.
        CannotPlay: systemd refuses, or the runner does not come up.
    """
    if _systemd_serves():
        _autostart().unlink(missing_ok=True)
        _write(_unit(), template("session.service").format(command=systemd_exec(program_command())))
        _systemctl("daemon-reload")
        if _systemctl_says("is-active", UNIT) != "active":
            stop_resident()  # may have been started in another way
        _systemctl("enable", UNIT)
        _systemctl("restart", UNIT)
        return
    command = desktop_exec(program_command())
    _write(_autostart(), template("session.desktop").format(command=command, app_id=APP_ID))
    start_resident()


def switch_off() -> None:
    """Ends the runner, and its start with the session.

    Raises:
        CannotPlay: as for `switch_on`.
        OSError: likewise.
    """
    if _unit().exists():
        if _systemd_serves():
            _systemctl("disable", "--now", UNIT)
        _unit().unlink()
        if _systemd_serves():
            _systemctl("daemon-reload")
    _autostart().unlink(missing_ok=True)
    stop_resident()


def standing() -> StartStatus:
    """Returns the present state."""
    start = Start.SYSTEMD if _unit().exists() else Start.AUTOSTART if _autostart().exists() else None
    return StartStatus(start, resident_state())


def resident_state() -> State | None:
    """Returns the state of the resident runner; None without an answer."""
    try:
        with closing(RunnerClient(resident_socket())) as client:
            return client.call(GetState())
    except (OSError, RunnerError):
        return None


def start_resident() -> None:
    """Starts the runner if none is running.

    Raises:
        CannotPlay: the runner does not come up.
    """
    if is_listening(resident_socket()):
        return
    start_program("resident", "--again")
    end = time.monotonic() + LIMIT_S
    while not is_listening(resident_socket()):
        if time.monotonic() > end:
            raise CannotPlay(Code.RESIDENT_NOT_UP)
        time.sleep(0.05)


def stop_resident() -> None:
    """Ends the runner if one is running.

    Raises:
        CannotPlay: the runner does not end.
    """
    path = resident_socket()
    if not is_listening(path):
        return
    try:
        with closing(RunnerClient(path)) as client:
            client.call(Stop())
    except (OSError, RunnerError):
        pass  # may have ended before its answer
    end = time.monotonic() + LIMIT_S
    while is_listening(path):
        if time.monotonic() > end:
            raise CannotPlay(Code.RESIDENT_STAYS)
        time.sleep(0.05)


def _unit() -> Path:
    return platformdirs.user_config_path() / "systemd" / "user" / UNIT


def _autostart() -> Path:
    return platformdirs.user_config_path() / "autostart" / f"{APP_ID}.session.desktop"


def _write(path: Path, text: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    write_text(path, text)


def _systemd_serves() -> bool:
    """Returns whether systemd runs this session and reports when it is up."""
    return shutil.which("systemctl") is not None and _systemctl_says("is-active", _TARGET) == "active"


def _systemctl_says(*arguments: str) -> str:
    done = subprocess.run(
        ["systemctl", "--user", *arguments], capture_output=True, text=True, timeout=LIMIT_S, check=False
    )
    return done.stdout.strip()


def _systemctl(*arguments: str) -> None:
    done = subprocess.run(
        ["systemctl", "--user", *arguments], capture_output=True, text=True, timeout=3 * LIMIT_S, check=False
    )
    if done.returncode != 0:
        raise CannotPlay(Code.SYSTEMD_REFUSES, why=done.stderr.strip() or str(done.returncode))
