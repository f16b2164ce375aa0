"""Thrust, thrust line and torque of one motor or several, simple and with known error."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.parts import Airframe, Drive, Motor

THRUST_AT_SPEED = 0.65
"""Full-throttle thrust in flight at cruise speed over static thrust; 0.5 to 0.8, by pitch (from memory), sigma 15 %."""

TORQUE_FACTOR = 0.08
"""Shaft torque = k thrust diameter; k = C_Q / C_T of small propellers, 0.06 to 0.11 (from memory); ln-sigma 0.35."""


def motors_of(airframe: Airframe) -> tuple[Motor, ...]:
    """Return all rows of motors, each single or a pair; empty for a glider."""
    return () if airframe.motor is None else (airframe.motor, *airframe.further_motors)


def thrust_line_of(airframe: Airframe) -> Motor | None:
    """Return one motor that pulls and pitches like all of them together, on the centre line; None for a glider.

    Thrust is the sum; station, height and tilt are means weighted by thrust, which keeps the sum of moments to first order
    in the tilt. ``bolt_spacing_m`` is the first motor's. Validity: all motors run. Derived here.
    """
    motors = motors_of(airframe)
    if not motors:
        return None
    if len(motors) == 1 and motors[0].count == 1:
        return motors[0]
    # A pair off the centre line cancels in yaw while both run: only sums and means are left.
    total = sum(m.total_thrust_n for m in motors)

    def mean(values: list[float]) -> float:
        return sum(m.total_thrust_n * v for m, v in zip(motors, values, strict=True)) / total

    disk = sum(m.count * m.propeller_diameter_m**2 for m in motors)
    return replace(
        motors[0],
        x_m=mean([m.x_m for m in motors]),
        z_m=mean([m.z_m for m in motors]),
        static_thrust_n=total,
        propeller_diameter_m=min(disk**0.5, 4.0),
        tilt_down_rad=mean([m.tilt_down_rad for m in motors]),
        tilt_right_rad=mean([m.tilt_right_rad for m in motors]),
        y_m=0.0,
        counter_rotating=False,
    )


LEAST_OF_THRUST = 0.3
"""Share of the static thrust below which nothing here goes: faster than that a propeller is no longer described by one straight line."""


@dataclass(frozen=True, slots=True)
class Power:
    """All motors of a model together: their thrust ``line`` (None for a glider), static thrust [N] and torque over thrust [m]."""

    line: Motor | None
    static_n: float
    torque_arm_m: float

    def full_n(self, over_cruise: float = 1.0) -> float:
        """Return the full-throttle thrust [N] at a speed, ``over_cruise`` over that of cruise [-]; zero for a glider.

        T = T_0 (1 - (1 - k) V/V_c), k = :data:`THRUST_AT_SPEED`: a straight line from the static thrust, as propellers of one pitch
        have it up to their best speed. References: propeller charts, e.g. McCormick, Aerodynamics, Aeronautics and Flight Mechanics,
        1995, ch. 6 (from memory).
        """
        return max(1.0 - (1.0 - THRUST_AT_SPEED) * over_cruise, LEAST_OF_THRUST) * self.static_n


def power_of(airframe: Airframe) -> Power:
    """Return what the motors of a model do together. Derived here."""
    static = sum(m.total_thrust_n for m in motors_of(airframe))
    return Power(thrust_line_of(airframe), static, torque_arm_m(airframe))


def full_thrust_n(airframe: Airframe) -> float:
    """Return the full-throttle thrust [N] of all motors at cruise; zero for a glider. References: :meth:`Power.full_n`."""
    return power_of(airframe).full_n()


def torque_arm_m(airframe: Airframe) -> float:
    """Return the roll moment per unit of total thrust [m], right wing down positive.

    sum k T_i D_i s_i / sum T_i; s = -1 for a propeller turning right (clockwise from behind: its reaction rolls the model
    to the left); a counter-rotating pair cancels. References: reaction torque; factor :data:`TORQUE_FACTOR`.
    """
    motors = motors_of(airframe)
    if not motors:
        return 0.0
    moment = sum(
        0.0
        if m.counter_rotating and m.count == 2
        else (-1.0 if m.turns_right else 1.0) * m.total_thrust_n * m.propeller_diameter_m
        for m in motors
    )
    return TORQUE_FACTOR * moment / sum(m.total_thrust_n for m in motors)


def tilted_down(airframe: Airframe, by_rad: float) -> Airframe:
    """Return the airframe with the forward ends of all thrust axes tilted down by an angle. [rad, up negative]"""
    if airframe.motor is None:
        return airframe
    first, *rest = (
        replace(m, tilt_down_rad=max(-0.3, min(0.3, m.tilt_down_rad + by_rad))) for m in motors_of(airframe)
    )
    return replace(airframe, motor=first, further_motors=tuple(rest))


def tilted_right(airframe: Airframe, by_rad: float) -> Airframe:
    """Return the airframe with the forward ends of all thrust axes tilted right by an angle. [rad, left negative]"""
    if airframe.motor is None:
        return airframe
    first, *rest = (
        replace(m, tilt_right_rad=max(-0.3, min(0.3, m.tilt_right_rad + by_rad))) for m in motors_of(airframe)
    )
    return replace(airframe, motor=first, further_motors=tuple(rest))


def faces_aft(motor: Motor, *, x_cg_m: float) -> bool:
    """Return whether the propeller stands behind its mount: as entered, or by where it stands. ``x_cg_m``: balance point. [m]"""
    if motor.drive is None:
        return motor.x_m > x_cg_m
    return motor.drive is Drive.PUSHER


def on_washers(airframe: Airframe) -> bool:
    """Return whether there is a motor on a mount that washers tilt: a fan in its duct is on none."""
    return airframe.motor is not None and all(m.drive is not Drive.FAN for m in motors_of(airframe))
