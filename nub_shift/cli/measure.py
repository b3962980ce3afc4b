"""Measurements of a pad at rest and along the rim, in words, with suggested corrections."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import click
import msgspec

from nub_shift.analysis.measuring import TooLittleData, measure_motion, measure_rest, measure_rim
from nub_shift.editing.fits import Fit, fits, motion_fits
from nub_shift.engine.values import Frame
from nub_shift.model.controls import CONTROL_BY_NAME, STICKS
from nub_shift.model.pad.measures import Measured
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import number_text, tr


def print_rest(frames: Sequence[Frame], seconds: float) -> bool:
    """Prints the measurements of sticks and motion sensors at rest; returns whether there were any."""
    channels = {channel for frame in frames for channel in frame.values}
    told = False
    for stick in STICKS:
        if slot_name(stick, "x") not in channels:
            continue
        told = True
        try:
            rest = measure_rest(frames, stick, seconds)
        except TooLittleData as error:
            click.echo(f"{CONTROL_BY_NAME[stick].label}: {error}")
            continue
        where = f"{number_text(rest.x, '+.3f')}, {number_text(rest.y, '+.3f')}"
        label = CONTROL_BY_NAME[stick].label
        click.echo(
            tr(
                "{label}: rests at {where}; noise {noise:.4f}, drift {drift:.4f}",
                label=label,
                where=where,
                noise=rest.noise,
                drift=rest.drift,
            )
        )
        _print_fits(fits([Measured(date.today(), rest={stick: rest})], stick, PadTrim()))
    if "motion.gyro_x" in channels:
        told = True
        try:
            motion = measure_motion(frames)
        except TooLittleData as error:
            click.echo(tr("Motion: {error}", error=error))
        else:
            bias = ", ".join(number_text(rate, "+.2f") for rate in motion.bias_dps)
            click.echo(
                tr(
                    "Motion: turns by {bias} degrees a second at rest (learned in play); noise {noise:.2f}",
                    bias=bias,
                    noise=motion.noise_dps,
                )
            )
            _print_fits(motion_fits([Measured(date.today(), motion=motion)], PadTrim()))
    return told


def print_rim(frames: Sequence[Frame]) -> bool:
    """Prints the range of each moved stick; returns whether one made a full turn."""
    told = False
    for stick in STICKS:
        try:
            rim = measure_rim(frames, stick)
        except TooLittleData as error:
            click.echo(f"{CONTROL_BY_NAME[stick].label}: {error}")
            continue
        told = True
        click.echo(
            tr(
                "{label}: range {least:.3f} to {most:.3f}",
                label=CONTROL_BY_NAME[stick].label,
                least=min(rim.reach),
                most=max(rim.reach),
            )
        )
        _print_fits(fits([Measured(date.today(), rim={stick: rim})], stick, PadTrim()))
    return told


def _print_fits(found: Sequence[Fit]) -> None:
    """Prints each correction with its reason and the numbers for the pad's card."""
    for fit in found:
        click.echo(f"  {fit.text}. {fit.why}")
        for stick, trim in fit.used.sticks.items():
            for name, value in msgspec.to_builtins(trim).items():
                if isinstance(value, float) and value:
                    click.echo(f"    trim.sticks.{stick}.{name} = {value:g}")
        if fit.used.gate_dps:
            click.echo(f"    trim.gate_dps = {fit.used.gate_dps:g}")
