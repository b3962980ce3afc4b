"""Releases what a runner that hangs holds down on its virtual devices.

When a runner dies the kernel removes its devices, and all keys go up. A runner that is stopped keeps them, and its keys
stay down. This process has the same devices open and lets everything up on them. It dies with the runner, whatever its
own state is, since the kernel keeps a device for as long as anybody has it open.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import sys
from typing import Final

from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.outputs.watcher import BEAT, DOWN, begin, say_ready, watch

_PR_SET_PDEATHSIG: Final = 1  # prctl(2)
_EV_SYN: Final = 0
_EV_KEY: Final = 1
_KEY_CODES: Final = range(1, 0x300)  # the kernel ignores those that a device lacks, and those that are up


def main() -> None:
    """The watcher's whole life: its words are the process id of the runner and the descriptors of the devices."""
    begin()
    runner, *devices = map(int, sys.argv[1:])
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, int(signal.SIGKILL))
    if os.getppid() != runner:
        return  # it has died meanwhile
    held = False

    def come(flags: int, _number: int) -> None:
        nonlocal held
        held = flags == BEAT | DOWN

    def release() -> None:
        nonlocal held
        held = False
        for device in devices:
            with contextlib.suppress(OSError):  # it has gone
                os.write(device, _ALL_UP)

    say_ready()
    watch(come, lambda: held, release)


_ALL_UP: Final = b"".join(INPUT_EVENT.pack(0, 0, _EV_KEY, code, 0) for code in _KEY_CODES) + INPUT_EVENT.pack(
    0, 0, _EV_SYN, 0, 0
)

if __name__ == "__main__":
    main()
