"""What kind of aeroplane an airframe is: what pitches it, and which of its surfaces carry it."""

from __future__ import annotations

import math

from jinba.core.airframe.parts import Airframe, Role, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.frames import PitchControl

_V_TAIL_FROM_RAD = math.radians(15.0)
"""Dihedral of a tail from which its surfaces steer in yaw as well."""

_LIFTING_TAIL_SHARE = 0.45
"""A tail of at least this share of the wing's area carries the model: the rear wing of a tandem. Derived here."""


def pitch_control_of(airframe: Airframe) -> PitchControl:
    """Return what pitches the model: the tail, a foreplane, elevons on the wing, or the surfaces of a V-tail.

    A tail with more than 15 degrees of dihedral and no fin steers in yaw too. Derived here.
    """
    surface = airframe.pitch_surface
    if surface is None:
        return PitchControl.ELEVONS
    if surface.role is Role.CANARD:
        return PitchControl.FOREPLANE
    dihedral = panel_dihedral_rad(surface)
    if airframe.fin is None and abs(dihedral) >= _V_TAIL_FROM_RAD:
        return PitchControl.V_TAIL if dihedral > 0 else PitchControl.INVERTED_V_TAIL
    return PitchControl.TAIL


def panel_dihedral_rad(surface: Surface) -> float:
    """Return the mean dihedral of a surface from root to tip. [rad, tips up positive] Derived here."""
    root, tip = surface.sections[0], surface.sections[-1]
    return math.atan2(tip.z_offset_m - root.z_offset_m, tip.y_m - root.y_m)


def control_surface_of(airframe: Airframe) -> Surface:
    """Return the surface that carries the pitch control: tail, foreplane, or the wing with its elevons."""
    return airframe.pitch_surface or airframe.wing


def pitch_sense(airframe: Airframe) -> float:
    """Return +1 where a trailing edge that goes down pitches the nose down, -1 for a foreplane. Derived here."""
    return -1.0 if pitch_control_of(airframe) is PitchControl.FOREPLANE else 1.0


def lifting_surfaces(airframe: Airframe) -> tuple[Surface, ...]:
    """Return the surfaces that carry the weight: wings, foreplanes, and a rear surface as large as a wing."""
    reference = planform_of(airframe.wing).area_m2
    return tuple(
        s
        for s in airframe.surfaces
        if s.role is not Role.TAIL or planform_of(s).area_m2 >= _LIFTING_TAIL_SHARE * reference
    )


def pitches_by_a_wing(airframe: Airframe) -> bool:
    """Return whether what pitches the model carries it, too: elevons, a foreplane, the rear wing of a tandem. A stick at its end may then
    be a surface that has stalled. By definition."""
    return control_surface_of(airframe) in lifting_surfaces(airframe)


def lifting_area_m2(airframe: Airframe) -> float:
    """Return the projected area of all surfaces that carry the weight. [m2] Derived here."""
    return sum(planform_of(s).area_m2 for s in lifting_surfaces(airframe))
