"""Two readings that cannot both be right: each pair against what one model, with its doubts, could have shown twice."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from jinba.core.diagnose.update import Belief, Linear, linear_at
from jinba.core.observe.measures import Datum
from jinba.core.observe.parameters import COUNT, PARAMETERS, Array, P
from jinba.core.said import Said, finding
from jinba.core.spoken import an_amount

DISAGREE_SIGMAS = 2.1
"""Two readings this far from each other are said to contradict: common practice, no source."""

_ROUNDS, _SETTLED = 60, 1e-9

Readings = tuple[Datum, ...]
"""What one record says."""


@dataclass(frozen=True, slots=True)
class Pair:
    """Two records, or two readings of one, that disagree by ``sigmas``; ``parameter``: the unknown they pull apart most,
    ``first_says`` and ``second_says`` its value by each alone, in the unit of the unknown. ``within``: of one record."""

    first: Readings
    second: Readings
    sigmas: float
    parameter: P
    first_says: float
    second_says: float
    within: bool


def disagreeing(prior: Belief, belief: Belief, records: tuple[Readings, ...], *, since: int = 0) -> tuple[Pair, ...]:
    """Return the records, and the readings inside one, that do not go together, the worst first.

    For each two the least sum of squares over the unknowns and the persistent errors, less what each costs by itself: nothing for
    two that have nothing to do with each other, less for two that agree. Closed forms to first order at ``belief``; a rating
    counts with whatever lies in its interval. ``since``: only those with one of the records from this place on. Derived here
    (docs/methods/estimator.md).
    """
    data = tuple(d for r in records for d in r)
    if len(data) < 2:
        return ()
    cost = _Costs(linear_at(prior, belief, data))
    ends = np.cumsum([len(r) for r in records])
    rows = [tuple(range(end - len(r), end)) for r, end in zip(records, ends, strict=True)]
    inside = [((i,), (j,)) for of_record in rows[since:] for i, j in combinations(of_record, 2)]
    between = [(a, b) for k, b in enumerate(rows[since:], since) if b for a in rows[:k] if a]
    found = []
    for a, b in (*between, *inside):
        apart = cost.of((*a, *b)) - cost.of(a) - cost.of(b)
        if apart > DISAGREE_SIGMAS**2:
            states = (cost.state(a), cost.state(b))
            first, second = (tuple(data[i] for i in group) for group in (a, b))
            within = (a, b) in inside
            found.append(_pair(prior, first, second, states, math.sqrt(apart), within=within))
    return tuple(sorted(found, key=lambda p: -p.sigmas))


class _Costs:
    """The least sum of squares with some of the data alone, each anywhere in its interval; what was asked once is kept."""

    def __init__(self, linear: Linear) -> None:
        self.linear = linear
        self.spread = linear.prior_covariance @ linear.jacobian.T
        self.together = linear.jacobian @ self.spread + np.diag(linear.sigma**2)
        self.kept: dict[tuple[int, ...], tuple[float, Array]] = {}

    def of(self, rows: tuple[int, ...]) -> float:
        """Return the sum of squares [-] of the rows of data."""
        return self._least(rows)[0]

    def state(self, rows: tuple[int, ...]) -> Array:
        """Return the state that has it, in the units of the unknowns."""
        return np.asarray(self.linear.prior_mean + self.spread[:, rows] @ self._least(rows)[1])

    def _least(self, rows: tuple[int, ...]) -> tuple[float, Array]:
        if rows not in self.kept:
            at = np.array(rows)
            low, high, before = (v[at] for v in (self.linear.low, self.linear.high, self.linear.at_prior))
            precision = np.linalg.inv(self.together[np.ix_(at, at)])
            away = np.clip(before, low, high) - before
            # A box and a convex cost: one side after the other ends at its least. With no reading outside it is nothing.
            for _ in range(_ROUNDS if len(rows) > 1 and away.any() else 0):
                last = away.copy()
                for k in range(len(rows)):
                    free = away[k] - float(precision[k] @ away) / precision[k, k]
                    away[k] = min(max(free, low[k] - before[k]), high[k] - before[k])
                if float(np.abs(away - last).max()) < _SETTLED:
                    break
            slope = precision @ away
            self.kept[rows] = (float(away @ slope), slope)
        return self.kept[rows]


def _pair(
    prior: Belief, first: Readings, second: Readings, alone: tuple[Array, Array], sigmas: float, *, within: bool
) -> Pair:
    one, other = (state[:COUNT] for state in alone)
    worst = P(int(np.argmax(np.abs(one - other) / prior.sigma)))
    return Pair(first, second, sigmas, worst, float(one[worst]), float(other[worst]), within)


PAIR = "pair"
"""The code of what is said of two readings that do not go together."""

_MOST_SAID = 2


def pairs_said(
    prior: Belief, belief: Belief, sorties: tuple[tuple[Readings, ...], ...], *, newest: int = 1
) -> tuple[Said, ...]:
    """Return in words which records do not go together, what each would mean, and how to tell.

    ``sorties``: what each record of each sortie says; only pairs with one of the last ``newest`` sorties, the worst two, and no card
    twice. Derived here.
    """
    records = [r for of_sortie in sorties for r in of_sortie]
    since = len(records) - sum(len(of_sortie) for of_sortie in sorties[len(sorties) - newest :])
    said: list[Said] = []
    cards: set[str] = set()
    for pair in disagreeing(prior, belief, tuple(records), since=since):
        both = {pair.first[0].card_id, pair.second[0].card_id}
        if not both & cards and len(said) < _MOST_SAID:
            cards |= both
            said.append(finding(PAIR, _in_words(pair), *sorted(both)))
    return tuple(said)


_BALANCE = (P.STATIC_MARGIN, P.PITCH_MOMENT, P.LN_ELEVATOR)
"""Unknowns that a balance read anew tells apart."""


def _in_words(pair: Pair) -> str:
    a, b = pair.first[0].card_id, pair.second[0].card_id
    what = f"{_evidence(pair.first)}, and {_evidence(pair.second)}: the model as it was measured hardly does both"
    how_far = f"({pair.sigmas:.1f} sigmas apart)"
    if pair.within:
        return f"{what} {how_far}. Correct in the log the one that was tapped wrong, or fly {a} again."
    read = "read the balance again, " if pair.parameter in _BALANCE else ""
    cards = a if a == b else f"{a} and {b}"
    return (
        f"{what} {how_far}. By itself the first would mean {_says(pair.parameter, pair.first_says)}, the second "
        f"{_says(pair.parameter, pair.second_says)}. Correct in the log what was tapped wrong; if both stand, look for "
        f"what has moved in between, {read}and fly {cards} again in one sortie."
    )


def _evidence(readings: Readings) -> str:
    # What was asked beside the card's own question is said only where nothing else is.
    own = [d for d in readings if d.evidence.startswith(d.measure.words)] or readings
    return f"{readings[0].card_id} ({'; '.join(dict.fromkeys(d.evidence for d in own))})"


def _says(parameter: P, value: float) -> str:
    info = PARAMETERS[parameter]
    side = info.positive if value > 0.0 else info.negative
    # A moment coefficient says nothing to a pilot.
    return side if info.scale == 1.0 else f"{side}, by {an_amount(abs(value) * info.scale, info.unit)}"
