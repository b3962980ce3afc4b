"""Edits of feel: each setting of a control as text, in the profile or as a change by a layer."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import Enum
from functools import cache
from typing import Any, assert_never, get_args, get_type_hints

import msgspec
import tomli
from msgspec.structs import fields, replace

from nub_shift.editing.edits.bindings import change_layer
from nub_shift.editing.edits.curve_points import points_text
from nub_shift.editing.words.feel_labels import CHOICE_NAMES, feel_label, part_and_name
from nub_shift.model.profile.feel import Feel, FeelChange, changed_feel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.model.profile.schema_types import Record, given_fields
from nub_shift.translation import inside, number_text, tr

HAVING_FEEL = frozenset(field.name for field in fields(Feel))
_NONE = "none"
_WORDS: dict[str, Any] = {"yes": True, "no": False, _NONE: None, "on": {}}


@dataclass(frozen=True)
class NumberKind:
    """A number from `low` to `high`; an optional one is None if omitted."""

    low: float
    high: float
    whole: bool
    may_be_none: bool


@dataclass(frozen=True)
class ChoiceKind:
    """One of some words, yes or no, or None or on; `names` has their labels."""

    words: tuple[str, ...]
    names: tuple[str, ...]


@dataclass(frozen=True)
class PointsKind:
    """Points of a curve."""


SettingKind = NumberKind | ChoiceKind | PointsKind


@dataclass(frozen=True)
class Setting:
    """One setting as read and written by a person.

    Attributes:
        path: its keys, from the control's feel on.
        text: value: a number, yes or no, a word, none or on, or points as [[0.3, 0.1]].
        own: whether the shown layer changes the setting itself.
        expected: allowed values apart from none.
        label: name of the setting.
        kind: kind of editor.
    """

    path: tuple[str, ...]
    label: str
    text: str
    own: bool
    expected: str
    kind: SettingKind

    @property
    def shown(self) -> str:
        """The value in the reader's words."""
        match self.kind:
            case ChoiceKind(words, names):
                return inside(names[words.index(self.text)])
            case NumberKind():
                return tr("none") if self.text == _NONE else number_text(float(self.text))
            case PointsKind():
                return self.text
            case _:
                assert_never(self.kind)


def layer_feel(profile: Profile, layer_id: str) -> Feel:
    """Returns the feel of all controls while a layer is active."""
    layer = profile.layer(layer_id)
    return changed_feel(profile.feel, layer.feel) if layer is not None else profile.feel


def settings(profile: Profile, layer_id: str, control: str) -> list[Setting]:
    """Returns all settings of a control while a layer is active; for the base layer those of the profile."""
    layer = profile.layer(layer_id)
    if layer is None or layer_id == BASE_LAYER:
        shown, standard = getattr(profile.feel, control), getattr(Feel(), control)
        own = {path for path, value in _leaves(shown, ()) if value != _at(standard, path)}
    else:
        shown, change = getattr(layer_feel(profile, layer_id), control), getattr(layer.feel, control)
        own = {path for path, _ in _leaves(shown, ()) if _at(change, path) is not msgspec.UNSET}
    return [
        Setting(
            path, feel_label(control, path), _text(value), path in own, _expected(control, path), _kind(control, path)
        )
        for path, value in _leaves(shown, ())
    ]


def set_setting(profile: Profile, layer_id: str, control: str, path: tuple[str, ...], text: str) -> Profile:
    """Returns the profile with a written setting; an empty text resets the setting.

    None cannot be written in a layer, and resets the setting there.

    Raises:
        ValueError: not a value of this setting; the text says what would be.
    """
    layer = profile.layer(layer_id)
    if layer is None:
        return profile
    base = layer_id == BASE_LAYER
    tree = given_fields(profile.feel if base else layer.feel)
    value = _value(text) if text.strip() else None
    if value is not None or (base and text.strip()):
        _put(tree, (control, *path), value)
    elif base:
        standard = _at(getattr(Feel(), control), path)
        usual = given_fields(standard) if isinstance(standard, Record) else msgspec.to_builtins(standard)
        _put(tree, (control, *path), usual)
    else:
        _drop(tree, (control, *path))
    try:
        made = msgspec.convert(tree, Feel if base else FeelChange)
    except msgspec.ValidationError:
        expected = _expected(control, path)
        if type(None) in get_args(_hint(control, path)):
            expected = tr("none, or {expected}", expected=expected)
        raise ValueError(f"{feel_label(control, path)}: expected {expected}, not {text.strip()!r}") from None
    if isinstance(made, Feel):
        return replace(profile, feel=made)
    return change_layer(profile, layer_id, feel=made)


def copy_settings(profile: Profile, layer_id: str, control: str, wanted: Iterable[Setting]) -> Profile:
    """Returns the profile with these settings, copied from another control of the same kind or another profile."""
    for setting in wanted:
        profile = set_setting(profile, layer_id, control, setting.path, setting.text)
    return profile


def _put(tree: dict[str, Any], path: tuple[str, ...], value: Any) -> None:
    for key in path[:-1]:
        if not isinstance(tree.get(key), dict):
            tree[key] = {}
        tree = tree[key]
    tree[path[-1]] = value


def _drop(tree: dict[str, Any], path: tuple[str, ...]) -> None:
    """Removes a key, and tables that become empty."""
    below = tree.get(path[0])
    if len(path) > 1 and isinstance(below, dict):
        _drop(below, path[1:])
    if len(path) == 1 or below == {}:
        tree.pop(path[0], None)


def _leaves(part: Record, path: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], Any]]:
    for name in part.__struct_fields__:
        value = getattr(part, name)
        here = (*path, name)
        if not isinstance(value, Record):
            yield here, value
            continue
        if name in _may_be_left_out(type(part)):
            yield here, {}
        yield from _leaves(value, here)


@cache
def _may_be_left_out(part: type[Record]) -> frozenset[str]:
    """Returns the optional fields of a part."""
    return frozenset(field.name for field in fields(part) if field.default is None)


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None or value == {}:
        return "none" if value is None else "on"
    if isinstance(value, int | float):
        return f"{value:g}"
    if isinstance(value, tuple):
        return points_text(value)
    return str(value.value)


def _value(text: str) -> Any:
    word = text.strip()
    if word.casefold() in _WORDS:
        return _WORDS[word.casefold()]
    try:
        return tomli.loads(f"value = {word}")["value"]
    except tomli.TOMLDecodeError:
        return word.casefold()


def _at(part: Any, path: tuple[str, ...]) -> Any:
    for key in path:
        part = getattr(part, key, msgspec.UNSET)
    return part


def _hint(control: str, path: tuple[str, ...]) -> Any:
    """Returns the type of a setting, by its description in the model."""
    part, name = part_and_name(control, path)
    return get_type_hints(part, include_extras=True)[name]


@cache
def _kind(control: str, path: tuple[str, ...]) -> SettingKind:
    """Returns the kind of editor of a setting."""
    kind = _hint(control, path)
    parts = (kind, *get_args(kind))
    within = [more for found in parts for more in (found, *get_args(found))]
    if any(isinstance(part, type) and issubclass(part, Record) for part in parts):
        return ChoiceKind(("none", "on"), (tr("Off"), tr("On")))
    if kind is bool:
        return ChoiceKind(("no", "yes"), (tr("No"), tr("Yes")))
    if isinstance(kind, type) and issubclass(kind, Enum):
        words = tuple(str(choice.value) for choice in kind)
        return ChoiceKind(words, tuple(CHOICE_NAMES[choice] for choice in kind))
    meta = next((part for part in within if isinstance(part, msgspec.Meta)), None)
    if meta is not None and meta.max_length is not None:
        return PointsKind()
    if meta is not None:
        low, high = float(meta.ge or 0.0), float(meta.le or 0.0)
        return NumberKind(low, high, int in within, type(None) in within)
    words = tuple(str(part) for part in parts[1:])
    return ChoiceKind(words, words)


@cache
def _expected(control: str, path: tuple[str, ...]) -> str:
    """Returns the allowed values of a setting in words, from its description in the model."""
    kind = _hint(control, path)
    parts = (kind, *get_args(kind))
    for part in (kind, *(more for found in parts for more in (found, *get_args(found)))):
        if isinstance(part, msgspec.Meta) and part.description:
            return part.description
        if isinstance(part, type) and issubclass(part, Record):
            return tr("none or on")
    if kind is bool:
        return tr("yes or no")
    if isinstance(kind, type) and issubclass(kind, Enum):
        choices = [str(choice.value) for choice in kind]
    else:
        choices = [str(part) for part in parts[1:]]
    return tr(" or ").join(choices)
