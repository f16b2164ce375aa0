"""International Standard Atmosphere (troposphere) and the density at a field."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from jinba.core.constants import (
    ISA_LAPSE_K_PER_M,
    ISA_PRESSURE_PA,
    ISA_TEMPERATURE_K,
    SPECIFIC_GAS_CONSTANT_DRY_AIR,
    STANDARD_GRAVITY_MPS2,
)
from jinba.core.errors import check_range

_PRESSURE_EXPONENT = STANDARD_GRAVITY_MPS2 / (SPECIFIC_GAS_CONSTANT_DRY_AIR * ISA_LAPSE_K_PER_M)


def isa_temperature_k(altitude_m: float) -> float:
    """Return the standard temperature [K] at a geopotential altitude [m].

    Validity: -1000 to 11000 m (troposphere). Raises: OutOfRangeError outside it.
    References: ISO 2533:1975, eq. for the troposphere.
    """
    check_range("altitude", altitude_m, unit="m", low=-1000.0, high=11000.0)
    return ISA_TEMPERATURE_K - ISA_LAPSE_K_PER_M * altitude_m


def isa_pressure_pa(altitude_m: float) -> float:
    """Return the standard pressure [Pa] at a geopotential altitude [m].

    Validity and errors: as :func:`isa_temperature_k`. References: ISO 2533:1975.
    """
    return float(ISA_PRESSURE_PA * (isa_temperature_k(altitude_m) / ISA_TEMPERATURE_K) ** _PRESSURE_EXPONENT)


def air_density_kg_m3(*, pressure_pa: float, temperature_k: float) -> float:
    """Return the density of dry air [kg/m3] from station pressure [Pa] and temperature [K].

    Validity: 30 to 120 kPa, 230 to 330 K; humidity lowers it by less than 2 %. Raises: OutOfRangeError outside.
    References: ideal gas law with the constant of ISO 2533:1975.
    """
    check_range("pressure", pressure_pa, unit="Pa", low=30e3, high=120e3)
    check_range("temperature", temperature_k, unit="K", low=230.0, high=330.0)
    return pressure_pa / (SPECIFIC_GAS_CONSTANT_DRY_AIR * temperature_k)


@lru_cache(maxsize=64)
def site_density_kg_m3(*, elevation_m: float, temperature_k: float | None = None) -> float:
    """Return the density [kg/m3] at a field of a known elevation [m], with standard pressure for that elevation.

    ``temperature_k`` is the air temperature [K]; the standard one when it is not known.
    Validity: elevation -500 to 5000 m; weather changes the pressure by about 2 %. Raises: OutOfRangeError.
    References: ISO 2533:1975 with the ideal gas law.
    """
    check_range("site elevation", elevation_m, unit="m", low=-500.0, high=5000.0)
    kelvin = isa_temperature_k(elevation_m) if temperature_k is None else temperature_k
    return air_density_kg_m3(pressure_pa=isa_pressure_pa(elevation_m), temperature_k=kelvin)


def station_pressure_pa(*, qnh_pa: float, elevation_m: float) -> float:
    """Return the pressure at a field [Pa] of an elevation [m], from the setting that makes an altimeter there read its elevation.

    Validity: 87 to 109 kPa, -500 to 5000 m. Raises: OutOfRangeError outside. References: ICAO, Manual of the Standard Atmosphere,
    Doc 7488 (from memory): the pressure at the elevation in a standard atmosphere shifted until it has QNH at sea level.
    """
    check_range("QNH", qnh_pa, unit="Pa", low=87e3, high=109e3)
    check_range("site elevation", elevation_m, unit="m", low=-500.0, high=5000.0)
    shifted = (ISA_TEMPERATURE_K / ISA_LAPSE_K_PER_M) * (1.0 - (qnh_pa / ISA_PRESSURE_PA) ** (1.0 / _PRESSURE_EXPONENT))
    return isa_pressure_pa(elevation_m + shifted)


def density_altitude_m(density_kg_m3: float) -> float:
    """Return the geopotential altitude [m] at which the standard atmosphere has this density [kg/m3].

    References: ISO 2533:1975, inverted (derived here).
    """
    check_range("density", density_kg_m3, unit="kg/m3", low=0.3, high=1.6)
    sea_level = ISA_PRESSURE_PA / (SPECIFIC_GAS_CONSTANT_DRY_AIR * ISA_TEMPERATURE_K)
    ratio = (density_kg_m3 / sea_level) ** (1.0 / (_PRESSURE_EXPONENT - 1.0))
    return float(ISA_TEMPERATURE_K / ISA_LAPSE_K_PER_M * (1.0 - ratio))


@dataclass(frozen=True, slots=True)
class Air:
    """The air at a field: density [kg/m3], density altitude [m], and how much faster everything flies there than at sea level [-]."""

    density_kg_m3: float
    density_altitude_m: float
    faster: float


def air_at(*, qnh_pa: float, elevation_m: float, temperature_k: float) -> Air:
    """Return the air at a field of an elevation [m], from QNH [Pa] and temperature [K].

    Speeds of stall, take-off and trim go with the root of the density: the same lift. Validity and errors: as
    :func:`station_pressure_pa` and :func:`air_density_kg_m3`. References: as these; the root derived here.
    """
    pressure = station_pressure_pa(qnh_pa=qnh_pa, elevation_m=elevation_m)
    density = air_density_kg_m3(pressure_pa=pressure, temperature_k=temperature_k)
    sea_level = air_density_kg_m3(pressure_pa=ISA_PRESSURE_PA, temperature_k=ISA_TEMPERATURE_K)
    return Air(density, density_altitude_m(density), math.sqrt(sea_level / density) - 1.0)
