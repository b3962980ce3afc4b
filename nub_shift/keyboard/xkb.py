"""Keyboard layouts compiled by libxkbcommon, the system's own library, through its C interface."""

from __future__ import annotations

import ctypes
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache

from nub_shift.keyboard.keys import KEY_BY_CODE, KEYCODE_OFFSET, MODIFIERS, MOUSE_BUTTONS
from nub_shift.keyboard.layout import Layout
from nub_shift.translation import tr

LIBRARY = "libxkbcommon.so.0"
_NO_ENVIRONMENT_NAMES = 2
_KEY_DOWN = 1
# Combinations of modifiers, those with the fewest first.
_LEVELS: tuple[tuple[str, ...], ...] = (
    (),
    ("KEY_LEFTSHIFT",),
    ("KEY_RIGHTALT",),
    ("KEY_LEFTSHIFT", "KEY_RIGHTALT"),
)


@dataclass(frozen=True)
class Names:
    """Name of a layout in terms of the X Keyboard Extension; of several layouts the first counts."""

    rules: str = ""
    model: str = ""
    layout: str = ""
    variant: str = ""
    options: str = ""


class XkbError(Exception):
    """The library is missing, or has no such layout."""


class _RuleNames(ctypes.Structure):
    _fields_ = [(name, ctypes.c_char_p) for name in ("rules", "model", "layout", "variant", "options")]


def compile_layout(names: Names) -> Layout:
    """Compiles the layout of names.

    Raises:
        XkbError: the layout cannot be compiled.
    """
    library = _library()
    context = library.xkb_context_new(_NO_ENVIRONMENT_NAMES)
    if not context:
        raise XkbError(tr("the keyboard library does not start"))
    try:
        library.xkb_context_set_log_level(context, 0)
        wanted = _RuleNames(
            *(getattr(names, name).encode() for name in ("rules", "model", "layout", "variant", "options"))
        )
        keymap = library.xkb_keymap_new_from_names(context, ctypes.byref(wanted), 0)
        if not keymap:
            raise XkbError(
                tr(
                    "there is no keyboard layout {layout!r} {variant!r}", layout=names.layout, variant=names.variant
                ).replace(" ''", "")
            )
        try:
            return _layout(library, keymap, names)
        finally:
            library.xkb_keymap_unref(keymap)
    finally:
        library.xkb_context_unref(context)


def _layout(library: ctypes.CDLL, keymap: int, names: Names) -> Layout:
    characters = {(*held, code): letter for held in _LEVELS for code, letter in _characters(library, keymap, held)}
    layout, variant = names.layout.partition(",")[0], names.variant.partition(",")[0]
    return Layout(f"{layout or 'us'} {variant}".strip(), characters)


def _characters(library: ctypes.CDLL, keymap: int, held: tuple[str, ...]) -> Iterable[tuple[str, str]]:
    """Yields every key that types a character with some keys held, and the character."""
    state = library.xkb_state_new(keymap)
    try:
        for code in held:
            library.xkb_state_update_key(state, KEY_BY_CODE[code].number + KEYCODE_OFFSET, _KEY_DOWN)
        for code, key in KEY_BY_CODE.items():
            if code in MOUSE_BUTTONS or code in MODIFIERS or code.startswith("KEY_KP"):
                continue
            point = library.xkb_state_key_get_utf32(state, key.number + KEYCODE_OFFSET)
            if point and not chr(point).isspace() and chr(point).isprintable():
                yield code, chr(point)
    finally:
        library.xkb_state_unref(state)


@cache
def _library() -> ctypes.CDLL:
    try:
        library = ctypes.CDLL(LIBRARY)
    except OSError:
        raise XkbError(tr("{library} is not installed", library=LIBRARY)) from None
    pointer, uint = ctypes.c_void_p, ctypes.c_uint32
    for name, result, arguments in (
        ("xkb_context_new", pointer, [ctypes.c_int]),
        ("xkb_context_set_log_level", None, [pointer, ctypes.c_int]),
        ("xkb_context_unref", None, [pointer]),
        ("xkb_keymap_new_from_names", pointer, [pointer, pointer, ctypes.c_int]),
        ("xkb_keymap_unref", None, [pointer]),
        ("xkb_state_new", pointer, [pointer]),
        ("xkb_state_update_key", ctypes.c_int, [pointer, uint, ctypes.c_int]),
        ("xkb_state_key_get_utf32", uint, [pointer, uint]),
        ("xkb_state_unref", None, [pointer]),
    ):
        function = getattr(library, name)
        function.restype = result
        function.argtypes = arguments
    return library
