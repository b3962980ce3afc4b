"""Actions that layers run at activation and deactivation."""

from __future__ import annotations

from nub_shift.engine.effect_context import EffectContext, Run, Slot
from nub_shift.engine.effects.plain import NOTHING, fire
from nub_shift.engine.program import Program
from nub_shift.engine.tally import count


class LayerRuns:
    """Runs of the active layers, one each."""

    def __init__(self, context: EffectContext) -> None:
        self._context = context
        self._entered: dict[int, Run] = {}
        self._were_on: tuple[int, ...] = ()

    def count_activated(self, program: Program) -> None:
        """Counts the layers activated since the last call."""
        before, self._were_on = self._were_on, self._context.layers.on
        for layer in self._were_on:
            if layer not in before:
                count(self._context.tally.layers, program.layer_ids[layer])

    def follow(self, program: Program, now_us: int, resuming: bool) -> None:
        """Runs the actions of activated layers, then those of deactivated ones, so that a shared key stays down.

        Args:
            resuming: play continues after a stop, so that no layer counts as just activated.
        """
        context, entered, on = self._context, self._entered, self._context.layers.on
        gone = [layer for layer in entered if layer not in on]
        for layer in on:
            if layer not in entered:
                slot = Slot(program.layer_ids[layer], now_us)
                effect = program.enters.get(layer)
                entered[layer] = NOTHING if effect is None else effect.resume(context, now_us, slot, resuming)
        for layer in gone:
            entered.pop(layer).end(context, now_us)
            if layer in program.leaves:
                fire(program.leaves[layer], context, now_us, Slot(program.layer_ids[layer], now_us))

    def cut(self, now_us: int) -> None:
        """Ends all runs at once."""
        for run in self._entered.values():
            run.cut(self._context, now_us)
        self._entered.clear()
