"""Opening of each kind of output."""

from __future__ import annotations

import os
import sys
from typing import assert_never

from nub_shift.model.kinds import OutputKind
from nub_shift.outputs.output import OutputDevice


def is_x11_only(kind: OutputKind) -> bool:
    """Returns whether an output reaches only X11 programs in a session that has others too."""
    return kind is OutputKind.X11 and bool(os.environ.get("WAYLAND_DISPLAY"))


def open_output(kind: OutputKind, start_us: int) -> OutputDevice:
    """Opens an output; printed times count from `start_us`.

    Raises:
        OutputError: the output cannot be opened.
    """
    match kind:  # imported on demand: the runner has to start fast
        case OutputKind.UINPUT:
            from nub_shift.outputs.uinput import UInputOutput

            return UInputOutput()
        case OutputKind.X11:
            from nub_shift.outputs.x11 import X11Output

            return X11Output()
        case OutputKind.PRINT:
            from nub_shift.outputs.printing import PrintOutput

            return PrintOutput(sys.stdout.buffer, start_us)
        case _:
            assert_never(kind)
