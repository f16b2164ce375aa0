"""Linkage, hole search, saturation map and the whole desk: times, and ratios against a plain reference in the same run.

``python -m bench.controls``
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from functools import partial

import numpy as np
from scipy.optimize import brentq

from jinba.core.bench.controls import controls_answer
from jinba.core.controls.fitting import ControlRole, Fitting
from jinba.core.controls.holes import hole_search
from jinba.core.controls.linkage import Linkage
from jinba.core.controls.mixing import Weights, saturation_map
from jinba.core.controls.travel import SAMPLES, travel
from jinba.core.silhouettes import SILHOUETTES, silhouette_configuration

ARMS = tuple(k / 1000 for k in range(6, 18))
HORNS = tuple(k / 1000 for k in range(8, 26, 2))
AIR = {"speed_mps": 28.0, "density_kg_m3": 1.225, "section_chord_m": 0.15}
FITTING = Fitting(ControlRole.ELEVATOR, 2, 0.045, 0.4, Linkage(arm_m=0.008, horn_m=0.014))


def _median_ms(work: Callable[[], object], times: int) -> float:
    work()
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spent.append(1000.0 * (time.perf_counter() - start))
    return float(np.median(spent))


def _by_root_finder(k: Linkage, servo: np.ndarray) -> list[float]:
    """Return the deflections by a root finder on |B - A| = L, each started from the one before."""

    def gap(deflection: float, at: float) -> float:
        ax, ay = k.arm_m * math.sin(at), k.arm_m * math.cos(at)
        bx, by = k.distance_m + k.horn_m * math.sin(deflection), k.horn_m * math.cos(deflection)
        return math.hypot(bx - ax, by - ay) - k.rod_m

    return [float(brentq(gap, -1.2, 1.2, args=(float(at),))) for at in servo]


def _map_by_loops(steps: int) -> int:
    cut = 0
    for i in range(steps):
        for j in range(steps):
            x, y = -1 + 2 * i / (steps - 1), -1 + 2 * j / (steps - 1)
            cut += abs(0.7 * y + 0.7 * x) > 1 or abs(0.7 * y - 0.7 * x) > 1
    return cut


def main() -> None:
    """Print the median times and their ratios."""
    servo = np.linspace(-0.7, 0.7, SAMPLES)
    one = _median_ms(lambda: travel(FITTING, **AIR), 300)
    slow = _median_ms(lambda: _by_root_finder(FITTING.linkage, servo), 30)
    print(
        f"linkage, {SAMPLES} positions, findings and hinge moment: {one:.2f} ms; root finder alone {slow:.2f} ms, ratio {one / slow:.2f}"
    )
    search = _median_ms(lambda: hole_search(FITTING, arm_holes_m=ARMS, horn_holes_m=HORNS, wanted_m=0.018, **AIR), 60)
    pairs = len(ARMS) * len(HORNS)
    print(
        f"hole search, {pairs} pairs: {search:.1f} ms; one linkage after the other {pairs * one:.0f} ms, ratio {search / (pairs * one):.3f}"
    )
    left, right = (
        Fitting(r, n, 0.05, 0.4) for n, r in enumerate((ControlRole.LEFT_ELEVON, ControlRole.RIGHT_ELEVON), 1)
    )
    grid = _median_ms(lambda: saturation_map(left, right, weights=Weights()), 60)
    loops = _median_ms(lambda: _map_by_loops(41), 20)
    print(f"saturation map, 41 x 41: {grid:.2f} ms; plain loops {loops:.2f} ms, ratio {grid / loops:.2f}")
    for key in SILHOUETTES:
        c = silhouette_configuration(key, span_m=1.5)
        whole = _median_ms(partial(controls_answer, c), 20)
        print(f"whole desk, {key}: {whole:.0f} ms, {len(c.control_setup.fittings)} surfaces")


if __name__ == "__main__":
    main()
