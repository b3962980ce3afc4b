"""A pad and an output that a test holds in its hands."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from nub_shift.editing.words.messages import message_words
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Output
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.controls import Finger
from nub_shift.model.kinds import OutputKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.profile import Profile
from nub_shift.outputs.output import DownKeys, OutputDevice, OutputError
from nub_shift.pads.pad import Pad, PadError, PadGone
from nub_shift.protocol.codec import Refused
from nub_shift.protocol.messages import PadState, SeatState
from nub_shift.runner.profiles.loading import Done
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import Taken
from nub_shift.runner.seats.profile_requests import Loaded
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.session import Session
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, profile_text

SLOTS = """
"left_stick.up" = { move = "walk" }
south = { keys = ["KEY_SPACE"] }
right_stick = { pointer = { x = 1000, y = 0 } }
left_shoulder = { layer = "shift" }
"""


SEAT = SeatState("Game", PadState("", ()), ("base",), ())


class FakePad:
    """Gives the frames that a test puts into `waiting`."""

    name = "Fake pad"
    controls: tuple[str, ...] = ("left_stick", "south")
    printed: dict[str, str] = {}  # noqa: RUF012
    fingers: dict[str, Finger] = {}  # noqa: RUF012
    menu = ""
    is_guessed = False
    away: tuple[str, ...] = ()
    is_automatic = False
    gyro_bias: tuple[float, float, float] | None = None

    def __init__(self, key: str = "fake") -> None:
        self.key = key
        self.waiting: list[Frame] = []
        self.grabs: list[bool] = []
        self.rumbled: list[tuple[int, ...]] = []
        self.unplugged = False
        self.grown = False
        self.closed = False

    def keep_gyro_bias(self, bias: tuple[float, float, float]) -> None:
        self.gyro_bias = bias

    def filenos(self) -> tuple[int, ...]:
        return ()

    def due_us(self) -> int | None:
        return 0  # at each step a test looks what it has put there

    def read(self, now_us: int, fd: int | None = None) -> list[Frame]:  # noqa: ARG002 - the protocol's signature
        if self.unplugged:
            raise PadGone(Code.UNPLUGGED, pad=self.name)
        frames, self.waiting = self.waiting, []
        return frames

    def set_grabbed(self, grabbed: bool) -> None:
        self.grabs.append(grabbed)

    def has_grown(self) -> bool:
        return self.grown

    def show_player(self, number: int) -> None:
        """It has no lights."""

    @property
    def trim(self) -> PadTrim:
        return PadTrim()

    def rumble(self, pattern: Sequence[int]) -> None:
        self.rumbled.append(tuple(pattern))

    def close(self) -> None:
        self.closed = True


class FakePads:
    """Opens pads for a seat as a test says."""

    requested = former = ""
    identities: tuple[str, ...] = ()
    unsure = False
    spare = None

    def __init__(self, open_pad: Callable[[], Pad]) -> None:
        self._open = open_pad

    def open(self, taken: Taken) -> Pad:  # noqa: ARG002
        return self._open()

    def forget(self) -> None:
        """They are equal."""


class FakeOutput:
    """Keeps what it is sent; fails when told to."""

    def __init__(self) -> None:
        self.sent: list[Output] = []
        self.failing = False
        self.closed = False
        self.beats = 0
        self.keys = DownKeys()

    def send(self, outputs: list[Output]) -> None:
        if self.failing:
            raise OutputError(Code.DEVICES_TAKE_NOTHING, why="the fake output broke")
        self.sent += outputs
        self.keys.note(outputs)

    @property
    def holds(self) -> bool:
        return bool(self.keys)

    def beat(self) -> None:
        self.beats += 1

    def fileno(self) -> int:
        return -1

    def check(self) -> None:
        """It stays."""

    def close(self) -> None:
        self.closed = True


class FakeSource:
    """Has the profiles that it is given by their titles, at once, and checks texts for the layout that it is given."""

    can_find = True

    def __init__(self, *texts: str) -> None:
        self.layout: LayoutSource = us_layout
        self._profiles = {profile.title: profile for profile in map(parse_profile, texts)}

    def find(self, title: str, done: Done) -> None:
        if title in self._profiles:
            done(Loaded(Program(self._profiles[title]), f"{title}.toml"))
        else:
            done(Refused(Message(Code.NO_SUCH_PROFILE, {"title": title})))

    def check_again(self, profile: Profile, done: Done) -> None:
        problems = list(reference_problems(profile, self.layout))
        why = str(problems[0]) if problems else ""
        faulty = Refused(Message(Code.PROFILE_FAULTY, {"title": profile.title, "why": why}))
        done(faulty if problems else Loaded(Program(profile, self.layout)))


class Bench:
    """A session of one seat with a fake pad and a fake output, and the lines it told."""

    def __init__(self, slots: str = SLOTS, *others: str, rest: str = "") -> None:
        self.source = FakeSource(*others)
        self.pads: list[FakePad] = []
        self.output = FakeOutput()
        self.told: list[str] = []
        self.no_pad: Code | None = None
        self.no_output: Code | None = None
        self.session = Session(
            self._open_output, OutputKind.PRINT, self._notify, PadEvents(), self.source, lambda: START_US
        )
        self.seat = self.add(profile_text(slots, '"left_stick.up" = { keys = ["KEY_UP"] }', rest))

    @property
    def pad(self) -> FakePad:
        return self.pads[-1]

    def add(self, profile: str) -> Seat:
        """Another seat."""
        return self.session.add(Program(parse_profile(profile)), FakePads(self._open_pad), pad_returns=True)

    def play(self, t_us: int, pad: int = -1, **values: float) -> None:
        """A frame comes and is worked."""
        self.pads[pad].waiting.append(Frame(t_us, {name.replace("__", "."): value for name, value in values.items()}))
        self.session.work(t_us)

    def _notify(self, message: Message) -> None:
        self.told.append(message_words(message))

    def _open_pad(self) -> Pad:
        if self.no_pad:
            raise PadError(self.no_pad)
        self.pads.append(FakePad())
        return self.pads[-1]

    def _open_output(self) -> OutputDevice:
        if self.no_output:
            raise OutputError(self.no_output)
        return self.output
