"""What a servo does to a surface: real four-bar kinematics of push-rod, torque rod, pull-pull and direct drive.

Plane of the rod: x aft from the servo axis, y up (outwards of the skin). Servo angle > 0 swings the arm's pin towards the
surface. Deflection > 0 is trailing edge down (a rudder: trailing edge left). Square arm and horn stand at zero.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jinba.core.controls.four_bar import Bars, Floats, LinkageError, Motion, follow, lead
from jinba.core.declare import Metres, Radians
from jinba.core.errors import check_range


class Drive(StrEnum):
    """How the servo moves the surface."""

    ROD = "rod"
    TORQUE_ROD = "torque_rod"
    PULL_PULL = "pull_pull"
    DIRECT = "direct"


@dataclass(frozen=True, slots=True)
class Linkage:
    """Servo arm, rod or cables, and horn, as measured with the control at neutral.

    ``arm_m``, ``horn_m``: axis to pin. ``distance_m`` from the servo axis aft to the hinge line, ``rise_m`` of the hinge
    above the servo axis. ``arm_lean_rad``, ``horn_lean_rad``: from square, towards the trailing edge positive.
    ``arm_up``, ``horn_up``: the side on which the pin stands. ``thread_pitch_m`` per turn of the clevis;
    ``both_ends``: a turnbuckle with a left-hand thread at one end, two pitches a turn. ``stop_rad``: the surface touches
    its stop. ``wire_m``, ``wire_length_m``: a torque rod's diameter and length along the hinge.
    """

    drive: Drive = Drive.ROD
    arm_m: Metres = 0.010
    horn_m: Metres = 0.014
    distance_m: Metres = 0.100
    rise_m: Metres = 0.0
    arm_lean_rad: Radians = 0.0
    horn_lean_rad: Radians = 0.0
    arm_up: bool = True
    horn_up: bool = True
    thread_pitch_m: Metres = 0.0004
    both_ends: bool = False
    stop_rad: Radians = math.radians(45.0)
    wire_m: Metres = 0.002
    wire_length_m: Metres = 0.08

    def __post_init__(self) -> None:
        check_range("servo arm", self.arm_m, unit="m", low=0.002, high=0.2)
        check_range("horn", self.horn_m, unit="m", low=0.002, high=0.3)
        check_range("servo axis to hinge line", self.distance_m, unit="m", low=0.005, high=4.0)
        check_range("rise of the hinge line", self.rise_m, unit="m", low=-0.5, high=0.5)
        for name, lean in (("servo arm", self.arm_lean_rad), ("horn", self.horn_lean_rad)):
            check_range(f"lean of the {name} at neutral", lean, unit="rad", low=-1.4, high=1.4)
        check_range("clevis thread", self.thread_pitch_m, unit="m", low=0.0002, high=0.003)
        check_range("stop of the surface", self.stop_rad, unit="rad", low=math.radians(2), high=math.radians(90))
        check_range("torque rod", self.wire_m, unit="m", low=0.0005, high=0.02)
        check_range("length of the torque rod", self.wire_length_m, unit="m", low=0.005, high=2.0)

    @property
    def rod_m(self) -> float:
        """Length of the rod between its pins as the neutral position sets it. [m]

        Derived here (docs/methods/linkage.md).
        """
        return float(bars_of(self).rod)

    @property
    def metres_per_turn(self) -> float:
        """Change of rod length for one turn of the clevis, or of the turnbuckle. [m]

        Derived here (docs/methods/linkage.md).
        """
        return self.thread_pitch_m * (2.0 if self.both_ends else 1.0)


def bars_of(k: Linkage) -> Bars:
    """Return the four bars of a linkage, fitted or not."""
    return Bars(
        k.arm_m,
        k.horn_m,
        k.distance_m,
        k.rise_m,
        k.arm_lean_rad,
        k.horn_lean_rad,
        1.0 if k.arm_up else -1.0,
        1.0 if k.horn_up else -1.0,
    )


def fitted_bars(k: Linkage) -> Bars:
    """Return the four bars of a linkage. Raises: LinkageError when rod and horn lie in one line at neutral."""
    bars = bars_of(k)
    if bool(bars.dead):
        raise LinkageError(
            "At neutral the rod and the horn lie in one line (dead centre): the servo could not move the surface. "
            "Set the horn or the arm square.",
            name="linkage",
        )
    return bars


def motion(linkage: Linkage, servo_rad: Floats, *, rod_m: float | None = None) -> Motion:
    """Return how a linkage moves over servo angles (n,) [rad from neutral], with another rod length [m] if given.

    Rod: |B - A| = L with A on the arm's circle and B on the horn's, so |D| cos(phi - psi) = (L^2 - |D|^2 - h^2)/(2 h),
    D from A to the hinge, psi its direction; the branch is the one that is fitted at neutral. Rows the rod cannot reach
    are NaN, never a made-up angle. A torque rod is a rod on its upright; a direct drive moves with the servo; of two cables
    the one that is pulled decides. Validity: rigid, in one plane.
    Raises: LinkageError when it cannot be fitted at neutral.
    References: two-circle closure of the four-bar, e.g. Norton, Design of Machinery, ch. 4 (from memory), derived here
    (docs/methods/linkage.md).
    """
    servo = np.asarray(servo_rad, dtype=float)
    if linkage.drive is Drive.DIRECT:
        zero = np.zeros((2, servo.size))
        right_angle = np.full(servo.size, math.pi / 2)
        return Motion(servo, servo.copy(), np.ones_like(servo), zero, zero, right_angle, np.zeros_like(servo))
    if linkage.drive is Drive.PULL_PULL:
        return _pull_pull(linkage, servo, rod_m)
    return follow(fitted_bars(linkage), servo, rod_m=rod_m)


def square_lean_rad(linkage: Linkage) -> float:
    """Return the lean of the servo arm at neutral [rad] that sets it square to the rod: A . (B - A) = 0. Derived here.

    Raises: LinkageError when the arm is longer than the horn's pin is far away.
    """
    bars = bars_of(linkage)
    bx, by = (float(v) for v in bars.horn_pin(linkage.horn_lean_rad))
    reach = math.hypot(bx, by)
    if linkage.arm_m >= reach:
        raise LinkageError("The servo arm reaches past the horn: it cannot stand square to the rod.", name="linkage")
    return math.asin(linkage.arm_m / reach) - math.atan2(bars.arm_side * by, bx)


def servo_for(linkage: Linkage, deflection_rad: float, *, most_servo_rad: float) -> float | None:
    """Return the servo angle [rad] that brings a deflection [rad], or None when it lies beyond ``most_servo_rad``.

    The same closure solved for the arm; a place behind a dead centre does not count as reached. Derived here.
    """
    if linkage.drive is Drive.DIRECT:
        return deflection_rad if abs(deflection_rad) <= most_servo_rad else None
    mirror = 1.0
    bars = fitted_bars(linkage)
    if linkage.drive is Drive.PULL_PULL:
        rising = float(follow(bars, np.zeros(1)).slope[0]) > 0
        pulled_above = (deflection_rad > 0) != rising
        bars = fitted_bars(_side(linkage, up=pulled_above))
        mirror = 1.0 if pulled_above else -1.0
    angle = mirror * float(lead(bars, np.array([mirror * deflection_rad]))[0])
    return angle if abs(angle) <= most_servo_rad + 1e-12 else None


def turned_rad(linkage: Linkage, turns: float) -> float:
    """Return the deflection [rad] after turning the clevis, the servo at neutral; turns > 0 unscrew (a longer rod).

    Exact by the four-bar with the new rod length; near square pin * pitch / horn. A direct drive has no clevis (0), two
    cables are turned one out and one in and move alike.
    Raises: LinkageError when the rod could not be fitted with that length. Derived here (docs/methods/trim-transfer.md).
    """
    if linkage.drive is Drive.DIRECT:
        return 0.0
    fitted = _side(linkage, up=True) if linkage.drive is Drive.PULL_PULL else linkage
    m = follow(fitted_bars(fitted), np.zeros(1), rod_m=fitted.rod_m + turns * linkage.metres_per_turn)
    if not np.isfinite(m.deflection_rad[0]):
        raise LinkageError("The rod would not reach with that many turns.", name="clevis turns", value=turns)
    return float(m.deflection_rad[0])


def turns_for(linkage: Linkage, deflection_rad: float) -> float:
    """Return the turns of the clevis, unscrewed positive, after which the surface rests at a deflection, servo at neutral.

    The rod length that just spans the pins there, less the one at neutral; the way back of :func:`turned_rad`. 0 for a
    direct drive. Derived here (docs/methods/trim-transfer.md).
    """
    if linkage.drive is Drive.DIRECT:
        return 0.0
    bars = fitted_bars(_side(linkage, up=True) if linkage.drive is Drive.PULL_PULL else linkage)
    return float(bars.apart(0.0, deflection_rad) - bars.rod) / linkage.metres_per_turn


def windup_rad(linkage: Linkage, moment_nm: float) -> float:
    """Return how far a torque rod twists under a hinge moment [N m]: M l/(G J), J = pi d^4/32; else zero. [rad]

    References: torsion of a round bar; G of spring steel 79 GPa (handbook value from memory).
    """
    if linkage.drive is not Drive.TORQUE_ROD:
        return 0.0
    return moment_nm * linkage.wire_length_m / (79e9 * math.pi * linkage.wire_m**4 / 32.0)


def _pull_pull(k: Linkage, servo: Floats, rod_m: float | None) -> Motion:
    """Return the motion of a double arm and a double horn: the upper cable pulls for servo < 0, the lower for > 0.

    The lower side is the upper one mirrored (servo, deflection and rise change sign).
    """
    upper, lower = (fitted_bars(_side(k, up=up)) for up in (True, False))
    above, below = follow(upper, servo, rod_m=rod_m), follow(lower, -servo, rod_m=rod_m)
    pulls_above = servo <= 0.0

    def chosen(u: Floats, w: Floats) -> Floats:
        return np.where(pulls_above, u, w)

    deflection = chosen(above.deflection_rad, -below.deflection_rad)
    # How far apart the idle cable's pins stand, against its length: less is slack.
    slack_above = upper.rod - upper.apart(servo, deflection)
    slack_below = lower.rod - lower.apart(-servo, -deflection)
    mirror = np.array([[1.0], [-1.0]])
    return Motion(
        servo,
        deflection,
        chosen(above.slope, below.slope),
        chosen(above.arm_pin_m, below.arm_pin_m * mirror),
        chosen(above.horn_pin_m, below.horn_pin_m * mirror),
        chosen(above.transmission_rad, below.transmission_rad),
        chosen(slack_below, slack_above),
    )


def _side(k: Linkage, *, up: bool) -> Linkage:
    rise = k.rise_m if up else -k.rise_m
    return Linkage(Drive.ROD, k.arm_m, k.horn_m, k.distance_m, rise, k.arm_lean_rad, k.horn_lean_rad)
