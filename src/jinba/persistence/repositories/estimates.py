"""Estimates: written once when their inputs change, read by everyone."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from typing import Any

from sqlalchemy import Row, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from jinba.persistence.orm import (
    BehaviourRow,
    CauseRow,
    EstimateBiasRow,
    EstimateRow,
    EvidenceRow,
    ScoreRow,
    SortieRow,
    SquawkRow,
)


class Estimates:
    """Estimates of sorties and of present setups."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def of_sorties(self, sortie_ids: Iterable[uuid.UUID]) -> dict[uuid.UUID, EstimateRow]:
        """Return the newest estimate of each sortie in the setup it was flown in."""
        query = (
            select(EstimateRow)
            .join(SortieRow, (SortieRow.id == EstimateRow.sortie_id) & (SortieRow.setup_hash == EstimateRow.setup_hash))
            .where(EstimateRow.sortie_id.in_(list(sortie_ids)))
            .ext(distinct_on(EstimateRow.sortie_id))
            .order_by(EstimateRow.sortie_id, EstimateRow.order.desc())
        )
        return {row.sortie_id: row for row in self.session.scalars(query)}

    def every(self, sortie_id: uuid.UUID) -> Sequence[EstimateRow]:
        """Return every estimate of a sortie in the setup it was flown in, oldest first: none is ever overwritten."""
        query = (
            select(EstimateRow)
            .join(SortieRow, (SortieRow.id == EstimateRow.sortie_id) & (SortieRow.setup_hash == EstimateRow.setup_hash))
            .where(EstimateRow.sortie_id == sortie_id)
        )
        return self.session.scalars(query.order_by(EstimateRow.order)).all()

    def of_log(self, sortie_id: uuid.UUID, *, method: str, log_version: int, most: int = 8) -> Sequence[EstimateRow]:
        """Return the newest estimates after a sortie as the log stands, of whatever setup."""
        query = select(EstimateRow).where(
            EstimateRow.sortie_id == sortie_id,
            EstimateRow.method == method,
            EstimateRow.log_version == log_version,
            EstimateRow.mean.is_not(None),
        )
        return self.session.scalars(query.order_by(EstimateRow.order.desc()).limit(most)).all()

    def present(self, sortie_id: uuid.UUID, setup_hash: str, *, method: str, log_version: int) -> EstimateRow | None:
        """Return the estimate of a setup after a sortie as the log stands, or None when it was not computed."""
        query = select(EstimateRow).where(
            EstimateRow.sortie_id == sortie_id,
            EstimateRow.setup_hash == setup_hash,
            EstimateRow.method == method,
            EstimateRow.log_version == log_version,
            EstimateRow.mean.is_not(None),
        )
        return self.session.scalars(query.order_by(EstimateRow.order.desc()).limit(1)).first()

    def biases(self, estimate_id: uuid.UUID) -> dict[str, float]:
        """Return the persistent errors of the measures of an estimate."""
        query = select(EstimateBiasRow.measure, EstimateBiasRow.value).where(EstimateBiasRow.estimate_id == estimate_id)
        return {row.measure: row.value for row in self.session.execute(query)}

    def behaviours(self, estimate_ids: Iterable[uuid.UUID]) -> dict[tuple[uuid.UUID, str], list[Row[Any]]]:
        """Return the behaviours of estimates by (estimate, moment), in the order of the rails; columns, for there are many."""
        query = select(*BehaviourRow.__table__.columns).where(BehaviourRow.estimate_id.in_(list(estimate_ids)))
        found: dict[tuple[uuid.UUID, str], list[Row[Any]]] = {}
        for row in self.session.execute(query.order_by(BehaviourRow.position)):
            found.setdefault((row.estimate_id, row.moment), []).append(row)
        return found

    def scores(self, estimate_ids: Iterable[uuid.UUID]) -> dict[uuid.UUID, dict[str, float]]:
        """Return the scores of estimates by behaviour: distances in sigmas."""
        query = select(ScoreRow.estimate_id, ScoreRow.key, ScoreRow.sigmas)
        found: dict[uuid.UUID, dict[str, float]] = {}
        for estimate_id, key, sigmas in self.session.execute(query.where(ScoreRow.estimate_id.in_(list(estimate_ids)))):
            found.setdefault(estimate_id, {})[key] = sigmas
        return found

    def causes(self, estimate_id: uuid.UUID) -> list[tuple[CauseRow, list[EvidenceRow]]]:
        """Return the causes of an estimate, strongest first, each with its evidence."""
        evidence: dict[str, list[EvidenceRow]] = {}
        query = select(EvidenceRow).where(EvidenceRow.estimate_id == estimate_id).order_by(EvidenceRow.position)
        for row in self.session.scalars(query):
            evidence.setdefault(row.cause_key, []).append(row)
        causes = select(CauseRow).where(CauseRow.estimate_id == estimate_id).order_by(CauseRow.position)
        return [(c, evidence.get(c.key, [])) for c in self.session.scalars(causes)]

    def squawks(self, estimate_id: uuid.UUID) -> Sequence[SquawkRow]:
        """Return the squawks computed with an estimate."""
        query = select(SquawkRow).where(SquawkRow.estimate_id == estimate_id)
        return self.session.scalars(query.order_by(SquawkRow.order)).all()
