"""Frame rate of the game in words, with its effect on short presses and repeated ones."""

from __future__ import annotations

from nub_shift.advice.missed_presses import presses_seen
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.game import UNKNOWN_RATE_HZ, Game
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr


def rate_words(rate_hz: int | None) -> str:
    """Returns a frame rate as a choice."""
    if rate_hz is None:
        return tr("I do not know (counts as {rate})", rate=UNKNOWN_RATE_HZ)
    return tr("{rate} frames a second", rate=rate_hz)


def shortest_words(game: Game) -> str:
    """The duration of a short press, and of the pause after it."""
    if game.key_ms and game.gap_ms:
        return tr(
            "A short press holds its key for {key_ms} ms. The same key can go down again {gap_ms} ms later.",
            key_ms=game.key_ms,
            gap_ms=game.gap_ms,
        )
    if game.key_ms:
        return tr("A short press holds its key for {key_ms} ms.", key_ms=game.key_ms)
    return tr("A press shorter than {frame_ms} ms can be missed.", frame_ms=game.frame_ms)


def seen_words(profile: Profile, action: Action) -> str:
    """The presses a second that the game sees of a turbo; empty where it sees all of them, or no key is pressed."""
    seen = presses_seen(profile, action)
    return "" if seen is None else tr("the game sees about {seen}", seen=round(seen))
