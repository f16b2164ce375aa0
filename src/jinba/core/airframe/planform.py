"""Area, mean aerodynamic chord and aspect ratio of a surface by exact integrals over its trapezoid panels."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from jinba.core.airframe.parts import Surface


@dataclass(frozen=True, slots=True)
class Planform:
    """Projected planform of both halves.

    ``area_m2``, ``span_m``, ``mac_m`` (mean aerodynamic chord), ``x_le_mac_m`` (its leading edge, from the datum),
    ``y_mac_m`` (its distance from the centre line), ``aspect_ratio``, ``taper`` (tip chord / root chord).
    """

    area_m2: float
    span_m: float
    mac_m: float
    x_le_mac_m: float
    y_mac_m: float
    aspect_ratio: float
    taper: float

    def station_at(self, fraction: float) -> float:
        """Return the station [m from the datum] of a fraction of the mean aerodynamic chord (0 leading, 1 trailing).

        Derived here (docs/methods/planform.md).
        """
        return self.x_le_mac_m + fraction * self.mac_m

    def fraction_at(self, x_m: float) -> float:
        """Return the fraction of the mean aerodynamic chord at a station ``x_m`` [m from the datum].

        Derived here (docs/methods/planform.md).
        """
        return (x_m - self.x_le_mac_m) / self.mac_m


def planform_of(surface: Surface) -> Planform:
    """Return the projected planform of a surface (both halves).

    S = 2 sum h (c0 + c1) / 2;  MAC = (2/S) sum h (c0^2 + c0 c1 + c1^2) / 3;
    x_LE,MAC = (2/S) sum h [c0 x0 + (c0 dx + dc x0)/2 + dc dx/3]; y_MAC of the same form with y.

    Area is projected on the x-y plane; a V-tail's true area is larger by 1/cos(dihedral).
    References: definition MAC = (2/S) int c^2 dy, e.g. Etkin and Reid, Dynamics of Flight, 3rd ed. 1996, appendix C
    (from memory); panel sums derived here (docs/methods/planform.md).
    """
    area = mac_moment = x_moment = y_moment = 0.0
    for inner, outer in pairwise(surface.sections):
        h = outer.y_m - inner.y_m
        c0, dc = inner.chord_m, outer.chord_m - inner.chord_m
        x0, dx = inner.x_offset_m, outer.x_offset_m - inner.x_offset_m
        area += h * (c0 + dc / 2.0)
        mac_moment += h * (c0 * c0 + c0 * dc + dc * dc / 3.0)
        x_moment += h * (c0 * x0 + (c0 * dx + dc * x0) / 2.0 + dc * dx / 3.0)
        y_moment += h * (c0 * inner.y_m + (c0 * h + dc * inner.y_m) / 2.0 + dc * h / 3.0)
    span = 2.0 * surface.half_span_m
    return Planform(
        area_m2=2.0 * area,
        span_m=span,
        mac_m=mac_moment / area,
        x_le_mac_m=surface.x_m + x_moment / area,
        y_mac_m=y_moment / area,
        aspect_ratio=span * span / (2.0 * area),
        taper=surface.sections[-1].chord_m / surface.sections[0].chord_m,
    )


def chord_at(surface: Surface, y_m: float) -> tuple[float, float]:
    """Return (leading edge station from the datum [m], chord [m]) of a surface at a distance ``y_m`` from the centre.

    Derived here (docs/methods/planform.md).
    """
    sections = surface.sections
    for inner, outer in pairwise(sections):
        if y_m <= outer.y_m or outer is sections[-1]:
            t = (y_m - inner.y_m) / (outer.y_m - inner.y_m)
            x = inner.x_offset_m + t * (outer.x_offset_m - inner.x_offset_m)
            return surface.x_m + x, inner.chord_m + t * (outer.chord_m - inner.chord_m)
    raise AssertionError("a surface has at least two sections")  # pragma: no cover


def half_chord_sweep_rad(surface: Surface) -> float:
    """Return the mean sweep of the half-chord line [rad], positive swept back, from root and tip section.

    Derived here (docs/methods/planform.md).
    """
    root, tip = surface.sections[0], surface.sections[-1]
    aft = (tip.x_offset_m + tip.chord_m / 2.0) - (root.x_offset_m + root.chord_m / 2.0)
    return math.atan2(aft, tip.y_m - root.y_m)
