"""Fixtures for tests on a real kernel; they are skipped where there is no /dev/uinput."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator

import pytest

from tests.kernel.devices import Runner, TestPad


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--share", default="1/1", metavar="K/N", help="run every Nth test, beginning with the Kth")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    share, parts = map(int, config.getoption("--share", "1/1").split("/"))
    items[:] = items[share - 1 :: parts]
    if os.access("/dev/uinput", os.W_OK):
        return
    skip = pytest.mark.skip(reason="no /dev/uinput here: ./nub test --kernel starts a guest that has it")
    for item in items:
        if item.get_closest_marker("kernel"):
            item.add_marker(skip)


@pytest.fixture
def pad() -> Iterator[TestPad]:
    made = TestPad()
    yield made
    made.unplug()


@pytest.fixture
def live(pad: TestPad) -> Iterator[Runner]:
    runner = Runner("--output", "uinput")
    yield runner
    if runner.process.poll() is None:
        runner.end(signal.SIGKILL)
