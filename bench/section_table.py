"""Section data from an open library: writes ``core/stability/section_library.py`` and the fit for coordinate files.

Coordinates from aerosandbox 4.2.10's airfoil database, polars from neuralfoil 0.3.3 (both MIT), size "xxlarge".
``python -m bench.section_table`` (about a minute; run when the choice of sections changes)
"""

from __future__ import annotations

from pathlib import Path

import aerosandbox as asb
import numpy as np

from jinba.core.airframe.parts import REYNOLDS
from jinba.core.stability.section_library import SECTIONS

CHOICE = (
    # (key in the database, name shown, family)
    ("naca0006", "NACA 0006", "symmetrical"),
    ("naca0009", "NACA 0009", "symmetrical"),
    ("naca0012", "NACA 0012", "symmetrical"),
    ("naca0015", "NACA 0015", "symmetrical"),
    ("e168", "E168", "symmetrical"),
    ("naca1412", "NACA 1412", "semi_symmetrical"),
    ("naca2412", "NACA 2412", "semi_symmetrical"),
    ("naca2415", "NACA 2415", "semi_symmetrical"),
    ("e197", "E197", "semi_symmetrical"),
    ("rg15", "RG15", "semi_symmetrical"),
    ("s3021", "S3021", "semi_symmetrical"),
    ("mh32", "MH32", "semi_symmetrical"),
    ("e205", "E205", "flat_bottom"),
    ("clarky", "Clark Y", "flat_bottom"),
    ("naca4412", "NACA 4412", "flat_bottom"),
    ("naca4415", "NACA 4415", "flat_bottom"),
    ("sd7037", "SD7037", "flat_bottom"),
    ("ag35", "AG35", "flat_bottom"),
    ("s4083", "S4083", "flat_bottom"),
    ("s1223", "S1223", "flat_bottom"),
    ("mh45", "MH45", "reflexed"),
    ("mh60", "MH60", "reflexed"),
    ("mh64", "MH64", "reflexed"),
    ("e186", "E186", "reflexed"),
    ("s5010", "S5010", "reflexed"),
    ("s5020", "S5020", "reflexed"),
)
_ALPHAS = np.arange(-8.0, 18.01, 0.25)
_TARGET = Path(__file__).parents[1] / "src/jinba/core/stability/section_library.py"
_HEAD = '''"""Sections of an open library, computed once: see ``bench/section_table.py``, which writes this file.

Coordinates from aerosandbox 4.2.10's airfoil database, polars from neuralfoil 0.3.3 (computed; both MIT). Maximum lift is the first
peak; below Re 1e5 such polars read high, so that column is taken at 0.9 (docs/methods/stall.md).
"""

from __future__ import annotations

from jinba.core.airframe.parts import Camber
from jinba.core.stability.sections import LibrarySection

SECTIONS: dict[str, LibrarySection] = {
    s.key: s
    for s in (
'''


_FLOWN = (-2.0, 5.0)
"""Incidences a model flies at [deg]: zero lift and moment are fitted there, not read where a polar crosses zero or ends."""


def polar(foil: asb.Airfoil, reynolds: float) -> tuple[float, float, float]:
    """Return (zero-lift angle [deg], moment about the quarter chord, first peak of the lift).

    Zero lift by the straight line through the lift over the incidences that are flown, the moment as its mean over them; of a
    symmetrical section both are zero by symmetry.
    """
    aero = foil.get_aero_from_neuralfoil(alpha=_ALPHAS, Re=reynolds, mach=0.0, model_size="xxlarge")
    cl, cm = np.asarray(aero["CL"]), np.asarray(aero["CM"])
    low, high = _FLOWN
    flown = (low <= _ALPHAS) & (high >= _ALPHAS)
    slope, at_zero = np.polyfit(_ALPHAS[flown], cl[flown], 1)
    cambered = abs(float(foil.max_camber())) > 1e-4
    rising = np.flatnonzero((np.diff(cl) < 0) & (_ALPHAS[:-1] > 4))
    peak = float(cl[rising[0]] if rising.size else cl.max())
    return (-float(at_zero / slope), float(cm[flown].mean()), peak) if cambered else (0.0, 0.0, peak)


def row(key: str, name: str, family: str) -> str:
    """Return one section as a line of the table."""
    foil = asb.Airfoil(key)
    polars = [polar(foil, r) for r in REYNOLDS]
    peaks = tuple(round((0.9 if r < 1e5 else 1.0) * p[2], 2) for r, p in zip(REYNOLDS, polars, strict=True))
    alpha0, moment, _ = polars[2]
    thick, camber = float(foil.max_thickness()), float(foil.max_camber())
    figures = f"{thick:.4f}, {camber:.4f}, {alpha0:.2f}, {moment:.4f}, {peaks}"
    return f'        LibrarySection("{key}", "{name}", Camber.{family.upper()}, {figures}),\n'


def fit(count: int = 240) -> None:
    """Print the least-squares form of maximum lift at Re 2e5 over thickness and camber, with its scatter."""
    folder = Path(asb.__file__).parent / "geometry/airfoil/airfoil_database"
    names = sorted(p.stem for p in folder.glob("*.dat"))
    rows = []
    for name in np.random.default_rng(4).permutation(names):
        foil = asb.Airfoil(str(name))
        if foil.coordinates is None or not 0.05 < foil.max_thickness() < 0.18 or foil.max_camber() > 0.06:
            continue
        rows.append((foil.max_thickness(), foil.max_camber(), *polar(foil, 2e5)))
        if len(rows) == count:
            break
    t, f, _, _, peak = np.array(rows).T
    terms = np.stack([np.ones_like(t), t, t**2, f, f**2], axis=1)
    found, *_ = np.linalg.lstsq(terms, peak, rcond=None)
    scatter = np.std(peak - terms @ found)
    ratios = np.array([s.cl_max for s in SECTIONS.values()])
    print("library, over Re 2e5:", np.round((ratios / ratios[:, 2:3]).mean(axis=0), 2))
    print("cl_max = " + " ".join(f"{c:+.3f} {n}" for c, n in zip(found, ("", "t", "t2", "f", "f2"), strict=True)))
    print(f"scatter {scatter:.3f} ({scatter / peak.mean():.1%} of the mean) over {len(rows)} sections, Re 2e5")


def main() -> None:
    """Write the table and print the fit."""
    _TARGET.write_text(_HEAD + "".join(row(*c) for c in CHOICE) + "    )\n}\n")
    fit()


if __name__ == "__main__":
    main()
