"""The engine of a seat, tuned to its pad, and the engines of the profiles that the seat has changed over from."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from nub_shift.engine.engine import Engine
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import Output
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.pad import Pad

# Smallest change of the bias that is written to the card.
BIAS_NEWS_DPS: Final = 0.02
# Number of profiles whose toggles and carousels are kept.
MOST_LEFT: Final = 8


class SeatEngine:
    """Plays one program at a time.

    Attributes:
        program: the loaded program, before tuning to a pad.
        engine: plays `program` tuned to the pad; replaced by `change_over` and `restart`.
    """

    def __init__(self, program: Program, ledger: Ledger) -> None:
        self.program = program
        self.engine = Engine(program, ledger)
        self._ledger = ledger
        self._tuned = program
        self._left: dict[str, Engine] = {}  # by file

    def tune(self, identities: Sequence[str], now_us: int, acts: bool) -> list[Output]:
        """Applies the profile's changes for the pad with these identities, the most specific first.

        Args:
            acts: whether presses have effects now.
        """
        tuned = self.program.on_pad(identities)
        if tuned is self._tuned:
            return []
        self._tuned = tuned
        return self.engine.retune(tuned, now_us) if acts else self.engine.replace(tuned, now_us, resumes=False)

    def load(self, program: Program, identities: Sequence[str], now_us: int, acts: bool) -> list[Output]:
        """Changes to another program. A program that differs in feels alone releases nothing."""
        retuned = self.program.retuned(program.profile)
        if retuned is not None:
            self.program = retuned
            return self.tune(identities, now_us, acts)
        self.program = program
        self._tuned = program.on_pad(identities)
        return self.engine.replace(self._tuned, now_us, acts)

    def change_over(
        self, program: Program, file: str, before: str, identities: Sequence[str], trim: PadTrim, now_us: int
    ) -> list[Output]:
        """Changes to the profile of another file, with its toggles and carousels as the seat left them.

        Args:
            file: file of the new profile.
            before: file of the former profile, or empty; its toggles and carousels are kept too.
        """
        learned = self.engine.learned_bias
        if before:
            self._left[before] = self.engine
        self.program = program
        self._tuned = program.on_pad(identities)
        left = self._left.pop(file, None)
        self.engine = left if left is not None else Engine(self._tuned, self._ledger)
        while len(self._left) > MOST_LEFT:
            del self._left[next(iter(self._left))]
        outputs: list[Output] = []
        if self.engine.program.plays_like(self._tuned):
            self._tuned = self.engine.program  # replacing the program would reset the toggles
        else:
            outputs = self.engine.replace(self._tuned, now_us, resumes=False)
        self.engine.fit(trim)
        if learned is not None and self.engine.learned_bias is None:
            self.engine.set_bias(learned)
        return outputs

    def restart(self, ledger: Ledger, trim: PadTrim) -> None:
        """Restarts on an empty ledger after a fault in play; the session releases all keys."""
        self._ledger = ledger
        self.engine = Engine(self._tuned, ledger, trim)
        self._left.clear()

    def keep_bias(self, pad: Pad) -> None:
        """Stores the learned gyro bias with the pad."""
        learned, known = self.engine.learned_bias, pad.gyro_bias
        if learned is None:
            return
        if known is None or max(abs(a - b) for a, b in zip(learned, known, strict=True)) > BIAS_NEWS_DPS:
            pad.keep_gyro_bias(learned)
