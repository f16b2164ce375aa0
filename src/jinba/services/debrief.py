"""Debrief: what a landed sortie means, as it was computed when it landed or when its log last changed."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from jinba.core.cards.incident import INCIDENT, in_words
from jinba.core.diagnose.causes import Cause, words_of_the_pilot
from jinba.core.diagnose.contradictions import contradictions
from jinba.core.diagnose.estimate import headline
from jinba.core.diagnose.score import PredictionScore
from jinba.core.diagnose.speaks import ENDED_BADLY
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.diagnose.update import prior_of
from jinba.core.errors import RefusedError
from jinba.core.observe.situation import design_of
from jinba.core.said import Said
from jinba.persistence.orm import SortieRow
from jinba.persistence.repositories import Estimates, Models, Sorties
from jinba.services.estimates import margin_of, read_stored, stored_causes
from jinba.services.fly import get_sortie
from jinba.services.history import history


@dataclass(frozen=True, slots=True)
class Earlier:
    """An estimate of the same sortie that a later one has replaced: its method, when, the static margin then. [% MAC]"""

    method: str
    computed_at: datetime
    static_margin: float | None


@dataclass(frozen=True, slots=True)
class Debrief:
    """Every behaviour before the sortie, as it flew before its own trim clicks, and as it landed; causes; the score.

    The prediction was made for the model as it took off, so the score compares ``before`` with ``flown``. ``earlier``: what
    was computed of it before, by another method or from a log that was corrected since. ``contradictions``: what cannot both be
    true of all that is known, and ``pilot``: how strongly he says what he sees, where his numbers tell; both of the last landed sortie only.
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
    earlier: tuple[Earlier, ...] = ()
    contradictions: tuple[Said, ...] = ()
    pilot: str = ""


def debrief(session: Session, sortie_id: uuid.UUID) -> Debrief:
    """Return the debrief of a landed sortie as it is stored. Raises: RefusedError before landing."""
    sortie = Sorties(session).get(sortie_id)
    if sortie.status != "landed":
        raise RefusedError(f"Sortie {sortie.number} has not landed yet.")
    every = Estimates(session).every(sortie_id)
    if not every:
        raise RefusedError(f"Sortie {sortie.number} is not computed yet. Stop the program and run ./jinba recompute.")
    row = every[-1]
    counted = get_sortie(session, sortie_id).counted
    found = read_stored(session, {sortie_id: row})[sortie_id]
    return Debrief(
        sortie_number=sortie.number,
        method=found.method,
        before=found.before,
        flown=found.flown,
        after=found.after,
        causes=stored_causes(session, row.id),
        score=found.score,
        data_count=found.data_count,
        headline=headline(
            Models(session).get(sortie.model_id).name,
            found.after,
            data_count=found.data_count,
            broken_off=tuple(c.record.card_id for c in counted if c.record.outcome in ENDED_BADLY),
            happened=tuple(in_words(c.record) for c in counted if c.record.card_id == INCIDENT),
            together=found.together,
        ),
        contradictions=_contradictions(session, sortie),
        pilot=_pilot(session, sortie),
        earlier=tuple(Earlier(e.method, e.created_at, margin_of(session, e)) for e in every[:-1]),
    )


def _pilot(session: Session, sortie: SortieRow) -> str:
    known = history(session, sortie.model_id)
    last = known.last_flight
    if last is None or last.sortie.id != sortie.id or known.belief is None:
        return ""
    return words_of_the_pilot(prior_of(design_of(known.setup)), known.belief)


def _contradictions(session: Session, sortie: SortieRow) -> tuple[Said, ...]:
    known = history(session, sortie.model_id)
    last = known.last_flight
    if last is None or last.sortie.id != sortie.id or known.belief is None:
        return ()
    return contradictions(
        known.seen,
        known.belief,
        prior_of(design_of(known.setup)),
        stall_mps=design_of(known.setup).stall_speed_mps,
        found=last.disagreeing,
    )
