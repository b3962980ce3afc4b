"""Keys and mouse buttons by their kernel names, with the kernel's numbers and a printed label.

The numbers are those of linux/input-event-codes.h. The labels are those of a US keyboard, or of keyboards in the
language of the interface. Codes end at 247, since X11 keycodes are larger by eight and end at 255.
"""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.translation import trc

# Prefix of labels on the number pad.
NUMBER_PAD = trc("a key", "Num") + " "


@dataclass(frozen=True)
class KeyInfo:
    """One key or mouse button: kernel name, kernel number, short printed label."""

    code: str
    number: int
    label: str


# Labels of keys with more than a sign printed on them.
_NAMES: dict[str, str] = {
    "ESC": trc("a key", "Esc"),
    "BACKSPACE": trc("a key", "Bksp"),
    "TAB": trc("a key", "Tab"),
    "ENTER": trc("a key", "Enter"),
    "LEFTCTRL": trc("a key", "Ctrl"),
    "LEFTSHIFT": trc("a key", "Shift"),
    "RIGHTSHIFT": trc("a key", "Right shift"),
    "LEFTALT": trc("a key", "Alt"),
    "SPACE": trc("a key", "Space"),
    "CAPSLOCK": trc("a key", "Caps"),
    "NUMLOCK": trc("a key", "Num lock"),
    "SCROLLLOCK": trc("a key", "Scroll lock"),
    "KPENTER": trc("a key", "Num enter"),
    "RIGHTCTRL": trc("a key", "Right ctrl"),
    "SYSRQ": trc("a key", "Print"),
    "RIGHTALT": trc("a key", "Right alt"),
    "HOME": trc("a key", "Home"),
    "PAGEUP": trc("a key", "Page up"),
    "END": trc("a key", "End"),
    "PAGEDOWN": trc("a key", "Page down"),
    "INSERT": trc("a key", "Ins"),
    "DELETE": trc("a key", "Del"),
    "MUTE": trc("a key", "Mute"),
    "VOLUMEDOWN": trc("a key", "Vol -"),
    "VOLUMEUP": trc("a key", "Vol +"),
    "PAUSE": trc("a key", "Pause"),
    "LEFTMETA": trc("a key", "Super"),
    "RIGHTMETA": trc("a key", "Right super"),
    "COMPOSE": trc("a key", "Menu"),
    "NEXTSONG": trc("a key", "Next"),
    "PLAYPAUSE": trc("a key", "Play"),
    "PREVIOUSSONG": trc("a key", "Previous"),
    "STOPCD": trc("a key", "Stop"),
}


def _row(first: int, names: str) -> list[KeyInfo]:
    """Returns keys with consecutive numbers: `NAME` or `NAME=sign`; a dash skips a number."""
    found = []
    for offset, item in enumerate(names.split()):
        name, _, sign = item.partition("=")
        label = _NAMES.get(name) or sign or name
        if name.startswith("KP") and name not in _NAMES:
            label = NUMBER_PAD + label  # has the same signs as other keys
        if name != "-":
            found.append(KeyInfo(f"KEY_{name}", first + offset, label))
    return found


# Keycodes of X11 and Wayland are the kernel's numbers plus eight.
KEYCODE_OFFSET = 8

_MOUSE = [
    KeyInfo("BTN_LEFT", 0x110, trc("a key", "Left click")),
    KeyInfo("BTN_RIGHT", 0x111, trc("a key", "Right click")),
    KeyInfo("BTN_MIDDLE", 0x112, trc("a key", "Middle click")),
    KeyInfo("BTN_SIDE", 0x113, trc("a key", "Side click")),
    KeyInfo("BTN_EXTRA", 0x114, trc("a key", "Extra click")),
]

_KEYS = [
    *_row(1, "ESC 1 2 3 4 5 6 7 8 9 0 MINUS=- EQUAL== BACKSPACE TAB"),
    *_row(16, "Q W E R T Y U I O P LEFTBRACE=[ RIGHTBRACE=] ENTER LEFTCTRL"),
    *_row(30, "A S D F G H J K L SEMICOLON=; APOSTROPHE=' GRAVE=` LEFTSHIFT BACKSLASH=\\"),
    *_row(44, "Z X C V B N M COMMA=, DOT=. SLASH=/ RIGHTSHIFT KPASTERISK=*"),
    *_row(56, "LEFTALT SPACE CAPSLOCK F1 F2 F3 F4 F5 F6 F7 F8 F9 F10 NUMLOCK"),
    *_row(70, "SCROLLLOCK KP7=7 KP8=8 KP9=9 KPMINUS=- KP4=4 KP5=5"),
    *_row(77, "KP6=6 KPPLUS=+ KP1=1 KP2=2 KP3=3 KP0=0 KPDOT=."),
    *_row(86, "102ND=<> F11 F12"),
    *_row(96, "KPENTER RIGHTCTRL KPSLASH=/ SYSRQ RIGHTALT"),
    *_row(102, "HOME UP=↑ PAGEUP LEFT=← RIGHT=→ END DOWN=↓ PAGEDOWN INSERT"),
    *_row(111, "DELETE - MUTE VOLUMEDOWN VOLUMEUP - KPEQUAL== - PAUSE"),
    *_row(125, "LEFTMETA RIGHTMETA COMPOSE"),
    *_row(163, "NEXTSONG PLAYPAUSE PREVIOUSSONG STOPCD"),
    *_row(183, "F13 F14 F15 F16 F17 F18 F19 F20 F21 F22 F23 F24"),
]

KEY_BY_CODE: dict[str, KeyInfo] = {key.code: key for key in (*_KEYS, *_MOUSE)}
CODE_BY_NUMBER: dict[int, str] = {key.number: key.code for key in KEY_BY_CODE.values()}
MOUSE_BUTTONS: frozenset[str] = frozenset(key.code for key in _MOUSE)
MODIFIERS: tuple[str, ...] = (
    "KEY_LEFTCTRL",
    "KEY_RIGHTCTRL",
    "KEY_LEFTSHIFT",
    "KEY_RIGHTSHIFT",
    "KEY_LEFTALT",
    "KEY_RIGHTALT",
    "KEY_LEFTMETA",
    "KEY_RIGHTMETA",
)


def modifiers_first(codes: tuple[str, ...]) -> tuple[str, ...]:
    """Returns the codes with modifier keys first, each group in its given order."""
    return tuple(sorted(codes, key=lambda code: code not in MODIFIERS))
