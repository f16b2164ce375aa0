"""Copies of a model: a sister to be built, with what the flights have taught; a rehearsal to be flown by a stand-in."""

from __future__ import annotations

import uuid

from sqlalchemy.orm import Session

from jinba.core.history.model import History
from jinba.core.walks import built_again
from jinba.persistence.repositories import Estimates
from jinba.services.bench import add_model
from jinba.services.estimates import stored_causes
from jinba.services.history import history

_CLEAR_STRENGTH = 1.0
"""A finding of at least its prior sigma is a lesson; less is within what the next build may differ anyway."""


def make_sister(session: Session, model_id: uuid.UUID, *, sister_id: uuid.UUID, name: str) -> None:
    """Make a model with the airframe of another, to be weighed and balanced anew. The same id twice is one model.

    What belongs to the one airframe (jig reading, trims in the radio, ballast) is left out; where the surfaces were found
    to rest stays, and the lessons of its flights are written into the story. Raises: NotFoundError.
    """
    known = history(session, model_id)
    number = known.configuration.number
    add_model(
        session,
        model_id=sister_id,
        name=name,
        setup=built_again(known.setup),
        words=f"sister of {known.model.name}, configuration {number}",
        story=f"Sister of {known.model.name}, from its configuration {number}. {lessons(session, known)}"[:2000],
        request={"sister_of": str(model_id), "name": name},
    )


def rehearse(session: Session, model_id: uuid.UUID, *, copy_id: uuid.UUID) -> None:
    """Make a rehearsal copy of a model as it stands on the bench now; nothing that is flown with it touches the model.

    The same id twice is one copy. Raises: NotFoundError.
    """
    known = history(session, model_id)
    add_model(
        session,
        model_id=copy_id,
        name=f"{known.model.name[:48]}, rehearsal",
        setup=known.setup,
        words=f"rehearsal of {known.model.name}, configuration {known.configuration.number}",
        story=f"A rehearsal of {known.model.name}: flown by a stand-in, no flight of it is real.",
        request={"rehearsal_of": str(model_id)},
        rehearsal=True,
    )


def lessons(session: Session, known: History) -> str:
    """Return what the flights of a model have taught, in sentences for the builder of the next one."""
    last = known.last_flight
    if last is None:
        return "Nothing of it has flown yet: there are no lessons."
    balance = next((t for t in last.after if t.key == "static_margin"), None)
    stored = Estimates(session).of_sorties((last.sortie.id,)).get(last.sortie.id)
    if balance is None or stored is None:
        return "Its last sortie is not computed yet: there are no lessons."
    clear = [c for c in stored_causes(session, stored.id) if c.strength >= _CLEAR_STRENGTH]
    found = "; ".join(f"{c.verdict} ({c.words})" for c in clear)
    flown = f"After {len(known.landed)} sorties its static margin was {balance.words}"
    return f"{flown}. {'Found: ' + found + '.' if clear else 'It flew as the bench had said.'}"
