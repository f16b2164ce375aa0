"""Controls desk: what it shows, trim out of the radio, throws in, papers, the stand-in radio and controller."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from jinba.core.bench.controls import ControlsAnswer, control_setup_of, controls_answer, trim_offsets
from jinba.core.bench.level import level_from_record
from jinba.core.bench.trim_transfer import Transferred, Way, transfer
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.stabiliser import LevelCorrection
from jinba.core.controls.trim import pulses_for, surface_rest_rad
from jinba.core.correct.compose import as_flown
from jinba.core.diagnose.reversal import Reversal, reversal
from jinba.core.diagnose.sorties import LoggedSortie, trims_at_landing
from jinba.core.diagnose.wandering import Squawk, wandering_trim
from jinba.core.errors import JinbaError
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.observe.situation import design_of
from jinba.devices.radio import (
    FlightController,
    Midpoint,
    NeutralPulse,
    SimulatedController,
    SimulatedTransmitter,
    Transmitter,
)
from jinba.formats.codec import from_json
from jinba.formats.control_papers import setup_sheet, setup_table
from jinba.formats.paper import Sheet
from jinba.formats.throw_table import read_throws, write_throws
from jinba.persistence.repositories import Sorties
from jinba.services.bench import history, save_setup
from jinba.services.history import History

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
    squawks: tuple[Squawk, ...]
    level: LevelCorrection | None
    proofs: tuple[CardProof, ...]


def controls_view(session: Session, model_id: uuid.UUID) -> ControlsView:
    """Return the controls desk of a model as it stands."""
    known = history(session, model_id)
    records = _records_here(session, known)
    setup, flown = present(known)
    levels = [c for r in records if (c := level_from_record(design_of(setup), r)) is not None]
    return ControlsView(
        answer=controls_answer(setup, records=records),
        flown=flown,
        sortie_trims=_sortie_trims(known),
        squawks=squawks_of(session, known),
        level=levels[-1] if levels else None,
        proofs=tuple(CardProof(c, _state(known, c)) for c in _PROOF_CARDS),
    )


def present(known: History) -> tuple[Configuration, bool]:
    """Return the configuration with the trims it landed with, if it has flown; and whether it has."""
    if not known.landed or known.landed[-1].configuration_id != known.configuration_row.id:
        return known.setup, False
    flown = known.flown_trims()
    return (known.setup, False) if flown is None else (as_flown(known.setup, flown), True)


def _records_here(session: Session, known: History) -> tuple[CardRecord, ...]:
    ids = {s.id for s in known.sorties if s.configuration_id == known.configuration_row.id}
    rows = Sorties(session).records_of_model(known.model.id)
    return tuple(from_json(CardRecord, r.record) for r in rows if r.sortie_id in ids)


def _state(known: History, card_id: str) -> str:
    outcome = known.results.get(card_id)
    if outcome is None:
        return "open"
    if outcome.value != "passed":
        return "failed" if outcome.value == "failed" else "open"
    return "stale" if card_id in known.stale else "passed"


def _sortie_trims(known: History) -> tuple[SortieTrim, ...]:
    numbers = {c.id: c.number for c in known.model.configurations}
    rows = []
    for row, logged in zip(known.landed, known.logged, strict=True):
        rests = trims_at_landing(logged)
        for axis in Axis:
            control = logged.configuration.control(axis)
            held = rests.of(axis) - control.mechanical_rad - control.sub_trim_rad
            clicks = round(held / control.rad_per_click)
            words = "centred"
            if clicks:
                words = f"{abs(clicks)} {words_for(response_of_deflection(axis, float(clicks))).model}"
            rows.append(SortieTrim(row.number, numbers[row.configuration_id], axis, clicks, words))
    return tuple(rows)


def squawks_of(session: Session, known: History) -> tuple[Squawk, ...]:
    """Return what the last flight says must be looked at: trim that wandered, a surface that rests elsewhere."""
    if not known.landed:
        return ()
    last = known.landed[-1]
    rows = [r for r in Sorties(session).records_of_model(known.model.id) if r.sortie_id in (last.id, None)]
    after = [
        r for r in rows if r.sortie_id == last.id or (last.landed_at is not None and r.recorded_at > last.landed_at)
    ]
    records = tuple(from_json(CardRecord, r.record) for r in after)
    return wandering_trim(known.logged[-1].configuration, records)


def move_trim(
    session: Session, model_id: uuid.UUID, *, base_revision: int, way: Way, axes: tuple[Axis, ...]
) -> tuple[History, Transferred]:
    """Move trim out of the radio and save it; a flown configuration becomes the next one, its proofs open again."""
    known = history(session, model_id)
    setup, _ = present(known)
    moved = transfer(setup, way, axes=axes)
    words = f"trim moved to {way.value.replace('_', '-')}"
    return save_setup(session, model_id, base_revision=base_revision, setup=moved.configuration, words=words), moved


def reversal_of(known: History, *, sorties: tuple[int, int, int], card_id: str) -> tuple[Reversal, ...]:
    """Return the effect of a change from three sorties, old, new and old setting, by their numbers."""
    by_number: dict[int, LoggedSortie] = {
        row.number: logged for row, logged in zip(known.landed, known.logged, strict=True)
    }
    missing = [n for n in sorties if n not in by_number]
    if missing:
        raise JinbaError(f"Sortie {missing[0]} has not landed: log it first.", name="sorties")
    first, changed, again = (by_number[n] for n in sorties)
    return reversal(first, changed, again, card_id=card_id)


def sheet_of(known: History) -> Sheet:
    """Return the set-up sheet of a model."""
    setup, _ = present(known)
    return setup_sheet(known.model.name, setup, controls_answer(setup))


def table_of(known: History) -> str:
    """Return the set-up sheet as a table."""
    setup, _ = present(known)
    return setup_table(known.model.name, setup, controls_answer(setup))


def throws_out(known: History) -> str:
    """Return the throws as a table."""
    return write_throws(known.setup)


def throws_in(session: Session, model_id: uuid.UUID, data: bytes) -> History:
    """Set the rates from a table of throws. Raises: ThrowTableError; nothing is changed then."""
    known = history(session, model_id)
    return save_setup(
        session,
        model_id,
        base_revision=known.configuration_row.current_revision,
        setup=replace(known.setup, controls=read_throws(known.setup, data)),
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
    controls = control_setup_of(setup)
    offsets = trim_offsets(setup)
    shifts = {f.channel: pulses_for(f, surface_rest_rad(f, offsets)) for f in controls.fittings}
    return SimulatedTransmitter(controls.fittings, shifts)


def controller_of(known: History) -> FlightController | None:
    """Return the flight controller of a model, a stand-in; None when none is fitted."""
    controls = control_setup_of(known.setup)
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
        table = table_of(known)
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
