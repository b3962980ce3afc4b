"""Line about the measurements of a pad: changes since the last one, or that there are none."""

from __future__ import annotations

from collections.abc import Sequence

from nub_shift.analysis.comparing import motion_changes, stick_changes
from nub_shift.model.controls import MOTION_SLOT, STICKS
from nub_shift.model.pad.measures import Measured, last_motion, last_rest
from nub_shift.translation import tr

_NOT_YET = tr("This pad has not been measured yet. Measure it in Pads: drift is stopped there.")


def known_line(measured: Sequence[Measured], control: str) -> str:
    """Returns a line about one control; empty if there is nothing to say."""
    if control == MOTION_SLOT:
        return ". ".join(motion_changes(measured)) if last_motion(measured) else _NOT_YET
    if control in STICKS:
        return ". ".join(stick_changes(measured, control)) if last_rest(measured, control) else _NOT_YET
    return ""
