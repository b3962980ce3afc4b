"""A profile as one pad plays it: what is edited there is what that pad changes, and all other pads stay as they are."""

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
from nub_shift.model.profile.schema_types import said_by


def with_pad_feel(profile: Profile, seen: Profile, identity: str, name: str) -> Profile:
    """The profile that looks like `seen` on the pad of that identity; its feel stays as it is for all others.

    What is none for this pad alone cannot be said in a file, and is as it is for the others.
    """
    change = _difference(profile.feel, seen.feel)
    pads = {pad.identity: pad for pad in profile.pads}
    if change:
        pads[identity] = PadFeel(identity, name, msgspec.convert(change, FeelChange))
    else:
        pads.pop(identity, None)
    return replace(seen, feel=profile.feel, pads=tuple(pads.values()))


def without_pad_feel(profile: Profile, identity: str, control: str) -> Profile:
    """The profile whose control is the same on the pad of that identity as on all others."""
    pads = [
        replace(pad, feel=replace(pad.feel, **{control: msgspec.UNSET})) if pad.identity == identity else pad
        for pad in profile.pads
    ]
    return replace(profile, pads=tuple(pad for pad in pads if pad.feel != FeelChange()))


class PadView:
    """A document, as all pads play its profile or as one does.

    Attributes:
        identity, name: of that pad's card, and what it is called; empty while all pads are meant.
    """

    def __init__(self, document: Document) -> None:
        self.identity = self.name = ""
        self._document = document
        self._seen: tuple[Profile, str, Profile] | None = None  # of what, for which pad, and as that plays it

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
        """The profile as played on other pads, if one pad is meant."""
        return self._document.profile if self.identity else None

    @property
    def path(self) -> Path:
        """Of its file."""
        return self._document.path

    @property
    def text(self) -> str:
        """Its text in the file's form."""
        return self._document.text

    @property
    def layout(self) -> LayoutSource:
        """Returns the keyboard layout."""
        return self._document.layout

    def edit(self, label: str, change: Edit) -> bool:
        """Edits what is seen here; returns whether that was done."""
        if not self.identity:
            return self._document.edit(label, change)
        identity, name = self.identity, self.name

        def on_pad(profile: Profile) -> Profile:
            return with_pad_feel(profile, change(profile.on_pad([identity])), identity, name)

        return self._document.edit(f"{name}: {label}" if self._is_own(change) else label, on_pad)

    def _is_own(self, change: Edit) -> bool:
        """Whether it changes what this pad has for itself, and not what all of them have."""
        try:
            return change(self.profile).feel != self.profile.feel
        except ValueError:  # the document says what is wrong with it
            return True

    def whole(self, seen: Profile) -> Profile:
        """Returns the document's profile that would show a profile here."""
        return with_pad_feel(self._document.profile, seen, self.identity, self.name) if self.identity else seen

    def changes(self, control: str) -> bool:
        """Whether this pad has something of a control for itself."""
        whole = self._document.profile
        return any(
            pad.identity == self.identity and getattr(pad.feel, control) is not msgspec.UNSET for pad in whole.pads
        )

    def give_back(self, label: str, control: str) -> bool:
        """Has this pad play a control as all others do; returns whether that was done."""
        edit = partial(without_pad_feel, identity=self.identity, control=control)
        return self._document.edit(f"{self.name}: {label}", edit)


def _difference(one: Feel, other: Feel) -> dict[str, Any]:
    return _tree_difference(said_by(one), said_by(other))


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
