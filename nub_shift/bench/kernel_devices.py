"""Pads made through uinput, what plays them, and the virtual devices that they are played to."""

from __future__ import annotations

import fcntl
import os
import signal
import struct
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

import evdev
from evdev import AbsInfo, ecodes

PAD_NAME = "Nub Shift bench pad"
PHYS = "bench/pad"
FULL = 32767
LIMIT_S = 60.0
_SENSORS = (
    *((code, 8192) for code in (ecodes.ABS_X, ecodes.ABS_Y, ecodes.ABS_Z)),
    *((code, 1024) for code in (ecodes.ABS_RX, ecodes.ABS_RY, ecodes.ABS_RZ)),
)
_EVIOCSCLOCKID = 0x400445A0


class NothingCame(Exception):
    """What was to be measured did not happen; the text says what."""


class BenchPad:
    """A pad made through uinput; with `motion` it has sensors, which are a device of their own."""

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
        """One event as a frame."""
        self._device.write(kind, code, value)
        self._device.syn()

    def turn(self, dps: float) -> None:
        """One sample of a pad that turns to the right, 4 ms after the one before; every sensor shows some noise."""
        assert self._motion is not None
        self._sampled_us += 4_000
        noise = self._sampled_us // 4_000 % 7
        rest = {ecodes.ABS_Y: 8192, ecodes.ABS_RY: -round(dps * 1024)}
        for code, _ in _SENSORS:
            self._motion.write(ecodes.EV_ABS, code, rest.get(code, 0) + noise)
        self._motion.write(ecodes.EV_MSC, ecodes.MSC_TIMESTAMP, self._sampled_us)
        self._motion.syn()

    def close(self) -> None:
        """Unplugs it; may be called twice."""
        self._device.close()
        if self._motion is not None:
            self._motion.close()


@contextmanager
def running(command: list[str], ready: str) -> Iterator[int]:
    """A process that has said that it is ready; ended afterwards."""
    with subprocess.Popen(command, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL, text=True) as process:
        assert process.stderr is not None
        for line in process.stderr:
            if ready in line:
                break
        else:
            raise NothingCame(f"{' '.join(command[1:4])} was never ready")
        try:
            yield process.pid
        finally:
            process.send_signal(signal.SIGTERM)


@contextmanager
def out_of_the_way() -> Iterator[None]:
    """While it holds, whoever is woken by our writing runs at once, whatever the scheduler thinks of us otherwise."""
    before = os.sched_getscheduler(0)
    os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    try:
        yield
    finally:
        with suppress(PermissionError):  # an ordinary user may not come back; then we stay idle to the end
            os.sched_setscheduler(0, before, os.sched_param(0))


def output_of(phys: str) -> evdev.InputDevice[str]:
    """The virtual device of that physical path, its events timed by the monotonic clock.

    Raises:
        NothingCame: there is none.
    """
    for path in evdev.list_devices():
        device = evdev.InputDevice(path)
        if device.phys == phys:
            fcntl.ioctl(device.fd, _EVIOCSCLOCKID, struct.pack("i", time.CLOCK_MONOTONIC))
            return device
        device.close()
    raise NothingCame(f"there is no device {phys}")
