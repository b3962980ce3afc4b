"""Checks plain data against the types of a profile and names every path with a fault.

msgspec stops at the first fault, but a person wants to see all of them; this check walks the same types.
"""

from __future__ import annotations

import types
import typing
from collections.abc import Iterator
from difflib import get_close_matches
from functools import cache
from typing import Any, get_args, get_origin

import msgspec

from nub_shift.model.controls import CONTROL_OF_SLOT
from nub_shift.model.problems import Problem
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import tr

_ABSENT = (type(None), msgspec.UnsetType)
_PLAIN = {str: tr("a text"), int: tr("a whole number"), float: tr("a number"), bool: tr("true or false")}


def structure_problems(data: object, expected: Any, path: str = "") -> Iterator[Problem]:
    """Yields every path in `data` that does not match the type `expected`.

    Paths name list elements by their `id` if they have one, which is easier to find for people.
    """
    bare = _bare(expected)
    if isinstance(bare, type) and issubclass(bare, msgspec.Struct):
        yield from _struct_problems(data, bare, path)
        return
    origin = get_origin(bare)
    if origin is tuple and _is_struct(get_args(bare)[0]):
        yield from _length_problems(data, expected, path)
        yield from _list_problems(data, get_args(bare)[0], path)
    elif origin is dict and isinstance(data, dict):
        element = get_args(bare)[1]
        for key, value in data.items():
            yield from structure_problems(value, element, _join(path, key))
    else:
        yield from _leaf_problems(data, expected, path)


def _struct_problems(data: object, struct: type[msgspec.Struct], path: str) -> Iterator[Problem]:
    if not isinstance(data, dict):
        yield Problem(path or "file", tr("{shown} stands here", shown=_shown(data)), tr("expected a table"))
        return
    fields = _fields(struct)
    for key, value in data.items():
        if key not in fields:
            yield _unknown_key(path, key, list(fields))
        else:
            yield from structure_problems(value, fields[key].type, _join(path, key))
    for name, field in fields.items():
        if field.required and name not in data:
            yield Problem(_join(path, name), tr("is missing"), tr("expected {expected}", expected=describe(field.type)))


def _unknown_key(path: str, key: str, fields: list[str]) -> Problem:
    control = path.rpartition(".")[2]
    if slot_name(control, key) in CONTROL_OF_SLOT:  # an unquoted dot means a table within a table
        right = tr('put the name in quotes: "{name}"', name=slot_name(control, key))
        return Problem(_join(path, key), tr("unknown key {key!r}", key=key), right)
    return Problem(_join(path, key), tr("unknown key {key!r}", key=key), _known(key, fields))


@cache
def _fields(struct: type[msgspec.Struct]) -> dict[str, msgspec.structs.FieldInfo]:
    """Returns the fields of a struct by their names in a file; cached, since resolving types is slow."""
    return {field.encode_name: field for field in msgspec.structs.fields(struct)}


def _list_problems(data: object, element: Any, path: str) -> Iterator[Problem]:
    if not isinstance(data, list):
        yield Problem(path, tr("{shown} stands here", shown=_shown(data)), tr("expected a list of tables"))
        return
    for index, value in enumerate(data):
        name = value.get("id") if isinstance(value, dict) else None
        here = _join(path, name) if isinstance(name, str) and name.isidentifier() else f"{path}[{index}]"
        yield from structure_problems(value, element, here)


def _length_problems(data: object, expected: Any, path: str) -> list[Problem]:
    for part in getattr(expected, "__metadata__", ()):
        if isinstance(part, msgspec.Meta) and isinstance(data, list):
            too_few = part.min_length is not None and len(data) < part.min_length
            if too_few or (part.max_length is not None and len(data) > part.max_length):
                return [
                    Problem(
                        path,
                        tr("there are {count}", count=len(data)),
                        tr("expected {description}", description=part.description),
                    )
                ]
    return []


def _leaf_problems(data: object, expected: Any, path: str) -> list[Problem]:
    try:
        msgspec.convert(data, expected)
    except msgspec.ValidationError:
        return [
            Problem(
                path or "file",
                tr("{shown} does not fit", shown=_shown(data)),
                tr("expected {expected}", expected=describe(expected)),
            )
        ]
    return []


def describe(expected: Any) -> str:
    """Returns a type of the profile in plain words, such as "a number from 0 to 1"."""
    for part in getattr(expected, "__metadata__", ()):
        if isinstance(part, msgspec.Meta) and part.description:
            return part.description
    if _is_union(expected):
        given = [part for part in get_args(expected) if part not in _ABSENT]
        return _either(describe(part) for part in given)
    bare = _bare(expected)
    if get_origin(bare) is typing.Literal:
        return _either(str(value) for value in get_args(bare))
    if isinstance(bare, type) and hasattr(bare, "__members__"):
        return _either(f'"{member.value}"' for member in typing.cast("Any", bare))
    if isinstance(bare, type) and issubclass(bare, msgspec.Struct):
        return tr("a table")
    return _PLAIN.get(bare, tr("a list") if get_origin(bare) is tuple else tr("a table"))


def _known(key: str, names: list[str]) -> str:
    close = get_close_matches(key, names, 1)
    hint = tr("did you mean {name!r}? ", name=close[0]) if close else ""
    return tr("{hint}known here: {names}", hint=hint, names=", ".join(names))


def _either(words: typing.Iterable[str]) -> str:
    return tr(" or ").join(words)


def _is_struct(expected: Any) -> bool:
    return isinstance(expected, type) and issubclass(expected, msgspec.Struct)


def _bare(expected: Any) -> Any:
    """Returns the type without annotations and without None."""
    if hasattr(expected, "__metadata__"):
        return _bare(expected.__origin__)
    if _is_union(expected):
        rest = [part for part in get_args(expected) if part not in _ABSENT]
        return _bare(rest[0]) if len(rest) == 1 else expected
    return expected


def _is_union(expected: Any) -> bool:
    return isinstance(expected, types.UnionType) or get_origin(expected) is typing.Union


def _join(path: str, key: str) -> str:
    return f"{path}.{key}" if path else key


def _shown(data: object) -> str:
    match data:
        case dict():
            return tr("a table")
        case list():
            return tr("a list of {count}", count=len(data))
        case bool():
            return str(data).lower()
        case str():
            return f'"{data if len(data) <= 40 else data[:37] + "..."}"'
        case int() if abs(data) >= 10**20:
            return tr("a number of many digits")
        case _:
            return str(data)
