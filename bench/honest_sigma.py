"""Are the neutral point's two sigmas honest? Share of truths within one sigma, family by family, in one run.

Numerical: our lattice against a fine one of ours. Total: against truths with what the ideal fluid leaves out drawn at random
and solved in full on the fine lattice: section slopes of every surface and from root to tip, tail efficiency, section centres,
the body. ``python -m bench.honest_sigma [models] [truths]``
"""

from __future__ import annotations

import sys
from dataclasses import replace

import numpy as np

from bench.families import FAMILIES, Rng, bare_airframe
from jinba.core.airframe.layout import lifting_surfaces
from jinba.core.airframe.parts import Airframe, Body, Role
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.aero import aero_model
from jinba.core.stability.grid import centre_of_lift_m
from jinba.core.stability.lattice import build_lattice, influence, section_influence
from jinba.core.stability.loads import solve_alpha
from jinba.core.stability.neutral_point import (
    SECTION_SLOPE_RATIO,
    efficiency_of,
    slope_sigma,
)

_FINE = (36, 5)


def _with_body(airframe: Airframe, rng: Rng) -> Airframe:
    chord, span = airframe.wing.sections[0].chord_m, 2 * airframe.wing.half_span_m
    width = chord * rng.uniform(0.2, 0.5)
    return replace(airframe, body=Body(-rng.uniform(0.6, 1.2) * chord, 0.7 * span, width, width))


class Truth:
    """The fine lattice of an airframe, ready to be solved with any section slopes."""

    def __init__(self, airframe: Airframe, body_shift_m: float) -> None:
        self.airframe, self.body_shift_m = airframe, body_shift_m
        self.lattice = build_lattice(airframe.surfaces, spanwise=_FINE[0], chordwise=_FINE[1])
        right, image = influence(self.lattice)
        self.matrix, self.own = right + image, section_influence(self.lattice)

    def neutral_point_m(self, rng: Rng) -> float:
        """Return one truth's neutral point. [m]"""
        lat, a = self.lattice, self.airframe
        k = np.empty(len(lat.chord))
        efficiency = np.ones_like(k)
        centre = np.zeros_like(k)
        shared = rng.normal()
        for i, s in enumerate(a.surfaces):
            own = lat.surface_index == i
            carries = s in lifting_surfaces(a)
            sigma = slope_sigma(s, carries=carries)
            outboard = 0.5 * sigma * rng.normal() * (2 * lat.y_fraction[own] - 1)
            # All wings of these airframes have one section: 0.7 of their slope's variance is common to them.
            draw = 0.7**0.5 * (shared if carries else rng.normal()) + 0.3**0.5 * rng.normal()
            k[own] = SECTION_SLOPE_RATIO * np.exp(sigma * draw) * (1 + outboard)
            centre[own] = 0.008 * rng.normal() * planform_of(s).mac_m
            if s.role is Role.TAIL:
                efficiency[own] = efficiency_of(s, a) * rng.normal(1.0, 0.05)
        g = np.linalg.solve(self.matrix + (1 / k - 1)[:, None] * self.own, -lat.cos_dihedral)
        lift = efficiency * g * (lat.b[:, 1] - lat.a[:, 1])
        x = 0.5 * (lat.a[:, 0] + lat.b[:, 0]) + centre
        body = self.body_shift_m * (1 + 0.3 * rng.normal()) + 0.004 * planform_of(a.wing).mac_m * rng.normal()
        return float((lift * x).sum() / lift.sum() + body)


def main() -> None:
    """Print per family the shares within one sigma (wanted 63 to 73 %) and the sigmas themselves."""
    models, truths = (int(v) for v in (*sys.argv[1:3], *("20", "40")[len(sys.argv) - 1 :]))
    rng = np.random.default_rng(11)
    print(f"{models} airframes x {truths} truths a family; share within one sigma, median sigma in % MAC")
    for family in FAMILIES:
        numerical, total, sizes = [], [], []
        for _ in range(models):
            airframe = _with_body(bare_airframe(family, rng), rng)
            n = aero_model(airframe).neutral_point
            fine = solve_alpha(airframe, panels=(44, 7), section_slope=SECTION_SLOPE_RATIO)
            exact = centre_of_lift_m(fine, [efficiency_of(s, airframe) for s in airframe.surfaces])
            mac = planform_of(airframe.wing).mac_m
            numerical.append((n.x_m - n.body_shift_m - exact) / n.sigma_numerical_m)
            truth = Truth(airframe, n.body_shift_m)
            total += [(n.x_m - truth.neutral_point_m(rng)) / n.sigma_total_m for _ in range(truths)]
            sizes.append((n.sigma_numerical_m / mac * 100, n.sigma_total_m / mac * 100))
        e, z = np.array(numerical), np.array(total)
        size = np.median(np.array(sizes), axis=0)
        print(
            f"{family:13s} numerical {np.mean(np.abs(e) < 1):.2f} (sigma {size[0]:.2f}, rms {np.sqrt(np.mean(e**2)):.2f} sigma)   "
            f"total {np.mean(np.abs(z) < 1):.2f} (sigma {size[1]:.2f}, rms {np.sqrt(np.mean(z**2)):.2f}, mean {z.mean():+.2f})"
        )


if __name__ == "__main__":
    main()
