"""`python -m nub_shift.cli.signs SOCKET [tray]`: shows the signs of the runner there.

Started by a runner. Not a command, since the process runs for months and the command library would take a fortieth of
its memory.
"""

from __future__ import annotations

import sys
from pathlib import Path

from nub_shift.cli.logs import note_fault, set_up_logging
from nub_shift.ui.signs.app import run_signs

if __name__ == "__main__":
    set_up_logging(verbose=False)
    socket, *wanted = sys.argv[1:]
    sys.exit(run_signs(Path(socket), "tray" in wanted, note_fault))
