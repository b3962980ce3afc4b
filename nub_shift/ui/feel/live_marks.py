"""Live marks in the pictures of Feel: present values, and movements of the last minutes."""

from __future__ import annotations

from math import hypot
from typing import Final

from nub_shift.analysis.figures import density
from nub_shift.analysis.hands import Hands
from nub_shift.engine.values import Frame
from nub_shift.model.controls import MOTION_SLOT, STICK_SLOTS
from nub_shift.model.slot_names import slot_name
from nub_shift.ui.feel.pictures.curve import Curve
from nub_shift.ui.feel.pictures.gauge import Gauge
from nub_shift.ui.feel.pictures.lens import Lens
from nub_shift.ui.feel.settings.motion_page import MotionPage

DENSITY_S: Final = 180.0
_CELLS: Final = 96


class LiveMarks:
    """Moves the marks in the pictures of one control.

    Attributes:
        control: the control that is shown.
    """

    def __init__(self, hands: Hands, lens: Lens, curve: Curve, gauge: Gauge, motion: MotionPage) -> None:
        self.control = ""
        self._hands = hands
        self._lens = lens
        self._curve = curve
        self._gauge = gauge
        self._motion = motion
        self._has_frames = False  # whether every frame arrives, so that the thinned values are not needed

    def show_frames(self, frames: list[Frame], count: int) -> None:
        """Shows frames of the pad, the last `count` rows of its hands."""
        self._has_frames = True
        if self.control == MOTION_SLOT:
            self._motion.take(frames)
        elif self.control in STICK_SLOTS:
            self._lens.follow([(x, y) for x, y in self._hands.last(self._axes, count)])

    def show_values(self, values: dict[str, float]) -> None:
        """Shows the present values of the pad by channel; motion comes in frames alone."""
        if self.control == MOTION_SLOT:
            return
        if self.control not in STICK_SLOTS:
            self._gauge.follow(values.get(self.control, 0.0))
            return
        x, y = self._hands.placed(self.control, *(values.get(axis, 0.0) for axis in self._axes))
        if not self._has_frames:
            self._lens.follow([(x, y)])
        self._lens.notify()
        self._curve.follow(hypot(x, y))

    def show_density(self, tint: tuple[int, int, int]) -> None:
        """Shows where the stick was in the last minutes, in a colour."""
        if self.control in STICK_SLOTS:
            piece = self._hands.piece(self._axes, DENSITY_S)
            self._lens.show_density(_CELLS, density(piece, _CELLS, tint))

    def forget_pad(self) -> None:
        """Forgets all movements, for another pad."""
        self._hands.forget()
        self._motion.forget()
        self._has_frames = False

    @property
    def _axes(self) -> list[str]:
        return [slot_name(self.control, axis) for axis in "xy"]
