"""Requirements of play on this machine, with remedies for the missing ones."""

from __future__ import annotations

from importlib.util import find_spec
from pathlib import Path

from nub_shift.compiled import kind
from nub_shift.keyboard.session import SessionLayout, session_names
from nub_shift.pads.kernel.finding import find_pads
from nub_shift.pads.kernel.holders import readers
from nub_shift.protocol.messages import PadInfo
from nub_shift.tasks.inventory import connected_pads
from nub_shift.tasks.session_checks import FIX, UINPUT, Check, session_checks, takes_keys
from nub_shift.tasks.session_start import standing
from nub_shift.translation import tr, trn

RULE_PATH = Path("/etc/udev/rules.d/70-nub-shift.rules")
# The person at the machine may create a keyboard and read pads; nobody else may. A sensor or surface belongs to a pad
# if a device beside it, of the same parent, has buttons 0x120 to 0x13f: the upper half of the fifth word from the end
# of the kernel's key bits. A pad may come after its parts, and then triggers them again.
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
# After all other rules that may open raw devices. A driver may create the buttons after the raw device, which is then
# triggered again.
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
# Names of the checks without which nothing can be played.
READING = tr("Reading pads")
KEYS_BY_KERNEL = tr("Keys through the kernel")
CLOSE_RAW = "nub-shift doctor --close-raw"


def diagnose() -> list[Check]:
    """Runs all checks, in the order in which a person would mend their faults."""
    pads = connected_pads()
    mended = [_window(), _keys_out(), _readable(pads), _pads(pads), *session_checks(), _keyboard()]
    return [*mended, *_read_elsewhere(), _starts(), *_library(), _speed()]


def _speed() -> Check:
    found = kind()
    return Check(
        tr("Speed"),
        True,
        {"compiled": tr("compiled")}.get(found, found),
        "" if found == "compiled" else tr("./nub setup compiles it: less delay"),
    )


def _keys_out() -> Check:
    name = KEYS_BY_KERNEL
    if not UINPUT.exists():
        return Check(
            name, False, tr("/dev/uinput is missing"), tr("load the module: sudo modprobe uinput, or {fix}", fix=FIX)
        )
    if not takes_keys():
        return Check(name, False, tr("/dev/uinput may not be written"), tr("{fix}, then log in again", fix=FIX))
    return Check(name, True, tr("/dev/uinput can be written"))


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
    """Checks whether the session's runner could read the profiles with activation rules; empty without a runner."""
    state = standing().state
    if state is None:
        return []
    name = tr("Profiles of the library")
    if state.library_late:
        found = tr("slow to read: none comes on by itself until they have been read, which is tried again and again")
        return [Check(name, False, found, tr("look whether the disk is busy"))]
    return [Check(name, True, tr("read"))]


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
    """Checks for a game that reads the pad besides its keys, and so does everything twice."""
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
