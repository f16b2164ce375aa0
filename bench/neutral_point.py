"""Neutral point: error against aerosandbox's lattice and against our own fine lattice, and speed, in one run.

``python -m bench.neutral_point [models]``
"""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable
from functools import partial

import aerosandbox as asb
import numpy as np

from bench.families import FAMILIES, bare_airframe
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.stability.grid import centre_of_lift_m, grid_point
from jinba.core.stability.lattice import coarser, panels_for
from jinba.core.stability.loads import solve_alpha, solve_loads

_FIRST = (
    "import time; t = time.perf_counter(); from jinba.core.silhouettes import silhouette_configuration as s; "
    "from jinba.core.stability.aero import aero_model; aero_model(s('high_wing', span_m=1.0).airframe); print(time.perf_counter() - t)"
)


def ours(airframe: Airframe, panels: tuple[int, int] | None = None) -> float:
    """Return our lattice's neutral point [m], no body, no tail efficiency."""
    ones = [1.0] * len(airframe.surfaces)
    if panels is not None:
        return centre_of_lift_m(solve_alpha(airframe, panels=panels), ones)
    loads = solve_loads(airframe, zero_lift_rad=(0.0,) * len(ones))
    coarse = solve_alpha(airframe, panels=coarser(panels_for(len(ones))))
    return grid_point(airframe, loads.alpha, coarse, ones).x_m


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
    """Print errors, times and the ratio to the reference, one family after the other."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 12
    rng = np.random.default_rng(8)
    ours(bare_airframe("conventional", rng))
    print(f"{count} random airframes a family, error in % MAC: median, 90th percentile, mean, sd; time a neutral point")
    for family in FAMILIES:
        airframes = [bare_airframe(family, rng) for _ in range(count)]
        macs = np.array([planform_of(a.wing).mac_m for a in airframes])
        mine, mine_s = _timed(ours, airframes)
        theirs, theirs_s = _timed(reference, airframes)
        fine = np.array([ours(a, (40, 6)) for a in airframes])
        for name, error in (("reference 24x12", mine - theirs), ("ours 40x6", mine - fine)):
            e = error / macs * 100
            print(
                f"{family:13s} against {name:16s} {np.median(np.abs(e)):.2f}  {np.percentile(np.abs(e), 90):.2f}  "
                f"{e.mean():+.2f}  {e.std():.2f}   {mine_s * 1e3:.1f} ms, reference {theirs_s * 1e3:.0f} ms"
            )
    coarse_of = [bare_airframe("conventional", rng) for _ in range(count)]
    macs = np.array([planform_of(a.wing).mac_m for a in coarse_of])
    coarse, coarse_s = _timed(lambda a: reference(a, 6, 3), coarse_of)
    off = np.abs(coarse - _timed(reference, coarse_of)[0]) / macs * 100
    print(f"reference 6x3 against its own 24x12: median {np.median(off):.2f} % MAC, {coarse_s * 1e3:.0f} ms")
    growth()
    first = subprocess.run([sys.executable, "-c", _FIRST], capture_output=True, text=True, check=True)
    print(f"first neutral point after start, imports included: {float(first.stdout):.2f} s")


def _lift(airframe: Airframe, *, zero: tuple[float, ...], panels: tuple[int, int]) -> float:
    return solve_loads(airframe, zero_lift_rad=zero, panels=panels).alpha[0].lift_m2


def growth() -> None:
    """Print how the time grows with surfaces and panels."""
    rng = np.random.default_rng(2)
    for family in ("flying_wing", "conventional", "biplane", "triplane"):
        airframes = [bare_airframe(family, rng) for _ in range(12)]
        zero = (0.0,) * len(airframes[0].surfaces)
        row = []
        for panels in ((8, 2), (16, 3), (24, 4), (32, 5)):
            _, seconds = _timed(partial(_lift, zero=zero, panels=panels), airframes)
            row.append(f"{panels[0]}x{panels[1]} {seconds * 1e3:.1f} ms")
        print(f"all loads, {len(zero)} surfaces: {', '.join(row)}")


def _timed(function: Callable[[Airframe], float], airframes: list[Airframe]) -> tuple[np.ndarray, float]:
    times, values = [], []
    for a in airframes:
        begun = time.perf_counter()
        values.append(function(a))
        times.append(time.perf_counter() - begun)
    return np.array(values), float(np.median(times))


if __name__ == "__main__":
    main()
