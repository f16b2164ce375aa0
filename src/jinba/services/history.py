"""A model's history read back into core words: setups, logged sorties, beliefs, stale cards."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome
from jinba.core.cards.stale import EVERY_SORTIE, difference
from jinba.core.configuration import Configuration
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, trims_at_landing
from jinba.core.diagnose.update import Belief
from jinba.core.observe.situation import Trims
from jinba.formats.codec import from_json
from jinba.persistence.orm import ConfigurationRow, ModelRow, SortieRow, WorkOrderRow
from jinba.persistence.repositories import Models, Sorties


@dataclass(frozen=True, slots=True)
class History:
    """Everything known of a model at one moment, in core words, beside the rows it came from."""

    model: ModelRow
    configuration_row: ConfigurationRow
    setup: Configuration
    sorties: tuple[SortieRow, ...]
    logged: tuple[LoggedSortie, ...]
    results: dict[str, Outcome]
    result_setups: dict[str, Configuration]
    stale: frozenset[str]
    fresh: frozenset[str]
    work_orders: tuple[WorkOrderRow, ...]

    @property
    def landed(self) -> tuple[SortieRow, ...]:
        """Sorties that have landed."""
        return tuple(s for s in self.sorties if s.status == "landed")

    @property
    def open_sortie(self) -> SortieRow | None:
        """The sortie that is planned or flying, if any."""
        return next((s for s in reversed(self.sorties) if s.status != "landed"), None)

    @property
    def open_work(self) -> WorkOrderRow | None:
        """The newest work order if some action of it is not proved yet."""
        if not self.work_orders:
            return None
        newest = self.work_orders[-1]
        return newest if any(str(i) not in newest.proofs for i in range(len(newest.actions))) else None

    def belief(self, upto: int | None = None) -> Belief | None:
        """Return the belief from the landed sorties (the first ``upto``), None before any."""
        logged = self.logged if upto is None else self.logged[:upto]
        return belief_after(logged, configuration=self.setup) if logged else None

    def flown_trims(self) -> Trims | None:
        """Return where the surfaces rested at the last landing, None before any sortie."""
        return trims_at_landing(self.logged[-1]) if self.logged else None


def read_history(models: Models, sorties: Sorties, model_id: uuid.UUID) -> History:
    """Return the history of a model. Raises: NotFoundError."""
    model = models.get(model_id)
    row = models.configuration(model_id)
    setup = from_json(Configuration, models.revision(row).setup)
    all_sorties = tuple(sorties.of_model(model_id))
    by_sortie: dict[uuid.UUID | None, list[CardRecord]] = {}
    results: dict[str, Outcome] = {}
    result_setups: dict[str, Configuration] = {}
    last_landing = max((s.landed_at for s in all_sorties if s.landed_at is not None), default=None)
    fresh: set[str] = set()
    setups = {s.id: from_json(Configuration, s.setup) for s in all_sorties}
    for r in sorties.records_of_model(model_id):
        record = from_json(CardRecord, r.record)
        by_sortie.setdefault(r.sortie_id, []).append(record)
        results[r.card_id] = record.outcome
        if r.sortie_id:
            result_setups[r.card_id] = setups[r.sortie_id]
        elif r.setup is not None:
            result_setups[r.card_id] = from_json(Configuration, r.setup)
        else:
            result_setups[r.card_id] = _setup_at(models, r.configuration_id, setup, row)
        if last_landing is None or r.recorded_at > last_landing:
            fresh.add(r.card_id)
    logged = tuple(
        LoggedSortie(setups[s.id], latest_of_each(by_sortie.get(s.id, []))) for s in all_sorties if s.status == "landed"
    )
    return History(
        model,
        row,
        setup,
        all_sorties,
        logged,
        results,
        result_setups,
        _stale(results, result_setups, setup),
        frozenset(fresh),
        tuple(sorties.work_orders(model_id)),
    )


def latest_of_each(records: list[CardRecord]) -> tuple[CardRecord, ...]:
    """Return the latest record of each card, in the order the cards were first flown. Earlier ones stay stored."""
    newest = {r.card_id: r for r in records}
    return tuple(newest.values())


def _setup_at(
    models: Models, configuration_id: uuid.UUID, present: Configuration, row: ConfigurationRow
) -> Configuration:
    if configuration_id == row.id:
        return present
    other = next(c for c in models.configurations(row.model_id) if c.id == configuration_id)
    return from_json(Configuration, models.revision(other).setup)


def _stale(results: dict[str, Outcome], setups: dict[str, Configuration], present: Configuration) -> frozenset[str]:
    cache: dict[Configuration, frozenset[str]] = {}
    found = set()
    for card_id, setup in setups.items():
        if setup not in cache:
            cache[setup] = difference(setup, present).stale
        if card_id in cache[setup] and card_id in results and card_id in CARDS and card_id not in EVERY_SORTIE:
            found.add(card_id)
    return frozenset(found)
