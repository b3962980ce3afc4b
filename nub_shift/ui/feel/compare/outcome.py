"""Outcome of a feel for recorded movements, as data of a picture and as figures in words."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import assert_never

from nub_shift.analysis.figures import look_figures, pull_figures, turn_figures, walk_figures
from nub_shift.analysis.hands import Piece
from nub_shift.analysis.reshaping import sectors, stick_motion, turned
from nub_shift.editing.feel_uses import FeelUse, LookUse, PullUse, TurningUse, WalkUse
from nub_shift.model.profile.feel import MotionFeel, SliderFeel, StickFeel, TriggerFeel
from nub_shift.translation import number_text, tr

PartFeel = StickFeel | TriggerFeel | SliderFeel | MotionFeel
Bias = tuple[float, float, float]
# Bound on the points of a drawn path.
_MOST_POINTS = 400


@dataclass(frozen=True)
class Figure:
    """One figure.

    Attributes:
        name, text: name, and value with unit.
        fault: lower is better; None for a matter of taste, or an unknown value.
    """

    name: str
    text: str
    fault: float | None = None


@dataclass(frozen=True)
class Outcome:
    """Outcome of a piece.

    Attributes:
        figures: in reading order.
        way: path of the pointer, in counts, as points.
        shares: part of the time in each direction, clockwise from up.
        presses: begin and end of the presses of each stage, in microseconds.
    """

    figures: tuple[Figure, ...]
    way: list[tuple[float, float]] = field(default_factory=list)
    shares: tuple[float, ...] = ()
    presses: dict[str, tuple[tuple[int, int], ...]] = field(default_factory=dict)


def outcome(does: FeelUse, feel: PartFeel, piece: Piece, bias: Bias | None = None) -> Outcome:
    """Returns the outcome of a piece with a feel; `bias` is the known bias of the gyro."""
    match does:
        case LookUse():
            assert isinstance(feel, StickFeel)
            return _looked(does, feel, piece)
        case WalkUse():
            assert isinstance(feel, StickFeel)
            return _walked(feel, piece)
        case PullUse():
            return _pulled(does, piece)
        case TurningUse():
            assert isinstance(feel, MotionFeel)
            return _turned(feel, piece, bias)
        case _:
            assert_never(does)


def _looked(does: LookUse, feel: StickFeel, piece: Piece) -> Outcome:
    motion = stick_motion(feel, piece)
    found = look_figures(piece, motion, does.across, does.down)
    x, y = motion.way(does.across, does.down)
    thin = slice(None, None, -(-len(x) // _MOST_POINTS) or 1)
    creeps = tr("not yet") if found.jitter is None else tr("{count:.0f}/min", count=found.jitter)
    wait = tr("never") if found.full_s is None else tr("{ms:.0f} ms", ms=found.full_s * 1000)
    return Outcome(
        (
            Figure(tr("Drift at rest"), creeps, _rounded(found.jitter, 0)),
            Figure(
                tr("Full speed reached"),
                tr("{full} of {pushes}", full=found.full, pushes=found.pushes),
                float(found.pushes - found.full),
            ),
            Figure(tr("Time to full speed"), wait),
            Figure(tr("Overshoot"), number_text(found.overshoot, ".1%"), _rounded(found.overshoot, 3)),
            Figure(tr("Average speed"), tr("{speed:.0f}/s", speed=found.speed)),
        ),
        way=list(zip(x[thin].tolist(), y[thin].tolist(), strict=True)),
    )


def _walked(feel: StickFeel, piece: Piece) -> Outcome:
    found = walk_figures(piece, sectors(feel, piece))
    pressed = sum(found.shares)
    straight = sum(found.shares[::2]) / pressed if pressed else 0.0
    return Outcome(
        (
            Figure(tr("In any direction"), number_text(pressed, ".0%")),
            Figure(tr("Straight"), number_text(straight, ".0%") if pressed else tr("none yet")),
            Figure(tr("Diagonal"), number_text(1 - straight, ".0%") if pressed else tr("none yet")),
            Figure(tr("Changes"), tr("{count:.0f}/min", count=found.changes), _rounded(found.changes, 0)),
            Figure(tr("Very short presses"), f"{found.short}", float(found.short)),
        ),
        shares=found.shares,
    )


def _pulled(does: PullUse, piece: Piece) -> Outcome:
    figures, presses = [], {}
    for label, stage, side in does.stages:
        found = pull_figures(piece, stage, does.ease, side)
        presses[label] = found.presses
        figures.append(Figure(tr("{label}: presses", label=label), f"{len(found.presses)}"))
        if not label.endswith("eep"):
            figures.append(
                Figure(
                    tr("{label}: pulls missed", label=label),
                    tr("{missed} of {pulls}", missed=found.missed, pulls=found.pulls),
                    float(found.missed),
                )
            )
        doubled = tr("{doubled} of {pulls}", doubled=found.doubled, pulls=found.pulls)
        figures.append(Figure(tr("{label}: pressed twice", label=label), doubled, float(found.doubled)))
    return Outcome(tuple(figures), presses=presses)


def _turned(feel: MotionFeel, piece: Piece, bias: Bias | None) -> Outcome:
    made = turned(feel, piece, bias)
    found = turn_figures(made)
    thin = slice(None, None, -(-len(made.x) // _MOST_POINTS) or 1)
    times = (
        tr("none yet") if ratio is None else f"{number_text(ratio, '.2f')} ×" for ratio in (found.slow, found.fast)
    )
    slow, fast = times
    shake = tr("none yet") if found.shake is None else f"{number_text(found.shake, '.2f')}°/s"
    return Outcome(
        (
            Figure(tr("Shake while still"), shake, _rounded(found.shake, 2)),
            Figure(tr("Slow turns"), slow),
            Figure(tr("Fast turns"), fast),
        ),
        way=list(zip(made.x[thin].tolist(), made.y[thin].tolist(), strict=True)),
    )


def _rounded(value: float | None, decimals: int) -> float | None:
    """Returns the value as shown: equal texts count as equal values."""
    return round(value, decimals) if value is not None else None
