"""The stand-in: a simulated pilot flies a rehearsal. Imported when one is flown: its compiler takes a second to load."""

from __future__ import annotations

import math
import uuid
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.fitted import cards_of
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Phase, Reading
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.sorties import LoggedSortie, trims_at_landing
from jinba.core.errors import RefusedError
from jinba.core.flight.piloting.aloft import Air
from jinba.core.flight.piloting.person import draw_person
from jinba.core.flight.piloting.recording import Recorder, Run
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation.spread import Spread, Twin, Wrong
from jinba.core.flight.workshop import draw_twin
from jinba.core.frames import Axis
from jinba.core.observe.parameters import prior_means
from jinba.core.observe.predictions import Moment, pitch_rate_lift_off
from jinba.core.observe.situation import Trims, design_of, resting_trims
from jinba.core.plan.minutes import minutes_of
from jinba.core.power.cells import CHARGED
from jinba.core.power.draw import full_power_w
from jinba.core.silhouettes import silhouette_configuration
from jinba.core.telemetry.samples import Sample
from jinba.core.telemetry.taken import taken
from jinba.devices.telemetry import OnBoard, SimulatedTelemetry, TelemetryLink
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import ModelRow, SortieRow
from jinba.persistence.repositories import Log, Models, Packs, Sorties
from jinba.services.computing import Computation, computed
from jinba.services.fly import land_locked
from jinba.services.log import ToWrite, Written, write_entry
from jinba.services.packs import pack_of
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
    asked = _asked(session, model, sortie, sorties.cards(sortie_id))
    records = _watched(session, asked).records
    setup, card_ids = asked.setup, asked.card_ids
    seen = link_of(session, sortie, asked).flight(card_ids) if sortie.pack_id is not None else ()
    logged = {r.RecordRow.card_id for r in Log(session).of_sortie(sortie_id)}
    for record in (*records, *_after_flight(card_ids, LoggedSortie(setup, records, asked.release), seen)):
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


@dataclass(frozen=True, slots=True)
class _Asked:
    """A simulated flight, named by all that goes into it."""

    key: tuple[Hashable, ...]
    model_id: uuid.UUID = field(compare=False)
    sortie_id: uuid.UUID = field(compare=False)
    setup: Configuration = field(compare=False)
    release: Trims = field(compare=False)
    twin: Twin = field(compare=False)
    air: Air = field(compare=False)
    card_ids: tuple[str, ...] = field(compare=False)


@dataclass(frozen=True, slots=True, eq=False)
class _Watched:
    """What came of a simulated flight: what its pilot logged, and what a link could tell of each card."""

    records: tuple[CardRecord, ...]
    runs: Mapping[str, Sequence[Run]]


def _asked(session: Session, model: ModelRow, sortie: SortieRow, card_ids: tuple[str, ...]) -> _Asked:
    sorties = Sorties(session)
    setup = setup_of(session, sortie.setup_hash)
    twin, weather = twin_of_model(model, setup), sorties.weather(sortie.id)
    air = Air(_USUAL_WIND_MPS if weather is None else weather.wind_mps)
    release = sorties.trims((sortie.id,), "release").get(sortie.id, resting_trims(setup))
    key = (sortie.setup_hash, release, twin, air, card_ids, sortie.id)
    return _Asked(key, model.id, sortie.id, setup, release, twin, air, card_ids)


def _watched(session: Session, asked: _Asked) -> _Watched:
    """Return a simulated flight; it takes seconds, in which no connection is held and no row locked."""
    (watched,) = computed(session, asked.model_id, [Computation(("flown", *asked.key), lambda: _flown(asked))])
    return watched  # type: ignore[no-any-return]


@lru_cache(maxsize=8)
def _flown(asked: _Asked) -> _Watched:
    person = draw_person(np.random.default_rng(seed_of(asked.model_id)))
    truth = Truth(as_flown(asked.setup, asked.release), asked.twin.spread, asked.twin.wrong)
    recorder = Recorder()
    flown = fly_sortie(
        truth, asked.card_ids, seed=seed_of(asked.sortie_id), person=person, air=asked.air, recorder=recorder
    )
    return _Watched(flown.records, recorder.runs)


def link_of(session: Session, sortie: SortieRow, asked: _Asked) -> TelemetryLink:
    """Return the link to a simulated flight; of the pack it tells only where one was named that is described."""
    row = None if sortie.pack_id is None else Packs(session).get(sortie.pack_id)
    pack = None if row is None else pack_of(row)
    on_board = None
    if pack is not None and asked.setup.airframe.motor is not None:
        dice = np.random.default_rng(seed_of(asked.model_id))
        full_a = full_power_w(asked.setup.airframe, asked.setup.density_kg_m3) / pack.nominal_v
        charge = pack.charge(sortie.cell_v) or CHARGED
        on_board = OnBoard(pack, charge.share, full_a * math.exp(_FULL_SIGMA * float(dice.standard_normal())))
    minutes = {card_id: minutes_of((card_id,)) for card_id in asked.card_ids}
    runs = _watched(session, asked).runs
    return SimulatedTelemetry(runs, minutes, on_board, asked.air.wind_mps, seed_of(sortie.id))


def link_to(session: Session, sortie_id: uuid.UUID, card_id: str) -> TelemetryLink:
    """Return the link to a sortie in which a card is flown. Raises: RefusedError without a link.

    A card that was not planned is flown after those that were.
    """
    sorties = Sorties(session)
    model, sortie = Models(session).get(sorties.model_of(sortie_id)), sorties.get(sortie_id)
    if not model.rehearsal:
        raise RefusedError(
            f"No telemetry link is connected to {model.name}: only rehearsals have one, simulated. Go on by eye and watch."
        )
    if model.stand_in is None:
        model = Models(session).lock(model.id)
    planned = sorties.cards(sortie_id)
    besides = (card_id,) if card_id not in planned and CARDS[card_id].phase is Phase.FLIGHT else ()
    return link_of(session, sortie, _asked(session, model, sortie, (*planned, *besides)))


_FULL_SIGMA = 0.2
"""How far the current at full throttle lies off what propeller and thrust say, one sigma of its logarithm. Set here."""


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


def _after_flight(card_ids: tuple[str, ...], flown: LoggedSortie, seen: Sequence[Sample]) -> tuple[CardRecord, ...]:
    """Return what is logged after landing; of the pack what the link ``seen`` told, where one was named."""
    setup = flown.configuration
    minutes = round(minutes_of(card_ids), 1)
    volts = round(4.15 - 0.4 * minutes / setup.pack_minutes, 2)
    landed = trims_at_landing(flown)
    rests = round(setup.ruler_mm(Axis.PITCH, landed.elevator_rad), 1)
    told = tuple(r for r in taken(cards_of(setup)["A1"], seen) if r.key != "minutes")
    pack = told or (Reading("volts", number=max(volts, 3.3)),)
    return (
        CardRecord("A1", Outcome.DONE, (Reading("minutes", number=minutes), *pack)),
        CardRecord("A2", Outcome.DONE, (Reading("tight", choice="yes"),)),
        CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", number=rests), Reading("noted", choice="yes"))),
    )


def seed_of(identity: uuid.UUID) -> int:
    """Return where the chances of a model's faults, or of a flight, begin: the same for the same identity."""
    return identity.int % 2**31
