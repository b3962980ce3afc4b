"""`python -m nub_shift.cli.session_watch SOCKET`: reports events of the desktop session to the runner there.

Started by a runner. Not a command, since the process runs for months and the command library would be a good part of
its memory.
"""

from __future__ import annotations

import sys
from pathlib import Path

from nub_shift.cli.logs import note_fault, set_up_logging
from nub_shift.session_watch.app import watch_session

if __name__ == "__main__":
    set_up_logging(verbose=False)
    sys.excepthook = note_fault
    sys.exit(watch_session(Path(sys.argv[1])))
