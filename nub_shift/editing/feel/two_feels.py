"""Two versions of one control's feel, to be compared by trying them in turn."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import bind, change_layer
from nub_shift.model.profile.effects import PointerSpeed, StickUse
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.references.assignments import shown_assignment
from nub_shift.translation import number_text, tr

LETTERS = ("A", "B")


def use_of(profile: Profile, layer_id: str, control: str) -> StickUse | None:
    """Returns the use of a whole stick or surface while a layer is active."""
    assignment = shown_assignment(profile, layer_id, control)
    return assignment.use if assignment is not None else None


def copy_feel(now: Profile, source: Profile, layer_id: str, control: str) -> Profile:
    """Returns the profile with the feel and pointer speed of a control from another profile's layer."""
    before, layer = source.layer(layer_id), now.layer(layer_id)
    if before is None or layer is None:
        return now
    if layer_id == BASE_LAYER:
        now = replace(now, feel=replace(now.feel, **{control: getattr(source.feel, control)}))
    else:
        feel = replace(layer.feel, **{control: getattr(before.feel, control)})
        now = change_layer(now, layer_id, feel=feel)
    if isinstance(use_of(now, layer_id, control), PointerSpeed) and control in before.slots:
        now = bind(now, layer_id, control, before.slots[control])
    return now


def difference_words(one: Profile, other: Profile, layer_id: str, control: str) -> list[str]:
    """Returns the differences between two feels of a control, such as "Dead zone 0.1 → 0.16"."""
    before, after = (feel_edits.settings(profile, layer_id, control) for profile in (one, other))
    were = {setting.path: setting for setting in before}
    found = [
        f"{setting.label} {were[setting.path].shown if setting.path in were else tr('none')} → {setting.shown}"
        for setting in after
        if setting.path not in were or were[setting.path].text != setting.text
    ]
    speeds = [use_of(profile, layer_id, control) for profile in (one, other)]
    first, second = speeds
    if isinstance(first, PointerSpeed) and isinstance(second, PointerSpeed) and first != second:
        found.append(tr("{before} → {after} counts a second", before=_speed(first), after=_speed(second)))
    return found


def _speed(use: PointerSpeed) -> str:
    return f"{number_text(abs(use.x))} × {number_text(abs(use.y))}"


class TwoFeels:
    """Versions of the feel of one control in one layer: the one in the profile, and the stored one.

    Attributes:
        names: names given by the person, or empty.
        shown: index of the version in the profile: 0 or 1.
        other: a profile with the other version; None while there is one version alone.
    """

    def __init__(self) -> None:
        self.names = ["", ""]
        self.shown = 0
        self.other: Profile | None = None

    @property
    def labels(self) -> tuple[str, ...]:
        """Titles: the letter of each version, and its name if any."""
        return tuple(f"{letter}: {name}" if name else letter for letter, name in zip(LETTERS, self.names, strict=True))

    def change_over(self, now: Profile, layer_id: str, control: str) -> Profile:
        """Returns the profile with the other version, and stores the present one. The second version begins as a
        copy.
        """
        source = self.other if self.other is not None else now
        self.other = now
        self.shown = 1 - self.shown
        return copy_feel(now, source, layer_id, control)
