"""Where surfaces with two tasks run out of travel, and the two schools of their weights."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.controls.deflections import mean_throw_rad
from jinba.core.controls.fitting import NAMES, Command, ControlRole, Fitting
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.mixing import SaturationMap, Weights, saturation_map
from jinba.core.controls.pulses import HALF_RANGE_US
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.trim import pulses_for, surface_rest_rad
from jinba.core.frames import Axis

_PAIRS = (
    (ControlRole.LEFT_ELEVON, ControlRole.RIGHT_ELEVON),
    (ControlRole.LEFT_V_TAIL, ControlRole.RIGHT_V_TAIL),
    (ControlRole.LEFT_FLAPERON, ControlRole.RIGHT_FLAPERON),
    (ControlRole.LEFT_AILERON, ControlRole.RIGHT_AILERON),
)


@dataclass(frozen=True, slots=True)
class Saturation:
    """The saturation map of a pair of surfaces, with the flap held, and what it means.

    ``edges``: words of the left, right, bottom and top edge of the stick box.
    """

    pair: str
    map: SaturationMap
    flap: float
    edges: tuple[str, str, str, str]
    words: str


@dataclass(frozen=True, slots=True)
class WeightSchool:
    """One school of elevon or V-tail weights: how much of the stick box is cut and how far one command alone goes."""

    key: str
    name: str
    pitch: float
    other: float
    cut_share: float
    pitch_rad: float
    words: str


def saturation(setup: ControlSetup, offsets: dict[Axis, float], *, inverted_v: bool) -> tuple[Saturation, ...]:
    """Return the maps of the pairs that may be cut, with ``offsets`` [rad] held by trim; flaperons at no flap and at 60 %."""
    rows = []
    for left, right in _PAIRS:
        a, b = setup.fitting(left), setup.fitting(right)
        if a is None or b is None:
            continue
        flaps = (
            (0.0, 0.6)
            if left is ControlRole.LEFT_FLAPERON or (setup.crow and left is ControlRole.LEFT_AILERON)
            else (0.0,)
        )
        if left is ControlRole.LEFT_AILERON and len(flaps) == 1 and not setup.mixes:
            continue
        rows += [_one_map(setup, a, b, flap, offsets, inverted_v=inverted_v) for flap in flaps]
    return tuple(rows)


def _one_map(
    setup: ControlSetup, a: Fitting, b: Fitting, flap: float, offsets: dict[Axis, float], *, inverted_v: bool
) -> Saturation:
    across = Axis.YAW if a.role is ControlRole.LEFT_V_TAIL else Axis.ROLL
    phase = setup.phases[0]

    def full(axis: Axis) -> float:
        step = setup.rates_of(axis).step(phase.rate_of(axis))
        return max(step.first, step.second)

    found = saturation_map(
        a,
        b,
        weights=setup.weights,
        full_across=full(across),
        full_up=full(Axis.PITCH),
        held={Command.FLAP: np.array(flap)} if flap else None,
        mixes=setup.mixes,
        differential=setup.rates_of(Axis.ROLL).differential,
        crow=setup.crow,
        inverted_v=inverted_v,
        trim_shares=(_trim_share(a, offsets, inverted_v), _trim_share(b, offsets, inverted_v)),
    )
    pair = f"{NAMES[a.role].removeprefix('left ')}s"
    what = "rudder" if across is Axis.YAW else "aileron"
    if flap:
        words = f"At {100 * flap:.0f} % flap {100 * found.across_left_at_full_up:.0f} % of the {what} is left."
    elif found.cut_share == 0.0:
        words = "Nothing is cut anywhere in the stick box."
    else:
        words = (
            f"{100 * found.cut_share:.0f} % of the stick box is cut. At full elevator {100 * found.across_left_at_full_up:.0f} % of the {what} is "
            f"left; at full {what} {100 * found.up_left_at_full_across:.0f} % of the elevator."
        )
    edges = (f"{what} left", f"{what} right", "elevator back", "elevator forward")
    return Saturation(pair, found, flap, edges, words)


def _trim_share(fitting: Fitting, offsets: dict[Axis, float], inverted_v: bool) -> float:
    """Return the share of its full throw that trim holds at a surface."""
    rest = surface_rest_rad(fitting, offsets, inverted_v=inverted_v)
    end = max(fitting.end_point_down if rest > 0 else fitting.end_point_up, 0.05)
    try:
        return math.copysign(abs(pulses_for(fitting, rest)) / HALF_RANGE_US / end, rest)
    except LinkageError:
        return math.copysign(1.0, rest)


def weight_schools(setup: ControlSetup, *, inverted_v: bool) -> tuple[WeightSchool, ...]:
    """Return both schools of weights for elevons or a V-tail, computed; empty for other layouts."""
    pair = next(((a, b) for a, b in _PAIRS[:2] if setup.fitting(a) and setup.fitting(b)), None)
    if pair is None:
        return ()
    left, right = (f for r in pair if (f := setup.fitting(r)) is not None)
    rows = []
    for key, name, share, words in (
        ("sum_100", "Sum of 100", 0.5, "Half the travel for each command: both at full never cut."),
        ("above", "Well above 100", 0.8, "More of each command alone; the corners of the stick box are cut."),
    ):
        weights = Weights(share, share, share, setup.weights.flap)
        found = saturation_map(left, right, weights=weights, inverted_v=inverted_v, steps=21)
        throw = mean_throw_rad(replace(setup, weights=weights), Axis.PITCH, -1.0)
        rows.append(WeightSchool(key, name, share, share, found.cut_share, throw, words))
    return tuple(rows)
