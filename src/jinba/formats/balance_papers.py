"""The balance sheet of a model on one page, and the marking template at one to one."""

from __future__ import annotations

from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.planform import chord_at
from jinba.core.bench.answer import BenchAnswer
from jinba.core.configuration import Configuration
from jinba.core.errors import JinbaError, check_range
from jinba.core.frames import left_or_right, station_words
from jinba.core.spoken import METRIC, Units, a_length, a_mass
from jinba.formats.paper import A2, A3, A4, Sheet

_MARGIN = 15.0
_BAR_MM = 100.0
_LABEL_MM = 85.0
"""Room for the words beside the rearmost mark. [mm]"""


def marking_template(name: str, c: Configuration, answer: BenchAnswer, *, y_m: float, units: Units = METRIC) -> Sheet:
    """Return the template that marks the balance point on the wing at a distance from the centre line. [m]

    Laid with its left edge line on the leading edge there; balance point, wanted band and neutral point at one to one,
    once for each wing, with a bar of 100 mm to check the printer. Raises: OutOfRangeError; JinbaError when the marks do
    not fit the largest sheet.
    """
    wing = c.airframe.wing
    check_range("distance from the centre line", y_m, unit="m", low=0.0, high=wing.half_span_m)
    leading, chord = chord_at(wing, y_m)
    marks = _marks(answer, leading)
    reach = max(0.0, *(d for d, _ in marks)) + _LABEL_MM
    before = max(0.0, -min(d for d, _ in marks)) + 8.0
    size = next((s for s in (A4, A3, A2) if s[1] - 2 * _MARGIN >= before + reach), None)
    if size is None:
        raise JinbaError("These marks lie further apart than the largest sheet: choose a station further out.")
    sheet = Sheet(size[1], size[0], f"{name}: marking template", units)
    sheet.text(_MARGIN, _MARGIN, f"{name}: balance marks at {a_length(y_m)} from the centre line", size=5, bold=True)
    sheet.text(
        _MARGIN, _MARGIN + 6, "Print at 100 %, never fitted to the page. Measure the bar: it must be 100 mm long."
    )
    _bar(sheet, _MARGIN, _MARGIN + 14)
    for i, side in enumerate(("left wing", "right wing")):
        _strip(sheet, _MARGIN + before, _MARGIN + 34 + 62 * i, side, chord * 1000.0, marks, answer, leading)
    return sheet


def _marks(answer: BenchAnswer, leading_m: float) -> list[tuple[float, str]]:
    marks = [(answer.x_cg_m, "balances here now"), (answer.x_np_m, "neutral point")]
    if answer.maiden.x_m is not None:
        marks.append((answer.maiden.x_m, "maiden balance point"))
    marks += [(m.x_cg_m, f"with {m.name}") for m in answer.pack_marks]
    return [((x - leading_m) * 1000.0, words) for x, words in marks]


def _bar(sheet: Sheet, x: float, y: float) -> None:
    sheet.line((x, y), (x + _BAR_MM, y), width=0.4)
    for step in range(11):
        tick = 3.0 if step % 5 == 0 else 1.5
        sheet.line((x + 10.0 * step, y - tick), (x + 10.0 * step, y + tick))
    sheet.text(x + _BAR_MM + 3, y + 1, "100 mm")


def _strip(
    sheet: Sheet,
    x0: float,
    y: float,
    side: str,
    chord_mm: float,
    marks: list[tuple[float, str]],
    answer: BenchAnswer,
    leading_m: float,
) -> None:
    low, high = ((x - leading_m) * 1000.0 for x in answer.band_m)
    sheet.text(x0, y - 3, f"{side}: this line on the leading edge", bold=True)
    sheet.line((x0, y), (x0, y + 36), width=0.6)
    end = min(x0 + chord_mm, sheet.width - _MARGIN)
    sheet.line((x0, y + 10), (end, y + 10), width=0.3)
    if end == x0 + chord_mm:
        sheet.line((end, y + 4), (end, y + 16), width=0.3)
    sheet.line(
        (x0 + low, y + 7),
        (x0 + high, y + 7),
        (x0 + high, y + 13),
        (x0 + low, y + 13),
        closed=True,
        fill_grey=0.88,
        grey=0.5,
    )
    sheet.text(x0 + (low + high) / 2, y + 6, "wanted", size=2.6, anchor="middle")
    for row, (d, words) in enumerate(sorted(marks, reverse=True)):
        foot = y + 17 + 4.5 * row
        dashes = (1.5, 1.0) if words == "neutral point" else ()
        sheet.line((x0 + d, y + 4), (x0 + d, foot - 3), width=0.4, dashes=dashes)
        sheet.text(
            x0 + d + 1,
            foot,
            f"{words}, {a_length(abs(d) / 1000)} {'behind' if d >= 0 else 'ahead of'} the leading edge",
        )


def balance_sheet(name: str, c: Configuration, answer: BenchAnswer, *, units: Units = METRIC) -> Sheet:
    """Return the balance sheet: plan and side view with the marks, where it is held, the items, and the sentences."""
    sheet = Sheet(*A4, f"{name}: balance sheet", units)
    sheet.text(_MARGIN, 20, f"{name}: balance sheet", size=6, bold=True)
    sheet.text(
        _MARGIN, 26, f"Stations from the {c.datum}. Measure ready to fly: pack in, propeller on, gear as in flight."
    )
    foot = _views(sheet, c.airframe, answer, top=34.0)
    y = foot + 8
    for words in _sentences(c, answer):
        sheet.text(_MARGIN, y, words, size=3.0)
        y += 5.0
    _table(sheet, c, y + 5)
    return sheet


def _views(sheet: Sheet, airframe: Airframe, answer: BenchAnswer, *, top: float) -> float:
    """Draw the half plan above the ruler with its marks; return the foot of the drawing. [mm]"""
    xs = [airframe.body.nose_x_m, airframe.body.nose_x_m + airframe.body.length_m]
    for s in airframe.surfaces:
        xs += [s.x_m + q.x_offset_m for q in s.sections] + [s.x_m + q.x_offset_m + q.chord_m for q in s.sections]
    half = max(s.half_span_m for s in airframe.surfaces)
    scale = min((sheet.width - 2 * _MARGIN) / (max(xs) - min(xs)), 90.0 / half)
    middle = top + half * scale

    def at(x: float, y: float) -> tuple[float, float]:
        return _MARGIN + (x - min(xs)) * scale, middle - y * scale

    for s in airframe.surfaces:
        sheet.line(*(at(*p) for p in _outline(s)), closed=True, width=0.35, fill_grey=1.0)
    body = airframe.body
    nose, tail, w = body.nose_x_m, body.nose_x_m + body.length_m, body.width_m / 2
    sheet.line(
        at(nose, 0),
        at(nose + 0.12 * body.length_m, w),
        at(nose + 0.6 * body.length_m, w),
        at(tail, 0.3 * w),
        at(tail, 0),
    )
    for n in airframe.nacelles:
        y, w, end = n.y_m, n.width_m / 2, n.nose_x_m + n.length_m
        front = n.nose_x_m + 0.15 * n.length_m
        edge = [(n.nose_x_m, y - w / 3), (n.nose_x_m, y + w / 3), (front, y + w), (end, y), (front, y - w)]
        sheet.line(*(at(*p) for p in edge), closed=True, width=0.35, fill_grey=1.0)
    sheet.line(at(min(xs), 0), at(max(xs), 0), dashes=(4, 1, 1, 1))
    hold = at(answer.fingers.x_m, answer.fingers.y_m)
    sheet.line((hold[0] - 2, hold[1]), (hold[0] + 2, hold[1]), width=0.6)
    sheet.line((hold[0], hold[1] - 2), (hold[0], hold[1] + 2), width=0.6)
    sheet.text(hold[0] + 3, hold[1] - 1, "hold or jig here", size=3)
    low, high = (at(x, 0)[0] for x in answer.band_m)
    sheet.line(
        (low, middle + 4), (high, middle + 4), (high, middle + 8), (low, middle + 8), closed=True, fill_grey=0.85
    )
    sheet.text(low - 1, middle + 7, "wanted", size=2.6, anchor="end")
    marks = [(answer.x_cg_m, "balances here"), (answer.x_np_m, "neutral point")]
    if answer.maiden.x_m is not None:
        marks.append((answer.maiden.x_m, "maiden point"))
    for row, (x, words) in enumerate(sorted(marks, reverse=True)):
        place = at(x, 0)[0]
        sheet.line((place, middle + 2), (place, middle + 12 + 4.5 * row), width=0.5)
        sheet.text(place + 1, middle + 12 + 4.5 * row, words, size=3)
    return middle + 12 + 4.5 * len(marks)


def _outline(s: Surface) -> list[tuple[float, float]]:
    lead = [(s.x_m + q.x_offset_m, q.y_m) for q in s.sections]
    return lead + [(s.x_m + q.x_offset_m + q.chord_m, q.y_m) for q in reversed(s.sections)]


def _sentences(c: Configuration, answer: BenchAnswer) -> list[str]:
    words = [
        f"Balance point {station_words(answer.x_cg_m, c.datum)}, within {a_length(answer.x_cg_sigma_m)} (one sigma).",
        f"Neutral point {station_words(answer.x_np_m, c.datum)}, within {a_length(answer.x_np_sigma_m)}.",
        f"Static margin {100 * answer.static_margin:.1f} % of the mean chord of {a_length(answer.mac_m)}, sigma {100 * answer.static_margin_sigma:.1f} %.",
    ]
    if answer.maiden.x_m is not None:
        words.append(f"Maiden balance point {station_words(answer.maiden.x_m, c.datum)}.")
    words.append(answer.fingers.words)
    words += [
        f"With {m.name}: {station_words(m.x_cg_m, c.datum)}, margin {100 * m.static_margin:.1f} %."
        for m in answer.pack_marks
    ]
    return words


def _ahead(x_m: float) -> str:
    return f"{a_length(abs(x_m))} {'ahead' if x_m < -0.0005 else 'behind'}"


def _left(y_m: float) -> str:
    return "middle" if abs(y_m) < 0.0005 else f"{a_length(abs(y_m))} {left_or_right(y_m)}"


def _table(sheet: Sheet, c: Configuration, top: float) -> None:
    columns = ((_MARGIN, "start"), (118.0, "end"), (150.0, "end"), (178.0, "end"))
    rows = [("Item", "mass", "station", "side")]
    for item in c.items:
        home = "" if item.fitted else " (not fitted)"
        figures = (a_mass(item.mass_kg, 1), _ahead(item.x_m), _left(item.y_m))
        rows.append((item.name[:48] + home, *figures))
    total = sum(i.mass_kg for i in c.items if i.fitted)
    rows.append(("Together", a_mass(total, 1), "", ""))
    step = min(5.0, (sheet.height - _MARGIN - top) / len(rows))
    for n, row in enumerate(rows):
        y = top + n * step
        heavy = n in (0, len(rows) - 1)
        for (x, anchor), words in zip(columns, row, strict=True):
            sheet.text(x, y, words, size=min(3.2, 0.7 * step), anchor=anchor, bold=heavy)
    sheet.line((_MARGIN, top + 1.2), (178.0, top + 1.2))
