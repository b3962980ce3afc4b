"""Draws the rooms of the code and the arrows between them, as they are, into docs/rooms.svg.

usage: .venv/bin/python tools/rooms.py
"""

from __future__ import annotations

import ast
import tomllib
from html import escape
from pathlib import Path

import grimp

ROOT = Path(__file__).parents[1]
PICTURE = ROOT / "docs" / "rooms.svg"
PACKAGE = "nub_shift"
MODULES = ("__main__", "compiled", "own_process")  # single modules, which are no rooms
ROW, COLUMN, LEFT, TOP, NAMES, LINES = 28, 26, 16, 96, 84, 376


def layers() -> list[list[str]]:
    """The rooms from the top down, those that do not know each other together; as import-linter is told."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    (found,) = (contract["layers"] for contract in contracts if contract["type"] == "layers")
    rooms = ([room for room in layer.split(" | ") if room not in MODULES] for layer in found)
    return [layer for layer in rooms if layer]


def arrows() -> list[tuple[str, str]]:
    """Which room imports which."""
    graph = grimp.build_graph(PACKAGE, cache_dir=None)
    found = set()
    for module in graph.modules:
        for imported in graph.find_modules_directly_imported_by(module):
            here, there = (name.split(".")[1:2] for name in (module, imported))
            if here and there and here != there and not {*here, *there} & set(MODULES):
                found.add((here[0], there[0]))
    return sorted(found)


def picture() -> str:
    """A row and a column for each room, the rows from the top down; a dot where the row's room imports the column's."""
    rooms = [room for layer in layers() for room in layer]
    first = LEFT + NAMES + LINES
    width, height = first + COLUMN * len(rooms) + 40, TOP + ROW * len(rooms) + 6
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" font-family="sans-serif">',
        f"<title>The rooms of {PACKAGE}: a dot where the room of the row imports the room of the column</title>",
        f'<rect width="{width}" height="{height}" fill="#f3efe4"/>',
    ]
    for index, room in enumerate(rooms):
        x, y = first + COLUMN * index, TOP + ROW * index
        said = ast.get_docstring(ast.parse((ROOT / PACKAGE / room / "__init__.py").read_text())) or ""
        line = escape(said.splitlines()[0].rstrip("."))
        end = first + COLUMN * (len(rooms) - 1)
        parts += [
            f'<text x="{LEFT}" y="{y + 5}" font-size="14" font-weight="bold" fill="#23211d">{room}</text>',
            f'<text x="{LEFT + NAMES}" y="{y + 5}" font-size="11" fill="#6b665a">{line}</text>',
            f'<text transform="translate({x + 4} {TOP - 16}) rotate(-50)" font-size="12" fill="#23211d">{room}</text>',
            f'<line x1="{first}" y1="{y}" x2="{end}" y2="{y}" stroke="#d8d1bf"/>',
            f'<line x1="{x}" y1="{TOP}" x2="{x}" y2="{TOP + ROW * (len(rooms) - 1)}" stroke="#d8d1bf"/>',
            f'<rect x="{x - 4}" y="{y - 4}" width="8" height="8" fill="#0b7065"/>',
        ]
    for here, there in arrows():
        x, y = first + COLUMN * rooms.index(there), TOP + ROW * rooms.index(here)
        parts.append(f'<circle cx="{x}" cy="{y}" r="6" fill="#b9450f"><title>{here} imports {there}</title></circle>')
    return "\n".join([*parts, "</svg>", ""])


if __name__ == "__main__":
    PICTURE.write_text(picture())
