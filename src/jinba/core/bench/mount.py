"""Bare fuselage and loose wing: where the wing must be mounted so that the whole balances where it should."""

from __future__ import annotations

from dataclasses import dataclass, replace

from scipy.optimize import brentq

from jinba.core.airframe.parts import Airframe, Role
from jinba.core.configuration import Configuration, balance_of
from jinba.core.errors import UnreachableTargetError, check_range
from jinba.core.frames import forward_or_aft, station_words
from jinba.core.spoken import a_length
from jinba.core.stability.aero import AeroModel, aero_model
from jinba.core.stability.heights import at_height
from jinba.core.uncertainty import MISREAD_SHARE, root_sum_square, safe_distance

_READING_SIGMA_M = 0.002
_CLEAR_M = 0.01


@dataclass(frozen=True, slots=True)
class WingMount:
    """Where to mount the wing: stations from the datum [m], the margin there [-], and the fault of leaving its mass out.

    ``shift_m``: from where the airframe has its wing now, aft positive; ``ignoring_wing_m``: how much further aft one would have
    put it by the fuselage alone (negative: further forward), None when nowhere along the body.
    """

    x_root_m: float
    shift_m: float
    x_cg_m: float
    x_np_m: float
    static_margin: float
    ignoring_wing_m: float | None
    words: str


def wing_mount(
    configuration: Configuration, *, bare_mass_kg: float, bare_x_m: float, wing_mass_kg: float, wing_x_m: float
) -> WingMount:
    """Return where the root leading edge of the wing must lie for the first-flight margin.

    (m_f x_f + m_w (x_r + d_w))/(m_f + m_w) = x_np(x_r) - SM c: both the balance and the neutral point move with the wing (the
    tail's arm changes), so the station is found by bisection on the lattice. SM = class minimum + the safe distance of a first flight.

    Parameters
    ----------
    configuration : the airframe with tail and body where they are; its items are not used.
    bare_mass_kg, bare_x_m : everything but the wing, ready to fly: mass [kg] and its balance point [m from the datum].
    wing_mass_kg, wing_x_m : the wing with its servos: mass [kg] and balance point behind its own root leading edge. [m]

    Raises: OutOfRangeError; UnreachableTargetError when no place along the body balances. References: derived here
    (docs/methods/wing-mount.md).
    """
    check_range("mass of the bare fuselage", bare_mass_kg, unit="kg", low=1e-3, high=1e4)
    check_range("mass of the wing", wing_mass_kg, unit="kg", low=1e-3, high=1e4)
    check_range("balance of the bare fuselage", bare_x_m, unit="m", low=-12.0, high=12.0)
    check_range("balance of the wing behind its edge", wing_x_m, unit="m", low=-2.0, high=4.0)
    airframe, total = configuration.airframe, bare_mass_kg + wing_mass_kg
    here = airframe.wing.x_m
    body = airframe.body

    z_cg = balance_of(configuration).mass.z_m

    def standing(shift: float) -> AeroModel:
        there = moved(airframe, shift)
        return at_height(there, aero_model(there), z_cg_m=z_cg)

    def balance(shift: float) -> float:
        return (bare_mass_kg * bare_x_m + wing_mass_kg * (here + shift + wing_x_m)) / total

    def excess(shift: float, wing_counts: bool = True) -> float:
        aero = standing(shift)
        margin = _wanted_margin(
            configuration, aero.neutral_point.sigma_total_m / aero.planform.mac_m, aero.planform.mac_m
        )
        x = balance(shift) if wing_counts else bare_x_m
        return aero.neutral_point.x_m - margin * aero.planform.mac_m - x

    chord = airframe.wing.sections[0].chord_m
    behind = [s.x_m for s in airframe.surfaces if s.role is Role.TAIL]
    end = min([body.nose_x_m + body.length_m, *behind])
    low, high = body.nose_x_m - here, end - chord - _CLEAR_M - here
    if excess(low) * excess(high) > 0:
        side = "nose" if excess(low) > 0 else "tail"
        raise UnreachableTargetError(
            f"No place along the body balances: even at the {side} end the wing is not far enough. Move the pack or the motor first."
        )
    shift = float(brentq(excess, low, high, xtol=1e-5))
    ends = (excess(low, False), excess(high, False))
    alone = float(brentq(lambda s: excess(s, False), low, high, xtol=1e-4)) if ends[0] * ends[1] < 0 else None
    aero = standing(shift)
    x_cg, x_np = balance(shift), aero.neutral_point.x_m
    return WingMount(
        x_root_m=here + shift,
        shift_m=shift,
        x_cg_m=x_cg,
        x_np_m=x_np,
        static_margin=(x_np - x_cg) / aero.planform.mac_m,
        ignoring_wing_m=None if alone is None else alone - shift,
        words=_words(configuration, here + shift, shift, None if alone is None else alone - shift),
    )


def moved(airframe: Airframe, shift_m: float) -> Airframe:
    """Return the airframe with all its wings moved along the body. [m, aft positive]"""
    surfaces = tuple(replace(s, x_m=s.x_m + shift_m) if s.role is Role.WING else s for s in airframe.surfaces)
    return replace(airframe, surfaces=surfaces)


def _wanted_margin(c: Configuration, sigma: float, mac_m: float) -> float:
    return c.rules.minimum + safe_distance(root_sum_square([sigma, _READING_SIGMA_M / mac_m]), MISREAD_SHARE)


def _words(c: Configuration, x_root: float, shift: float, ignoring: float | None) -> str:
    move = (
        f"{a_length(abs(shift))} further {forward_or_aft(shift)} than drawn"
        if abs(shift) > 0.0005
        else "where it is drawn"
    )
    fault = (
        "By the fuselage's balance alone there would be no place for it."
        if ignoring is None
        else (
            f"Setting it by the fuselage's balance alone would put it {a_length(abs(ignoring))} too far "
            f"{forward_or_aft(ignoring)}: the wing weighs too."
        )
    )
    return f"Mount the wing with its root leading edge {station_words(x_root, c.datum)}, {move}. {fault}"
