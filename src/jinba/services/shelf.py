"""The shelf: the models that stand on it and those put away; other names, taking back, and deleting for good."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.errors import JinbaError, RefusedError, check_text
from jinba.persistence.repositories import Models
from jinba.services.setups import setups_of


@dataclass(frozen=True, slots=True)
class OnShelf:
    """A model on the shelf with its present setup; ``put_away`` when it is kept out of sight."""

    id: uuid.UUID
    name: str
    story: str
    read_only: bool
    rehearsal: bool
    put_away: bool
    setup: Configuration


def shelf(session: Session) -> list[OnShelf]:
    """Return all models, oldest first, those put away last."""
    lines = Models(session).shelf()
    setups = setups_of(session, (m.setup_hash for m in lines))
    found = [OnShelf(m.id, m.name, m.story, m.read_only, m.rehearsal, m.put_away, setups[m.setup_hash]) for m in lines]
    return sorted(found, key=lambda m: m.put_away)


def put_away(session: Session, model_id: uuid.UUID, *, away: bool) -> None:
    """Put a model away, or back on the shelf; nothing of it is lost. Doing it twice is doing it once."""
    model = Models(session).lock(model_id)
    if away != (model.put_away_at is not None):
        model.put_away_at = datetime.now(UTC) if away else None
        session.flush()


def rename(session: Session, model_id: uuid.UUID, *, name: str, story: str | None) -> None:
    """Call a model otherwise, and tell its story otherwise where one is given. What was flown and printed keeps its id, not its name.

    Raises: JinbaError without a name; RefusedError for one that is kept read-only; NotFoundError.
    """
    model = Models(session).lock(model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not changed.")
    label = check_text("model name", name.strip(), longest=60)
    if not label:
        raise JinbaError("Give the model a name.", name="name")
    model.name = label
    if story is not None:
        model.story = check_text("story", story.strip(), longest=2000)
    session.flush()


def delete(session: Session, model_id: uuid.UUID, *, name: str) -> None:
    """Delete a model with everything that was ever logged of it, for good.

    Raises: RefusedError unless it was put away before and is called by its name; NotFoundError when it is gone.
    """
    models = Models(session)
    model = models.lock(model_id)
    if model.put_away_at is None:
        raise RefusedError(f"{model.name} stands on the shelf. Put it away first; that loses nothing.")
    if name.strip() != model.name:
        raise RefusedError(f"Deleting is for good: type its name, {model.name}, to say that you mean this one.")
    models.delete(model_id)
