"""The set-up sheet of a model on one page: surfaces, rates, mixes, phases, switches, fail-safe, and as a table."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable

from jinba.core.bench.controls import ControlsAnswer
from jinba.core.bench.mix_values import mix_words
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import Fitting, up_words
from jinba.core.controls.linkage import Drive
from jinba.core.controls.mixing import COMBINED
from jinba.core.controls.radio import FailSafe, LossAction
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.switches import JOB_WORDS, MODE_WORDS, Job, Switch
from jinba.core.controls.trim import pulses_for, surface_rest_rad
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.spoken import METRIC, Units, a_length, spoken
from jinba.formats.cells import words_cell
from jinba.formats.paper import A4, Sheet

_LEFT, _RIGHT, _TOP, _FOOT = 14.0, 196.0, 16.0, 285.0
_PITCH = {"pitch": ("up", "down"), "roll": ("right", "left"), "yaw": ("right", "left")}
_LOSS = {LossAction.HOLD: "holds", LossAction.POSITION: "goes to", LossAction.NO_PULSE: "no pulse"}
Rows = list[tuple[str, ...]]
Section = tuple[str, tuple[str, ...], Rows]


def sections(c: Configuration, answer: ControlsAnswer) -> list[Section]:
    """Return the sections of the sheet: title, column heads, rows of words."""
    s = answer.setup
    rows: list[Section] = [
        (
            "Surfaces",
            ("surface", "ch", "arm", "horn", "chord", "most up", "most down", "end points", "sub-trim"),
            _surfaces(c, answer),
        ),
        ("Rates", ("axis", "rate", "one way", "other way", "expo", "differential"), _rates(c, answer)),
        ("Mixes", ("from", "to", "at full source"), [*_mixes(s)]),
        ("Flight phases", ("phase", "rates", "flap", "trims in clicks", "trimmed at"), _phases(answer)),
        (
            "Switches",
            ("switch", "place from outside", "does", "positions, the first away from you"),
            [_switch(w) for w in s.radio.switches],
        ),
        ("Fail-safe", ("channel", "without signal", "proved on"), [_safe(f) for f in s.radio.fail_safe]),
        (
            "Timers",
            ("timer", "minutes", "starts with"),
            [(t.name, f"{t.minutes:g}", t.starts_with) for t in s.radio.timers],
        ),
        ("Radio", ("", ""), _radio(s)),
    ]
    if s.stabiliser is not None:
        rows.append(("Stabiliser", ("", ""), _stabiliser(s)))
    return [(title, heads, body or [("none",)]) for title, heads, body in rows]


def _mm(metres: float) -> str:
    return a_length(metres, 0 if abs(1000 * metres - round(1000 * metres)) < 0.05 else 1)


def _surfaces(c: Configuration, answer: ControlsAnswer) -> Rows:
    rows: Rows = []
    for f, a in zip(answer.setup.fittings, answer.fittings, strict=True):
        t = a.travel
        up, down = ("right", "left") if f.role.value == "rudder" else ("", "")
        rows.append(
            (
                f.name,
                f"{f.channel}{' rev' if f.reversed else ''}",
                "direct" if f.linkage.drive is Drive.DIRECT else _mm(f.linkage.arm_m),
                "–" if f.linkage.drive is Drive.DIRECT else _mm(f.linkage.horn_m),
                _mm(f.chord_m),
                a.problem[:20] if t is None else f"{up} {a_length(t.up_m)} {math.degrees(t.up_rad):.0f}°".strip(),
                "" if t is None else f"{down} {a_length(t.down_m)} {math.degrees(t.down_rad):.0f}°".strip(),
                f"{500 * f.end_point_up:.0f} / {500 * f.end_point_down:.0f} µs",
                _sub_trim(f, c),
            )
        )
    return rows


def _sub_trim(f: Fitting, c: Configuration) -> str:
    held = surface_rest_rad(f, {axis: c.control(axis).sub_trim_rad for axis in Axis})
    words = (
        "none" if abs(held) < 1e-4 else f"{abs(pulses_for(f, held)):.0f} µs {up_words(f.role)[0 if held > 0 else 1]}"
    )
    return words if f.learned_us is None else f"learned {f.learned_us:.0f} µs"


def _rates(c: Configuration, answer: ControlsAnswer) -> Rows:
    rows: Rows = []
    for r in answer.rates:
        step = next(s for s in answer.setup.rates_of(r.axis).steps if s.name == r.rate)
        one, other = _PITCH[r.axis.value]
        chord = c.chord_m(r.axis)
        rows.append(
            (
                r.axis.value,
                r.rate,
                f"{one} {a_length(r.first_m, 1)} {math.degrees(r.first_rad):.1f}° at {_mm(chord)}",
                f"{other} {a_length(r.second_m, 1)} {math.degrees(r.second_rad):.1f}°",
                f"{100 * step.expo:.0f} %",
                f"{100 * answer.setup.rates_of(r.axis).differential:.0f} %" if r.axis is Axis.ROLL else "",
            )
        )
    return rows


def _mixes(s: ControlSetup) -> Iterable[tuple[str, ...]]:
    for mix in s.mixes:
        yield (mix.source.value, mix.target.value, mix_words(mix))
    if s.crow:
        yield ("flap", "both ailerons", f"{100 * s.crow:.0f} % up (crow)")
    if s.differential_thrust:
        yield ("yaw", "motors", f"{100 * s.differential_thrust:.0f} % apart; none with the throttle closed")
    if not any(f.role in COMBINED for f in s.fittings):
        return
    w = s.weights
    yield (
        "combined surfaces",
        "weights",
        f"pitch {100 * w.pitch:.0f} %, roll {100 * w.roll:.0f} %, yaw {100 * w.yaw:.0f} %, flap {100 * w.flap:.0f} %",
    )


def _phases(answer: ControlsAnswer) -> Rows:
    rows: Rows = []
    for p in answer.setup.phases:
        names = [answer.setup.rates_of(a).step(p.rate_of(a)).name for a in Axis]
        here = [t for t in answer.ledger if t.phase == p.name and t.clicks]
        trims = ", ".join(f"{abs(t.clicks)} {words_for(response_of_deflection(t.axis, t.clicks)).model}" for t in here)
        rows.append((p.name, "/".join(names), f"{100 * p.flap:.0f} %", trims or "all centred", p.speed_words))
    return rows


def _switch(w: Switch) -> tuple[str, ...]:
    modes = ", ".join(MODE_WORDS[m] for m in w.modes) if Job.MODE in w.jobs else f"{w.positions}"
    return (w.name, f"{w.side} {w.place}", " + ".join(JOB_WORDS[j] for j in w.jobs), modes)


def _safe(f: FailSafe) -> tuple[str, ...]:
    what = _LOSS[f.action] + (f" {f.pulse_us:.0f} µs" if f.action is LossAction.POSITION else "")
    return (f"{f.channel} {f.use}", what, f.proved_on or "OPEN: prove it")


def _radio(s: ControlSetup) -> Rows:
    r = s.radio
    rows: Rows = [
        ("stick mode", str(r.mode)),
        ("one trim click", f"{r.click_us:g} µs"),
        ("channels", ", ".join(f"{c.channel} {c.use} {c.neutral_us:.0f} µs" for c in r.channels) or "surfaces only"),
    ]
    if r.levers_reversed:
        rows.append(("trim levers the other way", ", ".join(r.levers_reversed)))
    if r.copied_from:
        rows.append(("copied from", f"{r.copied_from}, {'gone through' if r.copy_checked else 'NOT YET GONE THROUGH'}"))
    return rows


def _stabiliser(s: ControlSetup) -> Rows:
    d = s.stabiliser
    assert d is not None
    level = math.degrees(d.level_rad)
    rows: Rows = [
        ("device", d.device.value),
        ("mounting", d.mounting),
        ("level reference", f"{abs(level):.1f}° nose {'up' if level >= 0 else 'down'}"),
        ("midpoint learning", d.learning.value.replace("_", " ")),
    ]
    latest = {(g.axis, g.term): g for g in d.gains}
    rows += [
        (f"{axis.value} {term}", f"{g.value:g}, {g.seen.value.replace('_', ' ')}") for (axis, term), g in latest.items()
    ]
    rows += [("proved", f"{MODE_WORDS[p.mode]} on {p.proved_on}") for p in d.proofs]
    return rows


_WIDTHS: dict[str, tuple[float, ...]] = {
    "Surfaces": (34, 13, 13, 13, 15, 27, 27, 22, 20),
    "Rates": (18, 20, 55, 40, 16, 20),
    "Mixes": (40, 34, 100),
    "Flight phases": (24, 34, 12, 70, 42),
    "Switches": (20, 36, 42, 84),
    "Fail-safe": (44, 40, 60),
    "Timers": (44, 24, 60),
    "Radio": (44, 130),
    "Stabiliser": (44, 130),
}


def setup_sheet(name: str, c: Configuration, answer: ControlsAnswer, *, units: Units = METRIC) -> Sheet:
    """Return the set-up sheet on one page of A4; the row height shrinks until everything stands on it."""
    body = sections(c, answer)
    count = sum(2.6 + len(rows) for _, _, rows in body) + 3
    row = min(4.6, (_FOOT - _TOP - 10.0) / count)
    size = min(2.9, 0.64 * row)
    sheet = Sheet(A4[0], A4[1], f"{name}: set-up sheet", units)
    sheet.text(_LEFT, _TOP, f"{name}: control set-up", size=5.2, bold=True)
    sheet.text(
        _LEFT,
        _TOP + 5.5,
        "Throws are straight at the trailing edge, at the chord given. Propeller off while you set anything.",
        size=2.9,
    )
    y = _TOP + 12.0
    for title, heads, rows in body:
        sheet.text(_LEFT, y, title, size=size * 1.25, bold=True)
        sheet.line((_LEFT, y + 0.3 * row), (_RIGHT, y + 0.3 * row), width=0.2)
        y += 1.05 * row
        if any(heads):
            _row(sheet, y, heads, _WIDTHS[title], size * 0.92, bold=True)
            y += row
        for cells in rows:
            _row(sheet, y, cells, _WIDTHS[title], size)
            y += row
        y += 0.5 * row
    return sheet


def _row(
    sheet: Sheet, y: float, cells: tuple[str, ...], widths: tuple[float, ...], size: float, *, bold: bool = False
) -> None:
    x = _LEFT
    for words, width in zip(cells, widths, strict=False):
        cell = spoken(words, sheet.units)
        # The face is about 0.58 of its height wide: what would run into the next column is cut with a mark.
        room = int(width / (0.58 * size))
        sheet.text(x, y, cell if len(cell) <= room else cell[: room - 1] + "…", size=size, bold=bold)
        x += width


def setup_table(name: str, c: Configuration, answer: ControlsAnswer, *, units: Units = METRIC) -> str:
    """Return the set-up sheet as a comma-separated table: section, then its columns."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(("model", words_cell(name)))
    for title, heads, rows in sections(c, answer):
        writer.writerow((title, *heads))
        writer.writerows(("", *(words_cell(spoken(cell, units)) for cell in row)) for row in rows)
    return out.getvalue()
