"""What reads a stranger's bytes, as functions that fail if those bring anything down. For any fuzzer."""

from __future__ import annotations

import random
from collections.abc import Callable
from itertools import islice

import msgspec

from nub_shift.demo.games import demo_profile_text
from nub_shift.engine.engine import Engine
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.pad.kernel_event import INPUT_EVENT
from nub_shift.model.problems import ProfileError
from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import Axis
from nub_shift.pads.kernel.decoder import Decoder, replayed
from nub_shift.pads.known.cards import card_of, known_as
from nub_shift.pads.known.gamepad import is_pad, wiring_of
from nub_shift.pads.known.mapping_line import MappingError, read_mapping, write_mapping
from nub_shift.pads.recorded.recording import RecordingError, parse_recording
from nub_shift.protocol.calls import METHODS, decode_call
from nub_shift.protocol.codec import Fault, LineReader, Request, encode_error
from nub_shift.store.card_files import format_card, parse_card
from nub_shift.store.profile_files import format_profile, parse_profile

PAD = Description(
    "Pad", 3, 1, 2, 3, keys=frozenset(range(0x130, 0x140)), axes={code: Axis(-9, 9) for code in (0, 1, 2, 3, 16, 17)}
)
RECORDING = """\
N: Pad
I: 0003 0001 0002 0003
B: 01 00 00 00 00 00 00 00 00
A: 00 -100 100 0 0 0
A: 02 0 255 0 0 0
E: 5.000100 0001 0130 0001
E: 5.000100 0003 0000 0099
E: 5.000100 0000 0000 0000
E: 6.500000 0003 0002 0255
E: 6.500000 0000 0000 0000
"""
FRAMES = (1.0, -1.0, 0.3, 0.0)


def codec(data: bytes) -> None:
    """What a client sends."""
    reader = LineReader()
    half = len(data) // 2
    for message in [*reader.feed(data[:half]), *reader.feed(data[half:] + b"\n")]:
        match message:
            case Request(method=method, params=params) if method in METHODS:
                try:
                    decode_call(method, params)
                except msgspec.ValidationError as error:
                    str(error).encode()
            case Fault(error, identity):
                assert encode_error(identity, error).endswith(b"\n")


def profile(data: bytes) -> None:
    """A profile's file; what is accepted runs, and can be written and read again."""
    try:
        read = parse_profile(data.decode())
    except (ProfileError, UnicodeDecodeError) as error:
        str(error).encode()
        return
    assert parse_profile(format_profile(read)) == read
    engine = Engine(Program(read))
    now_us = 1_000_000
    for value in FRAMES:
        now_us += 50_000
        engine.feed(Frame(now_us, dict.fromkeys(CONTROL_OF_CHANNEL, value)))
        for _ in range(20):
            deadline = engine.deadline()
            if deadline is None:
                break
            now_us = max(now_us, deadline)
            engine.advance(now_us)
    engine.stop(now_us + 1)


def recording(data: bytes) -> None:
    """A recording; what is accepted replays."""
    try:
        read = parse_recording(data.decode())
    except (RecordingError, UnicodeDecodeError) as error:
        str(error).encode()
        return
    for frame in islice(replayed(known_as(read.description).wiring, read.events), 1000):
        assert all(-1e9 < value < 1e9 for value in frame.values.values())


def mapping(data: bytes) -> None:
    """A controller mapping line; what is accepted makes a card that can be read again."""
    try:
        name, wiring = read_mapping(data.decode(), PAD)
        card = parse_card(format_card(card_of(PAD, wiring, name)))
    except (MappingError, ProfileError, UnicodeDecodeError) as error:
        str(error).encode()
        return
    write_mapping(card.name, PAD, wiring)


def decoder(data: bytes) -> None:
    """What a device says of itself, and then sends."""
    chance = random.Random(data[:4])
    low, high = sorted(chance.sample(range(-(2**31), 2**31), 2)) if chance.random() < 0.5 else (0, chance.randint(0, 9))
    codes = chance.sample(range(64), chance.randint(0, 12))
    keys = frozenset(chance.sample(range(0x2FF), chance.randint(0, 60)))
    device = Description(
        "?", keys=keys, axes={code: Axis(low, high, 0, 0, chance.choice([0, 1, 8192])) for code in codes}
    )
    is_pad(device)
    made = Decoder(wiring_of(device), chance.random() < 0.5)
    made.begin(dict.fromkeys(codes, low))
    whole = len(data) // INPUT_EVENT.size * INPUT_EVENT.size
    frames = made.decode(INPUT_EVENT.iter_unpack(data[:whole]))
    frames.append(made.state_frame(0, [*keys], dict.fromkeys(codes, high)))
    for frame in frames:
        assert all(-1e12 < value < 1e12 for value in frame.values.values())


CALL = b'{"jsonrpc":"2.0","id":1,"method":"work_by_hand","params":{"pad":"tern","values":{"south":1.0}}}\n'
LINE = b"03000000010000000200000003000000,Pad,a:b0,b:b1,leftx:a0,lefty:a1~,dpup:h0.1,lefttrigger:+a2,platform:Linux,\n"
PRESS = INPUT_EVENT.pack(5, 1, 1, 0x130, 1) + INPUT_EVENT.pack(5, 1, 3, 0, 7) + INPUT_EVENT.pack(5, 1, 0, 0, 0)

# Each with samples to begin from.
TARGETS: dict[Callable[[bytes], None], tuple[bytes, ...]] = {
    codec: (CALL, b'{"jsonrpc":"2.0","method":"load","params":{"toml":"","seat":0}}\n[1]\n{"id":2,"result":null}'),
    profile: tuple(demo_profile_text(game).encode() for game in ("saltglass", "dustwake", "tidefold")),
    recording: (RECORDING.encode(),),
    mapping: (LINE,),
    decoder: (PRESS, b"abcd" + PRESS * 3),
}
