"""Rework: the composed correction, its acceptance as the next configuration, and the proof of each action."""

from __future__ import annotations

import uuid

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.correct.compose import Choices, Correction, compose
from jinba.core.errors import RefusedError, check_text
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


def flown_setup(known: History) -> Configuration:
    """Return the setup the last landed sortie was flown in, or the present one when it was changed since."""
    last = known.landed[-1]
    flown = from_json(Configuration, last.setup)
    return known.setup if known.configuration_row.id != last.configuration_id else flown


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
    if any(o.after_sortie_id == last.id for o in known.work_orders):
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
