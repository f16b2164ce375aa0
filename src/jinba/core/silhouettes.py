"""Starting silhouettes: invented proportions of a class, scaled to a span, to be corrected by ruler."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.airframe.parts import Airframe, Body, Camber, Fin, Motor, Role, Section, Surface
from jinba.core.configuration import Configuration, ModelClass
from jinba.core.constants import ONE_SIDED_99_PERCENT
from jinba.core.controls.surface_control import Control
from jinba.core.errors import UnknownKeyError, check_range
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import COUNT
from jinba.core.observe.situation import design_of, situation, trim_elevator_rad

_DEG = math.radians(1.0)


@dataclass(frozen=True, slots=True)
class Silhouette:
    """A starting shape: key, name and one sentence."""

    key: str
    name: str
    words: str


SILHOUETTES: dict[str, Silhouette] = {
    s.key: s
    for s in (
        Silhouette("high_wing", "High wing, motor in front", "Steady shape with the wing on top of the body."),
        Silhouette("low_wing", "Low wing, motor in front", "Tapered wing under the body, for sport flying."),
        Silhouette(
            "twin_boom_pusher",
            "Twin boom, motor behind",
            "Pod in front, two booms to the tail, propeller between them.",
        ),
        Silhouette("sailplane", "Sailplane, no motor", "Long slender wing, body to the tail."),
    )
}


def silhouette_configuration(key: str, *, span_m: float) -> Configuration:
    """Return the starting configuration of a silhouette for a span. [m]

    Masses follow common wing loadings, the battery stands where the class target balances, the elevator rests at the
    computed trim. Raises: UnknownKeyError; OutOfRangeError for a span outside 0.2 to 8 m.
    """
    check_range("span", span_m, unit="m", low=0.2, high=8.0)
    try:
        build = _BUILDERS[key]
    except KeyError:
        raise UnknownKeyError(f"There is no silhouette {key!r}.", silhouette=key) from None
    return settled(build(span_m))


def settled(c: Configuration) -> Configuration:
    """Return the configuration with its airframe's mass placed for the class target and the elevator at computed trim."""
    design = design_of(c)
    mac = design.aero.planform.mac_m
    # A model that has never flown starts on the safe side: forward of the target, and where the risk stays under 1 %.
    start = max(c.rules.target + 0.02, c.rules.minimum + ONE_SIDED_99_PERCENT * design.static_margin_sigma)
    shift = (design.static_margin - start) * mac
    frame = c.items[0]
    frame = replace(frame, x_m=round(frame.x_m + shift * design.balance.mass.mass_kg / frame.mass_kg, 4))
    c = replace(c, items=(frame, *c.items[1:]))
    design = design_of(c)
    rest = trim_elevator_rad(situation(design, np.zeros(COUNT), speed_mps=design.cruise_speed_mps))
    return replace(c, elevator=replace(c.elevator, mechanical_rad=round(max(-0.2, min(0.2, rest)), 4)))


def _controls(chord: float, tail_chord: float, fin_chord: float) -> tuple[Control, Control, Control]:
    return (
        Control(Axis.PITCH, 15 * _DEG, 0.25 * _DEG, 0.35 * tail_chord, 0.012),
        Control(Axis.ROLL, 15 * _DEG, 0.25 * _DEG, 0.25 * chord, 0.012),
        Control(Axis.YAW, 22 * _DEG, 0.30 * _DEG, 0.38 * fin_chord, 0.014),
    )


def _mass(span: float, chord: float, loading_factor: float) -> float:
    # Common practice: wing loading grows with size; about 45 g/dm2 at 1.5 m span for a powered model.
    return round(loading_factor * 9.0 * math.pow(span * chord, 1.25), 3)


def _powered(c: float, mass: float, battery_x: float, bay: tuple[float, float]) -> tuple[Item, ...]:
    battery = round(0.2 * mass, 3)
    return (
        Item("airframe", "Airframe with everything fixed", round(mass - battery, 3), 0.3 * c, kind=ItemKind.AIRFRAME),
        Item("battery", "Battery", battery, battery_x, kind=ItemKind.BATTERY, bay_m=bay),
    )


def _high_wing(b: float) -> Configuration:
    c = b / 6.2
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        0.28 * c,
        (Section(0, 0, c), Section(b / 2, 0, c, 0.025 * b)),
        2 * _DEG,
        Camber.FLAT_BOTTOM,
        0.76,
        0.5,
        0.95,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        2.75 * c,
        0.10 * c,
        (Section(0, 0, 0.68 * c), Section(0.19 * b, 0.05 * c, 0.56 * c)),
        0.0,
        Camber.FLAT_PLATE,
        0.66,
    )
    fin = Fin(2.85 * c, 0.12 * c, 0.82 * c, 0.66 * c, 0.42 * c, 0.2 * c)
    mass = _mass(b, c, 0.62)
    motor = Motor(-0.92 * c, 0.02 * c, round(mass * 9.8 * 0.7, 2), 0.17 * b, 2 * _DEG, 1.5 * _DEG)
    airframe = Airframe((wing, tail), Body(-0.9 * c, 4.3 * c, 0.40 * c, 0.45 * c), fin, motor)
    e, a, r = _controls(c, 0.62 * c, 0.55 * c)
    return Configuration(airframe, _powered(c, mass, -0.30 * c, (-0.65 * c, 0.10 * c)), e, a, r, ModelClass.TRAINER)


def _low_wing(b: float) -> Configuration:
    c = b / 5.8
    root, tip = 1.2 * c, 0.78 * c
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        -0.22 * c,
        (Section(0, 0, root), Section(b / 2, 0.18 * c, tip, 0.03 * b)),
        1 * _DEG,
        Camber.SEMI_SYMMETRICAL,
        0.76,
        0.45,
        0.95,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        2.75 * c,
        0.12 * c,
        (Section(0, 0, 0.72 * c), Section(0.19 * b, 0.12 * c, 0.48 * c)),
        0.0,
        Camber.SYMMETRICAL,
        0.62,
    )
    fin = Fin(2.8 * c, 0.18 * c, 0.78 * c, 0.74 * c, 0.4 * c, 0.28 * c)
    mass = _mass(b, c, 0.8)
    motor = Motor(-1.05 * c, 0.0, round(mass * 9.8 * 0.9, 2), 0.19 * b, 1.5 * _DEG, 2 * _DEG)
    airframe = Airframe((wing, tail), Body(-1.0 * c, 4.4 * c, 0.38 * c, 0.46 * c), fin, motor)
    e, a, r = _controls(c, 0.6 * c, 0.6 * c)
    return Configuration(
        airframe, _powered(c, mass, -0.35 * c, (-0.75 * c, 0.05 * c)), e, a, r, ModelClass.SPORT, flown_inverted=True
    )


def _twin_boom_pusher(b: float) -> Configuration:
    c = b / 8.2
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        0.18 * c,
        (
            Section(0, 0, 1.12 * c),
            Section(0.16 * b, 0.0, 1.12 * c, 0.0),
            Section(0.5 * b, 0.16 * c, 0.70 * c, 0.028 * b),
        ),
        1.8 * _DEG,
        Camber.SEMI_SYMMETRICAL,
        0.76,
        0.5,
        0.95,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        3.55 * c,
        0.42 * c,
        (Section(0, 0, 0.72 * c), Section(0.165 * b, 0.0, 0.72 * c)),
        0.0,
        Camber.FLAT_PLATE,
        0.66,
    )
    fin = Fin(3.45 * c, 0.06 * c, 0.66 * c, 0.74 * c, 0.5 * c, 0.2 * c, y_m=0.16 * b)
    mass = _mass(b, c, 0.85)
    motor = Motor(1.22 * c, 0.16 * c, round(mass * 9.8 * 0.62, 2), 0.145 * b, 0.0, 0.0)
    airframe = Airframe((wing, tail), Body(-1.9 * c, 3.0 * c, 0.52 * c, 0.58 * c, boom_y_m=0.16 * b), fin, motor)
    e, a, r = _controls(c, 0.72 * c, 0.62 * c)
    return Configuration(
        airframe,
        _powered(c, mass, -0.9 * c, (-1.6 * c, -0.2 * c)),
        e,
        a,
        r,
        ModelClass.CAMERA_SHIP,
        pack_minutes=14.0,
    )


def _sailplane(b: float) -> Configuration:
    c = b / 12.0
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        0.25 * c,
        (
            Section(0, 0, 1.15 * c),
            Section(0.28 * b, 0.02 * c, 1.1 * c, 0.012 * b),
            Section(0.5 * b, 0.22 * c, 0.6 * c, 0.045 * b),
        ),
        2 * _DEG,
        Camber.SEMI_SYMMETRICAL,
        0.78,
        0.55,
        0.96,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        4.7 * c,
        0.0,
        (Section(0, 0, 0.65 * c), Section(0.115 * b, 0.1 * c, 0.45 * c)),
        0.0,
        Camber.SYMMETRICAL,
        0.6,
    )
    fin = Fin(4.7 * c, 0.22 * c, 1.05 * c, 0.8 * c, 0.55 * c, 0.25 * c)
    mass = _mass(b, c, 0.45)
    airframe = Airframe((wing, tail), Body(-2.2 * c, 7.6 * c, 0.42 * c, 0.5 * c), fin, None)
    e, a, r = _controls(c, 0.55 * c, 0.6 * c)
    items = (
        Item("airframe", "Airframe with everything fixed", round(mass * 0.86, 3), 0.3 * c, kind=ItemKind.AIRFRAME),
        Item(
            "battery",
            "Receiver battery",
            round(mass * 0.14, 3),
            -1.6 * c,
            kind=ItemKind.BATTERY,
            bay_m=(-2.0 * c, -0.6 * c),
        ),
    )
    return Configuration(airframe, items, e, a, r, ModelClass.GLIDER, pack_minutes=20.0)


_BUILDERS = {
    "high_wing": _high_wing,
    "low_wing": _low_wing,
    "twin_boom_pusher": _twin_boom_pusher,
    "sailplane": _sailplane,
}
