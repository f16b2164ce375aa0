"""Reversal trial: the old setting back, the same card again; the difference is the proof of the cause, or not."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import CaptureKind, CardRecord, Outcome
from jinba.core.diagnose.sorties import LoggedSortie, sortie_data
from jinba.core.errors import JinbaError
from jinba.core.observe.readings import signed_number
from jinba.core.spoken import plus_minus


@dataclass(frozen=True, slots=True)
class Reversal:
    """What one measure of a card said with the old setting, the new one, and the old one again.

    ``effect``: new minus the mean of old and old again, ``sigma`` one standard deviation, in ``unit``; ``drift``: old again
    minus old. ``proved``: the effect is beyond two sigma and beyond the drift.
    """

    measure: str
    unit: str
    before: float
    changed: float
    again: float
    effect: float
    sigma: float
    drift: float
    proved: bool
    words: str


def reversal(before: LoggedSortie, changed: LoggedSortie, again: LoggedSortie, *, card_id: str) -> tuple[Reversal, ...]:
    """Return the effect of a change on every measure of a card, from three sorties A, B, A.

    effect = B - (A1 + A2)/2, sigma^2 = s_B^2 + (s_A1^2 + s_A2^2)/4: a slow drift (wind, pack, thumb) cancels.
    Raises: JinbaError when the first and last sortie do not fly the same setting, or the card was not flown in all three.
    References: ABA design, common practice; propagation derived here (docs/methods/reversal.md).
    """
    if before.configuration != again.configuration:
        raise JinbaError(
            "The first and the last flight must have the same setting: put the old one back.", name="sorties"
        )
    if before.configuration == changed.configuration:
        raise JinbaError("Nothing was changed between these flights.", name="sorties")
    rows = [_values(s, card_id) for s in (before, changed, again)]
    keys = [k for k in rows[0] if all(k in r for r in rows)]
    if not keys:
        raise JinbaError(f"{card_id} was not logged in all three flights with a measure in common.", name="card")
    return tuple(_one(k, *(r[k] for r in rows)) for k in keys)


_Value = tuple[str, str, float, float]


def _values(sortie: LoggedSortie, card_id: str) -> dict[str, _Value]:
    found: dict[str, _Value] = {}
    for d in sortie_data(sortie):
        if d.card_id == card_id and math.isfinite(d.low) and math.isfinite(d.high):
            # A class of a rating is its middle, its width part of the doubt.
            width = (d.high - d.low) / math.sqrt(12.0)
            found[d.measure.key] = (d.measure.words, d.measure.unit, 0.5 * (d.low + d.high), math.hypot(d.sigma, width))
    for record in sortie.records:
        if record.card_id == card_id and record.outcome is Outcome.DONE:
            found |= _counts(record)
    return found


_CLICK_SIGMA = 1.4
"""Scatter of a pilot's clicks from flight to flight (docs/methods/estimator.md)."""


def _counts(record: CardRecord) -> dict[str, _Value]:
    """Return the trim clicks of a record as signed numbers: what the model needed to be left alone."""
    counts = [c for c in card(record.card_id).captures if c.kind is CaptureKind.COUNT]
    return {
        c.key: (c.label, "clicks", signed_number(reading), _CLICK_SIGMA)
        for c in counts
        if (reading := record.reading(c.key)) is not None
    }


def _one(key: str, a: _Value, b: _Value, again: _Value) -> Reversal:
    effect = b[2] - 0.5 * (a[2] + again[2])
    sigma = math.sqrt(b[3] ** 2 + 0.25 * (a[3] ** 2 + again[3] ** 2))
    drift = again[2] - a[2]
    proved = abs(effect) > 2.0 * sigma and abs(effect) > abs(drift)
    verdict = (
        "the change did it"
        if proved
        else "no more than the scatter: this change is not proved to be the cause"
        if abs(effect) <= 2.0 * sigma
        else "but it drifted as much by itself: fly it once more"
    )
    words = (
        f"{a[0]}: {plus_minus(abs(effect), sigma, a[1])} {'more' if effect > 0 else 'less'} with the change; {verdict}."
    )
    return Reversal(key, a[1], a[2], b[2], again[2], effect, sigma, drift, proved, words)
