"""Readings of balance and mass, each with its own error: fingers or jig at a span station, scales, hanging, swinging."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.airframe.parts import Surface
from jinba.core.airframe.planform import chord_at
from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.errors import JinbaError, check_range
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length, a_mass
from jinba.core.uncertainty import root_sum_square

_SCALE_SIGMA_SHARE = 0.002
_SMALLEST_SCALE_SIGMA_KG = 0.0005
_STATION_SIGMA_M = 0.001
"""What a kitchen scale and a ruler give without better knowledge, one standard deviation: common practice, no source."""

_MISPLACED_M = 0.005
"""How far along the span the fingers may stand from where one believes them to be, one standard deviation. [m]"""


@dataclass(frozen=True, slots=True)
class BalanceReading:
    """A balance point read: station aft of the datum and one sigma [m]; side and mass where the method gives them."""

    x_m: float
    sigma_m: float
    y_m: float | None
    mass_kg: float | None
    how: str
    caveats: tuple[Said, ...] = ()


@dataclass(frozen=True, slots=True)
class Support:
    """A scale under a wheel or a point: what it shows [kg], where it stands [m from the datum, right of the centre line]."""

    name: str
    mass_kg: float
    x_m: float
    y_m: float = 0.0


def span_reading(wing: Surface, *, behind_le_m: float, y_m: float, sigma_m: float) -> BalanceReading:
    """Return the balance point of a model held at a distance behind the leading edge, at a distance from the centre line.

    x = x_LE(y) + d: on a swept wing the same distance further out is another fuselage station. Sigma: the reading's own
    and the sweep times how well the span station is known.

    Parameters
    ----------
    wing : the wing it was held by.
    behind_le_m : behind the leading edge *there*; ahead is negative. [m]
    y_m : from the centre line. [m]
    sigma_m : how well the level was seen, one sigma. [m]

    Raises: OutOfRangeError for a place off the wing. References: geometry, derived here (docs/methods/weighing.md).
    """
    check_range("distance from the centre line", y_m, unit="m", low=0.0, high=wing.half_span_m)
    check_range("accuracy of the reading", sigma_m, unit="m", low=0.0002, high=0.1)
    leading, chord = chord_at(wing, y_m)
    check_range("distance behind the leading edge", behind_le_m, unit="m", low=-0.5 * chord, high=1.5 * chord)
    step = min(0.01, 0.1 * wing.half_span_m)
    inner = chord_at(wing, max(y_m - step, 0.0))[0]
    outer = chord_at(wing, min(y_m + step, wing.half_span_m))[0]
    # The leading edge runs aft along a swept wing: fingers a little further out read another station.
    slope = (outer - inner) / (min(y_m + step, wing.half_span_m) - max(y_m - step, 0.0))
    sigma = root_sum_square([sigma_m, slope * _MISPLACED_M])
    how = f"held {a_length(behind_le_m)} behind the leading edge, {a_length(y_m)} from the centre line"
    return BalanceReading(leading + behind_le_m, sigma, None, None, how, _span_caveats(wing, y_m, behind_le_m, chord))


def _span_caveats(wing: Surface, y_m: float, behind_m: float, chord_m: float) -> tuple[Said, ...]:
    root = chord_at(wing, 0.0)[0]
    there = chord_at(wing, y_m)[0]
    found = []
    if abs(there - root) > 0.003:
        found.append(
            finding(
                "swept",
                f"The leading edge there lies {a_length(abs(there - root))} {'behind' if there > root else 'ahead of'} "
                "the root's: the same distance measured at the root would be another balance point.",
            )
        )
    if not 0.05 * chord_m <= behind_m <= 0.75 * chord_m:
        found.append(
            finding(
                "odd-place", "That place is hardly on the wing: was it measured from the leading edge at this station?"
            )
        )
    return tuple(found)


def scales_reading(supports: tuple[Support, ...]) -> BalanceReading:
    """Return mass and balance point from two or three scales under wheels or points.

    x = sum m_i x_i / sum m_i, y likewise; sigma by propagation of 0.2 % (at least 0.5 g) a scale and 1 mm a station.
    Raises: JinbaError for fewer than two scales; OutOfRangeError. References: FAA-H-8083-1, weighing (from memory).
    """
    if not 2 <= len(supports) <= 4:
        raise JinbaError("Weigh on two, three or four scales at once.", count=len(supports))
    for s in supports:
        check_range(f"scale under the {s.name}", s.mass_kg, unit="kg", low=0.0, high=1e5)
        check_range(f"station of the {s.name}", s.x_m, unit="m", low=-100.0, high=100.0)
    total = sum(s.mass_kg for s in supports)
    check_range("sum of the scales", total, unit="kg", low=1e-6)
    x = sum(s.mass_kg * s.x_m for s in supports) / total
    y = sum(s.mass_kg * s.y_m for s in supports) / total
    terms = []
    for s in supports:
        scale = max(_SMALLEST_SCALE_SIGMA_KG, _SCALE_SIGMA_SHARE * s.mass_kg)
        terms += [scale * (s.x_m - x) / total, _STATION_SIGMA_M * s.mass_kg / total]
    across = max(s.y_m for s in supports) - min(s.y_m for s in supports)
    how = "scales: " + ", ".join(f"{a_mass(s.mass_kg)} under the {s.name}" for s in supports)
    return BalanceReading(x, root_sum_square(terms), y if across > 0.01 else None, total, how, _scale_caveats(supports))


def _scale_caveats(supports: tuple[Support, ...]) -> tuple[Said, ...]:
    length = max(s.x_m for s in supports) - min(s.x_m for s in supports)
    if length < 0.05:
        return (
            finding(
                "close",
                f"The supports stand within {a_length(0.05)} of each other along the body: the balance point is hardly read.",
            ),
        )
    lightest = min(s.mass_kg for s in supports) / sum(s.mass_kg for s in supports)
    if lightest < 0.01:
        return (
            finding(
                "light", "One scale carries next to nothing: the model balances on the others; check that it touches."
            ),
        )
    return ()


def support_loads_kg(
    *, mass_kg: float, x_m: float, y_m: float, places: tuple[tuple[float, float], ...]
) -> tuple[float, ...]:
    """Return what each of two or three scales shows under a model. [kg]

    Equilibrium of forces and of moments about both axes (about one for two scales). ``places``: (station, right) of each
    support. [m] Raises: JinbaError when they stand in one line across or in one place. References: statics, derived here.
    Examples
    --------
    >>> [round(m, 3) for m in support_loads_kg(mass_kg=2.0, x_m=0.1, y_m=0.0, places=((0.0, 0.0), (0.4, 0.0)))]
    [1.5, 0.5]
    """
    if not 2 <= len(places) <= 3:
        raise JinbaError("Weigh on two or three scales at once.", count=len(places))
    for x, y in places:
        check_range("station of the scale", x, unit="m", low=-100.0, high=100.0)
        check_range("distance of the scale from the centre line", y, unit="m", low=-100.0, high=100.0)
    rows = [[1.0] * len(places), [p[0] for p in places], [p[1] for p in places]][: len(places)]
    loads = np.array([mass_kg, mass_kg * x_m, mass_kg * y_m][: len(places)])
    matrix = np.array(rows)
    if abs(np.linalg.det(matrix)) < 1e-6:
        raise JinbaError("The scales stand in one line or in one place: the balance point cannot be read from them.")
    return tuple(float(v) for v in np.linalg.solve(matrix, loads))


def hang_height_m(*, x_cg_m: float, x_hang_m: float, z_hang_m: float, lean_to_canopy_rad: float) -> float:
    """Return the height of the balance point [m above the datum line] of a model hung from one point of its tail.

    z = z_h - (x_h - x_cg) tan(lean): hung by the tail, nose down, the nose leans to the canopy side by the angle at which
    the balance point, lying on the belly's side of the body axis, comes to hang below the point.

    Parameters: stations aft of the datum [m]; ``lean_to_canopy_rad`` > 0 when the nose leans to the canopy. [rad]
    Raises: OutOfRangeError. References: equilibrium of a hanging body, derived here (docs/methods/weighing.md).
    Examples
    --------
    >>> round(hang_height_m(x_cg_m=0.08, x_hang_m=0.78, z_hang_m=0.0, lean_to_canopy_rad=0.03) * 1000, 1)
    -21.0
    """
    check_range("distance from hook to balance point", x_hang_m - x_cg_m, unit="m", low=0.05, high=12.0)
    check_range("lean", lean_to_canopy_rad, unit="rad", low=-0.8, high=0.8)
    return z_hang_m - (x_hang_m - x_cg_m) * math.tan(lean_to_canopy_rad)


def lateral_from_tip_mass_m(*, tip_mass_kg: float, half_span_m: float, mass_kg: float) -> float:
    """Return how far the balance point lies from the centre line [m], toward the heavy wing.

    y = m_t (b/2) / m, for the mass that, laid on the light tip, levels a model resting on two points of its centre line.
    Raises: OutOfRangeError. References: moment about the centre line, derived here.
    Examples
    --------
    >>> round(lateral_from_tip_mass_m(tip_mass_kg=0.012, half_span_m=0.75, mass_kg=2.4) * 1000, 3)
    3.75
    """
    check_range("mass on the tip", tip_mass_kg, unit="kg", low=0.0, high=100.0)
    check_range("mass", mass_kg, unit="kg", low=1e-4)
    return tip_mass_kg * half_span_m / mass_kg


def _check_swing(mass_kg: float, period_s: float, **lengths_m: float) -> None:
    check_range("mass", mass_kg, unit="kg", low=1e-4, high=1e4)
    check_range("period", period_s, unit="s", low=1e-4, high=1e4)
    for name, length_m in lengths_m.items():
        check_range(name, length_m, unit="m", low=1e-4, high=40.0)


def bifilar_inertia_kg_m2(*, mass_kg: float, spacing_m: float, length_m: float, period_s: float) -> float:
    """Return the moment of inertia [kg m2] about the vertical axis of a model swinging on two parallel strings.

    I = m g D^2 T^2 / (16 pi^2 L). Parameters: spacing D of the strings [m], their length L [m], period T [s].
    Raises: OutOfRangeError. Validity: small swings. References: bifilar pendulum, e.g. NACA TR-467, 1933 (from memory).
    Examples
    --------
    >>> round(bifilar_inertia_kg_m2(mass_kg=2.4, spacing_m=0.6, length_m=1.5, period_s=2.1), 6)
    0.157747
    """
    _check_swing(mass_kg, period_s, spacing=spacing_m, string=length_m)
    return mass_kg * STANDARD_GRAVITY_MPS2 * spacing_m**2 * period_s**2 / (16.0 * math.pi**2 * length_m)


def pendulum_inertia_kg_m2(*, mass_kg: float, arm_m: float, period_s: float) -> float:
    """Return the moment of inertia [kg m2] about the balance point of a model swinging as a compound pendulum.

    I = m g l T^2 / (4 pi^2) - m l^2, l from the axis to the balance point [m]. Raises: JinbaError when the period is
    shorter than that of a point mass, which no body has. References: elementary mechanics.
    Examples
    --------
    >>> round(pendulum_inertia_kg_m2(mass_kg=2.4, arm_m=1.2, period_s=2.35), 6)
    0.494837
    """
    _check_swing(mass_kg, period_s, arm=arm_m)
    inertia = mass_kg * STANDARD_GRAVITY_MPS2 * arm_m * period_s**2 / (4.0 * math.pi**2) - mass_kg * arm_m**2
    if inertia <= 0:
        raise JinbaError("No body swings that fast on so long an arm: measure the period and the arm again.")
    return inertia
