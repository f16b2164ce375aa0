"""Items as a comma-separated table, out and in: grams and millimetres, one row an item."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from jinba.core.errors import JinbaError
from jinba.core.mass.items import MOST_ITEMS, Item, ItemKind
from jinba.formats.cells import cell_words, words_cell

COLUMNS = ("name", "kind", "mass_g", "station_mm", "right_mm", "up_mm", "bay_from_mm", "bay_to_mm", "fitted")
LARGEST_BYTES = 200_000


class ItemTableError(JinbaError):
    """A table of items that cannot be read; the title says which row and column."""

    code = "bad-item-table"


def write_items(items: tuple[Item, ...]) -> str:
    """Return the items as a table with a header row."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for i in items:
        bay = ("", "") if i.bay_m is None else (_mm(i.bay_m[0]), _mm(i.bay_m[1]))
        fitted = "yes" if i.fitted else "to come" if i.to_come else "no"
        writer.writerow(
            (words_cell(i.name), i.kind.value, _mm(i.mass_kg), _mm(i.x_m), _mm(i.y_m), _mm(i.z_m), *bay, fitted)
        )
    return out.getvalue()


def _mm(si: float) -> str:
    return f"{si * 1000:.6f}".rstrip("0").rstrip(".")


@dataclass(frozen=True, slots=True)
class _Row:
    number: int
    cells: dict[str, str]

    def figure(self, column: str, *, empty: float | None = None) -> float:
        text = self.cells.get(column, "").strip().replace(",", ".")
        if text == "" and empty is not None:
            return empty
        try:
            return float(text) / 1000.0
        except ValueError:
            raise ItemTableError(f"Row {self.number}, {column}: cannot read {text!r} as a number.") from None


def read_items(data: bytes) -> tuple[Item, ...]:
    """Return the items of a table. Columns may stand in any order; name, mass_g and station_mm must be there.

    Raises: ItemTableError naming the row and the column; errors of the items themselves name the item.
    """
    if len(data) > LARGEST_BYTES:
        raise ItemTableError("This table is larger than 200 kB; a table of items never is.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise ItemTableError("This file is not text in UTF-8: save the table as CSV, UTF-8.") from None
    if "\x00" in text:
        raise ItemTableError("This file is not a table: it holds control characters.")
    delimiter = ";" if text.split("\n", 1)[0].count(";") > text.split("\n", 1)[0].count(",") else ","
    rows = _rows(text, delimiter)
    if not 1 <= len(rows) <= MOST_ITEMS:
        raise ItemTableError(f"{len(rows)} rows; a model has 1 to {MOST_ITEMS} items.")
    return tuple(_item(r) for r in rows)


def _rows(text: str, delimiter: str) -> list[_Row]:
    # newline="" leaves line ends to the reader, which alone knows which of them are inside quotes
    reader = csv.DictReader(io.StringIO(text, newline=""), delimiter=delimiter)
    try:
        missing = [c for c in ("name", "mass_g", "station_mm") if c not in (reader.fieldnames or ())]
        if missing:
            raise ItemTableError(f"The first row must name the columns; missing: {', '.join(missing)}.")
        return [
            _Row(n, {k: v or "" for k, v in r.items() if isinstance(k, str) and isinstance(v, str | None)})
            for n, r in enumerate(reader, 2)
        ]
    except csv.Error as broken:
        raise ItemTableError(f"Row {reader.line_num}: this is not a table with one row an item ({broken}).") from None


def _item(row: _Row) -> Item:
    kind = row.cells.get("kind", "").strip() or "part"
    if kind not in {k.value for k in ItemKind}:
        known = ", ".join(k.value for k in ItemKind)
        raise ItemTableError(f"Row {row.number}, kind: {kind!r} is none of {known}.")
    aboard = row.cells.get("fitted", "").strip().lower()
    ends = [row.cells.get(c, "").strip() for c in ("bay_from_mm", "bay_to_mm")]
    if (ends[0] == "") != (ends[1] == ""):
        raise ItemTableError(f"Row {row.number}: a bay needs both its ends, bay_from_mm and bay_to_mm.")
    return Item(
        key=f"row-{row.number}",
        name=cell_words(row.cells["name"].strip()) or f"Item {row.number - 1}",
        mass_kg=row.figure("mass_g"),
        x_m=row.figure("station_mm"),
        y_m=row.figure("right_mm", empty=0.0),
        z_m=row.figure("up_mm", empty=0.0),
        kind=ItemKind(kind),
        bay_m=(row.figure("bay_from_mm"), row.figure("bay_to_mm")) if ends[0] else None,
        fitted=aboard not in ("no", "0", "false", "to come"),
        to_come=aboard == "to come",
    )
