"""Plan: the programme, wind, and the next sortie."""

from __future__ import annotations

import uuid

from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import CardRecord, Outcome, Phase, check_record
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import prior_of
from jinba.core.errors import RefusedError
from jinba.core.observe.situation import design_of, resting_trims
from jinba.core.plan.programme import Programme, programme, refusal
from jinba.core.plan.weather import Wind, WindVerdict, judge_wind
from jinba.formats.codec import to_json
from jinba.persistence.orm import RecordRow, SortieRow
from jinba.services.bench import history
from jinba.services.history import History


def next_programme(known: History, *, wind: Wind | None = None) -> tuple[Programme, WindVerdict | None]:
    """Return the programme for the next sortie and what the wind says."""
    verdict = None if wind is None else judge(known, wind)
    refused = frozenset() if verdict is None else frozenset(verdict.refused_cards)
    plan = programme(
        known.setup,
        results=known.results,
        stale=known.stale,
        sorties_flown=len(known.landed),
        refused=refused,
        fresh=known.fresh,
    )
    return plan, verdict


def judge(known: History, wind: Wind) -> WindVerdict:
    """Return go, caution or no-go for a wind."""
    return judge_wind(wind, stall_speed_mps=design_of(known.setup).stall_speed_mps, limits=known.setup.limits)


def log_ground_card(session: Session, model_id: uuid.UUID, *, record_id: uuid.UUID, record: CardRecord) -> History:
    """Log a bench, ground or after-flight card for the present configuration; the same id twice is one record."""
    known = history(session, model_id)
    _refuse_read_only(known)
    kind = card(record.card_id)
    if kind.phase is Phase.FLIGHT:
        raise RefusedError(f"{kind.id} is a flight card: plan a sortie and log it there.")
    check_record(kind, record)
    if session.get(RecordRow, record_id) is None:
        session.add(
            RecordRow(
                id=record_id,
                model_id=model_id,
                configuration_id=known.configuration_row.id,
                card_id=kind.id,
                record=to_json(record),
                setup=to_json(known.setup),
            )
        )
        session.flush()
    return history(session, model_id)


def plan_sortie(
    session: Session,
    model_id: uuid.UUID,
    *,
    sortie_id: uuid.UUID,
    card_ids: tuple[str, ...],
    wind: Wind | None,
    alone: bool,
) -> SortieRow:
    """Plan the next sortie. Open gates refuse it, so does a no-go wind; the prediction is stored before the flight.

    Raises: RefusedError with the reason and what opens it.
    """
    existing = session.get(SortieRow, sortie_id)
    if existing is not None:
        return existing
    known = history(session, model_id)
    _refuse_read_only(known)
    if known.open_sortie is not None:
        raise RefusedError(f"Sortie {known.open_sortie.number} is still open. Fly it or land it first.")
    plan, verdict = next_programme(known, wind=wind)
    if plan.gates:
        raise RefusedError(f"Open gates: {', '.join(plan.gates)}. Do these cards first.", gates=list(plan.gates))
    if verdict is not None and verdict.verdict.value == "no_go":
        raise RefusedError(verdict.headline)
    reason = refusal(card_ids, configuration=known.setup, sortie_number=plan.sortie_number)
    if reason is not None:
        raise RefusedError(reason)
    refused = set(card_ids) & set(verdict.refused_cards if verdict else ())
    if refused:
        raise RefusedError(f"The gusts are too strong for {', '.join(sorted(refused))}. Take them out of this sortie.")
    belief = known.belief() or prior_of(design_of(known.setup))
    predicted = tendencies(known.setup, belief, resting_trims(known.setup))
    row = SortieRow(
        id=sortie_id,
        model_id=model_id,
        configuration_id=known.configuration_row.id,
        number=len(known.sorties) + 1,
        status="planned",
        alone=alone,
        card_ids=list(card_ids),
        wind=None if wind is None else to_json(wind),
        setup=to_json(known.setup),
        predicted=[to_json(t) for t in predicted],
    )
    session.add(row)
    session.flush()
    return row


def failed_gates(known: History) -> tuple[str, ...]:
    """Return bench and ground cards that failed last time."""
    return tuple(c for c, o in known.results.items() if o is Outcome.FAILED and card(c).phase is not Phase.FLIGHT)


def _refuse_read_only(known: History) -> None:
    if known.model.read_only:
        raise RefusedError(f"{known.model.name} is kept read-only: it can be looked at, not flown.")
