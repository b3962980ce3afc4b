"""Free parts of a profile in words: unassigned moves, and unassigned controls by finger."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from nub_shift.model.controls import CONTROL_BY_NAME, FINGER_LABELS, Fingers, by_finger
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import inside, tr

# Longer lists of names are not read.
_MOST = 8


def fullness(
    profile: Profile, controls: Collection[str], fingers: Fingers, unassigned: Sequence[str]
) -> list[tuple[str, str]]:
    """Returns headings, each with a line; `unassigned` are the names of moves on none of the pad's `controls`."""
    used = {slot for layer in profile.layers for slot in layer.used_slots}
    free = {
        finger: [CONTROL_BY_NAME[name].label for name in names if used.isdisjoint(CONTROL_BY_NAME[name].slots)]
        for finger, names in by_finger(controls, fingers).items()
    }
    found = [
        f"{FINGER_LABELS[finger]}: {_listed([inside(label) for label in labels])}"
        for finger, labels in free.items()
        if labels
    ]
    moves = _listed(unassigned) if unassigned else tr("none: every move has its control")
    idle = "; ".join(found) if found else tr("none: every control is in use")
    lines = [(tr("Moves without a control"), moves)] if profile.moves else []
    return [*lines, (tr("Controls that do nothing"), idle)]


def _listed(names: Sequence[str]) -> str:
    more = len(names) - _MOST
    listed = ", ".join(names[:_MOST])
    return tr("{listed} and {more} more", listed=listed, more=more) if more > 0 else listed
