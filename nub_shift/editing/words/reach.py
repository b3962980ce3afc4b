"""How far a profile reaches: every key that it can press, all that it types, and what of that can leave a game."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator

from nub_shift.keyboard.layout import Layout
from nub_shift.model.effects import AskForProfile, PointerPosition
from nub_shift.model.listed import Sequence, SequenceStep, StepAct
from nub_shift.model.profile import Profile
from nub_shift.model.walk import actions_in, sent_input, uses_in
from nub_shift.translation import tr

# A wait that is longer than this is told: it may act when nobody looks any more.
LONG_WAIT_MS = 1000

_SUPER = frozenset(("KEY_LEFTMETA", "KEY_RIGHTMETA"))
_ALT = frozenset(("KEY_LEFTALT", "KEY_RIGHTALT"))
_CTRL = frozenset(("KEY_LEFTCTRL", "KEY_RIGHTCTRL"))
_FUNCTION = frozenset(f"KEY_F{number}" for number in range(1, 25))
_LEAVES_WITH_ALT = frozenset(("KEY_TAB", "KEY_ESC", "KEY_SPACE", "KEY_SYSRQ")) | _FUNCTION
# Keys that the system takes for itself, whatever is held with them.
_SYSTEM = frozenset(("KEY_SYSRQ", "KEY_POWER", "KEY_SLEEP", "KEY_SUSPEND", "KEY_WAKEUP", "KEY_COMPOSE"))

_SHOWN = {"\n": "⏎ (Enter)", "\t": "⇥ (Tab)"}


def combinations(profile: Profile) -> dict[tuple[str, ...], None]:
    """All keys that the profile can press, those that are down together as one, in the order of the file."""
    found: dict[tuple[str, ...], None] = {}
    for _, action in actions_in(profile):
        keys, _wheel = sent_input(profile, action)
        found[keys] = None
    for _, _, use in uses_in(profile):
        if isinstance(use, PointerPosition):
            found[use.hold or _keys_of(profile, use.hold_move)] = None
    for sequence in profile.sequences:
        found |= dict.fromkeys(_held_in(profile, sequence))
    found.pop((), None)
    return found


def can_leave_a_game(codes: tuple[str, ...]) -> bool:
    """Whether desktops and the system act on these keys, so that they do more than a game."""
    held = frozenset(codes)
    alt = bool(held & _ALT)
    return bool(
        held & (_SUPER | _SYSTEM) or (alt and held & _LEAVES_WITH_ALT) or (alt and held & _CTRL and len(held) > 2)
    )


def plainly(text: str) -> str:
    """A text letter for letter: what cannot be seen, or changes the direction of what follows, has a name."""
    return "".join(_SHOWN.get(letter) or (letter if _seen(letter) else f"‹{_name(letter)}›") for letter in text)


def warnings(profile: Profile, layout: Layout) -> list[str]:
    """What a person should look at before they play or keep the profile."""
    found = [
        tr("{combination} can leave the game or reach the system", combination=layout.combination(codes))
        for codes in combinations(profile)
        if can_leave_a_game(codes)
    ]
    for sequence in profile.sequences:
        entered = [plainly(text) for text in _typed(sequence) if "\n" in text]
        found += [
            tr('{sequence} types text with Enter: "{words}"', sequence=sequence.label, words=text) for text in entered
        ]
        long = [step.wait_ms for step in sequence.steps if step.wait_ms is not None and step.wait_ms > LONG_WAIT_MS]
        if long:
            found.append(
                tr(
                    "{sequence} waits for {seconds:g} s, then goes on by itself",
                    sequence=sequence.label,
                    seconds=max(long) / 1000,
                )
            )
    asked = {action.effect.title: None for _, action in actions_in(profile) if isinstance(action.effect, AskForProfile)}
    found += [tr("It can switch to the profile {title}", title=plainly(title)) for title in asked]
    return found


def reach(profile: Profile, layout: Layout) -> list[str]:
    """Every key, and all that is typed."""
    keys = [layout.combination(codes) for codes in combinations(profile)]
    typed = [tr('Types "{words}"', words=plainly(text)) for sequence in profile.sequences for text in _typed(sequence)]
    return [tr("Keys it can press: {keys}", keys=", ".join(keys) or tr("none")), *typed]


def _typed(sequence: Sequence) -> Iterator[str]:
    return (step.text for step in sequence.steps if step.text)


def _held_in(profile: Profile, sequence: Sequence) -> Iterator[tuple[str, ...]]:
    """What is down together in the course of a sequence, each time that something goes down."""
    held: dict[str, None] = {}
    for step in sequence.steps:
        keys, act = _sent_by(profile, step)
        if act is StepAct.RELEASE:
            for code in keys:
                held.pop(code, None)
        elif keys:
            yield tuple(held | dict.fromkeys(keys))
            if act is StepAct.PRESS:
                held |= dict.fromkeys(keys)


def _sent_by(profile: Profile, step: SequenceStep) -> tuple[tuple[str, ...], StepAct]:
    if step.move is not None:
        return _keys_of(profile, step.move), step.act
    for act in StepAct:
        keys: tuple[str, ...] = getattr(step, act.value)
        if keys:
            return keys, act
    return (), StepAct.TAP


def _keys_of(profile: Profile, move_id: str | None) -> tuple[str, ...]:
    move = profile.move(move_id) if move_id is not None else None
    return move.keys if move is not None else ()


def _seen(letter: str) -> bool:
    return letter == " " or (letter.isprintable() and not unicodedata.category(letter).startswith(("M", "Z")))


def _name(letter: str) -> str:
    return unicodedata.name(letter, f"U+{ord(letter):04X}").lower()
