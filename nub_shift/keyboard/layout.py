"""A keyboard layout: the keys of each character, and the label of each key."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from nub_shift.keyboard.keys import KEY_BY_CODE

_SHIFTED = {
    **dict(zip("1234567890", "!@#$%^&*()", strict=True)),
    **dict(zip("-=[];'`\\,./", '_+{}:"~|<>?', strict=True)),
}
# Equal on every layout.
_ALWAYS: dict[tuple[str, ...], str] = {("KEY_SPACE",): " ", ("KEY_ENTER",): "\n", ("KEY_TAB",): "\t"}


class Layout:
    """One keyboard layout.

    Attributes:
        name: common name, such as "us" or "de nodeadkeys".
        characters: codes pressed together, modifiers first, to the typed character.
        typed: character to the codes that type it, by the fewest modifiers.
    """

    def __init__(self, name: str, characters: dict[tuple[str, ...], str]) -> None:
        """`characters` lists combinations with fewer modifiers first."""
        self.name = name
        self.characters = {**_ALWAYS, **characters}
        self.typed: dict[str, tuple[str, ...]] = {}
        for codes, character in self.characters.items():
            self.typed.setdefault(character, codes)

    def character(self, held: tuple[str, ...], code: str) -> str:
        """Returns the character that a key types with these modifiers held; empty if none."""
        return self.characters.get((*held, code)) or _ALWAYS.get((code,), "")

    def untyped(self, text: str) -> str:
        """Returns the characters of a text that the layout cannot type, each once, in order."""
        return "".join(sorted(set(text).difference(self.typed)))

    def label(self, code: str) -> str:
        """Returns the name of a key in the interface: its printed sign, a letter as a capital."""
        letter = self.characters.get((code,), "")
        if not letter or letter.isspace():
            return KEY_BY_CODE[code].label
        capital = letter.upper()
        return capital if len(capital) == 1 else letter  # the sharp s has no capital

    def combination(self, codes: tuple[str, ...]) -> str:
        """Returns the name of a key combination, such as "Ctrl + C"."""
        return " + ".join(self.label(code) for code in codes)


# Returns a layout. Called when the first text is typed, since finding a layout takes time.
LayoutSource = Callable[[], Layout]


@cache
def us_layout() -> Layout:
    """Returns the layout of the labels in `keyboard.keys`."""
    plain: dict[tuple[str, ...], str] = {}
    shifted: dict[tuple[str, ...], str] = {}
    for key in KEY_BY_CODE.values():
        if len(key.label) == 1 and key.label.isascii() and not key.code.startswith("KEY_KP"):
            letter = key.label.lower()
            plain[key.code,] = letter
            shifted["KEY_LEFTSHIFT", key.code] = _SHIFTED.get(letter, letter.upper())
    return Layout("us", plain | shifted)
