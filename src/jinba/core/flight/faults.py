"""Hidden faults of a simulated model, and how far its true coefficients are from the computed ones."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True)
class Faults:
    """What is wrong with a simulated model. Signs as in ``core.frames``.

    ``static_margin`` [fraction of MAC, > 0 further forward than the bench thinks]; ``pitch_moment`` [C_m0];
    ``thrust_down_rad``, ``thrust_right_rad``; ``lateral_cg`` [fraction of span, right positive]; ``twist_rad`` [right tip
    washed out]; ``yaw_offset_rad`` [fin trailing edge left].
    """

    static_margin: float = 0.0
    pitch_moment: float = 0.0
    thrust_down_rad: float = 0.0
    thrust_right_rad: float = 0.0
    lateral_cg: float = 0.0
    twist_rad: float = 0.0
    yaw_offset_rad: float = 0.0


@dataclass(frozen=True, slots=True)
class Nature:
    """True over computed coefficients of a simulated model, 1 = as computed; ``slipstream`` share at the tail."""

    lift_slope: float = 1.0
    roll_slope: float = 1.0
    tail_slope: float = 1.0
    elevator: float = 1.0
    aileron: float = 1.0
    fin: float = 1.0
    drag: float = 1.0
    cl_max: float = 1.0
    inertia: float = 1.0
    thrust: float = 1.0
    torque: float = 1.0
    speed: float = 1.0
    slipstream: float = 0.3
    stall_asymmetry: float = 0.0


def draw_faults(rng: np.random.Generator, *, static_margin_sigma: float) -> Faults:
    """Return faults drawn from the spread in which models come to their first flight (docs/methods/estimator.md)."""
    z = rng.standard_normal(7)
    return Faults(
        static_margin=static_margin_sigma * z[0],
        pitch_moment=0.02 * z[1],
        thrust_down_rad=math.radians(2.0) * z[2],
        thrust_right_rad=math.radians(1.8) * z[3],
        lateral_cg=0.006 * z[4],
        twist_rad=math.radians(0.5) * z[5],
        yaw_offset_rad=math.radians(1.5) * z[6],
    )


def draw_nature(rng: np.random.Generator) -> Nature:
    """Return true-over-computed ratios, 5 to 15 % off (slipstream 50 %)."""
    z = rng.standard_normal(13)
    return Nature(
        lift_slope=math.exp(0.05 * z[0]),
        roll_slope=math.exp(0.07 * z[1]),
        tail_slope=math.exp(0.08 * z[2]),
        elevator=math.exp(0.13 * z[3]),
        aileron=math.exp(0.10 * z[4]),
        fin=math.exp(0.12 * z[5]),
        drag=math.exp(0.12 * z[6]),
        cl_max=math.exp(0.09 * z[7]),
        inertia=math.exp(0.12 * z[8]),
        thrust=math.exp(0.12 * z[9]),
        torque=math.exp(0.30 * z[10]),
        speed=math.exp(0.05 * z[11]),
        slipstream=float(np.clip(0.3 * math.exp(0.5 * z[12]), 0.0, 0.8)),
        stall_asymmetry=0.03 * float(rng.standard_normal()),
    )
