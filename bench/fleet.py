"""A fleet of invented conventional models with hidden faults, for closed-loop studies."""

from __future__ import annotations

import math

import numpy as np

from jinba.core.airframe.parts import Airframe, Body, Camber, Fin, Motor, Role, Section, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration, JigReading, ModelClass
from jinba.core.controls.surface_control import Control
from jinba.core.flight.faults import Faults, Nature, draw_faults, draw_nature
from jinba.core.flight.pilot import SimulatedModel
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind, sum_items
from jinba.core.observe.parameters import COUNT, Array, P
from jinba.core.observe.situation import design_of


def random_configuration(rng: np.random.Generator) -> Configuration:
    """Return a random conventional model, tractor or pusher, 0.9 to 2.6 m span, balanced near 14 % static margin."""
    span, aspect = rng.uniform(0.9, 2.6), rng.uniform(5.0, 9.0)
    chord, taper = span / aspect, rng.uniform(0.5, 1.0)
    root = 2 * chord / (1 + taper)
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        rng.uniform(-0.2, 0.35) * chord,
        (
            Section(0.0, 0.0, root),
            Section(span / 2, rng.uniform(0, 0.3) * root, root * taper, span / 2 * math.radians(rng.uniform(0, 5))),
        ),
        incidence_rad=math.radians(rng.uniform(0.5, 2.5)),
        camber=Camber.SEMI_SYMMETRICAL if rng.random() < 0.6 else Camber.SYMMETRICAL,
        hinge_fraction=0.75,
        control_inner=rng.uniform(0.3, 0.55),
        control_outer=0.96,
    )
    arm = rng.uniform(2.4, 3.4) * chord
    volume = rng.uniform(0.42, 0.62)
    tail_area = volume * span * chord * chord / arm
    tail_span = math.sqrt(tail_area * rng.uniform(3.5, 5.0))
    tail_chord = tail_area / tail_span
    tail = Surface(
        "tail",
        Role.TAIL,
        0.25 * chord + arm - 0.25 * tail_chord,
        wing.z_m + rng.choice([-1, 1]) * rng.uniform(0.05, 0.1) * span,
        (Section(0.0, 0.0, tail_chord * 1.1), Section(tail_span / 2, 0.1 * tail_chord, tail_chord * 0.9)),
        camber=Camber.FLAT_PLATE,
        hinge_fraction=0.65,
    )
    fin_height = 0.16 * span
    fin = Fin(tail.x_m, tail.z_m, fin_height, 1.1 * tail_chord, 0.7 * tail_chord, 0.2 * tail_chord)
    mass = rng.uniform(0.55, 0.95) * 9.0 * (span * chord) ** 1.25
    pusher = rng.random() < 0.35
    motor = Motor(
        0.9 * root if pusher else -0.9 * root,
        rng.uniform(-0.03, 0.03) * chord,
        mass * 9.81 * rng.uniform(0.6, 1.1),
        0.16 * span,
        tilt_down_rad=math.radians(rng.uniform(0, 2)),
        bolt_spacing_m=0.016 + 0.01 * span,
    )
    body = Body(-1.2 * root, 1.2 * root + tail.x_m + tail_chord, 0.09 * span, 0.10 * span)
    airframe = Airframe((wing, tail), body, fin, motor)

    def control(axis: Axis, throw: float, click: float, c: float) -> Control:
        return Control(axis, math.radians(throw), math.radians(click), c, rng.uniform(0.010, 0.018))

    battery = rng.uniform(0.15, 0.28) * mass
    items = (
        Item("frame", "Airframe", mass - battery, 0.3 * chord, kind=ItemKind.AIRFRAME),
        Item("pack", "Flight pack", battery, 0.0, kind=ItemKind.BATTERY, bay_m=(-1.5 * chord, 1.5 * chord)),
    )
    c = Configuration(
        airframe,
        items,
        control(Axis.PITCH, 18, 0.25, 0.35 * tail_chord),
        control(Axis.ROLL, 16, 0.25, 0.25 * chord),
        control(Axis.YAW, 22, 0.3, 0.35 * tail_chord),
        model_class=ModelClass.SPORT,
        flown_inverted=True,
    )
    return balanced(c, static_margin=rng.uniform(0.10, 0.15), jig_sigma_m=0.010 * chord)


def balanced(c: Configuration, *, static_margin: float, jig_sigma_m: float) -> Configuration:
    """Return the configuration with its airframe mass shifted so that the bench's static margin is as wanted, jig read."""
    from dataclasses import replace

    p = planform_of(c.airframe.wing)
    x = design_of(c).aero.neutral_point.x_m - static_margin * p.mac_m
    pack = c.items[1]
    total = sum_items(c.items).mass_kg
    frame = replace(c.items[0], x_m=(x * total - pack.mass_kg * pack.x_m) / (total - pack.mass_kg))
    return replace(c, items=(frame, pack), jig=JigReading(x, jig_sigma_m, x))


def random_model(rng: np.random.Generator) -> SimulatedModel:
    """Return a random configuration with faults and true coefficients; the surfaces stand at the bench's trim guess."""
    from dataclasses import replace

    from jinba.core.observe.situation import situation, trim_elevator_rad

    c = random_configuration(rng)
    d = design_of(c)
    guess = trim_elevator_rad(situation(d, np.zeros(COUNT), speed_mps=d.cruise_speed_mps))
    c = replace(c, elevator=replace(c.elevator, mechanical_rad=guess))
    return SimulatedModel(c, draw_faults(rng, static_margin_sigma=d.static_margin_sigma), draw_nature(rng))


def truth_vector(faults: Faults, nature: Nature) -> Array:
    """Return the unknowns (COUNT,) that a perfect observer of the simulated model would state."""
    x = np.zeros(COUNT)
    x[P.STATIC_MARGIN] = faults.static_margin
    x[P.PITCH_MOMENT] = faults.pitch_moment
    x[P.THRUST_DOWN] = faults.thrust_down_rad
    x[P.THRUST_RIGHT] = faults.thrust_right_rad
    x[P.LATERAL_CG] = faults.lateral_cg
    x[P.TWIST] = faults.twist_rad
    x[P.YAW_OFFSET] = faults.yaw_offset_rad
    x[P.LN_ELEVATOR] = math.log(nature.elevator * nature.tail_slope)
    x[P.LN_TORQUE] = math.log(nature.torque * nature.thrust)
    x[P.LN_SPEED] = math.log(nature.speed)
    x[P.LN_AILERON] = math.log(nature.aileron)
    x[P.LN_CL_MAX] = math.log(nature.cl_max)
    return x
