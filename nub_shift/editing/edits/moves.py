"""Edits of the move list."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any, assert_never

from msgspec.structs import replace

from nub_shift.editing.edits.ids import fresh_id
from nub_shift.editing.words.keys.key_names import codes_named, parted_by_spaces
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.actions import Action, Manner, with_manner
from nub_shift.model.profile.effects import ClickWheel, DoMove, PressKeys, Sent, TypeText, WheelDirection
from nub_shift.model.profile.listed import StepAct
from nub_shift.model.profile.profile import Direction, Move, Profile
from nub_shift.model.profile.schema_types import MAX_LABEL, MAX_SHORT_LABEL
from nub_shift.model.references.effect_facts import manners_of
from nub_shift.model.references.profile_index import ProfileIndex
from nub_shift.model.references.walk import map_actions
from nub_shift.translation import trc

# English words, accepted in every language of the window, since games often use them.
_WHEELS = {
    f"{wheel} {way.value}": way
    for way in WheelDirection
    for wheel in ("wheel", "mouse wheel", "mousewheel", "scroll", "scroll wheel")
} | {
    **dict.fromkeys(trc("typed", "wheel up").split(", "), WheelDirection.UP),
    **dict.fromkeys(trc("typed", "wheel down").split(", "), WheelDirection.DOWN),
    **dict.fromkeys(trc("typed", "wheel left").split(", "), WheelDirection.LEFT),
    **dict.fromkeys(trc("typed", "wheel right").split(", "), WheelDirection.RIGHT),
}
_MOUSE = ("mouse", "look", *trc("typed", "mouse").split(", "))
# A line about walking stands for four moves.
_WAYS = (
    (trc("a way to walk", "forward"), Direction.UP),
    (trc("a way to walk", "left"), Direction.LEFT),
    (trc("a way to walk", "back"), Direction.DOWN),
    (trc("a way to walk", "right"), Direction.RIGHT),
)
_WALKS = {
    "wasd": ("KEY_W", "KEY_A", "KEY_S", "KEY_D"),
    "arrows": ("KEY_UP", "KEY_LEFT", "KEY_DOWN", "KEY_RIGHT"),
}


@dataclass(frozen=True)
class WrittenMove:
    """A move as written by a person: its name, and the key in the game, if recognised.

    Attributes:
        sent: recognised keys, wheel click or text.
        look: whether the move looks around with the mouse.
        unclear: unrecognised text in place of a key.
        untyped: characters of a text that the keyboard layout cannot type.
    """

    group: str
    label: str
    sent: Sent | None = None
    look: bool = False
    direction: Direction | None = None
    unclear: str = ""
    untyped: str = ""

    @property
    def is_clear(self) -> bool:
        """Whether the input was recognised."""
        return self.look or self.sent is not None


def parse_moves(text: str, layout: Layout, group: str = "", pasted: bool = False) -> list[WrittenMove]:
    """Returns the moves of lines like "Jump<tab>Space", "Dodge = Ctrl + C", "Next tool: wheel down", "Look around:
    mouse".

    A quoted text is typed, followed by Enter if given, as in `Ready = "I am ready" + Enter`. "Walk: WASD", "Walk:
    arrows" and "Walk: E S D F" are four moves.

    A line that ends with a colon begins a group. Name and key are separated by a tab, an equals sign, a colon, or
    several spaces; in a `pasted` text one space is enough. A line without a key is a name alone.
    """
    found = []
    for line in text.splitlines():
        line = line.strip()
        if not line:
            continue
        if line.endswith(":"):
            group = line[:-1].strip()[:MAX_SHORT_LABEL]
            continue
        typing = _typing(group, line, layout)
        if typing is not None:
            found.append(typing)
            continue
        label, key = _parted(line)
        if pasted and not key:
            label, key = parted_by_spaces(line, layout) or (label, key)
        walk = _WALKS.get(key.casefold()) or _four(key, layout)
        if walk is not None:
            found += [
                WrittenMove(group, f"{label[:50]} {way}", PressKeys((code,)), direction=direction)
                for (way, direction), code in zip(_WAYS, walk, strict=True)
            ]
        else:
            found.append(_written(group, label[:MAX_LABEL], key, layout))
    return found


def known_labels(profile: Profile, moves: Sequence[WrittenMove]) -> list[str]:
    """Returns the names of written moves that the profile already has."""
    known = {move.label.casefold() for move in profile.moves}
    return [written.label for written in moves if written.label.casefold() in known]


def add(profile: Profile, moves: Sequence[WrittenMove]) -> Profile:
    """Returns the profile with these moves, each at the end of its group; an existing name gets the new key."""
    for written in moves:
        known = next((move for move in profile.moves if move.label.casefold() == written.label.casefold()), None)
        if known is not None:
            if written.is_clear:
                profile = set_input(profile, known.id, written.sent)
            continue
        walked = {move.direction for move in profile.moves}
        made = Move(
            id=fresh_id(written.label, [move.id for move in profile.moves]),
            label=written.label,
            group=written.group,
            **_input_fields(written.sent),
            direction=written.direction if written.direction not in walked else None,
        )
        indexes = [index for index, move in enumerate(profile.moves) if move.group == written.group]
        at = indexes[-1] + 1 if indexes else len(profile.moves)
        profile = replace(profile, moves=(*profile.moves[:at], made, *profile.moves[at:]))
    return profile


def set_input(profile: Profile, move_id: str, sent: Sent | None) -> Profile:
    """Returns the profile with another input of a move, everywhere at once; None stands for looking around.

    A manner that the new input does not support, such as a toggle of a text, is reset.
    """
    made = _changed(profile, move_id, **_input_fields(sent))
    if sent is None or isinstance(sent, PressKeys):
        return made
    possible = manners_of(DoMove(move_id), ProfileIndex.of(made))

    def plain(action: Action) -> Action:
        does = action.effect == DoMove(move_id) and action.manner not in possible
        return with_manner(action, Manner.HELD) if does else action

    tapped = tuple(
        replace(
            found,
            steps=tuple(replace(step, act=StepAct.TAP) if step.move == move_id else step for step in found.steps),
        )
        for found in made.sequences
    )
    return map_actions(replace(made, sequences=tapped), plain)


def toggle_link(profile: Profile, move_id: str, other_id: str) -> Profile:
    """Returns the profile with two moves linked as needed at the same time, or unlinked if they were."""

    def toggled(move: Move, other: str, on: bool) -> Move:
        rest = tuple(found for found in move.together if found != other)
        return replace(move, together=(*rest, other) if on else rest)

    on = other_id not in links(profile, move_id)
    others = {move_id: other_id, other_id: move_id}
    moves = (toggled(move, others[move.id], on) if move.id in others else move for move in profile.moves)
    return replace(profile, moves=tuple(moves))


def links(profile: Profile, move_id: str) -> set[str]:
    """Returns ids of the moves linked with one, in either direction."""
    move = profile.move(move_id)
    return {*(move.together if move is not None else ()), *(m.id for m in profile.moves if move_id in m.together)}


def rename(profile: Profile, move_id: str, label: str) -> Profile:
    """Returns the profile with a move renamed."""
    return _changed(profile, move_id, label=label)


def set_group(profile: Profile, move_ids: Collection[str], group: str) -> Profile:
    """Returns the profile with moves put into a group, after its present moves; an empty group disappears."""
    moving = [replace(move, group=group) for move in profile.moves if move.id in move_ids]
    rest = [move for move in profile.moves if move.id not in move_ids]
    places = [at for at, move in enumerate(rest) if move.group == group]
    at = places[-1] + 1 if places else len(rest)
    return replace(profile, moves=(*rest[:at], *moving, *rest[at:]))


def rename_group(profile: Profile, group: str, label: str) -> Profile:
    """Returns the profile with a group renamed; groups of equal names are merged."""
    if any(move.group == label for move in profile.moves):
        return set_group(profile, {move.id for move in profile.moves if move.group == group}, label)
    moves = (replace(move, group=label) if move.group == group else move for move in profile.moves)
    return replace(profile, moves=tuple(moves))


def group_names(profile: Profile) -> list[str]:
    """Returns the groups in order."""
    return list(dict.fromkeys(move.group for move in profile.moves))


def move_group(profile: Profile, group: str, place: str) -> Profile:
    """Returns the profile with a group moved to the position of another."""
    names = group_names(profile)
    at = names.index(place)
    names.remove(group)
    names.insert(at, group)
    return replace(profile, moves=tuple(move for name in names for move in profile.moves if move.group == name))


def set_direction(profile: Profile, move_id: str, direction: Direction | None) -> Profile:
    """Returns the profile with a walking direction for a move, or None; another move with this direction loses it."""
    moves = (
        replace(move, direction=direction)
        if move.id == move_id
        else replace(move, direction=None)
        if direction is not None and move.direction is direction
        else move
        for move in profile.moves
    )
    return replace(profile, moves=tuple(moves))


def reorder(profile: Profile, order: Sequence[str], groups: Sequence[str]) -> Profile:
    """Returns the profile with its moves in this order and these groups, both by index."""
    moves = [profile.move(move_id) for move_id in order]
    made = tuple(replace(move, group=group) for move, group in zip(moves, groups, strict=True) if move is not None)
    return replace(profile, moves=made) if len(made) == len(profile.moves) else profile


def _four(key: str, layout: Layout) -> tuple[str, ...] | None:
    """Returns four keys separated by spaces, for walking forward, left, back and right; None for other texts."""
    found = [codes_named(word, layout) for word in key.split()]
    if len(found) != len(_WAYS) or not all(codes and len(codes) == 1 for codes in found):
        return None
    return tuple(codes[0] for codes in found if codes)


_TEXT = re.compile(r"""(?P<label>.+?)[\s=:]+["“”„«»](?P<text>[^"“”„«»]+)["“”«»]\s*(?:\+(?P<key>.+))?""")


def _typing(group: str, line: str, layout: Layout) -> WrittenMove | None:
    """Returns the move of a line that ends with a quoted text, optionally followed by Enter; None for other lines."""
    found = _TEXT.fullmatch(line)
    key = found["key"] if found is not None else None
    if found is None or (key is not None and codes_named(key, layout) != ("KEY_ENTER",)):
        return None
    text, label = found["text"], found["label"][:MAX_LABEL]
    untyped = layout.untyped(text)
    if untyped:
        return WrittenMove(group, label, unclear=line[found.end("label") :].lstrip(" \t=:"), untyped=untyped)
    return WrittenMove(group, label, TypeText(text if key is None else text + "\n"))


def _parted(line: str) -> tuple[str, str]:
    for mark in ("\t", " = ", "=", ": ", "   ", "  "):
        if mark in line:
            label, _, key = line.partition(mark)
            return label.strip(), key.strip()
    return line, ""


def _written(group: str, label: str, key: str, layout: Layout) -> WrittenMove:
    plain = key.casefold()
    if not key:
        return WrittenMove(group, label)
    if plain in _WHEELS:
        return WrittenMove(group, label, ClickWheel(_WHEELS[plain]))
    if plain in _MOUSE:
        return WrittenMove(group, label, look=True)
    codes = codes_named(key, layout)
    if not codes:
        return WrittenMove(group, label, unclear=key)
    return WrittenMove(group, label, PressKeys(codes), direction=walking_direction(label))


# Words in the names of walking moves, such as "Walk forward", "Strafe left" and "Back".
_WALKING = {
    *("walk", "move", "go", "run", "step", "strafe", "sidestep", "drive", "swim"),
    *trc("typed", "walk").split(", "),
}
_FORTH_AND_BACK = {
    *("forward", "forwards", "backward", "backwards"),
    *trc("typed", "forward").split(", "),
    *trc("typed", "backward").split(", "),
}
_WAY_WORDS = {
    **dict.fromkeys(("forward", "forwards", "ahead"), Direction.UP),
    **dict.fromkeys(("back", "backward", "backwards"), Direction.DOWN),
    **dict.fromkeys(("left", "leftward", "leftwards"), Direction.LEFT),
    **dict.fromkeys(("right", "rightward", "rightwards"), Direction.RIGHT),
    **dict.fromkeys(trc("typed", "forward").split(", "), Direction.UP),
    **dict.fromkeys(trc("typed", "backward").split(", "), Direction.DOWN),
    **dict.fromkeys(trc("typed", "left").split(", "), Direction.LEFT),
    **dict.fromkeys(trc("typed", "right").split(", "), Direction.RIGHT),
}


def walking_direction(label: str) -> Direction | None:
    """Returns the walking direction in a move's name; None for other names."""
    words = label.casefold().replace("-", " ").split()
    ways = [_WAY_WORDS[word] for word in words if word in _WAY_WORDS]
    rest = {word for word in words if word not in _WAY_WORDS}
    if len(ways) != 1 or not rest <= _WALKING:
        return None
    return ways[0] if rest or words[0] in _FORTH_AND_BACK else None


def _input_fields(sent: Sent | None) -> dict[str, Any]:
    """Returns the fields of a move for its input; None stands for looking around."""
    fields: dict[str, Any] = {"keys": (), "wheel": None, "text": "", "look": sent is None}
    match sent:
        case None:
            return fields
        case PressKeys(keys):
            return fields | {"keys": keys}
        case ClickWheel(direction):
            return fields | {"wheel": direction}
        case TypeText(text):
            return fields | {"text": text}
        case _:
            assert_never(sent)


def _changed(profile: Profile, move_id: str, **values: Any) -> Profile:
    moves = (replace(move, **values) if move.id == move_id else move for move in profile.moves)
    return replace(profile, moves=tuple(moves))
