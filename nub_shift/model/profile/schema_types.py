"""What all parts of a profile have in common: their base, and the kinds of values in several of them."""

from __future__ import annotations

from typing import Annotated, Any

import msgspec
from msgspec import Meta

from nub_shift.translation import tr

Identifier = Annotated[
    str,
    Meta(
        pattern=r"^[a-z][a-z0-9_]{0,39}(?!\n)$", description=tr("a lower-case name of letters, digits and underscores")
    ),
]
# Lengths of a label, and of one on a ring's sector or above a list of moves.
MAX_LABEL = 60
MAX_SHORT_LABEL = 40
# Control characters, and those that cannot be seen or turn round what follows: nobody could tell what is written.
_HIDDEN = r"\x00-\x1f\x7f-\x9f\u00ad\u200b\u200e\u200f\u2028-\u202e\u2060-\u2069\ufeff"
ONE_LINE = rf"^[^{_HIDDEN}]*(?!\n)$"
_NOT_BLANK = rf"^[^{_HIDDEN}]*[^\x20{_HIDDEN}][^{_HIDDEN}]*(?!\n)$"
Label = Annotated[
    str,
    Meta(
        min_length=1,
        max_length=MAX_LABEL,
        pattern=_NOT_BLANK,
        description=tr("a text of 1 to {most} characters on one line, all of which can be seen", most=MAX_LABEL),
    ),
]
ShortLabel = Annotated[
    str,
    Meta(
        max_length=MAX_SHORT_LABEL,
        pattern=ONE_LINE,
        description=tr("a text of up to {most} characters on one line, all of which can be seen", most=MAX_SHORT_LABEL),
    ),
]
# Identity of a pad's card: bus, vendor, product, version, and a part that differs among pads of one kind.
Identity = Annotated[
    str, Meta(pattern="^[0-9a-z][0-9a-z-]{3,119}$", description=tr("lower-case letters, digits and dashes"))
]
KeyCodes = Annotated[tuple[str, ...], Meta(max_length=6, description=tr("a list of at most 6 kernel names of keys"))]
# Text that is typed letter by letter.
TypedText = Annotated[str, Meta(max_length=500, description=tr("a text of up to 500 characters"))]
Milliseconds = Annotated[int, Meta(ge=20, le=5000, description=tr("milliseconds, from 20 to 5000"))]
Counts = Annotated[float, Meta(ge=-20000.0, le=20000.0, description=tr("counts a second, from -20000 to 20000"))]


class Record(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Immutable, strict about unknown keys, short when written."""


def said_by(part: Record) -> dict[str, Any]:
    """All that a part says, defaults too: what a default is depends on the part that the part is in."""
    said = ((name, getattr(part, name)) for name in part.__struct_fields__)
    return {
        name: said_by(value) if isinstance(value, Record) else msgspec.to_builtins(value)
        for name, value in said
        if value is not msgspec.UNSET
    }
