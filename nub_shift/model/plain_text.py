"""Text of files, pads, clients and the system as it is shown to a person; it can do nothing to a terminal."""

from __future__ import annotations

from nub_shift.translation import inside


def plain_text(text: str, kept: str = "") -> str:
    """The text with what cannot be seen, escape codes say, written as Python writes it; `kept` stays as it is."""
    return "".join(letter if letter.isprintable() or letter in kept else repr(letter)[1:-1] for letter in text)


def system_fault(error: OSError) -> str:
    """Returns the system's reason for an error, in lower case for use within a sentence: "no space left on device"."""
    return inside(error.strerror or str(error))
