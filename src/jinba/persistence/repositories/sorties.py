"""Sorties with their cards, weather, trims and predictions."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable, Sequence
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import aggregate_order_by, insert
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import LANDING
from jinba.core.frames import Axis
from jinba.core.observe.situation import Trims
from jinba.persistence.orm import (
    ConfigurationRow,
    GatePassRow,
    OverrideRow,
    PredictionRow,
    SortieCardRow,
    SortieRow,
    SortieTrimRow,
    WeatherRow,
    WindReadingRow,
)
from jinba.persistence.repositories.models import NotFoundError


class Sorties:
    """Sorties and what belongs to each."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def lines(self, model_id: uuid.UUID) -> Sequence[Any]:
        """Return the sorties of a model in order: columns of the row, its configuration's number and its cards in order."""
        cards = (
            select(func.array_agg(aggregate_order_by(SortieCardRow.card_id, SortieCardRow.position)))
            .where(SortieCardRow.sortie_id == SortieRow.id, SortieCardRow.origin != "dropped")
            .scalar_subquery()
        )
        query = (
            select(
                SortieRow.id,
                SortieRow.number,
                SortieRow.status,
                SortieRow.alone,
                SortieRow.simulated,
                SortieRow.landed_at,
                SortieRow.setup_hash,
                ConfigurationRow.number.label("configuration"),
                cards.label("card_ids"),
            )
            .join(ConfigurationRow, ConfigurationRow.id == SortieRow.configuration_id)
            .where(SortieRow.model_id == model_id)
            .order_by(SortieRow.number, SortieRow.created_at)
        )
        return self.session.execute(query).all()

    def wind_read(self, model_id: uuid.UUID) -> WindReadingRow | None:
        """Return the wind as it was last read for a model, or None."""
        query = select(WindReadingRow).where(WindReadingRow.model_id == model_id)
        return self.session.scalars(query.order_by(WindReadingRow.id.desc()).limit(1)).first()

    def get(self, sortie_id: uuid.UUID) -> SortieRow:
        """Return a sortie as it stands now. Raises: NotFoundError."""
        row = self.session.get(SortieRow, sortie_id, populate_existing=True)
        if row is None:
            raise NotFoundError("This sortie is not here.", sortie=str(sortie_id))
        return row

    def model_of(self, sortie_id: uuid.UUID) -> uuid.UUID:
        """Return the model of a sortie, to lock it. Raises: NotFoundError."""
        found = self.session.scalars(select(SortieRow.model_id).where(SortieRow.id == sortie_id)).first()
        if found is None:
            raise NotFoundError("This sortie is not here.", sortie=str(sortie_id))
        return found

    def landed(self, model_id: uuid.UUID) -> Sequence[SortieRow]:
        """Return the landed sorties of a model in order."""
        query = select(SortieRow).where(SortieRow.model_id == model_id, SortieRow.status == "landed")
        return self.session.scalars(query.order_by(SortieRow.number)).all()

    def last_landed(self, model_id: uuid.UUID) -> uuid.UUID | None:
        """Return the last landed sortie of a model, or None."""
        query = select(SortieRow.id).where(SortieRow.model_id == model_id, SortieRow.status == "landed")
        return self.session.scalars(query.order_by(SortieRow.number.desc()).limit(1)).first()

    def flown_setups(self, model_id: uuid.UUID) -> Sequence[str]:
        """Return the hashes of the setups a model was flown in, each once."""
        query = select(SortieRow.setup_hash).where(SortieRow.model_id == model_id, SortieRow.status == "landed")
        return self.session.scalars(query.distinct()).all()

    def of_model(self, model_id: uuid.UUID) -> Sequence[SortieRow]:
        """Return every sortie of a model in order."""
        return self.session.scalars(
            select(SortieRow).where(SortieRow.model_id == model_id).order_by(SortieRow.number, SortieRow.created_at)
        ).all()

    def add_cards(self, sortie_id: uuid.UUID, card_ids: Iterable[str], proved: Collection[str] = ()) -> None:
        """Write the cards of a sortie in flying order; ``proved``: those of its trims that are only proved."""
        self.session.add_all(
            SortieCardRow(sortie_id=sortie_id, card_id=c, position=i, origin="planned", proof=c in proved)
            for i, c in enumerate(card_ids)
        )

    def proved(self, sortie_id: uuid.UUID) -> frozenset[str]:
        """Return the trims of a sortie that are only proved."""
        query = select(SortieCardRow.card_id).where(SortieCardRow.sortie_id == sortie_id, SortieCardRow.proof)
        return frozenset(self.session.scalars(query))

    def add_flown(self, sortie_id: uuid.UUID, card_id: str) -> None:
        """Take in a card that was flown and not planned: before the landing, which stays last."""
        rows = self.session.scalars(
            select(SortieCardRow).where(SortieCardRow.sortie_id == sortie_id).order_by(SortieCardRow.position)
        ).all()
        place = 1 + max((r.position for r in rows), default=-1)
        if rows and rows[-1].card_id == LANDING:
            rows[-1].position, place = place, rows[-1].position
            self.session.flush()
        self.session.add(SortieCardRow(sortie_id=sortie_id, card_id=card_id, position=place, origin="added"))
        self.session.flush()

    def cards(self, sortie_id: uuid.UUID) -> tuple[str, ...]:
        """Return the cards of a sortie in flying order."""
        query = select(SortieCardRow.card_id).where(
            SortieCardRow.sortie_id == sortie_id, SortieCardRow.origin != "dropped"
        )
        return tuple(self.session.scalars(query.order_by(SortieCardRow.position)))

    def weather(self, sortie_id: uuid.UUID) -> WeatherRow | None:
        """Return the weather a sortie was planned in, or None."""
        return self.session.get(WeatherRow, sortie_id)

    def weathers(self, sortie_ids: Iterable[uuid.UUID]) -> dict[uuid.UUID, WeatherRow]:
        """Return the weather of sorties, of those that have one."""
        rows = self.session.scalars(select(WeatherRow).where(WeatherRow.sortie_id.in_(list(sortie_ids))))
        return {row.sortie_id: row for row in rows}

    def predictions(self, sortie_ids: Iterable[uuid.UUID]) -> dict[uuid.UUID, list[PredictionRow]]:
        """Return what was predicted of sorties before they flew, in the order of the rails."""
        query = select(PredictionRow).where(PredictionRow.sortie_id.in_(list(sortie_ids)))
        found: dict[uuid.UUID, list[PredictionRow]] = {}
        for row in self.session.scalars(query.order_by(PredictionRow.position)):
            found.setdefault(row.sortie_id, []).append(row)
        return found

    def set_trims(self, sortie_id: uuid.UUID, moment: str, rests: Trims, clicks: dict[Axis, int]) -> None:
        """Write where the surfaces rested at release or landing of a sortie, in place of what was written before."""
        gone = delete(SortieTrimRow).where(SortieTrimRow.sortie_id == sortie_id, SortieTrimRow.moment == moment)
        self.session.execute(gone)
        rows = [
            {
                "sortie_id": sortie_id,
                "moment": moment,
                "axis": a.value,
                "rest_rad": rests.of(a),
                "clicks": clicks[a],
            }
            for a in Axis
        ]
        self.session.execute(insert(SortieTrimRow).values(rows))

    def trims(self, sortie_ids: Iterable[uuid.UUID], moment: str = "landing") -> dict[uuid.UUID, Trims]:
        """Return where the surfaces rested [rad] at a moment of sorties, of those of which it is known."""
        query = select(SortieTrimRow).where(
            SortieTrimRow.sortie_id.in_(list(sortie_ids)), SortieTrimRow.moment == moment
        )
        by_axis: dict[uuid.UUID, dict[str, float]] = {}
        for row in self.session.scalars(query):
            by_axis.setdefault(row.sortie_id, {})[row.axis] = row.rest_rad
        return {i: Trims(r["pitch"], r["roll"], r["yaw"]) for i, r in by_axis.items() if len(r) == 3}

    def overrides(self, sortie_id: uuid.UUID) -> Sequence[OverrideRow]:
        """Return what a sortie was flown against, with the reasons."""
        query = select(OverrideRow).where(OverrideRow.sortie_id == sortie_id).order_by(OverrideRow.code)
        return self.session.scalars(query).all()

    def gate_passes(self, sortie_id: uuid.UUID) -> Sequence[GatePassRow]:
        """Return what a sortie was let go on."""
        return self.session.scalars(
            select(GatePassRow).where(GatePassRow.sortie_id == sortie_id).order_by(GatePassRow.card_id)
        ).all()
