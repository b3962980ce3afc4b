"""Detection of the running game, in sessions that do not report the window in front."""

from __future__ import annotations

from collections.abc import Sequence

import psutil

from nub_shift.front.processes import program_of
from nub_shift.model.profile.activation import Front, Rule, fits


def by_program_alone(rules: Sequence[Rule]) -> list[Rule]:
    """Returns the rules without window and title, which a running program alone can match."""
    return [rule for rule in rules if rule.patterns and not rule.window and not rule.title]


def newest_running(rules: Sequence[Rule]) -> Front:
    """Returns the newest running program that matches a rule, in the form of a window; an empty one without any.

    Its number is that of its process.
    """
    wanted = by_program_alone(rules)
    if not wanted:
        return Front()
    found = psutil.process_iter(["pid", "create_time"])
    newest_first = sorted(found, key=lambda one: (one.info["create_time"] or 0.0, one.info["pid"]), reverse=True)
    for process in newest_first:
        names, path, arguments = program_of(process.info["pid"])
        front = Front(process.info["pid"], (), "", names, path, arguments, process.info["pid"])
        if any(fits(rule, front, max(rule.player, 1)) for rule in wanted):
            return front
    return Front()
