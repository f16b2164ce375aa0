"""Neutral point: error against aerosandbox's lattice and against our own fine lattice, and speed, in one run.

``python -m bench.neutral_point [models]``
"""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace

import aerosandbox as asb
import numpy as np

from bench.fleet import random_configuration
from jinba.core.airframe.parts import Airframe, Role, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.loads import solve_loads

_FIRST = (
    "import time; t = time.perf_counter(); from jinba.core.silhouettes import silhouette_configuration as s; "
    "from jinba.core.stability.aero import aero_model; aero_model(s('high_wing', span_m=1.0).airframe); print(time.perf_counter() - t)"
)


def flat(airframe: Airframe) -> Airframe:
    """Return the bare flat lifting surfaces with the tail at least 3 % span above or below the wing."""
    wing, tail = airframe.surfaces[:2]
    span = planform_of(wing).span_m
    gap = tail.z_m - wing.z_m
    gap = gap if abs(gap) >= 0.03 * span else 0.04 * span
    return replace(airframe, surfaces=(replace(wing, incidence_rad=0.0), replace(tail, z_m=wing.z_m + gap)))


def ours(airframe: Airframe, spanwise: int = 16, chordwise: int = 2) -> float:
    """Return our lattice's neutral point [m], no body, no tail efficiency."""
    loads = solve_loads(airframe, zero_lift_rad=(0.0, 0.0), spanwise=spanwise, chordwise=chordwise)
    return -sum(x.moment_m3 for x in loads.alpha) / sum(x.lift_m2 for x in loads.alpha)


def reference(airframe: Airframe, spanwise: int = 24, chordwise: int = 12) -> float:
    """Return aerosandbox's neutral point [m] at alpha 0."""
    wings = [asb.Wing(name=s.key, symmetric=True, xsecs=_sections(s)) for s in airframe.surfaces]
    vlm = asb.VortexLatticeMethod(
        asb.Airplane(wings=wings, xyz_ref=[0, 0, 0]),
        asb.OperatingPoint(velocity=15, alpha=0),
        spanwise_resolution=spanwise,
        chordwise_resolution=chordwise,
    )
    return float(vlm.run_with_stability_derivatives(alpha=True, beta=False, p=False, q=False, r=False)["x_np"])


def _sections(s: Surface) -> list[asb.WingXSec]:
    foil = asb.Airfoil("naca0006")
    return [
        asb.WingXSec(xyz_le=[s.x_m + q.x_offset_m, q.y_m, s.z_m + q.z_offset_m], chord=q.chord_m, airfoil=foil)
        for q in s.sections
    ]


def main() -> None:
    """Print errors, times and the ratio to the reference."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    rng = np.random.default_rng(8)
    airframes = [flat(random_configuration(rng).airframe) for _ in range(count)]
    assert all(a.wing.role is Role.WING for a in airframes)
    macs = np.array([planform_of(a.wing).mac_m for a in airframes])
    ours(airframes[0])
    mine, mine_s = _timed(ours, airframes)
    theirs, theirs_s = _timed(reference, airframes)
    coarse, coarse_s = _timed(lambda a: reference(a, 6, 3), airframes)
    fine = np.array([ours(a, 40, 6) for a in airframes])
    for name, error in (
        ("ours 16x2 against reference 24x12", mine - theirs),
        ("ours 16x2 against ours 40x6", mine - fine),
        ("reference 6x3 against 24x12", coarse - theirs),
    ):
        e = np.abs(error) / macs * 100
        print(
            f"{name:36s} median {np.median(e):.2f}  p90 {np.percentile(e, 90):.2f}  sd {np.std(error / macs * 100):.2f} % MAC"
        )
    print(
        f"time per neutral point: ours {mine_s * 1e3:.2f} ms, reference 24x12 {theirs_s * 1e3:.0f} ms (ratio {mine_s / theirs_s:.4f}), reference 6x3 {coarse_s * 1e3:.0f} ms"
    )
    first = subprocess.run([sys.executable, "-c", _FIRST], capture_output=True, text=True, check=True)
    print(f"first neutral point after start, imports included: {float(first.stdout):.2f} s")


def _timed(function: Callable[[Airframe], float], airframes: list[Airframe]) -> tuple[np.ndarray, float]:
    times, values = [], []
    for a in airframes:
        begun = time.perf_counter()
        values.append(function(a))
        times.append(time.perf_counter() - begun)
    return np.array(values), float(np.median(times))


if __name__ == "__main__":
    main()
