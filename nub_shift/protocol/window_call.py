"""Requests of a second start of the window's program to the open window."""

from __future__ import annotations

import os
import socket
from pathlib import Path

import msgspec

from nub_shift.protocol.sockets import check_private, runtime_folder

# Timeout of both ends, since a hanging window must not keep a second one from opening.
LIMIT_S = 2.0
MAX_LINE = 16_384


# Variable with the compositor's activation token, from which Qt takes it.
ACTIVATION = "XDG_ACTIVATION_TOKEN"


class Asked(msgspec.Struct, frozen=True):
    """Request of a second start: a file to open, or empty to show the open one; or the end of the window.

    `token` is the compositor's token for the second start, by which the window may come to the front
    (xdg-activation-v1).
    """

    profile: str = ""
    ends: bool = False
    token: str = ""


class Answered(msgspec.Struct, frozen=True):
    """Answer: empty, or the reason why the profile cannot be opened."""

    fault: str = ""


def window_socket() -> Path:
    """Returns the socket of this user's window."""
    return runtime_folder() / "window.sock"


def call_window(profile: Path | None) -> Answered | None:
    """Asks the open window to show itself, and a profile; None if there is no window or no answer."""
    token = os.environ.get(ACTIVATION, "")
    return _call(Asked(str(profile.absolute()) if profile is not None else "", token=token))


def end_window() -> bool:
    """Asks the open window to close; returns whether a window has received that."""
    return _call(Asked(ends=True)) is not None


def _call(requested: Asked) -> Answered | None:
    path = window_socket()
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as calling:
        calling.settimeout(LIMIT_S)
        try:
            check_private(path)
            calling.connect(str(path))
            calling.sendall(msgspec.json.encode(requested) + b"\n")
            heard = b""
            while not heard.endswith(b"\n") and len(heard) < MAX_LINE:
                more = calling.recv(MAX_LINE)
                if not more:
                    return None
                heard += more
            return msgspec.json.decode(heard, type=Answered)
        except (OSError, msgspec.MsgspecError, ValueError, RecursionError):
            return None
