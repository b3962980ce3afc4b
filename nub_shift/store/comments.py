"""Rewriting of a TOML file written by a person, so that comments and layout stay."""

from __future__ import annotations

import logging
import re
from collections import Counter
from collections.abc import Mapping
from datetime import date
from typing import TYPE_CHECKING, Any

import msgspec
import tomli

if TYPE_CHECKING:
    from tomlkit.container import Container
    from tomlkit.items import AoT, InlineTable, Table

log = logging.getLogger("nub_shift.store")

Data = dict[str, Any]

# A comment, or a string, in which a number sign starts none.
_TOKENS = re.compile(
    r'"""(?:\\.|[^\\])*?"""|\'\'\'.*?\'\'\'|"(?:\\.|[^"\\\n])*"|\'[^\'\n]*\'|(?P<comment>#[^\n]*)', re.DOTALL
)


def comments_in(text: str) -> list[str]:
    """Returns all comments of a TOML text in order."""
    if "#" not in text:
        return []
    return [found["comment"].rstrip() for found in _TOKENS.finditer(text) if found["comment"] is not None]


def rewritten(text: str, before: msgspec.Struct, after: msgspec.Struct, plain: str) -> str:
    """Returns the text with all changes from `before`, its present content, to `after`; `plain` is the generated text
    of `after`.

    Only differences are touched. A comment that loses its place moves to the head of the file. If comments cannot be
    kept in place all of them move there; a text without comments becomes `plain`.
    """
    written = comments_in(text)
    if not written:
        return plain
    changed = _changed(text, before, after) or plain
    kept = Counter(comments_in(changed))
    lost = []
    for comment in written:
        if kept[comment] > 0:
            kept[comment] -= 1
        else:
            lost.append(comment)
    return "\n".join([*lost, changed])


def _changed(text: str, before: msgspec.Struct, after: msgspec.Struct) -> str | None:
    """Returns the text with its comments in place; None on failure."""
    import tomlkit  # imported late: needed for handwritten files alone

    try:
        document = tomlkit.parse(text)
        _change(document, _data(before), _data(after))
        changed = document.as_string()
        said = msgspec.convert(tomli.loads(changed), type(after))
    except Exception:  # whatever the library raises on unusual layouts, the edit must be written
        log.exception("comments cannot be kept in place")
        return None
    return changed if said == after else None


def _data(said: msgspec.Struct) -> Data:
    data: Data = _as_lists(msgspec.to_builtins(said, builtin_types=(date,)))
    return data


def _as_lists(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _as_lists(part) for key, part in value.items()}
    return [_as_lists(part) for part in value] if isinstance(value, list | tuple) else value


def _change(table: Container | Table | InlineTable, before: Data, after: Data) -> None:
    for key in [key for key in before if key not in after and key in table]:
        table.remove(key)
    for key, value in after.items():
        if key in before and key in table and before[key] == value:
            continue
        there = table.get(key)
        if isinstance(value, dict) and isinstance(there, Mapping):
            _change(there, before.get(key, {}), value)  # type: ignore[arg-type]
        elif _is_tables(value) and _is_array_of_tables(there):
            _change_tables(there, before.get(key, []), value)  # type: ignore[arg-type]
        elif key in table:
            table[key] = _item(value, table)
        else:
            _add(table, key, _item(value, table))


def _add(table: Container | Table | InlineTable, key: str, item: Any) -> None:
    """Adds a value after the last one, before comments that belong to the following part."""
    from tomlkit.items import AoT, Table

    lasts = [other for other, value in table.items() if not isinstance(value, (Table, AoT))][-1:]
    if isinstance(table, Table) and lasts and not isinstance(item, (Table, AoT)):
        table.value._insert_after(lasts[0], key, item)
    else:
        table[key] = item


def _change_tables(tables: AoT, before: list[Data], after: list[Data]) -> None:
    """Changes a list of tables; those with an `id` are matched by id, others by index."""
    known = {_name(item, index): (item, table) for index, (item, table) in enumerate(zip(before, tables, strict=True))}
    made = []
    for index, value in enumerate(after):
        item, table = known.get(_name(value, index), ({}, None))
        if table is None:
            table = _item(value, tables)
        else:
            _change(table, item, value)
        made.append(table)
    if len(made) >= len(before) and all(one is other for one, other in zip(made, tables, strict=False)):
        for table in made[len(before) :]:
            tables.append(table)
        return
    while len(tables):
        del tables[len(tables) - 1]
    for table in made:
        tables.append(table)


def _item(value: object, within: object) -> Any:
    """Returns the written form of a value in a table: inline if its neighbours are."""
    import tomlkit
    from tomlkit.items import InlineTable

    if isinstance(value, dict):
        inline = isinstance(within, InlineTable) or (
            isinstance(within, Mapping) and any(isinstance(other, InlineTable) for other in within.values())
        )
        made: Any = tomlkit.inline_table() if inline else tomlkit.table()
        for key, part in value.items():
            made[key] = _item(part, made)
        return made
    if isinstance(value, str) and "\n" in value:
        return tomlkit.string(value, multiline=True)
    return tomlkit.item(value)


def _is_tables(value: object) -> bool:
    return isinstance(value, list) and bool(value) and all(isinstance(item, dict) for item in value)


def _is_array_of_tables(value: object) -> bool:
    from tomlkit.items import AoT

    return isinstance(value, AoT)


def _name(item: Data, index: int) -> object:
    return item.get("id", index)
