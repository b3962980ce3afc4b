"""One file, written in two places: what was done here is done to what is there, and what both did is told apart."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce

from nub_shift.editing.compare.differences import Difference, Place, differences, overlap
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.profile import Profile


@dataclass(frozen=True)
class Step:
    """One edit that was made here.

    Attributes:
        label: what was done.
        before, after: the profile.
    """

    label: str
    before: Profile
    after: Profile


@dataclass(frozen=True)
class Merge:
    """Result for the edits from here after the file was changed elsewhere.

    Attributes:
        steps: by label, what each step changed at places that were left alone there.
        disputed: the places that were changed both here and there.
    """

    steps: tuple[tuple[str, tuple[Difference, ...]], ...]
    disputed: frozenset[Place]

    def contradictions(self, stands: Profile, mine: Profile, layout: Layout) -> tuple[Difference, ...]:
        """Returns the differences at the disputed places, from the file's values to those from here."""
        found = differences(stands, mine, layout) if self.disputed else []
        return tuple(one for one in found if any(overlap(one.place, place) for place in self.disputed))


def merge(theirs: Profile, written: tuple[Step, ...], unwritten: tuple[Step, ...], layout: Layout) -> Merge:
    """Returns the steps to apply again.

    Those that are not in the file yet were made without knowledge of what stands there now. Those that were in it may
    have been overwritten: an editor that was opened before them has saved its text. It was opened at the state that is
    nearest to what it says, the earlier of two that are as near, since nobody can tell a later edit of the same place
    from one that knew nothing of ours. What is exactly an earlier state was brought back on purpose.

    Args:
        written: the last steps that the file has had, in order; none if it was another window that wrote, since that
            looks before it writes.
        unwritten: those that it has not.
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


def copied_over(profile: Profile, found: Iterable[Difference]) -> Profile:
    """The profile with these differences copied over."""
    return reduce(lambda made, one: one.copy_over(made), found, profile)
