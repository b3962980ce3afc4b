"""Less motion where the desktop asks for it, told over a real session bus by a portal that the test plays."""

from __future__ import annotations

import asyncio
import subprocess
import sys

import pytest
from dbus_fast import Variant
from dbus_fast.aio import MessageBus
from dbus_fast.service import ServiceInterface, dbus_method, dbus_signal
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from nub_shift.ui.frame.tape import FRAME_MS, STEP_MS
from nub_shift.ui.look.desktop import Desktop
from nub_shift.ui.look.theme import DAY_CONTRAST, NIGHT_CONTRAST, Look
from tests.ui.conftest import Bench

LIMIT_S = 30
APPEARANCE = "org.freedesktop.appearance"
SESSION = """\
(sleep "$2"; exec "$1" -m tests.ui.test_motion portal) & portal=$!
"$1" -m tests.ui.test_motion look
status=$?
kill $portal
exit $status
"""


class Portal(ServiceInterface):
    """Says that it is night, with much contrast and less motion; after a while that it is day, and all may move."""

    def __init__(self) -> None:
        super().__init__("org.freedesktop.portal.Settings")
        self.requested = asyncio.Event()

    @dbus_method()
    def Read(self, namespace: "s", key: "s") -> "v":  # type: ignore[name-defined]  # noqa: ARG002, N802, F821, UP037
        if namespace == APPEARANCE:
            self.requested.set()
            return Variant("v", Variant("u", 1))
        return Variant("v", Variant("b", True))

    @dbus_signal()
    def SettingChanged(self, key: str, value: int) -> "ssv":  # type: ignore[name-defined]  # noqa: N802, F821, UP037
        return [APPEARANCE, key, Variant("u", value)]


async def play_portal() -> None:
    bus = await MessageBus().connect()
    portal = Portal()
    bus.export("/org/freedesktop/portal/desktop", portal)
    await bus.request_name("org.freedesktop.portal.Desktop")
    await portal.requested.wait()
    while True:
        await asyncio.sleep(0.5)
        portal.SettingChanged("reduced-motion", 0)
        portal.SettingChanged("color-scheme", 2)


def look() -> None:
    """A window's program in that session: it hears of all."""
    application = QApplication([])
    handle_event: list[bool] = []
    looks: list[Look] = []

    def begin() -> None:
        desktop = Desktop(application)
        desktop.motion_changed.connect(handle_event.append)
        desktop.look_changed.connect(lambda: on_look(desktop.look()))

    def on_look(look: Look) -> None:
        looks.append(look)
        if look is DAY_CONTRAST:
            application.quit()

    QTimer.singleShot(1000, begin)
    QTimer.singleShot(LIMIT_S * 1000, application.quit)
    application.exec()
    assert handle_event == [True, False], handle_event
    assert looks[-1] is DAY_CONTRAST and NIGHT_CONTRAST in looks, looks


@pytest.mark.parametrize("comes_after_s", [0, 3])
def test_night_contrast_and_less_motion_are_heard_from_the_portal_whenever_it_comes(comes_after_s: int) -> None:
    command = ["dbus-run-session", "--", "sh", "-c", SESSION, "sh", sys.executable, str(comes_after_s)]
    done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=2 * LIMIT_S)
    assert done.returncode == 0, done.stderr[-2000:]


@pytest.mark.parametrize(("less", "wanted"), [(True, STEP_MS), (False, FRAME_MS)])
def test_the_tape_then_goes_on_by_steps(bench: Bench, less: bool, wanted: int) -> None:
    bench.window.tape.set_less_motion(less)
    assert bench.window.tape._timer.interval() == wanted


if __name__ == "__main__":
    if sys.argv[1] == "portal":
        asyncio.run(play_portal())
    else:
        look()
