"""Fly: a sortie with its log, which entry counts, landing and what takes it back."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from jinba.core.cards.log import Counted
from jinba.core.configuration import Configuration
from jinba.core.diagnose.sorties import expected_clicks, radio_stands
from jinba.core.errors import RefusedError
from jinba.core.history.model import History, SortieStatus
from jinba.core.observe.situation import Trims, resting_trims
from jinba.core.plan.minutes import guessed_minutes
from jinba.core.plan.weather import Wind
from jinba.persistence.orm import ModelRow, RecordChoiceRow, SortieRow
from jinba.persistence.repositories import Log, Models, Packs, Sorties
from jinba.services.estimates import log_changed, setup_changed
from jinba.services.history import history
from jinba.services.log import LoggedEntry, logged_entries
from jinba.services.notes import NoteLine, notes_of_sortie
from jinba.services.plan import next_programme, predicted_of, wind_now
from jinba.services.setups import setup_of


@dataclass(frozen=True, slots=True)
class Sortie:
    """A sortie with its cards and its log. ``seen``: the newest place in the model's log, for what is written next.

    ``radio``: what stood in the radio when it began, for each card that trims an axis. ``against``: by its code what would have stopped it,
    with the reason for which it is flown all the same. ``proved``: its trims that are only proved. ``safe_minutes``: that its ``pack``
    gives, by name [min]. ``notes``: what was noticed on it.
    """

    id: uuid.UUID
    model_id: uuid.UUID
    model_name: str
    number: int
    status: str
    alone: bool
    simulated: bool
    card_ids: tuple[str, ...]
    setup: Configuration
    wind: Wind | None
    entries: tuple[LoggedEntry, ...]
    counted: tuple[Counted, ...]
    started_at: datetime
    seen: int
    radio: dict[str, str]
    against: tuple[tuple[str, str, str], ...]
    proved: frozenset[str] = frozenset()
    safe_minutes: float = 0.0
    pack: str = ""
    notes: tuple[NoteLine, ...] = ()


def get_sortie(session: Session, sortie_id: uuid.UUID) -> Sortie:
    """Return a sortie with its log."""
    sorties = Sorties(session)
    row = sorties.get(sortie_id)
    entries, counted = logged_entries(session, sortie_id)
    weather = sorties.weather(sortie_id)
    wind = None
    if weather is not None:
        wind = Wind(weather.wind_mps, weather.gust_mps, weather.from_rad, weather.strip_heading_rad)
    setup = setup_of(session, row.setup_hash)
    release = sorties.trims((sortie_id,), "release").get(sortie_id)
    begun = [e.flown_at or e.recorded_at for e in entries]
    model = Models(session).get(row.model_id)
    return Sortie(
        id=row.id,
        model_id=row.model_id,
        model_name=model.name,
        number=row.number,
        status=row.status,
        alone=row.alone,
        simulated=row.simulated,
        card_ids=sorties.cards(sortie_id),
        setup=setup,
        wind=wind,
        entries=tuple(entries),
        counted=counted,
        started_at=min(begun, default=row.created_at),
        seen=model.log_order,
        radio={} if release is None else _before_cards(setup, release, _rate_predicted(session, sortie_id)),
        against=tuple((o.code, o.words, o.reason) for o in sorties.overrides(sortie_id)),
        proved=sorties.proved(sortie_id),
        safe_minutes=guessed_minutes(setup) if row.safe_minutes is None else row.safe_minutes,
        pack="" if row.pack_id is None else Packs(session).get(row.pack_id).name,
        notes=notes_of_sortie(session, sortie_id),
    )


def next_sortie(known: History) -> Sortie:
    """Return the sortie that would begin now, as it is proposed: what a device keeps, so that it can begin one by itself."""
    programme, _ = next_programme(known)
    rate = next((p.value for p in predicted_of(known) if p.key == "pitch_trim"), None)
    return Sortie(
        id=uuid.UUID(int=0),
        model_id=known.model.id,
        model_name=known.model.name,
        number=programme.sortie_number,
        status=SortieStatus.PLANNED.value,
        alone=False,
        simulated=False,
        card_ids=programme.flight,
        setup=known.setup,
        wind=wind_now(known),
        entries=(),
        counted=(),
        started_at=datetime.now(UTC),
        seen=known.log_order,
        radio=_before_cards(known.setup, resting_trims(known.state), rate),
        against=(),
        proved=programme.proved,
        safe_minutes=programme.safe_minutes,
        pack=known.endurance.pack,
    )


def _rate_predicted(session: Session, sortie_id: uuid.UUID) -> float | None:
    predicted = Sorties(session).predictions((sortie_id,)).get(sortie_id, [])
    return next((p.value for p in predicted if p.key == "pitch_trim"), None)


def _before_cards(setup: Configuration, release: Trims, rate: float | None) -> dict[str, str]:
    """Return what stands in the radio before each card that trims, and how many clicks the pitch is predicted to ask for."""
    found = radio_stands(setup, release)
    words = "" if rate is None else expected_clicks(setup, release, rate)
    if words:
        found["F2"] = f"{found.get('F2', '')} {words}".strip()
    return found


def choose(session: Session, record_id: uuid.UUID, *, by: str) -> uuid.UUID:
    """Let an entry count where two devices disagree; what the other said stays in the log. Returns the model's id."""
    models = Models(session)
    model = models.lock(Log(session).get(record_id).model_id)
    row = Log(session).get(record_id)
    order = models.draw_order()
    session.add(RecordChoiceRow(record_id=record_id, order=order, chosen_by=by))
    model.log_order = order
    session.flush()
    if row.sortie_id is not None:
        sortie = Sorties(session).get(row.sortie_id)
        if sortie.status == "landed":
            log_changed(session, model, since=sortie.number)
    return model.id


def land(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """End a sortie and compute what it taught. Landing twice is landing once."""
    sorties = Sorties(session)
    model = Models(session).lock(sorties.model_of(sortie_id))
    return land_locked(session, model, sorties.get(sortie_id))


def reopen(session: Session, sortie_id: uuid.UUID) -> SortieRow:
    """Open a sortie again that was said to have landed and had not; what was logged stays. Twice is once.

    Raises: RefusedError once something was built on the landing: a later sortie, a change of the setup, a work order, a card done on the
    ground since, a signing off.
    """
    sorties, models = Sorties(session), Models(session)
    model = models.lock(sorties.model_of(sortie_id))
    sortie = sorties.get(sortie_id)
    if sortie.status in ("planned", "flying"):
        return sortie
    known = history(session, model.id)
    last = known.last_flight
    built = (
        sortie.status == "called_off"
        or sortie.simulated
        or last is None
        or last.sortie.id != sortie_id
        or known.open_sortie is not None
        or known.changed_since_landing
        or known.decided is not None
        or known.signed_off is not None
        or any(s.counted.entry.epoch >= 2 * sortie.number for s in known.standings.values())
    )
    if built:
        raise RefusedError(
            f"Sortie {sortie.number} stays landed: something was done since that rests on it. Correct its entries in the debrief."
        )
    sortie.status, sortie.landed_at, sortie.landed_order = "flying", None, None
    model.log_version += 1
    model.log_order = models.draw_order()
    session.flush()
    setup_changed(session, model)
    return sortie


def land_locked(session: Session, model: ModelRow, sortie: SortieRow) -> SortieRow:
    """End a sortie of a locked model and compute what it taught."""
    if sortie.status == "called_off":
        raise RefusedError(f"Sortie {sortie.number} was called off: it cannot land.")
    if sortie.status != "landed":
        order = Models(session).draw_order()
        sortie.status, sortie.landed_at, sortie.landed_order = "landed", datetime.now(UTC), order
        model.log_order = order
        session.flush()
        log_changed(session, model, since=sortie.number)
    return sortie
