"""What the person has chosen about the window itself, kept from one start to the next."""

from __future__ import annotations

from enum import Enum
from typing import Any, Final

import platformdirs
from PyQt6.QtCore import QByteArray, QSettings

from nub_shift.editing.waiting import LISTEN_MS

# What can be chosen, in milliseconds; 0 is until it is ended. People who use their mouth or a switch need longer.
LISTENING_MS: Final = (5_000, LISTEN_MS, 15_000, 30_000, 60_000, 0)
# Of the font that the desktop has, in percent.
TEXT_SIZES: Final = (100, 125, 150, 175, 200)
# How much of the window's height the tape has, in percent.
TAPE_HEIGHTS: Final = (12, 17, 25, 35)
USUAL_TAPE: Final = 17


class LookChoice(Enum):
    """What the window looks like."""

    DESKTOP = "desktop"
    DAY = "day"
    NIGHT = "night"


class MotionChoice(Enum):
    """How much pictures move."""

    DESKTOP = "desktop"
    ALL = "all"
    LESS = "less"


def listening_ms() -> int:
    """How long keys are listened to."""
    return _number("listening_ms", LISTENING_MS, LISTEN_MS)


def keep_listening_ms(chosen: int) -> None:
    """Keeps that."""
    _settings().setValue("listening_ms", chosen)


def text_size() -> int:
    """In percent of what the desktop has."""
    return _number("text_size", TEXT_SIZES, TEXT_SIZES[0])


def keep_text_size(chosen: int) -> None:
    """Keeps that, for the next start."""
    _settings().setValue("text_size", chosen)


def tape_height() -> int:
    """In percent of the window's."""
    return _number("tape_height", TAPE_HEIGHTS, USUAL_TAPE)


def keep_tape_height(chosen: int) -> None:
    """Keeps that."""
    _settings().setValue("tape_height", chosen)


def look_choice() -> LookChoice:
    """Day, night, or as the desktop is."""
    kept = _settings().value("look", "")
    return next((choice for choice in LookChoice if choice.value == kept), LookChoice.DESKTOP)


def keep_look_choice(chosen: LookChoice) -> None:
    """Keeps that."""
    _settings().setValue("look", chosen.value)


def motion_choice() -> MotionChoice:
    """All, less, or as the desktop says."""
    kept = _settings().value("motion", "")
    return next((choice for choice in MotionChoice if choice.value == kept), MotionChoice.DESKTOP)


def keep_motion_choice(chosen: MotionChoice) -> None:
    """Keeps that."""
    _settings().setValue("motion", chosen.value)


def follows_presses() -> bool:
    """Whether a press on the pad opens its control in Map."""
    return _yes("follows_presses", True)


def keep_follows_presses(chosen: bool) -> None:
    """Keeps that."""
    _settings().setValue("follows_presses", int(chosen))


def shows_first_steps() -> bool:
    """Whether the window begins with what to do first."""
    return _yes("first_steps", True)


def keep_shows_first_steps(chosen: bool) -> None:
    """Keeps that."""
    _settings().setValue("first_steps", int(chosen))


def window_place() -> QByteArray:
    """Where the window was and how large, in Qt's own form; empty if it was never open."""
    kept: Any = _settings().value("window", QByteArray())
    return kept if isinstance(kept, QByteArray) else QByteArray()


def last_view() -> tuple[str, str]:
    """The station and the layer that were shown last, empty if none were."""
    settings = _settings()
    return str(settings.value("station", "")), str(settings.value("layer", ""))


def keep_view(place: QByteArray, station: str, layer: str) -> None:
    """Keeps where the window was, and what was shown in it."""
    settings = _settings()
    settings.setValue("window", place)
    settings.setValue("station", station)
    settings.setValue("layer", layer)


def _number(name: str, choices: tuple[int, ...], otherwise: int) -> int:
    """One of those; a file that somebody has written may have anything."""
    kept = str(_settings().value(name, otherwise))
    return int(kept) if kept.isdecimal() and int(kept) in choices else otherwise


def _yes(name: str, otherwise: bool) -> bool:
    kept = str(_settings().value(name, int(otherwise)))
    return kept == "1" if kept in {"0", "1"} else otherwise


def _settings() -> QSettings:
    return QSettings(str(platformdirs.user_config_path("nub-shift") / "window.ini"), QSettings.Format.IniFormat)
