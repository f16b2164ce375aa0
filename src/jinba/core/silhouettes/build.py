"""From the proportions of a shape to a starting configuration: controls, masses and items in common proportion."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.airframe.parts import Airframe, Body, Camber, Fin, Motor, Role, Section, Surface
from jinba.core.configuration import Configuration, ModelClass
from jinba.core.controls.surface_control import Control
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind

DEG = math.radians(1.0)
Stations = tuple[tuple[float, float, float, float], ...]
"""Rows of (distance from the centre line, leading edge behind the root's, chord, rise above the root)."""


@dataclass(frozen=True, slots=True)
class Shape:
    """The proportions of a silhouette, every length in metres.

    ``chord_m`` mean chord of the wing; ``loading`` relative wing loading (1 = about 60 g/dm2 at 1.5 m); ``battery_share``
    of the mass; ``lifting_share`` mass over that of a single wing; ``battery_x_m`` and ``bay_m`` its place; ``pitch_chord_m``, ``fin_chord_m`` of the moving surfaces' parents.
    """

    span_m: float
    chord_m: float
    surfaces: tuple[Surface, ...]
    body: Body
    fin: Fin | None
    motor: Motor | None
    loading: float
    battery_x_m: float
    bay_m: tuple[float, float]
    pitch_chord_m: float
    fin_chord_m: float
    model_class: ModelClass
    pitch_throw_deg: float = 15.0
    lifting_share: float = 1.0
    battery_share: float = 0.2
    pack_minutes: float = 8.0
    flown_inverted: bool = False


def surface(
    key: str,
    role: Role,
    x: float,
    z: float,
    stations: Stations,
    *,
    incidence_deg: float = 0.0,
    camber: Camber = Camber.SYMMETRICAL,
    hinge: float = 0.76,
    control: tuple[float, float] = (0.0, 1.0),
    washout_deg: float = 0.0,
) -> Surface:
    """Return a surface from rows of stations; wash-out grows linearly from root to tip.

    Places [m], shares of chord and span [-].
    """
    tip = stations[-1][0]
    sections = tuple(Section(y, dx, c, dz, -washout_deg * DEG * y / tip) for y, dx, c, dz in stations)
    return Surface(key, role, x, z, sections, incidence_deg * DEG, camber, hinge, *control)


def motor(
    x: float, z: float, *, mass: float, pull: float, diameter: float, down: float = 0.0, right: float = 0.0
) -> Motor:
    """Return a motor whose static thrust is ``pull`` times the weight; tilts in degrees.

    Places and diameter [m], mass [kg], tilts [deg].
    """
    return Motor(x, z, round(mass * 9.8 * pull, 2), diameter, down * DEG, right * DEG)


def mass_of(span_m: float, chord_m: float, loading: float) -> float:
    """Return a mass [kg]: wing loading grows with size, about 45 g/dm2 at 1.5 m (common practice, no source)."""
    return round(loading * 9.0 * math.pow(span_m * chord_m, 1.25), 3)


def configuration(shape: Shape) -> Configuration:
    """Return the starting configuration of a shape: airframe, two items, three controls."""
    mass = mass_of(shape.span_m, shape.chord_m, shape.loading) * shape.lifting_share
    battery = round(shape.battery_share * mass, 3)
    name = "Battery" if shape.motor is not None else "Receiver battery"
    items = (
        Item(
            "airframe",
            "Airframe with everything fixed",
            round(mass - battery, 3),
            0.3 * shape.chord_m,
            kind=ItemKind.AIRFRAME,
        ),
        Item("battery", name, battery, shape.battery_x_m, kind=ItemKind.BATTERY, bay_m=shape.bay_m),
    )
    return Configuration(
        Airframe(shape.surfaces, shape.body, shape.fin, shape.motor),
        items,
        Control(Axis.PITCH, shape.pitch_throw_deg * DEG, 0.25 * DEG, 0.35 * shape.pitch_chord_m, 0.012),
        Control(Axis.ROLL, 15 * DEG, 0.25 * DEG, 0.25 * shape.chord_m, 0.012),
        Control(Axis.YAW, 22 * DEG, 0.30 * DEG, 0.38 * shape.fin_chord_m, 0.014),
        shape.model_class,
        pack_minutes=shape.pack_minutes,
        flown_inverted=shape.flown_inverted,
    )
