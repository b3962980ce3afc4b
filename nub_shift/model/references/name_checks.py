"""Checks of names shared by several parts of a profile, each with a suggestion."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from difflib import get_close_matches

from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.controls import CONTROL_OF_SLOT, MOTION_SLOT, STICK_SLOTS
from nub_shift.model.problems import Problem
from nub_shift.translation import tr


def name_problems(path: str, noun: str, wanted: str, known: Iterable[str]) -> Iterator[Problem]:
    """Yields a fault unless a name is among the known ones."""
    if wanted not in known:
        yield Problem(path, tr("there is no {noun} {wanted!r}", noun=noun, wanted=wanted), suggestion(wanted, known))


def key_problems(path: str, codes: tuple[str, ...]) -> Iterator[Problem]:
    """Yields unknown and repeated keys."""
    for code in codes:
        if code not in KEY_BY_CODE:
            yield Problem(path, tr("there is no key {code!r}", code=code), key_suggestion(code))
    yield from (
        Problem(path, tr("{code!r} appears twice", code=code), tr("name each key once")) for code in duplicates(codes)
    )


def slot_problems(path: str, slots: Iterable[str]) -> Iterator[Problem]:
    """Yields unknown slots and slots that are not pressed, such as a whole stick or turning the pad."""
    for slot in slots:
        if slot not in CONTROL_OF_SLOT or slot in STICK_SLOTS or slot == MOTION_SLOT:
            yield Problem(path, tr("{slot!r} is no slot that is pressed", slot=slot), slot_suggestion(slot))


def typing_problems(path: str, text: str, layout: LayoutSource) -> Iterator[Problem]:
    """Yields characters of a text that the keyboard layout cannot type."""
    lacking = layout().untyped(text) if text else ""
    if lacking:
        wrong = tr("the keyboard layout {name} cannot type {lacking}", name=layout().name, lacking=" ".join(lacking))
        yield Problem(path, wrong, tr("leave those out"))


def duplicates(items: Iterable[str]) -> list[str]:
    """Returns the items that are repeated."""
    seen: set[str] = set()
    return [item for item in items if item in seen or seen.add(item)]  # type: ignore[func-returns-value]


def key_suggestion(name: str) -> str:
    """Returns the key probably meant, by its printed label or by its kernel name without the prefix."""
    bare = name.removeprefix("KEY_").removeprefix("BTN_").upper()
    for code, key in KEY_BY_CODE.items():
        if bare in (code.partition("_")[2], key.label.upper()):
            return tr("did you mean {code!r}?", code=code)
    return suggestion(name.upper(), KEY_BY_CODE)


def slot_suggestion(name: str) -> str:
    """Returns the slot probably meant, or a description of slot names."""
    close = get_close_matches(name, CONTROL_OF_SLOT, 1, 0.7)
    if close:
        return tr("did you mean {name!r}?", name=close[0])
    return tr('expected a place on the pad, as south, left_shoulder, right_trigger.light or "left_stick.up"')


def suggestion(name: str, known: Iterable[str]) -> str:
    """Returns the name probably meant, or some of the known ones."""
    names = list(known)
    close = get_close_matches(name, names, 1, 0.5)
    if close:
        return tr("did you mean {name!r}?", name=close[0])
    return (
        tr("expected one of {names}{which}", names=", ".join(names[:8]), which=" …" if len(names) > 8 else "")
        if names
        else tr("there is none yet")
    )
