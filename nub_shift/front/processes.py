"""What a program is called, where it is, and how it was started, as the kernel tells."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path, PureWindowsPath

_PROC = Path("/proc")
# Of a program with more words than this, the rest are files to open at most.
MAX_ARGUMENTS = 64
MAX_BYTES = 65_536


def started_at(pid: int, proc: Path = _PROC) -> int:
    """When a process was started, in ticks since the machine was (proc(5)); 0 if it has gone."""
    try:
        return int((proc / str(pid) / "stat").read_text(errors="replace").rpartition(")")[2].split()[19])
    except (OSError, ValueError, IndexError):
        return 0


def program_of(pid: int, proc: Path = _PROC) -> tuple[tuple[str, ...], str, tuple[str, ...]]:
    """The names, the path and the arguments of a process; what may not be looked at is left out."""
    folder = proc / str(pid)
    names: list[str] = []
    path = ""
    words: tuple[str, ...] = ()
    with suppress(OSError):
        names.append((folder / "comm").read_text(errors="replace").strip())
    with suppress(OSError), (folder / "cmdline").open("rb") as stream:
        said = stream.read(MAX_BYTES).decode(errors="replace").split("\0")
        words = tuple(word for word in said[:MAX_ARGUMENTS] if word)
    with suppress(OSError):
        path = str((folder / "exe").readlink()).removesuffix(" (deleted)")
    if words:
        # A loader's own names may have either kind of separator.
        names.append(PureWindowsPath(words[0]).name)
    if path:
        names.append(Path(path).name)
    return tuple(dict.fromkeys(name for name in names if name)), path, words[1:]
