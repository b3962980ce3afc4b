"""Names, path and arguments of a program, as reported by the kernel."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path, PureWindowsPath

_PROC = Path("/proc")
# Further arguments of a program are usually files to open.
MAX_ARGUMENTS = 64
MAX_BYTES = 65_536


def started_at(pid: int, proc: Path = _PROC) -> int:
    """Returns the start time of a process, in ticks since boot (proc(5)); 0 if it has gone."""
    try:
        return int((proc / str(pid) / "stat").read_text(errors="replace").rpartition(")")[2].split()[19])
    except (OSError, ValueError, IndexError):
        return 0


def program_of(pid: int, proc: Path = _PROC) -> tuple[tuple[str, ...], str, tuple[str, ...]]:
    """Returns the names, the path and the arguments of a process; inaccessible parts are left out."""
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
        # A loader's program name may contain either kind of separator.
        names.append(PureWindowsPath(words[0]).name)
    if path:
        names.append(Path(path).name)
    return tuple(dict.fromkeys(name for name in names if name)), path, words[1:]
