"""Tables. Configurations and records are never changed once flown; everything carries its owner through its model."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import DateTime, ForeignKey, Index, MetaData, UniqueConstraint, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

Json = dict[str, Any]


class Base(DeclarativeBase):
    """Base with a naming convention, so that migrations can name every constraint."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


def _created() -> Mapped[datetime]:
    return mapped_column(DateTime(timezone=True), server_default=func.clock_timestamp())


class OwnerRow(Base):
    """Whoever owns models; one row until accounts exist."""

    __tablename__ = "owner"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    name: Mapped[str]


class ModelRow(Base):
    """A model aircraft. ``stand_in``: hidden faults of its simulated twin, made when first flown."""

    __tablename__ = "model"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    name: Mapped[str]
    story: Mapped[str] = mapped_column(default="")
    read_only: Mapped[bool] = mapped_column(default=False)
    stand_in: Mapped[Json | None] = mapped_column(JSONB)
    created_at: Mapped[datetime] = _created()
    configurations: Mapped[list[ConfigurationRow]] = relationship(
        order_by="ConfigurationRow.number", back_populates="model"
    )


class ConfigurationRow(Base):
    """A configuration of a model. ``current_revision`` points into its revisions; undo moves the pointer."""

    __tablename__ = "configuration"
    __table_args__ = (UniqueConstraint("model_id", "number"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    number: Mapped[int]
    change_words: Mapped[list[str]] = mapped_column(JSONB, default=list)
    stale_cards: Mapped[list[str]] = mapped_column(JSONB, default=list)
    current_revision: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = _created()
    model: Mapped[ModelRow] = relationship(back_populates="configurations")
    revisions: Mapped[list[RevisionRow]] = relationship(order_by="RevisionRow.number", back_populates="configuration")


class RevisionRow(Base):
    """One saved state of a configuration on the bench. ``setup``: the core's Configuration as JSON."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("configuration_id", "number"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    configuration_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("configuration.id", ondelete="CASCADE"))
    number: Mapped[int]
    words: Mapped[str]
    setup: Mapped[Json] = mapped_column(JSONB)
    created_at: Mapped[datetime] = _created()
    configuration: Mapped[ConfigurationRow] = relationship(back_populates="revisions")


class SortieRow(Base):
    """A sortie: planned, flying or landed, with its cards in flying order and the setup it was flown in."""

    __tablename__ = "sortie"
    __table_args__ = (UniqueConstraint("model_id", "number"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    configuration_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("configuration.id", ondelete="CASCADE"))
    number: Mapped[int]
    status: Mapped[str]
    alone: Mapped[bool] = mapped_column(default=False)
    card_ids: Mapped[list[str]] = mapped_column(JSONB)
    wind: Mapped[Json | None] = mapped_column(JSONB)
    setup: Mapped[Json] = mapped_column(JSONB)
    predicted: Mapped[list[Json]] = mapped_column(JSONB, default=list)
    simulated: Mapped[bool] = mapped_column(default=False)
    created_at: Mapped[datetime] = _created()
    landed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class RecordRow(Base):
    """A logged card, appended and never overwritten; the latest of a card in a sortie counts.

    Bench and ground cards have no sortie; they keep the ``setup`` they were done on, so that a later edit on the bench opens
    them again. It is null for records made before it was kept.
    """

    __tablename__ = "record"
    __table_args__ = (Index(None, "model_id", "recorded_at"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    configuration_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("configuration.id", ondelete="CASCADE"))
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), index=True)
    card_id: Mapped[str]
    record: Mapped[Json] = mapped_column(JSONB)
    setup: Mapped[Json | None] = mapped_column(JSONB)
    recorded_at: Mapped[datetime] = _created()


class AnalysisRow(Base):
    """A debrief as it was computed: method version, inputs (sortie ids) and result, recomputable from the records."""

    __tablename__ = "analysis"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), unique=True)
    method: Mapped[str]
    result: Mapped[Json] = mapped_column(JSONB)
    created_at: Mapped[datetime] = _created()


class WorkOrderRow(Base):
    """A rework decided: its actions, the configuration it leads to, and the proof of each action."""

    __tablename__ = "work_order"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"), index=True)
    after_sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), unique=True)
    to_configuration_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("configuration.id", ondelete="CASCADE"))
    actions: Mapped[list[Json]] = mapped_column(JSONB)
    proofs: Mapped[Json] = mapped_column(JSONB, default=dict)
    created_at: Mapped[datetime] = _created()
