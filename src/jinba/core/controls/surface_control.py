"""One control as flights are read with it: where it rests and what a click does; and what its linkage starts from."""

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

    ``rad_per_click``: surface movement of one trim click as measured. ``mechanical_rad``: where the surface rests with trim
    and sub-trim centred. ``sub_trim_rad``, ``clicks``: what the radio adds now.
    ``throw_rad`` (full stick, each way), ``chord_m`` (hinge line to the trailing edge), ``horn_arm_m`` (hinge line to the
    clevis pin), ``thread_pitch_m``: what the linkage starts from. Once it is described (``Configuration.controls``) its
    fittings say these, and nothing reads them here: ask the configuration for throw and chord.
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
        """Where the surface stands hands-off: mechanics, sub-trim and trim together. [rad] Derived here."""
        return self.mechanical_rad + self.sub_trim_rad + self.clicks * self.rad_per_click
