"""Items as a table: out and in again, and every bad cell by its row and column."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.errors import JinbaError
from jinba.core.mass.items import Item, ItemKind
from jinba.formats.item_table import COLUMNS, ItemTableError, read_items, write_items

NAMES = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=40).filter(
    lambda s: s.strip() == s
)
MM = st.integers(-2000, 2000).map(lambda v: v / 1000)


@st.composite
def items(draw) -> Item:
    bay = draw(st.none() | st.tuples(MM, MM).map(lambda p: (min(p), max(p))))
    return Item(
        "k",
        draw(NAMES),
        draw(st.integers(0, 9000)) / 1000,
        draw(MM),
        draw(MM),
        draw(MM),
        draw(st.sampled_from(ItemKind)),
        bay,
        draw(st.booleans()),
    )


@given(st.lists(items(), min_size=1, max_size=12))
def test_what_goes_out_comes_in_again(rows):
    back = read_items(write_items(tuple(rows)).encode())
    for mine, theirs in zip(rows, back, strict=True):
        assert (mine.name, mine.kind, mine.fitted) == (theirs.name, theirs.kind, theirs.fitted)
        assert theirs.mass_kg == pytest.approx(mine.mass_kg, abs=1e-9)
        assert (theirs.x_m, theirs.y_m, theirs.z_m) == pytest.approx((mine.x_m, mine.y_m, mine.z_m), abs=1e-9)
        assert (theirs.bay_m is None) is (mine.bay_m is None)


def test_a_table_from_a_spreadsheet_with_commas_for_decimals_is_read():
    """Semicolons between, decimal commas, a byte-order mark and columns in another order, as spreadsheets write them."""
    text = "\ufeffstation_mm;name;mass_g;notes\n-50,5;Pack;310,5;new\n120;Servo;14;\n"
    pack, servo = read_items(text.encode())
    assert (pack.x_m, pack.mass_kg) == pytest.approx((-0.0505, 0.3105))
    assert (servo.name, servo.kind) == ("Servo", ItemKind.PART)


def test_the_header_is_plain_csv_for_any_other_reader():
    rows = list(csv.reader(io.StringIO(write_items((Item("a", 'A "quoted", name', 0.1, 0.02),)))))
    assert tuple(rows[0]) == COLUMNS
    assert rows[1][0] == 'A "quoted", name'


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("name,mass_g\nPack,310\n", "missing: station_mm"),
        ("name,mass_g,station_mm\n", "0 rows"),
        ("name,mass_g,station_mm\nPack,heavy,10\n", "Row 2, mass_g: cannot read 'heavy'"),
        ("name,mass_g,station_mm\nA,1,1\nPack,10,\n", "Row 3, station_mm: cannot read ''"),
        ("name,mass_g,station_mm,kind\nPack,10,1,engine\n", "Row 2, kind: 'engine' is none of airframe"),
        ("name,mass_g,station_mm,bay_from_mm,bay_to_mm\nPack,10,1,5,\n", "Row 2: a bay needs both its ends"),
        ("name,mass_g,station_mm\n" + "A,1,1\n" * 81, "81 rows"),
        ("name,mass_g,station_mm\nA,1,1\x00\n", "control characters"),
        ("x" * 200_001, "larger than 200 kB"),
        ('name,mass_g,station_mm\r"A,1,1', "Row"),
    ],
)
def test_bad_tables_are_refused_by_row_and_column(text, words):
    with pytest.raises(ItemTableError, match=words):
        read_items(text.encode())


@pytest.mark.parametrize("cell", ["-5", "nan", "1e999", "inf"])
def test_masses_that_cannot_be_are_refused_by_the_item_itself(cell):
    with pytest.raises(JinbaError, match="mass"):
        read_items(f"name,mass_g,station_mm\nPack,{cell},1\n".encode())


@given(st.binary(max_size=200))
def test_any_bytes_whatever_are_refused_in_words_or_read(data):
    try:
        answer: object = read_items(data)
    except JinbaError as error:
        answer = error.title
    assert answer
