"""An outline typed or pasted as a table of stations: one chord a row, root to tip, in millimetres."""

from __future__ import annotations

import math
import re

from jinba.core.airframe.parts import MOST_SECTIONS, Section
from jinba.core.errors import JinbaError

_COLUMNS = (
    "distance from the centre line, leading edge behind the root's, chord, and if wanted rise and wash-out in degrees"
)


LARGEST_CHARACTERS = 20_000


class OutlineTableError(JinbaError):
    """A table of stations that cannot be read; the title says which row."""

    code = "bad-outline-table"


def read_outline(text: str, *, millimetres_per_unit: float = 1.0) -> tuple[Section, ...]:
    """Return the sections of a table of stations.

    Columns: distance from the centre line, leading edge behind the root's, chord, rise above the root, wash-out [deg]; the last
    two may be missing. Separated by spaces, tabs, semicolons or commas; a decimal comma is read where columns are not separated
    by commas. Rows that begin with # and a heading are skipped. ``millimetres_per_unit`` scales the lengths (a plan).

    Raises: OutlineTableError naming the row; errors of the sections themselves name the measure.
    """
    if len(text) > LARGEST_CHARACTERS:
        raise OutlineTableError("This table is longer than 20 000 characters; an outline has at most 24 rows.")
    rows: list[list[float]] = []
    for number, line in enumerate(text.splitlines(), 1):
        cells = _cells(line)
        if not cells or line.lstrip().startswith("#"):
            continue
        numbers = [_number(c) for c in cells]
        if all(n is None for n in numbers) and not rows:
            continue
        if not 3 <= len(numbers) <= 5 or any(n is None for n in numbers):
            raise OutlineTableError(f"Row {number}: {line.strip()[:40]!r}. A row holds {_COLUMNS}.")
        rows.append([n for n in numbers if n is not None])
    if not 2 <= len(rows) <= MOST_SECTIONS:
        raise OutlineTableError(f"{len(rows)} rows; an outline has 2 to {MOST_SECTIONS} chords, root to tip.")
    return tuple(_section(r, millimetres_per_unit / 1000.0) for r in rows)


def _cells(line: str) -> list[str]:
    separator = r"[;\t]+|\s*,\s+|\s+" if re.search(r"[;\t]|\d\s+[\d-]", line.strip()) else r"\s*,\s*|\s+"
    return [c for c in re.split(separator, line.strip()) if c]


def _number(cell: str) -> float | None:
    try:
        value = float(cell.replace(",", "."))
    except ValueError:
        return None
    return value if math.isfinite(value) else None


def _section(row: list[float], metres: float) -> Section:
    y, lead, chord, rise, washout = (*row, 0.0, 0.0)[:5]
    return Section(y * metres, lead * metres, chord * metres, rise * metres, -math.radians(washout))
