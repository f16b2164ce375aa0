"""An aerodrome's report (METAR, WMO No. 306 FM 15), read by the library ``metar``; what of it a model's pilot needs, in SI."""

from __future__ import annotations

import math
import warnings
from dataclasses import dataclass

from metar.Metar import Metar, ParserError

from jinba.core.errors import JinbaError

# What it leaves out it tells as a warning: groups of any country's own kind, of no use here.
warnings.filterwarnings("ignore", category=RuntimeWarning, module="metar")

LONGEST = 400
_MPS_OF_KNOT = 1852.0 / 3600.0
_ZERO_CELSIUS_K = 273.15


class BadMetarError(JinbaError):
    """A text that is no report, or one without a wind."""

    code = "bad-metar"


@dataclass(frozen=True, slots=True)
class Report:
    """What an aerodrome reports: mean wind and gusts [m/s], where it blows from [rad], temperature [K], QNH [Pa].

    None: not reported. Gusts are reported from five metres a second above the mean on; ``from_rad`` is None where the wind is
    variable or calm. ``hour``, ``minute``: of the report, UTC.
    """

    station: str
    hour: int
    minute: int
    wind_mps: float
    gust_mps: float | None
    from_rad: float | None
    temperature_k: float | None
    qnh_pa: float | None


def read_metar(text: str) -> Report:
    """Return what a report says. Raises: BadMetarError with what to do."""
    line = " ".join(text.split()).rstrip("=")
    if not line or len(line) > LONGEST:
        raise BadMetarError("Paste one report, from its station's four letters to its end.")
    try:
        said = Metar(line, strict=False)
    except (ParserError, ValueError, IndexError, KeyError, AttributeError):
        raise BadMetarError(
            "This is no report of an aerodrome that can be read. Paste it whole, or enter the wind."
        ) from None
    if said.wind_speed is None or said.time is None or not said.station_id:
        raise BadMetarError("There is no wind in this report. Enter it by hand.")
    return Report(
        station=said.station_id,
        hour=said.time.hour,
        minute=said.time.minute,
        wind_mps=said.wind_speed.value("KT") * _MPS_OF_KNOT,
        gust_mps=None if said.wind_gust is None else said.wind_gust.value("KT") * _MPS_OF_KNOT,
        from_rad=None if said.wind_dir is None or not said.wind_speed.value() else math.radians(said.wind_dir.value()),
        temperature_k=None if said.temp is None else said.temp.value("C") + _ZERO_CELSIUS_K,
        qnh_pa=None if said.press is None else said.press.value("HPA") * 100.0,
    )
