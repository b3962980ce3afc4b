"""Handling of exceptions that nothing else handles, in programs with windows."""

from __future__ import annotations

from collections.abc import Callable
from types import TracebackType

# Logs an unhandled exception (its class, itself, its traceback) and returns a line about it for the person.
NoteFault = Callable[[type[BaseException], BaseException, TracebackType | None], str]
