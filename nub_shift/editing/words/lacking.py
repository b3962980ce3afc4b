"""Controls that a profile uses and a pad lacks, in words."""

from __future__ import annotations

from collections.abc import Sequence

from nub_shift.advice.relocation import Displaced
from nub_shift.translation import inside, tr

_NAMED = 2  # further ones are counted


def lacking_words(found: Sequence[Displaced]) -> str:
    """Returns "This pad has no right stick and 2 more that the profile uses"; empty if none is lacking."""
    names = [inside(one.label) for one in found]
    if not names:
        return ""
    more = len(names) - _NAMED
    listed = (
        tr("{names} and {more} more", names=", ".join(names[:_NAMED]), more=more)
        if more > 0
        else tr(" or ").join(names)
    )
    return tr("This pad has no {listed} that the profile uses", listed=listed)
