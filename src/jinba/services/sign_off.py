"""Sign off: what is still missing, handing a model over, taking that back."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from jinba.core.cards.noticed import note_words
from jinba.core.diagnose.contradictions import contradictions
from jinba.core.diagnose.update import prior_of
from jinba.core.errors import RefusedError
from jinba.core.history.model import History
from jinba.core.observe.situation import design_of
from jinba.core.plan.sign_off import Criterion, SignOff, criteria, signed
from jinba.persistence.once import once
from jinba.persistence.orm import SignOffRow
from jinba.persistence.repositories import Models, Orders
from jinba.services.history import history


@dataclass(frozen=True, slots=True)
class HandOver:
    """What has to be so before a model is handed over, and the signing off that holds, None without one."""

    criteria: tuple[Criterion, ...]
    signed_off: SignOff | None


def hand_over(known: History) -> HandOver:
    """Return what is so and what is missing, for a model that has flown. Raises: RefusedError before the first landing."""
    return HandOver(_criteria(known), known.signed_off)


def sign_off(session: Session, model_id: uuid.UUID, *, sign_off_id: uuid.UUID, by: str, remark: str) -> History:
    """Hand a model over as it landed. The same id and content twice is one.

    Raises: RefusedError with what is missing and no reason given, with a sortie open or undecided bench work; ConflictError.
    """
    model = Models(session).lock(model_id)
    existing, asked = once(session, SignOffRow, sign_off_id, {"model": str(model_id), "by": by, "remark": remark})
    if existing is not None:
        return history(session, model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not changed.")
    known = history(session, model_id)
    found = _criteria(known)
    if known.open_sortie is not None:
        raise RefusedError(f"Sortie {known.open_sortie.number} is still open. Fly it or land it first.")
    if known.changed_since_landing:
        raise RefusedError("It was changed since it landed: fly it as it is now, then sign it off.")
    name, why, missing = signed(found, by=by, remark=remark)
    last = known.last_flight
    assert last is not None
    session.add(
        SignOffRow(
            id=sign_off_id,
            model_id=model_id,
            sortie_id=last.sortie.id,
            signed_by=name,
            remark=why,
            missing=list(missing),
            request_hash=asked,
        )
    )
    session.flush()
    return history(session, model_id)


def take_back(session: Session, sign_off_id: uuid.UUID) -> History:
    """Take a signing off back; it stays in the table. Taking back twice is taking back once."""
    row = Orders(session).sign_off(sign_off_id)
    Models(session).lock(row.model_id)
    session.refresh(row)
    if row.taken_back_at is None:
        row.taken_back_at = datetime.now(UTC)
        session.flush()
    return history(session, row.model_id)


def _criteria(known: History) -> tuple[Criterion, ...]:
    last = known.last_flight
    if last is None or known.belief is None:
        raise RefusedError("Nothing has been flown yet: there is nothing to hand over.")
    wrong = [f"{c} was broken off" for c in known.broken_off]
    wrong += [] if known.unmended is None else [f"{known.unmended.words}: not gone over since"]
    wrong += [s.words for s in last.squawks if s.stops]
    wrong += [f"{note_words(n)}: not gone through" for n in known.notes if n.open]
    return criteria(
        known.state,
        last.after,
        flown=known.seen.cards,
        open_actions=0 if known.open_work is None else known.open_work.open,
        went_wrong=tuple(wrong),
        contradictions=contradictions(
            known.seen,
            known.belief,
            prior_of(design_of(known.setup)),
            stall_mps=design_of(known.setup).stall_speed_mps,
            found=last.disagreeing,
        ),
    )
