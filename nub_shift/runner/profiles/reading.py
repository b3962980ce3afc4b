"""The process that reads and checks profiles for a runner, so that play is never delayed.

Requests are read from standard input, answers written to standard output: four bytes of length, then MessagePack. The
process ends with the runner, or when idle.
"""

from __future__ import annotations

import os
import resource
import select
import signal
import struct
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Final, assert_never

import msgspec

from nub_shift.keyboard.layout import Layout
from nub_shift.keyboard.session import SessionLayout
from nub_shift.keyboard.xkb import Names
from nub_shift.model.checks.references import reference_problems
from nub_shift.model.messages import Code, Message
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.activation import ActivationRules
from nub_shift.model.profile.listed import Carousel, Ring
from nub_shift.model.profile.listed import Sequence as KeySequence
from nub_shift.model.profile.profile import Layer, Move, Profile
from nub_shift.protocol.codec import Refused
from nub_shift.store.library import find_titled, rules_in
from nub_shift.store.profile_files import parse_profile, read_profile

LENGTH: Final = struct.Struct(">I")
IDLE_S: Final = 60.0
# Limit on memory; a larger file is refused instead of exhausting the machine.
_MOST_BYTES: Final = 400_000_000

# Repeated parts are sent one by one, so that the runner decodes in short pieces.
LISTED: dict[str, type[msgspec.Struct]] = {
    "moves": Move,
    "layers": Layer,
    "sequences": KeySequence,
    "carousels": Carousel,
    "rings": Ring,
}


class ReadText(msgspec.Struct, frozen=True, tag=True):
    """Request for a profile given as TOML text, with its file if any."""

    toml: str
    file: str = ""


class FindTitled(msgspec.Struct, frozen=True, tag=True):
    """Request for the profile of a title, in the first of these folders that has one."""

    folders: list[str]
    title: str


class ReadFile(msgspec.Struct, frozen=True, tag=True):
    """Request for the profile of a file."""

    file: str


class ListRules(msgspec.Struct, frozen=True, tag=True):
    """Request for the rules of the profiles in these folders."""

    folders: list[str]


class RuledProfile(msgspec.Struct, frozen=True):
    """A profile with activation rules."""

    file: str
    title: str
    comes_on: ActivationRules


class CheckAgain(msgspec.Struct, frozen=True, tag=True):
    """Request to check a profile again for another keyboard layout."""

    profile: Profile


class KnownLayout(msgspec.Struct, frozen=True):
    """The session's keyboard layout, found when texts are typed."""

    names: list[Names]
    name: str
    characters: list[tuple[tuple[str, ...], str]]

    @classmethod
    def of(cls, names: Sequence[Names], layout: Layout) -> KnownLayout:
        """Builds the transferable form of a layout."""
        return cls(list(names), layout.name, list(layout.characters.items()))

    def layout(self) -> Layout:
        """Returns the layout."""
        return Layout(self.name, dict(self.characters))


class WasRead(msgspec.Struct, frozen=True):
    """A profile without faults: its single parts, and the number of each repeated part, sent in order.

    Attributes:
        layout: keyboard layout of its texts, if it types any.
        file: file of the profile, or empty.
        ruled: the listed rules, in place of a profile.
    """

    profile: bytes = b""
    listed: list[tuple[str, bytes]] = []
    layout: KnownLayout | None = None
    refused: Refused | None = None
    file: str = ""
    ruled: list[RuledProfile] | None = None


Request = ReadText | ReadFile | FindTitled | ListRules | CheckAgain


def framed(message: Request | WasRead) -> bytes:
    """Returns a message with its length in front."""
    data = msgspec.msgpack.encode(message)
    return LENGTH.pack(len(data)) + data


def answer(request: Request, layout: SessionLayout) -> WasRead:
    """Returns the profile in parts, or the reason for a refusal."""
    file = ""
    try:
        match request:
            case ReadText(toml, file):
                profile = parse_profile(toml, layout=layout)
            case ReadFile(file):
                profile = read_profile(Path(file), layout)
            case ListRules(folders):
                listed_rules = rules_in([Path(folder) for folder in folders])
                return WasRead(
                    ruled=[RuledProfile(str(path), title, comes_on) for path, title, comes_on in listed_rules]
                )
            case FindTitled(folders, title):
                path = find_titled([Path(folder) for folder in folders], title)
                if path is None:
                    return WasRead(refused=Refused(Message(Code.NO_SUCH_PROFILE, {"title": title})))
                profile, file = read_profile(path, layout), str(path)
            case CheckAgain(profile):
                problems = list(reference_problems(profile, layout))
                if problems:
                    raise ProfileError(profile.title, problems)
            case _:
                assert_never(request)
    except ProfileError as error:
        return WasRead(refused=_refused(request, error))
    encoder = msgspec.msgpack.Encoder()
    listed = [(name, encoder.encode(item)) for name in LISTED for item in getattr(profile, name)]
    rest = msgspec.structs.replace(profile, **dict.fromkeys(LISTED, ()))
    known = KnownLayout.of(layout.names, layout()) if layout.requested else None
    return WasRead(encoder.encode(rest), listed, known, file=file)


def _refused(request: Request, error: ProfileError) -> Refused:
    match request:
        case ReadText() | ListRules():
            return Refused(Message(Code.PROFILE_HAS_FAULTS), [str(problem) for problem in error.problems])
        case ReadFile(file):
            return Refused(Message(Code.PROFILE_FAULTY, {"title": Path(file).stem, "why": str(error.problems[0])}))
        case FindTitled(_, title):
            return Refused(Message(Code.PROFILE_FAULTY, {"title": title, "why": str(error)}))
        case CheckAgain(profile):
            return Refused(Message(Code.PROFILE_FAULTY, {"title": profile.title, "why": str(error.problems[0])}))
        case _:
            assert_never(request)


def _read_exactly(count: int) -> bytes | None:
    """Reads that many bytes of standard input; None at its end."""
    data = b""
    while len(data) < count:
        more = os.read(0, count - len(data))
        if not more:
            return None
        data += more
    return data


def main() -> None:
    """Answers requests until the runner closes the pipe or sends none for a while."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # a terminal's signal is meant for the runner
    resource.setrlimit(resource.RLIMIT_DATA, (_MOST_BYTES, _MOST_BYTES))
    layout = SessionLayout()
    decoder = msgspec.msgpack.Decoder(Request)
    while select.select([0], [], [], IDLE_S)[0]:
        head = _read_exactly(LENGTH.size)
        data = _read_exactly(LENGTH.unpack(head)[0]) if head is not None else None
        if data is None:
            return
        layout.refresh()
        try:
            reply = answer(decoder.decode(data), layout)
        except (MemoryError, RecursionError):
            reply = WasRead(refused=Refused(Message(Code.PROFILE_TOO_LARGE)))
        sys.stdout.buffer.write(framed(reply))
        sys.stdout.buffer.flush()


if __name__ == "__main__":
    main()
