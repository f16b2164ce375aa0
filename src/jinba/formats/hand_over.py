"""The hand-over sheet of a model on one page: what it flies like, where it balances, its trims, what is open, and what it was flown against."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from dataclasses import dataclass

from jinba.core.bench.answer import BenchAnswer
from jinba.core.configuration import Configuration
from jinba.core.controls.trim import rest_words, surface_rest_rad
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.frames import Axis, response_of_deflection, station_words, words_for
from jinba.core.plan.sign_off import SignOff
from jinba.core.spoken import METRIC, Units, a_length, a_mass, a_speed, spoken
from jinba.formats.paper import A4, Sheet

_LEFT, _TOP, _WIDE = 16.0, 18.0, 104
_ROW, _SIZE = 5.0, 3.2
_FOOT = 280.0


@dataclass(frozen=True, slots=True)
class FlownAgainst:
    """A stop that a sortie was flown against, in its words then, and the reason."""

    sortie: int
    words: str
    reason: str


def hand_over_sheet(
    name: str,
    c: Configuration,
    answer: BenchAnswer,
    *,
    after: Sequence[Tendency],
    sorties: int,
    signed: SignOff | None,
    against: Sequence[FlownAgainst],
    still_open: Sequence[str] = (),
    units: Units = METRIC,
) -> Sheet:
    """Return the sheet for whoever flies the model next: measured, not promised; ``c`` with the trims it landed with."""
    sheet = Sheet(A4[0], A4[1], f"{name}: hand-over sheet", units)
    sheet.text(_LEFT, _TOP, f"{name}: hand-over", size=6, bold=True)
    y = _TOP + 8.0
    for title, rows in (
        ("Signed off", _signed(signed, sorties)),
        ("What it flies like, as it landed", [f"{t.name}: {t.verdict} ({t.words})" for t in after]),
        ("Balance, ready to fly", _balance(c, answer)),
        ("Where the surfaces rest, trims as flown", _surfaces(c)),
        ("Limits it was tested in", _limits(c)),
        ("What is still open", still_open),
        ("Flown against advice", [f"Sortie {a.sortie}: {a.words} Flown all the same: {a.reason}" for a in against]),
    ):
        y = _section(sheet, y, title, rows or ["nothing"])
    sheet.text(
        _LEFT,
        _FOOT,
        "Check control directions, balance and fail-safe before every flight. Local law and the site's rules come first.",
        size=2.9,
    )
    return sheet


def _section(sheet: Sheet, y: float, title: str, rows: Sequence[str]) -> float:
    sheet.text(_LEFT, y, title, size=4, bold=True)
    sheet.line((_LEFT, y + 1.5), (A4[0] - _LEFT, y + 1.5), width=0.2)
    y += _ROW + 1.0
    for row in rows:
        for line in textwrap.wrap(spoken(row, sheet.units), _WIDE) or [""]:
            if y < _FOOT - _ROW:
                sheet.text(_LEFT, y, line, size=_SIZE)
            y += _ROW
    return y + 0.6 * _ROW


def _signed(signed: SignOff | None, sorties: int) -> list[str]:
    if signed is None:
        return [f"NOT SIGNED OFF: {sorties} sorties flown, see what is still missing."]
    rows = [f"By {signed.signed_by}, {signed.at:%d %B %Y}, after sortie {signed.sortie}."]
    rows += [f"Not as it should be: {m}" for m in signed.missing]
    return rows + ([f"Handed over all the same: {signed.remark}"] if signed.missing else [])


def _balance(c: Configuration, answer: BenchAnswer) -> list[str]:
    margin = 100.0 * answer.static_margin
    rows = [
        f"{station_words(answer.x_cg_m, c.datum)}, ± {a_length(answer.x_cg_sigma_m, 1)}; margin {abs(margin):.1f} ± "
        f"{100 * answer.static_margin_sigma:.1f} % of the mean chord{'' if margin >= 0 else ' BEHIND the neutral point: unstable'}.",
        f"Mass {a_mass(sum(i.mass_kg for i in c.items if i.fitted))}.",
    ]
    return rows + [f"With {m.name}: {station_words(m.x_cg_m, c.datum)}." for m in answer.pack_marks]


def _surfaces(c: Configuration) -> list[str]:
    offsets = {a: c.control(a).resting_rad for a in Axis}
    rows = [rest_words(f, surface_rest_rad(f, offsets)) for f in c.control_setup.fittings]
    given = [(n, a) for a in Axis if (n := c.control(a).clicks)]
    clicks = [f"{abs(n)} {words_for(response_of_deflection(a, float(n))).model}" for n, a in given]
    return [*rows, f"Clicks in the radio, of centre: {', '.join(clicks) if clicks else 'none'}."]


def _limits(c: Configuration) -> list[str]:
    limits = c.limits
    return [
        f"Wind {a_speed(limits.wind_mps, 1)}, across {a_speed(limits.crosswind_mps, 1)}, gust over mean "
        f"{a_speed(limits.gust_spread_mps, 1)}; the pack is empty after {c.pack_minutes:g} minutes, by the guess."
    ]
