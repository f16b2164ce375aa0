"""What an entry on the bench means for where each measure comes from: read, drawn, confirmed, or still a guess."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.guesses import measure_before
from jinba.core.airframe.measuring import MeasuringStep, Path, measuring_steps
from jinba.core.airframe.taken import (
    How,
    Reading,
    Readings,
    key_of,
    read,
    step_of,
    still_taken,
    value_at,
    with_value,
)
from jinba.core.bench.likeness import doubted
from jinba.core.configuration import Configuration


@dataclass(frozen=True, slots=True)
class Entered:
    """How an edit came about: read by ruler on ``how`` at ``scale``, drawn on the screen where ``how`` is None; on which day."""

    how: How | None = How.MODEL
    scale: float = 1.0
    on: str = ""


def with_origins(before: Configuration, after: Configuration, entered: Entered | None) -> Configuration:
    """Return an edited setup with the origin of every measure.

    What was changed by hand was read, or only drawn: then it is a guess; so is a new part until it is measured. A guess that was
    confirmed was read. ``entered`` None: not by hand; readings of what is otherwise now are gone. Derived here.
    """
    if before.datum != after.datum:
        # The same model described from elsewhere: readings are kept as differences, which do not move.
        return after
    if entered is None:
        return replace(after, taken=still_taken(before.airframe, after.airframe, after.taken))
    was_taken = {t.key: t for t in before.taken}
    guessed, taken = [], []
    for key, place in measure_before(before.airframe, after.airframe).items():
        old = None if place is None else key_of(place)
        step = step_of(after.airframe, key)
        same = place is not None and value_at(before.airframe, place) == value_at(after.airframe, step.path)
        if old is None or (same and old in before.guessed and key in after.guessed):
            guessed.append(key)
        elif same and old not in before.guessed:
            taken += [replace(t, key=key) for t in (was_taken.get(old),) if t is not None]
        elif entered.how is None:
            guessed.append(key)
        else:
            guess = _guess_before(before, place, old, was_taken.get(old))
            off = None if guess is None else guess - float(value_at(after.airframe, step.path) or 0.0)
            taken.append(Readings(key, (0.0,), on=entered.on, how=entered.how, scale=entered.scale, guess_off=off))
    return replace(after, guessed=tuple(guessed), taken=tuple(taken))


def _doubts_settled(
    c: Configuration, step: MeasuringStep, known: Readings, reading: Reading
) -> tuple[Readings | None, Reading]:
    """Return the readings that are kept, and the new one: read anew to the same what was in doubt has two; else the new one takes its place."""
    doubts = [d for d in doubted(c, step, known) if d.left == reading.left]
    if not doubts:
        return known, reading
    if any(d.agrees(reading.value) for d in doubts):
        return known, replace(reading, again=True)
    gone = {d.index for d in doubts}
    kept = tuple(off for i, off in enumerate(known.off_left if reading.left else known.off) if i not in gone)
    off, off_left = (known.off, kept) if reading.left else (kept, known.off_left)
    return replace(known, off=off, off_left=off_left) if off or off_left else None, reading


def _guess_before(before: Configuration, place: Path | None, key: str, taken: Readings | None) -> float | None:
    """Return what the silhouette had guessed of a measure [m or rad], None where nothing is known of a guess."""
    value = None if place is None else value_at(before.airframe, place)
    if value is None:
        return None
    if key in before.guessed:
        return float(value)
    return None if taken is None or taken.guess_off is None else float(value) + taken.guess_off


def take(c: Configuration, key: str, reading: Reading, *, on: str) -> Configuration:
    """Return the setup once a measure was read: its mean, its readings, and no guess any more.

    Raises: UnknownKeyError for a measure this airframe does not have; errors of the airframe. Derived here.
    """
    step = step_of(c.airframe, key)
    known = next((t for t in c.taken if t.key == key), None)
    if known is None and reading.again and key not in c.guessed and value_at(c.airframe, step.path) is not None:
        # Measured before readings were kept: what stands counts as one, and is not lost to the next.
        known = Readings(key, (0.0,))
    was = value_at(c.airframe, step.path)
    guess = None if was is None else _guess_before(c, step.path, key, known)
    if known is not None:
        known, reading = _doubts_settled(c, step, known, reading)
    value, now = read(was, known, reading, key=key, on=on, guess=guess)
    order = [key_of(s.path) for s in measuring_steps(c.airframe)]
    others = [t for t in c.taken if t.key != key]
    return replace(
        c,
        airframe=with_value(c.airframe, step.path, value),
        guessed=tuple(g for g in c.guessed if g != key),
        taken=tuple(sorted((*others, now), key=lambda t: order.index(t.key) if t.key in order else len(order))),
    )
