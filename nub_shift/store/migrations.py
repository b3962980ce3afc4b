"""Older profile files, brought up to the present schema while they are read.

A migration only moves values from path to path and renames, so that a fault in an older file can be told by the path
that the file itself has for it.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from nub_shift.model.profile import SCHEMA_VERSION

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


def migrated(data: dict[str, Any]) -> tuple[dict[str, Any], Callable[[str], str]]:
    """A file's data in the present schema, and what tells of a dotted path in it how the file itself has it.

    Data without a version that is known here comes back as it is.
    """
    paths: dict[str, str] = {}
    names: list[tuple[str, str]] = []
    while type(version := data.get("schema")) is int and version < SCHEMA_VERSION and version in (*MOVED, *RENAMED):
        data = {**data, "schema": version + 1}
        moves = MOVED.get(version, ())
        for old, new in moves:
            data, found = _taken(data, old)
            if found is not None:
                data = _put(data, new, found)
                paths[".".join(new)] = ".".join(old)
        renamed = RENAMED.get(version, ())
        names += [(new, old) for old, new in renamed]
        data = _each_layer(data, partial(_renamed, names=dict(renamed)))
        for old, new in _FEEL_MOVED.get(version, ()):
            move = partial(_moved_in_feel, old=old, new=new)
            data = _each_layer(move(data), move)
            names.append((".".join(("feel", *new)), ".".join(("feel", *old))))
    return data, lambda path: _as_told(paths.get(path, path), names)


def _as_told(path: str, names: list[tuple[str, str]]) -> str:
    for new, old in names:
        path = path.replace(new, old)
    return path


def _each_layer(data: dict[str, Any], change: Callable[[dict[str, Any]], dict[str, Any]]) -> dict[str, Any]:
    """The data with each of its layers changed; what is no layer stays, to be told as a fault."""
    layers = data.get("layers")
    if not isinstance(layers, list):
        return data
    return {**data, "layers": [change(layer) if isinstance(layer, dict) else layer for layer in layers]}


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
