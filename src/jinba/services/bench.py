"""Bench: the shelf, a model's setup with undo, the numbers for every what-if."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy.orm import Session

from jinba.core.bench.answer import BenchAnswer, bench_answer
from jinba.core.bench.arrange import Arrangements, arrangements
from jinba.core.bench.controls import controls_answer, with_reopened
from jinba.core.cards.stale import difference
from jinba.core.configuration import Configuration, shift_datum
from jinba.core.errors import JinbaError, RefusedError, check_text
from jinba.core.observe.situation import resting_trims
from jinba.core.silhouettes import silhouette_configuration
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import ConfigurationRow, ModelRow, RevisionRow
from jinba.persistence.repositories import Models, Sorties
from jinba.services.history import History, read_history


class ConflictError(JinbaError):
    """Somebody saved in between; nothing was overwritten."""

    code = "conflict"


def shelf(session: Session) -> Sequence[ModelRow]:
    """Return all models."""
    return Models(session).all()


def history(session: Session, model_id: uuid.UUID) -> History:
    """Return everything known of a model."""
    return read_history(Models(session), Sorties(session), model_id)


def create_model(session: Session, *, model_id: uuid.UUID, name: str, silhouette: str, span_m: float) -> ModelRow:
    """Make a model from a silhouette; the same client-made id twice is the same model."""
    return add_model(
        session,
        model_id=model_id,
        name=name,
        setup=silhouette_configuration(silhouette, span_m=span_m),
        words="started from a silhouette",
    )


def add_model(
    session: Session,
    *,
    model_id: uuid.UUID,
    name: str,
    setup: Configuration,
    words: str,
    story: str = "",
    read_only: bool = False,
) -> ModelRow:
    """Make a model with its first configuration."""
    existing = session.get(ModelRow, model_id)
    if existing is not None:
        return existing
    label = check_text("model name", name.strip(), longest=60)
    if not label:
        raise JinbaError("Give the model a name.", name="name")
    model = ModelRow(id=model_id, owner_id=Models(session).owner().id, name=label, story=story, read_only=read_only)
    session.add(model)
    session.flush()
    new_configuration(session, model_id=model_id, number=1, setup=setup, words=words, change_words=[], stale=[])
    return model


def new_configuration(
    session: Session,
    *,
    model_id: uuid.UUID,
    number: int,
    setup: Configuration,
    words: str,
    change_words: list[str],
    stale: list[str],
) -> ConfigurationRow:
    """Add a configuration with its first revision."""
    row = ConfigurationRow(
        id=uuid.uuid4(),
        model_id=model_id,
        number=number,
        change_words=change_words,
        stale_cards=stale,
        current_revision=1,
    )
    session.add(row)
    session.flush()
    session.add(RevisionRow(id=uuid.uuid4(), configuration_id=row.id, number=1, words=words, setup=to_json(setup)))
    session.flush()
    return row


def save_setup(
    session: Session, model_id: uuid.UUID, *, base_revision: int, setup: Configuration, words: str
) -> History:
    """Save a bench edit as a new revision; after a flight it begins the next configuration and says what became stale.

    Raises: ConflictError when ``base_revision`` is not the current one; RefusedError for read-only models.
    """
    models = Models(session)
    known = history(session, model_id)
    _writable(known)
    row = known.configuration_row
    if row.current_revision != base_revision:
        raise ConflictError(
            "This model was changed elsewhere meanwhile. Load it again; your entries are still here.",
            current=row.current_revision,
        )
    setup = with_reopened(known.setup, setup)
    bench_answer(setup)
    controls_answer(setup)
    if setup == known.setup:
        return known
    changed = difference(known.setup, setup)
    sentence = check_text("what changed", words or "; ".join(changed.words) or "edited", longest=300)
    if any(s.configuration_id == row.id for s in known.sorties):
        new_configuration(
            session,
            model_id=model_id,
            number=row.number + 1,
            setup=setup,
            words=sentence,
            change_words=list(changed.words) or [sentence],
            stale=sorted(changed.stale),
        )
    else:
        models.drop_after(row)
        number = row.current_revision + 1
        session.add(
            RevisionRow(id=uuid.uuid4(), configuration_id=row.id, number=number, words=sentence, setup=to_json(setup))
        )
        row.current_revision = number
    session.flush()
    return history(session, model_id)


def step_revision(session: Session, model_id: uuid.UUID, *, by: int) -> History:
    """Undo (-1) or redo (+1) one bench edit. Raises: NotFoundError when there is nothing further."""
    known = history(session, model_id)
    _writable(known)
    row = known.configuration_row
    Models(session).revision(row, row.current_revision + by)
    if any(s.configuration_id == row.id for s in known.sorties):
        raise RefusedError(
            "This configuration has been flown; it cannot be undone. Change it instead: that begins the next one."
        )
    row.current_revision += by
    session.flush()
    return history(session, model_id)


def move_datum(session: Session, model_id: uuid.UUID, *, base_revision: int, dx_m: float, words: str) -> History:
    """Describe the model from another datum; nothing about the model changes."""
    known = history(session, model_id)
    moved = shift_datum(known.setup, dx_m, check_text("datum", words, longest=80))
    return save_setup(session, model_id, base_revision=base_revision, setup=moved, words=f"datum now {words}")


def what_if(session: Session, model_id: uuid.UUID, setup: Configuration) -> BenchAnswer:
    """Return the bench's numbers for a setup that is not saved, with what the flights have taught."""
    known = history(session, model_id)
    return answer_for(known, setup)


def arrange(known: History, *, target_x_m: float | None, tolerance_m: float, level: bool) -> Arrangements:
    """Return the ways to bring a model to a balance point, with what the flights have taught."""
    return arrangements(known.setup, target_x_m=target_x_m, tolerance_m=tolerance_m, level=level, belief=known.belief())


def answer_for(known: History, setup: Configuration) -> BenchAnswer:
    """Return the bench's numbers for a setup, under the model's belief."""
    return bench_answer(setup, belief=known.belief(), trims=resting_trims(setup))


def first_setup(model: ModelRow, models: Models) -> Configuration:
    """Return the present setup of a model."""
    return from_json(Configuration, models.revision(models.configuration(model.id)).setup)


def _writable(known: History) -> None:
    if known.model.read_only:
        raise RefusedError(f"{known.model.name} is kept read-only: it can be looked at, not changed.")
