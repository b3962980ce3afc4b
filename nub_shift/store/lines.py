"""Line numbers of places in a TOML text, for error messages."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

_KEY = r"""(?:"[^"]*"|'[^']*'|[A-Za-z0-9_-]+)"""
_KEYS = rf"{_KEY}(?:[ \t]*\.[ \t]*{_KEY})*"
_HEADER = re.compile(rf"^[ \t]*(\[{{1,2}})[ \t]*({_KEYS})[ \t]*\]")
_SETTING = re.compile(rf"^[ \t]*({_KEYS})[ \t]*=")
_ID = re.compile(r"""^[ \t]*id[ \t]*=[ \t]*["'](\w+)["']""")


@dataclass
class _Element:
    """The last element of a list of tables so far, with its own lists."""

    count: int = 0
    name: str = ""
    lists: dict[str, _Element] = field(default_factory=dict)


class Lines:
    """Line numbers of one text."""

    def __init__(self, text: str) -> None:
        self._numbers: dict[str, int] = {}
        for number, place in _places(text.splitlines()):
            self._numbers.setdefault(place, number)

    def of(self, path: str) -> int | None:
        """Returns the line, counted from 1, of the path of a `Problem`, or of the nearest enclosing table; None if not
        found.
        """
        while path not in self._numbers:
            path = path[: max(path.rfind("."), path.rfind("["), 0)]
            if not path:
                return None
        return self._numbers[path]


def _places(lines: list[str]) -> Iterator[tuple[int, str]]:
    """Yields each line on which a table or a setting begins, with its path as in `Problem.path`."""
    lists: dict[str, _Element] = {}
    table, in_text = "", False
    for number, line in enumerate(lines, 1):
        quoted = line.count('"""') % 2 == 1 or line.count("'''") % 2 == 1
        if not in_text:
            header, setting = _HEADER.match(line), _SETTING.match(line)
            if header is not None:
                table = _table(lists, _parts(header[2]), header[1] == "[[", _name(lines, number))
                yield number, table
            elif setting is not None:
                yield number, ".".join(filter(None, [table, *_parts(setting[1])]))
        in_text = in_text is not quoted


def _table(lists: dict[str, _Element], parts: list[str], is_list: bool, name: str) -> str:
    """Returns the path of a header's table; within a list, of the last element."""
    place = ""
    for depth, part in enumerate(parts):
        place = f"{place}.{part}" if place else part
        last = depth == len(parts) - 1
        if part not in lists and not (last and is_list):
            continue
        element = lists.setdefault(part, _Element())
        if last and is_list:
            element.lists = {}
            element.name = f".{name}" if name else f"[{element.count}]"
            element.count += 1
        place += element.name
        lists = element.lists
    return place


def _name(lines: list[str], begin: int) -> str:
    """Returns the id of the table that begins at a line, which is before the next header; empty without one."""
    for index in range(begin, len(lines)):
        if _HEADER.match(lines[index]):
            return ""
        found = _ID.match(lines[index])
        if found is not None:
            return found[1]
    return ""


def _parts(keys: str) -> list[str]:
    return [part.strip("\"'") for part in re.findall(_KEY, keys)]
