"""Keys and mouse buttons by their kernel names, with the kernel's numbers and a printed label.

The numbers are those of linux/input-event-codes.h; the labels are what a US keyboard prints. Only codes below 248
are here, since X11 keycodes are these numbers plus eight and end at 255.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class KeyInfo:
    """One key or mouse button: kernel name, kernel number, short printed label."""

    code: str
    number: int
    label: str


def _row(first: int, names: str) -> list[KeyInfo]:
    """Keys with consecutive numbers: `NAME` or `NAME=label`, with `·` for a blank; a dash skips a number."""
    found = []
    for offset, item in enumerate(names.split()):
        name, _, label = item.partition("=")
        if name != "-":
            found.append(KeyInfo(f"KEY_{name}", first + offset, (label or name).replace("·", " ")))
    return found


# X11's and Wayland's keycodes are the kernel's numbers plus eight.
KEYCODE_OFFSET = 8

_MOUSE = [
    KeyInfo("BTN_LEFT", 0x110, "Left click"),
    KeyInfo("BTN_RIGHT", 0x111, "Right click"),
    KeyInfo("BTN_MIDDLE", 0x112, "Middle click"),
    KeyInfo("BTN_SIDE", 0x113, "Side click"),
    KeyInfo("BTN_EXTRA", 0x114, "Extra click"),
]

_KEYS = [
    *_row(1, "ESC=Esc 1 2 3 4 5 6 7 8 9 0 MINUS=- EQUAL== BACKSPACE=Bksp TAB=Tab"),
    *_row(16, "Q W E R T Y U I O P LEFTBRACE=[ RIGHTBRACE=] ENTER=Enter LEFTCTRL=Ctrl"),
    *_row(30, "A S D F G H J K L SEMICOLON=; APOSTROPHE=' GRAVE=` LEFTSHIFT=Shift BACKSLASH=\\"),
    *_row(44, "Z X C V B N M COMMA=, DOT=. SLASH=/ RIGHTSHIFT=Right·shift KPASTERISK=Num·*"),
    *_row(56, "LEFTALT=Alt SPACE=Space CAPSLOCK=Caps F1 F2 F3 F4 F5 F6 F7 F8 F9 F10 NUMLOCK=Num·lock"),
    *_row(70, "SCROLLLOCK=Scroll·lock KP7=Num·7 KP8=Num·8 KP9=Num·9 KPMINUS=Num·- KP4=Num·4 KP5=Num·5"),
    *_row(77, "KP6=Num·6 KPPLUS=Num·+ KP1=Num·1 KP2=Num·2 KP3=Num·3 KP0=Num·0 KPDOT=Num·."),
    *_row(86, "102ND=<> F11 F12"),
    *_row(96, "KPENTER=Num·enter RIGHTCTRL=Right·ctrl KPSLASH=Num·/ SYSRQ=Print RIGHTALT=Right·alt"),
    *_row(102, "HOME=Home UP=↑ PAGEUP=Page·up LEFT=← RIGHT=→ END=End DOWN=↓ PAGEDOWN=Page·down INSERT=Ins"),
    *_row(111, "DELETE=Del - MUTE=Mute VOLUMEDOWN=Vol·- VOLUMEUP=Vol·+ - KPEQUAL=Num·= - PAUSE=Pause"),
    *_row(125, "LEFTMETA=Super RIGHTMETA=Right·super COMPOSE=Menu"),
    *_row(163, "NEXTSONG=Next PLAYPAUSE=Play PREVIOUSSONG=Previous STOPCD=Stop"),
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
    """The same codes with modifier keys in front, each group in its given order."""
    return tuple(sorted(codes, key=lambda code: code not in MODIFIERS))
