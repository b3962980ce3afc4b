"""Uses of a whole stick, a surface, or turning the pad: objects that contribute pointer and wheel motion.

A profile is compiled into uses (`Use`), which are immutable and may be shared. The engine begins a use of the present
sheet (`ActiveUse`), calls it at each step, and ends it when another sheet has a different use there.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, degrees, exp, hypot
from typing import Final, assert_never

from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.readers import StickReader, SurfaceReader
from nub_shift.engine.shaping.motion import MotionReader
from nub_shift.engine.values import US_PER_SECOND, Pointer
from nub_shift.model.profile.effects import PointerPosition, Snap

# Time window of a lifted finger's speed; a finger that has not moved for longer has come to rest.
FLICK_US: Final = 40_000
SLOWEST_ROLL: Final = 15.0  # counts a second
# Share of its furthest radius below which a stick counts as back.
BACK_SHARE: Final = 0.8
# Half width in degrees of the forward sector, for a flick that snaps forward.
FORWARD_DEGREES: Final = 22.5


class Flow:
    """Sum of the pointer and wheel motion of all uses in one step.

    Attributes:
        vx, vy: pointer speed in counts a second, before any pace.
        motion_vx, motion_vy: the part of the speed that comes from the motion sensors, with paces of its own.
        dx, dy: immediate pointer counts, before any pace.
        turned: immediate counts across that no pace changes, for turns of the view to a place.
        wx, wy: wheel speed in clicks a second.
        restless: whether time alone will change the sum.
    """

    vx = 0.0
    vy = 0.0
    motion_vx = 0.0
    motion_vy = 0.0
    dx = 0.0
    dy = 0.0
    turned = 0.0
    wx = 0.0
    wy = 0.0
    restless = False


@dataclass(frozen=True)
class Sources:
    """Readers that uses draw on."""

    sticks: dict[str, StickReader]
    surface: SurfaceReader
    motion: MotionReader
    buttons: dict[str, Slot]


class ActiveUse:
    """An active use of one control. The base class only adds to the flow, holds nothing, and can be dropped at any
    time.
    """

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:
        """Adds the use's motion to the flow."""
        raise NotImplementedError

    def leave(self, context: EffectContext, now_us: int) -> None:
        """Ends the use, since another one takes over its control."""

    def release_all(self, context: EffectContext, now_us: int) -> None:
        """Releases everything held, at the end of play."""


class Use:
    """A compiled use."""

    @property
    def steady(self) -> bool:
        """Whether the use also follows the stick in its dead zone."""
        return False

    @property
    def takes_click(self) -> bool:
        """Whether the use takes the click of the stick."""
        return False

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:
        """Begins the use on a control; returns `before`, the use active there, if that one can continue."""
        raise NotImplementedError


@dataclass(frozen=True, eq=False)
class SpeedUse(Use):
    """The stick as pointer speed, in counts a second at full deflection."""

    x: float
    y: float

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _StickSpeed(self, sources.sticks[name])


class _StickSpeed(ActiveUse):
    def __init__(self, use: SpeedUse, stick: StickReader) -> None:
        self._x, self._y = use.x, use.y
        self._stick = stick

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002 - as all uses
        stick = self._stick
        x, y = stick.output(now_us)
        flow.vx += x * self._x
        flow.vy += y * self._y
        if stick.restless:
            flow.restless = True


@dataclass(frozen=True, eq=False)
class ScrollUse(Use):
    """The stick as wheel speed, in clicks a second at full deflection."""

    x: float
    y: float

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _StickScroll(self, sources.sticks[name])


class _StickScroll(ActiveUse):
    def __init__(self, use: ScrollUse, stick: StickReader) -> None:
        self._x, self._y = use.x, use.y
        self._stick = stick

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002
        stick = self._stick
        x, y = stick.output(now_us)
        flow.wx += x * self._x
        flow.wy -= y * self._y
        if stick.restless:
            flow.restless = True


@dataclass(frozen=True, eq=False)
class DragUse(Use):
    """The pointer follows a finger: counts across the whole surface, and the time of rolling on after a flick."""

    x: float
    y: float
    roll_us: int

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _SurfaceDrag(self, sources.surface)


class _SurfaceDrag(ActiveUse):
    def __init__(self, use: DragUse, surface: SurfaceReader) -> None:
        self._x, self._y = use.x, use.y
        self._roll_us = use.roll_us
        self._surface = surface
        self._ways: deque[tuple[int, float, float]] = deque()  # recent samples: time and counts
        self._rolling: tuple[float, float] | None = None  # counts a second at the lift of the finger
        self._left_us = 0

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002
        x, y = self._surface.dragged()
        # Positions span -1 to 1, twice the surface.
        dx, dy = x / 2 * self._x, y / 2 * self._y
        flow.dx += dx
        flow.dy += dy
        if self._roll_us:
            self._roll(dx, dy, flow, now_us)

    def _roll(self, dx: float, dy: float, flow: Flow, now_us: int) -> None:
        ways = self._ways
        if self._surface.touched:
            self._rolling = None
            if dx or dy or not ways:
                ways.append((now_us, dx, dy))
                while len(ways) > 2 and ways[1][0] <= now_us - FLICK_US:
                    ways.popleft()
            return
        if ways:
            self._rolling = _speed_at_the_end(ways, now_us)
            self._left_us = now_us
            ways.clear()
        if self._rolling is None:
            return
        left = exp(-(now_us - self._left_us) / self._roll_us)
        vx, vy = self._rolling[0] * left, self._rolling[1] * left
        if hypot(vx, vy) < SLOWEST_ROLL:
            self._rolling = None
            return
        flow.vx += vx
        flow.vy += vy
        flow.restless = True


def _speed_at_the_end(ways: Sequence[tuple[int, float, float]], now_us: int) -> tuple[float, float] | None:
    """Returns the speed of a finger at its lift, in counts a second; None if the finger had come to rest.

    Computed from sample to sample, so that the result does not depend on the report rate. A surface that reports
    nothing for `FLICK_US` has a resting finger; this time does not count for its speed.
    """
    if now_us - ways[-1][0] > FLICK_US:
        return None
    took_us = sum(min(after - before, FLICK_US) for (before, _, _), (after, _, _) in pairwise(ways))
    if not took_us:
        return None
    each = list(ways)[1:]
    seconds = took_us / US_PER_SECOND
    return sum(x for _, x, _ in each) / seconds, sum(y for _, _, y in each) / seconds


@dataclass(frozen=True, eq=False)
class TurnUse(Use):
    """Turning the pad moves the pointer: always if `on`, otherwise only while an effect switches motion on."""

    on: bool

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _PadTurn(self, sources.motion)


class _PadTurn(ActiveUse):
    def __init__(self, use: TurnUse, motion: MotionReader) -> None:
        self._on = use.on
        self._motion = motion

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002
        if context.motion_on(self._on) if context.motion_switches else self._on:
            x, y = self._motion.velocity
            flow.motion_vx += x
            flow.motion_vy += y


@dataclass(frozen=True, eq=False)
class TiltUse(Use):
    """Tilt of the pad as pointer speed, in counts a second at full tilt; stopped by a clutch."""

    x: float
    y: float

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _PadTilt(self, sources.motion)


class _PadTilt(ActiveUse):
    def __init__(self, use: TiltUse, motion: MotionReader) -> None:
        self._x, self._y = use.x, use.y
        self._motion = motion

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002
        if context.motion_on(True):
            x, y = self._motion.position
            flow.motion_vx += x * self._x
            flow.motion_vy += y * self._y


@dataclass(frozen=True, eq=False)
class FlickUse(Use):
    """A deflected stick turns the view to its direction, and further with the stick from there."""

    radius: float
    settle_us: int
    counts_per_turn: float
    snap: Snap

    @property
    def steady(self) -> bool:
        return True

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:  # noqa: ARG002
        return _StickFlick(self, sources.sticks[name])


class _StickFlick(ActiveUse):
    """State of a flick. Angles are in degrees, clockwise from forward; the pointer gets the difference to the target
    angle.

    If a layer ends during the turn, the view stays at the angle reached.
    """

    def __init__(self, use: FlickUse, stick: StickReader) -> None:
        self._use = use
        self._stick = stick
        self._pointed: float | None = None  # angle of the stick while deflected
        self._way = 0.0  # angle from the view at deflection to the stick's present angle
        self._from = 0.0  # part of it that the initial turn covers
        self._done = 0.0  # part of it already turned
        self._begun_us: int | None = None  # start of a turn in progress, or of one whose stick is still deflected

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:  # noqa: ARG002
        x, y = self._stick.position
        if hypot(x, y) < self._use.radius * (BACK_SHARE if self._pointed is not None else 1.0):
            self._pointed = None
        else:
            self._follow(degrees(atan2(x, -y)), now_us)
        if self._begun_us is None:
            return
        settled = min((now_us - self._begun_us) / self._use.settle_us, 1.0)
        wanted = self._way - self._from * (1.0 - settled)
        flow.turned += (wanted - self._done) * self._use.counts_per_turn / 360.0
        self._done = wanted
        if settled < 1.0:
            flow.restless = True
        elif self._pointed is None:
            self._begun_us = None

    def _follow(self, angle: float, now_us: int) -> None:
        """Follows a deflected stick to an angle."""
        if self._pointed is None:
            self._begun_us = now_us
            self._way = self._from = snapped(angle, self._use.snap)
            self._done = 0.0
        else:
            self._way += (angle - self._pointed + 180.0) % 360.0 - 180.0
        self._pointed = angle


def snapped(angle: float, snap: Snap) -> float:
    """Returns the turn of a flick to an angle, -180 to 180 degrees."""
    match snap:
        case Snap.NONE:
            return angle
        case Snap.FORWARD:
            return 0.0 if abs(angle) <= FORWARD_DEGREES else angle
        case Snap.EIGHTH:
            return 45.0 * round(angle / 45.0)
        case Snap.QUARTER:
            return 90.0 * round(angle / 90.0)
        case _:
            assert_never(snap)


@dataclass(frozen=True, eq=False)
class PositionUse(Use):
    """The stick as offset of the pointer from a centre; `hold` is pressed while the stick is deflected."""

    position: PointerPosition
    hold: tuple[str, ...]

    @property
    def steady(self) -> bool:
        return True

    def begin(self, name: str, sources: Sources, before: ActiveUse | None) -> ActiveUse:
        if isinstance(before, PlacedPointer):
            before.use, before.hold = self.position, self.hold
            return before
        return PlacedPointer(self.position, self.hold, sources.sticks[name])


class PlacedPointer(ActiveUse):
    """Offset of the pointer, in counts, from its position when the stick left rest.

    With a ring the pointer jumps to the ring in the stick's direction; otherwise it follows the stick. `hold` is
    pressed while the stick is deflected. At rest the pointer returns to its centre.
    """

    def __init__(self, use: PointerPosition, hold: tuple[str, ...], stick: StickReader) -> None:
        self.use = use
        self.hold = hold
        self._stick = stick
        self._x = self._y = 0
        self._held: tuple[str, ...] = ()

    def act(self, flow: Flow, context: EffectContext, now_us: int) -> None:
        x, y = self._stick.output(now_us)
        if self._stick.restless:
            flow.restless = True
        length = hypot(x, y)
        if length == 0.0:
            self.leave(context, now_us)
            return
        if self.use.ring:
            x, y = x / length, y / length
        self._go(round(x * self.use.x), round(y * self.use.y), context, now_us)
        self._hold(self.hold, context, now_us)

    def leave(self, context: EffectContext, now_us: int) -> None:
        self._hold((), context, now_us)
        self._go(0, 0, context, now_us)

    def release_all(self, context: EffectContext, now_us: int) -> None:
        """Releases the held keys; the pointer stays."""
        self._hold((), context, now_us)
        self._x = self._y = 0

    def _go(self, x: int, y: int, context: EffectContext, t_us: int) -> None:
        dx, dy = x - self._x, y - self._y
        if (dx or dy) and context.budget.take(t_us):
            self._x, self._y = x, y
            context.out.append(Pointer(t_us, dx, dy))

    def _hold(self, codes: tuple[str, ...], context: EffectContext, t_us: int) -> None:
        if codes != self._held:
            before, self._held = self._held, codes
            context.ledger.press(codes, t_us, context.times, context.out)
            context.ledger.release(before, t_us, context.times, context.out)
