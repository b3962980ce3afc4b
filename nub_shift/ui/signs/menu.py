"""The pad menu as a state machine, without a window.

Up and down change the row, left and right its value, "do" executes it, "back" closes. Four directions and one button
suffice, since a row goes back too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum, auto
from pathlib import Path
from typing import Final, assert_never

from nub_shift.editing.feel.speeds import has_looking
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.pad.pad_menu import BACK, DO
from nub_shift.model.profile.activation import ActivationRules, Front, fits
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.calls import Call, OpenMenu, SetLive, StayOn, SwitchGyro
from nub_shift.protocol.messages import State
from nub_shift.translation import tr

# Step of a speed, relative to its value at the opening of the menu.
STEP: Final = 0.1
LEAST: Final = 0.2
MOST: Final = 3.0


class Kind(Enum):
    """Subject of a row."""

    PROFILE = auto()
    LIVE = auto()
    LAYER = auto()
    LOOK = auto()
    GYRO_SPEED = auto()
    GYRO = auto()
    CLOSE = auto()


@dataclass(frozen=True)
class Row:
    """A row: subject and present value. `turns` is whether left and right change it."""

    kind: Kind
    label: str
    value: str
    turns: bool


@dataclass(frozen=True)
class Titled:
    """A profile to choose."""

    title: str
    path: Path
    comes_on: ActivationRules


@dataclass(frozen=True)
class PlayProfile:
    """Request for another profile."""

    path: Path


@dataclass(frozen=True)
class ChangeSpeed:
    """Multiplies the speed of looking, or of turning the pad."""

    kind: Kind
    factor: float


Act = Call | PlayProfile | ChangeSpeed


def ordered(profiles: Sequence[Titled], front: Front | None, seat: int) -> list[Titled]:
    """Returns the profiles sorted: those that match the window in front first, then by title."""

    def fitting(profile: Titled) -> bool:
        return front is not None and any(fits(rule, front, seat + 1) for rule in profile.comes_on.rules)

    return sorted(profiles, key=lambda profile: (not fitting(profile), profile.title.casefold()))


class Menu:
    """The open menu of one player.

    Attributes:
        index: index of the selected row.
    """

    def __init__(self, seat: int, state: State, profile: Profile, profiles: Sequence[Titled], gyro: bool) -> None:
        """`profiles` are those of the library; `gyro` is whether motion may move the pointer."""
        playing = state.seats[seat]
        self.index = 0
        self._seat = seat
        self._titles = ordered(profiles, state.front, seat)
        self._now = next((i for i, found in enumerate(self._titles) if str(found.path) == playing.file), -1)
        self._chosen = max(self._now, 0)
        self._title = playing.title
        self._layers = [(layer.id, layer.label) for layer in profile.layers]
        on = [layer for layer in playing.layers[1:] if layer in dict(self._layers)]
        self._layer = [key for key, _ in self._layers].index(on[-1]) if on else 0
        self._was_on = self._layer
        self._live = state.live or state.wanted
        self._speeds = {Kind.LOOK: 1.0, Kind.GYRO_SPEED: 1.0}
        self._gyro = gyro
        self._kinds = list(self._offered(playing.file, profile, "motion" in playing.pad.controls))

    @property
    def rows(self) -> list[Row]:
        """The rows of the menu."""
        return [self._row(kind) for kind in self._kinds]

    def press(self, word: str) -> list[Act]:
        """Returns the result of a press: a direction, "do" or "back"."""
        kind = self._kinds[self.index]
        match word:
            case "up":
                self.index = (self.index - 1) % len(self._kinds)
            case "down":
                self.index = (self.index + 1) % len(self._kinds)
            case "left":
                return self._turn(kind, -1)
            case "right":
                return self._turn(kind, 1)
            case _ if word == DO:
                return self._do(kind)
            case _ if word == BACK:
                return self._closing()
        return []

    def _offered(self, file: str, profile: Profile, turns: bool) -> list[Kind]:
        rows = [Kind.PROFILE, Kind.LIVE] if self._titles else [Kind.LIVE]
        if len(self._layers) > 1:
            rows.append(Kind.LAYER)
        if file and has_looking(profile):
            rows.append(Kind.LOOK)
        if turns and any(MOTION_SLOT in layer.slots for layer in profile.layers):
            rows += [Kind.GYRO_SPEED, Kind.GYRO] if file else [Kind.GYRO]
        return [*rows, Kind.CLOSE]

    def _row(self, kind: Kind) -> Row:
        match kind:
            case Kind.PROFILE:
                return Row(kind, tr("Profile"), self._titles[self._chosen].title, len(self._titles) > 1)
            case Kind.LIVE:
                return Row(kind, tr("Live"), tr("On") if self._live else tr("Off"), True)
            case Kind.LAYER:
                return Row(kind, tr("Layer"), self._layers[self._layer][1], True)
            case Kind.LOOK:
                return Row(kind, tr("Look speed"), f"{self._speeds[kind] * 100:.0f} %", True)
            case Kind.GYRO_SPEED:
                return Row(kind, tr("Gyro speed"), f"{self._speeds[kind] * 100:.0f} %", True)
            case Kind.GYRO:
                return Row(kind, tr("Gyro"), tr("On") if self._gyro else tr("Off"), True)
            case Kind.CLOSE:
                return Row(kind, tr("Close"), "", False)
            case _:
                assert_never(kind)

    def _turn(self, kind: Kind, step: int) -> list[Act]:
        match kind:
            case Kind.PROFILE:
                self._chosen = (self._chosen + step) % len(self._titles)
                return []
            case Kind.LIVE:
                self._live = not self._live
                return [SetLive(self._live)]
            case Kind.LAYER:
                self._layer = (self._layer + step) % len(self._layers)
                return []  # activated when the menu closes
            case Kind.LOOK | Kind.GYRO_SPEED:
                before = self._speeds[kind]
                self._speeds[kind] = min(max(round(before + step * STEP, 2), LEAST), MOST)
                return [ChangeSpeed(kind, self._speeds[kind] / before)]
            case Kind.GYRO:
                self._gyro = not self._gyro
                return [SwitchGyro(self._gyro, self._seat)]
            case Kind.CLOSE:
                return []
            case _:
                assert_never(kind)

    def _closing(self) -> list[Act]:
        """Returns the chosen layer as the last action, since an edit of the profile would reset it."""
        stays = [StayOn(self._layers[self._layer][0], self._seat)] if self._layer != self._was_on else []
        return [*stays, OpenMenu(False, self._seat)]

    def _do(self, kind: Kind) -> list[Act]:
        """Executes a row; with one button alone, continues to the next value."""
        match kind:
            case Kind.PROFILE if self._chosen != self._now:
                return [PlayProfile(self._titles[self._chosen].path), OpenMenu(False, self._seat)]
            case Kind.PROFILE | Kind.CLOSE:
                return self._closing()
            case _:
                return self._turn(kind, 1)
