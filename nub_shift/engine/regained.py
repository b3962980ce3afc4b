"""Toggles released while the game is not in front or play is stopped, and switched on again afterwards."""

from __future__ import annotations

from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.effects.manners import Toggle, ToggleRun, switch_on


class RegainedToggles:
    """The released toggles; true while there are any."""

    def __init__(self) -> None:
        self._slots: dict[Toggle, Slot] = {}

    def __bool__(self) -> bool:
        return bool(self._slots)

    def note(self, context: EffectContext) -> list[ToggleRun]:
        """Records and returns the active toggles that are to be regained."""
        runs = [run for run in context.detached if isinstance(run, ToggleRun) and run.toggle.regain]
        self._slots.update((run.toggle, run.slot) for run in runs)
        return runs

    def switch_on(self, context: EffectContext, now_us: int) -> None:
        """Switches the recorded toggles on, unless the person has done so meanwhile."""
        for toggle, slot in self._slots.items():
            if toggle not in context.memory:
                switch_on(toggle, context, now_us, slot)
        self.forget()

    def forget(self) -> None:
        """Forgets the recorded toggles."""
        self._slots = {}
