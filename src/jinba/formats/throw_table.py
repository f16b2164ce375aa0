"""Throws as a comma-separated table, out and in: millimetres at the chord, one row a rate of an axis."""

from __future__ import annotations

import csv
import io
from dataclasses import replace

from jinba.core.configuration import Configuration
from jinba.core.controls.deflections import command_for_throw, mean_throw_rad
from jinba.core.controls.setup import ControlSetup
from jinba.core.controls.throws import AxisRates, RateStep
from jinba.core.controls.travel import angle_of_ruler, ruler_m
from jinba.core.errors import JinbaError
from jinba.core.frames import Axis
from jinba.formats.cells import cell_words, words_cell

COLUMNS = ("axis", "rate", "nose_up_or_right_mm", "nose_down_or_left_mm", "expo_percent", "chord_mm")
LARGEST_BYTES = 50_000
_MOST_ROWS = 9


class ThrowTableError(JinbaError):
    """A table of throws that cannot be read; the title says which row and column."""

    code = "bad-throw-table"


def _signs(axis: Axis) -> tuple[float, float]:
    return (1.0, -1.0) if axis is Axis.ROLL else (-1.0, 1.0)


def write_throws(c: Configuration) -> str:
    """Return the throws of every rate as a table with a header row, straight at the trailing edge. [mm]"""
    setup = c.control_setup
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for rates in setup.rates:
        chord = c.control(rates.axis).chord_m
        first, second = _signs(rates.axis)
        for step in rates.steps:
            there = 1000.0 * ruler_m(chord, mean_throw_rad(setup, rates.axis, first * step.first))
            back = 1000.0 * ruler_m(chord, mean_throw_rad(setup, rates.axis, second * step.second))
            row = (
                rates.axis.value,
                words_cell(step.name),
                _text(there),
                _text(back),
                _text(100 * step.expo),
                _text(1000 * chord),
            )
            writer.writerow(row)
    return out.getvalue()


def _text(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".")


def read_throws(c: Configuration, data: bytes) -> ControlSetup:
    """Return the control set-up with the rates of a table; each throw becomes the rate that gives it with these linkages.

    Axes that the table does not name keep their rates. Raises: ThrowTableError naming the row and the column, also for a
    throw that the linkage cannot reach.
    """
    setup = c.control_setup
    found: dict[Axis, list[RateStep]] = {}
    for number, cells in _rows(data):
        axis = _axis(number, cells)
        chord = _figure(number, cells, "chord_mm", empty=c.chord_m(axis) * 1000.0) / 1000.0
        shares = []
        for column, sign in zip(COLUMNS[2:4], _signs(axis), strict=True):
            moved = _figure(number, cells, column) / 1000.0
            if not 0.0 < moved < 1.9 * chord:
                raise ThrowTableError(
                    f"Row {number}, {column}: {moved * 1000:g} mm is no throw at {chord * 1000:g} mm chord."
                )
            share = command_for_throw(setup, axis, angle_of_ruler(chord, moved), sign=sign)
            if share is None:
                most = 1000.0 * ruler_m(chord, mean_throw_rad(setup, axis, sign))
                raise ThrowTableError(
                    f"Row {number}, {column}: this linkage reaches {most:.0f} mm, not {moved * 1000:g}. Change holes or end points first."
                )
            shares.append(round(max(0.05, share), 4))
        expo = _figure(number, cells, "expo_percent", empty=0.0) / 100.0
        try:
            step = RateStep(
                cell_words(cells.get("rate", "").strip()) or f"rate {number - 1}", shares[0], shares[1], expo
            )
        except JinbaError as wrong:
            raise ThrowTableError(f"Row {number}: {wrong.title}") from wrong
        found.setdefault(axis, []).append(step)
    return replace(setup, rates=tuple(_replaced(r, found.get(r.axis)) for r in setup.rates))


def _replaced(rates: AxisRates, steps: list[RateStep] | None) -> AxisRates:
    if steps is None:
        return rates
    if len(steps) > 3:
        raise ThrowTableError(f"{rates.axis.value}: {len(steps)} rates; a radio has up to three.")
    return replace(rates, steps=tuple(steps))


def _axis(number: int, cells: dict[str, str]) -> Axis:
    name = cells.get("axis", "").strip().lower()
    if name not in {a.value for a in Axis}:
        raise ThrowTableError(f"Row {number}, axis: {name!r} is none of pitch, roll, yaw.")
    return Axis(name)


def _figure(number: int, cells: dict[str, str], column: str, *, empty: float | None = None) -> float:
    text = cells.get(column, "").strip().replace(",", ".")
    if text == "" and empty is not None:
        return empty
    try:
        value = float(text)
    except ValueError:
        raise ThrowTableError(f"Row {number}, {column}: cannot read {text!r} as a number.") from None
    if not -1e6 < value < 1e6:
        raise ThrowTableError(f"Row {number}, {column}: {text} is no measure.")
    return value


def _rows(data: bytes) -> list[tuple[int, dict[str, str]]]:
    if len(data) > LARGEST_BYTES:
        raise ThrowTableError("This table is larger than 50 kB; a table of throws never is.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ThrowTableError("This file is not text in UTF-8: save the table as CSV, UTF-8.") from None
    if "\x00" in text:
        raise ThrowTableError("This file is not a table: it holds control characters.")
    head = text.split("\n", 1)[0]
    reader = csv.DictReader(io.StringIO(text, newline=""), delimiter=";" if head.count(";") > head.count(",") else ",")
    try:
        missing = [c for c in ("axis", *COLUMNS[2:4]) if c not in (reader.fieldnames or ())]
        if missing:
            raise ThrowTableError(f"The first row must name the columns; missing: {', '.join(missing)}.")
        rows = [
            (n, {k: v or "" for k, v in r.items() if isinstance(k, str) and isinstance(v, str | None)})
            for n, r in enumerate(reader, 2)
        ]
    except csv.Error as broken:
        raise ThrowTableError(f"Row {reader.line_num}: this is not a table with one row a rate ({broken}).") from None
    if not 1 <= len(rows) <= _MOST_ROWS:
        raise ThrowTableError(f"{len(rows)} rows; three axes with up to three rates each are 1 to {_MOST_ROWS}.")
    return rows
