"""Bench: the shelf, a model's setup with undo, the numbers for every what-if."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, replace
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.airframe.guesses import guessed_by_silhouette
from jinba.core.airframe.taken import Reading, step_of
from jinba.core.bench.answer import BenchAnswer, bench_answer
from jinba.core.bench.arrange import Arrangements, arrangements
from jinba.core.bench.controls import controls_answer, with_reopened
from jinba.core.bench.measured import Entered, take, with_origins
from jinba.core.cards.stale import difference
from jinba.core.configuration import Configuration
from jinba.core.diagnose.update import Belief
from jinba.core.errors import JinbaError, RefusedError, check_text
from jinba.core.history.model import History
from jinba.core.observe.situation import resting_trims
from jinba.core.silhouettes import silhouette_configuration
from jinba.core.walks import shift_datum
from jinba.persistence.once import once
from jinba.persistence.orm import ConfigurationRow, ModelRow, RevisionRow
from jinba.persistence.repositories import Models, Sorties
from jinba.services.estimates import present_belief, present_hash, setup_changed
from jinba.services.history import history
from jinba.services.remembered import Remembered
from jinba.services.setups import keep_setup, setup_of, setups_of


class StaleVersionError(JinbaError):
    """The setup a request was made for is not the present one any more."""

    code = "stale-version"


def create_model(
    session: Session, *, model_id: uuid.UUID, name: str, silhouette: str, span_m: float, rehearsal: bool = False
) -> None:
    """Make a model from a silhouette; the same client-made id and content twice is the same model."""
    shape = silhouette_configuration(silhouette, span_m=span_m)
    add_model(
        session,
        model_id=model_id,
        name=name,
        # A rehearsal flies the silhouette itself; a model on the table is only like it.
        setup=shape if rehearsal else replace(shape, guessed=guessed_by_silhouette(shape.airframe)),
        words="started from a silhouette",
        request={"name": name, "silhouette": silhouette, "span_m": span_m} | ({"rehearsal": True} if rehearsal else {}),
        rehearsal=rehearsal,
    )


def add_model(
    session: Session,
    *,
    model_id: uuid.UUID,
    name: str,
    setup: Configuration,
    words: str,
    request: Any,
    story: str = "",
    rehearsal: bool = False,
    stand_in: dict[str, Any] | None = None,
) -> ModelRow:
    """Make a model with its first configuration, once: ``request`` is what the client asked for."""
    label = check_text("model name", name.strip(), longest=60)
    if not label:
        raise JinbaError("Give the model a name.", name="name")
    existing, asked = once(session, ModelRow, model_id, request)
    if existing is not None:
        return existing
    model = ModelRow(
        id=model_id,
        owner_id=Models(session).owner_id(),
        name=label,
        story=story,
        rehearsal=rehearsal,
        stand_in=stand_in,
        request_hash=asked,
    )
    session.add(model)
    session.flush()
    new_configuration(session, model, number=1, setup=setup, words=words, change_words=(), opened=frozenset())
    return model


def new_configuration(
    session: Session,
    model: ModelRow,
    *,
    number: int,
    setup: Configuration,
    words: str,
    change_words: tuple[str, ...],
    opened: frozenset[str],
) -> ConfigurationRow:
    """Add a configuration of a locked model with its first revision."""
    revision_id = uuid.uuid4()
    row = ConfigurationRow(
        id=uuid.uuid4(),
        model_id=model.id,
        number=number,
        change_words=list(change_words),
        opened_cards=sorted(opened),
        current_revision_id=revision_id,
    )
    session.add(row)
    session.flush()
    setup_hash = keep_setup(session, setup)
    session.add(RevisionRow(id=revision_id, configuration_id=row.id, number=1, words=words, setup_hash=setup_hash))
    session.flush()
    return row


def check_setup(setup: Configuration) -> None:
    """Refuse a setup of which the bench or the controls desk could not show its numbers. Needs no session."""
    bench_answer(setup)
    controls_answer(setup)


def open_for_change(session: Session, model_id: uuid.UUID, *, version: int | None) -> tuple[ModelRow, History]:
    """Return a model locked for a change of its setup, and its history.

    ``version``: the one the request was made for, None where the client did not say.
    Raises: StaleVersionError when the setup was changed since; RefusedError for read-only models.
    """
    model = Models(session).lock(model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not changed.")
    if version is not None and model.setup_version != version:
        raise StaleVersionError(
            "This model was changed elsewhere meanwhile. Load it again; your entries are still here.",
            current=model.setup_version,
        )
    return model, history(session, model_id)


def save_setup(
    session: Session,
    model_id: uuid.UUID,
    *,
    base_version: int,
    setup: Configuration,
    words: str,
    entered: Entered | None = None,
) -> History:
    """Save a bench edit as a new revision; after a flight it begins the next configuration and says what became stale.

    ``entered``: how a person entered it, None for what the program computed. Raises: StaleVersionError when ``base_version`` is not the
    present one; RefusedError for read-only models.
    """
    model, known = open_for_change(session, model_id, version=base_version)
    return _keep(session, model, known, with_origins(known.setup, setup, entered), words)


def _keep(session: Session, model: ModelRow, known: History, setup: Configuration, words: str) -> History:
    setup = with_reopened(known.setup, setup)
    if setup == known.setup:
        return known
    setup = known.with_radio(setup)
    changed = difference(known.state, setup)
    sentence = check_text("what changed", words or "; ".join(changed.words) or "edited", longest=300)
    if known.flown:
        new_configuration(
            session,
            model,
            number=known.configuration.number + 1,
            setup=setup,
            words=sentence,
            change_words=changed.words or (sentence,),
            opened=changed.stale,
        )
    else:
        _add_revision(session, known.configuration.id, setup, sentence)
    return _changed(session, model)


def take_measure(
    session: Session, model_id: uuid.UUID, *, base_version: int, key: str, reading: Reading, on: str
) -> History:
    """Keep one reading of a measure: alone, or averaged with those there are. Raises: as :func:`save_setup`."""
    model, known = open_for_change(session, model_id, version=base_version)
    setup = take(known.setup, key, reading, on=on)
    check_setup(setup)
    step = step_of(setup.airframe, key)
    words = f"{step.part}, {step.label[0].lower()}{step.label[1:]} measured{' again' if reading.again else ''}"
    return _keep(session, model, known, setup, words)


def _add_revision(session: Session, configuration_id: uuid.UUID, setup: Configuration, words: str) -> None:
    models = Models(session)
    row = session.get_one(ConfigurationRow, configuration_id)
    revision = RevisionRow(
        id=uuid.uuid4(),
        configuration_id=configuration_id,
        number=models.next_number(configuration_id),
        parent_id=row.current_revision_id,
        words=words,
        setup_hash=keep_setup(session, setup),
    )
    session.add(revision)
    session.flush()
    row.current_revision_id = revision.id
    session.flush()


def _changed(session: Session, model: ModelRow) -> History:
    model.setup_version += 1
    session.flush()
    setup_changed(session, model)
    return history(session, model.id)


def undo(session: Session, model_id: uuid.UUID, *, version: int) -> History:
    """Go back one bench edit; nothing is deleted. Raises: RefusedError when there is nothing further, or once flown."""
    return _step(session, model_id, version=version, back=True)


def redo(session: Session, model_id: uuid.UUID, *, version: int) -> History:
    """Go forward again to the newest edit made from here. Raises: RefusedError when there is none, or once flown."""
    return _step(session, model_id, version=version, back=False)


def _step(session: Session, model_id: uuid.UUID, *, version: int, back: bool) -> History:
    model, known = open_for_change(session, model_id, version=version)
    models = Models(session)
    row = session.get_one(ConfigurationRow, known.configuration.id)
    here = models.revision(row.current_revision_id)
    further = None if back else models.next_of(here.id)
    there = here.parent_id if back else None if further is None else further.id
    if there is None:
        raise RefusedError("There is nothing further in this direction to undo or redo.")
    if known.flown:
        raise RefusedError(
            "This configuration has been flown; it cannot be undone. Change it instead: that begins the next one."
        )
    row.current_revision_id = there
    session.flush()
    return _changed(session, model)


def move_datum(session: Session, model_id: uuid.UUID, *, base_version: int, dx_m: float, words: str) -> History:
    """Describe the model from another datum; nothing about the model changes."""
    _, known = open_for_change(session, model_id, version=base_version)
    moved = shift_datum(known.setup, dx_m, check_text("datum", words, longest=80))
    check_setup(moved)
    return save_setup(session, model_id, base_version=base_version, setup=moved, words=f"datum now {words}")


def accept_configuration(
    session: Session,
    model: ModelRow,
    *,
    number: int,
    setup: Configuration,
    words: str,
    change_words: tuple[str, ...],
    opened: frozenset[str],
) -> ConfigurationRow:
    """Begin the next configuration of a locked model, with the belief of it."""
    row = new_configuration(
        session, model, number=number, setup=setup, words=words, change_words=change_words, opened=opened
    )
    model.setup_version += 1
    session.flush()
    setup_changed(session, model)
    return row


@dataclass(frozen=True, slots=True)
class Taught:
    """What a what-if needs of the past: the belief of the saved setup, and where the battery was flown. [m]"""

    belief: Belief | None
    flown_battery_x_m: tuple[float, ...]


_TAUGHT = Remembered[Taught]()


def taught(session: Session, model_id: uuid.UUID) -> Taught:
    """Return what the flights of a model have taught; a what-if runs at every move of a pointer, and nothing is written meanwhile.

    Raises: NotFoundError.
    """
    return _TAUGHT.of_moment(session, model_id, lambda: _taught(session, model_id))


def _taught(session: Session, model_id: uuid.UUID) -> Taught:
    model = Models(session).get(model_id)
    sorties = Sorties(session)
    flown = setups_of(session, sorties.flown_setups(model_id)).values()
    belief = present_belief(session, model, sorties.last_landed(model_id), present_hash(session, model_id))
    stations = {b.x_m for c in flown if (b := c.battery) is not None}
    return Taught(belief, tuple(sorted(stations)))


def present_setup(session: Session, model_id: uuid.UUID) -> Configuration:
    """Return the saved setup of a model. Raises: NotFoundError."""
    Models(session).get(model_id)
    return setup_of(session, present_hash(session, model_id))


def arrange(known: History, *, target_x_m: float | None, tolerance_m: float, level: bool) -> Arrangements:
    """Return the ways to bring a model to a balance point, with what the flights have taught."""
    return arrangements(known.setup, target_x_m=target_x_m, tolerance_m=tolerance_m, level=level, belief=known.belief)


def answer_for(belief: Belief | None, setup: Configuration) -> BenchAnswer:
    """Return the bench's numbers for a setup, under the model's belief."""
    return bench_answer(setup, belief=belief, trims=resting_trims(setup))
