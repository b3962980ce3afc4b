"""Outputs as JSON lines."""

from __future__ import annotations

from typing import BinaryIO

from nub_shift.engine.values import Output, output_line
from nub_shift.model.messages import Code
from nub_shift.outputs.output import DownKeys, OutputError


class PrintOutput:
    """Writes one JSON line per output, with times in seconds from `start_us`."""

    def __init__(self, stream: BinaryIO, start_us: int) -> None:
        self._stream = stream
        self._start_us = start_us
        self._down = DownKeys()
        self._last_us = start_us

    def send(self, outputs: list[Output]) -> None:
        """Writes and flushes outputs.

        Raises:
            OutputError: the reader has gone.
        """
        self._down.note(outputs)
        if outputs:
            self._last_us = outputs[-1].t_us
        try:
            self._stream.writelines(output_line(output, self._start_us) for output in outputs)
            self._stream.flush()
        except OSError as error:
            raise OutputError(Code.NOBODY_READS_OUTPUT, why=error.strerror) from None

    @property
    def holds(self) -> bool:
        """False: printed keys are not held."""
        return False

    def beat(self) -> None:
        """Does nothing: printed outputs have no watcher."""

    def fileno(self) -> int:
        """Returns -1: a lost reader is noticed at the next write."""
        return -1

    def check(self) -> None:
        """Does nothing; see `fileno`."""

    def close(self) -> None:
        """Writes the releases of all keys that are down."""
        releases = self._down.releases(self._last_us)
        if releases:
            self.send(releases)
