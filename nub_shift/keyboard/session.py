"""Detection of the session's keyboard layout."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterator
from pathlib import Path

from nub_shift.keyboard.layout import Layout, us_layout
from nub_shift.keyboard.xkb import Names, XkbError, compile_layout

# Property of the root window with the layout's name, written by `setxkbmap` and desktops.
RULES_PROPERTY = "_XKB_RULES_NAMES"
_FIELDS = ("rules", "model", "layout", "variant", "options")
# Files with the system's layout of console and desktop, and the format of their lines.
_FILES = (
    (Path("/etc/default/keyboard"), re.compile(r'^XKB(MODEL|LAYOUT|VARIANT|OPTIONS)="?([^"\n]*)"?$', re.M)),
    (
        Path("/etc/X11/xorg.conf.d/00-keyboard.conf"),
        re.compile(r'^\s*Option\s+"Xkb(Model|Layout|Variant|Options)"\s+"([^"\n]*)"', re.M),
    ),
)


class SessionLayout:
    """The layout of this session; the US one where none can be found.

    Sources in this order: the environment (`XKB_DEFAULT_LAYOUT` and related variables of libxkbcommon), the X server,
    the system's files. Searched at the first call, and again by `refresh`.
    """

    def __init__(self) -> None:
        self._names: list[Names] = []
        self._layout: Layout | None = None

    def __call__(self) -> Layout:
        """Returns the layout of the last search."""
        if self._layout is None:
            self._names = list(session_names())
            self._layout = _first_layout(self._names)
        return self._layout

    @property
    def requested(self) -> bool:
        """Whether the layout has been requested."""
        return self._layout is not None

    @property
    def names(self) -> list[Names]:
        """Layout names of all sources at the last search."""
        return self._names

    def know(self, names: list[Names], layout: Layout) -> None:
        """Adopts a layout found by another process."""
        self._names, self._layout = names, layout

    def refresh(self) -> bool:
        """Searches again; returns whether the layout has changed."""
        if self._layout is None or list(session_names()) == self._names:
            return False
        self._layout = None
        return True


def _first_layout(found: list[Names]) -> Layout:
    for names in found:
        try:
            return compile_layout(names)
        except XkbError:
            continue
    return us_layout()


def session_names(server: Callable[[], Names | None] | None = None) -> Iterator[Names]:
    """Yields the layout names of all sources, the most reliable first; `server` includes the X server."""
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
    """Returns the layout of the X server by the property that `setxkbmap` writes; None without a server."""
    if not os.environ.get("DISPLAY"):
        return None
    from Xlib import X, display, error

    try:
        connection = display.Display()
    except (error.DisplayError, error.ConnectionClosedError, OSError):
        return None
    try:
        atom = connection.intern_atom(RULES_PROPERTY, only_if_exists=True)
        found = connection.screen().root.get_full_property(atom, X.AnyPropertyType) if atom else None
        values = bytes(found.value).decode("utf-8", "replace").split("\0") if found is not None else []
        return Names(*values[:5]) if len(values) >= 5 and values[2] else None
    finally:
        connection.close()
