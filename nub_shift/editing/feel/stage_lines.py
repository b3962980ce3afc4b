"""Stages of a trigger, a slider or a sensor as draggable lines across its pull."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.model.controls import PART_LABELS
from nub_shift.model.profile.feel import LEAST_STEP, SliderFeel, Stage, TriggerFeel
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import tr

STAGE_LABELS = {part: PART_LABELS[part] for part in ("light", "deep", "low", "low_deep", "high", "high_deep")}


@dataclass(frozen=True)
class StageLine:
    """Threshold at which a stage begins or ends.

    Attributes:
        path: path in the feel, such as ("light", "on").
        label: name.
        value: pull of the threshold, 0 to 1.
        side: 1, or -1 for a stage on the low side of rest.
        low, high: limits.
    """

    path: tuple[str, str]
    label: str
    value: float
    side: int
    low: float
    high: float

    @property
    def step(self) -> float:
        """Change by an arrow key."""
        return LEAST_STEP

    def held(self, value: float) -> float:
        """Returns a pull within the limits of the line."""
        return round(min(max(value, self.low), self.high), 3)


def stage_lines(profile: Profile, layer_id: str, control: str) -> list[StageLine]:
    """Returns the stage thresholds of a control in a layer, as draggable lines."""
    part: TriggerFeel | SliderFeel = getattr(feel_edits.layer_feel(profile, layer_id), control)
    found = []
    for name, label in STAGE_LABELS.items():
        stage: Stage | None = getattr(part, name, None)
        if stage is None:
            continue
        side = -1 if name.startswith("low") else 1
        found.append(StageLine((name, "on"), tr("{label} from", label=label), stage.on, side, 2 * LEAST_STEP, 1.0))
        found.append(
            StageLine(
                (name, "off"), tr("{label} ends", label=label), stage.off, side, LEAST_STEP, stage.on - LEAST_STEP
            )
        )
    return found


def move_line(profile: Profile, layer_id: str, control: str, line: StageLine, value: float) -> Profile:
    """Returns the profile with a line moved. The end threshold of a stage keeps its distance."""
    name, end = line.path
    before = {found.path: found.value for found in stage_lines(profile, layer_id, control)}
    on, off = before[name, "on"], before[name, "off"]
    value = line.held(value)
    stage = {"on": value, "off": max(LEAST_STEP, value - (on - off))} if end == "on" else {"on": on, "off": value}
    for part, pull in stage.items():  # both, since a layer with one threshold alone is merged with the default other
        profile = feel_edits.set_setting(profile, layer_id, control, (name, part), f"{pull:g}")
    return profile
