"""Parsing of the text after `--pad`."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from pathlib import Path

from nub_shift.model.kinds import PadKind
from nub_shift.model.messages import Code
from nub_shift.pads.pad import PadError


@dataclass(frozen=True)
class PadSpec:
    """Requested pad: the first of a kind that `match` fits, or the recording of that name."""

    kind: PadKind
    match: str

    @property
    def text(self) -> str:
        """Returns the written form."""
        return f"{self.kind.word}:{self.match}" if self.match else self.kind.word

    @property
    def file(self) -> Path:
        """File of a recording."""
        return Path(self.match)


def parse_spec(text: str, kinds: Collection[PadKind] = tuple(PadKind)) -> PadSpec:
    """Parses the text after `--pad`.

    Raises:
        PadError: unknown kind of pad, or one not accepted here.
    """
    word, _, match = text.partition(":")
    for kind in kinds:
        if kind.word == word:
            return PadSpec(kind, match)
    raise PadError(Code.NO_SUCH_KIND_OF_PAD, kind=word, known=[kind.value for kind in kinds])
