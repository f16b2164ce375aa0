"""A model's history read from its rows into core words, in a fixed number of queries whatever was flown."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from jinba.core.cards.fitted import cards_of
from jinba.core.cards.incident import INCIDENT, Incident, incident_of
from jinba.core.cards.log import newest, said
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, ActionKind, Expected
from jinba.core.correct.compose import as_flown
from jinba.core.flight.simulation.spread import Spread, Twin, Wrong
from jinba.core.history.model import (
    ConfigurationLine,
    History,
    LastFlight,
    Model,
    SortieLine,
    SortieStatus,
    Standing,
    WorkOrder,
)
from jinba.core.history.standing import Now, standing
from jinba.core.observe.situation import Trims, resting_trims
from jinba.core.plan.sign_off import SignOff
from jinba.core.plan.weather import Wind, WindRead
from jinba.formats.codec import from_json
from jinba.persistence.orm import ConfigurationRow, ModelRow, WorkOrderActionRow, WorkOrderRow
from jinba.persistence.repositories import Estimates, Log, Models, Orders, Sites, Sorties
from jinba.services.estimates import present_belief, rails, stored_squawks
from jinba.services.log import entries_of
from jinba.services.notes import as_noted, notes_of
from jinba.services.packs import powered_of
from jinba.services.remembered import Remembered
from jinba.services.setups import setups_of
from jinba.services.sites import site_of

_READ = Remembered[History]()


def history(session: Session, model_id: uuid.UUID) -> History:
    """Return everything known of a model; in a session that only reads, as it was read before where nothing was written since.

    Raises: NotFoundError.
    """
    return _READ.of_moment(session, model_id, lambda: _history(session, model_id))


def _history(session: Session, model_id: uuid.UUID) -> History:
    models, sorties = Models(session), Sorties(session)
    model = models.get(model_id)
    configurations = models.configurations(model_id)
    current = models.revision(configurations[-1].current_revision_id)
    lines = sorties.lines(model_id)
    landed = [s for s in lines if s.status == "landed"]
    rows = Log(session).newest_epochs(model_id)
    hashes = {current.setup_hash, *(r.RecordRow.setup_hash for r in rows), *(s.setup_hash for s in landed[-1:])}
    setups = setups_of(session, hashes)
    setup = setups[current.setup_hash]
    facts = tuple(_sortie(s) for s in lines)
    last = _last_flight(session, landed[-1], facts, setups) if landed else None
    flown = any(s.configuration == configurations[-1].number for s in lines)
    return History(
        model=Model(model.id, model.name, model.story, model.read_only, model.rehearsal, _stand_in(model)),
        configurations=tuple(_configuration(c) for c in configurations),
        version=model.setup_version,
        log_order=model.log_order,
        can_undo=current.parent_id is not None and not flown,
        can_redo=not flown and models.next_of(current.id) is not None,
        setup=setup,
        sorties=facts,
        standings=_standings(session, rows, lines, setups, setup, last, configurations[-1].number),
        last_flight=last,
        belief=present_belief(session, model, landed[-1].id if landed else None, current.setup_hash),
        order=order_of(session, Orders(session).newest(model_id), facts, configurations),
        incidents=_incidents(session, model_id),
        wind=_wind(sorties, model_id),
        sign_offs=_sign_offs(session, model_id, facts),
        powered=powered_of(session, model_id, landed_at=landed[-1].landed_at if landed else None),
        site_id=model.site_id,
        site=None if model.site_id is None else site_of(Sites(session).get(model.site_id)),
        notes=tuple(as_noted(n) for n in notes_of(session, model_id)),
    )


def _sign_offs(session: Session, model_id: uuid.UUID, sorties: Sequence[SortieLine]) -> tuple[SignOff, ...]:
    numbers = {s.id: s.number for s in sorties}
    rows = (r for r in Orders(session).sign_offs(model_id) if r.taken_back_at is None and r.sortie_id is not None)
    return tuple(
        SignOff(r.id, numbers[r.sortie_id], r.signed_by, r.remark, tuple(r.missing), r.signed_at)
        for r in rows
        if r.sortie_id is not None
    )


def _wind(sorties: Sorties, model_id: uuid.UUID) -> WindRead | None:
    row = sorties.wind_read(model_id)
    if row is None:
        return None
    return WindRead(Wind(row.wind_mps, row.gust_mps, row.from_rad, row.strip_heading_rad), row.read_at)


def _incidents(session: Session, model_id: uuid.UUID) -> tuple[Incident, ...]:
    entries = entries_of(session, Log(session).of_card(model_id, INCIDENT))
    replaced = {e.id: e.replaces for e in entries}
    found = (
        incident_of(e.record, epoch=e.epoch, order=e.order, record_id=_first_told(e.id, replaced))
        for e in said(entries)
    )
    return tuple(sorted(found, key=lambda i: (i.epoch, i.order)))


def _first_told(entry_id: str, replaced: Mapping[str, str | None]) -> str:
    while (before := replaced.get(entry_id)) is not None:
        entry_id = before
    return entry_id


def _stand_in(model: ModelRow) -> Twin | None:
    if model.stand_in is None:
        return None
    return Twin(from_json(Spread, model.stand_in["spread"]), from_json(Wrong, model.stand_in["wrong"]))


def _configuration(row: ConfigurationRow) -> ConfigurationLine:
    return ConfigurationLine(row.id, row.number, tuple(row.change_words), tuple(row.opened_cards))


def _sortie(row: Any) -> SortieLine:
    return SortieLine(
        id=row.id,
        number=row.number,
        status=SortieStatus(row.status),
        alone=row.alone,
        simulated=row.simulated,
        card_ids=tuple(row.card_ids or ()),
        configuration=row.configuration,
        landed_at=row.landed_at,
    )


def _last_flight(
    session: Session, row: Any, facts: Sequence[SortieLine], setups: Mapping[str, Configuration]
) -> LastFlight:
    estimates = Estimates(session)
    setup = setups[row.setup_hash]
    stored = estimates.of_sorties((row.id,)).get(row.id)
    trims = Sorties(session).trims((row.id,)).get(row.id, resting_trims(setup))
    behaviours = [] if stored is None else estimates.behaviours((stored.id,)).get((stored.id, "landed"), [])
    return LastFlight(
        sortie=next(s for s in facts if s.id == row.id),
        setup=setup,
        landed=trims,
        after=rails(behaviours),
        squawks=() if stored is None else stored_squawks(session, stored.id),
        data_count=0 if stored is None else stored.data_count,
        together=None if stored is None else stored.together,
    )


def _standings(
    session: Session,
    rows: Sequence[Any],
    lines: Sequence[Any],
    setups: Mapping[str, Configuration],
    setup: Configuration,
    last: LastFlight | None,
    configuration: int,
) -> dict[str, Standing]:
    counted = newest(entries_of(session, rows))
    by_id = {str(r.RecordRow.id): r.RecordRow for r in rows}
    sorties = {s.id: s for s in lines}
    trims = Sorties(session).trims({r.sortie_id for r in by_id.values() if r.sortie_id is not None})
    changed = last is not None and last.sortie.configuration != configuration
    state = setup if last is None or changed else as_flown(setup, last.landed)
    now = Now(
        setup=setup,
        state=state,
        landed=None if last is None else last.state,
        landed_epoch=0 if last is None else 2 * last.sortie.number,
        changed=changed,
    )
    states: dict[uuid.UUID, Configuration] = {}
    cards = cards_of(setup)
    found = {}
    for card_id, c in counted.items():
        row = by_id[c.entry.id]
        basis = setups[row.setup_hash]
        if row.sortie_id is not None:
            basis = states.setdefault(row.sortie_id, _basis(sorties[row.sortie_id], basis, trims, now))
        found[card_id] = replace(standing(card_id, c, basis, now), card=cards.get(card_id))
    return found


def _basis(sortie: Any, flown: Configuration, trims: Mapping[uuid.UUID, Trims], now: Now) -> Configuration:
    if sortie.status == "landed":
        return as_flown(flown, trims[sortie.id]) if sortie.id in trims else flown
    return now.state if flown == now.setup else flown


def action_of(row: WorkOrderActionRow) -> Action:
    """Return an action from its row."""
    expected = None if row.expected is None else from_json(Expected, row.expected)
    kind = ActionKind(row.kind)
    return Action(kind, row.amount, row.unit, row.words, row.why, row.proof, row.surface_words, row.thumb, expected)


def order_of(
    session: Session,
    row: WorkOrderRow | None,
    sorties: Sequence[SortieLine],
    configurations: Sequence[ConfigurationRow] | Sequence[ConfigurationLine],
) -> WorkOrder | None:
    """Return a work order from its row, None without one."""
    if row is None:
        return None
    orders = Orders(session)
    actions = orders.actions(row.id)
    proofs = {p.position: None if p.taken_back else p.reading for p in orders.proofs(row.id)}
    return WorkOrder(
        id=row.id,
        after_sortie=next(s.number for s in sorties if s.id == row.after_sortie_id),
        to_configuration=next(c.number for c in configurations if c.id == row.to_configuration_id),
        actions=tuple(action_of(a) for a in actions),
        proofs=tuple(proofs.get(a.position) for a in actions),
    )
