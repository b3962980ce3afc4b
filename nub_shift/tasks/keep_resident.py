"""A small parent of the session's runner, where no service manager starts that again after a crash.

It ends when the runner was asked to end, and ends the runner when it is asked to end itself. Its words are those of the
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

# How long it waits before it starts the runner again: twice as long each time; after a runner that was up for a while,
# from the beginning.
FIRST_S: Final = 1.0
LONGEST_S: Final = 60.0
UP_S: Final = 60.0
_STOPS: Final = (signal.SIGTERM, signal.SIGINT, signal.SIGHUP)


def become_keeper(*words: str) -> None:
    """Replaces this process, which has loaded more than the keeper needs, by the keeper."""
    command = own_command("nub_shift.tasks.keep_resident", *words)
    os.execv(command[0], command)


class _AskedToEnd(Exception):
    """Raised wherever a signal that asks to end is met."""


def _on_signal(_number: int, _frame: FrameType | None) -> None:
    raise _AskedToEnd


def main() -> None:
    """Keeps the runner going until it ends by itself."""
    for number in _STOPS:  # handled and not blocked: a blocked signal would be blocked in the runner too
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
    except _AskedToEnd:
        if runner is not None and runner.poll() is None:
            runner.terminate()
            runner.wait()


if __name__ == "__main__":
    main()
