"""Set-up sheet on one page and as a table; throws out and in, bad tables refused by row and column."""

from __future__ import annotations

import contextlib
import csv
import io
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from jinba.core.bench.controls import controls_answer
from jinba.core.controls.fitting import Command
from jinba.core.controls.mixing import Mix
from jinba.core.controls.radio import Timer
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.controls.switches import FlightMode, Job, Switch
from jinba.core.controls.throws import FlightPhase
from jinba.core.frames import Axis
from jinba.formats.control_papers import setup_sheet, setup_table
from jinba.formats.paper import to_pdf, to_svg
from jinba.formats.throw_table import LARGEST_BYTES, ThrowTableError, read_throws, write_throws
from tests.builders import model


def full_setup():
    c = model("flying_wing")
    s = c.control_setup
    switches = tuple(
        Switch(n, side, k, positions=3, jobs=(Job.MODE,) if k == 1 else (Job.OTHER,), modes=tuple(FlightMode)[:3])
        for side in ("left", "right")
        for k, n in enumerate((f"{side[0]}{i}" for i in range(1, 7)), 1)
    )
    radio = replace(s.radio, switches=switches, timers=(Timer("flight", 6.0),))
    full = replace(
        s,
        mixes=(Mix(Command.THROTTLE, Command.PITCH, 0.04),),
        phases=(*s.phases, FlightPhase("landing", 1, 1, 1, 0.6, -3)),
        radio=radio,
        stabiliser=Stabiliser(level_board_rad=0.07),
    )
    return replace(c, controls=full)


def test_a_full_set_up_is_one_page_with_everything_on_it():
    c = full_setup()
    sheet = setup_sheet("Dunlin", c, controls_answer(c))
    pages = PdfReader(io.BytesIO(to_pdf(sheet))).pages
    assert len(pages) == 1
    text = pages[0].extract_text()
    for words in (
        "Dunlin: control set-up",
        "left elevon",
        "full throttle gives 4 % nose down",
        "landing",
        "OPEN: prove it",
        "pass-through, rate-stabilised, self-levelling",
        "4.0° nose up",
        "flight",
        "stick mode",
    ):
        assert words in text, words
    assert all(0 < t.y < sheet.height and 0 < t.x < sheet.width for t in sheet.texts)
    assert min(t.size for t in sheet.texts) > 1.6, "still readable at arm's length"
    assert "Dunlin" in to_svg(sheet)


def test_throws_on_the_sheet_are_those_of_the_desk():
    c = full_setup()
    answer = controls_answer(c)
    rows = list(csv.reader(io.StringIO(setup_table("Dunlin", c, answer))))
    high = next(r for r in rows if r[1:3] == ["pitch", "high"])
    first = next(r for r in answer.rates if (r.axis, r.rate) == (Axis.PITCH, "high"))
    assert f"up {1000 * first.first_m:.1f} mm" in high[3]


def test_throws_go_out_and_come_in_again():
    c = model("low_wing")
    setup = c.control_setup
    back = read_throws(c, write_throws(c).encode())
    for before, after in zip(setup.rates, back.rates, strict=True):
        for a, b in zip(before.steps, after.steps, strict=True):
            assert (b.first, b.second, b.expo) == pytest.approx((a.first, a.second, a.expo), abs=0.01)
            assert a.name == b.name


HEAD = "axis,rate,nose_up_or_right_mm,nose_down_or_left_mm,expo_percent,chord_mm\n"


@pytest.mark.parametrize(
    ("table", "words"),
    [
        ("axis,rate\npitch,high\n", "missing: nose_up_or_right_mm"),
        (HEAD, "0 rows"),
        (HEAD + "flap,high,10,10,0,50\n", "Row 2, axis: 'flap'"),
        (HEAD + "pitch,high,ten,10,0,50\n", "Row 2, nose_up_or_right_mm: cannot read 'ten'"),
        (HEAD + "pitch,high,10,-3,0,50\n", "Row 2, nose_down_or_left_mm: -3 mm is no throw"),
        (HEAD + "pitch,high,10,10,0,50\nroll,high,60,10,0,50\n", "Row 3, nose_up_or_right_mm: this linkage reaches"),
        (HEAD + "pitch,high,10,10,300,50\n", "Row 2: high rate, expo"),
        (HEAD + "pitch,a,9,9,0,50\npitch,b,8,8,0,50\npitch,c,7,7,0,50\npitch,d,6,6,0,50\n", "up to three"),
        (HEAD + "pitch,high,nan,10,0,50\n", "Row 2, nose_up_or_right_mm: nan is no measure"),
        (HEAD + "pitch,high,1e999,10,0,50\n", "is no measure"),
    ],
)
def test_a_bad_table_is_refused_by_row_and_column(table, words):
    with pytest.raises(ThrowTableError, match=words.replace("(", r"\(")):
        read_throws(model("low_wing"), table.encode())


def test_a_comma_as_decimal_point_and_a_semicolon_between_cells_are_read():
    table = HEAD.replace(",", ";") + "pitch;high;9,5;9,5;20;50\n"
    steps = next(r for r in read_throws(model("low_wing"), table.encode()).rates if r.axis is Axis.PITCH).steps
    assert len(steps) == 1
    assert steps[0].expo == pytest.approx(0.2)


@given(data=st.one_of(st.binary(max_size=400), st.text(max_size=200).map(lambda t: (HEAD + t).encode())))
def test_no_table_whatever_breaks_the_reader(data):
    with contextlib.suppress(ThrowTableError):
        assert len(read_throws(model("low_wing"), data).rates) == 3


def test_a_huge_table_is_refused():
    with pytest.raises(ThrowTableError, match="larger"):
        read_throws(model("low_wing"), b"x" * (LARGEST_BYTES + 1))
