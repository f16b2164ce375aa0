"""From the coordinates of a section to what the bench needs of it: thickness, camber, zero-lift angle, moment, highest lift."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.parts import Foil
from jinba.core.errors import GeometryError
from jinba.core.stability.sections import FAMILY_REYNOLDS

Array = NDArray[np.float64]

_STATIONS = 181
_BELOW_1E5 = "coordinates; highest lift from thickness and camber, sigma 11 %"


def foil_from_coordinates(name: str, upper: Array, lower: Array) -> Foil:
    """Return the section of an outline.

    ``upper``, ``lower``: points (n, 2) from the leading to the trailing edge, in chords. Zero-lift angle and moment are the
    thin-aerofoil integrals of the mean line (:func:`mean_line_integrals`); highest lift is a fit over 240 sections of an open
    database, cl_max = 0.663 + 3.710 t - 9.824 t^2 + 12.671 f - 36.497 f^2 at Re 2e5, scatter 11 % (bench/section_table.py).

    Raises: GeometryError when the outline crosses itself or is no section. Validity: thickness 5 to 18 %, camber up to 6 %.
    """
    theta = np.linspace(0.0, math.pi, _STATIONS)
    x = 0.5 * (1.0 - np.cos(theta))
    top, bottom = (np.interp(x, side[:, 0], side[:, 1]) for side in (upper, lower))
    thick = top - bottom
    if float(thick.min()) < -0.002:
        raise GeometryError(
            f"{name}: the lower side lies above the upper one; list the points round the section in order."
        )
    t, mean = float(thick.max()), 0.5 * (top + bottom)
    f = float(mean[np.argmax(np.abs(mean))])
    if not 0.01 <= t <= 0.4:
        raise GeometryError(
            f"{name}: {100 * t:.1f} % thick; a section is 1 to 40 % of its chord. Are the coordinates in chords?"
        )
    zero_lift, moment = mean_line_integrals(x, mean)
    bend = min(abs(f), 0.17)
    peak = 0.663 + 3.710 * t - 9.824 * t * t + 12.671 * bend - 36.497 * bend * bend
    columns = [round(peak * ratio, 3) for ratio in FAMILY_REYNOLDS]
    a, b, c, d, e = columns
    return Foil(name, t, f, zero_lift, moment, (a, b, c, d, e), _BELOW_1E5)


def mean_line_integrals(x: Array, z: Array) -> tuple[float, float]:
    """Return (zero-lift angle [rad], moment coefficient about the quarter chord [-]) of a mean line.

    alpha_0 = (1/pi) int dz/dx (1 - cos th) dth, c_m = (1/2) int dz/dx (cos 2 th - cos th) dth over 0 to pi, x = (1 - cos th)/2.
    ``x``, ``z``: stations and heights in chords, x from 0 to 1. References: Glauert, The Elements of Aerofoil and Airscrew Theory,
    1926, ch. VII; Anderson, Fundamentals of Aerodynamics, ch. 4 (both from memory), signs re-derived.
    """
    # Between two stations the slope is constant: the integrals over th are exact, and no slope at the nose is needed.
    theta = np.arccos(np.clip(1.0 - 2.0 * x, -1.0, 1.0))
    slope = np.diff(z) / np.diff(x)
    first = np.diff(theta - np.sin(theta))
    second = np.diff(0.5 * np.sin(2.0 * theta) - np.sin(theta))
    return float((slope * first).sum() / math.pi), float(0.5 * (slope * second).sum())
