"""What an entry on the bench means for where each measure comes from: read, drawn, confirmed, or still a guess."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.guesses import measure_before
from jinba.core.airframe.measuring import measuring_steps
from jinba.core.airframe.taken import How, Reading, Readings, key_of, read, step_of, still_taken, value_at, with_value
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
            taken.append(Readings(key, (0.0,), on=entered.on, how=entered.how, scale=entered.scale))
    return replace(after, guessed=tuple(guessed), taken=tuple(taken))


def take(c: Configuration, key: str, reading: Reading, *, on: str) -> Configuration:
    """Return the setup once a measure was read: its mean, its readings, and no guess any more.

    Raises: UnknownKeyError for a measure this airframe does not have; errors of the airframe. Derived here.
    """
    step = step_of(c.airframe, key)
    known = next((t for t in c.taken if t.key == key), None)
    if known is None and reading.again and key not in c.guessed and value_at(c.airframe, step.path) is not None:
        # Measured before readings were kept: what stands counts as one, and is not lost to the next.
        known = Readings(key, (0.0,))
    value, now = read(value_at(c.airframe, step.path), known, reading, key=key, on=on)
    order = [key_of(s.path) for s in measuring_steps(c.airframe)]
    others = [t for t in c.taken if t.key != key]
    return replace(
        c,
        airframe=with_value(c.airframe, step.path, value),
        guessed=tuple(g for g in c.guessed if g != key),
        taken=tuple(sorted((*others, now), key=lambda t: order.index(t.key) if t.key in order else len(order))),
    )
