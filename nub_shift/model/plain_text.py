"""Escaping of foreign text before it reaches a person or a terminal."""

from __future__ import annotations

from nub_shift.translation import inside


def plain_text(text: str, kept: str = "") -> str:
    """Returns the text with invisible characters, such as escape codes, in Python's notation; `kept` stays
    unchanged.
    """
    return "".join(letter if letter.isprintable() or letter in kept else repr(letter)[1:-1] for letter in text)


def system_fault(error: OSError) -> str:
    """Returns the system's reason for an error, in lower case for use within a sentence: "no space left on device"."""
    return inside(error.strerror or str(error))
