"""What is entered of packs: labels, the one that is to fly, flights, charge put back."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import UTC, date, datetime

from sqlalchemy.orm import Session

from jinba.core.errors import RefusedError, check_range
from jinba.core.power.cells import per_cell_v
from jinba.core.power.packs import Pack, check_flight
from jinba.persistence.orm import PackFittedRow, PackFlightRow, PackRow, SortieRow
from jinba.persistence.repositories import Models, Packs, Sorties
from jinba.services.history import history
from jinba.services.packs import PackView, pack_of, shelf_of_packs

_LONGEST_MINUTES = 600.0
_MOST_AMPS = 500.0


@dataclass(frozen=True, slots=True)
class TypedFlight:
    """A flight that is not logged here, as it was typed: volts at rest of a cell or of the pack [V], charge put back [C]."""

    minutes: float
    flown_on: date | None = None
    before_v: float | None = None
    after_v: float | None = None
    put_back_c: float | None = None


def keep_pack(session: Session, pack: Pack, *, put_away: bool = False) -> PackView:
    """Write what is on a pack, a new one under a new key; nothing of its history is touched.

    Raises: RefusedError for a name another pack has.
    """
    name = pack.name.strip()
    if not name:
        raise RefusedError("A pack goes by its name: write one on it, and here.", name="name")
    row = Packs(session).take(Models(session).owner_id(), uuid.UUID(pack.key), name)
    if row is None:
        raise RefusedError(
            f"A pack is already called {name}. Describe that one, or give this one another name and write it on.",
            name="name",
        )
    row.name, row.chemistry = name, pack.chemistry.value
    row.cells, row.capacity_c, row.mass_kg = pack.cells, pack.capacity_c, pack.mass_kg
    row.rating_per_h, row.resistance_ohm = pack.rating_per_h, pack.resistance_ohm
    row.put_away_at = (row.put_away_at or datetime.now(UTC)) if put_away else None
    session.flush()
    return view_of(session, row.id)


def view_of(session: Session, pack_id: uuid.UUID) -> PackView:
    """Return one pack with its history. Raises: NotFoundError."""
    Packs(session).get(pack_id)
    return next(v for v in shelf_of_packs(session) if v.id == pack_id)


def fit_pack(
    session: Session, model_id: uuid.UUID, pack_id: uuid.UUID, *, volts: float | None, full_throttle_a: float | None
) -> None:
    """Name the pack that is to fly a model next; ``volts`` at rest of it or of a cell [V], ``full_throttle_a`` as measured with it [A].

    A sortie that is open flies with it, and its minutes count from it.

    Raises: RefusedError for a pack of which only the name is known, or that was put away, or a model kept read-only;
    OutOfRangeError for volts no such pack shows.
    """
    model = Models(session).lock(model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is kept read-only: it can be looked at, not flown.")
    row = Packs(session).get(pack_id)
    pack = _described(row)
    if row.put_away_at is not None:
        raise RefusedError(f"{row.name} was put away. Take it back to fly it.")
    if full_throttle_a is not None:
        check_range("current at full throttle", full_throttle_a, unit="A", low=0.2, high=_MOST_AMPS)
    cell_v = None if volts is None else per_cell_v(pack.chemistry, pack.cells, volts)
    session.add(PackFittedRow(model_id=model_id, pack_id=pack_id, cell_v=cell_v, full_throttle_a=full_throttle_a))
    session.flush()
    known = history(session, model_id)
    if known.open_sortie is not None:
        sortie = Sorties(session).get(known.open_sortie.id)
        sortie.pack_id, sortie.cell_v, sortie.safe_minutes = pack_id, cell_v, known.endurance.safe_minutes
        session.flush()


def _described(row: PackRow) -> Pack:
    pack = pack_of(row)
    if pack is None:
        raise RefusedError(
            f"Of {row.name} only the name is known. Enter what is written on it first.", pack=str(row.id)
        )
    return pack


def keep_flight(session: Session, pack_id: uuid.UUID, flight_id: uuid.UUID, flight: TypedFlight) -> PackView:
    """Write a flight of a pack that is not logged here, a new one under a new id.

    Raises: RefusedError, OutOfRangeError with the likely slip.
    """
    packs = Packs(session)
    row = packs.lock(pack_id)
    pack = _described(row)
    check_range("minutes flown", flight.minutes, unit="min", low=0.2, high=_LONGEST_MINUTES)
    volts = (flight.before_v, flight.after_v)
    before, after = (None if v is None else per_cell_v(pack.chemistry, pack.cells, v) for v in volts)
    check_flight(pack, before_v=before, after_v=after, put_back_c=flight.put_back_c)
    if after is None or flight.put_back_c is None:
        raise RefusedError(
            "A flight that is not logged here tells what the pack holds, by two readings together: volts at rest after it, and the "
            "charge put back."
        )
    kept = packs.flight(flight_id)
    if kept is None:
        kept = PackFlightRow(id=flight_id, owner_id=row.owner_id, pack_id=pack_id)
        session.add(kept)
    elif kept.pack_id != pack_id or kept.sortie_id is not None:
        raise RefusedError("This line belongs to another pack, or to a sortie. Load the page again.")
    kept.flown_on, kept.minutes, kept.before_v, kept.after_v = flight.flown_on, flight.minutes, before, after
    kept.put_back_c = flight.put_back_c
    session.flush()
    return view_of(session, pack_id)


def remove_flight(session: Session, pack_id: uuid.UUID, flight_id: uuid.UUID) -> PackView:
    """Take a typed flight out of a pack's history; twice is once. What stands in the log of a sortie is corrected there."""
    packs = Packs(session)
    packs.lock(pack_id)
    kept = packs.flight(flight_id)
    if kept is not None and kept.pack_id == pack_id and kept.sortie_id is None:
        session.delete(kept)
        session.flush()
    return view_of(session, pack_id)


def put_back(session: Session, sortie_id: uuid.UUID, charge_c: float | None) -> PackView:
    """Write the charge that was put back after a sortie [C], None takes it out. Raises: RefusedError, OutOfRangeError."""
    sorties, packs = Sorties(session), Packs(session)
    Models(session).lock(sorties.model_of(sortie_id))
    sortie = sorties.get(sortie_id)
    if sortie.pack_id is None:
        raise RefusedError(f"Nobody said which pack flew sortie {sortie.number}.")
    row = packs.lock(sortie.pack_id)
    check_flight(_described(row), before_v=None, after_v=None, put_back_c=charge_c)
    kept = packs.put_back(sortie_id)
    if kept is None:
        kept = PackFlightRow(id=uuid.uuid4(), owner_id=row.owner_id, pack_id=row.id, sortie_id=sortie_id)
        session.add(kept)
    kept.put_back_c = charge_c
    session.flush()
    return view_of(session, row.id)


def flown_with(session: Session, sortie: SortieRow, pack_id: uuid.UUID | None) -> None:
    """Note which pack flew a sortie as its log says; volts that were read of another one are not its own."""
    if pack_id is None or pack_id == sortie.pack_id:
        return
    sortie.pack_id, sortie.cell_v = pack_id, None
    kept = Packs(session).put_back(sortie.id)
    if kept is not None:
        kept.pack_id = pack_id
    session.flush()
