"""One pad that two people play: each has some of its controls."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.messages import Code
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.known.cards import Bias
from nub_shift.pads.pad import Pad, PadGone


class _Half:
    """Some controls of a pad, as a pad."""

    def __init__(self, whole: Pad, controls: Collection[str]) -> None:
        self.key = whole.key
        self.name = whole.name
        self.whole = whole
        self.controls = tuple(control for control in whole.controls if control in controls)
        self.printed = {control: text for control, text in whole.printed.items() if control in controls}
        self.fingers = whole.fingers
        self.is_guessed = whole.is_guessed
        self.menu = whole.menu if whole.menu in controls else ""

    @property
    def away(self) -> tuple[str, ...]:
        """Controls of this half that are away."""
        return tuple(control for control in self.whole.away if control in self.controls)

    @property
    def performs(self) -> bool:
        """Whether the whole pad does."""
        return self.whole.performs

    @property
    def gyro_bias(self) -> Bias | None:
        """Bias of the pad, for the half with the gyro."""
        return self.whole.gyro_bias if "motion" in self.controls else None

    @property
    def trim(self) -> PadTrim:
        """Corrections of the pad."""
        return self.whole.trim

    def rumble(self, pattern: Sequence[int]) -> None:
        """The whole pad does: both hands feel it."""
        self.whole.rumble(pattern)

    def keep_gyro_bias(self, bias: Bias) -> None:
        """Keeps it with the pad."""
        self.whole.keep_gyro_bias(bias)


class FirstHalf(_Half):
    """The half that reads the pad and closes it.

    Attributes:
        second: the other one, which is given what is its own as this one is read.
    """

    def __init__(self, whole: Pad, seconds: Collection[str]) -> None:
        """`seconds` are the controls of the other one; this one has the rest."""
        super().__init__(whole, [control for control in whole.controls if control not in seconds])
        self.second = SecondHalf(self, seconds)
        self._grabbed = False

    def filenos(self) -> tuple[int, ...]:
        """All of the pad."""
        return self.whole.filenos()

    def due_us(self) -> int | None:
        """Returns the due time of the pad."""
        return self.whole.due_us()

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """The frames up to now with what is its own; raises PadGone as the pad does."""
        frames = []
        for frame in self.whole.read(now_us, fd):
            mine: dict[str, float] = {}
            others: dict[str, float] = {}
            for channel, value in frame.values.items():
                (others if CONTROL_OF_CHANNEL[channel].name in self.second.controls else mine)[channel] = value
            if mine:
                frames.append(Frame(frame.t_us, mine))
            if others:
                self.second.waiting.append(Frame(frame.t_us, others))
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the pad while both want it: a game that one of them plays may read it too."""
        self._grabbed = grabbed
        self.grab()

    def grab(self) -> None:
        """Does what both want now."""
        self.whole.set_grabbed(self._grabbed and self.second.grabbed)

    def show_player(self, number: int) -> None:
        """The pad has one row of lights, and it is the first one's."""
        self.whole.show_player(number)

    def has_grown(self) -> bool:
        """Whether the pad has."""
        return self.whole.has_grown()

    def close(self) -> None:
        """Lets the pad go, for both."""
        self.second.ended = True
        self.whole.close()


class SecondHalf(_Half):
    """The half that is given its frames.

    Attributes:
        waiting: frames that have come and were not taken yet.
        grabbed: whether it wants others to be kept from the pad.
        ended: the pad is closed.
    """

    def __init__(self, first: FirstHalf, controls: Collection[str]) -> None:
        super().__init__(first.whole, controls)
        self.waiting: list[Frame] = []
        self.grabbed = True
        self.ended = False
        self._first = first

    def filenos(self) -> tuple[int, ...]:
        """None: the first one reads them."""
        return ()

    def due_us(self) -> int | None:
        """Never: it comes with what the first one reads."""
        return None

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - as all pads are read
        """Returns the frames for this half; raises PadGone once the pad is closed."""
        if self.ended:
            raise PadGone(Code.UNPLUGGED, pad=self.name)
        frames, self.waiting = self.waiting, []
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        """The same as of the first half."""
        self.grabbed = grabbed
        self._first.grab()

    def show_player(self, number: int) -> None:
        """The lights are the first one's."""

    def has_grown(self) -> bool:
        """The first one looks after that."""
        return False

    def close(self) -> None:
        """The pad goes on for the first one; what is its own waits for nobody any more."""
        self.waiting.clear()
