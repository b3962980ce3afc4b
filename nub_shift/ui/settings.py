"""What the person has chosen about the window itself, kept from one start to the next."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import Enum
from typing import Any, Final, Generic, TypeVar

import platformdirs
from PyQt6.QtCore import QByteArray, QSettings

from nub_shift.editing.waiting import LISTEN_MS

V = TypeVar("V")

# Times to choose from, in milliseconds; 0 is until it is ended. People who use their mouth or a switch need longer.
LISTENING_MS: Final = (5_000, LISTEN_MS, 15_000, 30_000, 60_000, 0)
# Of the font that the desktop has, in percent.
TEXT_SIZES: Final = (100, 125, 150, 175, 200)
# How much of the window's height the tape has, in percent.
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
class Kept(Generic[V]):
    """One choice of the person; a file that somebody has written may have anything in its place.

    Attributes:
        name: what it is called in the file.
        choices: what can be chosen, by how it stands there.
        otherwise: what it is until it is chosen.
    """

    name: str
    choices: Mapping[str, V]
    otherwise: V

    def __call__(self) -> V:
        """Returns the chosen value."""
        return self.choices.get(str(_settings().value(self.name, "")), self.otherwise)

    def keep(self, chosen: V) -> None:
        """Keeps another choice."""
        word = next(word for word, choice in self.choices.items() if choice == chosen)
        _settings().setValue(self.name, word)


def _numbers(choices: Iterable[int]) -> dict[str, int]:
    return {str(choice): choice for choice in choices}


_NO_YES: Final = {"0": False, "1": True}
# How long keys are listened to.
listening_ms: Final = Kept("listening_ms", _numbers(LISTENING_MS), LISTEN_MS)
# In percent of what the desktop has, from the next start on.
text_size: Final = Kept("text_size", _numbers(TEXT_SIZES), TEXT_SIZES[0])
# In percent of the window's.
tape_height: Final = Kept("tape_height", _numbers(TAPE_HEIGHTS), USUAL_TAPE)
look_choice: Final = Kept("look", {choice.value: choice for choice in LookChoice}, LookChoice.DESKTOP)
motion_choice: Final = Kept("motion", {choice.value: choice for choice in MotionChoice}, MotionChoice.DESKTOP)
# Whether a press on the pad opens its control in Map.
follows_presses: Final = Kept("follows_presses", _NO_YES, True)
# Whether the window begins with what to do first.
shows_first_steps: Final = Kept("first_steps", _NO_YES, True)

# Whether the person has been live before, and was told then how to stop everything.
has_been_live: Final = Kept("has_been_live", _NO_YES, False)


def window_place() -> QByteArray:
    """Returns the geometry of the window in Qt's own form; empty if it was never open."""
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


def _settings() -> QSettings:
    return QSettings(str(platformdirs.user_config_path("nub-shift") / "window.ini"), QSettings.Format.IniFormat)
