"""Measurement of a pad at rest and along the rim, with suggested settings."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil

import numpy as np
from numpy.typing import NDArray

from nub_shift.engine.values import US_PER_SECOND, Frame
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.pad.measures import REST_MARGIN, RIM_ANGLES, RIM_MARGIN, MotionRest, StickRest, StickRim
from nub_shift.model.slot_names import slot_name
from nub_shift.translation import inside, tr

Samples = NDArray[np.float64]

_ROUND = 0.9  # least part of all angles for a full turn
_LEAST_SAMPLES = 50
LEAST_S = 2.0
TICK_S = 0.004
_GATE_SIGMAS = 4.0
_STRETCH = 2.0**0.5 - 1.0


class TooLittleData(ValueError):
    """Too little data for a measurement; the text says what to do."""


def measure_rest(frames: Sequence[Frame], stick: str, seconds: float) -> StickRest:
    """Measures a stick (`left_stick` or `right_stick`) left untouched for some seconds.

    Devices report only changes, so each value is weighted by its duration, at ticks of 4 ms. The standard deviation is
    computed from the median absolute deviation (times 1.4826 for a normal distribution), so that a single touch does
    not count.

    Raises:
        TooLittleData: the time is too short, there is no such stick, or the stick was moved.
    """
    if seconds < LEAST_S:
        raise TooLittleData(
            tr("{seconds:.1f} s are too short; measure for {least:g} s at least", seconds=seconds, least=LEAST_S)
        )
    times, changes = _paths(frames, (slot_name(stick, "x"), slot_name(stick, "y")))
    ticks = np.arange(0.0, seconds, TICK_S) + times[0]
    points = changes[np.searchsorted(times, ticks, side="right") - 1]
    middle = np.median(points, axis=0)
    distance = np.hypot(*(points - middle).T)
    spread = float(np.quantile(distance, 0.999))
    if spread > 0.3:
        raise TooLittleData(tr("the stick was moved; leave it alone until the time is over"))
    noise = float(1.4826 * np.median(np.abs(points - middle), axis=0).max())
    quarter = max(1, len(points) // 4)
    drift = float(np.hypot(*(np.median(points[-quarter:], axis=0) - np.median(points[:quarter], axis=0))))
    off = float(np.hypot(*middle))
    dead_zone = min(_up_to((off + spread + drift) * REST_MARGIN, 0.005), 0.9)
    x, y, noise, spread, drift = (round(float(number), 5) for number in (*middle, noise, spread, drift))
    return StickRest(x, y, noise, spread, drift, dead_zone, round(seconds, 1))


def measure_rim(frames: Sequence[Frame], stick: str) -> StickRim:
    """Measures a stick rolled along its rim at least once.

    Raises:
        TooLittleData: not a full turn.
    """
    _, points = _paths(frames, (slot_name(stick, "x"), slot_name(stick, "y")))
    if len(points) < _LEAST_SAMPLES:
        raise TooLittleData(tr("there are only {count} samples; go round the rim, slowly", count=len(points)))
    radius = np.hypot(*points.T)
    angle = np.degrees(np.arctan2(points[:, 0], -points[:, 1])) % 360.0
    sector = np.round(angle / (360.0 / RIM_ANGLES)).astype(int) % RIM_ANGLES
    reach = np.zeros(RIM_ANGLES)
    np.maximum.at(reach, sector, radius)
    seen = reach > 0.4
    if seen.mean() < _ROUND:
        raise TooLittleData(
            tr("the stick went round {seen:.0%} of the rim; go all the way round, along the edge", seen=seen.mean())
        )
    reach[~seen] = np.interp(np.flatnonzero(~seen), np.flatnonzero(seen), reach[seen], period=RIM_ANGLES)
    quarters = np.arange(4) * (RIM_ANGLES // 4)
    straight = reach[quarters].mean()
    diagonal = np.maximum(reach[quarters + 4], reach[(quarters + 5) % RIM_ANGLES]).mean()  # at 40 and 50 degrees
    bulge = float(diagonal / straight)
    # Like `engine.shaping.stick_shape`: a negative amount divides a diagonal by 1 - amount * 0.414, a positive one
    # multiplies it by 1 + amount * 0.414.
    square_off = (1.0 - bulge) / _STRETCH if bulge > 1.0 else (1.0 / bulge - 1.0) / _STRETCH
    shortest = float(min(straight, diagonal, reach.min())) if bulge <= 1.0 else float(min(straight, reach.min()))
    edge_zone = min(max(_up_to(1.0 - shortest + RIM_MARGIN, 0.005), 0.0), 0.5)
    rounded = 0.0 if abs(bulge - 1.0) < 0.03 else round(min(max(square_off, -1.0), 1.0), 2)
    return StickRim(tuple(round(float(part), 4) for part in reach), edge_zone, rounded)


def measure_motion(frames: Sequence[Frame]) -> MotionRest:
    """Measures motion sensors at rest.

    Raises:
        TooLittleData: too few samples, or the pad was moved.
    """
    _, rates = _paths(frames, tuple(f"motion.gyro_{axis}" for axis in "xyz"))
    if len(rates) < _LEAST_SAMPLES:
        raise TooLittleData(tr("there are only {count} samples; measure for longer", count=len(rates)))
    bias = rates.mean(axis=0)
    noise = float(rates.std(axis=0).max())
    if noise > 3.0:
        raise TooLittleData(tr("the pad was moved; lay it down until the time is over"))
    gate = min(_up_to(noise * _GATE_SIGMAS, 0.05), 10.0)
    return MotionRest(tuple(round(float(rate), 4) for rate in bias), round(noise, 4), gate)


def _paths(frames: Sequence[Frame], channels: tuple[str, ...]) -> tuple[Samples, Samples]:
    """Returns times in seconds, and the values of channels at each frame with one of them (samples by channels)."""
    known = dict.fromkeys(channels, 0.0)
    times, rows = [], []
    for frame in frames:
        if not frame.values.keys().isdisjoint(channels):
            known.update({channel: frame.values[channel] for channel in channels if channel in frame.values})
            times.append(frame.t_us / US_PER_SECOND)
            rows.append([known[channel] for channel in channels])
    if not rows:
        raise TooLittleData(tr("this pad has no {label}", label=inside(CONTROL_OF_CHANNEL[channels[0]].label)))
    return np.array(times), np.array(rows)


def _up_to(value: float, step: float) -> float:
    """Returns a value rounded up to a multiple of a step."""
    return round(ceil(value / step - 1e-9) * step, 6)
