"""Presses of a turbo lost to a game that reads its keys once a frame."""

from __future__ import annotations

from nub_shift.model.profile.actions import TURBOS, Action
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.walk import sent_keys

# Share too small to notice.
_SLIGHT = 0.02


def presses_seen(profile: Profile, action: Action) -> float | None:
    """Returns the presses a second that the game sees of a turbo; None if the game sees all, or no key is repeated."""
    if action.manner not in TURBOS or not sent_keys(profile, action):
        return None
    seen = profile.game.presses_seen(action.rate_hz, action.duty)
    return seen if seen < action.rate_hz * (1 - _SLIGHT) else None
