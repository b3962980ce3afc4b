"""How a person writes keys, and what is meant by it."""

from __future__ import annotations

from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import Layout


def codes_named(text: str, layout: Layout) -> tuple[str, ...] | None:
    """The codes that a person named by label or kernel name, as "Ctrl + F13"; None if one of them is unknown."""
    by_label = {layout.label(code).casefold(): code for code in reversed(KEY_BY_CODE)}
    codes = []
    for word in text.replace("+", " + ").split(" + "):
        name = word.strip()
        code = by_label.get(name.casefold()) or (name.upper() if name.upper() in KEY_BY_CODE else None)
        if code is None:
            return None
        codes.append(code)
    return tuple(dict.fromkeys(codes))


def written_name(code: str, layout: Layout) -> str:
    """How a person writes a key so that `codes_named` finds it, also among others: by label where that is clear."""
    label = layout.label(code)
    clear = not set(label) & set(',+"') and codes_named(label, layout) == (code,)
    return label if clear else code
