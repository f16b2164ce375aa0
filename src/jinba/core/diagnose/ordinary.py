"""What the balance cards show of a model at the least margin of its class: what is no more than that speaks for nothing."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from jinba.core.airframe.layout import pitches_by_a_wing
from jinba.core.configuration import Configuration
from jinba.core.observe import predictions
from jinba.core.observe.measures import MEASURES, errors_of
from jinba.core.observe.parameters import COUNT, Array, P
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import FAST_OVER_CRUISE, Design, Trims, design_of, situation, trim_elevator_rad


@dataclass(frozen=True, slots=True)
class Ordinary:
    """``dive``, ``line``: index of the word of F12 and F15; ``clicks_faster``: down trim of F13 [clicks]; ``push``: stick held
    inverted in F14, ``back``: the most that is held back in the climb or slow [of full], without end where the surface that pitches the
    model carries it, too, and may have stalled. The defaults are below anything that can be logged."""

    dive: int = -1
    line: int = -1
    clicks_faster: float = 0.0
    push: float = 0.0
    back: float = 0.0


NONE_ORDINARY = Ordinary()

WORDED = {"F12": "dive", "F15": "line"}
"""The balance cards that are answered by a word, each with its measure."""

WIDEST = 0.12
"""Margins from none to this are all that a model is flown at: common practice, no source [fraction of MAC]."""


@lru_cache(maxsize=256)
def ordinary_of(configuration: Configuration) -> Ordinary:
    """Return what the cards show at the least margin of the class, trimmed at cruise. Derived here (docs/methods/estimator.md)."""
    design = design_of(configuration)
    least = configuration.rules.minimum
    x, moment = _at(design, least)
    fast = situation(design, x, speed_mps=FAST_OVER_CRUISE * design.cruise_speed_mps)
    # What closed forms of this family miss in the mean is as ordinary as what they say.
    missed = {e.key: e.mean for e in errors_of(design).values()}
    missed_rad = math.radians(missed["pitch_fast"]) / predictions.rate_per_rad(fast, design)
    clicks = (trim_elevator_rad(fast) + missed_rad - moment.trims.elevator_rad) / configuration.elevator.rad_per_click
    return Ordinary(
        dive=_word(design, "F12", least),
        line=_word(design, "F15", least),
        clicks_faster=clicks,
        push=predictions.inverted_push(x, moment) + missed["inverted_stick"],
        back=_back(x, moment),
    )


def _back(x: Array, moment: Moment) -> float:
    if pitches_by_a_wing(moment.design.configuration.airframe):
        return math.inf
    return max(predictions.climb_stick(x, moment), predictions.slow_stick(x, moment))


def tells_apart(configuration: Configuration, card_id: str) -> bool:
    """Return whether the words of a balance card tell no margin from :data:`WIDEST`; a card without words does.

    Derived here (docs/methods/estimator.md).
    """
    if card_id not in WORDED:
        return True
    design = design_of(configuration)
    return _word(design, card_id, 0.0) != _word(design, card_id, WIDEST)


def _word(design: Design, card_id: str, margin: float) -> int:
    measure = MEASURES[card_id, WORDED[card_id]].sized(design)
    assert measure.scale is not None
    return measure.scale.classify(measure.predict(*_at(design, margin)) + measure.expected)


def _at(design: Design, margin: float) -> tuple[Array, Moment]:
    x = np.zeros(COUNT)
    x[P.STATIC_MARGIN] = margin - design.static_margin
    at = situation(design, x, speed_mps=design.cruise_speed_mps)
    return x, Moment(design, Trims(trim_elevator_rad(at), 0.0, 0.0))
