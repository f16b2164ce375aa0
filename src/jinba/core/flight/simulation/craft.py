"""A model as the simulation flies it: strips, bodies, propellers and mass as arrays in body axes. SI units.

Body axes: x forward, y right, z down, from the true balance point. Signs of controls as in ``core.frames``.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.layout import control_surface_of, panel_dihedral_rad, pitch_control_of, pitch_sense
from jinba.core.airframe.parts import Airframe, Fin, Motor, Role, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration, balance_of
from jinba.core.constants import AIR_VISCOSITY_PA_S
from jinba.core.controls.fitting import Command
from jinba.core.flight.simulation.mass import inertia_about
from jinba.core.flight.simulation.polars import COLUMNS, SLOPE, at_reynolds, family_of, flap_effect, flap_moment_share
from jinba.core.flight.simulation.spread import Spread, Wrong
from jinba.core.flight.simulation.stepping import substeps
from jinba.core.flight.simulation.vortices import Strip, wash
from jinba.core.frames import PitchControl

Array = NDArray[np.float64]

_STRIPS = {Role.WING: 8, Role.TAIL: 5, Role.CANARD: 5}
_FIN_STRIPS = 4
_WING_LIKE = 0.5
"""Share of the wing's area from which a surface behind it counts as a rear wing."""

_BODY_PARTS = 14
_FLAP_RATIO = 0.25
"""Chord of a flap over that of the wing where only its hinge length is known: common practice, no source."""

_SIDE_SHARE = 0.75
"""Of an ideal body's moment in a sideslip, what friction leaves: order of DATCOM's body charts, 1978 (from memory)."""

_SLACK_RAD = 0.006
"""Slack round zero lift of a thick section below a Reynolds number of 1e5: a bubble works against the first degree. From memory."""

PITCH, ROLL, YAW, FLAP = range(4)
"""What moves: surfaces of the pitch, roll and yaw control, and the flaps. [rad]"""


class Craft(NamedTuple):
    """One model. n strips, m body parts, k propellers; body axes from the balance point. [m, kg, rad, N]

    ``place``, ``ahead``, ``up``, ``along`` (3, n): quarter chord, chord line forward, normal, span axis (nose up about it).
    ``row`` (n, 9): section. ``flap`` (n, 4): shift of the lift curve per surface angle of pitch, roll and yaw control and flaps;
    ``flap_moment`` (n). ``pressure`` (n): root of the dynamic pressure over the free stream. ``own``,
    ``others`` (n, 2n): wash of strip j of the same and of another surface on strip i, then the same for the moment; ``quicken``
    (n, n, transposed): settles a surface's own circulation at once. ``in_stream``
    (k, n): share of a propeller's stream; ``stream_arm`` (k, 2, n): right of and below its axis. ``body_*`` (m): station, side, height, growth of what lifts and of what pushes aside [m2], width.
    ``prop_*`` (k): place (k, 3), axis (k, 3), static thrust, disk area, pitch speed, torque at full throttle (right wing
    down positive), way it turns. ``inertia`` (3, 3) and its inverse. ``substeps``: into how many the step of a run is divided.
    ``tail_arm``: from wing to what flies in its wake. ``wing_height``: rolling a slipping body adds at
    its wing [m3]. ``wheels`` (w, 3): where they touch the ground.
    """

    mass: float
    inertia: Array
    inverse: Array
    density: float
    area: float
    span: float
    chord: float
    place: Array
    ahead: Array
    up: Array
    along: Array
    strip_area: Array
    strip_width: Array
    strip_chord: Array
    row: Array
    flap: Array
    flap_moment: Array
    pressure: Array
    own: Array
    others: Array
    quicken: Array
    in_stream: Array
    stream_arm: Array
    body_x: Array
    body_y: Array
    body_z: Array
    body_lift: Array
    body_push: Array
    body_width: Array
    prop_place: Array
    prop_axis: Array
    prop_static: Array
    prop_area: Array
    prop_pitch_speed: Array
    prop_torque: Array
    prop_turn: Array
    swirl: float
    tail_arm: float
    slack: float
    delay: float
    rate: float
    substeps: int
    drag_area: float
    wing_height: float
    wheels: Array


class _Row(NamedTuple):
    strip: Strip
    place: Array
    ahead: Array
    up: Array
    along: Array
    area: float
    chord: float
    row: Array
    flap: Array
    flap_moment: float
    pressure: float


def craft_of(c: Configuration, spread: Spread | None = None, wrong: Wrong | None = None) -> Craft:
    """Return the model of a configuration with true coefficients and with what is wrong with it.

    ``spread`` None: the middle of every published spread; ``wrong`` None: nothing.
    """
    spread, wrong = spread or Spread(), wrong or Wrong()
    balance, a = balance_of(c), c.airframe
    origin = np.array(
        [balance.x_m + wrong.cg_aft_m, balance.mass.y_m + wrong.cg_right_m, balance.mass.z_m], dtype=float
    )
    p = planform_of(a.wing)
    reynolds_speed = _reynolds_speed(c, balance.mass.mass_kg)
    rows = _rows(c, spread, wrong, origin, reynolds_speed)
    washed = wash(tuple(r.strip for r in rows))
    surface = np.array([r.strip.surface for r in rows])
    other = surface[:, None] != surface[None, :]
    # A body is an end plate to the fin on it: as if it were so much more slender.
    fin = surface >= len(a.surfaces)
    plate = np.where(fin[:, None] & fin[None, :], 1.0 / spread.fin_plate, 1.0)
    induced = np.where(other, spread.wash, plate) * washed.induced
    both = np.ascontiguousarray(np.hstack([induced.T, washed.offset.T]))
    place = np.array([r.place for r in rows])
    motors = _motors(a)
    props = _propellers(motors, c.density_kg_m3, spread, wrong, origin, reynolds_speed)
    inertia = inertia_about(c, balance.mass.mass_kg, origin)
    scale = np.sqrt(np.array(spread.inertia))
    inertia = inertia * np.outer(scale, scale)
    body = _bodies(a, origin, spread)
    wing_x = a.wing.x_m
    behind = [s.x_m for s in a.surfaces if s.x_m > wing_x] or [wing_x + p.mac_m]
    in_stream, arm = _streams(place, props, spread)
    inverse = np.asarray(np.linalg.inv(inertia), dtype=np.float64)
    gains = np.array([0.5 * c.density_kg_m3 * reynolds_speed * r.row[SLOPE] * r.area * r.pressure**2 for r in rows])
    return Craft(
        mass=balance.mass.mass_kg,
        inertia=inertia,
        inverse=inverse,
        density=c.density_kg_m3,
        area=p.area_m2,
        span=p.span_m,
        chord=p.mac_m,
        place=_columns([r.place for r in rows]),
        ahead=_columns([r.ahead for r in rows]),
        up=_columns([r.up for r in rows]),
        along=_columns([r.along for r in rows]),
        strip_area=np.array([r.area for r in rows]),
        strip_width=np.array([r.area / r.chord for r in rows]),
        strip_chord=np.array([r.chord for r in rows]),
        row=np.array([r.row for r in rows]),
        flap=np.array([r.flap for r in rows]),
        flap_moment=np.array([r.flap_moment for r in rows]),
        pressure=np.array([r.pressure for r in rows]),
        own=np.where(np.hstack([other, other]), 0.0, both),
        others=np.where(np.hstack([other, other]), both, 0.0),
        quicken=_quickening(rows, induced, surface),
        in_stream=np.ascontiguousarray(in_stream.T),
        stream_arm=np.ascontiguousarray(arm.transpose(1, 2, 0)),
        **body,
        **props,
        swirl=spread.swirl,
        tail_arm=max(max(behind) - wing_x, p.mac_m),
        slack=spread.slack_rad,
        delay=spread.delay_s,
        rate=spread.rate_rad_s,
        substeps=substeps(inverse=inverse, force_per_speed=gains, place=place, up=np.array([r.up for r in rows])),
        drag_area=0.006 * p.area_m2 * spread.drag,
        wing_height=_wing_height(a, p.area_m2, p.span_m) * spread.body,
        wheels=_wheels(a, origin),
    )


def _columns(rows: list[Array]) -> Array:
    """Return vectors, one a strip, as three rows: compiled code then takes several strips at once."""
    return np.ascontiguousarray(np.array(rows).T)


def _quickening(rows: list[_Row], induced: Array, surface: Array) -> Array:
    """Return the matrix (n, n) by which the strips of each surface settle at once in the attached range.

    The wanted circulation answers a circulation with -0.5 c a times the wash it makes; (1 + 0.5 c a W)^-1 takes that into
    account, surface by surface: what one does to another comes later, with its wake. Derived here.
    """
    answer = np.array([0.5 * r.chord * r.row[SLOPE] for r in rows])[:, None] * induced
    same = surface[:, None] == surface[None, :]
    return np.ascontiguousarray(np.linalg.inv(np.eye(len(rows)) + np.where(same, answer, 0.0)).T)


def _reynolds_speed(c: Configuration, mass_kg: float) -> float:
    # Sections are taken at one speed: that of a lift coefficient of a half. Their data change slowly.
    return c.cruise_speed_mps or math.sqrt(
        2.0 * mass_kg * 9.81 / (c.density_kg_m3 * planform_of(c.airframe.wing).area_m2 * 0.5)
    )


def _to_body(point: tuple[float, float, float] | Array, origin: Array) -> Array:
    x, y, z = np.asarray(point) - origin
    return np.array([-x, y, -z])


def _rows(c: Configuration, spread: Spread, wrong: Wrong, origin: Array, speed: float) -> list[_Row]:
    a, rows = c.airframe, []
    for number, surface in enumerate(a.surfaces):
        for side in (-1.0, 1.0):
            rows += _half(c, surface, number, side, spread, wrong, origin, speed)
    if a.fin is not None:
        for number, y in enumerate((0.0,) if a.fin.count == 1 else (-a.fin.y_m, a.fin.y_m)):
            rows += _fin_rows(a.fin, len(a.surfaces) + number, y, spread, wrong, origin)
    return rows


def _half(
    c: Configuration, s: Surface, number: int, side: float, spread: Spread, wrong: Wrong, origin: Array, speed: float
) -> list[_Row]:
    count = _STRIPS[s.role]
    root = s.sections[0].y_m
    edges = root + (s.half_span_m - root) * np.sin(np.linspace(0.0, 0.5 * math.pi, count + 1))
    ys = [q.y_m for q in s.sections]
    x = s.x_m + np.interp(edges, ys, [q.x_offset_m for q in s.sections])
    z = s.z_m + np.interp(edges, ys, [q.z_offset_m for q in s.sections])
    chord = np.interp(edges, ys, [q.chord_m for q in s.sections])
    twists = [q.twist_rad if side > 0 or q.left_twist_rad is None else q.left_twist_rad for q in s.sections]
    wing = s.role is Role.WING
    # A rear wing is no tail in a body's wake: it has a wing's section, and half of the loss.
    large = planform_of(s).area_m2 > _WING_LIKE * planform_of(c.airframe.wing).area_m2
    behind = s.role is Role.TAIL and not large
    pressure = spread.tail_pressure if behind else 0.5 * (1.0 + spread.tail_pressure) if s.role is Role.TAIL else 1.0
    pitches = s is c.airframe.pitch_surface or (c.airframe.pitch_surface is None and wing)
    found = []
    for i in range(count):
        y = 0.5 * (edges[i] + edges[i + 1])
        share = y / s.half_span_m
        twist = float(np.interp(y, ys, twists))
        if wing:
            twist -= side * wrong.twist_rad * share
        if pitches:
            twist += wrong.tail_incidence_rad
        inner, outer = (
            ((x[i], side * edges[i], z[i]), chord[i]),
            ((x[i + 1], side * edges[i + 1], z[i + 1]), chord[i + 1]),
        )
        left, right = (outer, inner) if side < 0 else (inner, outer)
        strip = Strip(number, left[0], right[0], (left[1], right[1]))
        gains, nose_down = _gains(c, s, side, float(edges[i]), float(edges[i + 1]), spread)
        found.append(
            _row(
                strip,
                s.incidence_rad + twist,
                _section_row(
                    s,
                    spread,
                    0.5 * (chord[i] + chord[i + 1]),
                    c.density_kg_m3,
                    speed,
                    side,
                    small=not (wing or large),
                    wing=wing,
                ),
                gains,
                nose_down,
                math.sqrt(pressure),
                origin,
                spread.centre if wing or large else 0.0,
            )
        )
    return found


def _section_row(
    s: Surface, spread: Spread, chord: float, density: float, speed: float, side: float, *, small: bool, wing: bool
) -> Array:
    family = family_of(s)
    reynolds = density * speed * chord / AIR_VISCOSITY_PA_S
    uneven = 1.0 + 0.5 * side * spread.uneven_peak if wing else 1.0
    slope = 2.0 * math.pi * (spread.tail_slope if small else spread.wing_slope)
    thick = family.thick and s.camber.value == "symmetrical" and reynolds < 1e5
    # Friction of a section, both sides, falls with the Reynolds number: 0.020 at 1e5, 0.010 at 1e6 (from memory).
    friction = 0.020 * (max(reynolds, 2e4) / 1e5) ** -0.3
    return np.array(
        [
            slope,
            family.zero_lift_rad + (spread.zero_lift_rad if wing else 0.0),
            at_reynolds(family.peak, reynolds) * spread.peak * uneven,
            at_reynolds(family.trough, reynolds) * spread.peak * uneven,
            friction * spread.drag,
            0.006,
            family.moment + (spread.moment if wing else 0.0),
            spread.fall_rad,
            _SLACK_RAD if thick else 0.0,
        ]
    )


def _gains(
    c: Configuration, s: Surface, side: float, inner: float, outer: float, spread: Spread
) -> tuple[Array, float]:
    """Return how surface angles shift this strip's lift curve (4,), and the moment share of its flap."""
    gains = np.zeros(4)
    ratio = 1.0 - s.hinge_fraction
    if s is c.airframe.wing:
        gains[FLAP] = _flapped(c, inner, outer) * spread.aileron
    if ratio <= 0.0:
        return gains, flap_moment_share(_FLAP_RATIO)
    low, high = s.control_inner * s.half_span_m, s.control_outer * s.half_span_m
    covered = max(0.0, min(outer, high) - max(inner, low)) / (outer - inner)
    effect = covered * flap_effect(ratio)
    if s is control_surface_of(c.airframe):
        gains[PITCH] = pitch_sense(c.airframe) * effect * spread.elevator
    a = c.airframe
    if s is a.wing:
        # Right aileron up for a roll to the right; its own surfaces alone, or those that pitch a tailless model too.
        gains[ROLL] = -side * effect * spread.aileron
    if pitch_control_of(a) in (PitchControl.V_TAIL, PitchControl.INVERTED_V_TAIL) and s is a.pitch_surface:
        gains[YAW] = -side * math.copysign(1.0, panel_dihedral_rad(s)) * effect * spread.rudder
    return gains, flap_moment_share(ratio)


def _flapped(c: Configuration, inner: float, outer: float) -> float:
    """Return the shift of the lift curve per flap angle of a strip of the wing: flaps inboard of the ailerons, or flaperons."""
    if c.controls is None or not c.controls.moving(Command.FLAP):
        return 0.0
    wing = c.airframe.wing
    flaperons = wing.control_inner < 0.25
    low, high = (wing.control_inner, wing.control_outer) if flaperons else (0.1, wing.control_inner)
    half = wing.half_span_m
    covered = max(0.0, min(outer, high * half) - max(inner, low * half)) / (outer - inner)
    return covered * flap_effect(_FLAP_RATIO)


def _wing_height(a: Airframe, area: float, span: float) -> float:
    """Return what a wing above or below its body rolls when it slips, times area and span: a low wing falls into the wind.

    Delta C_l,beta = 1.2 sqrt(A) (z/b) (2 d/b), z of the wing below the middle of the body. References: DATCOM, 1978,
    sec. 5.2.2 (from memory).
    """
    # A wing on struts, above the body: no more than one that lies on it does.
    below = max(-a.body.height_m, min(a.body.height_m, a.body.z_m - a.wing.z_m))
    size = math.sqrt(a.body.width_m * a.body.height_m)
    return 1.2 * math.sqrt(span * span / area) * (below / span) * (2.0 * size / span) * area * span


def _wheels(a: Airframe, origin: Array) -> Array:
    """Return where the wheels touch the ground (3, 3), body axes [m]; none of a model that is launched by hand."""
    if a.gear is None:
        return np.zeros((0, 3))
    g = a.gear
    points = (
        (g.main_x_m, g.main_y_m, g.ground_z_m),
        (g.main_x_m, -g.main_y_m, g.ground_z_m),
        (g.third_x_m, 0.0, g.ground_z_m),
    )
    return np.array([_to_body(p, origin) for p in points])


def _fin_rows(f: Fin, number: int, y: float, spread: Spread, wrong: Wrong, origin: Array) -> list[_Row]:
    heights = f.height_m * np.sin(np.linspace(0.0, 0.5 * math.pi, _FIN_STRIPS + 1))
    share = heights / f.height_m
    chord = f.root_chord_m + share * (f.tip_chord_m - f.root_chord_m)
    x = f.x_m + share * f.sweep_offset_m
    gains = np.zeros(4)
    gains[YAW] = -flap_effect(1.0 - f.hinge_fraction) * spread.rudder
    slope = 2.0 * math.pi * spread.tail_slope
    section = np.array([slope, 0.0, 0.75 * spread.peak, 0.75 * spread.peak, 0.018 * spread.drag, 0.006, 0.0, 0.15, 0.0])
    rows = []
    for i in range(_FIN_STRIPS):
        low, high = (x[i], y, f.z_m + heights[i]), (x[i + 1], y, f.z_m + heights[i + 1])
        strip = Strip(number, low, high, (float(chord[i]), float(chord[i + 1])))
        # A trailing edge to the left turns the leading edge right: less incidence against the normal, which points left.
        turned = -wrong.fin_left_rad
        rows.append(
            _row(
                strip,
                turned,
                section,
                gains,
                flap_moment_share(1.0 - f.hinge_fraction),
                math.sqrt(spread.tail_pressure),
                origin,
            )
        )
    return rows


def _row(
    strip: Strip,
    incidence: float,
    section: Array,
    gains: Array,
    nose_down: float,
    pressure: float,
    origin: Array,
    centre: float = 0.0,
) -> _Row:
    left, right = np.array(strip.left), np.array(strip.right)
    chord = 0.5 * sum(strip.chords)
    middle = 0.5 * (left + right) + np.array([(0.25 + centre) * chord, 0.0, 0.0])
    across = right - left
    width = math.hypot(across[1], across[2])
    # The normal, drawing axes (0, -dz, dy)/w, in body axes; the chord line tilts about the strip's own span axis.
    flat = np.array([0.0, -across[2], -across[1]]) / width
    forward = np.array([1.0, 0.0, 0.0])
    ahead = forward * math.cos(incidence) + flat * math.sin(incidence)
    up = flat * math.cos(incidence) - forward * math.sin(incidence)
    assert section.shape == (COLUMNS,)
    return _Row(
        strip,
        _to_body(middle, origin),
        ahead,
        up,
        np.cross(forward, flat),
        width * chord,
        chord,
        section,
        gains,
        nose_down,
        pressure,
    )


def _bodies(a: Airframe, origin: Array, spread: Spread) -> dict[str, Array]:
    """Return the bodies in parts: upwash ahead of the wing, none over it, its wake behind (Multhopp, NACA TM-1036, 1942, from
    memory), so that a closed body turns and does not lift."""
    x, y, z, lifting, siding, width = [], [], [], [], [], []
    front = a.wing.x_m
    rear = front + a.wing.sections[0].chord_m
    for body in (a.body, *a.nacelles):
        for side in (0.0,) if body.count == 1 else (-1.0, 1.0):
            edges = body.nose_x_m + body.length_m * np.linspace(0.0, 1.0, _BODY_PARTS + 1)
            t = np.linspace(0.0, 1.0, _BODY_PARTS + 1)
            # Round nose, long tail: full width from a fifth to six tenths of the length.
            shape = np.minimum(np.sqrt(np.clip(t / 0.2, 0, 1)), np.clip((1.0 - t) / 0.4, 0.0, 1.0) ** 0.7)
            # A body across the flow carries as much air as a circle on its breadth: what is wide lifts, what is high pushes.
            end = max(edges[-1], rear + 1e-6)
            share = np.where(edges < front, 1.25, 0.55 * np.clip((edges - rear) / (end - rear), 0.0, 1.0))
            lift = 0.25 * math.pi * (body.width_m * shape) ** 2 * share * spread.body
            push = 0.25 * math.pi * (body.height_m * shape) ** 2 * _SIDE_SHARE * spread.body
            for i in range(_BODY_PARTS):
                middle = 0.5 * (edges[i] + edges[i + 1])
                place = _to_body((middle, side * body.y_m, body.z_m), origin)
                x.append(place[0])
                y.append(place[1])
                z.append(place[2])
                lifting.append(lift[i + 1] - lift[i])
                siding.append(push[i + 1] - push[i])
                width.append(
                    0.5 * (shape[i] + shape[i + 1]) * 0.5 * (body.width_m + body.height_m) * (edges[i + 1] - edges[i])
                )
    return {
        "body_x": np.array(x),
        "body_y": np.array(y),
        "body_z": np.array(z),
        "body_lift": np.array(lifting),
        "body_push": np.array(siding),
        "body_width": np.array(width),
    }


def _motors(a: Airframe) -> list[tuple[Motor, float]]:
    if a.motor is None:
        return []
    return [
        (m, side * m.y_m) for m in (a.motor, *a.further_motors) for side in ((0.0,) if m.count == 1 else (-1.0, 1.0))
    ]


def _propellers(
    motors: list[tuple[Motor, float]], density: float, spread: Spread, wrong: Wrong, origin: Array, speed: float
) -> dict[str, Array]:
    place, axis, static, area, pitch_speed, torque, turn = [], [], [], [], [], [], []
    for m, y in motors:
        down, right = m.tilt_down_rad + wrong.thrust_down_rad, m.tilt_right_rad + wrong.thrust_right_rad
        thrust = m.static_thrust_n * spread.thrust
        disk = 0.25 * math.pi * m.propeller_diameter_m**2
        stream = math.sqrt(thrust / (2.0 * density * disk))
        # Revolutions from a thrust coefficient of 0.10, power from a figure of merit of 0.6: small propellers (from memory).
        turns = math.sqrt(thrust / (0.10 * density * m.propeller_diameter_m**4))
        moment = thrust * stream / 0.6 / (2.0 * math.pi * turns) * spread.torque
        way = 1.0 if m.turns_right else -1.0
        if m.counter_rotating and y < 0:
            way = -way
        place.append(_to_body((m.x_m, y, m.z_m), origin))
        axis.append([math.cos(down) * math.cos(right), math.sin(right) * math.cos(down), math.sin(down)])
        static.append(thrust)
        area.append(disk)
        # The speed at which it pulls no more: over twice the flow through a standing one, and enough to cruise well.
        pitch_speed.append(max(2.3 * stream, 2.0 * speed) * spread.pitch_speed)
        torque.append(-way * moment)
        turn.append(way)
    k = len(motors)
    return {
        "prop_place": np.array(place).reshape(k, 3),
        "prop_axis": np.array(axis).reshape(k, 3),
        "prop_static": np.array(static, dtype=float),
        "prop_area": np.array(area, dtype=float),
        "prop_pitch_speed": np.array(pitch_speed, dtype=float),
        "prop_torque": np.array(torque, dtype=float),
        "prop_turn": np.array(turn, dtype=float),
    }


def _streams(place: Array, props: dict[str, Array], spread: Spread) -> tuple[Array, Array]:
    n, k = len(place), len(props["prop_static"])
    share, arm = np.zeros((n, k)), np.zeros((n, k, 2))
    for j in range(k):
        radius = math.sqrt(props["prop_area"][j] / math.pi)
        for i in range(n):
            off = place[i] - props["prop_place"][j]
            if off[0] >= 0.0:
                continue
            distance = math.hypot(off[1], off[2])
            # The stream contracts to 0.8 of the disk and mixes over a quarter of its radius.
            inside = np.clip((1.05 * radius - distance) / (0.3 * radius), 0.0, 1.0)
            share[i, j] = inside * spread.slipstream
            arm[i, j] = off[1] / radius, off[2] / radius
    return share, arm
