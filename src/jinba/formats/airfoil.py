"""Airfoil coordinate files: a name, then points; round the section from the trailing edge, or upper and lower side apart."""

from __future__ import annotations

import math
import re

import numpy as np
from numpy.typing import NDArray

from jinba.core.airframe.parts import Foil
from jinba.core.errors import JinbaError
from jinba.core.stability.thin_aerofoil import foil_from_coordinates

LARGEST_BYTES = 200_000
_FEWEST, _MOST = 10, 2000

Array = NDArray[np.float64]


class AirfoilFileError(JinbaError):
    """A coordinate file that cannot be read; the title says which line."""

    code = "bad-airfoil-file"


def read_airfoil(data: bytes, *, file_name: str = "") -> Foil:
    """Return the section of a coordinate file.

    Two arrangements are read: points from the trailing edge over the upper side to the nose and back below; or a line with the
    two counts and then the upper and the lower side, each from the nose. Any chord length, any name in the first line.

    Raises: AirfoilFileError naming the line; GeometryError for what is no section.
    """
    if len(data) > LARGEST_BYTES:
        raise AirfoilFileError("This file is larger than 200 kB; a section's coordinates never are.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    if re.search(r"[\x00-\x08\x0e-\x1f\x7f]", text):
        raise AirfoilFileError("This is not a coordinate file: it holds control characters.")
    name, points, counts = _points(text, file_name)
    upper, lower = _sides(points, counts)
    return foil_from_coordinates(name, *_in_chords(upper, lower))


def _points(text: str, file_name: str) -> tuple[str, Array, tuple[int, int] | None]:
    name = re.sub(r"\.[A-Za-z]+$", "", file_name).strip()[:60] or "own section"
    rows: list[tuple[float, float]] = []
    counts: tuple[int, int] | None = None
    for number, line in enumerate(text.splitlines(), 1):
        cells = line.replace(",", " ").replace(";", " ").split()
        if not cells:
            continue
        pair = _pair(cells)
        if pair is None:
            if rows or number > 5:
                raise AirfoilFileError(f"Line {number}: cannot read {line.strip()[:40]!r} as two numbers.")
            name = line.strip()[:60] if number == 1 else name
        elif not rows and counts is None and min(pair) > 1.5:
            counts = (round(pair[0]), round(pair[1]))
        else:
            rows.append(pair)
    if not _FEWEST <= len(rows) <= _MOST:
        raise AirfoilFileError(f"{len(rows)} points; a section needs {_FEWEST} to {_MOST}, one pair of numbers a line.")
    return name, np.array(rows), counts


def _pair(cells: list[str]) -> tuple[float, float] | None:
    try:
        x, y = float(cells[0]), float(cells[1])
    except (ValueError, IndexError):
        return None
    return (x, y) if len(cells) == 2 and math.isfinite(x) and math.isfinite(y) and max(abs(x), abs(y)) < 1e5 else None


def _sides(points: Array, counts: tuple[int, int] | None) -> tuple[Array, Array]:
    if counts is not None:
        if sum(counts) != len(points) or min(counts) < 3:
            raise AirfoilFileError(f"The file says {counts[0]} and {counts[1]} points and has {len(points)}.")
        return points[: counts[0]], points[counts[0] :]
    nose = int(np.argmin(points[:, 0]))
    if not 3 <= nose <= len(points) - 4:
        raise AirfoilFileError(
            "The points do not go round the section: begin at the trailing edge, over the top to the nose."
        )
    first, second = points[: nose + 1][::-1], points[nose:]
    # Some files go round below first.
    return (first, second) if first[:, 1].mean() >= second[:, 1].mean() else (second, first)


def _in_chords(upper: Array, lower: Array) -> tuple[Array, Array]:
    nose, tail = min(upper[0, 0], lower[0, 0]), max(upper[-1, 0], lower[-1, 0])
    chord = tail - nose
    if chord <= 0:
        raise AirfoilFileError("The section has no length: its points all lie at one station.")
    rear = 0.5 * (upper[-1, 1] + lower[-1, 1])
    front = 0.5 * (upper[0, 1] + lower[0, 1])

    def scaled(side: Array) -> Array:
        x = (side[:, 0] - nose) / chord
        order = np.argsort(x, kind="stable")
        level = front + (rear - front) * x
        return np.stack([x, (side[:, 1] - level) / chord], axis=1)[order]

    return scaled(upper), scaled(lower)
