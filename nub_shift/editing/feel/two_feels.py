"""Two feels of one control, kept side by side and changed over: which of them is better is found by trying."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import bound, layer_changed
from nub_shift.model.profile.effects import PointerSpeed, StickUse
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.references.assignments import shown_assignment
from nub_shift.translation import number_text, tr

LETTERS = ("A", "B")


def use_of(profile: Profile, layer_id: str, control: str) -> StickUse | None:
    """Returns the use of a whole stick or surface while a layer is on."""
    assignment = shown_assignment(profile, layer_id, control)
    return assignment.use if assignment is not None else None


def with_feel_of(now: Profile, source: Profile, layer_id: str, control: str) -> Profile:
    """The profile with what another one's layer says of a control's feel, and of how fast it moves the pointer."""
    before, layer = source.layer(layer_id), now.layer(layer_id)
    if before is None or layer is None:
        return now
    if layer_id == BASE_LAYER:
        now = replace(now, feel=replace(now.feel, **{control: getattr(source.feel, control)}))
    else:
        feel = replace(layer.feel, **{control: getattr(before.feel, control)})
        now = layer_changed(now, layer_id, feel=feel)
    if isinstance(use_of(now, layer_id, control), PointerSpeed) and control in before.slots:
        now = bound(now, layer_id, control, before.slots[control])
    return now


def said_differences(one: Profile, other: Profile, layer_id: str, control: str) -> list[str]:
    """Returns the differences between two feels of a control, as "Dead zone 0.1 → 0.16"."""
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
    """The feels of one control in one layer of one profile: the one that the profile has, and the one that it has not.

    Attributes:
        names: what the person calls each, or empty.
        shown: the number of the one that the profile has: 0 or 1.
        other: a profile that has the other one; None as long as there is but one.
    """

    def __init__(self) -> None:
        self.names = ["", ""]
        self.shown = 0
        self.other: Profile | None = None

    @property
    def labels(self) -> tuple[str, ...]:
        """Returns the title of each: its letter, and its name if it has one."""
        return tuple(f"{letter}: {name}" if name else letter for letter, name in zip(LETTERS, self.names, strict=True))

    def change_over(self, now: Profile, layer_id: str, control: str) -> Profile:
        """The profile with the other feel; what it had is kept. A second one begins as the first."""
        source = self.other if self.other is not None else now
        self.other = now
        self.shown = 1 - self.shown
        return with_feel_of(now, source, layer_id, control)
