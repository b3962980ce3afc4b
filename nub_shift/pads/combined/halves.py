"""One pad played by two people, each with some of its controls."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.messages import Code
from nub_shift.model.pad.trim import PadTrim
from nub_shift.pads.known.cards import Bias
from nub_shift.pads.pad import Pad, PadGone


class _Half:
    """Some controls of a pad, as a pad of its own."""

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
        """Controls of this half that are not at rest."""
        return tuple(control for control in self.whole.away if control in self.controls)

    @property
    def is_automatic(self) -> bool:
        """Whether the whole pad plays a demo or a recording."""
        return self.whole.is_automatic

    @property
    def gyro_bias(self) -> Bias | None:
        """Bias of the pad, for the half with the gyro."""
        return self.whole.gyro_bias if "motion" in self.controls else None

    @property
    def trim(self) -> PadTrim:
        """Corrections of the pad."""
        return self.whole.trim

    def rumble(self, pattern: Sequence[int]) -> None:
        """Rumbles the whole pad, since both players hold it."""
        self.whole.rumble(pattern)

    def keep_gyro_bias(self, bias: Bias) -> None:
        """Stores the bias with the pad."""
        self.whole.keep_gyro_bias(bias)


class FirstHalf(_Half):
    """The half that reads and closes the pad.

    Attributes:
        second: the other half, which gets its frames during this one's reads.
    """

    def __init__(self, whole: Pad, seconds: Collection[str]) -> None:
        """`seconds` are the controls of the other half; this one has the rest."""
        super().__init__(whole, [control for control in whole.controls if control not in seconds])
        self.second = SecondHalf(self, seconds)
        self._grabbed = False

    def filenos(self) -> tuple[int, ...]:
        """Returns all descriptors of the pad."""
        return self.whole.filenos()

    def due_us(self) -> int | None:
        """Returns the due time of the pad."""
        return self.whole.due_us()

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:
        """Returns the frames up to now with this half's channels.

        Raises:
            PadGone: the pad was unplugged.
        """
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
        """Grabs the pad while both halves request it, since a game of one half may also read the pad."""
        self._grabbed = grabbed
        self.grab()

    def grab(self) -> None:
        """Applies the requests of both halves."""
        self.whole.set_grabbed(self._grabbed and self.second.grabbed)

    def show_player(self, number: int) -> None:
        """Lights the player lights, which belong to the first half."""
        self.whole.show_player(number)

    def has_grown(self) -> bool:
        """Returns whether the pad has further devices."""
        return self.whole.has_grown()

    def close(self) -> None:
        """Closes the pad for both halves."""
        self.second.ended = True
        self.whole.close()


class SecondHalf(_Half):
    """The half that gets its frames from the first.

    Attributes:
        waiting: frames not taken yet.
        grabbed: whether this half requests the grab.
        ended: whether the pad is closed.
    """

    def __init__(self, first: FirstHalf, controls: Collection[str]) -> None:
        super().__init__(first.whole, controls)
        self.waiting: list[Frame] = []
        self.grabbed = True
        self.ended = False
        self._first = first

    def filenos(self) -> tuple[int, ...]:
        """Returns no descriptors: the first half reads them."""
        return ()

    def due_us(self) -> int | None:
        """Returns None: frames come with the first half's reads."""
        return None

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - as all pads are read
        """Returns the frames for this half; raises PadGone once the pad is closed."""
        if self.ended:
            raise PadGone(Code.UNPLUGGED, pad=self.name)
        frames, self.waiting = self.waiting, []
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        """Grabs the pad while both halves request it."""
        self.grabbed = grabbed
        self._first.grab()

    def show_player(self, number: int) -> None:
        """Does nothing: the lights belong to the first half."""

    def has_grown(self) -> bool:
        """Returns False: the first half checks for further devices."""
        return False

    def close(self) -> None:
        """Ends this half; the pad stays open for the first one."""
        self.waiting.clear()
