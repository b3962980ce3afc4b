"""Common parts of commands: lines on standard error, exit status, shared options."""

from __future__ import annotations

import sys
from collections.abc import Callable
from contextlib import suppress
from math import isfinite
from typing import Any, NoReturn

import click

from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.messages import Code, Message, MessageError
from nub_shift.model.plain_text import plain_text, system_fault
from nub_shift.model.problems import ProfileError
from nub_shift.translation import tr

EXIT_FAULT = 1
# Hints for a missing pad; the window has a list of simulated pads instead.
_LACKING_PAD = (
    Code.NO_PAD_CONNECTED,
    Code.NO_OTHER_PAD_CONNECTED,
    Code.NO_PAD_NAMED,
    Code.NO_OTHER_PAD_NAMED,
)
PAD_KINDS = ", ".join(kind.value for kind in PadKind)


class Seconds(click.FloatRange):
    """A length of time: a finite number."""

    name = "seconds"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        """Converts as any number in a range; raises BadParameter likewise."""
        found = super().convert(value, param, ctx)
        if not isfinite(found):
            self.fail(tr("{value} is no length of time", value=value), param, ctx)
        return found


SECONDS = Seconds(min=0)
OUTPUTS = click.Choice([kind.value for kind in OutputKind])

json_option = click.option("--json", "as_json", is_flag=True, help=tr("As JSON, for other programs."))
look_option = click.option(
    "--look",
    type=click.Choice(["", "day", "night"]),
    default="",
    help=tr("Day or night; as the desktop is unless given."),
)

state_argument = click.argument("state", type=click.Choice(["on", "off", "status"]), default="status")


def switch(state: str, on: Callable[[], None], off: Callable[[], None], what: str) -> None:
    """Runs the function of a state; ends with the system's error about a file, or about `what`."""
    try:
        if state == "on":
            on()
        elif state == "off":
            off()
    except OSError as error:
        fail(f"{error.filename or what}: {system_fault(error)}")


def notify(line: str) -> None:
    with suppress(OSError, ValueError):  # no reader is left; play continues
        click.echo("nub-shift: " + plain_text(line, kept="\n"), err=True)


def fail_by_fault(fault: Exception) -> NoReturn:
    from nub_shift.cli.logs import note_fault

    fail(note_fault(type(fault), fault, fault.__traceback__))


def say(message: Message) -> None:
    """Prints a message of the runner."""
    from nub_shift.editing.words.messages import message_words

    why = message.values.get("why")
    lacks_pad = message.code in _LACKING_PAD or (isinstance(why, Message) and why.code in _LACKING_PAD)
    notify(message_words(message) + (tr(" (--pad simulated)") if lacks_pad else ""))


def give_up(error: MessageError | ProfileError) -> NoReturn:
    """Ends the command with an error's message."""
    if isinstance(error, MessageError):
        say(error.message)
    else:
        notify(str(error))
    sys.exit(EXIT_FAULT)


def fail(line: str) -> NoReturn:
    notify(line)
    sys.exit(EXIT_FAULT)
