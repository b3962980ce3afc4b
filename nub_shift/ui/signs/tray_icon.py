"""Tray icon with a menu over D-Bus, by the StatusNotifierItem and dbusmenu protocols.

Qt has both for programs with widgets, which would take a tenth of this process's memory.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Final

from jeepney import DBusAddress, MatchRule
from PyQt6.QtGui import QImage

from nub_shift.desktop_bus.bus import NOTHING, Body, Bus, Method, Served

_WATCHER: Final = DBusAddress(
    "/StatusNotifierWatcher", bus_name="org.kde.StatusNotifierWatcher", interface="org.kde.StatusNotifierWatcher"
)
_ITEM: Final = "org.kde.StatusNotifierItem"
_ITEM_PATH: Final = "/StatusNotifierItem"
_MENU: Final = "com.canonical.dbusmenu"
_MENU_PATH: Final = "/MenuBar"
_MENU_VERSION: Final = 3
_ROOT: Final = 0


@dataclass(frozen=True)
class Entry:
    """A line of the menu; without a text a separator, without an action a plain text.

    Attributes:
        checked: whether it is ticked; None for an untickable line.
        inner: submenu.
    """

    text: str = ""
    act: Callable[[], None] | None = None
    checked: bool | None = None
    inner: Sequence[Entry] = ()


@dataclass
class _Row:
    """An entry with its number for panels."""

    entry: Entry
    number: int
    inner: list[_Row] = field(default_factory=list)

    def __iter__(self) -> Iterator[_Row]:
        yield self
        for row in self.inner:
            yield from row


class TrayIcon:
    """Shown by any panel, present or later."""

    def __init__(self, bus: Bus, title: str, activated: Callable[[], None], entries: Callable[[], list[Entry]]) -> None:
        """`activated` is called for a click, `entries` returns the menu whenever it is opened."""
        self._bus = bus
        self._title = title
        self._activated = activated
        self._entries = entries
        self._tip = ""
        self._pixmaps: list[tuple[int, int, bytes]] = []
        self._shown = False
        self._revision = 0
        self._stale = True  # the menu is built on request
        self._root = _Row(Entry(), _ROOT)
        self._rows = {_ROOT: self._root}

    def show(self, pictures: Sequence[QImage], tip: str) -> None:
        """Shows pictures of several sizes, and a tooltip."""
        self._pixmaps, self._tip = [_pixmap(picture) for picture in pictures], tip.replace("\0", "")
        self._stale = True
        self._revision += 1
        if self._shown:
            self._bus.say(_ITEM_PATH, _ITEM, "NewIcon")
            self._bus.say(_ITEM_PATH, _ITEM, "NewToolTip")
            self._bus.say(_MENU_PATH, _MENU, "LayoutUpdated", ("ui", (self._revision, _ROOT)))
            return
        self._shown = True
        self._bus.serve(_ITEM_PATH, self._item())
        self._bus.serve(_MENU_PATH, self._menu())
        came = MatchRule(type="signal", interface="org.freedesktop.DBus", member="NameOwnerChanged")
        came.add_arg_condition(0, _WATCHER.bus_name)
        self._bus.subscribe(came, lambda _values: self._register())
        self._bus.when_ready(self._register)

    def _register(self) -> None:
        self._bus.call(_WATCHER, "RegisterStatusNotifierItem", ("s", (self._bus.name,)))

    def _item(self) -> Served:
        def clicked(_x: int, _y: int) -> Body:
            self._activated()
            return NOTHING

        def nothing(*_values: Any) -> Body:
            return NOTHING

        def properties() -> Mapping[str, tuple[str, Any]]:
            return {
                "Category": ("s", "Hardware"),
                "Id": ("s", "nub-shift"),
                "Title": ("s", self._title),
                "Status": ("s", "Active"),
                "WindowId": ("i", 0),
                "IconName": ("s", ""),
                "IconPixmap": ("a(iiay)", self._pixmaps),
                "ToolTip": ("(sa(iiay)ss)", ("", [], self._title, self._tip)),
                "ItemIsMenu": ("b", False),
                "Menu": ("o", _MENU_PATH),
            }

        # Panels show the menu themselves.
        methods: dict[str, Method] = {
            "Activate": clicked,
            "SecondaryActivate": nothing,
            "ContextMenu": nothing,
            "Scroll": nothing,
        }
        return Served(_ITEM, methods, properties)

    def _menu(self) -> Served:
        def layout(parent: int, depth: int, wanted: Sequence[str]) -> Body:
            if self._stale:
                self._fill()
            return "u(ia{sv}av)", (self._revision, _described(self._rows[parent], depth, wanted))

        def group(numbers: Sequence[int], wanted: Sequence[str]) -> Body:
            rows = [self._rows[number] for number in numbers or self._rows if number in self._rows]
            return "a(ia{sv})", ([(row.number, _properties(row, wanted)) for row in rows],)

        def one(number: int, name: str) -> Body:
            return "v", (_properties(self._rows[number], [name])[name],)

        def event(number: int, kind: str, _data: Any, _time: int) -> Body:
            row = self._rows[number]
            if kind == "clicked" and row.entry.act is not None:
                row.entry.act()
            return NOTHING

        def events(several: Sequence[tuple[int, str, Any, int]]) -> Body:
            known = [each for each in several if each[0] in self._rows]
            for each in known:
                event(*each)
            return "ai", ([each[0] for each in several if each not in known],)

        def about_to_show(number: int) -> Body:
            return "b", (number == _ROOT and self._fill(),)

        def about_to_show_group(numbers: Sequence[int]) -> Body:
            changed = _ROOT in numbers and self._fill()
            return "aiai", ([_ROOT] if changed else [], [number for number in numbers if number not in self._rows])

        def properties() -> Mapping[str, tuple[str, Any]]:
            return {
                "Version": ("u", _MENU_VERSION),
                "TextDirection": ("s", "ltr"),
                "Status": ("s", "normal"),
                "IconThemePath": ("as", []),
            }

        methods: dict[str, Method] = {
            "GetLayout": layout,
            "GetGroupProperties": group,
            "GetProperty": one,
            "Event": event,
            "EventGroup": events,
            "AboutToShow": about_to_show,
            "AboutToShowGroup": about_to_show_group,
        }
        return Served(_MENU, methods, properties)

    def _fill(self) -> bool:
        """Rebuilds the menu; returns whether it has changed."""
        self._stale = False
        before = _described(self._root, -1, ())
        self._root = _numbered(Entry(inner=self._entries()))
        self._rows = {row.number: row for row in self._root}
        changed = _described(self._root, -1, ()) != before
        self._revision += changed
        return changed


def _numbered(entry: Entry) -> _Row:
    """Returns the menu with numbered lines."""
    following = iter(range(_ROOT, 1 << 30))

    def numbered(entry: Entry) -> _Row:
        number = next(following)
        return _Row(entry, number, [numbered(inner) for inner in entry.inner])

    return numbered(entry)


def _described(row: _Row, depth: int, wanted: Sequence[str]) -> tuple[int, dict[str, Any], list[Any]]:
    """Returns a line as (ia{sv}av), with submenus to a depth, or all for -1."""
    inner = [("(ia{sv}av)", _described(below, depth - 1, wanted)) for below in row.inner] if depth else []
    return row.number, _properties(row, wanted), inner


def _properties(row: _Row, wanted: Sequence[str]) -> dict[str, Any]:
    entry = row.entry
    said: dict[str, Any] = {}
    if row.number == _ROOT or entry.inner:
        said["children-display"] = ("s", "submenu")
    if row.number == _ROOT:
        pass
    elif not entry.text:
        said["type"] = ("s", "separator")
    else:
        # A single underscore marks the access key; texts on a bus have no NUL.
        said["label"] = ("s", entry.text.replace("_", "__").replace("\0", ""))
        said["enabled"] = ("b", entry.act is not None or bool(entry.inner))
    if entry.checked is not None:
        said["toggle-type"], said["toggle-state"] = ("s", "checkmark"), ("i", int(entry.checked))
    return {name: value for name, value in said.items() if not wanted or name in wanted}


def _pixmap(picture: QImage) -> tuple[int, int, bytes]:
    """Returns width, height, and pixels of four bytes from alpha to blue, as in the protocol."""
    made = picture.convertToFormat(QImage.Format.Format_RGBA8888)
    bits = made.constBits()
    pixels = bytes(bits.asarray(made.sizeInBytes())) if bits is not None else b""
    swapped = bytearray(len(pixels))
    for place, channel in enumerate((3, 0, 1, 2)):
        swapped[place::4] = pixels[channel::4]
    return made.width(), made.height(), bytes(swapped)
