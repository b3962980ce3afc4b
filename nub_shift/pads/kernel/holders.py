"""Search for other programs that hold a pad's device nodes open, as far as this user may see.

Events of a grabbed pad go to this process alone, and the older joystick node gets none. Raw reports (hidraw) bypass the
grab: a program that reads these gets everything besides our keys.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path

_SYSFS = Path("/sys/class/input")
_DEV = Path("/dev")
_PROC = Path("/proc")


@dataclass(frozen=True)
class Holder:
    """A program that reads a pad.

    Attributes:
        raw: whether the program reads raw reports, which a grab does not block.
        nodes: the nodes that it reads.
    """

    pid: int
    program: str
    raw: bool
    nodes: tuple[str, ...] = ()


def nodes_of(path: str, sysfs: Path = _SYSFS) -> dict[str, bool]:
    """Returns the nodes through which the input device at `path` can be read, and whether each is raw."""
    device = sysfs / Path(path).name / "device"
    joysticks = [str(_DEV / "input" / found.name) for found in device.glob("js*")]
    raw = [str(_DEV / found.name) for found in (device / "device" / "hidraw").glob("hidraw*")]
    return {path: False} | dict.fromkeys(joysticks, False) | dict.fromkeys(raw, True)


def holders(nodes: Mapping[str, bool], proc: Path = _PROC) -> list[Holder]:
    """Returns the programs that hold any of these nodes open, without our own, sorted by process id."""
    found = []
    for pid in sorted(int(folder.name) for folder in proc.iterdir() if folder.name.isdigit()):
        with suppress(OSError):  # the process has ended, or belongs to another user
            ways = [target for target in _open_files(proc / str(pid)) if target in nodes]
            if ways and not _is_own(proc / str(pid)):
                program = (proc / str(pid) / "comm").read_text(errors="replace").strip()
                found.append(Holder(pid, program, any(nodes[way] for way in ways), tuple(dict.fromkeys(ways))))
    return found


def readers(pads: Mapping[str, Iterable[str]]) -> dict[str, list[Holder]]:
    """Returns the programs that read each of several pads; `pads` has the paths of its input devices by key."""
    nodes = {key: {node: raw for path in paths for node, raw in nodes_of(path).items()} for key, paths in pads.items()}
    found = holders({node: raw for own in nodes.values() for node, raw in own.items()})
    return {
        key: [
            replace(holder, raw=any(own[node] for node in holder.nodes if node in own))
            for holder in found
            if any(node in own for node in holder.nodes)
        ]
        for key, own in nodes.items()
    }


def _open_files(process: Path) -> Iterator[str]:
    for descriptor in (process / "fd").iterdir():
        with suppress(OSError):  # closed meanwhile
            yield str(descriptor.readlink())


def _is_own(process: Path) -> bool:
    """Returns whether a process is a runner or a window of ours."""
    words = (process / "cmdline").read_bytes().split(b"\0")
    return any(word == b"nub_shift" or word.rpartition(b"/")[2] == b"nub-shift" for word in words)
