"""Rings and grids: a menu whose entries lie in directions or cells, chosen with a stick.

event                               confirm = release      confirm = click         confirm = enter
----------------------------------  ---------------------  ----------------------  ------------------------
the stick goes to an entry          it is chosen           it is chosen            it begins, the last ends
the stick goes back to the middle   the chosen one fires   nothing is chosen       the last one ends
the stick's click                                          the chosen one begins
the click is let go                                        it ends
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot

from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import fire
from nub_shift.engine.readers import StickReader
from nub_shift.engine.uses import ActiveUse, Flow, Sources
from nub_shift.model.actions import Confirm
from nub_shift.model.slot_names import SlotName

# The stick must come this much nearer to the middle than `radius` before it counts as back.
BACK_SHARE = 0.8
# How far past the border of its entry the stick must go before the next one is chosen.
BORDER_DEGREES = 4.0


@dataclass(frozen=True, eq=False)
class RingUse:
    """A compiled ring, or a grid with `columns`."""

    entries: tuple[Effect, ...]
    confirm: Confirm
    radius: float
    columns: int
    steady = True
    heeds_click = True

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return OpenRing(self, name, sources.sticks[name], sources.buttons[SlotName(name, "click").text])

    def entry_at(self, x: float, y: float, now: int | None) -> int | None:
        """The entry that the stick at (x, y) points to, when `now` is the one it pointed to before."""
        distance = hypot(x, y)
        if self.columns:
            return self._cell_at(x, y)
        if distance < self.radius * (BACK_SHARE if now is not None else 1.0):
            return None
        width = 360.0 / len(self.entries)
        angle = degrees(atan2(x, -y))
        if now is not None:
            offset = (angle - now * width + 180.0) % 360.0 - 180.0
            if abs(offset) <= width / 2.0 + BORDER_DEGREES:
                return now
        return round((angle % 360.0) / width) % len(self.entries)

    def _cell_at(self, x: float, y: float) -> int | None:
        """Cells fill the square from the left and from above; the middle of the stick is the middle of the grid."""
        if max(abs(x), abs(y)) < self.radius / 2.0:
            return None
        rows = -(-len(self.entries) // self.columns)
        column = min(int((x + 1.0) / 2.0 * self.columns), self.columns - 1)
        row = min(int((y + 1.0) / 2.0 * rows), rows - 1)
        cell = row * self.columns + column
        return cell if cell < len(self.entries) else None


class OpenRing:
    """A ring at work on one stick.

    It waits until it has seen the stick in the middle: one that opens under a stick that is out already would choose
    what nobody meant, and two rings that open each other would never come to rest.

    Attributes:
        chosen: the entry that the stick points to, or None.
    """

    def __init__(self, use: RingUse, name: str, stick: StickReader, click: Slot) -> None:
        self._use = use
        self._stick = stick
        self._click = click
        self.chosen: int | None = None
        self._slot = Slot(name)
        self._run: Run | None = None
        self._clicked = False
        self._armed = False

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002 - as all uses
        self.follow(*self._stick.position, self._click.down, context, now_us)

    def leave(self, context: EffectContext, now_us: int) -> None:
        self._end(context, now_us)

    def follow(self, x: float, y: float, clicked: bool, context: EffectContext, t_us: int) -> None:
        """Acts on where the stick is and on its click."""
        before, self.chosen = self.chosen, self._use.entry_at(x, y, self.chosen)
        if not self._armed:
            self._armed = self.chosen is None
            self.chosen = None
            return
        match self._use.confirm:
            case Confirm.RELEASE:
                if before is not None and self.chosen is None:
                    fire(self._use.entries[before], context, t_us, self._slot)
            case Confirm.ENTER:
                if before != self.chosen:
                    self._end(context, t_us)
                    self._begin(context, t_us)
            case Confirm.CLICK:
                if clicked and not self._clicked:
                    self._begin(context, t_us)
                elif not clicked:
                    self._end(context, t_us)
        self._clicked = clicked

    def let_go(self, context: EffectContext, t_us: int) -> None:
        run, self._run = self._run, None
        if run is not None:
            run.cut(context, t_us)

    def _end(self, context: EffectContext, t_us: int) -> None:
        """What has begun ends as by a release."""
        run, self._run = self._run, None
        if run is not None:
            run.end(context, t_us)

    def _begin(self, context: EffectContext, t_us: int) -> None:
        if self.chosen is not None:
            self._run = self._use.entries[self.chosen].begin(context, t_us, self._slot)
