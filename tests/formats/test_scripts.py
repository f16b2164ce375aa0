"""Names in any script on paper and in tables, and words that a spreadsheet would run."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from jinba.core.mass.items import Item, ItemKind
from jinba.formats import typefaces
from jinba.formats.cells import cell_words, words_cell
from jinba.formats.item_table import read_items, write_items
from jinba.formats.paper import A4, Sheet, to_pdf
from tests.api.steps import V1, create, ok

NAMES = ("Štěpán", "Ωmega", "Чайка", "鶴", "つる", "학", "Vogel 🛩")


@pytest.mark.parametrize("name", NAMES)
def test_a_model_of_any_name_is_exported_and_its_papers_are_printed(client, name):
    model = create(client, name)["id"]
    archive = client.get(f"{V1}/models/{model}/archive")
    assert archive.status_code == 200
    assert "filename*=UTF-8''" in archive.headers["content-disposition"]
    copy = ok(client.post(f"{V1}/archives", content=archive.content), 201)
    assert copy["name"] == f"{name} (2)"
    for paper in ("balance-sheet.pdf", "balance-sheet.svg", "setup-sheet.pdf", "setup-sheet.csv"):
        assert client.get(f"{V1}/models/{model}/{paper}").status_code == 200, paper


@pytest.mark.parametrize("name", NAMES[:-1])
def test_the_letters_themselves_stand_on_the_paper(name):
    sheet = Sheet(*A4, title=name)
    sheet.text(20, 20, f"Name: {name}!", bold=True)
    (page,) = PdfReader(io.BytesIO(to_pdf(sheet))).pages
    assert f"Name:{name}!" in "".join(page.extract_text().split())


def test_a_letter_that_no_face_has_is_a_question_mark_and_the_rest_stays():
    assert "".join(text for _, text in typefaces.runs("a\U0001f6e9b", bold=False)) == "a?b"


def test_a_text_ends_where_it_would_with_one_face():
    pieces = typefaces.runs("Span 1500", bold=False)
    assert typefaces.width(pieces, 10.0) == pytest.approx(
        sum(typefaces.width([(f, c)], 10.0) for f, t in pieces for c in t), rel=1e-6
    )


@pytest.mark.parametrize("name", ["=cmd|' /C calc'!A0", "+1", "-2+3", "@SUM(1)", "'=x", "plain", "'quoted"])
def test_no_cell_of_words_is_run_by_a_spreadsheet_and_every_one_comes_back(name):
    table = write_items((Item(key="row-2", name=name, mass_kg=0.1, x_m=0.0, kind=ItemKind.PART),))
    cell = list(csv.reader(io.StringIO(table)))[1][0]
    assert cell[0] not in "=+-@\t\r"
    assert read_items(table.encode())[0].name == name


@given(st.text(st.characters(exclude_categories=["Cs"]), max_size=20))
def test_any_words_survive_their_cell(words):
    assert cell_words(words_cell(words)) == words
    assert not words_cell(words).startswith(("=", "+", "-", "@", "\t", "\r"))
