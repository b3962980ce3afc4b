"""What commands print for other programs."""

from __future__ import annotations

import click
import msgspec


def print_json(told: object) -> None:
    """Prints a value as JSON that a person can read, too."""
    click.echo(msgspec.json.format(msgspec.json.encode(told), indent=2).decode())
