"""The words after `--pad`, taken apart in one place."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from enum import Enum
from pathlib import Path

from nub_shift.pads.pad import PadError


class PadKind(Enum):
    """Where a pad comes from, with what may stand behind it."""

    SIMULATED = "simulated[:NAME]"
    EVDEV = "evdev[:MATCH]"
    RECORDED = "recorded:FILE"

    @property
    def word(self) -> str:
        """How it is written."""
        return self.name.lower()


@dataclass(frozen=True)
class PadSpec:
    """Which pad is meant: the first of its kind that `match` fits, or the recording of that name."""

    kind: PadKind
    match: str

    @property
    def file(self) -> Path:
        """Of a recording."""
        return Path(self.match)


def parse_spec(text: str, kinds: Collection[PadKind] = tuple(PadKind)) -> PadSpec:
    """Takes apart what a person wrote.

    Raises:
        PadError: there is no such kind of pad, or not for this.
    """
    word, _, match = text.partition(":")
    for kind in kinds:
        if kind.word == word:
            return PadSpec(kind, match)
    raise PadError(f"--pad: there is no kind {word!r} here, expected {' or '.join(kind.value for kind in kinds)}")
