"""Recap of a session, in words."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from nub_shift.model.controls import slot_label
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.store.played import Recap
from nub_shift.translation import moment_text, tr, trn

# Longer lists of names are not read.
_MOST = 8


def session_words(recap: Recap) -> str:
    """Returns date and duration of a session."""
    began = datetime.fromtimestamp(recap.started).astimezone()
    return f"{moment_text(began)} · {duration_words(recap.seconds)}"


def duration_words(seconds: float) -> str:
    """Returns a time as "2 h 5 min", "12 min", "40 s"."""
    minutes = round(seconds / 60)
    if seconds < 60:
        return f"{round(seconds)} s"
    return (
        tr("{hours} h {minutes} min", hours=minutes // 60, minutes=minutes % 60)
        if minutes >= 60
        else tr("{minutes} min", minutes=minutes)
    )


def used_moves(profile: Profile, recap: Recap) -> list[tuple[str, int]]:
    """Returns the used moves of the profile, the most used first; moves removed since are omitted."""
    labels = {move.id: move.label for move in profile.moves}
    found = [(labels[move], times) for move, times in recap.moves.items() if move in labels]
    return sorted(found, key=lambda pair: (-pair[1], pair[0]))


def unused_moves(profile: Profile, recap: Recap) -> list[str]:
    """Returns the unused moves, without those that look around."""
    return [move.label for move in profile.moves if move.id not in recap.moves and not move.look]


def recap_lines(profile: Profile, recap: Recap) -> Iterator[str]:
    """Yields lines of a recap besides the count of each move."""
    unused = unused_moves(profile, recap)
    if unused:
        yield tr("Never used: {listed}", listed=_listed(unused))
    short = sorted(recap.short.items(), key=lambda pair: -pair[1])
    if short:
        named = [f"{slot_label(slot)} {times}" for slot, times in short]
        game, listed = profile.game, _listed(named)
        yield (
            tr(
                "Presses shorter than a frame ({ms} ms), made longer so that the game sees them: {listed}",
                ms=game.frame_ms,
                listed=listed,
            )
            if game.key_ms >= game.frame_ms
            else tr(
                "Presses shorter than a frame ({ms} ms), some of which the game may have missed: {listed}",
                ms=game.frame_ms,
                listed=listed,
            )
        )
    layers = {layer.id: layer.label for layer in profile.layers if layer.id != BASE_LAYER}
    came = [f"{label} {recap.layers[key]}" for key, label in layers.items() if recap.layers.get(key)]
    if came:
        yield tr("Layers came on: {listed}", listed=_listed(came))
    never = [label for key, label in layers.items() if not recap.layers.get(key)]
    if never:
        yield tr("Layers that never came on: {listed}", listed=_listed(never))
    if recap.pauses:
        yield tr("Paused {times}", times=_times(recap.pauses))
    if recap.losses:
        yield tr("The pad was lost {times}", times=_times(recap.losses))
    first, last = recap.battery
    if first >= 0 and last >= 0:
        yield tr("Battery: {first} % at the start, {last} % at the end", first=first, last=last)


def _times(count: int) -> str:
    return trn("once", "{count} times", count)


def _listed(names: list[str]) -> str:
    more = len(names) - _MOST
    return ", ".join(names[:_MOST]) + (tr(" and {more} more", more=more) if more > 0 else "")
