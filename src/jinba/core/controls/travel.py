"""What a fitting does: travel each way, differential, resolution, binding, torque left, and the holes that serve best."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.controls.fitting import Fitting, surface_words, up_words
from jinba.core.controls.four_bar import Motion
from jinba.core.controls.hinge_moment import hinge_moment_nm
from jinba.core.controls.linkage import Drive, motion, windup_rad
from jinba.core.controls.pulses import HALF_RANGE_US
from jinba.core.errors import check_range
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length, a_speed

SAMPLES = 41
_POOR_TRANSMISSION_RAD = math.radians(35.0)
"""Below this angle between rod and horn the linkage is close to dead centre: common practice, no source."""

_OFF_SQUARE_RAD = math.radians(6.0)
_TORQUE_SHARE = 0.5
"""Share of a servo's stall torque that may be asked of it for long: common practice, no source."""

_DIFFERENT_TRAVEL = 1.08


@dataclass(frozen=True, slots=True)
class Pose:
    """One position: servo angle and deflection [rad], ``words`` where the trailing edge stands; pins of arm and horn
    from the servo axis, x aft and y up. [m]"""

    servo_rad: float
    deflection_rad: float
    words: str
    arm_x_m: float
    arm_y_m: float
    horn_x_m: float
    horn_y_m: float


@dataclass(frozen=True, slots=True)
class Travel:
    """What a fitting does at its end points.

    ``up_rad``, ``down_rad`` largest deflections, both positive; ``up_m``, ``down_m`` straight at the trailing edge;
    ``differential`` up over down; ``rad_per_us``, ``m_per_us``, ``m_per_click`` at neutral; ``smallest_m`` step the dead band leaves;
    ``advantage`` hinge torque over servo torque at neutral; ``arm_to_rod_rad`` at neutral; ``moment_nm`` of the air at full
    throw at ``speed_mps``; ``torque_share`` of the servo's stall torque it asks for; ``windup_rad`` of a torque rod.
    """

    poses: tuple[Pose, ...]
    rod_m: float
    up_rad: float
    down_rad: float
    up_m: float
    down_m: float
    differential: float
    rad_per_us: float
    m_per_us: float
    m_per_click: float
    smallest_m: float
    advantage: float
    arm_to_rod_rad: float
    moment_nm: float
    speed_mps: float
    torque_share: float
    windup_rad: float
    findings: tuple[Said, ...]


def ruler_m(chord_m: float, angle_rad: float) -> float:
    """Return the straight distance the trailing edge moves, 2 c sin(d/2), as a ruler reads it. [m]

    Derived here (docs/methods/linkage.md).
    """
    return 2.0 * chord_m * math.sin(abs(angle_rad) / 2.0)


def vertical_m(chord_m: float, angle_rad: float) -> float:
    """Return the height the trailing edge moves square to the fair surface, c sin(d), as a gauge reads it. [m]

    Derived here (docs/methods/linkage.md).
    """
    return chord_m * math.sin(abs(angle_rad))


def angle_of_ruler(chord_m: float, moved_m: float) -> float:
    """Return the deflection [rad] for a straight distance at the trailing edge: 2 asin(t/2c).

    Raises: OutOfRangeError beyond twice the chord. Derived here (docs/methods/linkage.md).
    """
    check_range("throw at the trailing edge", abs(moved_m), unit="m", low=0.0, high=2.0 * chord_m)
    return 2.0 * math.asin(moved_m / (2.0 * chord_m))


def travel(
    fitting: Fitting, *, speed_mps: float, density_kg_m3: float, section_chord_m: float, click_us: float = 4.0
) -> Travel:
    """Return what a fitting does, and what is wrong with it.

    ``speed_mps``: of the fastest dive; ``section_chord_m``: chord of the whole section at the control, for the hinge
    moment; ``click_us``: pulse of one trim click. Raises: LinkageError at neutral. References: docs/methods/linkage.md, hinge-moment.md.
    """
    k, servo = fitting.linkage, fitting.servo
    full = servo.rad_per_us * HALF_RANGE_US
    most = full * max(fitting.end_point_up, fitting.end_point_down, 0.05)
    ends_rad = [s * full * end for s in (-1.0, 1.0) for end in (fitting.end_point_down, fitting.end_point_up)]
    m = motion(k, np.concatenate([np.linspace(-most, most, SAMPLES), ends_rad]))
    slope = float(m.slope[SAMPLES // 2])
    ends, limits = _ends(fitting, m, rises=slope > 0)
    down, up = ends[0], -ends[1]
    gain = abs(slope) * servo.rad_per_us
    moment = full_throw_moment_nm(fitting, max(up, down), speed_mps, density_kg_m3, section_chord_m)
    share = moment * _steepest(m, up, down) / servo.torque_nm
    twist = windup_rad(k, min(moment, servo.torque_nm / max(abs(slope), 1e-6)))
    square = 0.5 * math.pi if k.drive is Drive.DIRECT else _arm_to_rod(m)
    findings = (*limits, *_findings(fitting, m, up, down, square, share, twist, speed_mps))
    return Travel(
        poses=_poses(fitting, m),
        rod_m=0.0 if k.drive is Drive.DIRECT else k.rod_m,
        up_rad=up,
        down_rad=down,
        up_m=ruler_m(fitting.chord_m, up),
        down_m=ruler_m(fitting.chord_m, down),
        differential=up / down if down > 1e-9 else 0.0,
        rad_per_us=gain,
        m_per_us=fitting.chord_m * gain,
        m_per_click=fitting.chord_m * gain * click_us,
        smallest_m=fitting.chord_m * gain * servo.dead_band_us,
        advantage=1.0 / abs(slope) if abs(slope) > 1e-9 else 0.0,
        arm_to_rod_rad=square,
        moment_nm=moment,
        speed_mps=speed_mps,
        torque_share=share,
        windup_rad=twist,
        findings=findings,
    )


def full_throw_moment_nm(
    fitting: Fitting, deflection_rad: float, speed_mps: float, density_kg_m3: float, section_chord_m: float
) -> float:
    """Return the hinge moment at a deflection [N m]: speed [m/s], air density [kg/m3], chord of the whole section [m].

    Derived here (docs/methods/hinge-moment.md).
    """
    check_range("fastest dive", speed_mps, unit="m/s", low=0.0, high=250.0)
    check_range("air density", density_kg_m3, unit="kg/m3", low=0.1, high=3.0)
    check_range("chord of the whole section", section_chord_m, unit="m", low=0.003, high=12.0)
    return hinge_moment_nm(
        dynamic_pressure_pa=0.5 * density_kg_m3 * speed_mps**2,
        span_m=fitting.span_m,
        chord_m=fitting.chord_m,
        flap_ratio=min(0.98, max(0.02, fitting.chord_m / section_chord_m)),
        deflection_rad=deflection_rad,
    )


def _poses(fitting: Fitting, m: Motion) -> tuple[Pose, ...]:
    """Return the positions the rod can reach, in the order of the servo's rotation."""
    rows = zip(
        m.servo_rad[:SAMPLES].tolist(),
        m.deflection_rad[:SAMPLES].tolist(),
        m.arm_pin_m[:, :SAMPLES].T.tolist(),
        m.horn_pin_m[:, :SAMPLES].T.tolist(),
        strict=True,
    )
    return tuple(
        Pose(servo, angle, _pose_words(fitting, angle), *arm, *horn)
        for servo, angle, arm, horn in rows
        if math.isfinite(angle)
    )


def _pose_words(fitting: Fitting, angle: float) -> str:
    mm = 1000.0 * ruler_m(fitting.chord_m, angle)
    if mm < 0.05:
        return surface_words(fitting.role, 0.0)
    return f"{surface_words(fitting.role, angle)} {a_length(mm / 1000, 1)}, {abs(math.degrees(angle)):.1f}°"


def _ends(fitting: Fitting, m: Motion, *, rises: bool) -> tuple[tuple[float, float], list[Said]]:
    """Return the largest deflections (down, up as a negative angle) within end points, reach and stops, with findings."""
    servo = fitting.servo
    findings: list[Said] = []
    ends: list[float] = []
    for sign, end, word in (
        (+1, fitting.end_point_down, up_words(fitting.role)[0]),
        (-1, fitting.end_point_up, up_words(fitting.role)[1]),
    ):
        most = servo.rad_per_us * HALF_RANGE_US * end
        way = sign if rises else -sign
        inside = (m.servo_rad * way >= -1e-9) & (m.servo_rad * way <= most + 1e-9)
        angles = m.deflection_rad[inside]
        jammed = bool(np.isnan(angles).any())
        turned = _turns_back(m, inside)
        reached = sign * float(np.nanmax(sign * angles))
        if jammed:
            findings.append(
                finding(
                    "binds",
                    f"Going {word} the rod cannot reach: it binds at {math.degrees(abs(reached)):.0f}° of surface and "
                    "stalls the servo. Shorten the servo arm, lengthen the horn, or lower that end point.",
                    stops=True,
                )
            )
        elif turned:
            findings.append(
                finding(
                    "dead_centre",
                    f"Going {word} the linkage passes dead centre at {math.degrees(abs(reached)):.0f}°: beyond it the "
                    "surface comes back. Lower that end point or change the holes.",
                    stops=True,
                )
            )
        if abs(reached) > fitting.linkage.stop_rad + 1e-9:
            stop = fitting.linkage.stop_rad
            findings.append(
                finding(
                    "over_travel",
                    f"Going {word} the servo asks for {math.degrees(abs(reached)):.0f}° but the surface stops at "
                    f"{math.degrees(stop):.0f}°: it would stall there. Lower that end point.",
                    stops=True,
                )
            )
            reached = sign * stop
        ends.append(max(0.0, sign * reached) * sign)
    return (ends[0], ends[1]), findings


def _turns_back(m: Motion, inside: NDArray[np.bool_]) -> bool:
    slopes = m.slope[inside]
    slopes = slopes[np.isfinite(slopes)]
    return bool(slopes.size) and float(slopes.max()) > 0 > float(slopes.min())


def _steepest(m: Motion, up: float, down: float) -> float:
    used = np.isfinite(m.slope) & (m.deflection_rad <= down + 1e-9) & (m.deflection_rad >= -up - 1e-9)
    return float(np.abs(m.slope[used]).max()) if used.any() else 1.0


def _arm_to_rod(m: Motion) -> float:
    middle = int(np.argmin(np.abs(m.servo_rad)))
    arm, rod = m.arm_pin_m[:, middle], m.horn_pin_m[:, middle] - m.arm_pin_m[:, middle]
    cosine = float(np.dot(arm, rod) / (np.hypot(*arm) * np.hypot(*rod)))
    return math.acos(max(-1.0, min(1.0, cosine)))


def _findings(
    f: Fitting, m: Motion, up: float, down: float, square: float, share: float, twist: float, speed: float
) -> list[Said]:
    found: list[Said] = []
    off = square - 0.5 * math.pi
    if abs(off) > _OFF_SQUARE_RAD:
        found.append(
            finding(
                "not_square",
                f"At neutral the servo arm stands {math.degrees(abs(off)):.0f}° off square to the rod: unequal travel.",
            )
        )
    used = np.isfinite(m.deflection_rad) & (m.deflection_rad <= down + 1e-9) & (m.deflection_rad >= -up - 1e-9)
    worst = float(m.transmission_rad[used].min()) if used.any() else 0.0
    if worst < _POOR_TRANSMISSION_RAD:
        found.append(
            finding(
                "poor_angle",
                f"At full throw rod and horn meet at {math.degrees(worst):.0f}°: close to dead centre, slop and load grow.",
                stops=worst < math.radians(15),
            )
        )
    greater, smaller = max(up, down), max(min(up, down), 1e-6)
    if greater / smaller > _DIFFERENT_TRAVEL:
        ways = up_words(f.role)
        more, less = (ways[1], ways[0]) if up > down else (ways[0], ways[1])
        found.append(finding("differential", f"It goes {greater / smaller:.2f} times as far {more} as {less}."))
    if share > _TORQUE_SHARE:
        found.append(
            finding(
                "weak_servo",
                f"At {a_speed(speed)} full throw asks for {100 * share:.0f} % of the servo's stall torque: it blows back or stalls. "
                "A stronger servo, a shorter arm with a longer horn, or no such speed.",
                stops=share > 1.0,
            )
        )
    if twist > math.radians(1.0):
        found.append(finding("wind_up", f"The torque rod winds up by {math.degrees(twist):.1f}° at {a_speed(speed)}."))
    stretched = -float(np.nanmin(m.slack_m)) if np.isfinite(m.slack_m).any() else 0.0
    if stretched > 0.0003:
        found.append(
            finding(
                "cables_tight",
                f"Both cables pull at once by {a_length(stretched, 1)}: set arm and horn to equal lengths, pins on the hinge line.",
                stops=stretched > 0.001,
            )
        )
    return found
