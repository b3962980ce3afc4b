"""Qt's test hands, untyped: the stubs of QTest take `self` for an argument of its static functions."""

from __future__ import annotations

from typing import Any

import PyQt6.QtTest

QTest: Any = PyQt6.QtTest.QTest
