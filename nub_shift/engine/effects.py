"""What a slot does once a reaction starts it, compiled from an assignment.

`begin` starts an effect and returns what must be ended later. The effects here are stateless, so they return
themselves; an effect with a course of its own (a sequence, a turbo) returns an object for that one run.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from nub_shift.engine.layers import LayerStack
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.values import WHEEL_CLICK, Output, Wheel
from nub_shift.model.profile import Wheel as WheelWay


@dataclass
class Desk:
    """What effects act on during one step: the shared ledger, the layers, and the outputs so far."""

    ledger: Ledger
    layers: LayerStack
    out: list[Output]


class Run(Protocol):
    """What a press started."""

    def end(self, desk: Desk, t_us: int) -> None:
        """Takes back what is still in force."""


class Effect(Protocol):
    """What happens.

    Attributes:
        owns_slot: once begun it stays until its slot is released, whatever layers do.
    """

    @property
    def owns_slot(self) -> bool: ...

    def begin(self, desk: Desk, t_us: int) -> Run: ...


@dataclass(frozen=True, eq=False)
class KeysEffect:
    """Keys and mouse buttons, down in order and up in reverse."""

    codes: tuple[str, ...]
    owns_slot = False

    def begin(self, desk: Desk, t_us: int) -> Run:
        desk.ledger.press(self.codes, t_us, desk.out)
        return self

    def end(self, desk: Desk, t_us: int) -> None:
        desk.ledger.release(self.codes, t_us, desk.out)


@dataclass(frozen=True, eq=False)
class WheelEffect:
    """One click of the wheel at the press."""

    x: int
    y: int
    owns_slot = False

    def begin(self, desk: Desk, t_us: int) -> Run:
        desk.out.append(Wheel(t_us, self.x, self.y))
        return self

    def end(self, desk: Desk, t_us: int) -> None:
        """Nothing is left in force."""


@dataclass(frozen=True, eq=False)
class LayerEffect:
    """A layer, on while held.

    It owns its slot: the layer that it brings on may give the slot something else, and following that would end the
    layer, which would bring it on again.
    """

    layer: int
    owns_slot = True

    def begin(self, desk: Desk, t_us: int) -> Run:  # noqa: ARG002 - one signature for all effects
        desk.layers.hold(self.layer)
        return self

    def end(self, desk: Desk, t_us: int) -> None:  # noqa: ARG002
        desk.layers.let_go(self.layer)


@dataclass(frozen=True, eq=False)
class Silence:
    """Nothing, on purpose: hides what lower layers have in the slot."""

    owns_slot = False

    def begin(self, desk: Desk, t_us: int) -> Run:  # noqa: ARG002
        return self

    def end(self, desk: Desk, t_us: int) -> None:
        """Nothing is in force."""


_WHEEL = {
    WheelWay.UP: WheelEffect(0, WHEEL_CLICK),
    WheelWay.DOWN: WheelEffect(0, -WHEEL_CLICK),
    WheelWay.LEFT: WheelEffect(-WHEEL_CLICK, 0),
    WheelWay.RIGHT: WheelEffect(WHEEL_CLICK, 0),
}


def wheel_effect(way: WheelWay) -> WheelEffect:
    """One click of the wheel that way."""
    return _WHEEL[way]
