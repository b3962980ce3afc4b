"""A window on the X server without a screen."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.xserver import XWindow


@pytest.fixture
def x_window(x_server: str) -> Iterator[XWindow]:
    window = XWindow(x_server)
    yield window
    window.close()
