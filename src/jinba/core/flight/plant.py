"""The simulated models as arrays, one entry per model, so that a fleet flies in one run. SI units, body axes."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.layout import pitch_sense
from jinba.core.airframe.parts import Role
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration, balance_of, inertia_kg_m2
from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.flight.faults import Faults, Nature
from jinba.core.power.propulsion import full_thrust_n, thrust_line_of, torque_arm_m
from jinba.core.stability.aero import REAL_FLAP_FACTOR, aero_model
from jinba.core.stability.neutral_point import downwash_gradient, efficiency_of, lift_slope_per_rad
from jinba.core.stability.sections import flap_effectiveness
from jinba.core.stability.stall import stall_speed_mps

Array = NDArray[np.float64]

STRIPS = np.array([-0.875, -0.625, -0.375, -0.125, 0.125, 0.375, 0.625, 0.875])
"""Strip centres as fractions of the half span, left to right."""


_BIPLANE_SHARE = 0.85
"""Lift slope a second or third wing adds, of its own alone: between the coplanar and the far-apart limit. Derived here."""


@dataclass(frozen=True, slots=True)
class Plant:
    """Parameters of the simulated models, shape (n,) each; strips (8, n).

    Positions are body axes from the balance point: forward, right, down. ``a_even``, ``a_odd``: lift slope for the mean
    and for the deviation of the strip angles.
    """

    mass: Array
    ixx: Array
    iyy: Array
    izz: Array
    rho: Array
    area: Array
    span: Array
    chord: Array
    strip_area: Array
    strip_y: Array
    strip_angle: Array
    strip_aileron: Array
    strip_cl_max: Array
    a_even: Array
    a_odd: Array
    wing_x: Array
    wing_z: Array
    dihedral: Array
    cl_zero: Array
    cm_zero: Array
    cd_zero: Array
    induced: Array
    tail_slope_area: Array
    tail_roll: Array
    tail_x: Array
    downwash: Array
    elevator_gain: Array
    cm_elevator: Array
    cm_pitch_rate: Array
    fin_slope_area: Array
    fin_x: Array
    fin_z: Array
    fin_offset: Array
    rudder_gain: Array
    full_thrust: Array
    thrust_x: Array
    thrust_z: Array
    thrust_down: Array
    thrust_right: Array
    torque_arm: Array
    disk_area: Array
    slipstream: Array
    stall_speed: Array
    cruise_speed: Array

    @property
    def shortest_lag_s(self) -> float:
        """Shortest time constant of the fleet's roll and pitch damping at 1.4 times cruise speed; limits the step. [s]

        Derived here (docs/methods/stand-in.md).
        """
        flow = self.rho * 1.4 * self.cruise_speed / 2.0
        roll = self.ixx / (0.7 * flow * self.area * self.span**2 / 2.0)
        own = -self.cm_pitch_rate * self.area * self.chord**2 / 2.0
        pitch = self.iyy / (flow * (self.tail_slope_area * np.maximum(self.tail_x**2, 1e-6) + own) + 1e-9)
        return float(min(roll.min(), pitch.min()))

    @property
    def count(self) -> int:
        """Number of models."""
        return len(self.mass)


def build_plant(models: list[tuple[Configuration, Faults, Nature]]) -> Plant:
    """Return the simulated models of configurations with hidden faults and true coefficients.

    The simulated wing's aerodynamic centre is placed so that a fault-free model has the bench's neutral point; every
    other coefficient is built from its own strip formulas, not from the lattice. Derived here (docs/methods/stand-in.md).
    """
    rows = [_row(*m) for m in models]
    names = rows[0].keys()
    return Plant(**{n: np.stack([np.asarray(r[n], dtype=float) for r in rows], axis=-1) for n in names})


def _row(c: Configuration, faults: Faults, nature: Nature) -> dict[str, float | Array]:
    aero, balance = aero_model(c.airframe), balance_of(c)
    p, mass = aero.planform, balance.mass.mass_kg
    ixx, iyy = inertia_kg_m2(c, mass)
    x_cg = balance.x_m - faults.static_margin * p.mac_m
    wing = _wing(c, faults, nature)
    tail = _tail(c, nature, x_cg, wing["a_even_scalar"])
    x_ac = _wing_centre(aero.neutral_point.x_m, p.area_m2, wing["a_even_scalar"], tail, x_cg)
    cl_max = aero.cl_max * nature.cl_max
    stall = stall_speed_mps(mass_kg=mass, area_m2=p.area_m2, cl_max=cl_max, density_kg_m3=c.density_kg_m3)
    design_stall = stall_speed_mps(mass_kg=mass, area_m2=p.area_m2, cl_max=aero.cl_max, density_kg_m3=c.density_kg_m3)
    cruise = (c.cruise_speed_mps or 1.55 * design_stall) * nature.speed
    row: dict[str, float | Array] = {
        "mass": mass,
        "ixx": ixx * nature.inertia,
        "iyy": iyy * nature.inertia,
        "izz": 0.95 * (ixx + iyy) * nature.inertia,
        "rho": c.density_kg_m3,
        "area": p.area_m2,
        "span": p.span_m,
        "chord": p.mac_m,
        "strip_area": wing["strip_area"],
        "strip_y": STRIPS * p.span_m / 2 - balance.mass.y_m - faults.lateral_cg * p.span_m,
        "strip_angle": wing["strip_angle"],
        "strip_aileron": wing["strip_aileron"],
        "strip_cl_max": cl_max * 1.08 * (1 + nature.stall_asymmetry * np.sign(STRIPS) * (np.abs(STRIPS) > 0.5)),
        "a_even": wing["a_even_scalar"],
        "a_odd": wing["a_odd_scalar"],
        "wing_x": x_cg - x_ac,
        "wing_z": -(c.airframe.wing.z_m - balance.mass.z_m),
        "dihedral": wing["dihedral"],
        "cl_zero": aero.cl_zero,
        # The wing's lift at zero angle acts at its own centre, ahead of the neutral point: its moment is already counted.
        "cm_zero": aero.cm_zero + faults.pitch_moment - aero.cl_zero * (aero.neutral_point.x_m - x_ac) / p.mac_m,
        "cd_zero": aero.cd_zero * nature.drag,
        "induced": aero.induced_factor,
        "stall_speed": stall,
        "cruise_speed": cruise,
        "slipstream": nature.slipstream,
    }
    row |= tail
    row |= _fin(c, faults, nature, x_cg, balance.mass.z_m)
    row |= _motor(c, faults, nature, x_cg, balance.mass.z_m)
    return row


def _wing(c: Configuration, faults: Faults, nature: Nature) -> dict[str, float | Array]:
    wing = c.airframe.wing
    p = planform_of(wing)
    y = np.abs(STRIPS) * p.span_m / 2
    ys = [s.y_m for s in wing.sections]
    chords = np.interp(y, ys, [s.chord_m for s in wing.sections])
    # Loads follow the chord on slender wings and an ellipse on stubby ones: the slender limit of roll damping is pi A/32.
    stubby = float(np.clip((4.0 - p.aspect_ratio) / 2.0, 0.0, 1.0))
    ellipse = np.sqrt(1.0 - STRIPS**2)
    loading = (1.0 - stubby) * chords / chords.sum() + stubby * ellipse / ellipse.sum()
    areas = loading * p.area_m2
    wings = sum(planform_of(s).area_m2 for s in c.airframe.surfaces if s.role is Role.WING) / p.area_m2
    together = 1.0 + _BIPLANE_SHARE * (wings - 1.0)
    rise = wing.sections[-1].z_offset_m - wing.sections[0].z_offset_m
    middle = np.abs(STRIPS)
    covered = np.minimum(middle + 0.125, wing.control_outer) - np.maximum(middle - 0.125, wing.control_inner)
    inside = np.clip(covered / 0.25, 0.0, 1.0)
    tau = flap_effectiveness(wing.hinge_fraction) * REAL_FLAP_FACTOR
    return {
        "strip_area": areas,
        "strip_angle": -faults.twist_rad * STRIPS / wings,
        "strip_aileron": -np.sign(STRIPS) * inside * tau * nature.aileron / wings,
        "a_even_scalar": together * 0.9 * lift_slope_per_rad(p.aspect_ratio) * nature.lift_slope,
        "a_odd_scalar": together * 0.9 * 0.92 * lift_slope_per_rad(p.aspect_ratio / 2) * nature.roll_slope,
        "dihedral": math.atan2(rise, p.span_m / 2),
    }


def _tail(c: Configuration, nature: Nature, x_cg: float, a_wing: float | Array) -> dict[str, float | Array]:
    tail = c.airframe.pitch_surface
    if tail is None:
        # Elevons: their moment and the swept wing's own damping stand for the tail that is not there.
        aero = aero_model(c.airframe)
        return {
            "tail_slope_area": 0.0,
            "tail_roll": 0.0,
            "tail_x": 0.0,
            "downwash": 0.0,
            "elevator_gain": 0.0,
            "cm_elevator": -aero.pitch_control * nature.elevator,
            "cm_pitch_rate": aero.cm_q,
        }
    w, t = planform_of(c.airframe.wing), planform_of(tail)
    x_tail = t.station_at(0.25)
    behind = tail.x_m > c.airframe.wing.x_m
    gradient = (
        downwash_gradient(
            wing=w,
            lift_slope=float(a_wing),
            tail_arm_m=x_tail - w.station_at(0.25),
            tail_height_m=tail.z_m - c.airframe.wing.z_m,
        )
        if behind
        else 0.0
    )
    slope = 0.9 * lift_slope_per_rad(t.aspect_ratio) * nature.tail_slope * efficiency_of(tail)
    tau = flap_effectiveness(tail.hinge_fraction) * REAL_FLAP_FACTOR * nature.elevator * pitch_sense(c.airframe)
    return {
        "tail_slope_area": slope * t.area_m2,
        "tail_roll": 0.9 * lift_slope_per_rad(t.aspect_ratio / 2) * nature.roll_slope * t.area_m2 * t.span_m**2 / 12.0,
        "tail_x": x_cg - x_tail,
        "downwash": min(gradient, 0.8),
        "elevator_gain": tau,
        "cm_elevator": 0.0,
        "cm_pitch_rate": 0.0,
    }


def _wing_centre(x_np: float, area: float, a_wing: float | Array, tail: dict[str, float | Array], x_cg: float) -> float:
    # Neutral point of wing and tail together equals the bench's: solve for the wing's aerodynamic centre.
    share = float(tail["tail_slope_area"]) * (1.0 - float(tail["downwash"]))
    x_tail = x_cg - float(tail["tail_x"])
    return x_np + share * (x_np - x_tail) / (float(a_wing) * area)


def _fin(c: Configuration, faults: Faults, nature: Nature, x_cg: float, z_cg: float) -> dict[str, float | Array]:
    fin = c.airframe.fin
    if fin is None:
        return _v_tail_as_fin(c, faults, nature, x_cg, z_cg)
    slope = 0.8 * lift_slope_per_rad(1.55 * fin.count * fin.height_m**2 / fin.area_m2) * nature.fin
    return {
        "fin_slope_area": slope * fin.area_m2,
        "fin_x": x_cg - (fin.x_m + 0.3 * fin.root_chord_m + 0.4 * fin.sweep_offset_m),
        "fin_z": -(fin.z_m + 0.4 * fin.height_m - z_cg),
        "fin_offset": faults.yaw_offset_rad,
        "rudder_gain": flap_effectiveness(fin.hinge_fraction) * REAL_FLAP_FACTOR,
    }


def _v_tail_as_fin(
    c: Configuration, faults: Faults, nature: Nature, x_cg: float, z_cg: float
) -> dict[str, float | Array]:
    """Return the fin that stands for a V-tail's hold on yaw; of next to no size for a model without any."""
    aero, surface = aero_model(c.airframe), c.airframe.pitch_surface
    if surface is None or aero.cn_rudder == 0.0:
        return {"fin_slope_area": 0.0, "fin_x": -0.1, "fin_z": 0.0, "fin_offset": 0.0, "rudder_gain": 0.0}
    p, t = aero.planform, planform_of(surface)
    arm = t.station_at(0.25) - aero.neutral_point.x_m
    height = surface.z_m + 0.4 * surface.sections[-1].z_offset_m
    return {
        "fin_slope_area": aero.cn_beta * p.area_m2 * p.span_m / arm * nature.fin,
        "fin_x": x_cg - t.station_at(0.25),
        "fin_z": -(height - z_cg),
        "fin_offset": faults.yaw_offset_rad,
        "rudder_gain": -aero.cn_rudder / aero.cn_beta,
    }


def _motor(c: Configuration, faults: Faults, nature: Nature, x_cg: float, z_cg: float) -> dict[str, float | Array]:
    m = thrust_line_of(c.airframe)
    if m is None:
        zero = dict.fromkeys(("full_thrust", "thrust_x", "thrust_z", "thrust_down", "thrust_right", "torque_arm"), 0.0)
        return {**zero, "disk_area": 1.0}
    return {
        "full_thrust": full_thrust_n(c.airframe) * nature.thrust,
        "thrust_x": x_cg - m.x_m,
        "thrust_z": -(m.z_m - z_cg),
        "thrust_down": m.tilt_down_rad + faults.thrust_down_rad,
        "thrust_right": m.tilt_right_rad + faults.thrust_right_rad,
        "torque_arm": torque_arm_m(c.airframe) * nature.torque,
        "disk_area": math.pi / 4 * m.propeller_diameter_m**2,
    }


GRAVITY = STANDARD_GRAVITY_MPS2
