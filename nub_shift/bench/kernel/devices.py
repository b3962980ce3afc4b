"""Pads created through uinput, the processes that play them, and their virtual devices."""

from __future__ import annotations

import fcntl
import os
import select
import signal
import struct
import subprocess
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, suppress
from typing import Any

import evdev
from evdev import AbsInfo, ecodes

PAD_NAME = "Nub Shift bench pad"
PHYS = "bench/pad"
FULL = 32767
LIMIT_S = 60.0
# Timeout of a start or an end: a clock that counts instructions jumps ahead during reads of files.
START_S = 1200.0
_SENSORS = (
    *((code, 8192) for code in (ecodes.ABS_X, ecodes.ABS_Y, ecodes.ABS_Z)),
    *((code, 1024) for code in (ecodes.ABS_RX, ecodes.ABS_RY, ecodes.ABS_RZ)),
)
_EVIOCSCLOCKID = 0x400445A0


class NotObserved(Exception):
    """The event to be measured did not happen; the text names it."""


class BenchPad:
    """A pad created through uinput; with `motion` it has motion sensors as a separate device."""

    def __init__(self, motion: bool = False) -> None:
        stick = AbsInfo(0, -FULL, FULL, 0, 0, 0)
        axes = [(code, stick) for code in (ecodes.ABS_X, ecodes.ABS_Y, ecodes.ABS_RX, ecodes.ABS_RY)]
        events: dict[int, Any] = {ecodes.EV_KEY: [ecodes.BTN_SOUTH], ecodes.EV_ABS: axes}
        sensors: dict[int, Any] = {
            ecodes.EV_ABS: [(code, AbsInfo(0, -(1 << 21), 1 << 21, 0, 0, unit)) for code, unit in _SENSORS],
            ecodes.EV_MSC: [ecodes.MSC_TIMESTAMP],
        }
        props = [ecodes.INPUT_PROP_ACCELEROMETER]
        try:
            self._device = evdev.UInput(events, name=PAD_NAME, phys=f"{PHYS}/input0")
            self._motion = (
                evdev.UInput(sensors, name=PAD_NAME, phys=f"{PHYS}/input1", input_props=props) if motion else None
            )
        except evdev.UInputError as error:
            raise OSError(str(error)) from None
        devices = [self._device] if self._motion is None else [self._device, self._motion]
        self.paths = [str(device.device.path) for device in devices]
        self._sampled_us = 0

    def write(self, kind: int, code: int, value: int) -> None:
        """Writes one event as a frame."""
        self._device.write(kind, code, value)
        self._device.syn()

    def turn(self, dps: float) -> None:
        """Writes one sample of a pad that turns to the right, 4 ms after the one before, with noise on every sensor."""
        assert self._motion is not None
        self._sampled_us += 4_000
        noise = self._sampled_us // 4_000 % 7
        rest = {ecodes.ABS_Y: 8192, ecodes.ABS_RY: -round(dps * 1024)}
        for code, _ in _SENSORS:
            self._motion.write(ecodes.EV_ABS, code, rest.get(code, 0) + noise)
        self._motion.write(ecodes.EV_MSC, ecodes.MSC_TIMESTAMP, self._sampled_us)
        self._motion.syn()

    def close(self) -> None:
        """Unplugs the pad; may be called twice."""
        self._device.close()
        if self._motion is not None:
            self._motion.close()


@contextmanager
def running(command: list[str], ready: str, environment: Mapping[str, str] = os.environ) -> Iterator[int]:
    """Runs a process that reports being ready, and ends it.

    Raises:
        NotObserved: the process was never ready, or does not end on request.
    """
    started = subprocess.Popen(command, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL, env=environment)
    with ended(started) as process:
        await_word(process, ready)
        yield process.pid


def await_word(process: subprocess.Popen[bytes], word: str) -> None:
    """Waits for a line on standard error that contains a word.

    Raises:
        NotObserved: there is no such line.
    """
    assert process.stderr is not None
    end, heard = time.monotonic() + START_S, b""
    while word.encode() not in heard[: heard.rfind(b"\n") + 1]:
        if not select.select([process.stderr], [], [], max(0.0, end - time.monotonic()))[0]:
            raise NotObserved(f"{_called(process)} was not ready after {START_S:g} s")
        more = os.read(process.stderr.fileno(), 4096)
        if not more:
            raise NotObserved(f"{_called(process)} was never ready")
        heard += more


@contextmanager
def ended(process: subprocess.Popen[bytes]) -> Iterator[subprocess.Popen[bytes]]:
    """Ends a process on exit, with a time limit.

    Raises:
        NotObserved: the process had to be killed.
    """
    with process:
        try:
            yield process
        finally:
            process.send_signal(signal.SIGTERM)
            try:
                process.wait(START_S)
            except subprocess.TimeoutExpired:
                process.kill()
                raise NotObserved(f"{_called(process)} did not end when it was told to") from None


def _called(process: subprocess.Popen[bytes]) -> str:
    return " ".join(map(str, list(process.args)[1:4])) if isinstance(process.args, list) else str(process.args)


@contextmanager
def low_priority() -> Iterator[None]:
    """Lowers our priority, so that a process woken by our writes runs at once."""
    before = os.sched_getscheduler(0)
    os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    try:
        yield
    finally:
        with suppress(PermissionError):  # an ordinary user cannot raise the priority again; it stays low
            os.sched_setscheduler(0, before, os.sched_param(0))


def output_of(phys: str) -> evdev.InputDevice[str]:
    """Returns the virtual device with a physical path, with events timed by the monotonic clock.

    Raises:
        NotObserved: there is none.
    """
    for path in evdev.list_devices():
        device = evdev.InputDevice(path)
        if device.phys == phys:
            fcntl.ioctl(device.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))
            return device
        device.close()
    raise NotObserved(f"there is no device {phys}")
