"""Two full-size aeroplanes for the simulation: geometry from memory, derivatives and inertia as a reference package has them."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from pathlib import Path

import jsbsim
import numpy as np

from jinba.core.airframe.parts import Airframe, Body, Camber, Fin, Motor, Role, Section, Surface
from jinba.core.configuration import Configuration, JigReading
from jinba.core.controls.surface_control import Control
from jinba.core.flight.simulation.craft import Craft, craft_of
from jinba.core.flight.simulation.steady import flying, settled_loads
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind

SLUG_FT2 = 1.3558179


def _configuration(airframe: Airframe, mass_kg: float, x_cg_m: float) -> Configuration:
    controls = [Control(axis, 0.35, 0.004, 0.3, 0.05) for axis in (Axis.PITCH, Axis.ROLL, Axis.YAW)]
    frame = Item("frame", "Frame", mass_kg, 0.0, kind=ItemKind.AIRFRAME)
    return Configuration(airframe, (frame,), *controls, jig=JigReading(x_cg_m, 0.01, 0.0), cruise_speed_mps=53.6)


def _with_inertia(craft: Craft, inertia: tuple[float, float, float]) -> Craft:
    return craft._replace(inertia=np.diag(inertia), inverse=np.diag(1.0 / np.array(inertia)))


def navion() -> Craft:
    """A low-wing four-seater: 10.2 m, 1247 kg, balanced at 29.5 % of its chord (Nelson, 1998, app. B, from memory)."""
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        -0.55,
        (Section(0, 0, 2.19), Section(5.09, 0.28, 1.20, 5.09 * math.radians(7.5))),
        incidence_rad=math.radians(2),
        camber=Camber.FLAT_BOTTOM,
        hinge_fraction=0.78,
        control_inner=0.55,
        control_outer=0.95,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        4.98,
        0.25,
        (Section(0, 0, 1.2), Section(2.0, 0.25, 0.8)),
        camber=Camber.SYMMETRICAL,
        hinge_fraction=0.66,
        incidence_rad=math.radians(-1),
    )
    fin = Fin(4.9, -0.2, 1.6, 1.7, 0.75, 0.7, hinge_fraction=0.6)
    airframe = Airframe((wing, tail), Body(-1.9, 8.1, 1.2, 1.3), fin, Motor(-1.9, -0.1, 3800, 2.1))
    craft = craft_of(_configuration(airframe, 1247.0, 0.125 + 0.295 * 1.743))
    return _with_inertia(craft, (1048 * SLUG_FT2, 3000 * SLUG_FT2, 3530 * SLUG_FT2))


def cessna_like() -> Craft:
    """A high-wing two-seater, strut-braced: 10.9 m, its wing's outline and tail from memory."""
    wing = Surface(
        "wing",
        Role.WING,
        0.0,
        0.85,
        (Section(0, 0, 1.63), Section(2.55, 0.0, 1.63, 0.075), Section(5.46, 0.15, 1.13, 0.16)),
        incidence_rad=math.radians(1.5),
        camber=Camber.SEMI_SYMMETRICAL,
        hinge_fraction=0.76,
        control_inner=0.48,
        control_outer=0.95,
    )
    tail = Surface(
        "tail",
        Role.TAIL,
        4.75,
        0.2,
        (Section(0, 0, 1.40), Section(1.73, 0.35, 0.80)),
        camber=Camber.SYMMETRICAL,
        hinge_fraction=0.60,
        incidence_rad=math.radians(-2),
    )
    fin = Fin(4.9, 0.2, 1.45, 1.35, 0.70, 0.75, hinge_fraction=0.62)
    airframe = Airframe((wing, tail), Body(-1.9, 7.9, 1.05, 1.35), fin, Motor(-1.9, 0.0, 2300, 1.9))
    return craft_of(_configuration(airframe, 853.0, 0.30 * 1.49))


@dataclass(frozen=True)
class Derivatives:
    """Stability derivatives by their usual names. [1/rad]"""

    lift_alpha: float
    pitch_alpha: float
    pitch_rate: float
    roll_beta: float
    yaw_beta: float
    roll_rate: float
    roll_yaw_rate: float
    yaw_yaw_rate: float


def simulated(craft: Craft, speed_mps: float) -> Derivatives:
    """The same of a simulated craft, by differences about a small incidence, power off."""
    pressure = 0.5 * craft.density * speed_mps**2 * craft.area

    def at(alpha: float = 0.05, beta: float = 0.0, p: float = 0.0, q: float = 0.0, r: float = 0.0) -> np.ndarray:
        state = flying(speed_mps=speed_mps, alpha=alpha, beta=beta)
        state[10:13] = p, q, r
        force, moment = settled_loads(craft, state, np.zeros(4), 0.0, np.zeros(len(craft.row)))
        return np.array([-force[2], moment[0] / craft.span, moment[1] / craft.chord, moment[2] / craft.span]) / pressure

    base = at()
    alpha, beta = (at(alpha=0.06) - base) / 0.01, (at(beta=0.01) - base) / 0.01
    p, r = ((at(**{k: 0.05}) - base) / (0.05 * craft.span / 2 / speed_mps) for k in "pr")
    q = (at(q=0.02) - base) / (0.02 * craft.chord / 2 / speed_mps)
    return Derivatives(alpha[0], alpha[2], q[2], beta[1], beta[3], p[1], r[1], r[3])


def navion_published() -> Derivatives:
    """The Navion's derivatives and those of its data file in jsbsim 1.3.3 (L17), read here; Nelson, 1998, has the same."""
    text = (Path(jsbsim.get_default_root_dir()) / "aircraft/L17/L17.xml").read_text()

    def value(name: str) -> float:
        block = text.split(f'name="aero/coefficient/{name}"')[1].split("</function>")[0]
        return float(re.findall(r"<value>\s*(-?[\d.]+)\s*</value>", block)[-1])

    return Derivatives(
        4.44,
        value("Cmalpha"),
        value("Cmq"),
        value("Clb"),
        value("Cnb"),
        value("Clp"),
        value("Clr"),
        value("Cnr"),
    )


def by_jsbsim(name: str, speed_fps: float) -> Derivatives:
    """Derivatives of an aircraft of jsbsim 1.3.3 by differences of its own forces and moments."""

    def at(alpha: float = 0.03, beta: float = 0.0, p: float = 0.0, q: float = 0.0, r: float = 0.0) -> np.ndarray:
        fdm = jsbsim.FGFDMExec(jsbsim.get_default_root_dir())
        fdm.set_debug_level(0)
        fdm.load_model(name)
        for key, given in {
            "ic/h-sl-ft": 100.0,
            "ic/vt-fps": speed_fps,
            "ic/alpha-deg": math.degrees(alpha),
            "ic/beta-deg": math.degrees(beta),
            "ic/theta-deg": math.degrees(alpha),
            "ic/p-rad_sec": p,
            "ic/q-rad_sec": q,
            "ic/r-rad_sec": r,
        }.items():
            fdm[key] = given
        fdm.run_ic()
        area, span, chord = fdm["metrics/Sw-sqft"], fdm["metrics/bw-ft"], fdm["metrics/cbarw-ft"]
        about = [
            fdm[f"moments/{axis}-aero-lbsft"] / length for axis, length in zip("lmn", (span, chord, span), strict=True)
        ]
        at.lengths = span, chord  # type: ignore[attr-defined]
        return np.array([-fdm["forces/fbz-aero-lbs"], *about]) / (fdm["aero/qbar-psf"] * area)

    base = at()
    span, chord = at.lengths  # type: ignore[attr-defined]
    alpha, beta = (at(alpha=0.05) - base) / 0.02, (at(beta=0.02) - base) / 0.02
    p, r = ((at(**{k: 0.1}) - base) / (0.1 * span / 2 / speed_fps) for k in "pr")
    q = (at(q=0.05) - base) / (0.05 * chord / 2 / speed_fps)
    return Derivatives(alpha[0], alpha[2], q[2], beta[1], beta[3], p[1], r[1], r[3])
