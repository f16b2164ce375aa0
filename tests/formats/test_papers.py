"""Paper at one to one: what is printed is measured with another program's ruler."""

from __future__ import annotations

import io
import re
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader

from jinba.core.airframe.planform import chord_at
from jinba.core.bench.answer import bench_answer
from jinba.core.errors import JinbaError, OutOfRangeError
from jinba.formats.balance_papers import balance_sheet, marking_template
from jinba.formats.paper import A2, A4, Sheet, to_pdf, to_svg
from tests.builders import model

SVG = "{http://www.w3.org/2000/svg}"
POINTS_PER_MM = 72 / 25.4


def template(key: str = "low_wing", y_m: float = 0.2, span_m: float = 1.1):
    c = model(key, span_m=span_m)
    return c, bench_answer(c), marking_template("Whinchat", c, bench_answer(c), y_m=y_m)


def vertical_lines(sheet: Sheet) -> list[float]:
    return [
        line.points[0][0] for line in sheet.lines if len(line.points) == 2 and line.points[0][0] == line.points[1][0]
    ]


def test_the_calibration_bar_is_a_hundred_millimetres_in_both_files():
    """pypdf reads the page in points of 1/72 inch; the SVG's user unit is the millimetre of its width and viewBox."""
    _, _, sheet = template()
    bar = next(line for line in sheet.lines if line.width == 0.4 and line.points[0][1] == line.points[1][1])
    assert bar.points[1][0] - bar.points[0][0] == 100.0
    page = PdfReader(io.BytesIO(to_pdf(sheet))).pages[0]
    assert float(page.mediabox.width) / POINTS_PER_MM == pytest.approx(297, abs=0.01)
    content = page.get_contents().get_data().decode()
    strokes = [tuple(map(float, m)) for m in re.findall(r"n ([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", content)]
    lengths = [(x1 - x0) / POINTS_PER_MM for x0, y0, x1, y1 in strokes if y0 == y1]
    assert any(abs(length - 100.0) < 0.005 for length in lengths), "the bar as the PDF draws it"
    root = ElementTree.fromstring(to_svg(sheet))
    assert root.get("width") == "297mm"
    assert root.get("viewBox") == "0 0 297 210"
    assert any(
        p.get("d") == f"M{bar.points[0][0]:.3f} {bar.points[0][1]:.3f}L{bar.points[1][0]:.3f} {bar.points[1][1]:.3f}"
        for p in root.iter(f"{SVG}path")
    )


@pytest.mark.parametrize("y_m", [0.05, 0.3, 0.5])
def test_marks_lie_behind_the_leading_edge_of_their_own_station(y_m):
    """On a tapered, swept edge the same balance point is another distance at every station."""
    c, answer, sheet = template(y_m=y_m)
    leading, chord = chord_at(c.airframe.wing, y_m)
    edge = next(line.points[0][0] for line in sheet.lines if line.width == 0.6)
    found = vertical_lines(sheet)
    for x in (answer.x_cg_m, answer.x_np_m, answer.maiden.x_m):
        assert any(abs(v - edge - (x - leading) * 1000) < 1e-6 for v in found)
    assert any(abs(v - edge - chord * 1000) < 1e-6 for v in found), "trailing edge"
    text = " ".join(t.words for t in sheet.texts)
    assert "left wing" in text
    assert "right wing" in text
    assert "-" not in text.replace("100 %", ""), "no signed number on paper"


def test_larger_wings_take_larger_sheets_and_the_largest_are_sent_further_out():
    assert (template()[2].width, template()[2].height) == (A4[1], A4[0])
    assert template(span_m=2.6)[2].width > A4[1]
    with pytest.raises(JinbaError, match="further out"):
        template("delta", y_m=0.0, span_m=2.4)
    assert template("delta", y_m=0.6, span_m=1.6)[2].width <= A2[1], "marks ahead of the edge there are drawn too"
    with pytest.raises(OutOfRangeError, match="distance from the centre line"):
        template(y_m=3.0)


@pytest.mark.parametrize("key", ["high_wing", "canard", "triplane", "flying_wing", "tandem"])
def test_the_balance_sheet_says_everything_on_one_page(key):
    c = model(key)
    answer = bench_answer(c)
    reader = PdfReader(io.BytesIO(to_pdf(balance_sheet("Whinchat", c, answer))))
    assert len(reader.pages) == 1
    text = reader.pages[0].extract_text()
    for words in ("Whinchat: balance sheet", "neutral point", "Static margin", "Together", c.items[0].name):
        assert words in text
    for line in balance_sheet("Whinchat", c, answer).lines:
        assert all(0 <= x <= A4[0] and 0 <= y <= A4[1] for x, y in line.points), "nothing runs off the paper"


def test_the_same_model_prints_the_same_bytes_and_awkward_names_are_escaped():
    _, _, sheet = template()
    assert to_pdf(sheet) == to_pdf(sheet)
    sheet.text(10, 10, "Müller & <Söhne>")
    assert "Müller & <Söhne>" in [t.text for t in ElementTree.fromstring(to_svg(sheet)).iter(f"{SVG}text")]
    assert "Müller" in PdfReader(io.BytesIO(to_pdf(sheet))).pages[0].extract_text()
