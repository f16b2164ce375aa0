"""Rework: the composed correction, its acceptance as the next configuration, and the proof of each action."""

from __future__ import annotations

import uuid
from dataclasses import replace

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.correct.compose import Choices, Correction, compose
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.errors import RefusedError, check_text
from jinba.core.history.model import History, LastFlight, WorkOrder
from jinba.core.observe.situation import resting_trims
from jinba.formats.codec import to_json
from jinba.persistence.once import once
from jinba.persistence.orm import ProofRow, WorkOrderActionRow, WorkOrderRow
from jinba.persistence.repositories import Models, Orders
from jinba.services.bench import accept_configuration
from jinba.services.computing import Computation, computed
from jinba.services.history import history


def propose(known: History, choices: Choices | None = None) -> Correction:
    """Return the correction for what the landed sorties say. Raises: RefusedError before the first landing."""
    last, belief = _flown(known), known.belief
    if belief is None:
        raise RefusedError("The last sortie is not computed yet. Stop the program and run ./jinba recompute.")
    return compose(flown_setup(known), belief, last.landed, known.seen, choices)


def _flown(known: History) -> LastFlight:
    if known.last_flight is None:
        raise RefusedError("Nothing has been flown yet: there is nothing to correct. Plan the maiden first.")
    return known.last_flight


def flown_setup(known: History) -> Configuration:
    """Return the setup the correction starts from.

    That of the last landed sortie; or the present one when it was changed on the bench since, without a work order.
    """
    last = _flown(known)
    return known.setup if known.changed_since_landing and known.decided is None else last.setup


def with_decision(known: History, correction: Correction) -> Correction:
    """Return the correction as it was decided: the accepted configuration and what it is predicted to do."""
    belief = known.belief
    if known.decided is None or belief is None:
        return correction
    predicted = tendencies(known.setup, belief, resting_trims(known.setup))
    return replace(correction, configuration=known.setup, predicted=predicted)


def accept(session: Session, model_id: uuid.UUID, *, order_id: uuid.UUID, choices: Choices) -> WorkOrder:
    """Accept the proposed correction: makes the next configuration and the work order.

    The same id and choices twice is one order. Raises: RefusedError; ConflictError when the id names something else.
    """
    model = Models(session).lock(model_id)
    request = {"model": str(model_id), "choices": to_json(choices)}
    existing, asked = once(session, WorkOrderRow, order_id, request)
    if existing is not None:
        return _order(session, model_id)
    known = history(session, model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is read-only.")
    last = _flown(known).sortie
    if known.decided is not None:
        raise RefusedError(
            f"The rework after sortie {last.number} is already decided. Fly again, then decide the next."
        )
    made_from = ("correction", model.setup_version, model.log_version, choices)
    (correction,) = computed(session, model_id, [Computation(made_from, lambda: propose(known, choices))])
    row = accept_configuration(
        session,
        model,
        number=known.configuration.number + 1,
        setup=correction.configuration,
        words=f"rework after sortie {last.number}",
        change_words=correction.difference.words or ("nothing changed",),
        opened=correction.difference.stale,
    )
    order = WorkOrderRow(
        id=order_id,
        order=Models(session).draw_order(),
        model_id=model_id,
        after_sortie_id=last.id,
        to_configuration_id=row.id,
        request_hash=asked,
    )
    session.add(order)
    session.flush()
    for position, action in enumerate(correction.actions):
        session.add(WorkOrderActionRow(work_order_id=order_id, position=position, **to_json(action)))
    session.flush()
    return _order(session, model_id)


def _order(session: Session, model_id: uuid.UUID) -> WorkOrder:
    order = history(session, model_id).order
    assert order is not None
    return order


def prove(session: Session, order_id: uuid.UUID, *, index: int, reading: str) -> WorkOrder:
    """Tick one action of a work order with the reading that proves it; an earlier reading stays in the log."""
    words = check_text("proof", reading.strip() or "done", longest=200)
    orders, models = Orders(session), Models(session)
    models.lock(orders.get(order_id).model_id)
    actions = orders.actions(order_id)
    if not 0 <= index < len(actions):
        raise RefusedError(f"This work order has {len(actions)} actions.", index=index)
    newest = [p.reading for p in orders.proofs(order_id) if p.position == index]
    if newest[-1:] != [words]:
        session.add(ProofRow(order=models.draw_order(), work_order_id=order_id, position=index, reading=words))
        session.flush()
    return _order(session, orders.get(order_id).model_id)
