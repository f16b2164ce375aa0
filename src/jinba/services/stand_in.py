"""The stand-in: a simulated pilot flies a rehearsal. Imported when one is flown: its compiler takes a second to load."""

from __future__ import annotations

import uuid
from dataclasses import replace
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Phase, Reading
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.sorties import LoggedSortie, trims_at_landing
from jinba.core.errors import RefusedError
from jinba.core.flight.piloting.aloft import Air
from jinba.core.flight.piloting.person import draw_person
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation.spread import Spread, Twin, Wrong
from jinba.core.flight.workshop import draw_twin
from jinba.core.frames import Axis
from jinba.core.observe.parameters import prior_means
from jinba.core.observe.predictions import Moment, pitch_rate_lift_off
from jinba.core.observe.situation import design_of, resting_trims
from jinba.core.plan.minutes import minutes_of
from jinba.core.silhouettes import silhouette_configuration
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import ModelRow, SortieRow
from jinba.persistence.repositories import Log, Models, Sorties
from jinba.services.computing import Computation, computed
from jinba.services.fly import land_locked
from jinba.services.log import ToWrite, Written, write_entry
from jinba.services.setups import setup_of


def stand_in_flies(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """Let a simulated pilot fly the cards of a rehearsal that are not logged yet, log them and land.

    What is wrong with the model is drawn once and kept, so that reworks work on the same aeroplane.
    Raises: RefusedError when the model is a real one, or the sortie has landed.
    """
    sorties = Sorties(session)
    model = Models(session).lock(sorties.model_of(sortie_id))
    sortie = sorties.get(sortie_id)
    if not model.rehearsal:
        raise RefusedError(
            f"{model.name} is a real model: the stand-in flies only rehearsals, so that no made-up flight enters its history. "
            "Make a rehearsal copy of it in the ledger and fly that."
        )
    if sortie.status == "landed":
        raise RefusedError("This sortie has already landed.")
    setup, card_ids = setup_of(session, sortie.setup_hash), sorties.cards(sortie_id)
    twin, weather = twin_of_model(model, setup), sorties.weather(sortie_id)
    air = Air(_USUAL_WIND_MPS if weather is None else weather.wind_mps)
    person = draw_person(np.random.default_rng(seed_of(model.id)))
    release = sorties.trims((sortie_id,), "release").get(sortie_id, resting_trims(setup))
    truth = Truth(as_flown(setup, release), twin.spread, twin.wrong)
    flight = Computation(
        ("flown", sortie.setup_hash, release, twin, air, card_ids, sortie_id),
        lambda: fly_sortie(truth, card_ids, seed=seed_of(sortie_id), person=person, air=air).records,
    )
    (records,) = computed(session, model.id, [flight])
    logged = {r.RecordRow.card_id for r in Log(session).of_sortie(sortie_id)}
    for record in (*records, *_after_flight(card_ids, LoggedSortie(setup, records, release))):
        if record.card_id in logged:
            continue
        from_memory = sortie.alone and CARDS[record.card_id].phase is Phase.FLIGHT
        write_entry(
            session,
            model,
            ToWrite(
                id=uuid.uuid4(),
                record=replace(record, confidence=Confidence.FAIR, from_memory=from_memory),
                request_hash=None,
                configuration_id=sortie.configuration_id,
                sortie_id=sortie_id,
                epoch=2 * sortie.number - 1,
                setup_hash=sortie.setup_hash,
                written=Written(by="stand-in"),
            ),
        )
    sortie.simulated = True
    return land_locked(session, model, sortie)


_USUAL_WIND_MPS = 2.0


def compile_flight() -> None:
    """Fly one take-off that nobody sees, and predict it, so that no pilot waits for the compiler in his first rehearsal or debrief."""
    setup = silhouette_configuration("high_wing", span_m=1.0)
    person = draw_person(np.random.default_rng(0))
    fly_sortie(Truth(setup), ("F1",), seed=0, person=person, air=Air(_USUAL_WIND_MPS))
    pitch_rate_lift_off(prior_means(), Moment(design_of(setup), resting_trims(setup)))


def twin_of_model(model: ModelRow, setup: Configuration) -> Twin:
    """Return the hidden side of a locked model; it is drawn on first use and kept in the row."""
    if model.stand_in is None:
        model.stand_in = stored_twin(draw_twin(setup, np.random.default_rng(seed_of(model.id))))
    return twin_from(model.stand_in)


def stored_twin(twin: Twin) -> dict[str, Any]:
    """Return the stored form of a simulated twin."""
    return {"spread": to_json(twin.spread), "wrong": to_json(twin.wrong)}


def twin_from(stored: dict[str, Any]) -> Twin:
    """Return a simulated twin from its stored form."""
    return Twin(from_json(Spread, stored["spread"]), from_json(Wrong, stored["wrong"]))


def _after_flight(card_ids: tuple[str, ...], flown: LoggedSortie) -> tuple[CardRecord, ...]:
    setup = flown.configuration
    minutes = round(minutes_of(card_ids), 1)
    volts = round(4.15 - 0.4 * minutes / setup.pack_minutes, 2)
    landed = trims_at_landing(flown)
    rests = round(setup.ruler_mm(Axis.PITCH, landed.elevator_rad), 1)
    return (
        CardRecord("A1", Outcome.DONE, (Reading("minutes", number=minutes), Reading("volts", number=max(volts, 3.3)))),
        CardRecord("A2", Outcome.DONE, (Reading("tight", choice="yes"),)),
        CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", number=rests), Reading("noted", choice="yes"))),
    )


def seed_of(identity: uuid.UUID) -> int:
    """Return where the chances of a model's faults, or of a flight, begin: the same for the same identity."""
    return identity.int % 2**31
