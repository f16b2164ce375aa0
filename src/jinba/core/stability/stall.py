"""Stall speed and wing loading."""

from __future__ import annotations

import math

from jinba.core.constants import STANDARD_GRAVITY_MPS2
from jinba.core.errors import check_range


def stall_speed_mps(
    *, mass_kg: float, area_m2: float, cl_max: float, density_kg_m3: float, load_factor: float = 1.0
) -> float:
    """Return the stall speed [m/s]: V_s = sqrt(2 n m g / (rho S CL_max)).

    Parameters: mass [kg] > 0, wing area [m2] > 0, maximum lift coefficient [-] > 0, density [kg/m3], load factor [-].
    A relative error of CL_max goes in halved. Raises: OutOfRangeError.
    References: definition of the lift coefficient; any flight manual.
    Examples
    --------
    >>> round(stall_speed_mps(mass_kg=2.4, area_m2=0.4, cl_max=1.2, density_kg_m3=1.225), 3)
    8.947
    """
    check_range("mass", mass_kg, unit="kg", low=1e-4)
    check_range("wing area", area_m2, unit="m2", low=1e-5)
    check_range("maximum lift coefficient", cl_max, unit="", low=0.05, high=6.0)
    check_range("load factor", load_factor, unit="", low=0.0, high=50.0)
    return math.sqrt(2.0 * load_factor * mass_kg * STANDARD_GRAVITY_MPS2 / (density_kg_m3 * area_m2 * cl_max))


def wing_loading_kg_m2(*, mass_kg: float, area_m2: float) -> float:
    """Return the wing loading. [kg/m2] (10 kg/m2 = 100 g/dm2) Derived here (docs/methods/stall.md)."""
    check_range("wing area", area_m2, unit="m2", low=1e-5)
    return mass_kg / area_m2
