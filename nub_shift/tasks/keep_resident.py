"""A small parent of the session's runner, where no service manager starts that again after a crash.

It ends when the runner was asked to end, and ends the runner when it is asked to end itself. Its words are those of the
`resident` command.
"""

from __future__ import annotations

import os
import signal
import sys
import time
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


def main() -> None:
    """Keeps the runner going until it ends by itself."""
    signal.pthread_sigmask(signal.SIG_BLOCK, {*_STOPS, signal.SIGCHLD})
    wait_s = FIRST_S
    while True:
        started = time.monotonic()
        runner = start_own(PROGRAM, "resident", *sys.argv[1:], stdout=None, stderr=None)
        while runner.poll() is None:
            if signal.sigwait({*_STOPS, signal.SIGCHLD}) != signal.SIGCHLD:
                runner.terminate()
                runner.wait()
                return
        if runner.returncode == 0:
            return
        wait_s = FIRST_S if time.monotonic() - started > UP_S else wait_s
        if signal.sigtimedwait(_STOPS, wait_s) is not None:
            return
        wait_s = min(2 * wait_s, LONGEST_S)


if __name__ == "__main__":
    main()
