"""Outputs as JSON lines."""

from __future__ import annotations

from typing import BinaryIO

from nub_shift.engine.values import Output, output_line
from nub_shift.model.messages import Code
from nub_shift.outputs.output import DownKeys, OutputError


class PrintOutput:
    """Writes a JSON line an output, times in seconds from `start_us`."""

    def __init__(self, stream: BinaryIO, start_us: int) -> None:
        self._stream = stream
        self._start_us = start_us
        self._down = DownKeys()
        self._last_us = start_us

    def send(self, outputs: list[Output]) -> None:
        """Writes them and flushes.

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
        """Nothing that is printed is held."""
        return False

    def beat(self) -> None:
        """Nobody has to know."""

    def fileno(self) -> int:
        """A reader that has gone is noticed as something is written."""
        return -1

    def check(self) -> None:
        """See `fileno`."""

    def close(self) -> None:
        """Writes what releases everything."""
        releases = self._down.releases(self._last_us)
        if releases:
            self.send(releases)
