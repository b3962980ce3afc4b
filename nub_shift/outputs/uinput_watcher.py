"""Releases the keys of a hanging runner on its virtual devices.

The kernel removes the devices of a dead runner, which releases all keys. A stopped runner keeps its devices and their
keys. This process has the same devices open and releases their keys. It dies with the runner in any state, since the
kernel keeps a device as long as any process has it open.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import sys
from typing import Final

from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.outputs.watcher import BEAT, DOWN, begin, report_ready, watch

_PR_SET_PDEATHSIG: Final = 1  # prctl(2)
_EV_SYN: Final = 0
_EV_KEY: Final = 1
_KEY_CODES: Final = range(1, 0x300)  # the kernel ignores missing keys and released keys


def main() -> None:
    """Runs the watcher; its arguments are the runner's process id and the descriptors of the devices."""
    begin()
    runner, *devices = map(int, sys.argv[1:])
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, int(signal.SIGKILL))
    if os.getppid() != runner:
        return  # the runner has died meanwhile
    held = False

    def come(flags: int, _number: int) -> None:
        nonlocal held
        held = flags == BEAT | DOWN

    def release() -> None:
        nonlocal held
        held = False
        for device in devices:
            with contextlib.suppress(OSError):  # the device has gone
                os.write(device, _ALL_UP)

    report_ready()
    watch(come, lambda: held, release)


_ALL_UP: Final = b"".join(INPUT_EVENT.pack(0, 0, _EV_KEY, code, 0) for code in _KEY_CODES) + INPUT_EVENT.pack(
    0, 0, _EV_SYN, 0, 0
)

if __name__ == "__main__":
    main()
