"""Battery cells: their volts full, nominal and empty, and how full one is by its volts at rest."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jinba.core.errors import OutOfRangeError, check_range


class Chemistry(StrEnum):
    """What a cell is made of."""

    LIPO = "lipo"
    LIHV = "lihv"
    LI_ION = "li_ion"
    LIFEPO4 = "lifepo4"
    NIMH = "nimh"


_LIPO_REST = (
    (3.27, 0.00),
    (3.61, 0.05),
    (3.69, 0.10),
    (3.71, 0.15),
    (3.73, 0.20),
    (3.75, 0.25),
    (3.77, 0.30),
    (3.79, 0.35),
    (3.80, 0.40),
    (3.82, 0.45),
    (3.84, 0.50),
    (3.87, 0.60),
    (3.91, 0.65),
    (3.98, 0.75),
    (4.08, 0.85),
    (4.11, 0.90),
    (4.20, 1.00),
)
"""Volts at rest of a lithium polymer cell at 20 C and its charge [V, -]: common practice, no source; from memory."""


@dataclass(frozen=True, slots=True)
class Cell:
    """A cell: volts ``full`` (charged, at rest), ``nominal`` (mean while it is emptied), ``empty`` (at rest, nothing left).

    ``rest``: volts at rest over charge where they tell it, None where the curve is too flat to go by.
    """

    words: str
    full_v: float
    nominal_v: float
    empty_v: float
    rest: tuple[tuple[float, float], ...] | None = None


CELLS: dict[Chemistry, Cell] = {
    Chemistry.LIPO: Cell("lithium polymer", 4.20, 3.70, 3.27, _LIPO_REST),
    Chemistry.LIHV: Cell("lithium polymer, high voltage", 4.35, 3.80, 3.27),
    Chemistry.LI_ION: Cell("lithium ion, round cells", 4.20, 3.60, 2.80),
    Chemistry.LIFEPO4: Cell("lithium iron phosphate", 3.65, 3.20, 2.50),
    Chemistry.NIMH: Cell("nickel metal hydride", 1.42, 1.20, 1.00),
}
"""Volts of cells: data sheets, from memory."""

_ABOVE_FULL_V = 0.06
_NEARLY_FULL_V = {Chemistry.LIFEPO4: 0.25, Chemistry.NIMH: 0.07}
_FLAT_V = (3.7, 3.9)
_SIGMA, _SIGMA_FLAT, _SIGMA_FULL = 0.05, 0.085, 0.03


@dataclass(frozen=True, slots=True)
class Charge:
    """How full a pack is: ``share`` of its capacity with one ``sigma`` [-]; ``read``: by its volts, else taken for full."""

    share: float
    sigma: float
    read: bool = True


CHARGED = Charge(0.95, 0.08, read=False)
"""A pack nobody read the volts of: taken for charged some days ago, and never for more than one that was read; common practice, no source."""


def per_cell_v(chemistry: Chemistry, cells: int, volts: float) -> float:
    """Return the volts of one cell from what was read, of one cell or of the whole pack [V]: no pack is both.

    ``cells`` in series, without unit. Validity: at rest. Raises: OutOfRangeError for what neither can show, with the likely slip.
    Derived here.
    """
    cell = CELLS[chemistry]
    check_range("cells in series", cells, unit="", low=1, high=30)
    low, high = 0.6 * cell.empty_v, cell.full_v + _ABOVE_FULL_V
    for said in (volts, volts / cells):
        if low <= said <= high:
            return said
    hint = f"A cell of {cell.words} at rest shows {cell.empty_v:g} to {cell.full_v:g} V, {cells} of them {cells * cell.empty_v:.1f} to {cells * cell.full_v:.1f} V. Is the number of cells right?"
    raise OutOfRangeError("volts at rest", volts, unit="V", low=low, high=cells * high, hint=hint)


def charge_of(chemistry: Chemistry, cell_v: float) -> Charge | None:
    """Return how full a cell is by its volts at rest [V]; None where they do not tell: only that a flat curve's cell is not full.

    Sigma 5 points of charge, 8.5 between 3.7 and 3.9 V, where tables differ by up to 12. Validity: some minutes after load, near 20 C.
    References: :data:`_LIPO_REST` (common practice, no source).
    """
    cell = CELLS[chemistry]
    if cell.rest is None:
        nearly = _NEARLY_FULL_V.get(chemistry, 0.05)
        return Charge(1.0, _SIGMA_FULL) if cell_v >= cell.full_v - nearly else None
    volts, shares = np.array(cell.rest).T
    share = float(np.interp(cell_v, volts, shares))
    if share >= 1.0:
        return Charge(1.0, _SIGMA_FULL)
    flat = _FLAT_V[0] <= cell_v <= _FLAT_V[1]
    return Charge(share, _SIGMA_FLAT if flat else _SIGMA)
