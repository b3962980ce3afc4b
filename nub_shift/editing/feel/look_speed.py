"""Speed of looking: in counts, in degrees if the full turn of the game is known, or as in another game."""

from __future__ import annotations

from msgspec.structs import replace

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.bindings import bind
from nub_shift.editing.feel.two_feels import use_of
from nub_shift.model.profile.effects import PointerSpeed
from nub_shift.model.profile.game import Game
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.reactions import Assignment

FASTEST = 20_000.0


def is_turn_known(profile: Profile) -> bool:
    """Returns whether the counts of a full turn have been set."""
    return profile.game.counts_per_turn != Game().counts_per_turn


def speed(profile: Profile, layer_id: str, control: str) -> PointerSpeed | None:
    """Returns the looking speed of a stick; None for one with another use."""
    use = use_of(profile, layer_id, control)
    return use if isinstance(use, PointerSpeed) else None


def degrees_a_count(profile: Profile) -> float:
    """Returns the degrees of the view for a count of the pointer."""
    return 360.0 / profile.game.counts_per_turn


def set_speed(profile: Profile, layer_id: str, control: str, across: float, down: float) -> Profile:
    """Returns the profile with another looking speed in counts a second; the sign of each axis stays."""
    now = speed(profile, layer_id, control)
    if now is None:
        return profile
    made = PointerSpeed(abs(across) * (-1 if now.x < 0 else 1), abs(down) * (-1 if now.y < 0 else 1))
    return bind(profile, layer_id, control, Assignment.of_use(made))


def set_turn(profile: Profile, counts: float) -> Profile:
    """Returns the profile with the counts of a full turn."""
    return replace(profile, game=replace(profile.game, counts_per_turn=counts))


def copy_from_game(profile: Profile, other: Profile, layer_id: str, control: str) -> Profile:
    """Returns the profile with the feel of a control in another game's base layer.

    Looking turns by as many degrees as there: the speed is scaled by the ratio of the games' full turns.
    """
    found = feel_edits.settings(other, BASE_LAYER, control)
    made = feel_edits.copy_settings(profile, layer_id, control, found)
    there = speed(other, BASE_LAYER, control)
    if there is None:
        return made
    factor = profile.game.counts_per_turn / other.game.counts_per_turn
    across, down = (min(round(abs(counts) * factor), FASTEST) for counts in (there.x, there.y))
    return set_speed(made, layer_id, control, across, down)
