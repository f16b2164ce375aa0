"""Controls desk: what it shows, trim out of the radio, throws in, papers, the stand-in radio and controller."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from jinba.core.bench.controls import ControlsAnswer, controls_answer, trim_offsets
from jinba.core.bench.level import level_from_record
from jinba.core.bench.trim_transfer import Transferred, transfer
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.configuration import Configuration
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.stabiliser import LevelCorrection
from jinba.core.controls.transfer import Way
from jinba.core.controls.trim import pulses_for, surface_rest_rad
from jinba.core.diagnose.reversal import Reversal, reversal
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.errors import JinbaError
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.history.model import History
from jinba.core.observe.situation import design_of
from jinba.core.said import Said
from jinba.core.spoken import METRIC, Units
from jinba.devices.radio import (
    FlightController,
    Midpoint,
    NeutralPulse,
    SimulatedController,
    SimulatedTransmitter,
    Transmitter,
)
from jinba.formats.control_papers import setup_sheet, setup_table
from jinba.formats.paper import Sheet
from jinba.formats.throw_table import read_throws, write_throws
from jinba.persistence.repositories import Log, Sorties
from jinba.services.bench import check_setup, open_for_change, save_setup
from jinba.services.estimates import clicks_in_radio
from jinba.services.history import history
from jinba.services.log import entries_of, sortie_logs
from jinba.services.setups import setups_of

_PROOF_CARDS = ("B2", "B4", "B5", "B6", "B11", "G2")


@dataclass(frozen=True, slots=True)
class SortieTrim:
    """Trim of an axis at the landing of a sortie: which sortie and configuration it belongs to, clicks, in words."""

    sortie: int
    configuration: int
    axis: Axis
    clicks: int
    words: str


@dataclass(frozen=True, slots=True)
class CardProof:
    """A bench or ground card that proves what is set here: its id, and whether it is passed, stale or open."""

    card_id: str
    state: str


@dataclass(frozen=True, slots=True)
class ControlsView:
    """The controls desk of a model. ``flown``: the trims shown are those the last flight of this configuration landed with."""

    answer: ControlsAnswer
    flown: bool
    sortie_trims: tuple[SortieTrim, ...]
    squawks: tuple[Said, ...]
    level: LevelCorrection | None
    proofs: tuple[CardProof, ...]


@dataclass(frozen=True, slots=True)
class Desk:
    """What is read for the controls desk: the history, the records of this configuration's sorties, trims at landings."""

    known: History
    records: tuple[CardRecord, ...]
    sortie_trims: tuple[SortieTrim, ...]


def desk(session: Session, model_id: uuid.UUID) -> Desk:
    """Return what the controls desk is computed from."""
    known = history(session, model_id)
    return Desk(known, _records_here(session, known), _sortie_trims(session, known))


def controls_view(found: Desk) -> ControlsView:
    """Return the controls desk of a model as it stands. Needs no session: it takes a while."""
    known = found.known
    setup, flown = present(known)
    levels = [c for r in found.records if (c := level_from_record(design_of(setup), r)) is not None]
    answer = controls_answer(setup, records=found.records)
    if known.fail_safe_seen:
        answer = replace(answer, radio=tuple(s for s in answer.radio if s.code != "fail_safe_unproved"))
    if known.midpoints_seen:
        answer = replace(answer, stabiliser=tuple(s for s in answer.stabiliser if s.code != "not_stored"))
    return ControlsView(
        answer=answer,
        flown=flown,
        sortie_trims=found.sortie_trims,
        squawks=squawks_of(known),
        level=levels[-1] if levels else None,
        proofs=tuple(CardProof(c, _state(known, c)) for c in _PROOF_CARDS),
    )


def present(known: History) -> tuple[Configuration, bool]:
    """Return the configuration with the trims it landed with, if it has flown; and whether it has."""
    return known.state, known.last_flight is not None and not known.changed_since_landing


def _records_here(session: Session, known: History) -> tuple[CardRecord, ...]:
    ids = {s.id for s in known.sorties if s.configuration == known.configuration.number}
    log = Log(session)
    return tuple(e.record for i in sorted(ids, key=str) for e in entries_of(session, log.of_sortie(i)))


def _state(known: History, card_id: str) -> str:
    standing = known.standings.get(card_id)
    if standing is None:
        return "open"
    if standing.outcome is not Outcome.PASSED:
        return "failed" if standing.outcome is Outcome.FAILED else "open"
    return "stale" if standing.stale else "passed"


def _sortie_trims(session: Session, known: History) -> tuple[SortieTrim, ...]:
    sorties = Sorties(session)
    rests = sorties.trims(s.id for s in known.landed)
    hashes = {s.id: s.setup_hash for s in sorties.landed(known.model.id)}
    setups = setups_of(session, hashes.values())
    rows = []
    for sortie in known.landed:
        if sortie.id not in rests:
            continue
        held = clicks_in_radio(setups[hashes[sortie.id]], rests[sortie.id])
        for axis, clicks in held.items():
            words = "centred"
            if clicks:
                words = f"{abs(clicks)} {words_for(response_of_deflection(axis, float(clicks))).model}"
            rows.append(SortieTrim(sortie.number, sortie.configuration, axis, clicks, words))
    return tuple(rows)


def squawks_of(known: History) -> tuple[Said, ...]:
    """Return what the last flight says must be looked at: trim that wandered, a surface that rests elsewhere."""
    return () if known.last_flight is None else tuple(s for s in known.last_flight.squawks if s.stops)


def move_trim(
    session: Session, model_id: uuid.UUID, *, base_version: int, way: Way, axes: tuple[Axis, ...]
) -> tuple[History, Transferred]:
    """Move trim out of the radio and save it; a flown configuration becomes the next one, its proofs open again."""
    _, known = open_for_change(session, model_id, version=base_version)
    setup, _ = present(known)
    moved = transfer(setup, way, axes=axes)
    check_setup(moved.configuration)
    words = f"trim moved to {way.value.replace('_', '-')}"
    return save_setup(session, model_id, base_version=base_version, setup=moved.configuration, words=words), moved


def flown_sorties(session: Session, model_id: uuid.UUID) -> dict[int, LoggedSortie]:
    """Return the landed sorties of a model with what counts of their logs, by number."""
    return {s.number: s.logged for s in sortie_logs(session, model_id)}


def reversal_of(
    by_number: dict[int, LoggedSortie], *, sorties: tuple[int, int, int], card_id: str
) -> tuple[Reversal, ...]:
    """Return the effect of a change from three sorties, old, new and old setting, by their numbers."""
    missing = [n for n in sorties if n not in by_number]
    if missing:
        raise JinbaError(f"Sortie {missing[0]} has not landed: log it first.", name="sorties")
    first, changed, again = (by_number[n] for n in sorties)
    return reversal(first, changed, again, card_id=card_id)


def sheet_of(known: History, units: Units) -> Sheet:
    """Return the set-up sheet of a model."""
    setup, _ = present(known)
    return setup_sheet(known.model.on_paper, setup, controls_answer(setup), units=units)


def table_of(known: History, units: Units) -> str:
    """Return the set-up sheet as a table."""
    setup, _ = present(known)
    return setup_table(known.model.on_paper, setup, controls_answer(setup), units=units)


def throws_out(known: History) -> str:
    """Return the throws as a table."""
    return write_throws(known.setup)


def throws_in(session: Session, model_id: uuid.UUID, data: bytes, *, version: int | None) -> History:
    """Set the rates from a table of throws. Raises: ThrowTableError; nothing is changed then."""
    model, known = open_for_change(session, model_id, version=version)
    setup = replace(known.setup, controls=read_throws(known.setup, data))
    check_setup(setup)
    return save_setup(
        session,
        model_id,
        base_version=model.setup_version,
        setup=setup,
        words="throws read from a table",
    )


@dataclass(frozen=True, slots=True)
class DeviceReading:
    """What radio and controller say now, and what it means; ``simulated`` for stand-ins."""

    pulses: tuple[NeutralPulse, ...]
    midpoints: tuple[Midpoint, ...]
    level_offset_rad: float | None
    words: tuple[str, ...]
    sheet_written: bool
    simulated: bool = True


def transmitter_of(known: History) -> Transmitter:
    """Return the transmitter of a model: a stand-in that sends its sub-trims and the trims it landed with."""
    setup, _ = present(known)
    controls = setup.control_setup
    offsets = trim_offsets(setup)
    shifts = {f.channel: pulses_for(f, surface_rest_rad(f, offsets)) for f in controls.fittings}
    return SimulatedTransmitter(controls.fittings, shifts)


def controller_of(known: History) -> FlightController | None:
    """Return the flight controller of a model, a stand-in; None when none is fitted."""
    controls = known.setup.control_setup
    if controls.stabiliser is None:
        return None
    held = {f.role.value: f.learned_us for f in controls.fittings if f.learned_us is not None}
    return SimulatedController(controls.fittings, held, controls.stabiliser.level_rad)


def read_devices(known: History, *, write_sheet: bool) -> DeviceReading:
    """Return what the radio and the controller of a model hold; on request the set-up sheet is written to both."""
    radio, controller = transmitter_of(known), controller_of(known)
    pulses = radio.neutral_pulses()
    words = [
        f"Channel {p.channel} ({p.use}) rests at {p.pulse_us:.0f} µs"
        + (": a flight controller flies that as a command." if controller is not None else ".")
        for p in pulses
        if abs(p.pulse_us - NEUTRAL_US) > 1.0
    ]
    if write_sheet:
        table = table_of(known, METRIC)
        radio.write_sheet(table)
        if controller is not None:
            controller.write_sheet(table)
    return DeviceReading(
        pulses,
        () if controller is None else controller.midpoints(),
        None if controller is None else controller.level_offset_rad(),
        tuple(words) or ("Every channel rests at 1500 µs.",),
        write_sheet,
    )
