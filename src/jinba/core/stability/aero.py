"""The linear aerodynamic model of a model aircraft: everything later rooms need, from one lattice solution."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from jinba.core.airframe.layout import control_surface_of, lifting_surfaces, pitch_control_of, pitch_sense
from jinba.core.airframe.parts import Airframe, Fin, Surface
from jinba.core.airframe.planform import Planform, planform_of
from jinba.core.errors import SLIPS, GeometryError
from jinba.core.frames import PitchControl
from jinba.core.spoken import a_length
from jinba.core.stability.lattice import coarser, panels_for
from jinba.core.stability.loads import LatticeLoads, Load, solve_alpha, solve_loads
from jinba.core.stability.neutral_point import (
    SECTION_SLOPE_RATIO,
    TAIL_EFFICIENCY,
    NeutralPoint,
    efficiency_of,
    lift_slope_per_rad,
    neutral_point,
)
from jinba.core.stability.sections import flap_effectiveness, flap_moment, section_of, wing_cl_max
from jinba.core.stability.tip_fins import loads_with_tip_fins, with_tip_fins

REAL_FLAP_FACTOR = 0.85
"""Real plain flaps over thin-aerofoil effectiveness at small deflection, ln-sigma 0.15 (docs/methods/control-power.md)."""

OSWALD_EFFICIENCY = 0.80
"""Span efficiency of model wings, 0.7 to 0.9 (handbook range from memory)."""


@dataclass(frozen=True, slots=True)
class SurfaceLift:
    """What one surface lifts over the dynamic pressure, both halves: at no angle of attack and per rad of it [m2], before
    ``efficiency`` [-] takes its share; ``angle_rad``: its mean angle over no lift against the body."""

    base_m2: float
    alpha_m2: float
    efficiency: float
    angle_rad: float


@dataclass(frozen=True, slots=True)
class AeroModel:
    """Derivatives about the neutral point, referred to wing area, MAC and span. Angles in radians.

    ``neutral_point``; ``planform`` of the wing; ``lift_slope`` [1/rad]; ``cm_zero`` about the neutral point [-];
    ``cl_zero`` lift at zero angle of attack [-]; ``pitch_control`` V_d = moment about the neutral point per rad of pitch
    control, positive in its nose-down sense for every layout [1/rad]; ``cl_pitch_control`` its lift [1/rad];
    ``cl_q``, ``cm_q`` per q c/2V about the neutral point; ``cl_p`` per p b/2V; ``cl_aileron`` per rad (each side);
    ``cl_twist`` per rad of right-tip wash-out; ``measured_twist_rad`` the right-tip wash-out, left tip the other way, that
    rolls like the left-right difference as measured; ``cl_beta`` [1/rad]; ``cn_beta``, ``cn_rudder`` [1/rad];
    ``foreplane_limit_rad``: pitch control in the flare from which a foreplane stalls instead of lifting more, infinite without one [rad];
    ``surface_lifts`` in the order of the airframe; ``cm_square``: moment per square of the lift, of heights over the balance point, zero
    until one is known (``stability.heights``) [-]; ``cl_max`` [-]; ``cd_zero``, ``induced_factor`` of the drag polar CD = cd_zero + induced_factor CL^2.
    """

    planform: Planform
    neutral_point: NeutralPoint
    lift_slope: float
    cm_zero: float
    cl_zero: float
    pitch_control: float
    cl_pitch_control: float
    cl_q: float
    cm_q: float
    cl_p: float
    cl_aileron: float
    cl_twist: float
    measured_twist_rad: float
    cl_beta: float
    cn_beta: float
    cn_rudder: float
    cl_max: float
    cd_zero: float
    induced_factor: float
    foreplane_limit_rad: float = math.inf
    surface_lifts: tuple[SurfaceLift, ...] = ()
    cm_square: float = 0.0


@lru_cache(maxsize=256)
def aero_model(airframe: Airframe) -> AeroModel:
    """Return the linear aerodynamic model of an airframe.

    Validity: attached flow, low speed, power off. References: docs/methods/neutral-point.md and control-power.md.
    """
    zero_lift = tuple(section_of(s).zero_lift_rad for s in airframe.surfaces)
    loads = loads_with_tip_fins(
        airframe,
        solve_loads(airframe, zero_lift_rad=zero_lift, section_slope=SECTION_SLOPE_RATIO),
        zero_lift_rad=zero_lift,
        section_slope=SECTION_SLOPE_RATIO,
    )
    grid = coarser(panels_for(len(airframe.surfaces)))
    coarse = solve_alpha(with_tip_fins(airframe) or airframe, panels=grid, section_slope=SECTION_SLOPE_RATIO)
    np_ = neutral_point(airframe, loads, coarse)
    p = planform_of(airframe.wing)
    s, c, b = p.area_m2, p.mac_m, p.span_m
    base_lift, base_moment = _lift_and_moment(airframe, loads.base, np_.x_m)
    elevator_lift, elevator_moment = _lift_and_moment(airframe, loads.elevator, np_.x_m)
    # The lattice pitches about the datum; moving the centre to the neutral point adds -x_np times the alpha load.
    pitch_lift, pitch_moment = _lift_and_moment(airframe, loads.pitch, np_.x_m)
    alpha_lift, alpha_moment = _lift_and_moment(airframe, loads.alpha, np_.x_m)
    q_lift = pitch_lift - np_.x_m * alpha_lift
    q_moment = pitch_moment - np_.x_m * alpha_moment
    control, sense = control_surface_of(airframe), pitch_sense(airframe)
    # Thin-aerofoil flaps are better than real ones: gaps and the boundary layer take their share.
    tau = flap_effectiveness(control.hinge_fraction) * REAL_FLAP_FACTOR
    trailing_edge_down = -tau * elevator_moment / (s * c) + _elevator_own_moment(control, airframe)
    tau_aileron = flap_effectiveness(airframe.wing.hinge_fraction) * REAL_FLAP_FACTOR
    roll = 1.0 / (s * b)
    cn_beta, cn_rudder = _yaw_derivatives(airframe, loads, p, np_.x_m)
    cm_zero = base_moment / (s * c) + _section_moments(airframe, p)
    control_lift = sense * tau * elevator_lift / s
    cl_max = _cl_max(airframe, loads, p)
    if pitch_control_of(airframe) is PitchControl.ELEVONS:
        cl_max -= _elevon_trim_loss(cl_max, cm_zero, sense * trailing_edge_down, control_lift)
    return AeroModel(
        planform=p,
        neutral_point=np_,
        lift_slope=np_.lift_slope,
        cm_zero=cm_zero,
        cl_zero=base_lift / s,
        pitch_control=sense * trailing_edge_down,
        cl_pitch_control=control_lift,
        cl_q=q_lift / s * 2.0 / c,
        cm_q=q_moment / (s * c) * 2.0 / c,
        cl_p=roll * _roll(loads.roll_rate) * 2.0 / b,
        cl_aileron=roll * tau_aileron * _roll(loads.aileron),
        cl_twist=roll * _roll(loads.linear_twist),
        measured_twist_rad=_roll(loads.asymmetry) / _roll(loads.linear_twist),
        cl_beta=roll * _roll(loads.sideslip),
        cn_beta=cn_beta,
        cn_rudder=cn_rudder,
        cl_max=cl_max,
        cd_zero=_zero_lift_drag(airframe, p),
        # The lattice's own induced drag is not used: on so few panels it is the least certain of its numbers.
        induced_factor=1.0 / (math.pi * p.aspect_ratio * OSWALD_EFFICIENCY),
        foreplane_limit_rad=_foreplane_limit_rad(airframe, loads, p, cl_max, tau),
        surface_lifts=_surface_lifts(airframe, loads, zero_lift),
    )


def _surface_lifts(airframe: Airframe, loads: LatticeLoads, zero_lift: tuple[float, ...]) -> tuple[SurfaceLift, ...]:
    return tuple(
        SurfaceLift(base.lift_m2, alpha.lift_m2, efficiency_of(s, airframe), s.incidence_rad + mean_twist_rad(s) - zero)
        for s, base, alpha, zero in zip(airframe.surfaces, loads.base, loads.alpha, zero_lift, strict=True)
    )


def mean_twist_rad(surface: Surface) -> float:
    """Return the twist of a surface against its root, mean over its area and both halves. [rad] Derived here."""
    y = np.linspace(0.0, surface.half_span_m, 41)
    at = [s.y_m for s in surface.sections]
    chord = np.interp(y, at, [s.chord_m for s in surface.sections])
    twist = np.interp(y, at, [s.mean_twist_rad for s in surface.sections])
    return float(np.trapezoid(chord * twist, y) / np.trapezoid(chord, y))


FLARE_OVER_STALL = 1.1
"""Speed at touchdown over the stall speed: common practice, no source."""

_FLAP_GAIN = 0.25
"""What a plain flap adds to the highest lift of a section at model Reynolds numbers (handbook order, from memory)."""


def _foreplane_limit_rad(airframe: Airframe, loads: LatticeLoads, p: Planform, cl_max: float, tau: float) -> float:
    """Return how far a foreplane's flap may go down in the flare before the foreplane stalls. [rad]

    (L_max + 0.25 S_f - L_f(alpha))/(tau dL_f/d(delta)), alpha that of the model's lift at touchdown. An all-moving foreplane gains
    nothing by a flap. Derived here (docs/methods/maiden-balance.md).
    """
    surface = airframe.pitch_surface
    if surface is None or pitch_control_of(airframe) is not PitchControl.FOREPLANE:
        return math.inf
    i, own = airframe.surfaces.index(surface), planform_of(surface)
    lift = cl_max / FLARE_OVER_STALL**2 * p.area_m2
    alpha = (lift - sum(x.lift_m2 for x in loads.base)) / sum(x.lift_m2 for x in loads.alpha)
    gain = 0.0 if surface.hinge_fraction == 0.0 else _FLAP_GAIN
    highest = (wing_cl_max(section_of(surface), taper=own.taper) + gain) * own.area_m2
    now = loads.base[i].lift_m2 + alpha * loads.alpha[i].lift_m2
    return max(0.0, (highest - now) / (tau * loads.elevator[i].lift_m2))


_MOST_TAPER = 3.0
"""Tip chord over root chord of anything that flies: validity of :func:`wing_cl_max`; common practice, no source."""


_USUAL_TAPER, _USUAL_ASPECT = 0.8, 6.0
"""Tip chord over root chord, and span over chord, of most wings and tails: common practice, no source."""


def _check_taper(surface: Surface, taper: float) -> None:
    if taper <= _MOST_TAPER:
        return
    root, tip = surface.sections[0].chord_m, surface.sections[-1].chord_m
    # Either chord may have slipped: meant is what makes it most like other surfaces of its span.
    tried = [
        *((root, tip / slip, f"{a_length(tip / slip)} at the tip") for slip in SLIPS),
        *((root * slip, tip, f"{a_length(root * slip)} at the root") for slip in SLIPS),
    ]
    likely = [(_unusual(r, t, surface.half_span_m), words) for r, t, words in tried if 0.2 * r <= t <= 1.2 * r]
    meant = f" Did you mean {min(likely)[1]}?" if likely else ""
    raise GeometryError(
        f"{surface.key}: the chord is {a_length(root)} at the root and {a_length(tip)} at the tip, more than three times as long.{meant} "
        "Measure both again."
    )


def _unusual(root_m: float, tip_m: float, half_span_m: float) -> float:
    """Return how far two chords are from usual ones [-]."""
    aspect = 4.0 * half_span_m / (root_m + tip_m)
    return abs(math.log(tip_m / root_m / _USUAL_TAPER)) + abs(math.log(aspect / _USUAL_ASPECT))


def _cl_max(airframe: Airframe, loads: LatticeLoads, p: Planform) -> float:
    """Return the lift coefficient [-], on the reference wing's area, at which the first lifting surface stalls.

    alpha* = min (CL_max,i S_i - base_i)/a_i over the surfaces that carry the weight; their lift at alpha* is summed. A
    foreplane set at more incidence than the wing stalls first and decides, as it must. Sigma 10 %.
    References: critical-surface form of the critical-section method, derived here (docs/methods/stall.md).
    """
    rows = []
    for surface, alpha, base in zip(airframe.surfaces, loads.alpha, loads.base, strict=True):
        if surface in lifting_surfaces(airframe):
            own = planform_of(surface)
            _check_taper(surface, own.taper)
            highest = wing_cl_max(section_of(surface), taper=own.taper) * own.area_m2
            rows.append((highest, alpha.lift_m2, base.lift_m2))
    critical = min((highest - base) / slope for highest, slope, base in rows)
    return sum(base + critical * slope for _, slope, base in rows) / p.area_m2


_TRIM_MARGIN = 0.10
"""Static margin at which the elevons' loss of lift is taken: the forward half of what flying wings are flown with."""


def _elevon_trim_loss(cl_max: float, cm_zero: float, pitch_control: float, control_lift: float) -> float:
    # Up elevon that trims at the stall takes lift away; the tail's 0.05 in wing_cl_max is given back.
    up = max(0.0, (_TRIM_MARGIN * cl_max - cm_zero) / pitch_control)
    return min(control_lift * up, 0.5 * cl_max) - 0.05


def _lift_and_moment(airframe: Airframe, loads: tuple[Load, ...], x_ref_m: float) -> tuple[float, float]:
    lift = moment = 0.0
    for surface, load in zip(airframe.surfaces, loads, strict=True):
        factor = efficiency_of(surface, airframe)
        lift += factor * load.lift_m2
        moment += factor * (load.moment_m3 + x_ref_m * load.lift_m2)
    return lift, moment


def _roll(loads: tuple[Load, ...]) -> float:
    return sum(load.roll_m3 for load in loads)


def _elevator_own_moment(surface: Surface, airframe: Airframe) -> float:
    p = planform_of(airframe.wing)
    # A deflected flap also pitches its own surface nose-down: about 5 % of a tail's effect, the larger part of an elevon's.
    share = efficiency_of(surface, airframe) * REAL_FLAP_FACTOR * flap_moment(surface.hinge_fraction)
    return share * 2.0 * _chord_squared_integral(surface) / (p.area_m2 * p.mac_m)


def _chord_squared_integral(surface: Surface) -> float:
    """Return the integral of c^2 dy over the span of the control of one half. [m3]"""
    half = surface.half_span_m
    y = np.linspace(surface.control_inner * half, surface.control_outer * half, 41)
    chords = np.interp(y, [s.y_m for s in surface.sections], [s.chord_m for s in surface.sections])
    return float(np.trapezoid(chords**2, y))


def _section_moments(airframe: Airframe, p: Planform) -> float:
    total = 0.0
    for surface in airframe.surfaces:
        q = planform_of(surface)
        total += efficiency_of(surface, airframe) * section_of(surface).cm_zero_lift * q.area_m2 * q.mac_m
    return total / (p.area_m2 * p.mac_m)


def _yaw_derivatives(airframe: Airframe, loads: LatticeLoads, p: Planform, x_ref_m: float) -> tuple[float, float]:
    """Return (C_n,beta, C_n,rudder) of the fin and of every surface with dihedral; a V-tail's panels are its rudder."""
    cn_beta, cn_rudder = _fin_derivatives(airframe.fin, p, x_ref_m)
    scale = 1.0 / (p.area_m2 * p.span_m)
    cn_beta += scale * sum(load.yaw_m3 + x_ref_m * load.side_m2 for load in loads.sideslip)
    if pitch_control_of(airframe) in (PitchControl.V_TAIL, PitchControl.INVERTED_V_TAIL):
        tau = flap_effectiveness(control_surface_of(airframe).hinge_fraction) * REAL_FLAP_FACTOR
        cn_rudder -= abs(tau * scale * sum(load.yaw_m3 + x_ref_m * load.side_m2 for load in loads.rudder))
    return cn_beta, cn_rudder


def _fin_derivatives(fin: Fin | None, p: Planform, x_ref_m: float) -> tuple[float, float]:
    if fin is None:
        return 0.0, 0.0
    # A body below the fin works as an end plate: the effective aspect ratio is about half as much again (from memory).
    aspect_ratio = 1.55 * fin.count * fin.height_m**2 / fin.area_m2
    slope = lift_slope_per_rad(aspect_ratio, section_ratio=SECTION_SLOPE_RATIO)
    # The quarter point of the fin's mean chord, where its side force acts.
    arm = fin.x_m + 0.25 * 0.5 * (fin.root_chord_m + fin.tip_chord_m) + 0.5 * fin.sweep_offset_m - x_ref_m
    volume = slope * TAIL_EFFICIENCY * fin.area_m2 * arm / (p.area_m2 * p.span_m)
    tau = flap_effectiveness(fin.hinge_fraction) * REAL_FLAP_FACTOR
    # Body and propeller take away about a fifth of the fin's weathercock effect (handbook order, from memory).
    return 0.8 * volume, -tau * volume


def _zero_lift_drag(airframe: Airframe, p: Planform) -> float:
    # Friction of surfaces and body on wetted area, cf 0.009 at Re 1e5 to 3e5 (from memory), plus 0.012 for gear and gaps.
    surfaces = sum(planform_of(s).area_m2 for s in airframe.surfaces)
    fin = airframe.fin.area_m2 if airframe.fin is not None else 0.0
    bodies = (airframe.body, *airframe.nacelles)
    skin = sum(b.count * b.length_m * 0.5 * (b.width_m + b.height_m) for b in bodies)
    wetted = 2.05 * (surfaces + fin) + 2.6 * skin
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
