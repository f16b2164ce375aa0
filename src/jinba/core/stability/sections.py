"""Section data by family: zero-lift angle, moment at zero lift, maximum lift. One table, with its sources."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jinba.core.airframe.parts import REYNOLDS, Camber, Surface
from jinba.core.errors import check_range


@dataclass(frozen=True, slots=True)
class SectionData:
    """``zero_lift_rad``, ``cm_zero_lift`` about the quarter chord, ``cl_max`` at a Reynolds number of about 2e5."""

    zero_lift_rad: float
    cm_zero_lift: float
    cl_max: float


SECTION_DATA: dict[Camber, SectionData] = {
    # Thin-aerofoil values for typical camber lines and section maxima at Re 2e5 (values from memory, sigma 10 %):
    # flat-bottom as a 3.5 % cambered 12 % section, semi-symmetrical as a 2 % one.
    Camber.FLAT_PLATE: SectionData(0.0, 0.0, 0.75),
    Camber.SYMMETRICAL: SectionData(0.0, 0.0, 1.05),
    Camber.SEMI_SYMMETRICAL: SectionData(math.radians(-2.0), -0.045, 1.25),
    Camber.FLAT_BOTTOM: SectionData(math.radians(-3.4), -0.080, 1.35),
    Camber.REFLEXED: SectionData(math.radians(-0.8), 0.008, 1.15),
}

FAMILY_REYNOLDS = (0.80, 0.97, 1.00, 1.03, 1.14)
"""Maximum lift at the Reynolds numbers of ``REYNOLDS`` over that at 2e5: mean of the library (bench/section_table.py)."""


@dataclass(frozen=True, slots=True)
class LibrarySection:
    """One section of the library: key, name, family, thickness and camber [of the chord], zero-lift angle [deg], moment."""

    key: str
    name: str
    family: Camber
    thickness: float
    camber: float
    zero_lift_deg: float
    cm_zero_lift: float
    cl_max: tuple[float, float, float, float, float]


def section_of(surface: Surface) -> SectionData:
    """Return the section data of a surface: of its named section, or of its family."""
    foil = surface.foil
    if foil is None:
        return SECTION_DATA[surface.camber]
    return SectionData(foil.zero_lift_rad, foil.cm_zero_lift, foil.cl_max[REYNOLDS.index(2e5)])


def reynolds_factor(surface: Surface, reynolds: float) -> float:
    """Return maximum lift at a Reynolds number over that at 2e5 [-], interpolated in its logarithm, flat beyond the ends.

    Derived here (docs/methods/sections.md).
    """
    peaks = FAMILY_REYNOLDS if surface.foil is None else surface.foil.cl_max
    at = float(np.interp(math.log(max(reynolds, 1.0)), np.log(REYNOLDS), peaks))
    return at / peaks[REYNOLDS.index(2e5)]


WING_CLMAX_SIGMA = 0.10
"""Relative standard deviation of the maximum lift coefficient (measured spread of section data, docs/methods/stall.md)."""


def wing_cl_max(section: SectionData, *, taper: float) -> float:
    """Return the maximum lift coefficient [-] of a whole wing at a Reynolds number of 2e5.

    k * cl_max, with k = 0.86 (rectangular) to 0.93 (taper 0.5) for the stall beginning at the critical section, minus
    0.05 for the tail's download. Validity: aspect ratio 5 to 10, Re 1e5 to 5e5, no flap; sigma 10 %.
    References: critical-section method, e.g. Abbott and von Doenhoff, Theory of Wing Sections, 1959, ch. 1 (from
    memory); factors from the study behind docs/methods/stall.md.
    """
    check_range("taper", taper, unit="", low=0.0, high=3.0)
    k = 0.93 - 0.07 * min(1.0, max(0.0, (taper - 0.5) / 0.5))
    return k * section.cl_max - 0.05


def flap_moment(hinge_fraction: float) -> float:
    """Return the nose-down moment coefficient [per rad] of a plain flap about the quarter chord, as a positive number.

    -dc_m/d(delta) = sin th (1 - cos th) / 2 with cos th = 1 - 2 hinge_fraction; zero for an all-moving surface.
    References: Glauert, The Elements of Aerofoil and Airscrew Theory, 1926, ch. VII (from memory), re-derived.
    Examples
    --------
    >>> round(flap_moment(0.7), 4)
    0.6416
    """
    check_range("hinge line", hinge_fraction, unit="of the chord", low=0.0, high=1.0)
    theta = math.acos(1.0 - 2.0 * hinge_fraction)
    return 0.5 * math.sin(theta) * (1.0 - math.cos(theta))


def flap_effectiveness(hinge_fraction: float) -> float:
    """Return the thin-aerofoil effectiveness tau [-] of a plain flap hinged at a chord fraction.

    tau = 1 - (th - sin th)/pi with cos th = 1 - 2 hinge_fraction. A hinge at 0 is an all-moving surface (tau = 1).
    References: Glauert, The Elements of Aerofoil and Airscrew Theory, 1926, ch. VII (from memory), re-derived.
    Examples
    --------
    >>> round(flap_effectiveness(0.7), 4)
    0.6607
    """
    check_range("hinge line", hinge_fraction, unit="of the chord", low=0.0, high=1.0)
    theta = math.acos(1.0 - 2.0 * hinge_fraction)
    return 1.0 - (theta - math.sin(theta)) / math.pi
