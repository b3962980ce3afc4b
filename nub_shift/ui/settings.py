"""What the person has chosen about the window itself, kept from one start to the next."""

from __future__ import annotations

import platformdirs
from PyQt6.QtCore import QSettings

from nub_shift.editing.waiting import LISTEN_MS

# What can be chosen, in milliseconds; 0 is until it is ended. People who use their mouth or a switch need longer.
LISTENING_MS = (5_000, LISTEN_MS, 15_000, 30_000, 60_000, 0)


def listening_ms() -> int:
    """How long keys are listened to."""
    kept = _settings().value("listening_ms", LISTEN_MS)
    return int(kept) if str(kept).isdecimal() and int(kept) in LISTENING_MS else LISTEN_MS


def keep_listening_ms(chosen: int) -> None:
    """Keeps that."""
    _settings().setValue("listening_ms", chosen)


def _settings() -> QSettings:
    return QSettings(str(platformdirs.user_config_path("nub-shift") / "window.ini"), QSettings.Format.IniFormat)
