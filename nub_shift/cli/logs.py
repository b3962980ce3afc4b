"""Logging to rotated files, the journal and the terminal.

Each room has a logger of its own, `nub_shift.ROOM`. `NUB_SHIFT_LOG` sets the levels: one level such as `debug`, or
levels by room such as `runner=debug,ui=info`. At debug level, state machines log each transition.
"""

from __future__ import annotations

import logging
import os
import sys
from contextlib import suppress
from pathlib import Path
from types import TracebackType

import platformdirs

from nub_shift.store.atomic import require_regular
from nub_shift.translation import tr

ROOT = "nub_shift"
VARIABLE = "NUB_SHIFT_LOG"
MAX_BYTES = 500_000
OLDER_FILES = 3
_LINE = "%(asctime)s %(process)d %(levelname)s %(name)s: %(message)s"
# Priority that journald reads at the beginning of a line.
_PRIORITIES = {logging.DEBUG: 7, logging.INFO: 6, logging.WARNING: 4, logging.ERROR: 3, logging.CRITICAL: 2}


class _JournalFormatter(logging.Formatter):
    """Formats lines for journald, which adds time and process itself."""

    def format(self, record: logging.LogRecord) -> str:
        priority = _PRIORITIES.get(record.levelno, 6)
        return "\n".join(f"<{priority}>{record.name}: {line}" for line in super().format(record).splitlines())


class _LateFile(logging.Handler):
    """A rotated file, opened and its handler imported at the first line, since most runs log nothing."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path = path
        self._file: logging.Handler | None = None

    def emit(self, record: logging.LogRecord) -> None:
        if self._file is None:
            self._file = self._opened()
        self._file.handle(record)

    def _opened(self) -> logging.Handler:
        from logging.handlers import RotatingFileHandler

        try:
            require_regular(self.path)
        except OSError:
            return logging.NullHandler()
        opened = RotatingFileHandler(
            self.path, maxBytes=MAX_BYTES, backupCount=OLDER_FILES, encoding="utf-8", delay=True
        )
        opened.setFormatter(self.formatter)
        with suppress(OSError):
            self.path.touch(mode=0o600)
            self.path.chmod(0o600)
        return opened

    def close(self) -> None:
        if self._file is not None:
            self._file.close()
        super().close()


def log_path(program: str = "nub-shift") -> Path:
    """Returns the log file. A runner has its own, since two processes cannot rotate one file."""
    return platformdirs.user_state_path("nub-shift") / f"{program}.log"


def set_up_logging(verbose: bool, program: str = "nub-shift") -> None:
    """Directs log messages to the file, to journald if run by it, and to the terminal if requested.

    A runner started by a window inherits the setting.
    """
    if verbose:
        os.environ.setdefault(VARIABLE, "debug")
    root = logging.getLogger(ROOT)
    root.propagate = False
    for handler in list(root.handlers):
        root.removeHandler(handler)
        handler.close()
    path = log_path(program)
    try:
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        path.parent.chmod(0o700)  # what a person plays is private
        file = _LateFile(path)
        file.setFormatter(logging.Formatter(_LINE))
        root.addHandler(file)
    except OSError:
        pass  # the home folder is not writable; play does not need it
    logging.raiseExceptions = False  # a full disk must not disturb play
    if os.environ.get("JOURNAL_STREAM"):
        journal = logging.StreamHandler(sys.stderr)
        journal.setFormatter(_JournalFormatter())
        root.addHandler(journal)
    elif verbose:
        terminal = logging.StreamHandler(sys.stderr)
        terminal.setFormatter(logging.Formatter("%(levelname)s %(name)s: %(message)s"))
        root.addHandler(terminal)
    _set_levels(os.environ.get(VARIABLE, ""))


def note_fault(kind: type[BaseException], fault: BaseException, trace: TracebackType | None) -> str:
    """Logs an unexpected fault; returns the line for the person."""
    root = logging.getLogger(ROOT)
    root.critical("a fault in Nub Shift itself", exc_info=(kind, fault, trace))
    files = [handler.path for handler in root.handlers if isinstance(handler, _LateFile)]
    if not any(path.exists() for path in files):
        return tr("a fault in Nub Shift itself: {fault!r}", fault=fault)
    return tr("a fault in Nub Shift itself; please report what stands in {file}", file=files[0])


def _set_levels(wanted: str) -> None:
    """Sets levels such as `debug` or `runner=debug,ui=info`; unknown levels are logged and ignored."""
    root = logging.getLogger(ROOT)
    root.setLevel(logging.INFO)
    for entry in filter(None, (part.strip() for part in wanted.split(","))):
        room, separator, level = entry.rpartition("=")
        number = logging.getLevelNamesMapping().get(level.upper())
        if number is None:
            root.warning("%s: %r is no level, expected debug, info, warning or error", VARIABLE, entry)
        else:
            logging.getLogger(f"{ROOT}.{room}" if separator else ROOT).setLevel(number)
