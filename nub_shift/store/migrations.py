"""Older profile files, brought up to the present schema while they are read.

A migration moves values from path to path, renames, and leaves out settings that profiles no longer have, so that a
fault in an older file can be told by the path that the file itself has for it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from nub_shift.model.profile.profile import SCHEMA_VERSION

KeyPath = tuple[str, ...]

# By the version that a file has: old path, new path.
MOVED: dict[int, tuple[tuple[KeyPath, KeyPath], ...]] = {
    1: (
        (("shortest_key_ms",), ("game", "shortest_key_ms")),
        (("feel", "motion", "counts_per_turn"), ("game", "counts_per_turn")),
    ),
}


# The same for what slots and settings are called, wherever that stands: old name, new name.
RENAMED: dict[int, tuple[tuple[str, str], ...]] = {
    2: tuple((f"motion.lean_{way}", f"motion.tilt_{way}") for way in ("left", "right", "forward", "back")),
}
_FEEL_MOVED: dict[int, tuple[tuple[KeyPath, KeyPath], ...]] = {2: ((("motion", "lean"), ("motion", "tilt")),)}

# Settings of feels that belong to one pad, and are in its card now: they made other pads drift.
_OF_ONE_PAD: dict[int, tuple[KeyPath, ...]] = {
    3: tuple((stick, name) for stick in ("left_stick", "right_stick", "surface") for name in ("rest_x", "rest_y")),
}
_STEPS = (*MOVED, *RENAMED, *_OF_ONE_PAD)


def of_one_pad(data: dict[str, Any]) -> list[str]:
    """Returns dotted paths of settings of one pad in an older file; reading the file leaves them out."""
    found = []
    for path, table in _tables_with_feel(data):
        for version, settings in _OF_ONE_PAD.items():
            told = type(data.get("schema")) is int and data["schema"] <= version
            found += [f"{path}feel.{'.'.join(s)}" for s in settings if told and _taken(table, ("feel", *s))[1]]
    return found


def migrated(data: dict[str, Any]) -> tuple[dict[str, Any], Callable[[str], str]]:
    """A file's data in the present schema, and what tells of a dotted path in it how the file itself has it.

    Data without a version that is known here comes back as it is.
    """
    paths: dict[str, str] = {}
    names: list[tuple[str, str]] = []
    while type(version := data.get("schema")) is int and version < SCHEMA_VERSION and version in _STEPS:
        data = {**data, "schema": version + 1}
        moves = MOVED.get(version, ())
        for old, new in moves:
            data, found = _taken(data, old)
            if found is not None:
                data = _put(data, new, found)
                paths[".".join(new)] = ".".join(old)
        renamed = RENAMED.get(version, ())
        names += [(new, old) for old, new in renamed]
        data = _each_of(data, "layers", partial(_renamed, names=dict(renamed)))
        for old, new in _FEEL_MOVED.get(version, ()):
            move = partial(_moved_in_feel, old=old, new=new)
            data = _each_of(move(data), "layers", move)
            names.append((".".join(("feel", *new)), ".".join(("feel", *old))))
        for setting in _OF_ONE_PAD.get(version, ()):
            without = partial(_without, path=("feel", *setting))
            data = _each_of(_each_of(without(data), "layers", without), "pads", without)
    return data, lambda path: _as_told(paths.get(path, path), names)


def _as_told(path: str, names: list[tuple[str, str]]) -> str:
    for new, old in names:
        path = path.replace(new, old)
    return path


def _each_of(data: dict[str, Any], key: str, change: Callable[[dict[str, Any]], dict[str, Any]]) -> dict[str, Any]:
    """The data with each table of a list changed; what is no table stays, to be told as a fault."""
    tables = data.get(key)
    if not isinstance(tables, list):
        return data
    return {**data, key: [change(table) if isinstance(table, dict) else table for table in tables]}


def _tables_with_feel(data: dict[str, Any]) -> Iterator[tuple[str, dict[str, Any]]]:
    """The profile itself, its layers and its pads, each with the start of its path."""
    yield "", data
    for key in ("layers", "pads"):
        tables = data.get(key)
        for index, table in enumerate(tables if isinstance(tables, list) else ()):
            if isinstance(table, dict):
                yield f"{key}[{index}].", table


def _without(table: dict[str, Any], path: KeyPath) -> dict[str, Any]:
    return _taken(table, path)[0]


def _renamed(layer: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
    """Slots called by their new names, in the tables and lists of a layer."""
    slots, together = layer.get("slots"), layer.get("together")
    if isinstance(slots, dict):
        layer = {**layer, "slots": {names.get(slot, slot): what for slot, what in slots.items()}}
    if isinstance(together, list):
        layer = {**layer, "together": [_pair(pair, names) for pair in together]}
    return layer


def _pair(pair: Any, names: dict[str, str]) -> Any:
    if not isinstance(pair, dict) or not isinstance(pair.get("slots"), list):
        return pair
    return {**pair, "slots": [names.get(slot, slot) if isinstance(slot, str) else slot for slot in pair["slots"]]}


def _moved_in_feel(table: dict[str, Any], old: KeyPath, new: KeyPath) -> dict[str, Any]:
    """A setting at its new place in the feel of the profile, or of a layer."""
    without, found = _taken(table, ("feel", *old))
    return _put(without, ("feel", *new), found) if found is not None else table


def _taken(data: dict[str, Any], path: KeyPath) -> tuple[dict[str, Any], Any]:
    """The data without what stands at a path, and what stood there."""
    name, *rest = path
    if name not in data or (rest and not isinstance(data[name], dict)):
        return data, None
    if not rest:
        return {key: value for key, value in data.items() if key != name}, data[name]
    inner, found = _taken(data[name], tuple(rest))
    return {**data, name: inner}, found


def _put(data: dict[str, Any], path: KeyPath, value: object) -> dict[str, Any]:
    name, *rest = path
    if not rest:
        return {**data, name: value}
    inner = data.get(name)
    return {**data, name: _put(inner if isinstance(inner, dict) else {}, tuple(rest), value)}
