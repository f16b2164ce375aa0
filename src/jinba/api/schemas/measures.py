"""Shapes of what is measured: outlines, balance across and in height, swings, wing mount, scales."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from jinba.api.schemas.models import Strict, Text
from jinba.core.airframe.parts import Camber, Foil
from jinba.devices.scales import Place
from jinba.formats.codec import make_strict

make_strict(Place)


class OutlineRequest(Strict):
    """A table of stations as text; one millimetre in it is ``millimetres_per_unit`` on the model."""

    table: Text
    millimetres_per_unit: float = 1.0


class EllipseRequest(Strict):
    """An elliptical half wing. [m, fraction of the chord]"""

    half_span_m: float
    root_chord_m: float
    straight_at: float = 0.25
    tip_rise_m: float = 0.0


class LateralRequest(Strict):
    """The mass on a tip that levels the model on two points of its centre line. [kg, m]"""

    tip_mass_kg: float
    tip: Literal["left", "right"]
    half_span_m: float
    mass_kg: float


class HeightRequest(Strict):
    """A model hung nose down by its tail: stations [m], and how far its nose leans to the canopy side. [rad]"""

    x_cg_m: float
    x_hang_m: float
    z_hang_m: float
    lean_to_canopy_rad: float


class SwingRequest(Strict):
    """A model swinging: on two parallel strings (spacing, length), or as a pendulum (arm). [kg, m, s]"""

    mass_kg: float
    period_s: float
    spacing_m: float | None = None
    length_m: float | None = None
    arm_m: float | None = None


class MountRequest(Strict):
    """A bare fuselage and a loose wing, each with its mass [kg] and balance [m]."""

    bare_mass_kg: float
    bare_x_m: float
    wing_mass_kg: float
    wing_x_m: float


class ScalesRequest(Strict):
    """Where two or three scales stand."""

    places: tuple[Place, ...]


@dataclass(frozen=True, slots=True)
class SectionChoice:
    """A section of the library: its key, its family, and the section as a surface keeps it."""

    key: str
    family: Camber
    foil: Foil


@dataclass(frozen=True, slots=True)
class Swung:
    """Moment of inertia about the balance point. [kg m2]"""

    inertia_kg_m2: float


@dataclass(frozen=True, slots=True)
class ScalesAnswer:
    """What each scale shows [kg]; ``simulated`` when a stand-in was read."""

    masses_kg: tuple[float, ...]
    simulated: bool
