"""Rework: the composed correction, its acceptance as the next configuration, and the proof of each action."""

from __future__ import annotations

import uuid
from dataclasses import replace

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.correct.compose import Choices, Correction, compose
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.errors import RefusedError, check_text
from jinba.core.observe.situation import resting_trims
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import WorkOrderRow
from jinba.persistence.repositories import Sorties
from jinba.services.bench import history, new_configuration
from jinba.services.history import History


def propose(known: History, choices: Choices | None = None) -> Correction:
    """Return the correction for what the landed sorties say. Raises: RefusedError before the first landing."""
    belief, trims = known.belief(), known.flown_trims()
    if belief is None or trims is None:
        raise RefusedError("Nothing has been flown yet: there is nothing to correct. Plan the maiden first.")
    return compose(flown_setup(known), belief, trims, choices)


def decided_order(known: History) -> WorkOrderRow | None:
    """Return the work order already written after the last landing, or None."""
    if not known.landed:
        return None
    return next((o for o in known.work_orders if o.after_sortie_id == known.landed[-1].id), None)


def flown_setup(known: History) -> Configuration:
    """Return the setup the correction starts from.

    That of the last landed sortie; or the present one when it was changed on the bench since, without a work order.
    """
    last = known.landed[-1]
    changed_by_hand = known.configuration_row.id != last.configuration_id and decided_order(known) is None
    return known.setup if changed_by_hand else from_json(Configuration, last.setup)


def with_decision(known: History, correction: Correction) -> Correction:
    """Return the correction as it was decided: the accepted configuration and what it is predicted to do."""
    belief = known.belief()
    if decided_order(known) is None or belief is None:
        return correction
    predicted = tendencies(known.setup, belief, resting_trims(known.setup))
    return replace(correction, configuration=known.setup, predicted=predicted)


def accept(session: Session, model_id: uuid.UUID, *, order_id: uuid.UUID, choices: Choices) -> WorkOrderRow:
    """Accept the proposed correction: makes the next configuration and the work order. The same id twice is one order."""
    existing = session.get(WorkOrderRow, order_id)
    if existing is not None:
        return existing
    known = history(session, model_id)
    if known.model.read_only:
        raise RefusedError(f"{known.model.name} is read-only.")
    correction = propose(known, choices)
    last = known.landed[-1]
    if decided_order(known) is not None:
        raise RefusedError(
            f"The rework after sortie {last.number} is already decided. Fly again, then decide the next."
        )
    row = new_configuration(
        session,
        model_id=model_id,
        number=known.configuration_row.number + 1,
        setup=correction.configuration,
        words=f"rework after sortie {last.number}",
        change_words=list(correction.difference.words) or ["nothing changed"],
        stale=sorted(correction.difference.stale),
    )
    order = WorkOrderRow(
        id=order_id,
        model_id=model_id,
        after_sortie_id=last.id,
        to_configuration_id=row.id,
        actions=[to_json(a) for a in correction.actions],
        proofs={},
    )
    session.add(order)
    session.flush()
    return order


def prove(session: Session, order_id: uuid.UUID, *, index: int, reading: str) -> WorkOrderRow:
    """Tick one action of a work order with the reading that proves it."""
    order = Sorties(session).work_order(order_id)
    if not 0 <= index < len(order.actions):
        raise RefusedError(f"This work order has {len(order.actions)} actions.", index=index)
    order.proofs = {**order.proofs, str(index): check_text("proof", reading.strip() or "done", longest=200)}
    session.flush()
    return order
