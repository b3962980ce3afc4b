"""Reach of a profile: every key that it can press, every typed text, and keys with an effect outside of games."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator

from nub_shift.editing.words.keys.typed import ENTERS, keys_of, written
from nub_shift.keyboard.keys import modifiers_first
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.effects import PointerPosition, RequestProfile
from nub_shift.model.profile.listed import Sequence, StepAct
from nub_shift.model.profile.profile import Profile
from nub_shift.model.references.walk import actions_in, sent_keys, uses_in
from nub_shift.translation import tr

# A longer wait is reported, since the keys after it may act unobserved.
LONG_WAIT_MS = 1000

_SUPER = frozenset(("KEY_LEFTMETA", "KEY_RIGHTMETA"))
_ALT = frozenset(("KEY_LEFTALT", "KEY_RIGHTALT"))
_CTRL = frozenset(("KEY_LEFTCTRL", "KEY_RIGHTCTRL"))
_FUNCTION = frozenset(f"KEY_F{number}" for number in range(1, 25))
_LEAVES_WITH_ALT = frozenset(("KEY_TAB", "KEY_ESC", "KEY_SPACE", "KEY_SYSRQ")) | _FUNCTION
# Keys that the system handles in any combination.
_SYSTEM = frozenset(("KEY_SYSRQ", "KEY_POWER", "KEY_SLEEP", "KEY_SUSPEND", "KEY_WAKEUP", "KEY_COMPOSE"))

# The left key stands for both of a pair.
_SIDES = {f"KEY_RIGHT{name}": f"KEY_LEFT{name}" for name in ("SHIFT", "CTRL", "ALT", "META")}
# Combinations with which desktops close and switch windows, and open terminals and prompts.
_LEAVING_TOGETHER = tuple(
    frozenset(f"KEY_{name}" for name in names.split())
    for names in ("LEFTALT TAB", "LEFTALT F2", "LEFTALT F4", "LEFTCTRL LEFTALT T", "LEFTCTRL LEFTALT DELETE")
)
_PASTING = (frozenset(("KEY_LEFTCTRL", "KEY_V")), frozenset(("KEY_LEFTSHIFT", "KEY_INSERT")))

_SHOWN = {"\n": "⏎ (Enter)", "\t": "⇥ (Tab)"}


def combinations(profile: Profile) -> dict[tuple[str, ...], None]:
    """Returns all combinations of keys that the profile can press, in the order of the file."""
    found: dict[tuple[str, ...], None] = {}
    for _, action in actions_in(profile):
        found[sent_keys(profile, action)] = None
    for _, _, use in uses_in(profile):
        if isinstance(use, PointerPosition):
            found[use.hold or _keys_of(profile, use.hold_move)] = None
    for sequence in profile.sequences:
        found |= dict.fromkeys(_held_in(profile, sequence))
    found.pop((), None)
    return found


def can_leave_a_game(codes: tuple[str, ...]) -> bool:
    """Returns whether desktops or the system handle these keys."""
    held = frozenset(codes)
    alt = bool(held & _ALT)
    return bool(
        held & (_SUPER | _SYSTEM) or (alt and held & _LEAVES_WITH_ALT) or (alt and held & _CTRL and len(held) > 2)
    )


def plainly(text: str) -> str:
    """Returns a text letter by letter: invisible characters and changes of direction are named."""
    return "".join(_SHOWN.get(letter) or (letter if _seen(letter) else f"‹{_name(letter)}›") for letter in text)


def warnings(profile: Profile, layout: Layout) -> list[str]:
    """Returns warnings to read before the profile is played or kept."""
    found = [
        tr("{combination} can leave the game or reach the system", combination=layout.combination(codes))
        for codes in combinations(profile)
        if can_leave_a_game(codes)
    ]
    found += _together(profile, layout)
    texts = [(sequence.label, written(profile, sequence, layout)) for sequence in profile.sequences]
    texts += [(move.label, move.text) for move in profile.moves]
    for label, text in texts:
        if "\n" in text and text.strip("\n"):
            found.append(tr('{label} types text with Enter: "{words}"', label=label, words=plainly(text)))
    for sequence in profile.sequences:
        long = [step.wait_ms for step in sequence.steps if step.wait_ms is not None and step.wait_ms > LONG_WAIT_MS]
        if long:
            found.append(
                tr(
                    "{sequence} waits for {seconds:g} s, then goes on by itself",
                    sequence=sequence.label,
                    seconds=max(long) / 1000,
                )
            )
    requested = {
        action.effect.title: None for _, action in actions_in(profile) if isinstance(action.effect, RequestProfile)
    }
    found += [tr("It can switch to the profile {title}", title=plainly(title)) for title in requested]
    return found


def reach(profile: Profile, layout: Layout) -> list[str]:
    """Returns every key and every typed text."""
    keys = [layout.combination(codes) for codes in combinations(profile)]
    texts = [text for sequence in profile.sequences if len(text := written(profile, sequence, layout)) > 1]
    texts += [move.text for move in profile.moves if move.text]
    typed = [tr('Types "{words}"', words=plainly(text)) for text in dict.fromkeys(texts)]
    return [tr("Keys it can press: {keys}", keys=", ".join(keys) or tr("none")), *typed]


def _together(profile: Profile, layout: Layout) -> Iterator[str]:
    """Yields combinations that several controls send together, and none alone."""
    single = {frozenset(_SIDES.get(code, code) for code in codes) for codes in combinations(profile)}
    known = frozenset(code for codes in single for code in codes)
    for codes in _LEAVING_TOGETHER:
        if known.issuperset(codes) and not any(codes <= held for held in single):
            combination = layout.combination(modifiers_first(tuple(sorted(codes))))
            yield tr("{combination} can be pressed with several controls", combination=combination)
    pastes = [codes for codes in _PASTING if any(codes <= held for held in single)]
    if pastes and known & ENTERS:
        combination = layout.combination(modifiers_first(tuple(sorted(pastes[0]))))
        yield tr("It can paste with {combination}, and press Enter", combination=combination)


def _held_in(profile: Profile, sequence: Sequence) -> Iterator[tuple[str, ...]]:
    """Yields the keys that are down together in a sequence, at each press."""
    held: dict[str, None] = {}
    for step in sequence.steps:
        keys, act = keys_of(profile, step)
        if act is StepAct.RELEASE:
            for code in keys:
                held.pop(code, None)
        elif keys:
            yield tuple(held | dict.fromkeys(keys))
            if act is StepAct.PRESS:
                held |= dict.fromkeys(keys)


def _keys_of(profile: Profile, move_id: str | None) -> tuple[str, ...]:
    move = profile.move(move_id) if move_id is not None else None
    return move.keys if move is not None else ()


def _seen(letter: str) -> bool:
    return letter == " " or (letter.isprintable() and not unicodedata.category(letter).startswith(("M", "Z")))


def _name(letter: str) -> str:
    return unicodedata.name(letter, f"U+{ord(letter):04X}").lower()
