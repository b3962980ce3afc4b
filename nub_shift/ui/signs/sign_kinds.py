"""Signs for a change of state, without a window."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from nub_shift.editing.words.effects import effect_label
from nub_shift.editing.words.labels import action_label
from nub_shift.editing.words.slot_views import LayerMark, layer_mark
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import slot_label
from nub_shift.model.profile.actions import Manner
from nub_shift.model.profile.listed import Carousel, Ring
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import LOW_BATTERY, SignKind
from nub_shift.protocol.messages import SeatSigns, SignsNews
from nub_shift.translation import tr

_TOGGLES = (Manner.TOGGLE, Manner.TOGGLE_TURBO, Manner.LOCK)


# Rumble pattern of each kind, for activation and deactivation: run and rest in milliseconds.
PATTERNS: Final[dict[SignKind, tuple[tuple[int, ...], tuple[int, ...]]]] = {
    SignKind.LAYER: ((50,), (25, 60, 25)),
    SignKind.PROFILE: ((120, 80, 120), (120, 80, 120)),
    SignKind.LIVE: ((250,), (250, 100, 250)),
    SignKind.TOGGLE: ((90,), (40, 60, 40)),
    SignKind.CAROUSEL: ((25,), (25,)),
    SignKind.PACE: ((40,), (40,)),
    SignKind.BATTERY: ((80, 80, 80, 80, 80), (80, 80, 80, 80, 80)),
    SignKind.PAD: ((60,), (60,)),
}


@dataclass(frozen=True)
class Sign:
    """A short line on the screen.

    Attributes:
        player: number of the seat, from 0.
        mark: mark of its layer.
        on: whether something was activated, as opposed to deactivated.
        before, after: neighbours in a list.
    """

    kind: SignKind
    player: int
    text: str
    mark: LayerMark | None = None
    on: bool = True
    before: str = ""
    after: str = ""


def signs(
    was: SignsNews | None, now: SignsNews, had: Mapping[int, Profile], profiles: Mapping[int, Profile], layout: Layout
) -> list[Sign]:
    """Returns the signs of a change. `had` and `profiles` are the former and the present profile of each seat.

    In rehearsal only the reason for sending nothing is shown. The first packet shows the profile in play.
    """
    if now.away or (was is not None and was.away):
        return []  # hidden above a locked screen; earlier signs reappear afterwards
    if was is None:
        begun = [Sign(SignKind.PROFILE, seat, profile.title) for seat, profile in profiles.items() if now.live]
        begun += _rehearsal_reason((), now.seats, profiles)
        return [sign for sign in begun if sign.kind not in profiles[sign.player].signs.silent]
    if was.live is not now.live and not now.live and now.wanted:
        return []  # a window of ours in front shows that itself
    if was.live is not now.live:
        words = tr("Live") if now.live else tr("Everything stopped") if now.halted else tr("Rehearsal")
        quiet = 0 not in profiles or (SignKind.LIVE in profiles[0].signs.silent and not now.halted)
        return [] if quiet else [Sign(SignKind.LIVE, 0, words, on=now.live)]
    if not now.live:
        return _rehearsal_reason(was.seats, now.seats, profiles)
    found: list[Sign] = []
    for seat, (before, after) in enumerate(zip(was.seats, now.seats, strict=False)):
        if seat in had and had[seat].title != profiles[seat].title:
            found.append(Sign(SignKind.PROFILE, seat, profiles[seat].title))
        else:
            found += _of_seat(seat, before, after, profiles[seat], layout)
    return [sign for sign in found if sign.kind not in profiles[sign.player].signs.silent]


def _rehearsal_reason(
    was: Sequence[SeatSigns], now: Sequence[SeatSigns], profiles: Mapping[int, Profile]
) -> list[Sign]:
    """Returns the reason why the game gets nothing: the one sign of rehearsal, once per reason."""
    words = tr("Rehearsal: the game gets nothing. Live is in the pad's menu.")
    return [
        Sign(SignKind.LIVE, number, words, on=False)
        for number, seat in enumerate(now)
        if seat.rehearsed_press
        and not (number < len(was) and was[number].rehearsed_press)
        and number in profiles
        and SignKind.LIVE not in profiles[number].signs.silent
    ]


def _of_seat(seat: int, before: SeatSigns, after: SeatSigns, profile: Profile, layout: Layout) -> Iterator[Sign]:
    if before.pad != after.pad:
        gone = not after.pad
        name = before.pad if gone else after.pad
        yield Sign(
            SignKind.PAD,
            seat,
            tr("{name} is gone", name=name) if gone else tr("{name} is here", name=name),
            on=not gone,
        )
    if before.paused is not after.paused:
        yield Sign(SignKind.LIVE, seat, tr("Paused") if after.paused else tr("Playing"), on=not after.paused)
        return
    yield from _layers(seat, before.layers, after.layers, profile)
    for slot in set(before.toggles) ^ set(after.toggles):
        on = slot in after.toggles
        words = toggle_words(profile, slot, layout)
        yield Sign(
            SignKind.TOGGLE, seat, tr("{words}: on", words=words) if on else tr("{words}: off", words=words), on=on
        )
    for carousel in profile.carousels:
        place = after.carousels.get(carousel.id)
        if place is not None and place != before.carousels.get(carousel.id, place):
            yield _carousel_sign(seat, profile, carousel, place, layout)
    if before.pace != after.pace:
        yield Sign(SignKind.PACE, seat, tr("Look speed {pace:g} %", pace=after.pace * 100), on=after.pace != 1.0)
    if 0 <= after.battery <= LOW_BATTERY < (before.battery if before.battery >= 0 else 100):
        yield Sign(SignKind.BATTERY, seat, tr("Battery {battery} %", battery=after.battery), on=False)


def _layers(seat: int, before: tuple[str, ...], after: tuple[str, ...], profile: Profile) -> Iterator[Sign]:
    """Yields the activated layer; if there is none, the deactivated one."""
    came = [layer for layer in after if layer not in before]
    went = [layer for layer in before if layer not in after]
    for layer_id in (came or went)[-1:]:
        layer = profile.layer(layer_id)
        if layer is not None and not layer.silent:
            words = layer.label if came else tr("{layer} off", layer=layer.label)
            yield Sign(SignKind.LAYER, seat, words, layer_mark(profile, layer_id), on=bool(came))


def _carousel_sign(seat: int, profile: Profile, carousel: Carousel, place: int, layout: Layout) -> Sign:
    words = [action_label(profile, entry, layout) for entry in carousel.entries]
    count = len(words)
    place = min(place, count - 1)
    before = words[place - 1] if count > 1 and (carousel.wrap or place) else ""
    after = words[(place + 1) % count] if count > 1 and (carousel.wrap or place + 1 < count) else ""
    if count == 2:  # both directions lead to the other one
        before = ""
    return Sign(SignKind.CAROUSEL, seat, words[place], before=before, after=after)


def toggle_words(profile: Profile, slot: str, layout: Layout) -> str:
    """Returns the action of a slot's toggle, as "Sprint"; the slot's name where the action is unknown."""
    for layer in profile.layers:
        assignment = layer.slots.get(slot)
        for action in (assignment, *assignment.reactions.values()) if assignment is not None else ():
            for part in action.parts:
                if part.manner in _TOGGLES and part.effect is not None:
                    return effect_label(profile, part.effect, layout)
    return slot_label(slot)


def ring_words(profile: Profile, ring: Ring, layout: Layout) -> list[str]:
    """Returns the names of a ring's entries."""
    return [entry.label or action_label(profile, entry, layout) for entry in ring.entries]


def badge_layers(profile: Profile, seat: SeatSigns) -> list[LayerMark]:
    """Returns the marks of active layers, except the base layer and silent ones."""
    layers = [profile.layer(layer_id) for layer_id in seat.layers[1:]]
    return [layer_mark(profile, layer.id) for layer in layers if layer is not None and not layer.silent]
