"""A pad made through uhid: the kernel's own driver for it makes its buttons, motion sensors, touch surface, battery and
player lights, each as a device of its own, from the reports that we send.

The layouts of the reports are those that the driver reads (drivers/hid in the kernel's source); the events of uhid are
those of the kernel's uapi header linux/uhid.h.
"""

from __future__ import annotations

import os
import struct
import threading
from pathlib import Path

DRIVEN_NAME = "Made-up driven pad"

_UHID = Path("/dev/uhid")
_DESTROY, _OUTPUT, _GET_REPORT, _GET_REPORT_REPLY, _CREATE, _INPUT = 1, 6, 9, 10, 11, 12
_BUS_USB = 3
_VENDOR, _PRODUCT = 0x054C, 0x0CE6
_EVENT_BYTES = 4380
_INPUT_ID, _INPUT_BYTES = 0x01, 64
_CALIBRATION, _PAIRING, _FIRMWARE = 0x05, 0x09, 0x20
_RAW_PER_DPS = 16
_RAW_PER_G = 8192
_STAMPS_PER_S = 3_000_000


def _descriptor() -> bytes:
    """A game pad with its input report, its output report and the three feature reports, all of plain bytes."""
    head = bytes.fromhex("0501 0905 A101 0600FF 1500 26FF00 7508")
    reports = [(_INPUT_ID, _INPUT_BYTES, 0x81), (0x02, 63, 0x91)]
    reports += [(_CALIBRATION, 41, 0xB1), (_PAIRING, 20, 0xB1), (_FIRMWARE, 64, 0xB1)]
    body = b"".join(bytes([0x85, number, 0x09, number, 0x95, size - 1, kind, 2]) for number, size, kind in reports)
    return head + body + b"\xc0"


class DrivenPad:
    """A pad with motion sensors that a driver of the kernel provides; lies still, battery at 75 %."""

    def __init__(self, serial: str = "02:00:00:00:51:01") -> None:
        self.serial = serial
        self._features = {_CALIBRATION: self._calibration(), _PAIRING: self._pairing(), _FIRMWARE: bytes([_FIRMWARE])}
        self._stamp = self._number = 0
        self._fd = os.open(_UHID, os.O_RDWR)
        described = _descriptor()
        numbers = struct.pack("<HHIIII", len(described), _BUS_USB, _VENDOR, _PRODUCT, 0, 0)
        names = struct.pack("128s64s64s", DRIVEN_NAME.encode(), b"test/driven", b"")
        self._send(_CREATE, names + numbers + described)
        self._answering = threading.Thread(target=self._answer, daemon=True)
        self._answering.start()

    def show(
        self, dps: float = 0.0, *, south: bool = False, touched: tuple[int, int] | None = None, noisy: bool = True
    ) -> None:
        """One report, 4 ms after the last: how fast it is turned to the left, south, and where a finger touches.

        Sensors that are not `noisy` show the same again and again, and the kernel passes on their time alone.
        """
        self._stamp = (self._stamp + _STAMPS_PER_S * 4 // 1000) % 2**32
        self._number = (self._number + 1) % 256
        buttons = bytes([0x08 | (0x20 if south else 0), 0, 0, 0])  # the hat at rest is 8
        noise = self._number % 2 if noisy else 0
        motion = struct.pack("<6hI", noise, round(dps * _RAW_PER_DPS) + noise, 0, 0, _RAW_PER_G + noise, 0, self._stamp)
        x, y = touched or (0, 0)
        finger = bytes([0x80 if touched is None else 0x01, x & 0xFF, x >> 8 | (y & 0xF) << 4, y >> 4])
        sticks = bytes([0x80] * 4 + [0, 0])
        report = bytes([_INPUT_ID]) + sticks + bytes([self._number]) + buttons + bytes(4) + motion + bytes(1)
        report += finger + bytes([0x80, 0, 0, 0]) + bytes(12) + bytes([0x07])
        self._send(_INPUT, struct.pack("<H", _INPUT_BYTES) + report.ljust(_INPUT_BYTES, b"\0"))

    def unplug(self) -> None:
        """The pad and all its devices go. May be called twice."""
        if self._fd >= 0:
            self._send(_DESTROY, b"")
            fd, self._fd = self._fd, -1
            os.close(fd)

    def _send(self, kind: int, body: bytes) -> None:
        os.write(self._fd, struct.pack("<I", kind) + body)

    def _answer(self) -> None:
        """The driver asks for the feature reports while it starts."""
        fd = self._fd
        while True:
            try:
                event = os.read(fd, _EVENT_BYTES)
            except OSError:
                return
            if struct.unpack_from("<I", event)[0] == _GET_REPORT:
                number, report = struct.unpack_from("<IB", event, 4)
                sizes = {_CALIBRATION: 41, _PAIRING: 20, _FIRMWARE: 64}
                data = self._features[report].ljust(sizes[report], b"\0")
                try:
                    os.write(fd, struct.pack("<IIHH", _GET_REPORT_REPLY, number, 0, len(data)) + data)
                except OSError:
                    return

    def _calibration(self) -> bytes:
        full, speed = 540 * _RAW_PER_DPS, 540
        gyro = (0, 0, 0, full, -full, full, -full, full, -full, speed, speed)
        return struct.pack("<B17h", _CALIBRATION, *gyro, *(_RAW_PER_G, -_RAW_PER_G) * 3)

    def _pairing(self) -> bytes:
        return bytes([_PAIRING]) + bytes(reversed(bytes.fromhex(self.serial.replace(":", ""))))
