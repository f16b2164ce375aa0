"""One origin for every physical constant, with its source beside it. SI units."""

from __future__ import annotations

STANDARD_GRAVITY_MPS2 = 9.80665
"""ISO 80000-3 / 3rd CGPM (1901), exact."""

SPECIFIC_GAS_CONSTANT_DRY_AIR = 287.05287
"""ISO 2533:1975 standard atmosphere. [J/(kg K)]"""

ISA_TEMPERATURE_K = 288.15
"""ISO 2533:1975, sea level."""

ISA_PRESSURE_PA = 101325.0
"""ISO 2533:1975, sea level."""

ISA_LAPSE_K_PER_M = 0.0065
"""ISO 2533:1975, troposphere, per geopotential metre."""

ZERO_CELSIUS_K = 273.15
"""BIPM SI brochure, exact."""

ONE_SIDED_95_PERCENT = 1.6448536269514722
"""Standard normal quantile at 0.95 (any statistics handbook)."""

ONE_SIDED_99_PERCENT = 2.3263478740408408
"""Standard normal quantile at 0.99 (any statistics handbook)."""

AIR_VISCOSITY_PA_S = 1.7894e-5
"""Dynamic viscosity of air at 15 degrees Celsius. Source: ISO 2533, 1975 (from memory)."""
