"""Which keys type which character on a keyboard layout."""

from __future__ import annotations

from nub_shift.model.keys import KEY_BY_CODE

# Character to the codes that type it together, modifiers first.
Layout = dict[str, tuple[str, ...]]

_SHIFTED = {
    **dict(zip("1234567890", "!@#$%^&*()", strict=True)),
    **dict(zip("-=[];'`\\,./", '_+{}:"~|<>?', strict=True)),
}


def us_layout() -> Layout:
    """The layout that the labels in `model.keys` are printed by."""
    layout: Layout = {" ": ("KEY_SPACE",), "\n": ("KEY_ENTER",), "\t": ("KEY_TAB",)}
    for key in KEY_BY_CODE.values():
        if len(key.label) == 1 and key.label.isascii() and not key.code.startswith("KEY_KP"):
            plain = key.label.lower()
            shifted = _SHIFTED.get(plain, plain.upper())
            layout[plain] = (key.code,)
            layout[shifted] = ("KEY_LEFTSHIFT", key.code)
    return layout
