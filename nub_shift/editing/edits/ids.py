"""Identifiers generated from labels."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection

_MAX = 32


def fresh_id(label: str, taken: Collection[str]) -> str:
    """Returns an unused identifier derived from a label, such as "walk_forward"."""
    plain = unicodedata.normalize("NFKD", label).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:_MAX]
    if not stem or not stem[0].isalpha():
        stem = f"n_{stem}".rstrip("_")
    found, number = stem, 2
    while found in taken:
        found, number = f"{stem}_{number}", number + 1
    return found
