"""Debrief: what the sortie means; stored with its method so that it can be recomputed."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.diagnose.causes import Cause, causes
from jinba.core.diagnose.score import PredictionScore, score_prediction
from jinba.core.diagnose.sorties import belief_after, sortie_data, trims_at_landing
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.update import METHOD_VERSION, prior_of
from jinba.core.errors import RefusedError
from jinba.core.observe.situation import design_of, resting_trims
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import AnalysisRow, SortieRow
from jinba.persistence.repositories import Sorties
from jinba.services.bench import history
from jinba.services.history import History


@dataclass(frozen=True, slots=True)
class Debrief:
    """Every behaviour before the sortie, as it flew before its own trim clicks, and as it landed; causes; the score.

    The prediction was made for the model as it took off, so the score compares ``before`` with ``flown``.
    """

    sortie_number: int
    method: str
    before: tuple[Tendency, ...]
    flown: tuple[Tendency, ...]
    after: tuple[Tendency, ...]
    causes: tuple[Cause, ...]
    score: tuple[PredictionScore, ...]
    data_count: int
    headline: str


def debrief(session: Session, sortie_id: uuid.UUID) -> Debrief:
    """Return the debrief of a landed sortie and store it. Raises: RefusedError before landing."""
    sortie = Sorties(session).get(sortie_id)
    if sortie.status != "landed":
        raise RefusedError(f"Sortie {sortie.number} has not landed yet.")
    known = history(session, sortie.model_id)
    result = debrief_of(known, sortie)
    row = Sorties(session).analysis(sortie_id)
    if row is None:
        session.add(AnalysisRow(id=uuid.uuid4(), sortie_id=sortie_id, method=METHOD_VERSION, result=to_json(result)))
    else:
        row.method, row.result = METHOD_VERSION, to_json(result)
    session.flush()
    return result


def debrief_of(known: History, sortie: SortieRow) -> Debrief:
    """Return the debrief of one sortie from the history, without storing it."""
    index = [s.id for s in known.landed].index(sortie.id)
    flown = known.logged[: index + 1]
    setup = from_json(Configuration, sortie.setup)
    prior = prior_of(design_of(setup))
    earlier = belief_after(flown[:-1], configuration=setup) if index else prior
    belief = belief_after(flown, configuration=setup)
    data = tuple(d for s in flown for d in sortie_data(s))
    landed = trims_at_landing(flown[-1])
    after = tendencies(setup, belief, landed)
    # What was said before the flight is what is scored; a sortie from elsewhere without it is predicted again.
    said = tuple(from_json(Tendency, t) for t in sortie.predicted)
    before = said or tendencies(setup, earlier, resting_trims(setup))
    took_off = tendencies(setup, belief, resting_trims(setup))
    return Debrief(
        sortie_number=sortie.number,
        method=METHOD_VERSION,
        before=before,
        flown=took_off,
        after=after,
        causes=causes(prior, data, belief),
        score=score_prediction(before, took_off),
        data_count=len(sortie_data(flown[-1])),
        headline=_headline(known.model.name, after),
    )


def _headline(name: str, found: tuple[Tendency, ...]) -> str:
    worst = worst_tendency(found)
    if worst is None:
        return f"{name} is where it should be: every behaviour lies in its band."
    return f"{name}: {worst.verdict}."


def worst_tendency(found: tuple[Tendency, ...]) -> Tendency | None:
    """Return the behaviour furthest outside its band, in band widths; balance counts double. None when all are settled."""
    out = [t for t in found if not t.settled]

    def distance(t: Tendency) -> float:
        beyond = max(t.low - t.value, t.value - t.high) / (t.high - t.low)
        return beyond * (2.0 if t.key == "static_margin" else 1.0)

    return max(out, key=distance) if out else None
