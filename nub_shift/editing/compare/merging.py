"""Merging of edits from here into a file that was changed elsewhere, with conflicts identified."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce

from nub_shift.editing.compare.differences import Difference, Place, differences, overlap
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.profile import Profile


@dataclass(frozen=True)
class Step:
    """One edit made here.

    Attributes:
        label: label of the edit.
        before, after: profile before and after.
    """

    label: str
    before: Profile
    after: Profile


@dataclass(frozen=True)
class Merge:
    """Result of a merge.

    Attributes:
        steps: by label, the changes of each edit at undisputed places.
        disputed: places changed both here and elsewhere.
    """

    steps: tuple[tuple[str, tuple[Difference, ...]], ...]
    disputed: frozenset[Place]

    def contradictions(self, stands: Profile, mine: Profile, layout: Layout) -> tuple[Difference, ...]:
        """Returns the differences at the disputed places, from the file's values to those from here."""
        found = differences(stands, mine, layout) if self.disputed else []
        return tuple(one for one in found if any(overlap(one.place, place) for place in self.disputed))


def merge(theirs: Profile, written: tuple[Step, ...], unwritten: tuple[Step, ...], layout: Layout) -> Merge:
    """Returns the edits to apply to the new text.

    Unwritten edits were made without knowledge of the new text. Written edits may have been overwritten by an editor
    that was opened before them. Such an editor was opened at the state nearest to its text; of two equally near states,
    the earlier one is assumed, since a later edit of the same place cannot be told from one that knew nothing of ours.
    A text exactly equal to an earlier state was restored on purpose.

    Args:
        written: the last edits in the file, in order; empty for a change by another window, which reads before it
            writes.
        unwritten: edits not yet in the file.
    """
    distances = [len(differences(step.before, theirs, layout)) for step in written]
    if written:
        distances.append(len(differences(written[-1].after, theirs, layout)))
    nearest = min(distances, default=0)
    overwritten = written[distances.index(nearest) :] if nearest else ()
    again = (*overwritten, *unwritten)
    if not again:
        return Merge((), frozenset())
    touched = [found.place for found in differences(again[0].before, theirs, layout)]
    steps, disputed = [], set()
    for step in again:
        found = differences(step.before, step.after, layout)
        both = [one.place for one in found if any(overlap(one.place, place) for place in touched)]
        disputed.update(both)
        steps.append((step.label, tuple(one for one in found if one.place not in both)))
    return Merge(tuple(steps), frozenset(disputed))


def apply_differences(profile: Profile, found: Iterable[Difference]) -> Profile:
    """Returns the profile with these differences copied over."""
    return reduce(lambda made, one: one.copy_over(made), found, profile)
