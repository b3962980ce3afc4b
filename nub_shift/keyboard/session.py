"""Which keyboard layout this session has."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterator
from functools import cache
from pathlib import Path

from nub_shift.keyboard.layout import Layout, us_layout
from nub_shift.keyboard.xkb import Names, XkbError, compile_layout

_FIELDS = ("rules", "model", "layout", "variant", "options")
# Where systems keep the layout of their console and desktop, and how a line of it looks.
_FILES = (
    (Path("/etc/default/keyboard"), re.compile(r'^XKB(MODEL|LAYOUT|VARIANT|OPTIONS)="?([^"\n]*)"?$', re.M)),
    (
        Path("/etc/X11/xorg.conf.d/00-keyboard.conf"),
        re.compile(r'^\s*Option\s+"Xkb(Model|Layout|Variant|Options)"\s+"([^"\n]*)"', re.M),
    ),
)


@cache
def session_layout() -> Layout:
    """The layout of this session; the US one where none can be found.

    Asked in this order: the environment (`XKB_DEFAULT_LAYOUT` and its sisters, the names that libxkbcommon itself goes
    by), the X server, the system's files.
    """
    for names in session_names():
        try:
            return compile_layout(names)
        except XkbError:
            continue
    return us_layout()


def session_names(server: Callable[[], Names | None] | None = None) -> Iterator[Names]:
    """What each place that knows says, the surest first; `server` asks the X server."""
    given = {field: os.environ.get(f"XKB_DEFAULT_{field.upper()}", "") for field in _FIELDS}
    if given["layout"]:
        yield Names(**given)
    found = (server or _ask_server)()
    if found is not None:
        yield found
    for path, line in _FILES:
        try:
            fields = {name.lower(): value for name, value in line.findall(path.read_text())}
        except (OSError, UnicodeDecodeError):
            continue
        if fields.get("layout"):
            yield Names(**fields)


def _ask_server() -> Names | None:
    """What the X server was set up with, if there is one: the property that `setxkbmap` writes."""
    if not os.environ.get("DISPLAY"):
        return None
    from Xlib import X, display, error

    try:
        connection = display.Display()
    except (error.DisplayError, error.ConnectionClosedError, OSError):
        return None
    try:
        atom = connection.intern_atom("_XKB_RULES_NAMES", only_if_exists=True)
        found = connection.screen().root.get_full_property(atom, X.AnyPropertyType) if atom else None
        values = bytes(found.value).decode("utf-8", "replace").split("\0") if found is not None else []
        return Names(*values[:5]) if len(values) >= 5 and values[2] else None
    finally:
        connection.close()
