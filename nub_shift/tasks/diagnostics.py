"""What play needs of this machine: whether it is there, and what to do where it is not."""

from __future__ import annotations

import os
from dataclasses import dataclass
from functools import cache
from importlib.util import find_spec
from pathlib import Path

from nub_shift.compiled import kind
from nub_shift.desktop_bus.shortcuts import hands_out_keys
from nub_shift.front.windows import is_wayland
from nub_shift.keyboard.session import SessionLayout, session_names
from nub_shift.model.messages import Message
from nub_shift.outputs.output import OutputError
from nub_shift.pads.finding import find_pads
from nub_shift.pads.holders import readers
from nub_shift.protocol.messages import PadInfo
from nub_shift.tasks.inventory import connected_pads
from nub_shift.tasks.session_start import standing
from nub_shift.translation import tr, trn

RULE_PATH = Path("/etc/udev/rules.d/70-nub-shift.rules")
# Whoever sits at the machine may make a keyboard and read pads; nobody else may. A sensor or surface is that of a pad
# if a device beside it, of the same thing, has buttons 0x120 to 0x13f: the upper half of the fifth word from the end in
# what the kernel shows of its keys. A pad may come after its parts, so it has them looked at again.
RULE = """\
# Nub Shift: pads may be read, and a virtual keyboard be made, by the person who sits at this machine.
KERNEL=="uinput", SUBSYSTEM=="misc", TAG+="uaccess", OPTIONS+="static_node=uinput"
SUBSYSTEM!="input", GOTO="nub_shift_end"
ENV{ID_INPUT_JOYSTICK}=="1", TAG+="uaccess"
# Of motion sensors and touch surfaces only those that are part of a pad.
KERNEL!="event*", GOTO="nub_shift_end"
DEVPATH=="/devices/virtual/input/*", GOTO="nub_shift_end"
ACTION=="add", ENV{ID_INPUT_JOYSTICK}=="1", \\
  RUN+="/bin/sh -c 'for part in /sys%p/../../input*/event*; do echo change >$$part/uevent; done'"
ENV{ID_INPUT_ACCELEROMETER}!="1", ENV{ID_INPUT_TOUCHPAD}!="1", GOTO="nub_shift_end"
PROGRAM=="/bin/sh -c 'for keys in /sys%p/../../input*/capabilities/key; do set -- $$(cat $$keys); \\
  [ $$# -ge 5 ] && shift $$(($$# - 5)) && case $$1 in ?????????*) exit 0;; esac; done; exit 1'", TAG+="uaccess"
LABEL="nub_shift_end"
"""
# After all others that may open them. A driver may make a pad's buttons after its raw device: that is looked at again.
RAW_RULE_PATH = Path("/etc/udev/rules.d/72-nub-shift-raw.rules")
RAW_RULE = """\
# Nub Shift: nobody but root reads the raw reports of pads, so that no program gets every press twice.
ACTION=="add", KERNEL=="event*", SUBSYSTEM=="input", ENV{ID_INPUT_JOYSTICK}=="1", \\
  RUN+="/bin/sh -c 'for raw in /sys%p/../../../hidraw/hidraw*; do echo change >$$raw/uevent; done'"
SUBSYSTEM!="hidraw", GOTO="nub_shift_raw_end"
PROGRAM=="/bin/sh -c 'for keys in /sys%p/../../input/input*/capabilities/key; do set -- $$(cat $$keys); \\
  [ $$# -ge 5 ] && shift $$(($$# - 5)) && case $$1 in ?????????*) exit 0;; esac; done; exit 1'", \\
  TAG-="uaccess", MODE="0600"
LABEL="nub_shift_raw_end"
"""
# What some checks are called; without these nothing can be played.
READING = tr("Reading pads")
KEYS_BY_KERNEL = tr("Keys through the kernel")
KEYS_BY_X_SERVER = tr("Keys through the X server")
FIX = "nub-shift doctor --fix"
CLOSE_RAW = "nub-shift doctor --close-raw"
_UINPUT = Path("/dev/uinput")


@dataclass(frozen=True)
class Check:
    """One thing that was looked at.

    Attributes:
        good: whether play can go on with it as it is.
        found: what was found.
        remedy: what to do; empty if there is nothing to do.
    """

    name: str
    good: bool
    found: str | Message
    remedy: str = ""


def diagnose() -> list[Check]:
    """Looks at everything, in the order in which a person would mend it."""
    pads = connected_pads()
    system = [_keys_out(), _keys_x11(), _session(), _starts(), *_library(), _front(), _signs(), _halting(), _window()]
    return [*system, _keyboard(), _readable(pads), _pads(pads), *_read_elsewhere(), _speed()]


def _speed() -> Check:
    found = kind()
    return Check(tr("Speed"), True, found, "" if found == "compiled" else tr("./nub setup compiles it: less delay"))


def _keys_out() -> Check:
    name = KEYS_BY_KERNEL
    if not _UINPUT.exists():
        return Check(
            name, False, tr("/dev/uinput is missing"), tr("load the module: sudo modprobe uinput, or {fix}", fix=FIX)
        )
    if not os.access(_UINPUT, os.W_OK):
        return Check(name, False, tr("/dev/uinput may not be written"), tr("{fix}, then log in again", fix=FIX))
    return Check(name, True, tr("/dev/uinput can be written"))


def _keys_x11() -> Check:
    name = KEYS_BY_X_SERVER
    if not os.environ.get("DISPLAY"):
        return Check(
            name, False, tr("there is no X server in this session"), tr("not needed where the kernel takes keys")
        )
    from nub_shift.outputs.x11 import X11Output

    try:
        X11Output().close()
    except OutputError as error:
        return Check(name, False, error.message)
    return Check(name, True, tr("the server {display} takes synthetic keys", display=os.environ["DISPLAY"]))


def _session() -> Check:
    kind = os.environ.get("XDG_SESSION_TYPE") or ("x11" if os.environ.get("DISPLAY") else "none")
    if os.environ.get("WAYLAND_DISPLAY"):
        kind = "wayland"
    if kind == "wayland" and not os.access(_UINPUT, os.W_OK):
        found = tr("wayland, and no keys through the kernel: they can reach only programs that use X11 (Xwayland)")
        return Check(tr("Session"), False, found, tr("{fix}, then log in again", fix=FIX))
    if kind == "wayland":
        return Check(tr("Session"), True, tr("wayland: keys go through the kernel"))
    return Check(
        tr("Session"), True, kind if kind == "x11" else tr("no desktop here: nub-shift run plays without a window")
    )


def _starts() -> Check:
    found = standing()
    plays = tr("plays now") if found.state is not None else tr("does not play now")
    if found.start is None:
        remedy = "" if found.state is not None else tr("nub-shift session on has it play without a window")
        return Check(
            tr("Play with the session"), True, tr("not started with the desktop session; {plays}", plays=plays), remedy
        )
    remedy = "" if found.state is not None else tr("nub-shift session on starts it again")
    return Check(
        tr("Play with the session"),
        not remedy,
        tr("started by {start}; {plays}", start=found.start.value, plays=plays),
        remedy,
    )


def _library() -> list[Check]:
    """Whether the session's runner could read the profiles that come on by themselves; nothing if none plays."""
    state = standing().state
    if state is None:
        return []
    name = tr("Profiles of the library")
    if state.library_late:
        found = tr("slow to read: none comes on by itself until they have been read, which is tried again and again")
        return [Check(name, False, found, tr("look whether the disk is busy"))]
    return [Check(name, True, tr("read"))]


def _front() -> Check:
    name = tr("Which game is in front")
    if "zwlr_foreign_toplevel_manager_v1" in _offered():
        return Check(name, True, tr("told by the Wayland compositor (foreign-toplevel)"))
    if is_wayland() and "KDE" in os.environ.get("XDG_CURRENT_DESKTOP", ""):
        return Check(name, True, tr("told by KWin, by a script over D-Bus"))
    programs = tr("of others, which program runs is looked at")
    if not os.environ.get("DISPLAY"):
        found = tr("not told in this session; which program runs is looked at")
        return Check(name, is_wayland(), found, tr("give rules a program, a path or an argument"))
    if is_wayland():
        found = tr("told of games that use X11 (Xwayland); {programs}", programs=programs)
        return Check(name, True, found, tr("give rules a program, a path or an argument"))
    return Check(name, True, tr("told by the X server"))


def _signs() -> Check:
    name = tr("Signs on the screen")
    if "zwlr_layer_shell_v1" in _offered():
        return Check(name, True, tr("above all windows, by the Wayland compositor (layer-shell)"))
    if not os.environ.get("DISPLAY"):
        return Check(name, False, tr("nothing in this session shows them above a game"))
    if is_wayland():
        found = tr("through Xwayland; the compositor may put a full-screen game above them")
        return Check(name, True, found)
    return Check(name, True, tr("above all windows, by the X server"))


def _halting() -> Check:
    name = tr("Pause key stops everything")
    if os.environ.get("DISPLAY") and not is_wayland():
        return Check(name, True, tr("the X server tells of it in every window"))
    if is_wayland() and hands_out_keys():
        return Check(
            name, True, tr("the desktop hands that key out, and may ask you once; it may be another one there")
        )
    return Check(
        name, False, tr("this session does not report keys"), tr("hold the two buttons of the pad that Play names")
    )


@cache
def _offered() -> frozenset[str]:
    """What a Wayland compositor offers."""
    if not is_wayland() or find_spec("pywayland") is None:
        return frozenset()
    from nub_shift.front.wayland import offered

    return offered()


def _window() -> Check:
    if find_spec("PyQt6") is None:
        return Check(
            tr("Window"),
            False,
            tr("PyQt6 is not installed"),
            tr("install the Python package PyQt6, or run ./nub setup"),
        )
    return Check(tr("Window"), True, tr("Qt is installed"))


def _keyboard() -> Check:
    layout = SessionLayout()()
    if next(session_names(), None) is None:
        return Check(
            tr("Keyboard layout"),
            True,
            tr("none is set, taken as {layout}", layout=layout.name),
            tr("set XKB_DEFAULT_LAYOUT if wrong"),
        )
    return Check(tr("Keyboard layout"), True, layout.name)


def _readable(pads: tuple[PadInfo, ...]) -> Check:
    closed = [pad for pad in pads if pad.wrong and not pad.controls]
    if closed:
        found = trn(
            "{count} input device may not be read ({key}); it may be a pad",
            "{count} input devices may not be read ({key} for one); a pad may be among them",
            len(closed),
            key=closed[0].key,
        )
        return Check(READING, False, found, tr("{fix}, then log in again", fix=FIX))
    if not Path("/dev/input").exists():
        return Check(READING, False, tr("there is no /dev/input"), tr("load the module: sudo modprobe evdev"))
    return Check(READING, True, tr("every input device that may be a pad can be read"))


def _read_elsewhere() -> list[Check]:
    """A game that reads the pad besides its keys does everything twice."""
    name = tr("Programs that read pads")
    checks = []
    pads = find_pads()
    names = {pad.path: pad.description.name for pad in pads if pad.description is not None}
    found = readers({pad.path: (pad.path, *pad.parts) for pad in pads if pad.path in names})
    for path, programs in found.items():
        for holder in programs:
            who = tr(
                "{program} (process {process}) reads {pad}",
                program=holder.program,
                process=holder.pid,
                pad=names[path],
            )
            if holder.raw:
                remedy = tr(
                    "turn the pad off in the settings of {program}, or keep all programs from it: {close_raw}",
                    program=holder.program,
                    close_raw=CLOSE_RAW,
                )
                checks.append(
                    Check(
                        name, False, tr("{who} by itself, also while live: it gets every press twice", who=who), remedy
                    )
                )
            else:
                remedy = tr("to let it have the pad besides, set reads_pads = true for that game")
                checks.append(Check(name, True, tr("{who}, but gets nothing while you are live", who=who), remedy))
    return checks or [Check(name, True, tr("none besides us, as far as can be told"))]


def _pads(pads: tuple[PadInfo, ...]) -> Check:
    names = [pad.name for pad in pads if pad.controls]
    if not names:
        return Check(tr("Pads"), False, tr("none is connected"), tr("plug one in, or try --pad simulated"))
    return Check(tr("Pads"), True, ", ".join(names))
