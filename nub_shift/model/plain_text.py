"""Text of files, pads and clients for a terminal: it must not be able to do anything there."""

from __future__ import annotations


def plain_text(text: str, kept: str = "") -> str:
    """The text with what cannot be seen, escape codes say, written as Python writes it; `kept` stays as it is."""
    return "".join(letter if letter.isprintable() or letter in kept else repr(letter)[1:-1] for letter in text)
