"""Response curve of a stick with the choice of its axis."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QVBoxLayout, QWidget

from nub_shift.editing.feel.handles import shown_feel
from nub_shift.editing.feel.look_speed import is_turn_known
from nub_shift.editing.feel.two_feels import use_of
from nub_shift.model.profile.effects import Drag, PointerSpeed
from nub_shift.model.profile.feel import AxisFeel, StickFeel
from nub_shift.model.profile.profile import BASE_LAYER, Profile
from nub_shift.translation import tr, trc
from nub_shift.ui.feel.pictures.curve import Curve
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark


class CurvePanel(QWidget):
    """Curve of both axes, or of one axis in addition.

    Attributes:
        curve: the curve.
        axes: buttons that choose the axis: both under the empty name, "x" and "y".
        point: button that adds a point to the curve.

    Signals:
        axis_chosen(str): chosen axis, by its name in a feel; empty for both.
    """

    axis_chosen = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.curve = Curve(theme)
        self.axes: dict[str, Choice] = {}
        row = Flow(theme.px(6), grows=True)
        group = QButtonGroup(self)
        for axis, text in (("", tr("Both axes")), ("x", trc("an axis", "Across")), ("y", trc("an axis", "Down"))):
            choice = self.axes[axis] = Choice(theme, text, tr("Shapes both axes together, or adds to one axis"))
            choice.setChecked(not axis)
            choice.clicked.connect(partial(self._on_clicked, axis))
            group.addButton(choice)
            row.addWidget(choice)
        help_text = tr(
            "Both axes are shaped together, so that the view goes where the stick points; one axis can have more."
        )
        row.addWidget(HelpMark(theme, tr("Both axes"), help_text))
        self.point = TextButton(theme, tr("Add a point"), tr("Or double-click the curve. Delete removes a point"))
        self.point.clicked.connect(lambda _checked: self.curve.add_point())
        row.addWidget(self.point)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.curve, 1)
        column.addLayout(row)

    def show_profile(
        self, profile: Profile, below: Profile | None, layer_id: str, control: str, axis: tuple[str, ...]
    ) -> None:
        """Shows the curve of a control in a layer.

        Args:
            below: profile whose base layer's curve is drawn behind; None for none.
            axis: name of the axis in a feel, alone in a tuple; empty for both.
        """
        feel = _curved(shown_feel(profile, layer_id, control), axis)
        behind = _curved(shown_feel(below, BASE_LAYER, control), axis) if below is not None else None
        full = _full_output(profile, layer_id, control)
        self.curve.show_feel(feel, *full, starts=not axis, below=behind if behind != feel else None)

    def _on_clicked(self, axis: str, _checked: bool) -> None:
        self.axis_chosen.emit(axis)


def _curved(feel: StickFeel, axis: tuple[str, ...]) -> StickFeel:
    """Returns the feel whose curve is that of an axis."""
    if not axis:
        return feel
    own = getattr(feel, axis[0]) or AxisFeel()
    return StickFeel(dead_zone=own.dead_zone, edge_zone=0.0, power=own.power, points=own.points)


def _full_output(profile: Profile, layer_id: str, control: str) -> tuple[str, float]:
    """Returns the output at the stick's rim in words, and as counts or degrees a second."""
    use = use_of(profile, layer_id, control)
    if not isinstance(use, PointerSpeed | Drag):
        return tr("up to full deflection"), 0.0
    x, y = abs(use.x), abs(use.y)
    if not is_turn_known(profile):
        return tr("up to {x:g} × {y:g} counts a second", x=x, y=y), max(x, y)
    degrees = 360 / profile.game.counts_per_turn
    return tr("up to {x:.0f} × {y:.0f} degrees a second", x=x * degrees, y=y * degrees), max(x, y) * degrees
