"""One control as it is set: throws, what a click does, where the surface rests, and how a clevis turns it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

from jinba.core.declare import OPENS_NOTHING, Change, Count, Metres, Opens, Radians
from jinba.core.errors import check_range
from jinba.core.frames import Axis

MOST_CLICKS = 200


_NAMES = {Axis.PITCH: "elevator", Axis.ROLL: "aileron", Axis.YAW: "rudder"}


def _says(words: str) -> Callable[[Control, Control], str]:
    return lambda before, _: f"{_NAMES[before.axis]} {words}"


@dataclass(frozen=True, slots=True)
class Control:
    """One control of the model, in the signs of ``core.frames`` (elevator and flap: trailing edge down positive).

    ``throw_rad``: full stick, each way. ``rad_per_click``: surface movement of one trim click as measured.
    ``chord_m``: hinge line to the trailing edge where millimetres are read. ``horn_arm_m``: hinge line to the clevis pin.
    ``thread_pitch_m``: clevis thread per turn. ``mechanical_rad``: where the surface rests with trim and sub-trim centred.
    ``sub_trim_rad``, ``clicks``: what the radio adds now.
    """

    axis: Annotated[Axis, OPENS_NOTHING]
    throw_rad: Annotated[Radians, Opens(Change.THROWS, _says("throw changed"))]
    rad_per_click: Annotated[Radians, Opens(Change.RADIO_TRIM, _says("trim click measured anew"))]
    chord_m: Metres
    horn_arm_m: Metres
    thread_pitch_m: Metres = 0.0004
    mechanical_rad: Radians = 0.0
    sub_trim_rad: Annotated[Radians, Opens(Change.RADIO_TRIM, _says("trim changed in the radio"))] = 0.0
    clicks: Annotated[Count, Opens(Change.RADIO_TRIM, _says("trim changed in the radio"))] = 0

    def __post_init__(self) -> None:
        name = self.axis.value
        check_range(f"{name} throw", self.throw_rad, unit="rad", low=math.radians(1), high=math.radians(60))
        check_range(
            f"{name} surface movement per click", self.rad_per_click, unit="rad", low=1e-5, high=math.radians(5)
        )
        check_range(f"{name} control chord", self.chord_m, unit="m", low=0.003, high=2.0)
        check_range(f"{name} horn arm", self.horn_arm_m, unit="m", low=0.002, high=0.3)
        check_range(f"{name} clevis thread", self.thread_pitch_m, unit="m", low=0.0002, high=0.003)
        check_range(f"{name} resting angle", self.mechanical_rad, unit="rad", low=-0.6, high=0.6)
        check_range(f"{name} sub-trim", self.sub_trim_rad, unit="rad", low=-0.6, high=0.6)
        check_range(f"{name} trim clicks", self.clicks, unit="clicks", low=-MOST_CLICKS, high=MOST_CLICKS)

    @property
    def resting_rad(self) -> float:
        """Where the surface stands hands-off: mechanics, sub-trim and trim together. [rad]"""
        return self.mechanical_rad + self.sub_trim_rad + self.clicks * self.rad_per_click

    @property
    def rad_per_turn(self) -> float:
        """Surface movement of one clevis turn, atan(pitch / horn arm). [rad]"""
        return math.atan2(self.thread_pitch_m, self.horn_arm_m)

    def millimetres(self, angle_rad: float) -> float:
        """Return the movement of the trailing edge for an angle, as a ruler at the chord reads it. [mm]"""
        return 2.0 * self.chord_m * math.sin(angle_rad / 2.0) * 1000.0


@dataclass(frozen=True, slots=True)
class TrimTransfer:
    """Trim moved out of the radio: ``half_turns`` of the clevis (signed as the surface), the rest as sub-trim.

    ``turned_rad`` what the half turns do, ``sub_trim_rad`` what remains for the radio, ``surface_mm`` where the trailing
    edge must stand afterwards with all trims centred (positive: down, right aileron up, rudder left).
    """

    half_turns: int
    turned_rad: float
    sub_trim_rad: float
    surface_mm: float


def transfer_trim(control: Control, target_rad: float) -> TrimTransfer:
    """Return how a resting angle [rad] is set with the clevis in half turns, the rest as sub-trim, trims centred.

    Half a turn is the smallest step a clevis takes. The linkage is treated as linear near neutral (error below 2 % up to
    10 degrees). References: thread pitch over horn arm, derived here (docs/methods/trim-transfer.md).
    """
    change = target_rad - control.mechanical_rad
    half = control.rad_per_turn / 2.0
    half_turns = round(change / half)
    turned = half_turns * half
    return TrimTransfer(half_turns, turned, change - turned, control.millimetres(target_rad))
