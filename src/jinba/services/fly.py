"""Fly: log the cards of a sortie, let the stand-in fly it, land."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS, card
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Phase, Reading, check_record
from jinba.core.configuration import Configuration
from jinba.core.errors import RefusedError
from jinba.core.flight.faults import Faults, Nature, draw_faults, draw_nature
from jinba.core.flight.pilot import SimulatedModel, fly
from jinba.core.observe.situation import design_of
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import ModelRow, RecordRow, SortieRow
from jinba.persistence.repositories import Models, Sorties


def get_sortie(session: Session, sortie_id: uuid.UUID) -> tuple[SortieRow, Sequence[RecordRow]]:
    """Return a sortie and its records."""
    sorties = Sorties(session)
    return sorties.get(sortie_id), sorties.records(sortie_id)


def log_card(session: Session, sortie_id: uuid.UUID, *, record_id: uuid.UUID, record: CardRecord) -> SortieRow:
    """Append a record to a sortie; the same client-made id twice is one record, so a retried write is harmless.

    Raises: RefusedError when the card is not of this sortie or the sortie has landed; errors of the record.
    """
    sortie = Sorties(session).get(sortie_id)
    if session.get(RecordRow, record_id) is not None:
        return sortie
    kind = card(record.card_id)
    if sortie.status == "landed" and not sortie.alone and kind.phase is Phase.FLIGHT:
        raise RefusedError("This sortie has landed. Plan the next one, or log from memory by flying alone.")
    if kind.phase is Phase.FLIGHT and record.card_id not in sortie.card_ids:
        raise RefusedError(f"{kind.id} is not on this sortie's list.")
    check_record(kind, record)
    session.add(
        RecordRow(
            id=record_id,
            model_id=sortie.model_id,
            configuration_id=sortie.configuration_id,
            sortie_id=sortie_id,
            card_id=kind.id,
            record=to_json(record),
        )
    )
    if sortie.status == "planned":
        sortie.status = "flying"
    session.flush()
    return sortie


def land(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """End a sortie. Landing twice is landing once."""
    sortie = Sorties(session).get(sortie_id)
    if sortie.status != "landed":
        sortie.status = "landed"
        sortie.landed_at = datetime.now(UTC)
        session.flush()
    return sortie


def stand_in_flies(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """Let the simulated model fly the cards that are not logged yet, log them and land.

    Its hidden faults are drawn once per model and kept, so that reworks work on the same aeroplane.
    Raises: RefusedError when the sortie has landed.
    """
    sorties = Sorties(session)
    sortie = sorties.get(sortie_id)
    if sortie.status == "landed":
        raise RefusedError("This sortie has already landed.")
    setup = from_json(Configuration, sortie.setup)
    model = simulated(Models(session).get(sortie.model_id), setup)
    records = fly([model], tuple(sortie.card_ids), seed=_seed(sortie_id))[0]
    logged = {r.card_id for r in sorties.records(sortie_id)}
    confidence = Confidence.FAIR
    for record in (*records, *_after_flight(sortie, setup)):
        if record.card_id in logged:
            continue
        final = replace(
            record, confidence=confidence, from_memory=sortie.alone and CARDS[record.card_id].phase is Phase.FLIGHT
        )
        session.add(
            RecordRow(
                id=uuid.uuid4(),
                model_id=sortie.model_id,
                configuration_id=sortie.configuration_id,
                sortie_id=sortie_id,
                card_id=record.card_id,
                record=to_json(final),
            )
        )
        session.flush()
    sortie.simulated = True
    return land(session, sortie_id)


def simulated(model: ModelRow, setup: Configuration) -> SimulatedModel:
    """Return the simulated twin of a model in a setup; its faults are drawn on first use and kept in the row."""
    if model.stand_in is None:
        rng = np.random.default_rng(_seed(model.id))
        faults = draw_faults(rng, static_margin_sigma=design_of(setup).static_margin_sigma)
        model.stand_in = {"faults": to_json(faults), "nature": to_json(draw_nature(rng))}
    return SimulatedModel(
        setup, from_json(Faults, model.stand_in["faults"]), from_json(Nature, model.stand_in["nature"])
    )


def _after_flight(sortie: SortieRow, setup: Configuration) -> tuple[CardRecord, ...]:
    minutes = round(sum(CARDS[c].minutes for c in sortie.card_ids), 1)
    volts = round(4.15 - 0.4 * minutes / setup.pack_minutes, 2)
    rests = round(setup.elevator.millimetres(abs(setup.elevator.resting_rad)), 1)
    return (
        CardRecord("A1", Outcome.DONE, (Reading("minutes", number=minutes), Reading("volts", number=max(volts, 3.3)))),
        CardRecord("A2", Outcome.DONE, (Reading("tight", choice="yes"),)),
        CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", number=rests), Reading("noted", choice="yes"))),
    )


def _seed(identity: uuid.UUID) -> int:
    return identity.int % 2**31
