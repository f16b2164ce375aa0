"""The neutral point with its two sigmas, and the tail-volume form as a cross-check."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.airframe.layout import lifting_surfaces
from jinba.core.airframe.parts import Airframe, Camber, Role, Surface
from jinba.core.airframe.planform import Planform, half_chord_sweep_rad, planform_of
from jinba.core.stability.body import body_cm_alpha
from jinba.core.stability.loads import LatticeLoads
from jinba.core.uncertainty import Caveat, root_sum_square

TAIL_EFFICIENCY = 0.90
"""Dynamic pressure at the tail over the free stream, 0.85 to 0.95 (handbook values from memory)."""

NUMERICAL_SIGMA_MAC = 0.0025
"""Spread of the 16 x 2 lattice [fraction of MAC]: 0.0007 against a fine one, 0.0024 against the reference (bench/neutral_point.py)."""

CROSS_CHECK_LIMIT_MAC = 0.04
"""Difference of the two methods beyond which an input error is the likeliest reason [fraction of MAC]."""

_COPLANAR_SPAN_FRACTION = 0.01


@dataclass(frozen=True, slots=True)
class NeutralPoint:
    """Neutral point of the whole model, power off.

    ``x_m`` from the datum; ``sigma_numerical_m`` the lattice against a fine one; ``sigma_total_m`` against real models;
    ``x_tail_volume_m`` the closed form, None for a wing alone; ``lift_slope`` [per rad]; ``body_shift_m`` forward < 0.
    """

    x_m: float
    sigma_numerical_m: float
    sigma_total_m: float
    x_tail_volume_m: float | None
    lift_slope: float
    body_shift_m: float
    caveats: tuple[Caveat, ...]


def efficiency_of(surface: Surface) -> float:
    """Return the dynamic pressure at a surface over the free stream [-]: a tail flies in the wake of body and wing."""
    return TAIL_EFFICIENCY if surface.role is Role.TAIL else 1.0


def lift_slope_per_rad(aspect_ratio: float, *, half_chord_sweep_rad: float = 0.0, section_ratio: float = 1.0) -> float:
    """Return the lift slope of a wing. [per rad]

    a = 2 pi A / (2 + sqrt(4 + (A/k)^2 (1 + tan^2 sweep))), k = section slope / 2 pi. Validity: incompressible, A > 2.
    References: Polhamus form of the Helmbold equation, USAF DATCOM sec. 4.1.3.2 (from memory).
    """
    term = (aspect_ratio / section_ratio) ** 2 * (1.0 + math.tan(half_chord_sweep_rad) ** 2)
    return 2.0 * math.pi * aspect_ratio / (2.0 + math.sqrt(4.0 + term))


def downwash_gradient(*, wing: Planform, lift_slope: float, tail_arm_m: float, tail_height_m: float) -> float:
    """Return d(epsilon)/d(alpha) [-] at a tail behind the wing.

    1.75 a / (pi A (lambda r)^0.25 (1 + m)), r = 2 l/b, m = 2 h/b. ``tail_arm_m`` from wing to tail quarter chord [m],
    ``tail_height_m`` above the wing [m]. Validity: conventional layouts, r 0.4 to 1.5; against a lattice +0.016 sd 0.025.
    References: empirical form of the kind given by Torenbeek, Synthesis of Subsonic Airplane Design, 1982 (from memory).
    """
    r = max(2.0 * tail_arm_m / wing.span_m, 0.05)
    m = 2.0 * abs(tail_height_m) / wing.span_m
    taper = max(wing.taper, 0.2)
    return 1.75 * lift_slope / (math.pi * wing.aspect_ratio * math.pow(taper * r, 0.25) * (1.0 + m))


def tail_volume_neutral_point_m(airframe: Airframe) -> float | None:
    """Return the neutral point [m from the datum] by the tail-volume closed form; None for any other than one wing and a tail.

    Validity: conventional layouts, power off, no body; spread against a lattice -1 to +3 % MAC.
    References: h_n = h_ac + V_H (a_t/a) (1 - de/da) eta, e.g. Etkin and Reid, Dynamics of Flight, 1996, ch. 2 (from memory).
    """
    wing, tail = airframe.wing, airframe.pitch_surface
    conventional = tail is not None and tail.role is Role.TAIL and lifting_surfaces(airframe) == (wing,)
    if tail is None or not conventional:
        return None
    p, t = planform_of(wing), planform_of(tail)
    a = lift_slope_per_rad(p.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(wing))
    a_t = lift_slope_per_rad(t.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(tail))
    x_wing, x_tail = p.station_at(0.25), t.station_at(0.25)
    gradient = downwash_gradient(wing=p, lift_slope=a, tail_arm_m=x_tail - x_wing, tail_height_m=tail.z_m - wing.z_m)
    share = a_t * t.area_m2 * (1.0 - gradient) * TAIL_EFFICIENCY
    return (a * p.area_m2 * x_wing + share * x_tail) / (a * p.area_m2 + share)


def neutral_point(airframe: Airframe, loads: LatticeLoads) -> NeutralPoint:
    """Return the neutral point from lattice loads, tail efficiency and the body, with both sigmas and caveats."""
    p = planform_of(airframe.wing)
    factors = [efficiency_of(s) for s in airframe.surfaces]
    lift = sum(f * load.lift_m2 for f, load in zip(factors, loads.alpha, strict=True))
    moment = sum(f * load.moment_m3 for f, load in zip(factors, loads.alpha, strict=True))
    closed = tail_volume_neutral_point_m(airframe)
    shift = _body_shift_m(airframe, p, loads, lift / p.area_m2)
    x = -moment / lift + shift
    caveats = _caveats(airframe, p, -moment / lift, closed)
    coplanar = any(c.code == "coplanar" for c in caveats)
    return NeutralPoint(
        x_m=x,
        sigma_numerical_m=NUMERICAL_SIGMA_MAC * p.mac_m,
        sigma_total_m=p.mac_m * _total_sigma_fraction(airframe, coplanar),
        x_tail_volume_m=closed,
        lift_slope=lift / p.area_m2,
        body_shift_m=shift,
        caveats=caveats,
    )


def _body_shift_m(airframe: Airframe, p: Planform, loads: LatticeLoads, lift_slope: float) -> float:
    wing_index = airframe.surfaces.index(airframe.wing)
    wing_slope = loads.alpha[wing_index].lift_m2 / p.area_m2
    tail = airframe.pitch_surface
    if tail is not None and tail.x_m > airframe.wing.x_m:
        t = planform_of(tail)
        gradient = 1.0 - loads.alpha[airframe.surfaces.index(tail)].lift_m2 / (
            t.area_m2 * lift_slope_per_rad(t.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(tail))
        )
        x_tail = t.station_at(0.25)
    else:
        gradient, x_tail = 0.4, airframe.body.nose_x_m + airframe.body.length_m
    cm_alpha = body_cm_alpha(
        airframe.body,
        wing=airframe.wing,
        planform=p,
        downwash_gradient=min(max(gradient, 0.0), 0.9),
        x_tail_m=x_tail,
        cl_alpha_wing=wing_slope,
    )
    return -cm_alpha / lift_slope * p.mac_m


def _total_sigma_fraction(airframe: Airframe, coplanar: bool) -> float:
    # Viscous slopes and tail efficiency dominate: 2 % MAC at tail Reynolds numbers above 2e5, growing for small tails
    # (docs/methods/neutral-point.md). The tail chord stands for the Reynolds number here: 0.15 m is about 1.5e5.
    tail = airframe.pitch_surface
    chord = planform_of(tail if tail is not None else airframe.wing).mac_m
    viscous = 0.02 if chord >= 0.18 else 0.025 if chord >= 0.10 else 0.045
    thick = 0.01 if tail is not None and tail.camber is not Camber.FLAT_PLATE and chord < 0.10 else 0.0
    return root_sum_square([viscous, thick, NUMERICAL_SIGMA_MAC, 0.004, 0.03 if coplanar else 0.0])


def _caveats(airframe: Airframe, p: Planform, x_lattice: float, closed: float | None) -> tuple[Caveat, ...]:
    found: list[Caveat] = []
    if closed is not None and abs(x_lattice - closed) > CROSS_CHECK_LIMIT_MAC * p.mac_m:
        found.append(
            Caveat(
                "cross-check",
                f"The lattice and the tail-volume form differ by {abs(x_lattice - closed) * 1000:.0f} mm "
                f"({abs(x_lattice - closed) / p.mac_m:.0%} of the mean chord). Check the tail's station and size first.",
            )
        )
    for other in airframe.surfaces:
        gap = abs(other.z_m - airframe.wing.z_m)
        if other is not airframe.wing and gap < _COPLANAR_SPAN_FRACTION * p.span_m:
            found.append(
                Caveat(
                    "coplanar", f"{other.key} lies in the plane of the wing: the neutral point is less sure (+3 % MAC)."
                )
            )
    return tuple(found)
