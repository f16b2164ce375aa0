"""A servo with what it moves: the surface, its linkage, its pulses; and which way each command moves each surface."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from jinba.core.controls.linkage import Linkage
from jinba.core.controls.pulses import HALF_RANGE_US
from jinba.core.declare import (
    OPENS_NOTHING,
    Change,
    Count,
    Keyed,
    Metres,
    Microseconds,
    NewtonMetres,
    Opens,
    Radians,
    Share,
    Sister,
)
from jinba.core.errors import check_range

MOST_SERVO_RAD = math.radians(90.0)


class ControlRole(StrEnum):
    """What a moving surface is, which decides what moves it and which way."""

    ELEVATOR = "elevator"
    FOREPLANE = "foreplane"
    RUDDER = "rudder"
    LEFT_AILERON = "left_aileron"
    RIGHT_AILERON = "right_aileron"
    LEFT_ELEVON = "left_elevon"
    RIGHT_ELEVON = "right_elevon"
    LEFT_V_TAIL = "left_v_tail"
    RIGHT_V_TAIL = "right_v_tail"
    LEFT_FLAP = "left_flap"
    RIGHT_FLAP = "right_flap"
    LEFT_FLAPERON = "left_flaperon"
    RIGHT_FLAPERON = "right_flaperon"


class Command(StrEnum):
    """What the pilot or a mix asks for, each from -1 to +1 of its full throw; flap and throttle from 0 to 1.

    Signs of ``core.frames``: pitch > 0 is nose down, roll > 0 right wing down, yaw > 0 nose left.
    """

    PITCH = "pitch"
    ROLL = "roll"
    YAW = "yaw"
    FLAP = "flap"
    THROTTLE = "throttle"


NAMES: dict[ControlRole, str] = {
    ControlRole.ELEVATOR: "elevator",
    ControlRole.FOREPLANE: "foreplane",
    ControlRole.RUDDER: "rudder",
    ControlRole.LEFT_AILERON: "left aileron",
    ControlRole.RIGHT_AILERON: "right aileron",
    ControlRole.LEFT_ELEVON: "left elevon",
    ControlRole.RIGHT_ELEVON: "right elevon",
    ControlRole.LEFT_V_TAIL: "left tail surface",
    ControlRole.RIGHT_V_TAIL: "right tail surface",
    ControlRole.LEFT_FLAP: "left flap",
    ControlRole.RIGHT_FLAP: "right flap",
    ControlRole.LEFT_FLAPERON: "left flaperon",
    ControlRole.RIGHT_FLAPERON: "right flaperon",
}

# Trailing edge down (a rudder: trailing edge left) for a positive command: +1, up or right: -1. A right roll lifts the right
# aileron and lowers the left one. A V-tail's panels lean outwards, so a yaw to the left (trailing edges swing left) lowers the
# left panel's trailing edge and lifts the right one's. A foreplane's trailing edge goes up to pitch the nose down.
SENSE: dict[ControlRole, dict[Command, float]] = {
    ControlRole.ELEVATOR: {Command.PITCH: +1.0},
    ControlRole.FOREPLANE: {Command.PITCH: -1.0},
    ControlRole.RUDDER: {Command.YAW: +1.0},
    ControlRole.LEFT_AILERON: {Command.ROLL: +1.0},
    ControlRole.RIGHT_AILERON: {Command.ROLL: -1.0},
    ControlRole.LEFT_ELEVON: {Command.PITCH: +1.0, Command.ROLL: +1.0},
    ControlRole.RIGHT_ELEVON: {Command.PITCH: +1.0, Command.ROLL: -1.0},
    ControlRole.LEFT_V_TAIL: {Command.PITCH: +1.0, Command.YAW: +1.0},
    ControlRole.RIGHT_V_TAIL: {Command.PITCH: +1.0, Command.YAW: -1.0},
    ControlRole.LEFT_FLAP: {Command.FLAP: +1.0},
    ControlRole.RIGHT_FLAP: {Command.FLAP: +1.0},
    ControlRole.LEFT_FLAPERON: {Command.ROLL: +1.0, Command.FLAP: +1.0},
    ControlRole.RIGHT_FLAPERON: {Command.ROLL: -1.0, Command.FLAP: +1.0},
}


def sense_of(role: ControlRole, command: Command, *, inverted_v: bool = False) -> float:
    """Return +1, -1 or 0: which way a surface goes for a positive command, trailing edge down (rudder: left) positive.

    ``inverted_v``: the tail's tips hang down, which turns its yaw round. Derived here.
    """
    sense = SENSE[role].get(command, 0.0)
    turned = inverted_v and command is Command.YAW and role in (ControlRole.LEFT_V_TAIL, ControlRole.RIGHT_V_TAIL)
    return -sense if turned else sense


@dataclass(frozen=True, slots=True)
class Servo:
    """A servo: stall torque [N m], rotation over 1000 to 2000 microseconds [rad], smallest pulse step it answers [us]."""

    torque_nm: NewtonMetres = 0.18
    range_rad: Radians = math.radians(90.0)
    dead_band_us: Microseconds = 4.0

    def __post_init__(self) -> None:
        check_range("servo torque", self.torque_nm, unit="N m", low=0.005, high=50.0)
        check_range("servo rotation over 1000 to 2000 µs", self.range_rad, unit="rad", low=0.3, high=3.3)
        check_range("dead band of the servo", self.dead_band_us, unit="µs", low=0.0, high=40.0)

    @property
    def rad_per_us(self) -> float:
        """Rotation for one microsecond. [rad] Derived here."""
        return self.range_rad / (2.0 * HALF_RANGE_US)


def _kind(before: Fitting | None, after: Fitting | None) -> tuple[Change, ...]:
    known = after or before
    tasks = SENSE[known.role] if known else {}
    if Command.PITCH in tasks:
        return (Change.ELEVATOR,)
    return (Change.AILERON_RUDDER if Command.ROLL in tasks or Command.YAW in tasks else Change.FLAP,)


def _name(before: Fitting | None, after: Fitting | None) -> str:
    known = after or before
    return "" if known is None else NAMES[known.role]


_BY_HAND = Opens(
    _kind,
    lambda before, after: f"{_name(before, after)} linkage or servo changed",
    covers=(Change.THROWS, Change.RADIO_MEMORY),
)
_IN_RADIO = "end points or channel changed"
_PLUG = Opens(Change.RADIO_MEMORY, lambda a, b: f"{_name(a, b)}: {_IN_RADIO}", covers=(Change.THROWS,))
_END_POINT = Opens(Change.THROWS, lambda a, b: f"{_name(a, b)}: {_IN_RADIO}")


@dataclass(frozen=True, slots=True)
class Fitting:
    """A surface with its servo: what it is, the linkage, and what the radio sends it.

    ``chord_m`` hinge line to trailing edge, ``span_m`` hinge length. ``channel`` counts from 1. ``reversed``: the channel is
    reversed in the radio. ``end_point_up``, ``end_point_down``: most travel for trailing edge up and down (rudder: right
    and left), 1 = 500 microseconds. ``learned_us``: the midpoint a controller
    has learned, None where there is none.
    """

    role: Annotated[ControlRole, OPENS_NOTHING]
    channel: Annotated[Count, _PLUG]
    chord_m: Annotated[Metres, _BY_HAND]
    span_m: Annotated[Metres, OPENS_NOTHING]
    linkage: Annotated[Linkage, _BY_HAND] = Linkage()
    servo: Annotated[Servo, _BY_HAND] = Servo()
    reversed: Annotated[bool, _PLUG] = False
    end_point_up: Annotated[Share, _END_POINT] = 1.0
    end_point_down: Annotated[Share, _END_POINT] = 1.0
    learned_us: Annotated[Microseconds | None, OPENS_NOTHING, Sister.ANEW] = None

    def __post_init__(self) -> None:
        name = NAMES[self.role]
        check_range(f"channel of the {name}", self.channel, unit="", low=1, high=32)
        check_range(f"{name}, hinge to trailing edge", self.chord_m, unit="m", low=0.003, high=2.0)
        check_range(f"{name}, hinge length", self.span_m, unit="m", low=0.01, high=8.0)
        for way, end in (("up", self.end_point_up), ("down", self.end_point_down)):
            check_range(
                f"{name}, end point {way}", end, unit="", low=0.0, high=1.5, hint="100 % is 500 µs from neutral."
            )
        if self.learned_us is not None:
            check_range(f"{name}, learned midpoint", self.learned_us, unit="µs", low=1000.0, high=2000.0)

    @property
    def name(self) -> str:
        """What the surface is called."""
        return NAMES[self.role]


FITTINGS = Keyed("role", came_or_went=_BY_HAND)
"""Fittings are the same by the surface they move."""


def up_words(role: ControlRole) -> tuple[str, str]:
    """Return the words for a positive and a negative deflection of a surface: down and up, a rudder's left and right."""
    return ("left", "right") if role is ControlRole.RUDDER else ("down", "up")


def surface_words(role: ControlRole, deflection: float) -> str:
    """Return where a surface's trailing edge goes, seen from behind: "left aileron up"; "elevator fair" for zero.

    ``deflection`` [rad].
    """
    if deflection == 0.0:
        return f"{NAMES[role]} fair"
    return f"{NAMES[role]} {up_words(role)[0 if deflection > 0 else 1]}"
