#!/usr/bin/env python3
"""Finds docstrings and comments that begin with a clause without a head, as "What a slot does".

usage: tools/headless.py     prints them, and ends with 1 if there are any

They begin with a noun or a verb instead: "Action of a slot", "Returns the action of a slot".
"""

from __future__ import annotations

import ast
import io
import re
import sys
import tokenize
from collections.abc import Iterator
from pathlib import Path

PACKAGE = Path(__file__).resolve().parent.parent / "nub_shift"
_HEADLESS = re.compile(r"(What|Whose|Who|Whom|Where|Those|That|With which|By what|To whom|As)\b")


def docstrings(source: str) -> Iterator[tuple[int, str]]:
    """Yields line and text of the docstrings of classes and functions."""
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef):
            yield node.lineno, ast.get_docstring(node) or ""


def comments(source: str) -> Iterator[tuple[int, str]]:
    """Yields line and text of each comment; of several lines one below the other only the first."""
    last = -1
    for token in tokenize.generate_tokens(io.StringIO(source).readline):
        if token.type == tokenize.COMMENT:
            alone = token.line.strip().startswith("#")
            if not alone or token.start[0] != last + 1:
                yield token.start[0], token.string.lstrip("#: ")
            last = token.start[0] if alone else -1


def headless() -> list[str]:
    """Returns the places of all that are found, with their first line."""
    found = []
    for path in sorted(PACKAGE.rglob("*.py")):
        source = path.read_text("utf-8")
        for line, text in (*docstrings(source), *comments(source)):
            if _HEADLESS.match(text):
                found.append(f"{path.relative_to(PACKAGE.parent)}:{line}: {text.splitlines()[0]}")
    return found


if __name__ == "__main__":
    lines = headless()
    print("\n".join(lines))
    sys.exit(1 if lines else 0)
