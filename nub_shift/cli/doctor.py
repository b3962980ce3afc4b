"""`nub-shift doctor`: missing requirements of play, with remedies."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import click
from rich.console import Console
from rich.text import Text

from nub_shift.cli.as_json import print_json
from nub_shift.editing.words.messages import found_words
from nub_shift.model.plain_text import plain_text
from nub_shift.tasks.diagnostics import (
    KEYS_BY_KERNEL,
    RAW_RULE,
    RAW_RULE_PATH,
    READING,
    RULE,
    RULE_PATH,
    diagnose,
)
from nub_shift.tasks.session_checks import KEYS_BY_X_SERVER, Check
from nub_shift.translation import tr


def show_checks(as_json: bool) -> bool:
    """Prints every check; returns whether keys can be sent and pads can be read."""
    checks = diagnose()
    if as_json:
        print_json(
            [
                {"name": one.name, "good": one.good, "found": found_words(one.found), "remedy": one.remedy}
                for one in checks
            ]
        )
        return _playable(checks)
    console = Console(highlight=False, soft_wrap=True)
    for check in checks:
        mark, colour = (
            (tr("fine"), "green")
            if check.good
            else (tr("fix"), "yellow")
            if check.remedy
            else (tr("missing"), "yellow")
        )
        line = Text(f"{mark + ':':<9}", style=colour)
        console.print(line.append(plain_text(f"{check.name}: {found_words(check.found)}"), style="default"))
        if check.remedy:
            console.print(Text(f"{'':9}{check.remedy}"))
    return _playable(checks)


def install_rule(assume_yes: bool) -> int:
    """Shows the udev rule and installs it with the person's consent; returns an exit status."""
    click.echo(tr("This goes into {path}, so that you need no further permission:\n", path=RULE_PATH))
    after = tr("If devices are still closed, log in again.")
    return _install(RULE_PATH, RULE, after, assume_yes)


def close_raw(assume_yes: bool) -> int:
    """Likewise for the rule that keeps programs from the raw reports of pads."""
    click.echo(tr("This goes into {path}, so that no program reads pads past Nub Shift:\n", path=RAW_RULE_PATH))
    after = tr("Plug pads in again. To take it back: sudo rm {path}", path=RAW_RULE_PATH)
    return _install(RAW_RULE_PATH, RAW_RULE, after, assume_yes)


def _install(path: Path, rule: str, after: str, assume_yes: bool) -> int:
    click.echo(rule)
    if path.exists() and path.read_text() == rule:
        click.echo(tr("It is there already. {after}", after=after))
        return 0
    if not assume_yes and not click.confirm(tr("Install it?")):
        return 1
    become = [] if os.getuid() == 0 else ["sudo"]
    try:
        tee = [*become, "tee", str(path)]
        subprocess.run(tee, input=rule, text=True, stdout=subprocess.DEVNULL, check=True)
    except (OSError, subprocess.CalledProcessError):
        click.echo(
            tr("nub-shift: {path} could not be written; put the lines above there yourself", path=path), err=True
        )
        return 1
    for command in (["modprobe", "uinput"], ["udevadm", "control", "--reload"], ["udevadm", "trigger"]):
        try:
            subprocess.run([*become, *command], check=False)
        except OSError:
            click.echo(tr("{command} is not here; a restart does the same", command=command[0]))
    click.echo(tr("Installed. {after}", after=after))
    return 0


def _playable(checks: list[Check]) -> bool:
    good = {check.name for check in checks if check.good}
    return READING in good and not good.isdisjoint({KEYS_BY_KERNEL, KEYS_BY_X_SERVER})
