"""Report about this machine for a request for help."""

from __future__ import annotations

import platform

from nub_shift import VERSION
from nub_shift.compiled import kind
from nub_shift.editing.words.messages import found_words
from nub_shift.tasks.diagnostics import diagnose
from nub_shift.translation import tr


def report() -> str:
    """Returns version, system and the results of all checks, a line each."""
    lines = [f"Nub Shift {VERSION} ({kind()})", platform.platform(), f"Python {platform.python_version()}"]
    for check in diagnose():
        lines.append(f"{(tr('fine') if check.good else tr('not fine'))}: {check.name}: {found_words(check.found)}")
    return "\n".join(lines)
