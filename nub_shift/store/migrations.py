"""Older profile files, brought up to the present schema while they are read.

A migration only moves values from path to path, so that a fault in an older file can be told by the path that the
file itself has for it.
"""

from __future__ import annotations

from typing import Any

KeyPath = tuple[str, ...]

# By the version that a file has: old path, new path.
MOVED: dict[int, tuple[tuple[KeyPath, KeyPath], ...]] = {
    1: (
        (("shortest_key_ms",), ("game", "shortest_key_ms")),
        (("feel", "motion", "counts_per_turn"), ("game", "counts_per_turn")),
    ),
}


def migrated(data: dict[str, Any]) -> tuple[dict[str, Any], dict[str, str]]:
    """A file's data in the present schema, and by each dotted path that moved the one that the file has.

    Data without a version that is known here comes back as it is.
    """
    paths: dict[str, str] = {}
    while type(version := data.get("schema")) is int and version in MOVED:
        data = {**data, "schema": version + 1}
        for old, new in MOVED[version]:
            data, found = _taken(data, old)
            if found is not None:
                data = _put(data, new, found)
                paths[".".join(new)] = ".".join(old)
    return data, paths


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
