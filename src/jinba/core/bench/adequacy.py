"""Is the airframe big enough where it must be: tail and fin volumes, dihedral against the spiral, thrust, speeds, field."""

from __future__ import annotations

import math
from dataclasses import replace

from jinba.core.airframe.layout import lifting_surfaces, pitch_control_of
from jinba.core.airframe.parts import Airframe, Role
from jinba.core.airframe.planform import planform_of
from jinba.core.bench.checks import Adequacy, in_range
from jinba.core.bench.ground import one_motor_out, rudder, wheels
from jinba.core.bench.maiden import forward_margin
from jinba.core.configuration import ModelClass
from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.frames import Axis, control_name
from jinba.core.observe.situation import Design
from jinba.core.power.propulsion import THRUST_AT_SPEED, full_thrust_n
from jinba.core.spoken import a_distance, a_length, a_speed, article
from jinba.core.stability.aero import aero_model

_TAIL_VOLUME = (0.30, 0.90)
_FIN_VOLUME = (0.015, 0.07)
_THRUST: dict[ModelClass, float] = {
    ModelClass.TRAINER: 0.5,
    ModelClass.CAMERA_SHIP: 0.4,
    ModelClass.SPORT: 0.6,
    ModelClass.AEROBATIC: 0.9,
    ModelClass.GLIDER: 0.3,
}
"""Least static thrust over weight of a class: common practice, no source."""

_CRUISE_OVER_WIND = 1.5
_LANDING_OVER_STALL = 1.3
_GRASS_FRICTION = 0.12
"""Rolling friction of short grass, 0.08 to 0.2 (handbook range from memory)."""

_DOUBLING_S = 3.0
_SLOWEST_S = 30.0
"""A spiral that doubles in less than three seconds keeps a pilot busy; slower than thirty is none. Common practice."""

_ONE_DEGREE = math.radians(1.0)


def adequacy(design: Design) -> tuple[Adequacy, ...]:
    """Return the checks that apply to a design, in the order in which they matter.

    Tail and fin volumes V = S l/(S_w c), S l/(S_w b) in the sane ranges of model and light aircraft (0.3 to 0.9, 0.015 to
    0.07, handbook ranges from memory); the spiral from C_l,beta C_n,r against C_n,beta C_l,r; thrust, speeds and field by
    common practice. References: volumes and spiral, Nelson, 1998, ch. 2 and 5 (from memory); docs/methods/adequacy.md.
    """
    checks = [
        _tail_volume(design),
        _fin_volume(design),
        _flare(design),
        rudder(design),
        _spiral(design),
        _thrust(design),
        _wind(design),
        _field(design),
        wheels(design),
        one_motor_out(design),
    ]
    return tuple(c for c in checks if c is not None)


def _tail_volume(design: Design) -> Adequacy | None:
    airframe, p = design.configuration.airframe, design.aero.planform
    tail = airframe.pitch_surface
    if tail is None or tail.role is Role.CANARD or tail in lifting_surfaces(airframe):
        return None
    q = planform_of(tail)
    volume = q.area_m2 * (q.station_at(0.25) - p.station_at(0.25)) / (p.area_m2 * p.mac_m)
    grown = max(_TAIL_VOLUME[0] / max(volume, 1e-6) - 1.0, 0.0)
    return in_range(
        "tail_volume",
        "Tail volume",
        volume,
        "",
        _TAIL_VOLUME,
        (
            f"Small: the balance must lie far forward. {100 * grown:.0f} % more tail area, or that much more arm, would do.",
            "In the usual range.",
            "Large: check the tail's station and chord; if they are right, the balance may lie further aft.",
        ),
    )


def fin_volume(airframe: Airframe, *, x_cg_m: float) -> float:
    """Return the volume of the fins, or of a V-tail's side view, about the balance point: S_v l_v/(S b). [-]

    References: the textbook tail volume, e.g. Etkin and Reid, 1996 (from memory).
    """
    p = planform_of(airframe.wing)
    total = 0.0
    fin = airframe.fin
    if fin is not None:
        centre = fin.x_m + 0.5 * fin.sweep_offset_m + 0.125 * (fin.root_chord_m + fin.tip_chord_m)
        total += fin.area_m2 * (centre - x_cg_m)
    tail = airframe.pitch_surface
    if tail is not None and fin is None:
        q = planform_of(tail)
        rise = abs(tail.sections[-1].z_offset_m - tail.sections[0].z_offset_m)
        total += q.area_m2 * rise / tail.half_span_m * (q.station_at(0.25) - x_cg_m)
    return total / (p.area_m2 * p.span_m)


def _fin_volume(design: Design) -> Adequacy:
    volume = fin_volume(design.configuration.airframe, x_cg_m=design.balance.x_m)
    grown = max(_FIN_VOLUME[0] / max(volume, 1e-6) - 1.0, 0.0)
    more = f"{100 * grown:.0f} % more fin area" if volume > 0.002 else "A fin"
    return in_range(
        "fin_volume",
        "Fin volume",
        volume,
        "",
        _FIN_VOLUME,
        (
            f"Small: it will hunt in yaw and follow its rudder badly. {more} would do.",
            "In the usual range.",
            "Large: it weathercocks hard and may tighten its turns; more dihedral balances a large fin.",
        ),
    )


def _spiral(design: Design) -> Adequacy | None:
    """Spiral root lambda = (g/V)(C_l,beta C_n,r - C_l,r C_n,beta)/(C_l,p C_n,beta); > 0 doubles a bank in ln 2/lambda."""
    a, p = design.aero, design.aero.planform
    if a.cn_beta <= 0:
        return None
    lift = cruise_lift(design)
    arm = max(fin_arm_m(design), 0.05 * p.span_m)
    yaw_damping = -2.0 * a.cn_beta * arm / p.span_m - 0.02 * lift**2
    roll_due_to_yaw = lift / 4.0
    moment = a.cl_beta * yaw_damping - roll_due_to_yaw * a.cn_beta
    root = STANDARD_GRAVITY_MPS2 / design.cruise_speed_mps * moment / (a.cl_p * a.cn_beta)
    label = "Seconds in which a turn left alone doubles"
    if root <= math.log(2.0) / _SLOWEST_S:
        words = "Left alone in a gentle turn it stays as it is, or comes out by itself."
        return Adequacy("spiral", label, _SLOWEST_S, "s", _DOUBLING_S, None, True, words)
    doubling = math.log(2.0) / root
    extra = _dihedral_for(design, needed=roll_due_to_yaw * a.cn_beta / yaw_damping)
    words = f"Left alone in a turn it tightens, doubling its bank in {doubling:.0f} s: keep a hand on the stick in turns. {extra}"
    return Adequacy("spiral", label, doubling, "s", _DOUBLING_S, None, doubling >= _DOUBLING_S, words)


def cruise_lift(design: Design) -> float:
    """Return the lift coefficient at cruise. [-] Derived here (docs/methods/adequacy.md)."""
    weight = design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    q = 0.5 * design.configuration.density_kg_m3 * design.cruise_speed_mps**2
    return weight / (q * design.aero.planform.area_m2)


def fin_arm_m(design: Design) -> float:
    """Return the distance from the balance point back to the fin, or to the tail of a model without one. [m]

    Derived here (docs/methods/adequacy.md).
    """
    airframe = design.configuration.airframe
    if airframe.fin is not None:
        fin = airframe.fin
        return fin.x_m + 0.5 * fin.sweep_offset_m + 0.125 * (fin.root_chord_m + fin.tip_chord_m) - design.balance.x_m
    tail = airframe.pitch_surface
    return 0.0 if tail is None else planform_of(tail).station_at(0.25) - design.balance.x_m


def _dihedral_for(design: Design, *, needed: float) -> str:
    """Return how much dihedral would bring C_l,beta to ``needed``, from the lattice with a degree more."""
    airframe = design.configuration.airframe
    wing = airframe.wing
    raised = tuple(replace(s, z_offset_m=s.z_offset_m + s.y_m * math.tan(_ONE_DEGREE)) for s in wing.sections)
    surfaces = tuple(replace(s, sections=raised) if s is wing else s for s in airframe.surfaces)
    gained = aero_model(replace(airframe, surfaces=surfaces)).cl_beta - design.aero.cl_beta
    if gained >= -1e-4:
        return "Less fin area would help."
    more = (needed - design.aero.cl_beta) / gained
    return (
        f"About {math.ceil(more):.0f} degrees more dihedral would level it; half of that is usually pleasant."
        if more < 12
        else "Less fin area would help more than dihedral."
    )


def _thrust(design: Design) -> Adequacy | None:
    airframe = design.configuration.airframe
    if airframe.motor is None:
        return None
    weight = design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    # The classes' least values are static thrust, as it is read on a scale.
    ratio = full_thrust_n(airframe) / THRUST_AT_SPEED / weight
    least = _THRUST[design.configuration.model_class]
    words = "Enough to climb out and to go round."
    if not holds_height(design):
        words = (
            f"It cannot hold its height: level flight takes a pull of {least_drag_over_lift(design):.2f} of the weight, it has "
            f"{full_thrust_n(airframe) / weight:.2f} in flight. More propeller or motor, or lighter."
        )
    elif ratio < least - 0.01:
        words = f"Little for {article(design.configuration.rules.words)}: a shallow climb, an early go-round, into wind only."
    passes = ratio >= least - 0.01 and holds_height(design)
    return Adequacy("thrust_to_weight", "Static thrust over weight", ratio, "", least, None, passes, words)


def least_drag_over_lift(design: Design) -> float:
    """Return the least drag over lift of a design: 2 sqrt(k CD0), level flight at its best. [-]

    References: drag polar, e.g. Anderson, Introduction to Flight, ch. 6 (from memory).
    """
    return 2.0 * math.sqrt(design.aero.cd_zero * design.aero.induced_factor)


def holds_height(design: Design) -> bool:
    """Return whether the motors can hold a design level at all; a glider need not. Derived here."""
    airframe = design.configuration.airframe
    weight = design.balance.mass.mass_kg * STANDARD_GRAVITY_MPS2
    return airframe.motor is None or full_thrust_n(airframe) > least_drag_over_lift(design) * weight


def _flare(design: Design) -> Adequacy:
    """The pitch control that holds the flare at this balance against what may be used of its throw: as maiden_point."""
    margin, most = design.static_margin, forward_margin(design)
    control = control_name(Axis.PITCH, pitch_control_of(design.configuration.airframe))
    ahead = (margin - most) * design.aero.planform.mac_m
    words = f"Balanced there, the {control} can hold the flare."
    if ahead > 0.0:
        words = (
            f"It balances {a_length(ahead)} ahead of the foremost point from which the {control} can surely flare: it runs out of it "
            f"on landing. Balance it further aft, or give the {control} more throw."
        )
    label = "Margin from which it can still be flared"
    return Adequacy("flare", label, most, "", None, None, ahead <= 0.0, words)


def _wind(design: Design) -> Adequacy:
    limit = design.configuration.limits.wind_mps
    ratio = design.cruise_speed_mps / limit
    words = (
        "It comes home against the wind you allow."
        if ratio >= _CRUISE_OVER_WIND
        else f"It hardly makes way against {a_speed(limit)}: lower the wind limit to {a_speed(design.cruise_speed_mps / _CRUISE_OVER_WIND)}."
    )
    return Adequacy(
        "cruise_over_wind",
        "Cruise over wind limit",
        ratio,
        "",
        _CRUISE_OVER_WIND,
        None,
        ratio >= _CRUISE_OVER_WIND,
        words,
    )


def _field(design: Design) -> Adequacy:
    speed = _LANDING_OVER_STALL * design.stall_speed_mps
    touchdown = 1.1 * design.stall_speed_mps
    roll = touchdown**2 / (2.0 * _GRASS_FRICTION * STANDARD_GRAVITY_MPS2)
    words = f"Approach at {a_speed(speed)}; about {a_distance(roll)} to roll out on short grass without wind or brakes, as much again to come in."
    return Adequacy("landing_roll", "Landing roll", roll, "m", None, None, True, words)
