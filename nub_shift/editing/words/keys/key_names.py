"""Names of keys as written by people, and their codes."""

from __future__ import annotations

from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import Layout
from nub_shift.translation import trc

_SIDES = {"left": "BTN_LEFT", "right": "BTN_RIGHT", "middle": "BTN_MIDDLE"}
_NUMBERS = ("BTN_LEFT", "BTN_RIGHT", "BTN_MIDDLE", "BTN_SIDE", "BTN_EXTRA")
# Names of mouse buttons in games.
_MOUSE = {
    written: code
    for side, code in _SIDES.items()
    for written in (
        *(f"{side} mouse", f"mouse {side}", f"{side} mouse button", f"mouse button {side}", f"{side} button"),
        *(f"{side} click", f"{side[0]}mb"),
    )
} | {
    written: code
    for number, code in enumerate(_NUMBERS, 1)
    for written in (f"mouse {number}", f"mouse{number}", f"mouse button {number}", f"button {number}")
}
_MOUSE |= {
    **dict.fromkeys(trc("typed", "left mouse").split(", "), "BTN_LEFT"),
    **dict.fromkeys(trc("typed", "right mouse").split(", "), "BTN_RIGHT"),
    **dict.fromkeys(trc("typed", "middle mouse").split(", "), "BTN_MIDDLE"),
}
# English names of keys, short and long, accepted in every language.
_ENGLISH = {
    **dict.fromkeys(("ctrl", "control"), "KEY_LEFTCTRL"),
    **dict.fromkeys(("esc", "escape"), "KEY_ESC"),
    **dict.fromkeys(("enter", "return", *trc("typed", "enter").split(", ")), "KEY_ENTER"),
    **dict.fromkeys(("del", "delete"), "KEY_DELETE"),
    **dict.fromkeys(("ins", "insert"), "KEY_INSERT"),
    **dict.fromkeys(("bksp", "backspace"), "KEY_BACKSPACE"),
    **{"shift": "KEY_LEFTSHIFT", "space": "KEY_SPACE", "caps": "KEY_CAPSLOCK", "print": "KEY_SYSRQ"},
    **dict.fromkeys(("page up", "pageup", "pgup"), "KEY_PAGEUP"),
    **dict.fromkeys(("page down", "pagedown", "pgdn", "pgdown"), "KEY_PAGEDOWN"),
    **dict.fromkeys(("caps lock", "capslock"), "KEY_CAPSLOCK"),
    **dict.fromkeys(("space bar", "spacebar"), "KEY_SPACE"),
    **dict.fromkeys(("print screen", "printscreen", "prtsc", "prtscn"), "KEY_SYSRQ"),
    **dict.fromkeys(("scroll lock", "scrolllock"), "KEY_SCROLLLOCK"),
    **dict.fromkeys(("num lock", "numlock"), "KEY_NUMLOCK"),
    **dict.fromkeys(("tilde", "backtick", "grave"), "KEY_GRAVE"),
    **{"minus": "KEY_MINUS", "equals": "KEY_EQUAL", "comma": "KEY_COMMA", "slash": "KEY_SLASH"},
    **{"semicolon": "KEY_SEMICOLON", "apostrophe": "KEY_APOSTROPHE", "backslash": "KEY_BACKSLASH"},
    **dict.fromkeys(("period", "dot", "full stop"), "KEY_DOT"),
}
_MODIFIERS = {"shift": "SHIFT", "ctrl": "CTRL", "control": "CTRL", "alt": "ALT", "win": "META", "super": "META"}
_ENGLISH |= {
    written: f"KEY_{side.upper()}{code}"
    for name, code in _MODIFIERS.items()
    for side in ("left", "right")
    for written in (f"{side} {name}", f"{name} {side}", f"{side[0]}{name}", f"{side[0]} {name}")
}
_ENGLISH |= {
    written: f"KEY_{way.upper()}"
    for way in ("up", "down", "left", "right")
    for written in (f"{way} arrow", f"arrow {way}", f"arrow key {way}", f"{way} arrow key", f"cursor {way}")
}
_PAD_KEYS = {str(number): f"KP{number}" for number in range(10)} | {
    **dict.fromkeys(("+", "plus"), "KPPLUS"),
    **dict.fromkeys(("-", "minus"), "KPMINUS"),
    **{"*": "KPASTERISK", "/": "KPSLASH", ".": "KPDOT", "enter": "KPENTER"},
}
_ENGLISH |= {
    written: f"KEY_{code}"
    for name, code in _PAD_KEYS.items()
    for pad in ("numpad", "num", "keypad", "number pad", "kp")
    for written in (f"{pad} {name}", f"{pad}{name}")
}
# Characters between a name and its key, and around the key.
_BETWEEN = " ,;|-–—:=>→"
_AROUND = "()[]<>"
# Words that end a move's name more often than they name its key.
_ALSO_WORDS = {
    "left",
    "right",
    "up",
    "down",
    "home",
    "end",
    "menu",
    "pause",
    "back",
    "insert",
    "delete",
    "help",
    "enter",
}
_LONGEST_NAME = 5


def parted_by_spaces(line: str, layout: Layout) -> tuple[str, str] | None:
    """Returns a move's name and key separated by spaces alone, such as "Jump Space"; None if none is clear."""
    words = line.split()
    for count in range(min(_LONGEST_NAME, len(words) - 1), 0, -1):
        name = " ".join(words[-count:])
        label = " ".join(words[:-count]).rstrip(_BETWEEN)
        bare = name if codes_named(name, layout) is not None else name.strip(_AROUND)
        if label and bare and bare.casefold() not in _ALSO_WORDS and codes_named(bare, layout) is not None:
            return label, bare
    return None


def codes_named(text: str, layout: Layout) -> tuple[str, ...] | None:
    """Returns the codes named by label or kernel name, such as "Ctrl + F13"; None if one is unknown."""
    by_label = _MOUSE | _ENGLISH | {layout.label(code).casefold(): code for code in reversed(KEY_BY_CODE)}
    whole = by_label.get(text.strip().casefold())
    if whole is not None:
        return (whole,)
    codes = []
    for word in text.replace("+", " + ").split(" + "):
        name = word.strip()
        code = by_label.get(name.casefold()) or (name.upper() if name.upper() in KEY_BY_CODE else None)
        if code is None:
            return None
        codes.append(code)
    return tuple(dict.fromkeys(codes))


def written_name(code: str, layout: Layout) -> str:
    """Returns a name for a key that `codes_named` recognises, also among others: the label where unambiguous."""
    label = layout.label(code)
    clear = not set(label) & set(',+"') and codes_named(label, layout) == (code,)
    return label if clear else code
