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

DISAGREE_SIGMAS = 3.0
"""Two readings this far from each other are said to contradict: common practice, no source."""

_ROUNDS = 30

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


def disagreeing(prior: Belief, belief: Belief, records: tuple[Readings, ...]) -> tuple[Pair, ...]:
    """Return the records, and the readings inside one, that do not go together, the worst first.

    For each two the least sum of squares over the unknowns and the persistent errors, less what each costs by itself: nothing for
    two that have nothing to do with each other, less for two that agree. Closed forms to first order at ``belief``; a rating
    counts with whatever lies in its interval. Derived here (docs/methods/estimator.md).
    """
    data = tuple(d for r in records for d in r)
    if len(data) < 2:
        return ()
    linear, ends = linear_at(prior, belief, data), np.cumsum([len(r) for r in records])
    rows = [tuple(range(end - len(r), end)) for r, end in zip(records, ends, strict=True) if r]
    inside = [((i,), (j,)) for of_record in rows for i, j in combinations(of_record, 2)]
    alone = {group: _least(linear, group) for group in {*rows, *((i,) for i in range(len(data)))}}
    found = []
    for a, b in (*combinations(rows, 2), *inside):
        cost = _least(linear, (*a, *b)).cost - alone[a].cost - alone[b].cost
        if cost > DISAGREE_SIGMAS**2:
            sides = tuple(tuple(data[i] for i in group) for group in (a, b))
            within = (a, b) in inside
            found.append(_pair(prior, sides[0], sides[1], (alone[a], alone[b]), math.sqrt(cost), within=within))
    return tuple(sorted(found, key=lambda p: -p.sigmas))


@dataclass(frozen=True, slots=True)
class _Least:
    cost: float
    state: Array


def _least(linear: Linear, rows: tuple[int, ...]) -> _Least:
    """Return the least sum of squares with these data alone, each anywhere in its interval, and the state that has it."""
    at = np.array(rows)
    jacobian, before = linear.jacobian[at], linear.at_prior[at]
    low, high, noise = linear.low[at], linear.high[at], linear.sigma[at] ** 2
    spread = linear.prior_covariance @ jacobian.T
    precision = np.linalg.inv(jacobian @ spread + np.diag(noise))
    value = np.clip(before, low, high)
    # A box of one or two sides and a convex cost: one side after the other ends at its least.
    for _ in range(_ROUNDS if len(rows) > 1 else 0):
        for k in range(len(rows)):
            other = precision[k] @ (value - before) - precision[k, k] * (value[k] - before[k])
            value[k] = np.clip(before[k] - other / precision[k, k], low[k], high[k])
    away = value - before
    return _Least(float(away @ precision @ away), linear.prior_mean + spread @ precision @ away)


def _pair(
    prior: Belief, first: Readings, second: Readings, alone: tuple[_Least, _Least], sigmas: float, *, within: bool
) -> Pair:
    one, other = (found.state[:COUNT] for found in alone)
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
    new = {id(d) for of_sortie in sorties[len(sorties) - newest :] for of_record in of_sortie for d in of_record}
    said: list[Said] = []
    cards: set[str] = set()
    for pair in disagreeing(prior, belief, tuple(r for of_sortie in sorties for r in of_sortie)):
        both = {pair.first[0].card_id, pair.second[0].card_id}
        fresh = any(id(d) in new for d in (*pair.first, *pair.second))
        if fresh and not both & cards and len(said) < _MOST_SAID:
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
