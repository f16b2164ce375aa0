"""Shapes with the pitch control in front or on the wing: canard, tandem, swept flying wing, delta. Invented proportions."""

from __future__ import annotations

from jinba.core.airframe.parts import Body, Camber, Fin, Role
from jinba.core.configuration import ModelClass
from jinba.core.silhouettes.build import Shape, mass_of, motor, surface


def canard(b: float) -> Shape:
    """Return a foreplane at the nose, the wing and the propeller behind. ``b``: span [m]."""
    c = b / 5.8
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.0,
        ((0, 0, 1.2 * c, 0), (b / 2, 0.55 * c, 0.75 * c, 0.02 * b)),
        incidence_deg=0.5,
        camber=Camber.SEMI_SYMMETRICAL,
        control=(0.5, 0.95),
    )
    foreplane = surface(
        "foreplane",
        Role.CANARD,
        -2.35 * c,
        0.28 * c,
        ((0, 0, 0.55 * c, 0), (0.21 * b, 0.06 * c, 0.45 * c, 0)),
        incidence_deg=3.0,
        camber=Camber.SEMI_SYMMETRICAL,
        hinge=0.66,
    )
    return Shape(
        b,
        c,
        (wing, foreplane),
        Body(-2.6 * c, 3.9 * c, 0.36 * c, 0.42 * c),
        Fin(0.75 * c, 0.1 * c, 0.95 * c, 0.85 * c, 0.55 * c, 0.4 * c),
        motor(1.32 * c, 0.05 * c, mass=mass_of(b, c, 0.85), pull=0.8, diameter=0.18 * b),
        loading=0.85,
        battery_x_m=-1.5 * c,
        bay_m=(-2.2 * c, -0.5 * c),
        pitch_chord_m=0.5 * c,
        fin_chord_m=0.6 * c,
        model_class=ModelClass.SPORT,
    )


def tandem(b: float) -> Shape:
    """Return two wings of nearly one size, the pitch control on the rear one. ``b``: span [m]."""
    c = b / 8.0
    front = surface(
        "wing",
        Role.WING,
        0.0,
        0.05 * c,
        ((0, 0, 1.1 * c, 0), (b / 2, 0.18 * c, 0.75 * c, 0.03 * b)),
        incidence_deg=3.5,
        camber=Camber.SEMI_SYMMETRICAL,
        control=(0.5, 0.95),
    )
    rear = surface(
        "rear wing",
        Role.TAIL,
        3.4 * c,
        0.75 * c,
        ((0, 0, 1.05 * c, 0), (0.43 * b, 0.12 * c, 0.75 * c, 0.02 * b)),
        incidence_deg=1.0,
        camber=Camber.SEMI_SYMMETRICAL,
        hinge=0.74,
        control=(0.0, 0.55),
    )
    return Shape(
        b,
        c,
        (front, rear),
        Body(-1.3 * c, 6.2 * c, 0.42 * c, 0.5 * c),
        Fin(4.0 * c, 0.5 * c, 1.1 * c, 0.95 * c, 0.6 * c, 0.3 * c),
        None,
        loading=0.55,
        battery_x_m=-0.5 * c,
        bay_m=(-1.1 * c, 0.6 * c),
        pitch_chord_m=0.95 * c,
        fin_chord_m=0.75 * c,
        model_class=ModelClass.GLIDER,
        lifting_share=1.7,
        battery_share=0.12,
        pack_minutes=20.0,
    )


def flying_wing(b: float) -> Shape:
    """Return a swept wing alone, washed out, with elevons and a fin at each tip. ``b``: span [m]."""
    c = b / 6.0
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.0,
        ((0, 0, 1.2 * c, 0), (b / 2, 1.25 * c, 0.75 * c, 0.01 * b)),
        incidence_deg=2.0,
        camber=Camber.REFLEXED,
        hinge=0.76,
        control=(0.35, 0.98),
        washout_deg=2.5,
    )
    return Shape(
        b,
        c,
        (wing,),
        Body(-0.35 * c, 1.6 * c, 0.32 * c, 0.26 * c),
        Fin(1.4 * c, -0.05 * c, 0.62 * c, 0.7 * c, 0.42 * c, 0.3 * c, y_m=0.49 * b),
        motor(1.28 * c, 0.05 * c, mass=mass_of(b, c, 0.6), pull=0.9, diameter=0.2 * b),
        loading=0.6,
        battery_x_m=0.1 * c,
        bay_m=(-0.2 * c, 0.55 * c),
        pitch_chord_m=0.7 * c,
        fin_chord_m=0.5 * c,
        model_class=ModelClass.SPORT,
        pitch_throw_deg=25,
        battery_share=0.28,
    )


def delta(b: float) -> Shape:
    """Return a triangular wing with elevons along its trailing edge and one fin. ``b``: span [m]."""
    root, tip = 0.92 * b, 0.14 * b
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.0,
        ((0, 0, root, 0), (b / 2, root - tip, tip, 0)),
        incidence_deg=1.0,
        camber=Camber.REFLEXED,
        hinge=0.84,
        control=(0.15, 0.92),
    )
    c = 0.6 * b
    return Shape(
        b,
        c,
        (wing,),
        Body(-0.25 * b, 1.2 * b, 0.11 * b, 0.11 * b),
        Fin(0.62 * b, 0.02 * b, 0.24 * b, 0.3 * b, 0.14 * b, 0.16 * b),
        motor(0.96 * b, 0.0, mass=mass_of(b, c, 0.35), pull=0.9, diameter=0.22 * b),
        loading=0.35,
        battery_x_m=0.1 * b,
        bay_m=(-0.15 * b, 0.45 * b),
        pitch_chord_m=0.5 * b,
        fin_chord_m=0.2 * b,
        model_class=ModelClass.SPORT,
        pitch_throw_deg=25,
        battery_share=0.25,
    )
