"""Shapes with the tail behind: high wing, low wing, twin boom, sailplane, V-tail, biplane, triplane. Invented proportions."""

from __future__ import annotations

from jinba.core.airframe.parts import Body, Camber, Fin, Role
from jinba.core.configuration import ModelClass
from jinba.core.silhouettes.build import Shape, mass_of, motor, surface

AILERON = (0.5, 0.95)


def high_wing(b: float) -> Shape:
    """Return a steady shape with the wing on top of the body. ``b``: span [m]."""
    c = b / 6.2
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.28 * c,
        ((0, 0, c, 0), (b / 2, 0, c, 0.025 * b)),
        incidence_deg=2,
        camber=Camber.FLAT_BOTTOM,
        control=AILERON,
    )
    tail = surface(
        "tail",
        Role.TAIL,
        2.75 * c,
        0.10 * c,
        ((0, 0, 0.68 * c, 0), (0.19 * b, 0.05 * c, 0.56 * c, 0)),
        camber=Camber.FLAT_PLATE,
        hinge=0.66,
    )
    return Shape(
        b,
        c,
        (wing, tail),
        Body(-0.9 * c, 4.3 * c, 0.40 * c, 0.45 * c),
        Fin(2.85 * c, 0.12 * c, 0.82 * c, 0.66 * c, 0.42 * c, 0.2 * c),
        motor(-0.92 * c, 0.02 * c, mass=mass_of(b, c, 0.62), pull=0.7, diameter=0.17 * b, down=2, right=1.5),
        loading=0.62,
        battery_x_m=-0.30 * c,
        bay_m=(-0.65 * c, 0.10 * c),
        pitch_chord_m=0.62 * c,
        fin_chord_m=0.55 * c,
        model_class=ModelClass.TRAINER,
    )


def low_wing(b: float) -> Shape:
    """Return a tapered wing under the body, for sport flying. ``b``: span [m]."""
    c = b / 5.8
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        -0.22 * c,
        ((0, 0, 1.2 * c, 0), (b / 2, 0.18 * c, 0.78 * c, 0.03 * b)),
        incidence_deg=1,
        camber=Camber.SEMI_SYMMETRICAL,
        control=(0.45, 0.95),
    )
    tail = surface(
        "tail", Role.TAIL, 2.75 * c, 0.12 * c, ((0, 0, 0.72 * c, 0), (0.19 * b, 0.12 * c, 0.48 * c, 0)), hinge=0.62
    )
    return Shape(
        b,
        c,
        (wing, tail),
        Body(-1.0 * c, 4.4 * c, 0.38 * c, 0.46 * c),
        Fin(2.8 * c, 0.18 * c, 0.78 * c, 0.74 * c, 0.4 * c, 0.28 * c),
        motor(-1.05 * c, 0.0, mass=mass_of(b, c, 0.8), pull=0.9, diameter=0.19 * b, down=1.5, right=2),
        loading=0.8,
        battery_x_m=-0.35 * c,
        bay_m=(-0.75 * c, 0.05 * c),
        pitch_chord_m=0.6 * c,
        fin_chord_m=0.6 * c,
        model_class=ModelClass.SPORT,
        flown_inverted=True,
    )


def twin_boom_pusher(b: float) -> Shape:
    """Return a pod in front, two booms to the tail, the propeller between them. ``b``: span [m]."""
    c = b / 8.2
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.18 * c,
        ((0, 0, 1.12 * c, 0), (0.16 * b, 0, 1.12 * c, 0), (0.5 * b, 0.16 * c, 0.70 * c, 0.028 * b)),
        incidence_deg=1.8,
        camber=Camber.SEMI_SYMMETRICAL,
        control=AILERON,
    )
    tail = surface(
        "tail",
        Role.TAIL,
        3.55 * c,
        0.42 * c,
        ((0, 0, 0.72 * c, 0), (0.165 * b, 0, 0.72 * c, 0)),
        camber=Camber.FLAT_PLATE,
        hinge=0.66,
    )
    return Shape(
        b,
        c,
        (wing, tail),
        Body(-1.9 * c, 3.0 * c, 0.52 * c, 0.58 * c, boom_y_m=0.16 * b),
        Fin(3.45 * c, 0.06 * c, 0.66 * c, 0.74 * c, 0.5 * c, 0.2 * c, y_m=0.16 * b),
        motor(1.22 * c, 0.16 * c, mass=mass_of(b, c, 0.85), pull=0.62, diameter=0.145 * b),
        loading=0.85,
        battery_x_m=-0.9 * c,
        bay_m=(-1.6 * c, -0.2 * c),
        pitch_chord_m=0.72 * c,
        fin_chord_m=0.62 * c,
        model_class=ModelClass.CAMERA_SHIP,
        pack_minutes=14.0,
    )


def sailplane(b: float) -> Shape:
    """Return a long slender wing, body to the tail, no motor. ``b``: span [m]."""
    c = b / 12.0
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.25 * c,
        ((0, 0, 1.15 * c, 0), (0.28 * b, 0.02 * c, 1.1 * c, 0.012 * b), (0.5 * b, 0.22 * c, 0.6 * c, 0.045 * b)),
        incidence_deg=2,
        camber=Camber.SEMI_SYMMETRICAL,
        hinge=0.78,
        control=(0.55, 0.96),
    )
    tail = surface("tail", Role.TAIL, 4.7 * c, 0.0, ((0, 0, 0.65 * c, 0), (0.115 * b, 0.1 * c, 0.45 * c, 0)), hinge=0.6)
    return Shape(
        b,
        c,
        (wing, tail),
        Body(-2.2 * c, 7.6 * c, 0.42 * c, 0.5 * c),
        Fin(4.7 * c, 0.22 * c, 1.05 * c, 0.8 * c, 0.55 * c, 0.25 * c),
        None,
        loading=0.45,
        battery_x_m=-1.6 * c,
        bay_m=(-2.0 * c, -0.6 * c),
        pitch_chord_m=0.55 * c,
        fin_chord_m=0.6 * c,
        model_class=ModelClass.GLIDER,
        battery_share=0.14,
        pack_minutes=20.0,
    )


def v_tail(b: float) -> Shape:
    """Return a shoulder wing with two tail surfaces at 35 degrees that pitch and yaw. ``b``: span [m]."""
    c = b / 7.5
    wing = surface(
        "wing",
        Role.WING,
        0.0,
        0.12 * c,
        ((0, 0, 1.15 * c, 0), (b / 2, 0.15 * c, 0.78 * c, 0.03 * b)),
        incidence_deg=1.5,
        camber=Camber.SEMI_SYMMETRICAL,
        control=AILERON,
    )
    reach = 0.17 * b
    tail = surface(
        "tail",
        Role.TAIL,
        3.1 * c,
        0.34 * c,
        ((0, 0, 0.82 * c, 0), (reach, 0.2 * c, 0.52 * c, 0.70 * reach)),
        hinge=0.66,
    )
    return Shape(
        b,
        c,
        (wing, tail),
        Body(-1.1 * c, 4.9 * c, 0.36 * c, 0.42 * c),
        None,
        motor(-1.12 * c, 0.0, mass=mass_of(b, c, 0.7), pull=0.85, diameter=0.15 * b, down=1.5, right=1.5),
        loading=0.7,
        battery_x_m=-0.4 * c,
        bay_m=(-0.9 * c, 0.1 * c),
        pitch_chord_m=0.66 * c,
        fin_chord_m=0.66 * c,
        model_class=ModelClass.SPORT,
    )


def biplane(b: float) -> Shape:
    """Return two wings, the upper one ahead, the tail behind. ``b``: span [m]."""
    return _multiplane(b, ("lower wing", "wing"), gap=0.95, stagger=0.25, loading=1.05)


def triplane(b: float) -> Shape:
    """Return three wings stepped forward from bottom to top, the tail behind. ``b``: span [m]."""
    return _multiplane(b, ("lower wing", "middle wing", "wing"), gap=0.72, stagger=0.12, loading=1.2)


def _multiplane(b: float, names: tuple[str, ...], *, gap: float, stagger: float, loading: float) -> Shape:
    # The top wing is the reference: its root is the datum and the body hangs below it.
    c = b / 5.4
    top = len(names) - 1
    wings = [
        surface(
            name,
            Role.WING,
            stagger * (top - i) * c,
            (0.55 - gap * (top - i)) * c,
            ((0, 0, c, 0), (0.5 * b, 0.0, c, 0.03 * b)),
            incidence_deg=1.5,
            camber=Camber.SEMI_SYMMETRICAL,
            control=AILERON,
        )
        for i, name in enumerate(names)
    ]
    tail = surface(
        "tail",
        Role.TAIL,
        2.9 * c,
        0.05 * c,
        ((0, 0, 0.78 * c, 0), (0.21 * b, 0.12 * c, 0.55 * c, 0)),
        camber=Camber.FLAT_PLATE,
        hinge=0.64,
    )
    return Shape(
        b,
        c,
        (*reversed(wings), tail),
        Body(-0.95 * c, 4.5 * c, 0.42 * c, 0.55 * c),
        Fin(2.9 * c, 0.14 * c, 0.85 * c, 0.78 * c, 0.45 * c, 0.25 * c),
        motor(-1.0 * c, 0.0, mass=mass_of(b, c, loading), pull=0.8, diameter=0.24 * b, down=2, right=2),
        loading=loading,
        battery_x_m=-0.4 * c,
        bay_m=(-0.75 * c, 0.2 * c),
        pitch_throw_deg=20,
        pitch_chord_m=0.66 * c,
        fin_chord_m=0.62 * c,
        model_class=ModelClass.SPORT,
    )
