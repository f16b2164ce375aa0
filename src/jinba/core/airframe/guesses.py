"""What of an airframe nobody has measured yet, and which measure of a changed airframe is which of the one before."""

from __future__ import annotations

from jinba.core.airframe.measuring import Path, measuring_steps
from jinba.core.airframe.parts import Airframe, Surface
from jinba.core.airframe.taken import key_of


def all_measures(airframe: Airframe) -> tuple[str, ...]:
    """Return the names of every measure that is taken of an airframe, in the order of taking them."""
    return tuple(key_of(s.path) for s in measuring_steps(airframe))


def guessed_by_silhouette(airframe: Airframe) -> tuple[str, ...]:
    """Return the measures a silhouette has guessed: all but the span, which was asked for."""
    wing = airframe.surfaces.index(airframe.wing)
    asked = key_of(("surfaces", wing, "sections", len(airframe.wing.sections) - 1, "y_m"))
    return tuple(key for key in all_measures(airframe) if key != asked)


def measure_before(before: Airframe, after: Airframe) -> dict[str, Path | None]:
    """Return for every measure of an airframe where it stood before it was changed, None where it is new.

    Surfaces are known by their name; chords by their place, and where one came or went by being the same chord. Derived here.
    """
    return {key_of(s.path): _place_before(before, after, s.path) for s in measuring_steps(after)}


def _place_before(before: Airframe, after: Airframe, path: Path) -> Path | None:
    if path[0] != "surfaces":
        return None if getattr(before, str(path[0])) is None else path
    surface = after.surfaces[int(path[1])]
    was = next((i for i, s in enumerate(before.surfaces) if s.key == surface.key), None)
    if was is None:
        return None
    if path[2] != "sections":
        return (path[0], was, *path[2:])
    chord = _chord_before(before.surfaces[was], surface, int(path[3]))
    return None if chord is None else (path[0], was, "sections", chord, *path[4:])


def _chord_before(before: Surface, after: Surface, index: int) -> int | None:
    if len(before.sections) == len(after.sections):
        return index
    same = after.sections[index]
    return next((i for i, s in enumerate(before.sections) if s == same), None)
