"""`python -m nub_shift.cli.signs SOCKET [tray]`: shows on the screen what the runner there tells.

A runner starts this by itself. It stays for months, so that it is no command: their library would be a fortieth of its
memory.
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
