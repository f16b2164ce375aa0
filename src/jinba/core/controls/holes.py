"""Which holes of arm and horn give a wanted throw with the finest resolution."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import product

import numpy as np

from jinba.core.controls.fitting import Fitting
from jinba.core.controls.four_bar import Bars, LinkageError, follow, lead
from jinba.core.controls.linkage import bars_of
from jinba.core.controls.pulses import HALF_RANGE_US
from jinba.core.controls.travel import angle_of_ruler, full_throw_moment_nm, ruler_m
from jinba.core.errors import check_range


@dataclass(frozen=True, slots=True)
class HoleChoice:
    """One pair of holes: arm and horn [m], travel each way [m], end points needed for the wanted throw, and its merits.

    ``m_per_us`` at the trailing edge (smaller is finer); ``torque_share`` asked of the servo; ``reaches`` the throw.
    """

    arm_m: float
    horn_m: float
    up_m: float
    down_m: float
    end_point_up: float
    end_point_down: float
    m_per_us: float
    torque_share: float
    reaches: bool


def hole_search(
    fitting: Fitting,
    *,
    arm_holes_m: tuple[float, ...],
    horn_holes_m: tuple[float, ...],
    wanted_m: float,
    speed_mps: float,
    density_kg_m3: float,
    section_chord_m: float,
) -> tuple[HoleChoice, ...]:
    """Return the pairs of holes that give +- ``wanted_m`` [m] at the trailing edge, the finest resolution first.

    Pairs that reach the throw within 120 % end points come first, by movement per microsecond; pairs that do not reach
    it follow, by what they reach. Pairs that cannot be fitted are left out. Raises: OutOfRangeError; LinkageError when no
    pair can be fitted at all.
    """
    check_range("wanted throw", wanted_m, unit="m", low=0.0002, high=1.9 * fitting.chord_m)
    for hole in (*arm_holes_m, *horn_holes_m):
        check_range("hole", hole, unit="m", low=0.002, high=0.3)
    wanted = angle_of_ruler(fitting.chord_m, wanted_m)
    moment = full_throw_moment_nm(fitting, wanted, speed_mps, density_kg_m3, section_chord_m)
    pairs = np.array(list(product(sorted(set(arm_holes_m)), sorted(set(horn_holes_m)))))
    bars = replace(bars_of(fitting.linkage), arm=pairs[:, 0], horn=pairs[:, 1])
    choices = _pairs(fitting, bars, wanted, moment)
    found = [c for c, dead in zip(choices, bars.dead, strict=True) if not dead]
    if not found:
        raise LinkageError("None of these holes can be fitted: check the distance to the hinge line.", name="holes")
    return tuple(sorted(found, key=lambda c: (not c.reaches, c.m_per_us if c.reaches else -min(c.up_m, c.down_m))))


_MOST_END_POINT = 1.2
_STEEPEST_OVER_NEUTRAL = 4.0


def _pairs(f: Fitting, bars: Bars, wanted: float, moment_nm: float) -> list[HoleChoice]:
    servo = f.servo
    full = servo.rad_per_us * HALF_RANGE_US
    down, up = np.abs(lead(bars, np.array(wanted))), np.abs(lead(bars, np.array(-wanted)))
    swept = [follow(bars, np.full(np.shape(bars.arm), full * s)) for s in np.linspace(-1, 1, 9)]
    angles = np.stack([m.deflection_rad for m in swept])
    slopes = np.abs(np.stack([m.slope for m in swept]))
    neutral = slopes[4]
    most = _MOST_END_POINT * full
    reaches = (down <= most) & (up <= most)
    with np.errstate(invalid="ignore"):
        highest, lowest = np.fmax.reduce(angles), np.fmin.reduce(angles)
        steepest = np.fmax.reduce(slopes)
    arms, horns = np.asarray(bars.arm), np.asarray(bars.horn)
    return [
        HoleChoice(
            arm_m=float(arms[i]),
            horn_m=float(horns[i]),
            up_m=ruler_m(f.chord_m, float(min(0.0, lowest[i]))),
            down_m=ruler_m(f.chord_m, float(max(0.0, highest[i]))),
            end_point_up=float(up[i] / full) if up[i] <= most else _MOST_END_POINT,
            end_point_down=float(down[i] / full) if down[i] <= most else _MOST_END_POINT,
            m_per_us=float(f.chord_m * neutral[i] * servo.rad_per_us),
            torque_share=float(moment_nm * steepest[i] / servo.torque_nm),
            reaches=bool(reaches[i] and steepest[i] < _STEEPEST_OVER_NEUTRAL * neutral[i]),
        )
        for i in range(arms.size)
    ]
