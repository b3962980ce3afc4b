"""A pad made through uinput, a runner that reads it, and readers of what the runner's own devices give.

Every wait is for an event or a line, with a limit that is only reached when something is broken (the guest is slow).
"""

from __future__ import annotations

import select
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import evdev
from evdev import AbsInfo, ecodes

PROFILE = Path(__file__).parents[2] / "nub_shift" / "demo" / "saltglass.toml"
PAD_NAME = "Made-up test pad"
OLD_NAME = "Made-up old pad"
LIMIT_S = 180.0
FULL = 32767

Seen = tuple[int, int, int]


class TestPad:
    """A pad by the kernel's gamepad document."""

    __test__ = False

    def __init__(self, phys: str = "test/pad") -> None:
        stick = AbsInfo(0, -FULL, FULL, 0, 0, 0)
        trigger = AbsInfo(0, 0, 255, 0, 0, 0)
        axes = [(code, stick) for code in (ecodes.ABS_X, ecodes.ABS_Y, ecodes.ABS_RX, ecodes.ABS_RY)]
        axes += [(code, trigger) for code in (ecodes.ABS_HAT2X, ecodes.ABS_HAT2Y)]
        keys = [
            ecodes.BTN_SOUTH,
            ecodes.BTN_EAST,
            ecodes.BTN_TL,
            ecodes.BTN_TR,
            ecodes.BTN_DPAD_UP,
            ecodes.BTN_DPAD_RIGHT,
        ]
        events: dict[int, Any] = {ecodes.EV_KEY: keys, ecodes.EV_ABS: axes}
        self._device = evdev.UInput(events, name=PAD_NAME, phys=phys)
        self.path = str(self._device.device.path)

    def move(self, *changes: tuple[int, int]) -> None:
        """Axis codes and values, as one frame."""
        for code, value in changes:
            self._device.write(ecodes.EV_ABS, code, value)
        self._device.syn()

    def press(self, code: int, down: bool) -> None:
        """One button, as one frame."""
        self._device.write(ecodes.EV_KEY, code, int(down))
        self._device.syn()

    def write(self, kind: int, code: int, value: int) -> None:
        """One event, whatever it means; the caller ends the frame."""
        self._device.write(kind, code, value)

    def syn(self) -> None:
        """Ends a frame."""
        self._device.syn()

    def unplug(self) -> None:
        """The device goes away. May be called twice."""
        self._device.close()


class TestMotors:
    """A pad with rumble motors, and what they are told."""

    __test__ = False

    def __init__(self) -> None:
        events: dict[int, Any] = {ecodes.EV_KEY: [ecodes.BTN_SOUTH, ecodes.BTN_TL], ecodes.EV_FF: [ecodes.FF_RUMBLE]}
        self._device = evdev.UInput(events, name=PAD_NAME, phys="test/motors", max_effects=4)
        self.path = str(self._device.device.path)
        self.ran_ms: list[int] = []
        self._known: dict[int, int] = {}
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def unplug(self) -> None:
        """The device goes away."""
        self._device.close()

    def _serve(self) -> None:
        """What a driver does: takes effects, and plays them."""
        while True:
            try:
                select.select([self._device.fd], [], [])
                event = self._device.read_one()
            except (OSError, ValueError):
                return
            if event is None:
                continue
            if event.type == ecodes.EV_UINPUT and event.code == ecodes.UI_FF_UPLOAD:
                upload = self._device.begin_upload(event.value)
                upload.retval = 0
                self._known[upload.effect.id] = upload.effect.ff_replay.length
                self._device.end_upload(upload)
            elif event.type == ecodes.EV_UINPUT and event.code == ecodes.UI_FF_ERASE:
                erase = self._device.begin_erase(event.value)
                erase.retval = 0
                self._device.end_erase(erase)
            elif event.type == ecodes.EV_FF and event.value:
                self.ran_ms.append(self._known[event.code])


class TestMotion:
    """A pad's motion sensors, as the kernel has them: a device of their own."""

    __test__ = False

    def __init__(self, phys: str) -> None:
        accel, gyro = AbsInfo(0, -32768, 32767, 0, 0, 8192), AbsInfo(0, -2097152, 2097151, 0, 0, 1024)
        axes = [(code, accel) for code in (ecodes.ABS_X, ecodes.ABS_Y, ecodes.ABS_Z)]
        axes += [(code, gyro) for code in (ecodes.ABS_RX, ecodes.ABS_RY, ecodes.ABS_RZ)]
        events: dict[int, Any] = {ecodes.EV_ABS: axes, ecodes.EV_MSC: [ecodes.MSC_TIMESTAMP]}
        props = [ecodes.INPUT_PROP_ACCELEROMETER]
        self._device = evdev.UInput(events, name="Anything", phys=phys, input_props=props)
        self.path = str(self._device.device.path)
        self._at_us = 0

    def turn(self, dps: float, samples: int) -> None:
        """Turns to the right at that rate, 4 ms a sample."""
        for _ in range(samples):
            self._at_us += 4000
            # Without noise: the kernel leaves out what has not changed, so most samples are their time alone.
            self._device.write(ecodes.EV_ABS, ecodes.ABS_RY, -round(dps * 1024))
            self._device.write(ecodes.EV_ABS, ecodes.ABS_Y, 8192)
            self._device.write(ecodes.EV_MSC, ecodes.MSC_TIMESTAMP, self._at_us)
            self._device.syn()
            time.sleep(0.004)

    def unplug(self) -> None:
        """The device goes away."""
        self._device.close()


class TestSurface:
    """A pad's touch surface, as the kernel has it: a device of its own."""

    __test__ = False

    def __init__(self, phys: str) -> None:
        way = AbsInfo(960, 0, 1920, 0, 0, 0)
        events: dict[int, Any] = {
            ecodes.EV_KEY: [ecodes.BTN_TOUCH, ecodes.BTN_LEFT],
            ecodes.EV_ABS: [(ecodes.ABS_X, way), (ecodes.ABS_Y, way)],
        }
        self._device = evdev.UInput(events, name="Something", phys=phys)

    def drag(self, *places: tuple[int, int]) -> None:
        """A finger comes down at the first place, goes to the others, and is lifted."""
        self._device.write(ecodes.EV_KEY, ecodes.BTN_TOUCH, 1)
        for x, y in places:
            self._device.write(ecodes.EV_ABS, ecodes.ABS_X, x)
            self._device.write(ecodes.EV_ABS, ecodes.ABS_Y, y)
            self._device.syn()
            time.sleep(0.01)
        self._device.write(ecodes.EV_KEY, ecodes.BTN_TOUCH, 0)
        self._device.syn()

    def unplug(self) -> None:
        """The device goes away."""
        self._device.close()


class OldPad:
    """A pad from before the gamepad document: joystick buttons in an order of its own, a stick that counts upwards."""

    def __init__(self) -> None:
        axes = [(code, AbsInfo(127, 0, 255, 0, 0, 0)) for code in (ecodes.ABS_X, ecodes.ABS_Y)]
        events: dict[int, Any] = {ecodes.EV_KEY: list(range(0x120, 0x124)), ecodes.EV_ABS: axes}
        self._device = evdev.UInput(events, name=OLD_NAME, vendor=0x1209, product=0x5199, version=1, phys="test/old")
        self.path = str(self._device.device.path)

    def press(self, code: int) -> None:
        """A press of one button."""
        for down in (1, 0):
            self._device.write(ecodes.EV_KEY, code, down)
            self._device.syn()

    def move(self, x: float, y: float) -> None:
        """The stick goes there: x to the right and y downwards, each -1 to 1."""
        self._device.write(ecodes.EV_ABS, ecodes.ABS_X, round(127 + 127 * x))
        self._device.write(ecodes.EV_ABS, ecodes.ABS_Y, round(127 - 127 * y))
        self._device.syn()

    def unplug(self) -> None:
        """The device goes away."""
        self._device.close()


class Reader:
    """Reads one device and waits for what it should give."""

    def __init__(self, path: str) -> None:
        self.device = evdev.InputDevice(path)
        self.seen: list[Seen] = []
        self.gone = False

    def wait(self, wanted: Callable[[list[Seen]], bool], limit_s: float = LIMIT_S) -> list[Seen]:
        """Everything seen so far, once it is as wanted; fails with what was seen when that takes too long."""
        end = time.monotonic() + limit_s
        while not wanted(self.seen):
            left = end - time.monotonic()
            assert left > 0, f"not seen in time; seen: {self.seen}"
            assert not self.gone, f"the device has gone; seen: {self.seen}"
            if select.select([self.device.fd], [], [], left)[0]:
                self._take()
        return self.seen

    def wait_across(self, beyond: int, act: Callable[[], None]) -> None:
        """Acts again and again until the pointer has gone further to the right than that.

        A slow guest loses samples, so nobody can say how many it takes; the engine's tests say how far each goes.
        """
        end = time.monotonic() + LIMIT_S
        while self.total(ecodes.REL_X) <= beyond:
            assert time.monotonic() < end, f"not seen in time; seen: {self.seen}"
            act()
            self.drain()

    def wait_key(self, code: int, down: bool) -> None:
        """Waits until the newest event of that key is down, or up."""
        self.wait(
            lambda seen: [value for kind, found, value in seen if (kind, found) == (ecodes.EV_KEY, code)][-1:] == [down]
        )

    def wait_key_or_gone(self, code: int) -> None:
        """Waits until that key is up, or the device has gone and its keys with it.

        The kernel releases the keys of a device that vanishes, but a reader that is slower than the removal is told
        only of the removal.
        """
        end = time.monotonic() + LIMIT_S
        while not self.gone and (ecodes.EV_KEY, code, 0) not in self.seen:
            left = end - time.monotonic()
            assert left > 0, f"still there and down; seen: {self.seen}"
            if select.select([self.device.fd], [], [], left)[0]:
                self._take()

    def until(self, wanted: Callable[[], bool]) -> None:
        """Waits until something is so, whether the device is there or not."""
        end = time.monotonic() + LIMIT_S
        while not wanted():
            assert time.monotonic() < end, f"never so; seen: {self.seen}"
            self.drain()
            time.sleep(0.01)

    def wait_down(self, *codes: int) -> None:
        """Waits until the kernel has just these keys of the device down, whatever was lost on the way to us."""
        end = time.monotonic() + LIMIT_S
        while (down := set(self.device.active_keys())) != set(codes):
            assert time.monotonic() < end, f"down: {down}, expected {codes}"
            time.sleep(0.01)

    def total(self, code: int) -> int:
        """The sum of a relative axis so far."""
        return sum(value for kind, found, value in self.seen if (kind, found) == (ecodes.EV_REL, code))

    def drain(self) -> None:
        """Takes what is there already."""
        while select.select([self.device.fd], [], [], 0)[0] and not self.gone:
            self._take()

    def _take(self) -> None:
        try:
            self.seen += [
                (event.type, event.code, event.value) for event in self.device.read() if event.type != ecodes.EV_SYN
            ]
        except OSError:
            self.gone = True


class Runner:
    """`nub-shift run` as a process."""

    def __init__(
        self, *arguments: str, profile: Path = PROFILE, pad: str = PAD_NAME, become: Sequence[str] = ()
    ) -> None:
        command = [sys.executable, "-m", "nub_shift", "run", str(profile), "--pad", f"evdev:{pad}", *arguments]
        self.process = subprocess.Popen([*become, *command], stderr=subprocess.PIPE, text=True)
        self.wait_line("ready:")

    def wait_line(self, part: str) -> str:
        """The next line of standard error that has `part`; the runner is ended when it takes too long to say so."""
        assert self.process.stderr is not None
        said = []
        limit = threading.Timer(LIMIT_S, self.process.kill)
        limit.start()
        try:
            for line in self.process.stderr:
                if part in line:
                    return line
                said.append(line)
        finally:
            limit.cancel()
        raise AssertionError(f"the runner ended with {self.process.wait()} and did not say {part!r}, but {said}")

    def end(self, number: int = signal.SIGTERM) -> int:
        """Sends a signal; returns the exit status."""
        self.process.send_signal(number)
        return self.close()

    def close(self) -> int:
        """Waits for its end; returns the exit status."""
        code = self.process.wait(LIMIT_S)
        assert self.process.stderr is not None
        self.process.stderr.close()
        return code


def own_device(part: str) -> str | None:
    """The path of the runner's virtual keyboard or mouse."""
    for path in evdev.list_devices():
        device = evdev.InputDevice(path)
        phys = device.phys
        device.close()
        if phys == f"nub-shift/{part}":
            return str(path)
    return None


def open_own(part: str) -> Reader:
    """A reader of the runner's virtual keyboard or mouse."""
    path = own_device(part)
    assert path is not None
    return Reader(path)
