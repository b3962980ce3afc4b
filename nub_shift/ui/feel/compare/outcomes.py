"""Comparison of a profile with its state at the first change of a control."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.edits.feel import layer_feel
from nub_shift.editing.feel_uses import doing
from nub_shift.editing.pad_view import PadView
from nub_shift.model.controls import MOTION_SLOT
from nub_shift.model.pad.trim import PadTrim, motion_feel_on, stick_feel_on
from nub_shift.model.profile.feel import MotionFeel, StickFeel
from nub_shift.model.profile.profile import Profile
from nub_shift.ui.feel.compare.flipping import Key
from nub_shift.ui.feel.compare.outcome_panel import OutcomePanel, Shaped


class Outcomes(QObject):
    """Keeps the earlier state of each control, by file, layer, control and pad.

    Attributes:
        trim: correction of the shown pad.

    Signals:
        basis_changed(): the present state is the new basis of comparison.
    """

    basis_changed = pyqtSignal()

    def __init__(
        self, view: PadView, what_if: OutcomePanel, of_motion: OutcomePanel, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.trim = PadTrim()
        self._view = view
        self._what_if, self._of_motion = what_if, of_motion
        self._started: dict[Key, Profile] = {}
        self._key: Key = (view.path, "", "", "")
        for shows in (what_if, of_motion):
            shows.basis_changed.connect(self._on_basis_changed)

    def begin(self, key: Key) -> Profile:
        """Shows a control; returns the profile at the first change of it."""
        self._key = key
        return self._started.setdefault(key, self._view.profile)

    def show(self, profile: Profile, bias: tuple[float, float, float] | None, at_once: bool = False) -> None:
        """Shows the outcome of a profile; `bias` is the known bias of the gyro."""
        _, layer_id, control, _ = self._key
        shows = self._of_motion if control == MOTION_SLOT else self._what_if
        shows.bias = bias
        before, now = (self._shaped(one, layer_id, control) for one in (self._started[self._key], profile))
        shows.show_feels(control, before, now, at_once)

    def _on_basis_changed(self) -> None:
        self._started[self._key] = self._view.profile
        self.basis_changed.emit()

    def _shaped(self, profile: Profile, layer_id: str, control: str) -> Shaped:
        feel = getattr(layer_feel(profile, layer_id), control)
        if isinstance(feel, StickFeel):
            feel = stick_feel_on(self.trim.stick(control), feel)
        elif isinstance(feel, MotionFeel):
            feel = motion_feel_on(self.trim, feel)
        return doing(profile, layer_id, control), feel
