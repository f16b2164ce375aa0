"""Reports of aerodromes, against values decoded from the code's own definition (WMO No. 306, FM 15)."""

from __future__ import annotations

import math
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.formats.metar import BadMetarError, read_metar

KNOT = 1852 / 3600
REPORTS = {
    "METAR EGLL 211220Z 24015KT 9999 FEW040 18/09 Q1018": ("EGLL", 12, 20, 15 * KNOT, None, 240, 18.0, 1018.0),
    "METAR KSEA 041453Z 19012G22KT 10SM BKN025 OVC060 11/08 A2987": (
        *("KSEA", 14, 53, 12 * KNOT, 22 * KNOT, 190, 11.0, 1011.517),
    ),
    "METAR EHAM 051355Z 31028G41KT 270V340 6000 -SHRA SCT012 BKN020 08/06 Q0997": (
        *("EHAM", 13, 55, 28 * KNOT, 41 * KNOT, 310, 8.0, 997.0),
    ),
    "METAR KDEN 271853Z 35005KT 10SM CLR 33/M01 A3004 RMK AO2 SLP098 T03281011": (
        *("KDEN", 18, 53, 5 * KNOT, None, 350, 32.8, 1017.274),
    ),
    "METAR LFPG 100830Z VRB02KT CAVOK 12/07 Q1025 NOSIG": ("LFPG", 8, 30, 2 * KNOT, None, None, 12.0, 1025.0),
    "METAR UUEE 011200Z 18004MPS 9999 OVC015 M10/M14 Q1008": ("UUEE", 12, 0, 4.0, None, 180, -10.0, 1008.0),
}


@pytest.mark.parametrize("text", REPORTS)
def test_a_report_is_read_in_si(text):
    station, hour, minute, wind, gust, degrees, celsius, hpa = REPORTS[text]
    for written in (text, text.removeprefix("METAR "), f"  {text.replace(' ', chr(10), 2)}= "):
        r = read_metar(written)
        assert (r.station, r.hour, r.minute) == (station, hour, minute)
        assert r.wind_mps == pytest.approx(wind, abs=0.01)
        assert r.gust_mps == (None if gust is None else pytest.approx(gust, abs=0.01))
        assert r.from_rad == (None if degrees is None else pytest.approx(math.radians(degrees)))
        assert r.temperature_k == pytest.approx(celsius + 273.15, abs=0.06)
        assert r.qnh_pa == pytest.approx(100 * hpa, abs=60)


def test_calm_blows_from_nowhere_and_what_is_not_reported_is_not_known():
    calm = read_metar("LFPG 100830Z 00000KT CAVOK")
    assert (calm.wind_mps, calm.from_rad, calm.gust_mps) == (0.0, None, None)
    assert calm.temperature_k is calm.qnh_pa is None


@pytest.mark.parametrize("text", ["", "  ", "hello", "METAR", "EGLL 211220Z 9999 18/09", "x" * 500])
def test_what_is_no_report_is_refused_in_words(text):
    with pytest.raises(BadMetarError, match=r"Paste|Enter|enter"):
        read_metar(text)


@given(st.text(max_size=120))
def test_whatever_is_pasted_is_read_or_refused(text):
    with suppress(BadMetarError):
        assert read_metar(text).wind_mps >= 0.0
