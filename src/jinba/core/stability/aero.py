"""The linear aerodynamic model of a model aircraft: everything later rooms need, from one lattice solution."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from jinba.core.airframe.parts import Airframe, Fin
from jinba.core.airframe.planform import Planform, planform_of
from jinba.core.stability.loads import Load, solve_loads
from jinba.core.stability.neutral_point import TAIL_EFFICIENCY, NeutralPoint, lift_slope_per_rad, neutral_point
from jinba.core.stability.sections import SECTION_DATA, flap_effectiveness, flap_moment, wing_cl_max

SECTION_SLOPE_RATIO = 0.92
"""Section lift slope over 2 pi at model Reynolds numbers; sigma 6 % wing, 10 % tail (docs/methods/neutral-point.md)."""

REAL_FLAP_FACTOR = 0.85
"""Real plain flaps over thin-aerofoil effectiveness at small deflection, ln-sigma 0.15 (docs/methods/control-power.md)."""

OSWALD_EFFICIENCY = 0.80
"""Span efficiency of model wings, 0.7 to 0.9 (handbook range from memory)."""


@dataclass(frozen=True, slots=True)
class AeroModel:
    """Derivatives about the neutral point, referred to wing area, MAC and span. Angles in radians.

    ``neutral_point``; ``planform`` of the wing; ``lift_slope`` [1/rad]; ``cm_zero`` about the neutral point [-];
    ``cl_zero`` lift at zero angle of attack [-]; ``pitch_control`` = elevator moment about the neutral point per rad of
    trailing-edge-down deflection, as a positive number V_d (nose-down) [1/rad], negative for a foreplane;
    ``cl_q``, ``cm_q`` per q c/2V about the neutral point; ``cl_p`` per p b/2V; ``cl_aileron`` per rad (each side);
    ``cl_twist`` per rad of right-tip wash-out; ``cl_beta`` [1/rad]; ``cn_beta``, ``cn_rudder`` [1/rad];
    ``cl_max`` [-]; ``cd_zero``, ``induced_factor`` of the drag polar CD = cd_zero + induced_factor CL^2.
    """

    planform: Planform
    neutral_point: NeutralPoint
    lift_slope: float
    cm_zero: float
    cl_zero: float
    pitch_control: float
    cl_q: float
    cm_q: float
    cl_p: float
    cl_aileron: float
    cl_twist: float
    cl_beta: float
    cn_beta: float
    cn_rudder: float
    cl_max: float
    cd_zero: float
    induced_factor: float


@lru_cache(maxsize=256)
def aero_model(airframe: Airframe) -> AeroModel:
    """Return the linear aerodynamic model of an airframe.

    Validity: attached flow, low speed, power off. References: docs/methods/neutral-point.md and control-power.md.
    """
    zero_lift = tuple(SECTION_DATA[s.camber].zero_lift_rad for s in airframe.surfaces)
    loads = solve_loads(airframe, zero_lift_rad=zero_lift)
    np_ = neutral_point(airframe, loads)
    p = planform_of(airframe.wing)
    s, c, b, k = p.area_m2, p.mac_m, p.span_m, SECTION_SLOPE_RATIO
    base_lift, base_moment = _lift_and_moment(airframe, loads.base, np_.x_m)
    _, elevator_moment = _lift_and_moment(airframe, loads.elevator, np_.x_m)
    # The lattice pitches about the datum; moving the centre to the neutral point adds -x_np times the alpha load.
    pitch_lift, pitch_moment = _lift_and_moment(airframe, loads.pitch, np_.x_m)
    alpha_lift, alpha_moment = _lift_and_moment(airframe, loads.alpha, np_.x_m)
    q_lift = pitch_lift - np_.x_m * alpha_lift
    q_moment = pitch_moment - np_.x_m * alpha_moment
    tail = airframe.pitch_surface
    tau = flap_effectiveness(tail.hinge_fraction) * REAL_FLAP_FACTOR if tail is not None else 0.0
    tau_aileron = flap_effectiveness(airframe.wing.hinge_fraction) * REAL_FLAP_FACTOR
    roll = k / (s * b)
    cn_beta, cn_rudder = _fin_derivatives(airframe.fin, p, np_.x_m)
    return AeroModel(
        planform=p,
        neutral_point=np_,
        lift_slope=k * np_.lift_slope,
        cm_zero=k * base_moment / (s * c) + _section_moments(airframe, p),
        cl_zero=k * base_lift / s,
        pitch_control=-k * tau * elevator_moment / (s * c) + _elevator_own_moment(airframe, p),
        cl_q=k * q_lift / s * 2.0 / c,
        cm_q=k * q_moment / (s * c) * 2.0 / c,
        cl_p=roll * _roll(loads.roll_rate) * 2.0 / b,
        cl_aileron=roll * tau_aileron * _roll(loads.aileron),
        cl_twist=roll * _roll(loads.linear_twist),
        cl_beta=roll * _roll(loads.sideslip),
        cn_beta=cn_beta,
        cn_rudder=cn_rudder,
        cl_max=wing_cl_max(airframe.wing.camber, taper=p.taper),
        cd_zero=_zero_lift_drag(airframe, p),
        induced_factor=1.0 / (math.pi * p.aspect_ratio * OSWALD_EFFICIENCY),
    )


def _lift_and_moment(airframe: Airframe, loads: tuple[Load, ...], x_ref_m: float) -> tuple[float, float]:
    lift = moment = 0.0
    for surface, load in zip(airframe.surfaces, loads, strict=True):
        factor = TAIL_EFFICIENCY if surface is airframe.pitch_surface else 1.0
        lift += factor * load.lift_m2
        moment += factor * (load.moment_m3 + x_ref_m * load.lift_m2)
    return lift, moment


def _roll(loads: tuple[Load, ...]) -> float:
    return sum(load.roll_m3 for load in loads)


def _elevator_own_moment(airframe: Airframe, p: Planform) -> float:
    # A deflected flap also pitches its own surface nose-down, about 5 % of the elevator's effect.
    tail = airframe.pitch_surface
    if tail is None:
        return 0.0
    q = planform_of(tail)
    share = (tail.control_outer - tail.control_inner) * TAIL_EFFICIENCY * REAL_FLAP_FACTOR
    return share * flap_moment(tail.hinge_fraction) * q.area_m2 * q.mac_m / (p.area_m2 * p.mac_m)


def _section_moments(airframe: Airframe, p: Planform) -> float:
    total = 0.0
    for surface in airframe.surfaces:
        q = planform_of(surface)
        factor = TAIL_EFFICIENCY if surface is airframe.pitch_surface else 1.0
        total += factor * SECTION_DATA[surface.camber].cm_zero_lift * q.area_m2 * q.mac_m
    return total / (p.area_m2 * p.mac_m)


def _fin_derivatives(fin: Fin | None, p: Planform, x_ref_m: float) -> tuple[float, float]:
    if fin is None:
        return 0.0, 0.0
    aspect_ratio = 1.55 * fin.count * fin.height_m**2 / fin.area_m2
    slope = SECTION_SLOPE_RATIO * lift_slope_per_rad(aspect_ratio)
    arm = fin.x_m + 0.25 * 0.5 * (fin.root_chord_m + fin.tip_chord_m) + 0.5 * fin.sweep_offset_m - x_ref_m
    volume = slope * TAIL_EFFICIENCY * fin.area_m2 * arm / (p.area_m2 * p.span_m)
    tau = flap_effectiveness(fin.hinge_fraction) * REAL_FLAP_FACTOR
    # Body and propeller take away about a fifth of the fin's weathercock effect (handbook order, from memory).
    return 0.8 * volume, -tau * volume


def _zero_lift_drag(airframe: Airframe, p: Planform) -> float:
    # Friction of surfaces and body on wetted area, cf 0.009 at Re 1e5 to 3e5 (from memory), plus 0.012 for gear and gaps.
    surfaces = sum(planform_of(s).area_m2 for s in airframe.surfaces)
    fin = airframe.fin.area_m2 if airframe.fin is not None else 0.0
    body = airframe.body
    wetted = 2.05 * (surfaces + fin) + 2.6 * body.length_m * 0.5 * (body.width_m + body.height_m)
    return 0.009 * wetted / p.area_m2 + 0.012


def damping(aero: AeroModel, *, mass_kg: float, density_kg_m3: float) -> float:
    """Return the pitch damping term D [-] that adds to the static margin in every manoeuvre.

    D = -(C_mq + SM C_Lq) / (2 mu) with the derivatives about the balance point, mu = 2 m / (rho S c). Moving the
    reference point by SM c changes C_mq and C_Lq so that the sum is exactly C_mq about the *neutral point*: D does not
    depend on where the model balances, and holds for every layout, a flying wing included.

    Validity: stick fixed, linear. References: manoeuvre point, e.g. Etkin and Reid, Dynamics of Flight, 1996, ch. 3 (from
    memory); the identity is derived here (docs/methods/master-equation.md).
    """
    mu = 2.0 * mass_kg / (density_kg_m3 * aero.planform.area_m2 * aero.planform.mac_m)
    return -aero.cm_q / (2.0 * mu)
