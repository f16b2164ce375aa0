"""Packs: what is written on them, which one is to fly, what flights took from them and what that says."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.cards.log import Entry, counting
from jinba.core.cards.model import CardRecord
from jinba.core.errors import OutOfRangeError
from jinba.core.plan.endurance import Fitted, Powered
from jinba.core.power.cells import CELLS, Chemistry, per_cell_v
from jinba.core.power.draw import contradicts, learnt, prior_draw
from jinba.core.power.packs import Flight, Pack
from jinba.persistence.orm import PackFlightRow, PackRow, SortieRow
from jinba.persistence.repositories import Log, Packs
from jinba.services.log import entries_of

AFTER_FLIGHT = "A1"
NO_MODEL = "none"


@dataclass(frozen=True, slots=True)
class Taken:
    """What one flight took from a pack, as a line of its history: of a sortie of a model here, or typed, without a model.

    ``minutes`` None: not logged. Volts of a cell at rest [V], charge [C]. ``disagrees``: volts and charge contradict each other, it is
    not used; ``odd_volts``: as logged [V], where no pack like this shows them. ``motor_minutes`` with the motor running, ``full_a``, ``cruise_a``: current
    in the air at full throttle and in level cruise [A]. ``rehearsal``: a stand-in flew it; it tells nothing of the pack to
    any model but the rehearsal itself.
    """

    id: uuid.UUID
    model_id: uuid.UUID | None
    model: str
    sortie: int | None
    flown_on: date | None
    minutes: float | None
    before_v: float | None
    after_v: float | None
    put_back_c: float | None
    disagrees: bool = False
    odd_volts: float | None = None
    rehearsal: bool = False
    motor_minutes: float | None = None
    full_a: float | None = None
    cruise_a: float | None = None


@dataclass(frozen=True, slots=True)
class PackView:
    """A pack on its shelf; ``pack`` None where only its name is known. ``holds_c``: what it holds by its flights, with one sigma [C],
    ``told_by``: how many of them tell it; ``full_v``: of the whole pack, charged and at rest [V]; ``most_a``: what it may give [A]."""

    id: uuid.UUID
    name: str
    pack: Pack | None
    put_away: bool
    flights: tuple[Taken, ...]
    holds_c: float | None = None
    holds_sigma_c: float | None = None
    told_by: int = 0
    full_v: float | None = None
    most_a: float | None = None


def pack_of(row: PackRow) -> Pack | None:
    """Return a pack from its row, None where only its name is known."""
    if not row.chemistry or row.cells is None or row.capacity_c is None:
        return None
    return Pack(
        str(row.id),
        row.name,
        Chemistry(row.chemistry),
        row.cells,
        row.capacity_c,
        row.rating_per_h,
        row.resistance_ohm,
        row.mass_kg,
    )


def shelf_of_packs(session: Session) -> tuple[PackView, ...]:
    """Return every pack with its history, by name; those that were put away last."""
    rows = Packs(session).all()
    taken = _taken(session, None, {r.id: r for r in rows})
    views = (_view(r, taken.get(r.id, ())) for r in rows)
    return tuple(sorted(views, key=lambda v: v.put_away))


def _view(row: PackRow, taken: Sequence[Taken]) -> PackView:
    pack = pack_of(row)
    away = row.put_away_at is not None
    if pack is None:
        return PackView(row.id, row.name, None, away, tuple(taken))
    flights = [f for t in taken if not t.rehearsal and (f := _flight(pack, t)) is not None]
    # Whichever model flew it, charge over share is what it holds.
    draw = learnt(prior_draw([pack], 1.0), [pack], flights, model=NO_MODEL)
    holds, sigma = draw.capacity_c(pack)
    full_v = pack.cells * CELLS[pack.chemistry].full_v
    return PackView(
        row.id,
        row.name,
        pack,
        away,
        tuple(taken),
        holds,
        holds * sigma,
        draw.flights,
        full_v=full_v,
        most_a=pack.most_a,
    )


def _flight(pack: Pack, taken: Taken) -> Flight | None:
    if not taken.minutes:
        return None
    model = "" if taken.model_id is None else str(taken.model_id)
    return Flight(
        pack.key,
        model,
        taken.minutes,
        taken.before_v,
        taken.after_v,
        taken.put_back_c,
        taken.motor_minutes,
        taken.full_a,
        taken.cruise_a,
    )


def powered_of(session: Session, model_id: uuid.UUID, *, landed_at: datetime | None) -> Powered:
    """Return what is known of a model's packs; ``landed_at``: what was named before the last landing has flown."""
    packs, model = Packs(session), str(model_id)
    row = packs.fitted(model_id)
    if row is None or (landed_at is not None and row.fitted_at < landed_at):
        return Powered(model)
    flown = {s.SortieRow.pack_id for s in packs.sorties(model_id, ())}
    rows = {i: packs.get(i) for i in {row.pack_id, *flown}}
    described = {i: p for i, r in rows.items() if (p := pack_of(r)) is not None}
    if row.pack_id not in described or rows[row.pack_id].put_away_at is not None:
        return Powered(model)
    taken = _taken(session, model_id, {i: rows[i] for i in described})
    lines = sorted((line for of_pack in taken.items() for line in _with_pack(described, *of_pack)), key=_when)
    return Powered(
        model,
        Fitted(described[row.pack_id], row.cell_v, row.fitted_at),
        tuple(described.values()),
        tuple(f for pack, t in lines if _counts(t, model_id) and (f := _flight(pack, t)) is not None),
        packs.full_throttle_a(model_id),
    )


def _counts(taken: Taken, model_id: uuid.UUID) -> bool:
    return not taken.rehearsal or taken.model_id == model_id


def _with_pack(
    described: Mapping[uuid.UUID, Pack], pack_id: uuid.UUID, lines: Iterable[Taken]
) -> Iterable[tuple[Pack, Taken]]:
    return ((described[pack_id], t) for t in lines)


def _when(line: tuple[Pack, Taken]) -> tuple[date, int]:
    return line[1].flown_on or date.min, line[1].sortie or 0


def _taken(
    session: Session, model_id: uuid.UUID | None, rows: Mapping[uuid.UUID, PackRow]
) -> dict[uuid.UUID, list[Taken]]:
    """Return what flights took from packs, by pack, in the order they were flown."""
    found: dict[uuid.UUID, list[Taken]] = {i: [] for i in rows}
    sorties = Packs(session).sorties(model_id, list(rows))
    said = _after_flights(session, {s.SortieRow.model_id for s in sorties})
    for line in sorties:
        sortie: SortieRow = line.SortieRow
        row = None if sortie.pack_id is None else rows.get(sortie.pack_id)
        if row is not None:
            found[row.id].append(_of_sortie(row, line, said.get((sortie.model_id, sortie.number))))
    for typed in Packs(session).typed(list(rows)):
        if typed.sortie_id is None:
            found[typed.pack_id].append(_of_typed(rows[typed.pack_id], typed))
    for lines in found.values():
        lines.sort(key=lambda t: t.flown_on or date.min)
    return found


def _after_flights(session: Session, model_ids: Iterable[uuid.UUID]) -> dict[tuple[uuid.UUID, int], CardRecord]:
    """Return what was logged of the pack after each sortie, by model and number of the sortie."""
    found: dict[tuple[uuid.UUID, int], CardRecord] = {}
    for model_id in model_ids:
        by_sortie: dict[int, list[Entry]] = {}
        for entry in entries_of(session, Log(session).of_card(model_id, AFTER_FLIGHT)):
            by_sortie.setdefault((entry.epoch + 1) // 2, []).append(entry)
        found |= {(model_id, number): counting(entries).record for number, entries in by_sortie.items()}
    return found


def _of_sortie(row: PackRow, line: Any, record: CardRecord | None) -> Taken:
    pack, sortie = pack_of(row), line.SortieRow
    volts = _number(record, "volts")
    after, odd = None, None
    if pack is not None and volts is not None:
        try:
            after = per_cell_v(pack.chemistry, pack.cells, volts)
        except OutOfRangeError:
            odd = volts
    taken = Taken(
        id=sortie.id,
        model_id=sortie.model_id,
        model=line.model_name,
        sortie=sortie.number,
        flown_on=None if sortie.landed_at is None else sortie.landed_at.date(),
        minutes=_number(record, "minutes"),
        before_v=sortie.cell_v,
        after_v=after,
        put_back_c=line.put_back_c,
        odd_volts=odd,
        rehearsal=line.rehearsal,
        motor_minutes=_number(record, "motor_minutes"),
        full_a=_number(record, "current_full"),
        cruise_a=_number(record, "current_cruise"),
    )
    return _judged(pack, taken)


def _of_typed(row: PackRow, t: PackFlightRow) -> Taken:
    taken = Taken(t.id, None, "", None, t.flown_on, t.minutes, t.before_v, t.after_v, t.put_back_c)
    return _judged(pack_of(row), taken)


def _judged(pack: Pack | None, taken: Taken) -> Taken:
    flight = None if pack is None else _flight(pack, taken)
    return taken if pack is None or flight is None else replace(taken, disagrees=contradicts(pack, flight))


def _number(record: CardRecord | None, key: str) -> float | None:
    reading = None if record is None else record.reading(key)
    return None if reading is None or not reading.number else reading.number
