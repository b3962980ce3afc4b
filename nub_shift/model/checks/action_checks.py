"""Checks of single actions: exactly one effect, a fitting manner, and no action without any outcome."""

from __future__ import annotations

from collections.abc import Iterator

from nub_shift.model.problems import Problem
from nub_shift.model.profile.actions import EFFECT_NAMES, ONLY_IN, Action, Manner
from nub_shift.model.profile.effects import CarouselStep, ChangePace, HoldLayer, NextLayer, PaceOf, StayOnLayer
from nub_shift.model.references.effect_facts import effect_problems, manners_of, needs_duration
from nub_shift.model.references.name_checks import slot_problems
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.translation import tr


def action_problems(path: str, action: Action, index: ProfileIndex) -> Iterator[Problem]:
    """Yields the faults of an action and of the actions that begin with it."""
    yield from _part_problems(path, action, index)
    for number, part in enumerate(action.also):
        place = f"{path}.also[{number}]"
        if part.also:
            yield Problem(f"{place}.also", tr("is inside an also"), tr("put it into the first list"))
        if part.silence:
            yield Problem(f"{place}.silence", tr("is beside something else"), tr("silence stands alone"))
        yield from _part_problems(place, part, index)
    if action.silence and action.also:
        yield Problem(f"{path}.also", tr("is beside silence"), tr("silence stands alone"))


def _part_problems(path: str, action: Action, index: ProfileIndex) -> Iterator[Problem]:
    effects = action.effects
    if len(effects) != 1:
        wrong = count_fault(effects_named(action))
        yield Problem(path, wrong, tr("give exactly one of {names}", names=", ".join(EFFECT_NAMES)))
        return
    (effect,) = effects
    if action.manner not in manners_of(effect, index):
        (name,) = effects_named(action)
        fit = tr(" or ").join(manner.value for manner in Manner if manner in manners_of(effect, index))
        yield Problem(
            f"{path}.manner",
            tr("{name} cannot be kept up as {manner}", name=name, manner=action.manner.value),
            tr("expected {fit}", fit=fit),
        )
    if action.manner is Manner.ONCE:
        yield from instant_problems(path, "once", action.parts[0], index)
    yield from effect_problems(path, effect, index)
    yield from _settings(path, action)


def _settings(path: str, action: Action) -> Iterator[Problem]:
    for name, manners in ONLY_IN.items():
        if getattr(action, name) and action.manner not in manners:
            fit = tr(" or ").join(manner.value for manner in Manner if manner in manners)
            yield Problem(
                f"{path}.{name}",
                tr("does nothing with manner {manner}", manner=action.manner.value),
                tr("expected {fit}", fit=fit),
            )
    yield from slot_problems(f"{path}.ended_by", action.ended_by)
    yield from slot_problems(f"{path}.while", action.while_)
    if action.light_hz is not None and action.light_hz > action.rate_hz:
        yield Problem(
            f"{path}.light_hz", tr("is above rate_hz"), tr("expected at most {rate_hz:g}", rate_hz=action.rate_hz)
        )
    if action.by_depth and not isinstance(action.effect, ChangePace):
        yield Problem(f"{path}.by_depth", tr("is for a pace"), tr("leave it out; scroll and glide go by depth anyway"))
    if action.pace_of is not PaceOf.ALL and not isinstance(action.effect, ChangePace):
        yield Problem(f"{path}.pace_of", tr("is for a pace"), tr("leave it out"))


def instant_problems(path: str, what: str, action: Action, index: ProfileIndex) -> Iterator[Problem]:
    """Rejects effects that need a held press (layer, pace, turbo) in reactions that end at once, unless they linger."""
    for part in action.parts:
        repeats = part.manner in (Manner.TURBO, Manner.PULSE)
        lasts = part.manner is not Manner.TOGGLE and any(needs_duration(effect, index) for effect in part.effects)
        if (repeats or lasts) and not part.linger_ms:
            right = tr('use stay, manner = "toggle", linger_ms, press or hold')
            yield Problem(path, tr("only lasts, but {what} is over at once", what=what), right)
            return


def changes_layers(action: Action, index: ProfileIndex) -> bool:
    """Returns whether the action, or an entry of a carousel that it steps, activates or ends layers."""
    for part in action.parts:
        match part.effect:
            case HoldLayer() | StayOnLayer() | NextLayer():
                return True
            case CarouselStep(wanted, _):
                carousel = index.carousels.get(wanted)
                entries = carousel.entries if carousel is not None else ()
                if any(changes_layers(entry, index) for entry in entries if not steps_carousel(entry)):
                    return True
            case _:
                pass
    return False


def steps_carousel(action: Action) -> bool:
    """Returns whether the action, or one that begins with it, is a step of a carousel."""
    return any(isinstance(effect, CarouselStep) for part in action.parts for effect in part.effects)


def effects_named(action: Action) -> list[str]:
    """Returns the names of the effects in an action."""
    return [name for name in EFFECT_NAMES if getattr(action, name) not in (None, (), "", False)]


def count_fault(names: list[str]) -> str:
    """Returns the fault of several names where one is allowed, or of none."""
    return tr("{names} stand together", names=tr(" and ").join(names)) if names else tr("says nothing")
