"""A device that goes in the middle of a word."""

from __future__ import annotations

import errno
import os
from pathlib import Path

import evdev
import pytest

from nub_shift.pads.kernel import finding
from nub_shift.pads.kernel.device import KernelDevice
from nub_shift.pads.kernel.finding import find_pads


class GoneDevice:
    """What the device library gives for a device that is pulled out just then: anything may raise anything."""

    def __init__(self, path: str, readonly: bool) -> None:  # noqa: ARG002
        self.fd = os.open(os.devnull, os.O_RDONLY)
        self.closed = False

    def capabilities(self, absinfo: bool) -> dict[int, object]:
        raise SystemError("returned a result with an exception set", absinfo)

    def close(self) -> None:
        os.close(self.fd)
        raise SystemError("closed already")


def test_whatever_the_library_raises_says_that_the_device_has_gone(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(evdev, "InputDevice", GoneDevice)
    monkeypatch.setattr(finding, "_DEVICE_FOLDER", tmp_path)
    (tmp_path / "event3").touch()
    assert find_pads() == []
    with pytest.raises(OSError) as failed:
        KernelDevice(str(tmp_path / "event3"))
    assert failed.value.errno in (errno.ENODEV, errno.ENOTTY)
