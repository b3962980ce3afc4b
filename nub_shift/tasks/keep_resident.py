"""A small parent of the session's runner, which restarts the runner after a crash where no service manager does.

Ends when the runner was asked to end, and passes its own end signal to the runner. Its arguments are those of the
`resident` command.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from types import FrameType
from typing import Final

from nub_shift.own_process import PROGRAM, own_command, start_own

# First delay before a restart, doubled each time; reset after a runner that has run for some time.
FIRST_S: Final = 1.0
LONGEST_S: Final = 60.0
UP_S: Final = 60.0
_STOPS: Final = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)


def become_keeper(*words: str) -> None:
    """Replaces this process by the keeper, which needs less memory."""
    command = own_command("nub_shift.tasks.keep_resident", *words)
    os.execv(command[0], command)


class _EndRequested(Exception):
    """Raised by signals that request the end."""


def _on_signal(_number: int, _frame: FrameType | None) -> None:
    raise _EndRequested


def main() -> None:
    """Restarts the runner until it ends by itself."""
    for number in _STOPS:  # handled and not blocked: the runner would inherit a blocked signal
        signal.signal(number, _on_signal)
    wait_s = FIRST_S
    runner: subprocess.Popen[bytes] | None = None
    try:
        while True:
            started = time.monotonic()
            runner = start_own(PROGRAM, "resident", *sys.argv[1:], stdout=None, stderr=None)
            if runner.wait() == 0:
                return
            wait_s = FIRST_S if time.monotonic() - started > UP_S else wait_s
            time.sleep(wait_s)
            wait_s = min(2 * wait_s, LONGEST_S)
    except _EndRequested:
        if runner is not None and runner.poll() is None:
            runner.terminate()
            runner.wait()


if __name__ == "__main__":
    main()
