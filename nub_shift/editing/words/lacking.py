"""What a pad lacks of what a profile uses, in words."""

from __future__ import annotations

from collections.abc import Sequence

from nub_shift.advice.relocation import Displaced
from nub_shift.model.plain_text import inside

_NAMED = 2  # and then their number


def lacking_words(found: Sequence[Displaced]) -> str:
    """As "This pad has no right stick, right trigger and 2 more that the profile uses"; empty if it has all."""
    names = [inside(one.label) for one in found]
    if not names:
        return ""
    more = len(names) - _NAMED
    listed = f"{', '.join(names[:_NAMED])} and {more} more" if more > 0 else " or ".join(names)
    return f"This pad has no {listed} that the profile uses"
