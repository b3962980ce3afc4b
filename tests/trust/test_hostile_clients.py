"""Whatever clients say or leave unsaid, a runner plays on and answers the next one."""

from __future__ import annotations

import json
import os
import resource
import select
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from nub_shift.bench.engine_step import large_profile
from nub_shift.protocol.calls import GetState, WorkByHand
from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.codec import encode_request
from nub_shift.runner.clients.connections import MAX_CLIENTS
from nub_shift.store.profile_files import format_profile
from tests.runner.processes import DEMO_PROFILE, LIMIT_S, RunnerProcess

STATE = encode_request("state", {}, 1)


@pytest.fixture(scope="module")
def runner(tmp_path_factory: pytest.TempPathFactory) -> Iterator[RunnerProcess]:
    folder = tmp_path_factory.mktemp("trust")
    folder.chmod(0o700)
    made = RunnerProcess(folder, "--pad", "simulated", "--output", "print", "--rehearse")
    yield made
    assert made.end()[0] == 0


def connected(runner: RunnerProcess) -> socket.socket:
    connection = socket.socket(socket.AF_UNIX)
    connection.connect(str(runner.socket))
    connection.settimeout(LIMIT_S)
    return connection


def answer_to(runner: RunnerProcess, data: bytes) -> str:
    """What the runner answers to that, after its greeting."""
    with connected(runner) as connection, connection.makefile("rb") as stream:
        stream.readline()
        connection.sendall(data)
        return stream.readline().decode()


def call(method: str, params: str) -> bytes:
    return f'{{"jsonrpc": "2.0", "id": 1, "method": "{method}", "params": {params}}}\n'.encode()


SAID: dict[str, tuple[bytes, str]] = {
    "deep parameters": (call("state", '{"a": ' + "[" * 50_000 + "]" * 50_000 + "}"), "nested too deep"),
    "a deep result": (b'{"jsonrpc": "2.0", "id": 1, "result": ' + b"[" * 50_000 + b"\n", "nested too deep"),
    "a profile of deep lists": (call("load", json.dumps({"toml": "a = " + "[" * 5000})), "nested too deep"),
    "a profile of long keys": (call("load", json.dumps({"toml": "a" + ".a" * 9000 + " = 1"})), "more parts"),
    "no list of parameters": (call("state", "[]"), "Expected `object`"),
    "numbers by the thousand": (
        call("work_by_hand", '{"pad": "simulated:tern", "values": {' + '"a": 1e308, ' * 9000 + '"b": 1}}'),
        "at most 4000 bytes",
    ),
    "an id without end": (b'{"jsonrpc": "2.0", "method": "state", "id": "' + b"i" * 9000 + b'"}\n', "an id is longer"),
    "a line without end": (b"x" * 3_000_000 + b"\n", "a line is longer"),
    "several calls at once": (b"[" + STATE.strip() + b"]\n", "Expected `object`"),
    "no text": (b"\xff\xfe\n", "not JSON"),
    "nothing, a thousand times": (b"\n \t\n" * 1000 + STATE, '"result"'),
}


@pytest.mark.parametrize(("data", "expected"), SAID.values(), ids=list(SAID))
def test_what_cannot_be_meant_is_answered(runner: RunnerProcess, data: bytes, expected: str) -> None:
    assert expected in answer_to(runner, data)
    assert '"result"' in answer_to(runner, STATE)


def test_a_hand_that_pulls_a_stick_out_of_all_bounds_pulls_it_to_its_rim(runner: RunnerProcess) -> None:
    client = runner.client()
    client.call(WorkByHand("simulated:tern", {"right_stick.x": 1e308, "left_stick.x": -1e308, "nothing": 1.0}))
    assert client.call(GetState()).seats[0].pad.name == "Tern two-stick pad"
    client.close()


def test_more_clients_than_are_served_are_told_so_and_the_others_are_served_on(runner: RunnerProcess) -> None:
    speaking = [runner.client() for _ in range(MAX_CLIENTS)]
    for client in speaking:
        client.call(GetState())
    with connected(runner) as turned_away:
        assert b"clients are connected" in turned_away.makefile("rb").readline()
    for client in speaking:
        client.call(GetState())
        client.close()
    assert '"result"' in answer_to(runner, STATE)


def test_who_says_nothing_keeps_nobody_out(runner: RunnerProcess) -> None:
    first = runner.client()
    first.call(GetState())
    crowd = [connected(runner) for _ in range(500)]
    assert '"result"' in answer_to(runner, STATE)
    first.call(GetState())
    for connection in crowd:
        connection.close()
    first.close()


def test_who_says_nothing_that_is_a_call_is_hung_up_on(runner: RunnerProcess) -> None:
    with connected(runner) as babbler:
        with suppress(OSError):
            for _ in range(10_000):
                babbler.sendall(b"rubbish\n" * 100)
        babbler.settimeout(20)
        with suppress(ConnectionResetError):
            while babbler.recv(65_536):
                pass
    assert '"result"' in answer_to(runner, STATE)


def test_a_client_that_never_reads_is_not_read_either(runner: RunnerProcess) -> None:
    before_mb = resident_mb(runner.process.pid)
    with connected(runner) as deaf:
        deaf.settimeout(1.0)
        with pytest.raises(TimeoutError):
            for _ in range(10_000):
                deaf.sendall(STATE * 100)
        assert '"result"' in answer_to(runner, STATE)
        assert resident_mb(runner.process.pid) < before_mb + 8


def resident_mb(pid: int) -> float:
    (line,) = (line for line in Path(f"/proc/{pid}/status").read_text().splitlines() if line.startswith("VmRSS:"))
    return int(line.split()[1]) / 1024


def test_a_profile_that_comes_does_not_hold_up_whoever_else_asks(runner: RunnerProcess) -> None:
    with connected(runner) as slow, slow.makefile("rb") as answers:
        answers.readline()
        slow.sendall(encode_request("load", {"toml": format_profile(large_profile(24))}, 1) + STATE)
        quick = runner.client()
        quick.call(GetState())
        quick.close()
        assert select.select([slow], [], [], 0.0)[0] == []
        titles = [json.loads(answers.readline())["result"]["seats"][0]["title"] for _ in range(2)]
        assert titles == ["Bench", "Bench"]  # what is asked after a profile is answered after it


def nobody_reads() -> int:
    read_end, write_end = os.pipe()
    os.close(read_end)
    return write_end


def full_disk() -> int:
    return os.open("/dev/full", os.O_WRONLY)


@pytest.mark.parametrize("stream", [nobody_reads, full_disk])
def test_a_runner_that_nobody_listens_to_plays_on(tmp_path: Path, stream: Callable[[], int]) -> None:
    tmp_path.chmod(0o700)
    path, end = tmp_path / "s", stream()
    command = [sys.executable, "-m", "nub_shift", "run", str(DEMO_PROFILE), "--pad", "simulated", "--socket", str(path)]
    with subprocess.Popen([*command, "--output", "print"], stdout=end, stderr=end) as process:
        os.close(end)
        until = time.monotonic() + LIMIT_S
        while not path.exists():
            assert process.poll() is None and time.monotonic() < until
            time.sleep(0.02)
        client = RunnerClient(path)
        while client.call(GetState()).live:  # what it prints goes nowhere, so that it goes back to rehearsal
            assert time.monotonic() < until
        client.close()
        process.terminate()
        assert process.wait(LIMIT_S) == 0


def test_without_descriptors_clients_are_turned_away_and_play_goes_on(tmp_path: Path) -> None:
    tmp_path.chmod(0o700)
    runner = RunnerProcess(tmp_path, "--pad", "simulated", "--output", "print", "--rehearse")
    resource.prlimit(runner.process.pid, resource.RLIMIT_NOFILE, (20, 20))
    crowd = [connected(runner) for _ in range(30)]
    for connection in crowd:
        connection.close()
    assert '"result"' in answer_to(runner, STATE)
    assert runner.end()[0] == 0
