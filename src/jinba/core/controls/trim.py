"""Trim of every surface out of the radio: clevis turns, sub-trim or a learned midpoint, exact by the linkage, both ways."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.controls.fitting import Command, Fitting, sense_of, surface_words
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.linkage import Drive, motion, servo_for, turned_rad
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.travel import ruler_m
from jinba.core.frames import Axis

MOST_HALF_TURNS = 40


@dataclass(frozen=True, slots=True)
class SurfaceTrim:
    """What trim does to one surface now, and the three ways to take it out of the radio.

    ``rest_rad``: held by trim and sub-trim, trailing edge down (rudder: left) positive; ``rest_m`` straight at the trailing
    edge; ``words`` of that part; ``stands``: where the surface stands in all, off fair, its mechanical part included. ``half_turns`` of the clevis, > 0 unscrews (longer rod), with ``turned_rad`` what they do
    and ``left_rad``, ``left_us`` what remains for sub-trim. ``sub_trim_us``: all of it in sub-trim, or the shift of a learned
    midpoint, whose pulse is ``midpoint_us`` at a channel that is not reversed.
    ``clicks_per_turn``: what one turn of the clevis is worth, for one task of the surface; 0 without a clevis.
    """

    role: str
    name: str
    rest_rad: float
    rest_m: float
    words: str
    stands: str
    half_turns: int
    turned_rad: float
    left_rad: float
    left_us: float
    sub_trim_us: float
    midpoint_us: float
    clicks_per_turn: float
    clevis_words: str


def surface_rest_rad(fitting: Fitting, offsets: dict[Axis, float], *, inverted_v: bool = False) -> float:
    """Return the deflection [rad] that axis offsets [rad, signs of ``core.frames``] hold at a surface: the sum of its tasks."""
    return sum(
        sense_of(fitting.role, COMMAND_OF[axis], inverted_v=inverted_v) * value for axis, value in offsets.items()
    )


def surface_trim(
    fitting: Fitting, rest_rad: float, *, click_us: float = 4.0, mechanical_rad: float = 0.0
) -> SurfaceTrim:
    """Return the ways to set a resting deflection [rad] mechanically or in the radio.

    Half turns by the four-bar with the new rod length, the remainder as pulses over the slope at neutral.
    Raises: LinkageError. References: docs/methods/trim-transfer.md (derived here).
    """
    half = _half_turns(fitting, rest_rad)
    turned = turned_rad(fitting.linkage, 0.5 * half)
    left = rest_rad - turned
    shift = pulses_for(fitting, rest_rad)
    return SurfaceTrim(
        role=fitting.role.value,
        name=fitting.name,
        rest_rad=rest_rad,
        rest_m=ruler_m(fitting.chord_m, rest_rad),
        words=rest_words(fitting, rest_rad),
        stands=rest_words(fitting, mechanical_rad + rest_rad),
        half_turns=half,
        turned_rad=turned,
        left_rad=left,
        left_us=pulses_for(fitting, left),
        sub_trim_us=shift,
        midpoint_us=NEUTRAL_US + shift,
        clicks_per_turn=_clicks_per_turn(fitting, click_us),
        clevis_words=_clevis_words(fitting, half, rest_rad),
    )


def _clicks_per_turn(fitting: Fitting, click_us: float) -> float:
    slope = abs(float(motion(fitting.linkage, np.zeros(1)).slope[0]))
    per_click = slope * fitting.servo.rad_per_us * click_us
    return abs(turned_rad(fitting.linkage, 1.0)) / per_click if per_click > 1e-9 else 0.0


def _half_turns(fitting: Fitting, rest_rad: float) -> int:
    if fitting.linkage.drive is Drive.DIRECT or rest_rad == 0.0:
        return 0
    per_half = turned_rad(fitting.linkage, 0.5)
    guess = round(rest_rad / per_half)
    near = [n for n in (guess - 1, guess, guess + 1) if abs(n) <= MOST_HALF_TURNS]
    if not near:
        raise LinkageError(
            "That is more than twenty turns of the clevis: the rod has the wrong length, or the surface is warped.",
            name="trim",
        )
    return min(near, key=lambda n: abs(turned_rad(fitting.linkage, 0.5 * n) - rest_rad))


def pulses_for(fitting: Fitting, deflection_rad: float) -> float:
    """Return the microseconds of pulse [signed as the servo's rotation] that move a surface by an angle [rad] from neutral."""
    servo = servo_for(fitting.linkage, deflection_rad, most_servo_rad=math.pi / 2)
    if servo is None:
        raise LinkageError(f"The {fitting.name} cannot reach that position by trim.", name="trim")
    return servo / fitting.servo.rad_per_us


def deflection_for(fitting: Fitting, pulse_shift_us: float) -> float:
    """Return the deflection [rad] of a shift of the pulse [us]; the way back of :func:`pulses_for`."""
    m = motion(fitting.linkage, np.array([pulse_shift_us * fitting.servo.rad_per_us]))
    return float(m.deflection_rad[0])


def rest_words(fitting: Fitting, rest_rad: float) -> str:
    """Return where a surface rests, in words: "left elevon up 2.1 mm at 45 mm chord"."""
    mm = 1000.0 * ruler_m(fitting.chord_m, rest_rad)
    if mm < 0.05:
        return f"{fitting.name} fair"
    return f"{surface_words(fitting.role, rest_rad)} {mm:.1f} mm at {fitting.chord_m * 1000:.0f} mm chord"


def _clevis_words(fitting: Fitting, half_turns: int, rest_rad: float) -> str:
    if fitting.linkage.drive is Drive.DIRECT:
        return f"The {fitting.name} is driven directly: there is no clevis; use sub-trim or a learned midpoint."
    if half_turns == 0:
        return f"{_capital(fitting.name)}: leave the clevis."
    turns = abs(half_turns) / 2.0
    count = f"{turns:g} turn{'s' if turns > 1 else ''}"
    towards = surface_words(fitting.role, rest_rad)
    if fitting.linkage.drive is Drive.PULL_PULL:
        return f"{_capital(fitting.name)}: {count} out on one cable and in on the other, so that it goes {towards.removeprefix(fitting.name).strip()}."
    what = "turnbuckle" if fitting.linkage.both_ends else "clevis"
    way = "unscrew (longer rod)" if half_turns > 0 else "screw in (shorter rod)"
    return f"{_capital(fitting.name)}: {way} the {what} by {count}: {towards}."


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]


@dataclass(frozen=True, slots=True)
class AxisTrim:
    """One axis of the trim ledger: clicks, pulse [us], angle [rad] and movement at the chord [m], in words; ``beyond`` the threshold."""

    axis: Axis
    phase: str
    clicks: int
    pulse_us: float
    angle_rad: float
    moved_m: float
    words: str
    beyond: bool


def axis_command(axis: Axis) -> Command:
    """Return the command of an axis."""
    return COMMAND_OF[axis]


def per_surface(
    setup: ControlSetup, offsets: dict[Axis, float], mechanical: dict[Axis, float], *, inverted_v: bool
) -> tuple[SurfaceTrim, ...]:
    """Return the ways for every surface that the offsets of the axes [rad] hold away from its ``mechanical`` rest [rad]."""
    rows = []
    for f in setup.fittings:
        tasks = [axis for axis in offsets if sense_of(f.role, COMMAND_OF[axis]) != 0.0]
        if tasks:
            rest, still = (surface_rest_rad(f, part, inverted_v=inverted_v) for part in (offsets, mechanical))
            rows.append(surface_trim(f, rest, click_us=setup.radio.click_us, mechanical_rad=still))
    return tuple(rows)


def back_to_axes(setup: ControlSetup, rests: dict[str, float], *, inverted_v: bool) -> dict[Axis, float]:
    """Return the offsets of the axes [rad] that surface rests [rad by role] stand for: the mean over each axis' surfaces.

    The way back of :func:`surface_rest_rad`: sum of sense x rest over the number of surfaces of the axis.
    """
    result: dict[Axis, float] = {}
    for axis, command in COMMAND_OF.items():
        shares = [
            sense_of(f.role, command, inverted_v=inverted_v) * rests[f.role.value]
            for f in setup.fittings
            if f.role.value in rests and sense_of(f.role, command) != 0.0
        ]
        if shares:
            result[axis] = sum(shares) / len(shares)
    return result
