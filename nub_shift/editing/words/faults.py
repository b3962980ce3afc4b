"""Reasons for a refused edit, in the window's words."""

from __future__ import annotations

from nub_shift.editing.words.labels import layer_words
from nub_shift.model.controls import CONTROL_OF_SLOT, slot_label
from nub_shift.model.problems import Problem
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr

_LISTS = ("moves", "sequences", "carousels", "rings", "layers")


def fault_words(profile: Profile, problem: Problem) -> str:
    """Returns a problem of the edited profile in words, with its place by name, or by path without a name."""
    place = _place(profile, problem.path)
    return f"{place}: {problem.wrong}" if place else f"{problem.path}: {problem.wrong}, {problem.right}"


def _place(profile: Profile, path: str) -> str:
    """Returns the place as "South, in Base", or "Jump"; empty for a place without a name."""
    kind, _, rest = path.partition(".")
    name, _, inside_of = rest.partition(".")
    if kind not in _LISTS:
        return ""
    named = next((found.label for found in getattr(profile, kind) if found.id == name), "")
    if kind != "layers" or not named:
        return named
    parts = inside_of.removeprefix("slots.").split(".") if inside_of.startswith("slots.") else []
    slots = [".".join(parts[:count]) for count in (2, 1)]
    slot = next((slot for slot in slots if slot in CONTROL_OF_SLOT), "")
    if not slot:
        return layer_words(named)
    return tr("{slot}, in {layer}", slot=slot_label(slot), layer=named)
