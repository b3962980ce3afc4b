"""Strictness for all tests, and a runner's home that is never the user's own."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from nub_shift.compiled import kind
from tests.xserver import XWindow, xvfb

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XKB_DEFAULT_LAYOUT"] = "us"
os.environ["LANGUAGE"] = os.environ.get("NUB_SHIFT_TEST_LANGUAGE", "en")  # whatever the developer's is


QUICK = os.environ.get("NUB_SHIFT_TESTS") == "quick"
# Files and folders whose tests start processes, or walk through the whole window, for many seconds each.
SLOW = (
    *("bench", "cli", "kernel", "outputs", "session_watch", "trust"),
    *(f"runner/test_{name}.py" for name in ("by_game", "helpers", "process", "residence", "rule_list", "spoiled")),
    *(
        f"ui/test_{name}.py"
        for name in ("pad_menu", "pads_station", "places", "real_runner", "roles", "session_runner")
    ),
    *(f"ui/test_{name}.py" for name in ("signs", "tray", "whole_task", "worn_pad", "first_hour", "motion")),
    *(f"ui/test_{name}.py" for name in ("library", "feel", "feel_looking", "window")),
    *("engine/test_frame_rate.py", "engine/test_stateful.py", "test_own_process.py", "test_translation.py"),
)

# No test is timed. Every run of a change tries the same examples; with NUB_SHIFT_HUNT=1 further ones are looked for, at
# random and for long.
settings.register_profile("ci", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.register_profile("hunt", deadline=None, max_examples=5_000)
settings.register_profile("quick", settings.get_profile("ci"), max_examples=10)
settings.load_profile("hunt" if os.environ.get("NUB_SHIFT_HUNT") else "quick" if QUICK else "ci")


def pytest_sessionstart() -> None:
    """A run of the compiled engine must not test the sources by mistake, nor the reverse."""
    expected = os.environ.get("NUB_SHIFT_EXPECT")
    if expected is not None and kind() != expected:
        pytest.exit(f"expected the engine to be {expected}, it is {kind()}", returncode=3)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    if QUICK:
        slow = tuple(str(Path(__file__).parent / name) for name in SLOW)
        items[:] = [item for item in items if not str(item.path).startswith(slow)]


@pytest.fixture(autouse=True)
def _own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Everything that a program keeps or listens at stays in a folder of the test's own."""
    home = tmp_path_factory.mktemp("home")
    (home / "run").mkdir(mode=0o700)
    for display in ("DISPLAY", "WAYLAND_DISPLAY"):  # the person's own session is not looked at
        monkeypatch.delenv(display, raising=False)
    monkeypatch.setenv("XDG_RUNTIME_DIR", str(home / "run"))
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))
    monkeypatch.setenv("XDG_STATE_HOME", str(home / "state"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(home / "config"))
    return home


@pytest.fixture(scope="session")
def x_server() -> Iterator[str]:
    """The display name of an X server without a screen."""
    yield from xvfb()


@pytest.fixture
def x_window(x_server: str) -> Iterator[XWindow]:
    """A window with the focus on that server."""
    window = XWindow(x_server)
    yield window
    window.close()
