"""Pads that a driver of the kernel provides, and the daemon that opens devices to people: nothing here is by uinput."""

from __future__ import annotations

import os
import select
import signal
import stat
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import evdev
import pytest
from evdev import ecodes

from nub_shift.model.messages import Code, Message
from nub_shift.pads.kernel.finding import Found, find_pads
from nub_shift.pads.kernel.holders import nodes_of
from nub_shift.pads.kernel.hotplug import Hotplug
from nub_shift.pads.kernel.node import Node
from nub_shift.pads.recorded.recording import read_recording
from nub_shift.protocol.calls import WatchPads
from nub_shift.protocol.client import RunnerClient
from tests.kernel.devices import LIMIT_S, Runner, TestMotion, open_own
from tests.kernel.driven_pad import DRIVEN_NAME, DrivenPad

pytestmark = [
    pytest.mark.kernel,
    # They need that driver, and change the machine: rules, the permissions of folders.
    pytest.mark.skipif("KERNEL_GUEST" not in os.environ, reason="only in the guest of tools/kernel-guest"),
]

NUB = (sys.executable, "-m", "nub_shift")
PROFILE = """
schema = 4
title = "Driven"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
south = { keys = ["KEY_SPACE"] }
motion = { turn = {} }
surface = { drag = { x = 1000, y = 1000 } }
[feel.motion]
axis = "yaw"
ratio = 1
"""


@pytest.fixture
def driven() -> Iterator[DrivenPad]:
    made = DrivenPad()
    until(lambda: bool(found()))
    made.show()
    yield made
    made.unplug()


@pytest.fixture(scope="module")
def daemon() -> Iterator[None]:
    """The daemon that sets permissions, with our own rule."""
    for place in (Path(sys.executable), Path(sys.executable).resolve(), Path(__file__)):
        for folder in place.parents:  # so that another user can start the program; this layer is thrown away
            folder.chmod(folder.stat().st_mode | 0o055)
    process = subprocess.Popen(["/lib/systemd/systemd-udevd"], stderr=subprocess.DEVNULL)
    try:
        until(Path("/run/udev/control").exists)
        subprocess.run([*NUB, "doctor", "--fix", "--yes"], check=True, stdout=subprocess.DEVNULL)
        settle()
        yield
    finally:
        process.terminate()
        process.wait(LIMIT_S)
        Path("/run/udev/control").unlink(missing_ok=True)


def settle() -> None:
    """Waits until the daemon has dealt with all devices, also where root is moved: there it has to be told to."""
    subprocess.run(["udevadm", "settle"], check=True, env={**os.environ, "SYSTEMD_IGNORE_CHROOT": "1"})


def person(*groups: str) -> tuple[str, ...]:
    """What stands before a command that an ordinary user runs, who is in these groups."""
    home = tempfile.mkdtemp()
    Path(home).chmod(0o777)
    within = [f"--groups={','.join(groups)}"] if groups else ["--clear-groups"]
    return (
        *("env", f"HOME={home}", f"XDG_RUNTIME_DIR={home}"),
        *("setpriv", "--reuid=65534", "--regid=65534", *within, "--no-new-privs"),
    )


def found() -> list[Found]:
    return [pad for pad in find_pads() if pad.description is not None and pad.description.name == DRIVEN_NAME]


def until(wanted: Callable[[], bool]) -> None:
    end = time.monotonic() + LIMIT_S
    while not wanted():
        assert time.monotonic() < end, "not so in time"
        time.sleep(0.02)


def lights() -> list[int]:
    """Which player lights are lit."""
    shining = Path("/sys/class/leds").glob("*:player-*/brightness")
    return sorted(int(light.parent.name[-1]) for light in shining if light.read_text().strip() != "0")


def written(tmp_path: Path) -> Path:
    profile = tmp_path / "driven.toml"
    profile.write_text(PROFILE)
    return profile


def test_all_parts_of_a_driven_pad_play_without_being_introduced(driven: DrivenPad, tmp_path: Path) -> None:
    listed = subprocess.run([*NUB, "pads"], capture_output=True, text=True, check=True).stdout
    assert listed.count(DRIVEN_NAME) == 1  # its motion sensors and its surface are not pads
    assert "gyro" in listed and "touch surface" in listed and "75 %" in listed
    runner = Runner("--output", "uinput", profile=written(tmp_path), pad=DRIVEN_NAME)
    try:
        until(lambda: lights() == [1])
        mouse, keyboard = open_own("mouse"), open_own("keyboard")
        driven.show(south=True)
        keyboard.wait_key(ecodes.KEY_SPACE, True)
        driven.show()
        keyboard.wait_key(ecodes.KEY_SPACE, False)
        for place in ((480, 540), (960, 540), (1439, 540)):
            driven.show(touched=place)
            time.sleep(0.01)
        driven.show()
        mouse.wait(lambda _: 490 <= mouse.total(ecodes.REL_X) <= 510)
        mouse.wait_across(600, lambda: driven.show(-100))
        driven.unplug()
        runner.wait_line("unplugged")
    finally:
        runner.end()


def test_a_turn_without_noise_arrives_to_the_last_count(driven: DrivenPad, tmp_path: Path) -> None:
    runner = Runner("--output", "uinput", profile=written(tmp_path), pad=DRIVEN_NAME)
    try:
        until(lambda: lights() == [1])
        mouse, keyboard = open_own("mouse"), open_own("keyboard")
        for number, dps in enumerate([0.0] * 50 + [-90.0] * 250 + [0.0] * 50):
            # The kernel keeps about eight samples for a runner that reads late, and loses those that come then: the
            # key of a button says how far it has read.
            pressed = number // 5 % 2 == 0
            driven.show(dps, south=pressed, noisy=False)
            time.sleep(0.004)
            if number % 5 == 4:
                keyboard.wait_key(ecodes.KEY_SPACE, pressed)
                mouse.drain()
        turned = 250 * 0.004 * 90 / 360 * 6000  # counts, at 6000 a full turn
        mouse.wait(lambda _: abs(mouse.total(ecodes.REL_X) - turned) <= 90 * 0.004 / 360 * 6000)  # one sample
        time.sleep(1)
        mouse.drain()
        assert mouse.total(ecodes.REL_X) == pytest.approx(turned, abs=6)
    finally:
        runner.end()


def test_a_pad_with_motors_is_recorded_with_all_its_devices(driven: DrivenPad, tmp_path: Path) -> None:
    file = tmp_path / "driven.txt"
    words = ("record", str(file), "--pad", f"evdev:{DRIVEN_NAME}", "--seconds", "2")
    with subprocess.Popen([*NUB, *words], stderr=subprocess.PIPE, text=True) as recorder:
        assert recorder.stderr is not None and "recording" in recorder.stderr.readline()
        for down in (True, False):
            driven.show(south=down)
        assert recorder.wait(60) == 0, recorder.stderr.read()
    recorded = {path.name: read_recording(path) for path in sorted(tmp_path.iterdir())}
    assert {*recorded} == {"driven.txt", "driven-motion.txt", "driven-surface.txt"}
    nodes = [Node(path) for path in evdev.list_devices()]
    by_name = {device.name: device for device in (node.describe() for node in nodes)}
    for recording in recorded.values():
        known = by_name[recording.description.name]
        assert recording.description == replace(known, phys="", uniq="")
    assert any(event[2:4] == (ecodes.EV_KEY, ecodes.BTN_SOUTH) for event in recorded["driven.txt"].events)


def is_open() -> bool:
    """Whether the pad's node belongs to a group that may read it."""
    nodes = [Path(device.path).stat() for device in found()]
    return bool(nodes) and stat.S_IMODE(nodes[0].st_mode) == 0o660 and nodes[0].st_gid != 0


def test_the_daemon_tells_of_a_pad_once_people_may_open_it(daemon: None) -> None:
    listening = Hotplug()
    pad = DrivenPad()
    try:
        # Devices of the tests before may still be reported; after the last report of this one people may open it.
        until(lambda: bool(select.select([listening.fileno()], [], [], 1)[0]) and listening.came() and is_open())
    finally:
        pad.unplug()


def login_service(folder: Path) -> Path:
    """Stands in for the command that asks the login service for a light; gives the file with what it was asked for."""
    requested, command = folder / "asked", folder / "busctl"
    requested.touch()
    requested.chmod(0o666)
    command.write_text(f'#!/bin/sh\necho "$*" >>{requested}\n')
    command.chmod(0o755)
    return requested


def tags(path: str) -> str:
    """What the daemon has marked a device with; "uaccess" opens it to whoever sits at the machine."""
    settle()
    requested = ["udevadm", "info", "--query=property", "--property=CURRENT_TAGS", "--value", path]
    return subprocess.run(requested, capture_output=True, text=True, check=True).stdout


def test_sensors_and_surfaces_are_opened_to_people_if_they_are_of_a_pad(daemon: None) -> None:
    pad, of_the_machine = DrivenPad(), TestMotion("machine/input0")
    try:
        until(lambda: bool(found()) and len(found()[0].parts) == 2)
        until(lambda: all("uaccess" in tags(path) for path in (found()[0].path, *found()[0].parts)))
        assert "uaccess" not in tags(of_the_machine.path)
    finally:
        pad.unplug()
        of_the_machine.unplug()


def test_an_ordinary_user_is_told_what_to_do_and_then_plays_on_after_an_unplug(daemon: None, tmp_path: Path) -> None:
    stranger = [*person(), *NUB]
    pad = DrivenPad()
    runner = None
    try:
        settle()
        refused = subprocess.run([*stranger, "doctor"], capture_output=True, text=True, check=False).stdout
        assert "fix:     Reading pads" in refused and "nub-shift doctor --fix" in refused
        profile = written(Path(tempfile.mkdtemp()))
        profile.parent.chmod(0o755)
        requested = login_service(profile.parent)
        become = (*person("input"), "env", f"PATH={profile.parent}:{os.environ['PATH']}")
        runner = Runner("--output", "print", profile=profile, pad=DRIVEN_NAME, become=become)
        until(lambda: len(requested.read_text().splitlines()) >= 5)  # again when a part or a light comes late
        pad.unplug()
        runner.wait_line("unplugged")
        before = len(requested.read_text().splitlines())
        pad = DrivenPad()
        runner.wait_line("is here")
        until(lambda: len(requested.read_text().splitlines()) >= before + 5)
        assert [line for line in requested.read_text().splitlines() if line.endswith(":player-1 1")]
        assert runner.end() == 0
    finally:
        pad.unplug()
        if runner is not None and runner.process.poll() is None:
            runner.end(signal.SIGKILL)


def raw_of_driven() -> Path:
    """The node of its raw reports."""
    return Path(next(node for node, is_raw in nodes_of(found()[0].path).items() if is_raw))


def test_raw_reports_of_pads_can_be_kept_from_all_programs(daemon: None) -> None:
    elsewhere = Path("/etc/udev/rules.d/71-elsewhere.rules")
    elsewhere.write_text('SUBSYSTEM=="hidraw", MODE="0666", TAG+="uaccess"\n')  # as a program may bring
    at_home = {**os.environ, "SYSTEMD_IGNORE_CHROOT": "1"}
    subprocess.run(["udevadm", "control", "--reload"], check=True, env=at_home)
    pad = DrivenPad()
    try:
        until(lambda: bool(found()) and raw_of_driven().stat().st_mode & 0o777 == 0o666)
        close = [*NUB, "doctor", "--close-raw", "--yes"]
        assert "sudo rm" in subprocess.run(close, capture_output=True, text=True, check=True, env=at_home).stdout
        pad.unplug()
        until(lambda: not found())
        pad = DrivenPad()
        until(lambda: bool(found()) and raw_of_driven().stat().st_mode & 0o777 == 0o600)
        until(lambda: "uaccess" in tags(found()[0].path))  # its buttons are read as before
        assert "uaccess" not in tags(str(raw_of_driven()))
    finally:
        pad.unplug()
        elsewhere.unlink()


def test_a_program_that_reads_raw_reports_past_us_is_named(driven: DrivenPad, tmp_path: Path) -> None:
    raw = next(node for node, is_raw in nodes_of(found()[0].path).items() if is_raw)
    with Path(raw).open("rb") as opened, subprocess.Popen(["sleep", "600"], stdin=opened) as game:
        said = subprocess.run([*NUB, "doctor"], capture_output=True, text=True, check=False).stdout
        runner = Runner("--output", "print", "--socket", str(tmp_path / "r.sock"))
        client = RunnerClient(tmp_path / "r.sock", LIMIT_S)
        client.call(WatchPads(hz=20))
        wrong: list[Message] = []
        while not wrong:  # the socket's timeout is the limit
            connected = client.pads_news().connected
            wrong = [what for pad in connected.pads for what in pad.wrong] if connected is not None else []
        client.close()
        runner.end()
        game.kill()
    assert Message(Code.READ_ELSEWHERE, {"program": "sleep"}) in wrong
    assert f"sleep (process {game.pid}) reads {DRIVEN_NAME} by itself, also while live" in said
