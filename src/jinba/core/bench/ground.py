"""How it stands and steers on the ground and with one motor out: wheels against the balance point, rudder against drift."""

from __future__ import annotations

import math

from jinba.core.airframe.parts import Gear
from jinba.core.bench.checks import Adequacy, in_range
from jinba.core.observe.situation import Design
from jinba.core.power.propulsion import THRUST_AT_SPEED, motors_of
from jinba.core.spoken import a_speed

_TAIL_WHEEL_DEG = (12.0, 25.0)
_NOSE_WHEEL_DEG = (5.0, 20.0)
"""Angle at the balance point between the vertical and the main wheels' contact: common practice, no source."""

_LEAST_SIDESLIP_RAD = math.radians(8.0)
"""Sideslip full rudder should hold, to line up across the wind and to pick up a wing: common practice, no source."""

_ONE_OUT_OVER_STALL = 1.3


def wheels(design: Design) -> Adequacy | None:
    """Return whether the main wheels stand where the model neither noses over nor refuses to rotate; None without gear."""
    gear = design.configuration.airframe.gear
    if gear is None:
        return None
    height = max(design.balance.mass.z_m - gear.ground_z_m, 0.005)
    if gear.has_nose_wheel:
        angle = math.degrees(math.atan2(gear.main_x_m - design.balance.x_m, height))
        words = (
            "The main wheels stand too close behind the balance point: it sits back on its tail. Balance further forward or move them aft.",
            f"Stands well: {100 * _nose_load(gear, design.balance.x_m):.0f} % of the mass on the nose wheel.",
            f"The main wheels stand far behind the balance point ({100 * _nose_load(gear, design.balance.x_m):.0f} % of the mass on the nose wheel): a late take-off.",
        )
        return in_range("wheels", "Main wheels behind the balance point", angle, "deg", _NOSE_WHEEL_DEG, words)
    angle = math.degrees(math.atan2(design.balance.x_m - gear.main_x_m, height))
    words = (
        "The main wheels stand too close under the balance point: it noses over on grass. Bend them forward.",
        "Stands well ahead of the balance point: holds its tail down on grass.",
        "The main wheels stand far ahead of the balance point: it swings on the ground and bounces.",
    )
    return in_range("wheels", "Main wheels ahead of the balance point", angle, "deg", _TAIL_WHEEL_DEG, words)


def _nose_load(gear: Gear, x_cg_m: float) -> float:
    return (gear.main_x_m - x_cg_m) / (gear.main_x_m - gear.third_x_m)


def rudder(design: Design) -> Adequacy | None:
    """Return whether full rudder holds a useful sideslip, and how much more of it would; None without one.

    beta = C_n,dr dr / C_n,beta, steady and level. Derived here (docs/methods/adequacy.md).
    """
    a, throw = design.aero, design.rudder_throw_rad
    if a.cn_rudder >= -1e-6 or a.cn_beta <= 0:
        return None
    beta = -a.cn_rudder * throw / a.cn_beta
    more = _LEAST_SIDESLIP_RAD / beta - 1.0
    words = (
        f"Weak rudder: it holds {math.degrees(beta):.0f} degrees of sideslip. {100 * more:.0f} % more throw or rudder chord would do.",
        f"Full rudder holds about {math.degrees(beta):.0f} degrees of sideslip.",
        "",
    )
    return in_range(
        "rudder", "Sideslip at full rudder", math.degrees(beta), "deg", (math.degrees(_LEAST_SIDESLIP_RAD), 90.0), words
    )


def one_motor_out(design: Design) -> Adequacy | None:
    """Return whether the rudder holds the nose straight with one outboard motor stopped at 1.3 stall speed; None for one motor.

    C_n = T y / (q S b) against C_n,dr dr. Derived here; the dead propeller's drag is left out.
    """
    outboard = max(
        (m for m in motors_of(design.configuration.airframe) if m.count == 2), key=lambda m: m.y_m, default=None
    )
    a, p = design.aero, design.aero.planform
    if outboard is None or a.cn_rudder >= -1e-6:
        return None
    speed = _ONE_OUT_OVER_STALL * design.stall_speed_mps
    q = 0.5 * design.configuration.density_kg_m3 * speed * speed
    yaw = THRUST_AT_SPEED * outboard.static_thrust_n * outboard.y_m / (q * p.area_m2 * p.span_m)
    share = yaw / (-a.cn_rudder * design.rudder_throw_rad)
    slowest = speed * math.sqrt(share)
    words = (
        "",
        f"One motor out at full power: {100 * share:.0f} % of the rudder holds it straight at {a_speed(speed)}.",
        f"One motor out at full power cannot be held below {a_speed(slowest)}: throttle back at once, then land straight ahead.",
    )
    return in_range("one_motor_out", "Rudder used, one motor out", share, "", (0.0, 0.8), words)
