"""Faults of ours: written down in a file, told in one line, never shown as a trace."""

from __future__ import annotations

import time
import traceback
from pathlib import Path
from types import TracebackType

import platformdirs

MAX_LOG_BYTES = 200_000


def note_fault(kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> str:
    """Appends a fault to the log; returns the line to tell the person."""
    path = platformdirs.user_state_path("nub-shift") / "faults.log"
    text = "".join(traceback.format_exception(kind, fault, trace))
    try:
        _append(path, f"--- {time.strftime('%Y-%m-%d %H:%M:%S')}\n{text}")
    except OSError:
        return f"a fault in Nub Shift itself: {fault!r}"
    return f"a fault in Nub Shift itself; please report what stands in {path}"


def _append(path: Path, text: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    if path.exists() and path.stat().st_size > MAX_LOG_BYTES:
        path.unlink()
    with path.open("a", encoding="utf-8") as stream:
        stream.write(text)
