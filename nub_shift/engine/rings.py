"""Rings and grids: a menu whose entries lie in directions or cells, chosen with a stick.

event                              release               click              enter              let_go
---------------------------------  --------------------  -----------------  -----------------  --------------------
the stick goes to an entry         it is chosen          it is chosen       it begins, the     it is chosen
                                                                            last one ends
the stick goes back to the middle  the chosen one fires  nothing is chosen  the last one ends  nothing is chosen
the stick's click                                        the chosen begins
the click is let go                                      it ends
the layer with the ring ends       nothing               it ends            it ends            the chosen one fires

What is chosen by release, or by letting go, is what the stick pointed at when it was furthest out, or where it stood
still for `DWELL_US`; never what it crosses on its way back. In a grid an entry is entered once the stick has come to
rest in it for `ENTER_US`, since the way to one cell leads through others.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot
from typing import Final, Protocol

from nub_shift.engine.effect_context import Effect, EffectContext, Run, Slot
from nub_shift.engine.effects.plain import fire
from nub_shift.engine.uses import BACK_SHARE, ActiveUse, Flow, Sources, Use
from nub_shift.engine.values import RingLook
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.profile.listed import Confirm
from nub_shift.model.slot_names import SlotName

# Hysteresis at the border between two entries.
BORDER_DEGREES: Final = 4.0
BORDER_CELL: Final = 0.12  # the same for a grid, in parts of a cell
# Slack of the furthest deflection, as a radius.
FURTHEST_SLACK: Final = 0.05
DWELL_US: Final = 150_000
ENTER_US: Final = 60_000
# A stick that stays within this radius stands still.
STILL_RADIUS: Final = 0.1


@dataclass(frozen=True, eq=False)
class RingUse(Use):
    """A compiled ring, or a grid if `columns` is set."""

    id: str
    entries: tuple[Effect, ...]
    confirm: Confirm
    radius: float
    columns: int

    @property
    def steady(self) -> bool:
        return True

    @property
    def takes_click(self) -> bool:
        return True

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        if name == MOTION_SLOT:
            sources.motion.recentre()
            return OpenRing(self, name, sources.motion, Slot(name))
        return OpenRing(self, name, sources.sticks[name], sources.buttons[SlotName(name, "click").text])

    def entry_at(self, x: float, y: float, now: int | None) -> int | None:
        """Returns the entry that the stick at (x, y) points to, where `now` is the present entry."""
        if self.columns:
            return self._cell_at(x, y, now)
        if hypot(x, y) < self.radius * (BACK_SHARE if now is not None else 1.0):
            return None
        width = 360.0 / len(self.entries)
        angle = degrees(atan2(x, -y))
        if now is not None:
            offset = (angle - now * width + 180.0) % 360.0 - 180.0
            if abs(offset) <= width / 2.0 + BORDER_DEGREES:
                return now
        return round((angle % 360.0) / width) % len(self.entries)

    def _cell_at(self, x: float, y: float, now: int | None) -> int | None:
        """Returns the cell; cells fill the square row by row, and the stick's middle is the grid's middle.

        With a cell in the middle, the stick counts as back only in the inner half of this cell.
        """
        rows = -(-len(self.entries) // self.columns)
        middle = min(self.radius, 1.0 / self.columns, 1.0 / rows) / 2.0
        if max(abs(x), abs(y)) < middle * (BACK_SHARE if now is not None else 1.0):
            return None
        across, down = (x + 1.0) / 2.0 * self.columns, (y + 1.0) / 2.0 * rows
        if now is not None:
            row, column = divmod(now, self.columns)
            low, high = -BORDER_CELL, 1.0 + BORDER_CELL
            if low <= across - column <= high and low <= down - row <= high:
                return now
        column = min(max(int(across), 0), self.columns - 1)
        row = min(max(int(down), 0), rows - 1)
        cell = row * self.columns + column
        return cell if cell < len(self.entries) else None


class Pointing(Protocol):
    """Source of a direction to an entry: a stick, a finger on a surface, a tilted pad."""

    @property
    def position(self) -> tuple[float, float]:
        """Returns the direction, x to the right, y downwards, -1 to 1."""


class OpenRing(ActiveUse):
    """An open ring on one stick.

    The ring waits until the stick has been in the middle: opened under a deflected stick, it would choose an entry that
    the player did not mean, and two rings that open each other would never settle.

    Attributes:
        chosen: the entry to be sent, or already begun; None without one.
    """

    def __init__(self, use: RingUse, name: str, stick: Pointing, click: Slot) -> None:
        self._use = use
        self._stick = stick
        self._click = click
        self.chosen: int | None = None
        self._pointed: int | None = None
        self._furthest = 0.0
        self._still_at = (0.0, 0.0)
        self._still_us = 0
        self._slot = Slot(name)
        self._run: Run | None = None
        self._clicked = False
        self._armed = False

    def look(self, always: bool) -> RingLook | None:
        """Returns the ring's appearance; None while the ring is closed. A ring is open while pointed into, or
        `always`.
        """
        if not always and self._pointed is None:
            return None
        x, y = self._stick.position
        return RingLook(self._slot.name, self._use.id, round(x, 2), round(y, 2), self.chosen)

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:
        x, y = self._stick.position
        self._pointed = self._use.entry_at(x, y, self._pointed)
        if not self._armed:
            self._armed = self._pointed is None
            self._pointed = None
            self._still_us = now_us
            return
        if self._pointed is None or hypot(x - self._still_at[0], y - self._still_at[1]) > STILL_RADIUS:
            self._still_at, self._still_us = (x, y), now_us
        still_us = now_us - self._still_us
        match self._use.confirm:
            case Confirm.RELEASE | Confirm.LET_GO:
                self._choose_by_reach(hypot(x, y), still_us, context, now_us)
                flow.restless = flow.restless or (self._pointed is not None and self.chosen != self._pointed)
            case Confirm.ENTER:
                wait_us = ENTER_US if self._use.columns and self._pointed is not None else 0
                if self._pointed != self.chosen and still_us >= wait_us:
                    self._end(context, now_us)
                    self.chosen = self._pointed
                    self._begin(context, now_us)
                flow.restless = flow.restless or self._pointed != self.chosen
            case Confirm.CLICK:
                self.chosen = self._pointed
                if self._click.down and not self._clicked:
                    self._begin(context, now_us)
                elif not self._click.down:
                    self._end(context, now_us)
                self._clicked = self._click.down

    def _choose_by_reach(self, distance: float, still_us: int, context: EffectContext, t_us: int) -> None:
        if self._pointed is None:
            chosen, self.chosen, self._furthest = self.chosen, None, 0.0
            if chosen is not None and self._use.confirm is Confirm.RELEASE:
                self._fire(chosen, context, t_us)
        elif distance >= self._furthest - FURTHEST_SLACK or still_us >= DWELL_US:
            self.chosen = self._pointed
            self._furthest = distance if still_us >= DWELL_US else max(distance, self._furthest)

    def leave(self, context: EffectContext, now_us: int) -> None:
        chosen, self.chosen = self.chosen, None
        if self._use.confirm is Confirm.LET_GO and chosen is not None:
            self._fire(chosen, context, now_us)
        self._end(context, now_us)

    def release_all(self, context: EffectContext, t_us: int) -> None:
        run, self._run = self._run, None
        if run is not None:
            run.cut(context, t_us)

    def _fire(self, chosen: int, context: EffectContext, t_us: int) -> None:
        self._slot.pressed_us = t_us
        fire(self._use.entries[chosen], context, t_us, self._slot)

    def _end(self, context: EffectContext, t_us: int) -> None:
        """Ends a begun entry, as a release would."""
        run, self._run = self._run, None
        if run is not None:
            run.end(context, t_us)

    def _begin(self, context: EffectContext, t_us: int) -> None:
        if self.chosen is not None:
            self._slot.pressed_us = t_us
            self._run = self._use.entries[self.chosen].begin(context, t_us, self._slot)
