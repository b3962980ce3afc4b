"""A stick as the pointer's place around a centre."""

from __future__ import annotations

from math import hypot

from nub_shift.engine.effect_context import EffectContext
from nub_shift.engine.values import Pointer
from nub_shift.model.actions import PointerPosition


class PlacedPointer:
    """The pointer's offset from where it was when the stick left rest, in counts.

    With a ring the pointer goes straight to the ring in the stick's direction; otherwise it follows the stick. `hold`
    is pressed while the stick is out. Back at rest the pointer is back at its centre.
    """

    def __init__(self) -> None:
        self._x = self._y = 0
        self._held: tuple[str, ...] = ()

    @property
    def out(self) -> bool:
        """Whether the pointer is away from its centre or something is held."""
        return bool(self._x or self._y or self._held)

    def follow(self, use: PointerPosition | None, x: float, y: float, context: EffectContext, t_us: int) -> None:
        """Puts the pointer where the shaped stick position (x, y) says; None takes it back."""
        length = hypot(x, y)
        if use is None or length == 0.0:
            self._hold((), context, t_us)
            self._go(0, 0, context, t_us)
            return
        if use.ring:
            x, y = x / length, y / length
        self._go(round(x * use.x), round(y * use.y), context, t_us)
        self._hold(use.hold, context, t_us)

    def let_go(self, context: EffectContext, t_us: int) -> None:
        """Everything ends: what is held is released, the pointer stays where it is."""
        self._hold((), context, t_us)
        self._x = self._y = 0

    def _go(self, x: int, y: int, context: EffectContext, t_us: int) -> None:
        dx, dy = x - self._x, y - self._y
        if (dx or dy) and context.budget.take(t_us):
            self._x, self._y = x, y
            context.out.append(Pointer(t_us, dx, dy))

    def _hold(self, codes: tuple[str, ...], context: EffectContext, t_us: int) -> None:
        if codes != self._held:
            before, self._held = self._held, codes
            context.ledger.press(codes, t_us, context.out)
            context.ledger.release(before, t_us, context.shortest_us, context.out)
