"""Sections over the whole range of incidence: attached, stalled, flat on; lift, drag and moment about the quarter chord."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numba
import numpy as np

from jinba.core.airframe.parts import Camber, Surface

SLOPE, ZERO_LIFT, PEAK, TROUGH, DRAG, DRAG_RISE, MOMENT, FALL, SLACK = range(9)
"""Columns of a section's row: slope [1/rad], zero-lift angle [rad], greatest and least lift, drag at zero lift, drag by
lift squared, moment, how far past the stall the lift has fallen to that of a plate [rad], slack round zero lift [rad]."""

COLUMNS = 9

_RE = (5e4, 1e5, 2e5, 4e5, 1e6)
_PLATE_LIFT = 1.05
_PLATE_DRAG = 1.90
"""Of a plate across the flow, aspect ratio 10 and more: Hoerner, Fluid-Dynamic Drag, 1965, ch. 3 (from memory)."""

_PLATE_CENTRE = 0.20
"""How far behind the quarter chord the force on a stalled section acts [chords]: towards the middle. Hoerner (from memory)."""


@dataclass(frozen=True, slots=True)
class Family:
    """Published data of a family of sections: zero-lift angle [rad], moment, greatest lift at the Reynolds numbers 5e4 to 1e6."""

    zero_lift_rad: float
    moment: float
    peak: tuple[float, float, float, float, float]
    trough: tuple[float, float, float, float, float]
    thick: bool


_FAMILIES = {
    # NACA 0009 and 2412, Clark Y: Abbott and von Doenhoff, Theory of Wing Sections, 1959; greatest lift at low Reynolds
    # numbers: Selig et al., Summary of Low-Speed Airfoil Data, 1995 ff. (all from memory).
    Camber.FLAT_PLATE: Family(0.0, 0.0, (0.70, 0.72, 0.74, 0.76, 0.80), (0.70, 0.72, 0.74, 0.76, 0.80), False),
    Camber.SYMMETRICAL: Family(0.0, 0.0, (0.78, 0.88, 0.97, 1.08, 1.25), (0.78, 0.88, 0.97, 1.08, 1.25), True),
    Camber.SEMI_SYMMETRICAL: Family(
        math.radians(-2.1), -0.047, (1.05, 1.20, 1.28, 1.33, 1.48), (0.60, 0.70, 0.80, 0.90, 1.00), True
    ),
    Camber.FLAT_BOTTOM: Family(
        math.radians(-3.6), -0.080, (1.10, 1.28, 1.36, 1.40, 1.51), (0.50, 0.55, 0.65, 0.75, 0.85), True
    ),
    Camber.REFLEXED: Family(
        math.radians(-0.5), 0.006, (0.98, 1.10, 1.17, 1.20, 1.35), (0.60, 0.70, 0.80, 0.85, 0.95), True
    ),
}


def family_of(surface: Surface) -> Family:
    """Return the published data of a surface's section: of its own foil where it is named, else of its family."""
    known = _FAMILIES[surface.camber]
    foil = surface.foil
    if foil is None:
        return known
    return Family(foil.zero_lift_rad, foil.cm_zero_lift, foil.cl_max, known.trough, foil.thickness > 0.05)


def at_reynolds(peaks: tuple[float, ...], reynolds: float) -> float:
    """Return a greatest lift [-] at a Reynolds number [-]: linear in its logarithm, level outside the table; four fifths
    of the lowest below 3e4. Derived here."""
    found = float(np.interp(math.log(max(reynolds, 1e3)), np.log(_RE), peaks))
    return found * (0.8 if reynolds < 3e4 else 1.0)


@numba.njit(cache=True, error_model="numpy")
def section(row: np.ndarray, alpha: float, flap: float) -> tuple[float, float, float]:
    """Return lift, drag and moment coefficient of a section at an incidence and a shift by its flap [rad].

    Attached lift a x / (1 + |a x / peak|^8)^(1/8), x from zero lift; past the stall it goes over to that of a plate,
    1.05 sin 2x, 1.9 sin^2 x. Validity: all around. References: blending with a plate, e.g. Beard and McLain, Small Unmanned
    Aircraft, 2012, eq. 4.9 (from memory); the bend is derived here.
    """
    x = alpha - row[ZERO_LIFT]
    # A flap down moves the whole lift curve; it raises the peak by about half of what it adds (from memory).
    effective = x + flap
    slack = row[SLACK]
    if slack > 0.0:
        effective -= slack * math.tanh(effective / 0.02)
    linear = row[SLOPE] * effective
    shift = 0.5 * row[SLOPE] * flap
    limit = row[PEAK] + shift if linear >= 0.0 else row[TROUGH] - shift
    limit = max(limit, 0.2) / 0.96
    ratio = linear / limit
    fourth = ratio * ratio * ratio * ratio
    attached = linear / math.sqrt(math.sqrt(math.sqrt(1.0 + fourth * fourth)))
    past = abs(effective) - limit / row[SLOPE] - 0.035
    stalled = min(max(past / row[FALL], 0.0), 1.0)
    stalled = stalled * stalled * (3.0 - 2.0 * stalled)
    drag = row[DRAG] + row[DRAG_RISE] * attached * attached
    moment = row[MOMENT]
    if stalled <= 0.0:
        return attached, drag, moment
    s, c = math.sin(alpha + 0.5 * flap), math.cos(alpha + 0.5 * flap)
    plate = 2.0 * _PLATE_LIFT * s * c
    plate_drag = 0.02 + _PLATE_DRAG * s * s
    plate_moment = -_PLATE_CENTRE * (plate * c + plate_drag * s)
    return (
        (1.0 - stalled) * attached + stalled * plate,
        (1.0 - stalled) * drag + stalled * plate_drag,
        (1.0 - stalled) * moment + stalled * plate_moment,
    )


_RATIO = (0.0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 1.0)
_EFFECT = (0.0, 0.26, 0.41, 0.52, 0.61, 0.69, 0.76, 0.82, 1.0)
"""Shift of the lift curve per flap angle over the flap's share of the chord: Nelson, Flight Stability and Automatic
Control, 1998, fig. 2.21 (read from memory); a flap that is the whole chord turns the section."""

_NOSE_DOWN = (-0.25, -0.225, -0.20, -0.165, -0.13, -0.10, -0.075, -0.05, 0.0)
"""Moment about the quarter chord per lift of the flap, over the same shares (from memory)."""


def flap_effect(ratio: float) -> float:
    """Return how far a flap of a share of the chord [-] shifts the lift curve per angle. [-] Source: :data:`_EFFECT`."""
    return float(np.interp(ratio, _RATIO, _EFFECT))


def flap_moment_share(ratio: float) -> float:
    """Return the moment coefficient per lift coefficient of a flap of a share of the chord. [-] Source: :data:`_NOSE_DOWN`."""
    return float(np.interp(ratio, _RATIO, _NOSE_DOWN))
