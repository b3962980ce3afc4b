#!/usr/bin/env python3
"""Finds texts in the source that look as if a person would read them and that are not led through translation.

usage: tools/escaped_texts.py

A text is what has two words or begins with a capital letter. What is none although it looks like one, or stays English
on purpose, is listed below with the reason.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

PACKAGE = Path(__file__).resolve().parent.parent / "nub_shift"

_WORDS = re.compile(r"[A-Za-z,;:] [a-zA-Z{]|^[A-Z][a-z]+|^ [a-z]+$|^[a-z]+ $")
_TRANSLATING = ("tr", "trc", "trn")

# Whole files, by how their path begins.
FILES = {
    "bench/": "figures for those who work on the program, compared between machines",
    "demo/": "scenarios, whose words belong to their invented games",
    "engine/": "says nothing to people",
    "pads/made_up/": "names that made-up devices report, as real ones do",
    "protocol/calls": "told to programs: errors of JSON-RPC",
    "protocol/codec": "told to programs: errors of JSON-RPC",
    "runner/clients/connections": "told to programs: errors of JSON-RPC",
    "runner/clients/server": "told to programs: errors of JSON-RPC",
    "outputs/uinput": "names of virtual devices, by which programs know them",
    "front/raw_input": "names of the X protocol",
    "ui/look/": "fonts, style sheets, and names of the desktop's settings",
    "desktop_bus/": "D-Bus",
    "ui/signs/tray_icon": "D-Bus",
    "keyboard/keys": "rows of key names; what people read of them is led through translation",
    "editing/words/keys/key_names": "what is understood when it is typed, in English whatever the language",
    "editing/edits/written_sequence": "the notation of sequences, which is the same in every language",
    "editing/waiting": "says what its states are, to readers of the source",
    "compiled": "stands in reports",
}
# What a string is given to.
CALLS = {
    **dict.fromkeys(("debug", "info", "warning", "error", "exception", "critical"), "stands in the log"),
    **dict.fromkeys(("TypeError", "ValueError", "RuntimeError", "AssertionError"), "a fault of ours, for the log"),
    **dict.fromkeys(("setObjectName", "setProperty", "getattr", "defstruct", "TypeVar"), "a name in the program"),
    **dict.fromkeys(("compile", "find_spec", "memfd_create", "setTitle"), "read by programs"),
    **dict.fromkeys(("setDefaultStyleSheet", "setStyleSheet"), "a style"),
    "setApplicationDisplayName": "our name",
}
# Single texts, each as a pattern.
TEXTS = {
    r"^Nub Shift( |$)": "our name",
    r"^Python |^PyQt6$": "a name",
    r"^(Ctrl|Shift)\+": "a shortcut, which Qt shows in the desktop's language",
    r"^# Nub Shift:|^ACTION|^KERNEL": "a udev rule",
    r"^nub-shift|^--": "a command",
    r"^SetBrightness$|^Sample$|^Pad$|^Any$": "a name in the program",
    r"^menu \{|^steps \{|^value = |^wheel \{|^signs |^badge |^ring ": "read by the program",
    r"^left_stick|^\.SH|^\{slot\}\.up": "read by the program",
    r"^Cannot overwrite a value$": "what a library says",
    r"^layer to shift to,|^a \{reaction|^feel\.": "part of a fault in a profile, with the file's own words",
    r"^ m?s$": "units, which are the same everywhere",
    r"^  feel\.|^    trim\.|^  \{|:<9|:<44": "lines of a profile, and columns",
    r"^mouse wheel$|^scroll wheel$": "typed by a person, in English whatever the language",
    r"^Exec=$|^LEFT(ALT|CTRL) ": "read by programs",
    r"^PAD PROFILE$|^Action$|^Name$|^Umask:$": "read by programs",
    r"^\{.*\}[^a-zA-Z]*$|^<h1>|^<tr>|^<b>|^<p><b>|^<qt>|^<pre>": "nothing but values",
}


def escaped() -> Iterator[str]:
    """Each with its place."""
    for path in sorted(PACKAGE.rglob("*.py")):
        name = str(path.relative_to(PACKAGE))
        if not name.startswith((*FILES, "translation/")):
            yield from (f"nub_shift/{name}:{line}: {text!r}" for line, text in _of(ast.parse(path.read_text())))


def _of(tree: ast.Module) -> Iterator[tuple[int, str]]:
    around = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}
    for node in ast.walk(tree):
        text = _text(node, around)
        if text and not any(re.search(pattern, text) for pattern in TEXTS) and not _is_led(node, around):
            yield node.lineno, text  # type: ignore[attr-defined]


def _text(node: ast.AST, around: dict[ast.AST, ast.AST]) -> str:
    """What looks as if a person would read it."""
    parent = around.get(node)
    if isinstance(parent, ast.Expr | ast.Compare | ast.MatchValue | ast.JoinedStr):
        return ""
    if isinstance(parent, ast.Subscript) and not isinstance(parent.ctx, ast.Store):
        return ""  # what is looked up; a key that something is kept by may be shown
    match node:
        case ast.Constant(value=str(text)) if _WORDS.search(text):
            return text
        case ast.JoinedStr(values=values):
            plain = "·".join(str(part.value) for part in values if isinstance(part, ast.Constant))
            return ast.unparse(node)[2:-1] if re.search(r" [a-z]{2}|[a-z]{2}[:,;]? |^[A-Z][a-z]", plain) else ""
        case _:
            return ""


def _is_led(node: ast.AST, around: dict[ast.AST, ast.AST]) -> bool:
    """Whether it is given to translation, or to something that no person reads."""
    first = True
    while (node := around.get(node)) is not None and not isinstance(node, ast.stmt):  # type: ignore[assignment]
        if isinstance(node, ast.Call):
            name = ast.unparse(node.func).rpartition(".")[2]
            if name in _TRANSLATING or (name in CALLS and (first or name[0].isupper())):
                return True
            first = False
    return isinstance(node, ast.Assert)


if __name__ == "__main__":
    sys.exit("\n".join(escaped()) or 0)
