"""Migration of older profile files to the present schema during reading.

Migrations move values from path to path, rename, and drop settings that profiles no longer have; faults in an older
file are reported with the path in that file.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from nub_shift.model.profile.profile import SCHEMA_VERSION

KeyPath = tuple[str, ...]

# Old path and new path, by the version of the file.
MOVED: dict[int, tuple[tuple[KeyPath, KeyPath], ...]] = {
    1: (
        (("shortest_key_ms",), ("game", "shortest_key_ms")),
        (("feel", "motion", "counts_per_turn"), ("game", "counts_per_turn")),
    ),
}


# Old and new names of slots and settings anywhere in the file, by its version.
RENAMED: dict[int, tuple[tuple[str, str], ...]] = {
    2: tuple((f"motion.lean_{way}", f"motion.tilt_{way}") for way in ("left", "right", "forward", "back")),
}
_FEEL_MOVED: dict[int, tuple[tuple[KeyPath, KeyPath], ...]] = {2: ((("motion", "lean"), ("motion", "tilt")),)}

# Settings of feels that belong to one pad and now lie in its card, since they made other pads drift.
_OF_ONE_PAD: dict[int, tuple[KeyPath, ...]] = {
    3: tuple((stick, name) for stick in ("left_stick", "right_stick", "surface") for name in ("rest_x", "rest_y")),
}
_STEPS = (*MOVED, *RENAMED, *_OF_ONE_PAD)


def of_one_pad(data: dict[str, Any]) -> list[str]:
    """Returns the dotted paths of settings of one pad in an older file, which reading drops."""
    found = []
    for path, table in _tables_with_feel(data):
        for version, settings in _OF_ONE_PAD.items():
            told = type(data.get("schema")) is int and data["schema"] <= version
            found += [f"{path}feel.{'.'.join(s)}" for s in settings if told and _taken(table, ("feel", *s))[1]]
    return found


def migrated(data: dict[str, Any]) -> tuple[dict[str, Any], Callable[[str], str]]:
    """Returns a file's data in the present schema, and a function from a path there to the path in the file.

    Data of an unknown version is returned unchanged.
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
    """Returns the data with each table of a list changed; other values stay, to be reported as faults."""
    tables = data.get(key)
    if not isinstance(tables, list):
        return data
    return {**data, key: [change(table) if isinstance(table, dict) else table for table in tables]}


def _tables_with_feel(data: dict[str, Any]) -> Iterator[tuple[str, dict[str, Any]]]:
    """Yields the profile, its layers and its pads, each with the beginning of its path."""
    yield "", data
    for key in ("layers", "pads"):
        tables = data.get(key)
        for index, table in enumerate(tables if isinstance(tables, list) else ()):
            if isinstance(table, dict):
                yield f"{key}[{index}].", table


def _without(table: dict[str, Any], path: KeyPath) -> dict[str, Any]:
    return _taken(table, path)[0]


def _renamed(layer: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
    """Returns a layer with renamed slots, in its tables and lists."""
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
    """Returns a table with a setting of its feel moved."""
    without, found = _taken(table, ("feel", *old))
    return _put(without, ("feel", *new), found) if found is not None else table


def _taken(data: dict[str, Any], path: KeyPath) -> tuple[dict[str, Any], Any]:
    """Returns the data without the value at a path, and that value."""
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
