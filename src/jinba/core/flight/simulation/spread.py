"""What a model's true coefficients are: drawn about their published spread, never read from the bench."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True)
class Spread:
    """True coefficients of one model. Factors are 1, and additions 0, where nothing is off.

    ``wing_slope``, ``tail_slope``: of the sections, over 2 pi. ``wash``: what one surface does to another over the ideal
    fluid. ``tail_pressure``: dynamic pressure at a tail over the free stream. ``body``: its moments over those of a slender
    one. ``zero_lift_rad``, ``moment``, ``centre``: of the wing's section, added; the
    last is how far its lift acts behind the quarter chord [chords]. ``elevator``, ``aileron``, ``rudder``: flaps over the
    published effect. ``peak``: greatest lift; ``uneven_peak``: right over left half, half of it each way. ``drag``;
    ``thrust``; ``pitch_speed`` of the propeller; ``torque``; ``slipstream``, ``swirl``: share that reaches what lies in it.
    ``inertia`` (roll, pitch, yaw). ``fin_plate``: how much more slender a body makes the fin on it. ``cruise``: speed this pilot likes over
    the stall. ``slack_rad``, ``delay_s``, ``rate_rad_s`` of the servos.
    """

    wing_slope: float = 0.95
    tail_slope: float = 0.92
    wash: float = 1.0
    tail_pressure: float = 0.90
    body: float = 1.0
    zero_lift_rad: float = 0.0
    moment: float = 0.0
    centre: float = 0.0
    elevator: float = 0.85
    aileron: float = 0.85
    rudder: float = 0.85
    peak: float = 1.0
    uneven_peak: float = 0.0
    fall_rad: float = 0.14
    drag: float = 1.0
    thrust: float = 1.0
    pitch_speed: float = 1.0
    torque: float = 1.0
    slipstream: float = 0.7
    swirl: float = 0.4
    inertia: tuple[float, float, float] = (1.0, 1.0, 1.0)
    fin_plate: float = 1.55
    cruise: float = 1.6
    slack_rad: float = 0.0
    delay_s: float = 0.0
    rate_rad_s: float = 8.0


def draw_spread(rng: np.random.Generator) -> Spread:
    """Return true coefficients drawn about their published spread.

    Section slopes 6 and 10 % about 0.95 and 0.92 of 2 pi (low Reynolds numbers: Selig et al., Summary of Low-Speed Airfoil
    Data, 1995 ff.), its centre 0.8 % of the chord about the quarter; downwash 7 %; tail pressure 0.90 sd 0.05 (Nelson, 1998, sec. 2.3: 0.8 to 1.0 off the slipstream); body 30 %
    (slender-body against Multhopp); flaps 13 % about 0.85 of the chart (gaps: DATCOM, 1978, and flight data, e.g. Nelson, app. B);
    fin on a body 1.55 times as slender, 12 % (DATCOM, sec. 5.3.1); greatest lift 8 %; drag 20 %; thrust 12 %; torque 25 %; radii of gyration 8 %
    (Raymer, Aircraft Design, table 16.1, spread over its rows). From memory; servos: common practice, no source.
    """

    def about(center: float, share: float) -> float:
        return center * math.exp(share * float(rng.standard_normal()))

    def between(low: float, high: float) -> float:
        return float(rng.uniform(low, high))

    return Spread(
        wing_slope=about(0.95, 0.06),
        tail_slope=about(0.92, 0.10),
        wash=about(1.0, 0.07),
        tail_pressure=float(np.clip(0.90 + 0.05 * rng.standard_normal(), 0.70, 1.0)),
        body=about(1.0, 0.30),
        zero_lift_rad=math.radians(0.35) * float(rng.standard_normal()),
        moment=0.006 * float(rng.standard_normal()),
        centre=0.008 * float(rng.standard_normal()),
        elevator=about(0.85, 0.13),
        aileron=about(0.85, 0.13),
        rudder=about(0.85, 0.13),
        peak=about(1.0, 0.08),
        uneven_peak=0.03 * float(rng.standard_normal()),
        fall_rad=between(0.07, 0.20),
        drag=about(1.0, 0.20),
        thrust=about(1.0, 0.12),
        pitch_speed=about(1.0, 0.12),
        torque=about(1.0, 0.25),
        slipstream=between(0.4, 1.0),
        swirl=between(0.2, 0.6),
        inertia=(about(1.0, 0.16), about(1.0, 0.16), about(1.0, 0.16)),
        fin_plate=about(1.55, 0.12),
        cruise=between(1.45, 1.75),
        slack_rad=math.radians(between(0.1, 0.5)),
        delay_s=between(0.015, 0.04),
        rate_rad_s=between(5.0, 9.0),
    )


@dataclass(frozen=True, slots=True)
class Wrong:
    """What is wrong with a model that nobody measured, as a builder would find it.

    ``cg_aft_m``: it balances this much further aft than the bench thinks; ``cg_right_m`` to the right. ``tail_incidence_rad``:
    pitch surface set leading edge up against what was measured (a wing without one: all of it twisted up). ``twist_rad``:
    right tip washed out and left tip washed in by this, growing along the span. ``thrust_down_rad``, ``thrust_right_rad``:
    forward end of the thrust axis. ``fin_left_rad``: fin's trailing edge to the left.
    """

    cg_aft_m: float = 0.0
    cg_right_m: float = 0.0
    tail_incidence_rad: float = 0.0
    twist_rad: float = 0.0
    thrust_down_rad: float = 0.0
    thrust_right_rad: float = 0.0
    fin_left_rad: float = 0.0


@dataclass(frozen=True, slots=True)
class Twin:
    """What makes a simulated model of a setup: its true coefficients and what is wrong with it, both hidden from the bench."""

    spread: Spread = Spread()
    wrong: Wrong = Wrong()
