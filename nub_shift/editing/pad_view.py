"""A view of the profile on one pad: edits become changes for this pad alone."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

import msgspec
from msgspec.structs import replace

from nub_shift.editing.document import Document, Edit
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.profile.feel import Feel, FeelChange
from nub_shift.model.profile.profile import PadFeel, Profile
from nub_shift.model.profile.schema_types import given_fields


def set_pad_feel(profile: Profile, seen: Profile, identity: str, name: str) -> Profile:
    """Returns the profile that equals `seen` on the pad of that identity, with the common feel unchanged.

    A None for this pad alone cannot be written in a file, and stays as for other pads.
    """
    change = _difference(profile.feel, seen.feel)
    pads = {pad.identity: pad for pad in profile.pads}
    if change:
        pads[identity] = PadFeel(identity, name, msgspec.convert(change, FeelChange))
    else:
        pads.pop(identity, None)
    return replace(seen, feel=profile.feel, pads=tuple(pads.values()))


def remove_pad_feel(profile: Profile, identity: str, control: str) -> Profile:
    """Returns the profile without that pad's changes of a control."""
    pads = [
        replace(pad, feel=replace(pad.feel, **{control: msgspec.UNSET})) if pad.identity == identity else pad
        for pad in profile.pads
    ]
    return replace(profile, pads=tuple(pad for pad in pads if pad.feel != FeelChange()))


class PadView:
    """A document viewed for all pads, or for one.

    Attributes:
        identity, name: identity of that pad's card, and its name; empty for all pads.
    """

    def __init__(self, document: Document) -> None:
        self.identity = self.name = ""
        self._document = document
        self._seen: tuple[Profile, str, Profile] | None = None  # cached: source, pad and result

    @property
    def profile(self) -> Profile:
        """The profile as played on the pad."""
        whole = self._document.profile
        if not self.identity:
            return whole
        if self._seen is None or self._seen[0] is not whole or self._seen[1] != self.identity:
            self._seen = whole, self.identity, whole.on_pad([self.identity])
        return self._seen[2]

    @property
    def for_all(self) -> Profile | None:
        """The profile as played on other pads, in the view of one pad."""
        return self._document.profile if self.identity else None

    @property
    def path(self) -> Path:
        """Path of the file."""
        return self._document.path

    @property
    def text(self) -> str:
        """Text of the profile in the file's form."""
        return self._document.text

    @property
    def layout(self) -> LayoutSource:
        """Returns the keyboard layout."""
        return self._document.layout

    def edit(self, label: str, change: Edit) -> bool:
        """Applies an edit to the view; returns whether it was applied."""
        if not self.identity:
            return self._document.edit(label, change)
        identity, name = self.identity, self.name

        def on_pad(profile: Profile) -> Profile:
            return set_pad_feel(profile, change(profile.on_pad([identity])), identity, name)

        return self._document.edit(f"{name}: {label}" if self._is_own(change) else label, on_pad)

    def _is_own(self, change: Edit) -> bool:
        """Returns whether the edit changes this pad's feel, and not the common part."""
        try:
            return change(self.profile).feel != self.profile.feel
        except ValueError:  # the document reports the fault
            return True

    def whole(self, seen: Profile) -> Profile:
        """Returns the document's profile whose view equals a profile."""
        return set_pad_feel(self._document.profile, seen, self.identity, self.name) if self.identity else seen

    def changes(self, control: str) -> bool:
        """Returns whether this pad has changes of a control."""
        whole = self._document.profile
        return any(
            pad.identity == self.identity and getattr(pad.feel, control) is not msgspec.UNSET for pad in whole.pads
        )

    def give_back(self, label: str, control: str) -> bool:
        """Removes this pad's changes of a control; returns whether it did."""
        edit = partial(remove_pad_feel, identity=self.identity, control=control)
        return self._document.edit(f"{self.name}: {label}", edit)


def _difference(one: Feel, other: Feel) -> dict[str, Any]:
    return _tree_difference(given_fields(one), given_fields(other))


def _tree_difference(one: dict[str, Any], other: dict[str, Any]) -> dict[str, Any]:
    """Returns the fields of the other that differ in the one."""
    found: dict[str, Any] = {}
    for key, value in other.items():
        before = one.get(key)
        if isinstance(value, dict) and isinstance(before, dict):
            below = _tree_difference(before, value)
            if below:
                found[key] = below
        elif value is not None and value != before:
            found[key] = value
    return found
