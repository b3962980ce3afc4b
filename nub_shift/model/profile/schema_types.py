"""Common base of all parts of a profile, and shared value types."""

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
# Lengths of a label, and of a label on a ring's sector or above a list of moves.
MAX_LABEL = 60
MAX_SHORT_LABEL = 40
# Control characters, invisible characters, and those that reverse the following text.
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
    """Immutable struct that rejects unknown keys and omits defaults when written."""


def given_fields(part: Record) -> dict[str, Any]:
    """Returns all given fields of a part; defaults included where the default depends on the enclosing part."""
    said = ((name, getattr(part, name)) for name in part.__struct_fields__)
    return {
        name: given_fields(value) if isinstance(value, Record) else msgspec.to_builtins(value)
        for name, value in said
        if value is not msgspec.UNSET
    }
