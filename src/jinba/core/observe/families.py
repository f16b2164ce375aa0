"""What kind of aeroplane a model is, as far as it decides how wrong a closed form is."""

from __future__ import annotations

from enum import StrEnum
from functools import lru_cache

from jinba.core.airframe.layout import control_surface_of, lifting_surfaces, pitch_control_of
from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.planform import planform_of
from jinba.core.frames import PitchControl

_LOW_ASPECT_RATIO = 3.5
"""A wing of less span than this for its chord is a delta: common practice, no source."""

_V_TAILS = (PitchControl.V_TAIL, PitchControl.INVERTED_V_TAIL)


class Family(StrEnum):
    """A family of layouts that err alike."""

    FOREPLANE = "foreplane"
    TANDEM = "tandem"
    DELTA = "delta"
    FLYING_WING = "flying_wing"
    SEVERAL_WINGS = "several_wings"
    GLIDER = "glider"
    PUSHER = "pusher"
    V_TAIL = "v_tail"
    HIGH_WING = "high_wing"
    LOW_WING = "low_wing"


@lru_cache(maxsize=256)
def family_of(airframe: Airframe) -> Family:
    """Return the family of an airframe: the first that fits, by what pitches it, what carries it, what pulls it. By definition."""
    control, motor, wing = pitch_control_of(airframe), airframe.motor, airframe.wing
    if control is PitchControl.FOREPLANE:
        return Family.FOREPLANE
    if control is PitchControl.ELEVONS:
        return Family.DELTA if planform_of(wing).aspect_ratio < _LOW_ASPECT_RATIO else Family.FLYING_WING
    if control_surface_of(airframe) in lifting_surfaces(airframe):
        return Family.TANDEM
    if len(lifting_surfaces(airframe)) > 1:
        return Family.SEVERAL_WINGS
    if motor is None:
        return Family.GLIDER
    if motor.x_m > wing.x_m + 0.5 * planform_of(wing).mac_m:
        return Family.PUSHER
    if control in _V_TAILS:
        return Family.V_TAIL
    # A wing above the propeller's axis, or below it: the stream goes under the one and over the other.
    return Family.HIGH_WING if wing.z_m > motor.z_m else Family.LOW_WING
