"""Settings of the window, kept across starts."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import Enum
from typing import Any, Final, Generic, TypeVar

import platformdirs
from PyQt6.QtCore import QByteArray, QSettings

from nub_shift.editing.waiting import LISTEN_MS

V = TypeVar("V")

# Choices in milliseconds; 0 is no limit. People who use their mouth or a switch need longer.
LISTENING_MS: Final = (5_000, LISTEN_MS, 15_000, 30_000, 60_000, 0)
# Percentages of the desktop's font size.
TEXT_SIZES: Final = (100, 125, 150, 175, 200)
# Percentages of the window's height.
TAPE_HEIGHTS: Final = (12, 17, 25, 35)
USUAL_TAPE: Final = 17


class LookChoice(Enum):
    """Look of the window."""

    DESKTOP = "desktop"
    DAY = "day"
    NIGHT = "night"


class MotionChoice(Enum):
    """How much pictures move."""

    DESKTOP = "desktop"
    ALL = "all"
    LESS = "less"


@dataclass(frozen=True)
class StoredSetting(Generic[V]):
    """One setting; a file written by a person may contain any value.

    Attributes:
        name: name in the file.
        choices: possible values by their text in the file.
        otherwise: default.
    """

    name: str
    choices: Mapping[str, V]
    otherwise: V

    def __call__(self) -> V:
        """Returns the value."""
        return self.choices.get(str(_settings().value(self.name, "")), self.otherwise)

    def keep(self, chosen: V) -> None:
        """Saves another value."""
        word = next(word for word, choice in self.choices.items() if choice == chosen)
        _settings().setValue(self.name, word)


def _numbers(choices: Iterable[int]) -> dict[str, int]:
    return {str(choice): choice for choice in choices}


_NO_YES: Final = {"0": False, "1": True}
# Time limit for keys.
listening_ms: Final = StoredSetting("listening_ms", _numbers(LISTENING_MS), LISTEN_MS)
# Percentage of the desktop's font size.
text_size: Final = StoredSetting("text_size", _numbers(TEXT_SIZES), TEXT_SIZES[0])
# Percentage of the window's height.
tape_height: Final = StoredSetting("tape_height", _numbers(TAPE_HEIGHTS), USUAL_TAPE)
look_choice: Final = StoredSetting("look", {choice.value: choice for choice in LookChoice}, LookChoice.DESKTOP)
motion_choice: Final = StoredSetting("motion", {choice.value: choice for choice in MotionChoice}, MotionChoice.DESKTOP)
# Whether a press on the pad opens its control in Map.
follows_presses: Final = StoredSetting("follows_presses", _NO_YES, True)
# Whether the first steps are shown.
shows_first_steps: Final = StoredSetting("first_steps", _NO_YES, True)

# Whether the person has been live before, and so has been told how to stop everything.
has_been_live: Final = StoredSetting("has_been_live", _NO_YES, False)


def window_place() -> QByteArray:
    """Returns the geometry of the window in Qt's form; empty at the first start."""
    kept: Any = _settings().value("window", QByteArray())
    return kept if isinstance(kept, QByteArray) else QByteArray()


def last_view() -> tuple[str, str]:
    """Returns the station and the layer shown last; empty at the first start."""
    settings = _settings()
    return str(settings.value("station", "")), str(settings.value("layer", ""))


def keep_view(place: QByteArray, station: str, layer: str) -> None:
    """Saves the geometry of the window, and what is shown."""
    settings = _settings()
    settings.setValue("window", place)
    settings.setValue("station", station)
    settings.setValue("layer", layer)


def _settings() -> QSettings:
    return QSettings(str(platformdirs.user_config_path("nub-shift") / "window.ini"), QSettings.Format.IniFormat)
