"""Checks of the desktop session: receivers of keys, the window in front, signs and sounds.

Each part is queried itself: a variable in the environment is no proof of an answering server.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.util import find_spec
from pathlib import Path
from typing import Final

from nub_shift.desktop_bus.names import names_on_bus
from nub_shift.desktop_bus.shortcuts import has_shortcut_portal
from nub_shift.front.windows import has_display, is_wayland
from nub_shift.model.messages import Code, Message
from nub_shift.outputs.output import OutputError
from nub_shift.translation import tr

UINPUT: Final = Path("/dev/uinput")
FIX: Final = "nub-shift doctor --fix"
KEYS_BY_X_SERVER: Final = tr("Keys through the X server")
_KWIN, _TRAY, _PORTAL = "org.kde.KWin", "org.kde.StatusNotifierWatcher", "org.freedesktop.portal.Desktop"


@dataclass(frozen=True)
class Check:
    """Result of one check.

    Attributes:
        good: whether play works with it.
        found: result in words.
        remedy: what to do; empty for nothing.
    """

    name: str
    good: bool
    found: str | Message
    remedy: str = ""


def session_checks() -> Iterator[Check]:
    """Yields all checks of the session, in the order in which a person would mend their faults."""
    yield from _sandbox()
    yield _session()
    yield keys_by_x_server()
    yield _bus()
    yield _front()
    yield _signs()
    yield _halting()
    yield _tray()
    yield _portal()


def takes_keys() -> bool:
    """Returns whether the kernel accepts keys from this user."""
    return os.access(UINPUT, os.W_OK)


@cache
def x11_fault() -> Message | None:
    """Returns the reason why the X server of this session cannot be used; None if it can."""
    if not os.environ.get("DISPLAY"):
        return Message(Code.NO_X_SERVER, {"why": tr("there is none in this session")})
    from nub_shift.outputs.x11 import X11Output

    try:
        X11Output().close()
    except OutputError as error:
        return error.message
    return None


def _x_answers() -> bool:
    fault = x11_fault()
    return fault is None or fault.code is Code.NO_XTEST


@cache
def _names() -> frozenset[str] | None:
    return names_on_bus()


def _is_there(name: str) -> bool:
    return name in (_names() or ())


@cache
def _offered() -> frozenset[str]:
    """Returns the interfaces of the Wayland compositor; empty without one."""
    if not is_wayland() or find_spec("pywayland") is None:
        return frozenset()
    from nub_shift.front.wayland import offered

    return offered()


def _sandbox() -> Iterator[Check]:
    """Yields a check for a container or a sandbox, which may hide pads and virtual devices."""
    name = tr("Container")
    if Path("/.flatpak-info").exists() or os.environ.get("SNAP"):
        found = tr("this runs in a sandbox that hides pads and /dev/uinput")
        yield Check(name, False, found, tr("install Nub Shift outside of it"))
    elif any(Path(path).exists() for path in ("/run/.containerenv", "/.dockerenv")) or "container" in os.environ:
        found = tr("this runs in a container, which has the devices it was given")
        there = takes_keys() and Path("/dev/input").exists()
        yield Check(name, there, found, "" if there else tr("give it /dev/input and /dev/uinput"))


def _session() -> Check:
    name = tr("Session")
    if is_wayland():
        if takes_keys():
            return Check(name, True, tr("wayland: keys go through the kernel"))
        found = (
            tr("wayland, and no keys through the kernel: they can reach only programs that use X11 (Xwayland)")
            if _x_answers()
            else tr("wayland, and no keys through the kernel: they can reach no program")
        )
        return Check(name, False, found, tr("{fix}, then log in again", fix=FIX))
    if not os.environ.get("DISPLAY"):
        return Check(name, True, tr("no desktop here: nub-shift run plays without a window"))
    if not _x_answers():
        found = tr("the X server {display} does not answer", display=os.environ["DISPLAY"])
        return Check(name, False, found, tr("log in to a desktop, or unset DISPLAY"))
    return Check(name, True, "x11")


def keys_by_x_server() -> Check:
    """Checks whether the X server accepts keys; not a fault if that is not needed."""
    fault = x11_fault()
    if fault is None:
        return Check(
            KEYS_BY_X_SERVER, True, tr("the server {display} takes synthetic keys", display=os.environ["DISPLAY"])
        )
    if takes_keys():
        return Check(KEYS_BY_X_SERVER, True, tr("not needed: the kernel takes keys"))
    return Check(KEYS_BY_X_SERVER, False, fault)


def _bus() -> Check:
    name = tr("Session bus")
    if _names() is not None:
        return Check(name, True, tr("it answers"))
    if not has_display():
        return Check(name, True, tr("none, and none needed without a desktop"))
    found = tr("none answers: no tray symbol, and the desktop's settings are not known")
    return Check(name, False, found, tr("log in to the desktop again"))


def _front() -> Check:
    name = tr("Which game is in front")
    rules = tr("give rules a program, a path or an argument")
    if "zwlr_foreign_toplevel_manager_v1" in _offered():
        return Check(name, True, tr("told by the Wayland compositor (foreign-toplevel)"))
    if is_wayland() and _is_there(_KWIN):
        return Check(name, True, tr("told by KWin, by a script over D-Bus"))
    if not _x_answers():
        return Check(name, is_wayland(), tr("not told in this session; which program runs is looked at"), rules)
    if is_wayland():
        programs = tr("of others, which program runs is looked at")
        return Check(name, True, tr("told of games that use X11 (Xwayland); {programs}", programs=programs), rules)
    return Check(name, True, tr("told by the X server"))


def _signs() -> Check:
    name = tr("Signs on the screen")
    if "zwlr_layer_shell_v1" in _offered():
        return Check(name, True, tr("above all windows, by the Wayland compositor (layer-shell)"))
    if not _x_answers():
        return Check(name, False, tr("nothing in this session shows them above a game"))
    if is_wayland():
        return Check(name, True, tr("through Xwayland; the compositor may put a full-screen game above them"))
    return Check(name, True, tr("above all windows, by the X server"))


def _halting() -> Check:
    name = tr("Pause key stops everything")
    if not is_wayland() and _x_answers():
        return Check(name, True, tr("the X server tells of it in every window"))
    if is_wayland() and has_shortcut_portal():
        return Check(
            name, True, tr("the desktop hands that key out, and may ask you once; it may be another one there")
        )
    return Check(
        name, False, tr("this session does not report keys"), tr("hold the two buttons of the pad that Play names")
    )


def _tray() -> Check:
    found = tr("the desktop shows tray symbols") if _is_there(_TRAY) else tr("none here; everything works without")
    return Check(tr("Tray symbol"), True, found)


def _portal() -> Check:
    found = (
        tr("the desktop's portal says")
        if _is_there(_PORTAL)
        else tr("there is no portal: choose day or night in the settings")
    )
    return Check(tr("Day and night, contrast"), True, found)
