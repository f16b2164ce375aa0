"""The balance solver: time against a target of 200 ms at its stated limits, growth with items, and a reference in the same run.

The reference is scipy's differential evolution on the same problem (positions and piece counts rounded), given one second.
``python -m bench.balance_solver [loads]``
"""

from __future__ import annotations

import sys
import time

import numpy as np
from scipy.optimize import differential_evolution

from jinba.core.mass.arrangement import Ballast, Load, Movable, Station, Target, arrange, recompute

PLACES = ((-0.30, 0.0), (-0.25, 0.0), (0.80, 0.0), (0.78, 0.0), (0.10, 0.7), (0.10, -0.7))
PIECES = (0.005, 0.010, 0.020, 0.050)


def random_load(rng: np.random.Generator, items: int) -> Load:
    """Return a load of that many movable items, four packs and six ballast stations."""
    movable = []
    for i in range(items):
        x = float(rng.uniform(-0.3, 0.6))
        movable.append(Movable(f"m{i}", float(rng.uniform(0.005, 0.08)), x, x - 0.05, x + 0.08))
    packs = tuple(Movable(f"p{i}", 0.3 + 0.1 * i, -0.1, -0.2, 0.05) for i in range(4))
    stations = tuple(Station(f"s{i}", x, y) for i, (x, y) in enumerate(PLACES))
    return Load(4.0, 0.10, float(rng.normal(0, 0.002)), tuple(movable), packs, "p1", stations, PIECES)


def evolved(load: Load, target: Target) -> tuple[float, float]:
    """Return (added mass [kg], shortfall [m]) that differential evolution finds in about a second."""
    pack = load.packs[1]
    bounds = [(m.low_m, m.high_m) for m in load.movable] + [(pack.low_m, pack.high_m)] + [(0, 6)] * len(load.stations)

    def lay(z: np.ndarray) -> tuple[float, float]:
        places = {m.key: float(x) for m, x in zip(load.movable, z, strict=False)} | {
            pack.key: float(z[len(load.movable)])
        }
        counts = np.round(z[len(load.movable) + 1 :])
        ballast = tuple(Ballast(s.key, ((0.01, int(n)),), 0.01 * n) for s, n in zip(load.stations, counts, strict=True))
        a = recompute(load, target, places, pack.key, ballast)
        return a.added_kg, a.shortfall_m + max(0.0, abs(a.y_m) - (target.y_tolerance_m or 1.0))

    begun = time.perf_counter()
    best = differential_evolution(
        lambda z: 1e4 * lay(z)[1] + lay(z)[0],
        bounds,
        maxiter=40,
        popsize=4,
        seed=1,
        polish=False,
        callback=lambda *_: time.perf_counter() - begun > 1.0,
    )
    return lay(best.x)


def main() -> None:
    """Print times, growth, and the added mass against the reference."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 24
    arrange(random_load(np.random.default_rng(0), 2), Target(0.1), most=1)
    for items in (5, 10, 20, 40):
        rng = np.random.default_rng(4)
        times = []
        for _ in range(count):
            load, target = random_load(rng, items), Target(0.09 + float(rng.uniform(-0.02, 0.02)), 0.0015, 0.0015)
            begun = time.perf_counter()
            arrange(load, target, most=1)
            times.append(time.perf_counter() - begun)
        ms = np.array(times) * 1e3
        print(
            f"{items:3d} items, 4 packs, 6 stations: median {np.median(ms):.0f} ms, p90 {np.percentile(ms, 90):.0f} ms, max {ms.max():.0f} ms"
        )
    rng = np.random.default_rng(4)
    ours, theirs, reached = [], [], 0
    for _ in range(6):
        load, target = random_load(rng, 10), Target(0.09, 0.0015, 0.0015)
        ours.append(arrange(load, target, most=1)[0].added_kg)
        added, short = evolved(load, target)
        reached += short <= 0
        theirs.append(added)
    print(
        f"ballast at 10 items: ours {np.mean(ours) * 1e3:.1f} g, differential evolution in 1 s {np.mean(theirs) * 1e3:.1f} g "
        f"(target reached in {reached} of 6)"
    )


if __name__ == "__main__":
    main()
