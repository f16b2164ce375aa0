"""From a stick to every surface: rates, expo, mixes, end points and linkage together."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from jinba.core.controls.fitting import Command, Fitting
from jinba.core.controls.linkage import motion
from jinba.core.controls.mixing import Commands, Output, mixed_commands, servo_output
from jinba.core.controls.pulses import HALF_RANGE_US
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.throws import FlightPhase
from jinba.core.frames import Axis

Floats = NDArray[np.float64]
STICK_SIGN = {Axis.PITCH: -1.0, Axis.ROLL: +1.0, Axis.YAW: -1.0}
"""From a stick, + back / right, to a command in the signs of ``core.frames`` (nose down, right wing down, nose left)."""


@dataclass(frozen=True, slots=True)
class Deflected:
    """What one surface does: deflection [rad] (n,), trailing edge down (rudder: left) positive; where it was cut short."""

    fitting: Fitting
    deflection_rad: Floats
    clipped: NDArray[np.bool_]


def surface_deflection(fitting: Fitting, share: Floats) -> Floats:
    """Return the deflection [rad] of a pulse, a share of 500 microseconds, trailing edge down positive as the share asks.

    The pulse moves the servo, the four-bar the surface; whichever way the servo turns, the radio is set so that a positive
    share lowers the trailing edge. Where the rod binds the surface stays as far as it came, and never goes past its stop.
    Derived here (docs/methods/linkage.md).
    """
    full = fitting.servo.rad_per_us * HALF_RANGE_US
    way = np.sign(motion(fitting.linkage, np.zeros(1)).slope[0]) * full
    asked = np.asarray(share, dtype=float)
    reached = motion(fitting.linkage, way * asked).deflection_rad
    if np.isnan(reached).any():
        swept = motion(fitting.linkage, way * np.linspace(-1.5, 1.5, 121)).deflection_rad
        least, most = float(np.nanmin(swept)), float(np.nanmax(swept))
        reached = np.where(np.isnan(reached), np.where(asked > 0.0, most, least), reached)
    return np.asarray(np.clip(reached, -fitting.linkage.stop_rad, fitting.linkage.stop_rad))


def stick_commands(setup: ControlSetup, phase: FlightPhase, sticks: dict[Axis, Floats]) -> Commands:
    """Return the commands of stick positions (n,) in [-1, 1], + back / right, with the rates and expo of a flight phase."""
    return {
        COMMAND_OF[axis]: STICK_SIGN[axis] * setup.rates_of(axis).step(phase.rate_of(axis)).command(stick)
        for axis, stick in sticks.items()
    }


def deflected(
    setup: ControlSetup, commands: Commands, *, inverted_v: bool = False, only: tuple[Fitting, ...] | None = None
) -> tuple[Deflected, ...]:
    """Return what every surface, or ``only`` some, does for commands (n,): mixes, weights, end points, linkage."""
    mixed = mixed_commands(commands, setup.mixes)
    rows = []
    for f in setup.fittings if only is None else only:
        out = output_of(setup, f, mixed, inverted_v=inverted_v)
        rows.append(Deflected(f, surface_deflection(f, out.pulse), out.clipped))
    return tuple(rows)


def output_of(setup: ControlSetup, fitting: Fitting, commands: Commands, *, inverted_v: bool = False) -> Output:
    """Return the servo output of one fitting for commands that are already mixed."""
    return servo_output(
        fitting,
        commands,
        weights=setup.weights,
        differential=setup.rates_of(Axis.ROLL).differential,
        crow=setup.crow,
        inverted_v=inverted_v,
    )


def full_throw(setup: ControlSetup, axis: Axis, command: float, *, inverted_v: bool = False) -> dict[str, float]:
    """Return the deflection [rad] of each surface of an axis at a command, by role.

    Derived here (docs/methods/linkage.md).
    """
    own = setup.moving(COMMAND_OF[axis])
    rows = deflected(setup, {COMMAND_OF[axis]: np.array([command])}, inverted_v=inverted_v, only=own)
    return {r.fitting.role.value: float(r.deflection_rad[0]) for r in rows}


@lru_cache(maxsize=256)
def mean_throw_rad(setup: ControlSetup, axis: Axis, command: float) -> float:
    """Return the mean size of the surfaces' deflections of an axis at a command [rad]; 0 when nothing moves it.

    Derived here (docs/methods/linkage.md).
    """
    angles = [abs(a) for a in full_throw(setup, axis, command).values()]
    return sum(angles) / len(angles) if angles else 0.0


def click_rad(setup: ControlSetup, axis: Axis) -> float:
    """Return the mean movement of the surfaces of an axis for one trim click [rad]: pulse x slope at neutral x weight.

    Trim is sent as it is, past rates and end points; on a surface with two tasks it goes through its weight.
    Derived here (docs/methods/linkage.md).
    """
    command = COMMAND_OF[axis]
    moves = [
        setup.weights.of(f.role, command) * abs(float(motion(f.linkage, np.zeros(1)).slope[0])) * f.servo.rad_per_us
        for f in setup.moving(command)
    ]
    return setup.radio.click_us * sum(moves) / len(moves) if moves else 0.0


def command_for_throw(setup: ControlSetup, axis: Axis, throw_rad: float, *, sign: float) -> float | None:
    """Return the size of the command that gives a mean throw [rad], by interpolation; None beyond the travel.

    Derived here (docs/methods/linkage.md).
    """
    sizes = np.linspace(0.0, 1.0, 41)
    rows = deflected(setup, {COMMAND_OF[axis]: sign * sizes}, only=setup.moving(COMMAND_OF[axis]))
    angles = [np.abs(r.deflection_rad) for r in rows]
    if not angles:
        return None
    mean = np.mean(angles, axis=0)
    # Where the end points hold it the mean stops growing: the first place that reaches the throw counts.
    reached = np.flatnonzero(mean >= throw_rad - 1e-9)
    if reached.size == 0:
        return None
    last = int(reached[0])
    if last == 0:
        return 0.0
    return float(np.interp(throw_rad, mean[last - 1 : last + 1], sizes[last - 1 : last + 1]))


def flap_command(share: float) -> Commands:
    """Return the command of a flap setting, 0 to 1. ``share`` [-]."""
    return {Command.FLAP: np.array([share])}
