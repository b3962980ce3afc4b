"""JSON output of commands."""

from __future__ import annotations

import click
import msgspec


def print_json(told: object) -> None:
    """Prints a value as indented JSON."""
    click.echo(msgspec.json.format(msgspec.json.encode(told), indent=2).decode())
