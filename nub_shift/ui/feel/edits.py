"""Changes in the pictures of Feel as edits: played during a drag, saved at its end."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.curve_points import Points, points_text
from nub_shift.editing.feel.handles import Handle, move_handle, reset_feel
from nub_shift.editing.feel.motion_numbers import MotionNumber, set_number
from nub_shift.editing.feel.stage_lines import StageLine, move_line
from nub_shift.editing.pad_view import PadView
from nub_shift.editing.words.feel_labels import feel_label
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.profile.feel import StickFeel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.store.profile_files import ProfileWriter
from nub_shift.translation import number_text
from nub_shift.ui.feel.pictures.curve import POINTS, POWER, START, Curve
from nub_shift.ui.feel.pictures.gauge import Gauge
from nub_shift.ui.feel.pictures.lens import Lens
from nub_shift.ui.feel.settings.motion_page import MotionPage
from nub_shift.ui.link import RunnerLink

# Interval at which dragged values are sent to the runner.
_SEND_MS = 25
# Label of an edit, and the edit.
Change = tuple[str, Edit]


class FeelEdits(QObject):
    """Edits one control in one layer.

    Attributes:
        layer_id, control: edited layer and control.
        axis: path of the axis whose own curve is edited; empty for the curve of both.

    Signals:
        previewed(Profile): result of the present drag.
    """

    previewed = pyqtSignal(object)

    def __init__(self, view: PadView, link: RunnerLink, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.layer_id = BASE_LAYER
        self.control = "left_stick"
        self.axis: tuple[str, ...] = ()
        self._view = view
        self._link = link
        self._dragged: Profile | None = None
        self._played: Profile | None = None
        self._writer = ProfileWriter()
        self._send_timer = QTimer(self)
        self._send_timer.setSingleShot(True)
        self._send_timer.setInterval(_SEND_MS)
        self._send_timer.timeout.connect(self._on_send_timer)

    def follow(self, lens: Lens, curve: Curve, gauge: Gauge, motion: MotionPage) -> None:
        """Connects the drags and settings of these pictures."""
        lens.previewed.connect(partial(self._drag, self._of_handle))
        lens.chosen.connect(partial(self._do, self._of_handle))
        curve.previewed.connect(partial(self._drag, self._of_feel))
        curve.chosen.connect(partial(self._do, self._of_curve))
        gauge.previewed.connect(partial(self._drag, self._of_line))
        gauge.chosen.connect(partial(self._do, self._of_line))
        motion.previewed.connect(partial(self._drag, self._of_motion))
        motion.chosen.connect(partial(self._do, self._of_motion))

    def play(self, edit: Edit) -> None:
        """Plays an edit without saving it, until `stop_dragging`."""
        self._drag(lambda: ("", edit))

    def edit(self, what: str, edit: Edit) -> bool:
        """Applies an edit of this control; returns whether it was applied."""
        return self._keep(what, partial(self._view.edit, change=edit))

    def give_back(self, what: str) -> bool:
        """Removes the changes of this layer, or of this pad; returns whether there were any."""
        if self._view.identity:
            return self._keep(what, partial(self._view.give_back, control=self.control))
        return self.edit(what, partial(reset_feel, layer_id=self.layer_id, control=self.control))

    def _keep(self, what: str, edit: Callable[[str], bool]) -> bool:
        dragged = self._end_drag()
        done = edit(f"{CONTROL_BY_NAME[self.control].label}: {what}")
        if dragged and not done:
            self._link.load(self._view.text)
        return done

    @property
    def is_dragging(self) -> bool:
        """Whether a drag or a held button is in progress."""
        return self._dragged is not None

    def stop_dragging(self) -> None:
        """Stops playing a dragged value that has not become an edit."""
        if self._end_drag():
            self._link.load(self._view.text)

    def _end_drag(self) -> bool:
        """Ends a drag; returns whether there was one."""
        self._send_timer.stop()
        was, self._dragged, self._played = self._dragged, None, None
        return was is not None

    def _drag(self, change_of: Callable[..., Change], *dragged: Any) -> None:
        _, edit = change_of(*dragged)
        self._dragged = edit(self._view.profile)
        if not self._send_timer.isActive():
            self._on_send_timer()  # plays while the outcome is still being computed
        self.previewed.emit(self._dragged)

    def _do(self, change_of: Callable[..., Change], *chosen: Any) -> None:
        self.edit(*change_of(*chosen))

    def _on_send_timer(self) -> None:
        """Sends the dragged values to the runner if changed, at a limited rate."""
        if self._dragged is not None and self._dragged is not self._played:
            self._played = self._dragged
            self._link.load(self._writer.text(self._view.whole(self._dragged)))
            self._send_timer.start()

    def _of_handle(self, handle: Handle, value: float) -> Change:
        edit = partial(move_handle, layer_id=self.layer_id, control=self.control, handle=handle, value=value)
        return f"{handle.label} {number_text(value)}", edit

    def _of_line(self, line: StageLine, value: float) -> Change:
        edit = partial(move_line, layer_id=self.layer_id, control=self.control, line=line, value=value)
        return f"{line.label} {number_text(value)}", edit

    def _of_motion(self, number: MotionNumber, value: float) -> Change:
        edit = partial(set_number, layer_id=self.layer_id, number=number, value=value)
        return f"{number.label} {number_text(number.held(value))}", edit

    def _of_curve(self, name: str, value: float | Points) -> Change:
        """Returns the change of a number of the curve, or of its points."""
        path = (*self.axis, name)
        text = f"{value:g}" if isinstance(value, int | float) else points_text(value)
        label = feel_label(self.control, path)
        edit = partial(feel_edits.set_setting, layer_id=self.layer_id, control=self.control, path=path, text=text)
        return f"{label} {number_text(value)}" if isinstance(value, int | float) else label, edit

    def _of_feel(self, feel: StickFeel) -> Change:
        """Returns the change of the whole curve. Only the curve of both axes has a start."""
        names = (POWER, POINTS) if self.axis else (POWER, START, POINTS)
        edits = [self._of_curve(name, getattr(feel, name))[1] for name in names]

        def all_of_it(profile: Profile) -> Profile:
            for edit in edits:
                profile = edit(profile)
            return profile

        return "", all_of_it
