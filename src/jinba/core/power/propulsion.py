"""Thrust and torque of a propeller at a throttle and speed, simple and with known error."""

from __future__ import annotations

from jinba.core.airframe.parts import Motor

THRUST_AT_SPEED = 0.75
"""Full-throttle thrust in flight at cruise speed over static thrust; 0.6 to 0.85 (from memory), sigma 15 %."""

TORQUE_FACTOR = 0.08
"""Shaft torque = k thrust diameter; k = C_Q / C_T of small propellers, 0.06 to 0.11 (from memory); ln-sigma 0.35."""


def full_thrust_n(motor: Motor | None) -> float:
    """Return the full-throttle thrust [N] at cruise speed; zero for a glider."""
    return 0.0 if motor is None else THRUST_AT_SPEED * motor.static_thrust_n


def torque_nm(motor: Motor | None, thrust_n: float) -> float:
    """Return the roll moment [N m] the propeller's torque puts on the model, right wing down positive.

    A propeller turning right (clockwise from behind) rolls the model to the left. References: reaction torque; factor
    :data:`TORQUE_FACTOR`.
    """
    if motor is None:
        return 0.0
    return (-1.0 if motor.turns_right else 1.0) * TORQUE_FACTOR * thrust_n * motor.propeller_diameter_m
