"""The standard atmosphere against ISO 2533 tables and an independent library."""

import ambiance
import pytest

from jinba.core.atmosphere.standard import (
    air_at,
    density_altitude_m,
    isa_pressure_pa,
    isa_temperature_k,
    site_density_kg_m3,
    station_pressure_pa,
)
from jinba.core.atmosphere.wind import wind_components
from jinba.core.errors import OutOfRangeError

# ISO 2533:1975 (= ICAO Doc 7488) table, geopotential altitude [m]: T [K], p [Pa], rho [kg/m3]; from memory, recomputed.
ISO_2533 = [
    (0, 288.15, 101325.0, 1.2250),
    (1000, 281.65, 89874.6, 1.11164),
    (2000, 275.15, 79495.2, 1.00649),
    (5000, 255.65, 54019.9, 0.736116),
]


@pytest.mark.parametrize(("altitude", "temperature", "pressure", "density"), ISO_2533)
def test_table_of_the_standard(altitude, temperature, pressure, density):
    assert isa_temperature_k(altitude) == pytest.approx(temperature, abs=1e-9)
    assert isa_pressure_pa(altitude) == pytest.approx(pressure, rel=1e-5)
    assert site_density_kg_m3(elevation_m=altitude) == pytest.approx(density, rel=1e-5)


@pytest.mark.parametrize("geometric_m", [0.0, 250.0, 1500.0, 3000.0])
def test_against_ambiance(geometric_m):
    """ambiance takes geometric altitude; ours is geopotential: H = r h / (r + h), r = 6356766 m (ISO 2533)."""
    geopotential = 6356766.0 * geometric_m / (6356766.0 + geometric_m)
    assert site_density_kg_m3(elevation_m=geopotential) == pytest.approx(
        float(ambiance.Atmosphere(geometric_m).density[0]), rel=2e-5
    )


def test_density_altitude_of_a_hot_day():
    """Sea level at 35 degC: 693.5 m (closed form of ISO 2533); the 120 ft per degC rule of pilots gives 732 m."""
    density = site_density_kg_m3(elevation_m=0.0, temperature_k=308.15)
    assert density == pytest.approx(1.145493, rel=1e-5)
    assert density_altitude_m(density) == pytest.approx(693.51, abs=0.1)


def test_outside_the_troposphere_is_refused_with_unit_and_range():
    with pytest.raises(OutOfRangeError, match=r"altitude is 12000 m; it must be between -1000 m and 11000 m"):
        isa_temperature_k(12000.0)


@pytest.mark.parametrize(
    ("qnh_hpa", "elevation_m", "celsius", "station_hpa", "density", "altitude_m"),
    [
        (1013.25, 0.0, 20.0, 1013.25, 1.204106277, 178.8333302),
        (1003.0, 420.0, 27.0, 953.958939, 1.107208576, 1040.671695),
    ],
)
def test_density_altitude_from_the_altimeters_setting(qnh_hpa, elevation_m, celsius, station_hpa, density, altitude_m):
    """ICAO altimeter relation, closed form; the values were computed from it outside this project."""
    pressure = station_pressure_pa(qnh_pa=100 * qnh_hpa, elevation_m=elevation_m)
    assert pressure == pytest.approx(100 * station_hpa, abs=10)
    air = air_at(qnh_pa=100 * qnh_hpa, elevation_m=elevation_m, temperature_k=celsius + 273.15)
    assert air.density_kg_m3 == pytest.approx(density, rel=1e-4)
    assert air.density_altitude_m == pytest.approx(altitude_m, abs=5)
    # The same lift in thinner air takes more speed, by the root of the density.
    assert (1 + air.faster) ** 2 * air.density_kg_m3 == pytest.approx(1.225, rel=1e-4)


def test_wind_from_the_right_is_positive_and_from_behind_negative():
    """Strip to the north; wind from the east crosses from the right, from the south blows on the tail."""
    east = wind_components(speed_mps=5.0, from_rad=1.5707963267948966, strip_heading_rad=0.0)
    assert east.crosswind_mps == pytest.approx(5.0)
    assert east.headwind_mps == pytest.approx(0.0, abs=1e-12)
    assert wind_components(
        speed_mps=5.0, from_rad=3.141592653589793, strip_heading_rad=0.0
    ).headwind_mps == pytest.approx(-5.0)
