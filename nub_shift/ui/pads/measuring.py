"""Measurement of a pad from the window: collects frames for seconds, and evaluates them in the background."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import datetime
from enum import Enum
from math import atan2, hypot, pi

from PyQt6.QtCore import QObject, QThreadPool, QTimer, pyqtSignal

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_BY_NAME, STICKS
from nub_shift.model.pad.measures import Measured, MotionRest, StickRest, StickRim
from nub_shift.model.slot_names import slot_name
from nub_shift.protocol.messages import FrameNews
from nub_shift.translation import tr

_TICK_MS = 100
# Time for the hand to let go of the pad, or to take it.
SETTLE_US = 400_000
# Least radius of a rolled stick, and the number of turns: one to measure, one to be sure.
_OUT = 0.5
_TURNS = 2.0
# Time without movement after which the other stick is not awaited.
_LEFT_ALONE_US = 3_000_000


class Task(Enum):
    """Kinds of measurements, with instruction and time limit."""

    REST = (tr("Lay the pad down and do not touch it"), 4.0)
    RIM = (tr("Roll each stick slowly along its edge, twice"), 30.0)

    @property
    def words(self) -> str:
        """Instruction for the person."""
        return self.value[0]

    @property
    def seconds(self) -> float:
        """Time limit."""
        return self.value[1]


class RollProgress:
    """Progress of rolling one stick along its edge.

    Attributes:
        turned: turns in one direction; moving back does not count again.
        moved_us: time of the last position at the edge; 0 for none.
    """

    def __init__(self) -> None:
        self.moved_us = 0
        self._angle: float | None = None
        self._at = self._least = self._most = 0.0

    @property
    def turned(self) -> float:
        return self._most - self._least

    @property
    def is_round(self) -> bool:
        """Whether the stick has made the requested turns."""
        return self.turned >= _TURNS

    def take(self, x: float, y: float, t_us: int) -> None:
        """Processes a position of the stick."""
        if hypot(x, y) < _OUT:
            self._angle = None
            return
        self.moved_us = t_us
        angle = atan2(x, -y) / (2 * pi)
        if self._angle is not None:
            self._at += (angle - self._angle + 0.5) % 1.0 - 0.5
            self._least, self._most = min(self._least, self._at), max(self._most, self._at)
        self._angle = angle


class Measuring(QObject):
    """Runs one measurement at a time.

    Attributes:
        task: kind of the present measurement, or None.
        points: positions so far, by stick.
        rolled: progress by stick.

    Signals:
        went_on(): progress has changed.
        done(Measured, list): results, and reasons for missing ones in words.
    """

    went_on = pyqtSignal()
    done = pyqtSignal(object, list)
    _computed = pyqtSignal(object, list)

    def __init__(self, clock: Callable[[], int], parent: QObject | None = None) -> None:
        """`clock` returns the time in microseconds, on the clock of frames."""
        super().__init__(parent)
        self._clock = clock
        self.task: Task | None = None
        self.points: dict[str, list[tuple[float, float]]] = {}
        self.rolled: dict[str, RollProgress] = {}
        self._controls: tuple[str, ...] = ()
        self._frames: list[Frame] = []
        self._values: dict[str, float] = {}
        self._start_us = 0
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self._on_tick)
        self._computed.connect(self.done)

    @property
    def progress(self) -> float:
        """Elapsed part of the time, 0 to 1."""
        if self.task is None:
            return 0.0
        return max(0.0, min((self._clock() - self._start_us) / 1e6 / self.task.seconds, 1.0))

    def start(self, task: Task, controls: tuple[str, ...], values: dict[str, float]) -> None:
        """Begins to measure a pad with these controls and present values."""
        self.task = task
        self._controls = controls
        self._start_us = self._clock() + SETTLE_US
        self._values = dict(values)
        self._frames = []
        self.points = {stick: [] for stick in STICKS if stick in controls}
        self.rolled = {stick: RollProgress() for stick in self.points}
        self._timer.start()

    def cancel(self) -> None:
        """Ends the measurement without a result."""
        self.task = None
        self._timer.stop()
        self.went_on.emit()

    def take(self, news: Iterable[FrameNews]) -> None:
        """Processes events of the pad."""
        if self.task is None:
            return
        for frame in news:
            self._values.update(frame.values)
            if frame.t_us < self._start_us:
                continue
            # A perfectly still stick reports nothing: its present position is the first sample.
            values = frame.values if self._frames else dict(self._values)
            self._frames.append(Frame(frame.t_us, values))
            for stick, points in self.points.items():
                if slot_name(stick, "x") in frame.values or slot_name(stick, "y") in frame.values:
                    x, y = (self._values.get(slot_name(stick, axis), 0.0) for axis in "xy")
                    points.append((x, y))
                    self.rolled[stick].take(x, y, frame.t_us)

    @property
    def unrolled(self) -> tuple[str, ...]:
        """Sticks that are still to be rolled."""
        return tuple(stick for stick, rolled in self.rolled.items() if not rolled.is_round)

    def _is_rolled(self) -> bool:
        """Returns whether all sticks have been rolled, or one has and the other is left alone."""
        if not self.unrolled:
            return True
        begun = [rolled for rolled in self.rolled.values() if rolled.moved_us]
        last_us = max((rolled.moved_us for rolled in begun), default=0)
        return bool(begun) and all(one.is_round for one in begun) and self._clock() - last_us > _LEFT_ALONE_US

    def _on_tick(self) -> None:
        task = self.task
        if task is not None and (self.progress >= 1.0 or (task is Task.RIM and self._is_rolled())):
            self.task = None
            self._timer.stop()
            if not self._frames:
                self._frames = [Frame(self._start_us, dict(self._values))]
            pool = QThreadPool.globalInstance()
            assert pool is not None
            pool.start(_work(task, self._controls, self._frames, self._computed.emit))
        self.went_on.emit()


def _work(
    task: Task, controls: tuple[str, ...], frames: list[Frame], notify: Callable[[Measured, list[str]], None]
) -> Callable[[], None]:
    """Returns the evaluation, for a thread, since NumPy alone takes longer to load than a click may."""

    def work() -> None:
        from nub_shift.analysis.measuring import TooLittleData, measure_motion, measure_rest, measure_rim

        rest: dict[str, StickRest] = {}
        rim: dict[str, StickRim] = {}
        motion: MotionRest | None = None
        faults = []
        for stick in (stick for stick in STICKS if stick in controls):
            try:
                if task is Task.REST:
                    rest[stick] = measure_rest(frames, stick, task.seconds)
                else:
                    rim[stick] = measure_rim(frames, stick)
            except TooLittleData as error:
                faults.append(f"{CONTROL_BY_NAME[stick].label}: {error}")
        if task is Task.REST and "motion" in controls:
            try:
                motion = measure_motion(frames)
            except TooLittleData as error:
                faults.append(f"{CONTROL_BY_NAME['motion'].label}: {error}")
        notify(Measured(datetime.now().astimezone().date(), rest, rim, motion), faults)

    return work
