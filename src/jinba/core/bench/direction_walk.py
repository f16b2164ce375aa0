"""The direction check as a guided walk: stick moved, where every surface must go seen from behind, and what to do if not."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.layout import pitch_control_of
from jinba.core.configuration import Configuration
from jinba.core.controls.deflections import deflected, flap_command, full_throw
from jinba.core.controls.fitting import Command, Fitting, sense_of, surface_words, up_words
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.frames import (
    DirectionWords,
    PitchControl,
    Response,
    axis_of,
    surface_sign,
    throttle_stick,
    words_for_pilot,
)


@dataclass(frozen=True, slots=True)
class SurfaceMove:
    """Where one surface goes: its role, name, the word (up, down, left, right) and how far [rad, 0 when it stays]."""

    role: str
    name: str
    way: str
    deflection_rad: float


@dataclass(frozen=True, slots=True)
class WalkStep:
    """One step of the walk: what to move, what must be seen from behind, what the model would do, what to reverse if not.

    ``key`` of the response, or flap and throttle; ``moves`` of every surface that must move, the others must not.
    """

    key: str
    title: str
    stick: str
    surface: str
    model: str
    trim_lever: str
    moves: tuple[SurfaceMove, ...]
    if_wrong: str


_TITLES: dict[Response, str] = {
    Response.NOSE_UP: "Elevator back",
    Response.NOSE_DOWN: "Elevator forward",
    Response.ROLL_RIGHT: "Aileron right",
    Response.ROLL_LEFT: "Aileron left",
    Response.YAW_RIGHT: "Rudder right",
    Response.YAW_LEFT: "Rudder left",
}


def direction_walk(configuration: Configuration, setup: ControlSetup) -> tuple[WalkStep, ...]:
    """Return the steps of the direction check for this model and this pilot's radio, motor power off.

    Both ways of each axis something moves, then flap, then throttle last. Derived from ``core.frames`` and the fittings.
    """
    layout = pitch_control_of(configuration.airframe)
    steps = [_step(r, layout, setup) for r in Response if setup.moving(COMMAND_OF[axis_of(r)])]
    flaps = setup.moving(Command.FLAP)
    if flaps:
        out = deflected(setup, flap_command(1.0), only=flaps)
        moves = tuple(
            SurfaceMove(r.fitting.role.value, r.fitting.name, "down", float(r.deflection_rad[0])) for r in out
        )
        steps.append(
            WalkStep(
                "flap",
                "Flap out",
                "flap switch towards landing",
                ", ".join(f"{f.name} down" for f in flaps),
                "slower flight, a change of pitch",
                "",
                moves,
                _if_wrong(flaps),
            )
        )
    if configuration.airframe.motor is not None:
        side = throttle_stick(setup.radio.mode)
        steps.append(
            WalkStep(
                "throttle",
                "Throttle open, propeller off",
                f"{side} stick forward, away from you",
                "no surface moves; the motor starts",
                "more thrust; closed stops the motor",
                "",
                (),
                "Reverse the throttle channel, then set the fail-safe anew: its end has changed sides.",
            )
        )
    return tuple(steps)


def _step(response: Response, layout: PitchControl, setup: ControlSetup) -> WalkStep:
    axis, inverted_v = axis_of(response), layout is PitchControl.INVERTED_V_TAIL
    w: DirectionWords = words_for_pilot(
        response, layout, mode=setup.radio.mode, levers_reversed=setup.radio.levers_reversed
    )
    command, moving = COMMAND_OF[axis], setup.moving(COMMAND_OF[axis])
    throws = full_throw(setup, axis, float(surface_sign(response)), inverted_v=inverted_v)
    moves = []
    for f in moving:
        sense = sense_of(f.role, command, inverted_v=inverted_v) * surface_sign(response)
        moves.append(
            SurfaceMove(f.role.value, f.name, up_words(f.role)[0 if sense > 0 else 1], abs(throws[f.role.value]))
        )
    surface = ", ".join(
        surface_words(f.role, sense_of(f.role, command, inverted_v=inverted_v) * surface_sign(response)) for f in moving
    )
    return WalkStep(
        response.value, _TITLES[response], w.stick, surface, w.model, w.trim_lever, tuple(moves), _if_wrong(moving)
    )


def _if_wrong(moving: tuple[Fitting, ...]) -> str:
    channels = " and ".join(f"channel {f.channel} ({f.name})" for f in moving)
    two_tasks = any(len([c for c in Command if sense_of(f.role, c)]) > 1 for f in moving)
    words = f"Reverse {channels} in the radio, whichever went wrong; then walk from the start."
    if two_tasks:
        words += " These surfaces have two tasks: if one task is right and the other wrong, swap the two servo plugs or reverse that mix instead."
    return words
