"""What a keyboard layout types and prints: which keys make which character, and what stands on each key."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from nub_shift.keyboard.keys import KEY_BY_CODE

_SHIFTED = {
    **dict(zip("1234567890", "!@#$%^&*()", strict=True)),
    **dict(zip("-=[];'`\\,./", '_+{}:"~|<>?', strict=True)),
}
# The same on every layout.
_ALWAYS: dict[tuple[str, ...], str] = {("KEY_SPACE",): " ", ("KEY_ENTER",): "\n", ("KEY_TAB",): "\t"}


class Layout:
    """One keyboard layout.

    Attributes:
        name: as people know it, as in "us" or "de nodeadkeys".
        characters: codes that are pressed together, modifiers first, to the character that they type.
        typed: character to the codes that type it, the plainest way if there are several.
    """

    def __init__(self, name: str, characters: dict[tuple[str, ...], str]) -> None:
        """`characters` has plainer ways first."""
        self.name = name
        self.characters = {**_ALWAYS, **characters}
        self.typed: dict[str, tuple[str, ...]] = {}
        for codes, character in self.characters.items():
            self.typed.setdefault(character, codes)

    def character(self, held: tuple[str, ...], code: str) -> str:
        """Returns the character that a key types while some modifiers are held; empty if none."""
        return self.characters.get((*held, code)) or _ALWAYS.get((code,), "")

    def untyped(self, text: str) -> str:
        """Returns the characters of a text that the layout cannot type, each once, in order."""
        return "".join(sorted(set(text).difference(self.typed)))

    def label(self, code: str) -> str:
        """Returns the name of a key in the interface: the sign printed on it, a letter as a capital."""
        letter = self.characters.get((code,), "")
        if not letter or letter.isspace():
            return KEY_BY_CODE[code].label
        capital = letter.upper()
        return capital if len(capital) == 1 else letter  # the sharp s has none

    def combination(self, codes: tuple[str, ...]) -> str:
        """Several keys as people write them, as in "Ctrl + C"."""
        return " + ".join(self.label(code) for code in codes)


# Returns a layout. Called only once there is something to type, since finding a layout takes time.
LayoutSource = Callable[[], Layout]


@cache
def us_layout() -> Layout:
    """The layout that the labels in `keyboard.keys` are printed by."""
    plain: dict[tuple[str, ...], str] = {}
    shifted: dict[tuple[str, ...], str] = {}
    for key in KEY_BY_CODE.values():
        if len(key.label) == 1 and key.label.isascii() and not key.code.startswith("KEY_KP"):
            letter = key.label.lower()
            plain[key.code,] = letter
            shifted["KEY_LEFTSHIFT", key.code] = _SHIFTED.get(letter, letter.upper())
    return Layout("us", plain | shifted)
