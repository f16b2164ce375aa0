"""Tables of the bench: owners, models, setups stored once, configurations and their revisions, sites."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ARRAY, BigInteger, CheckConstraint, ForeignKey, ForeignKeyConstraint, Text, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, Json, arrived, moment


class OwnerRow(Base):
    """Whoever owns models; one row until accounts exist."""

    __tablename__ = "owner"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    name: Mapped[str]


class GroupRow(Base):
    """Pilots who share models, packs and sites; nobody is in one until accounts exist."""

    __tablename__ = "pilot_group"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    name: Mapped[str]


class SiteRow(Base):
    """A flying site as it was typed: degrees north and east, height above the sea [m], heading of its strip [rad], height limit [m], rules."""

    __tablename__ = "site"
    __table_args__ = (
        UniqueConstraint("owner_id", "name"),
        CheckConstraint("abs(latitude_deg) <= 90 AND abs(longitude_deg) <= 180", name="place"),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"))
    group_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("pilot_group.id"), index=True)
    name: Mapped[str]
    latitude_deg: Mapped[float]
    longitude_deg: Mapped[float]
    elevation_m: Mapped[float | None]
    heading_rad: Mapped[float | None]
    height_limit_m: Mapped[float | None]
    rules: Mapped[str] = mapped_column(default="")
    put_away_at: Mapped[datetime | None] = moment()
    created_at: Mapped[datetime] = arrived()


class ModelRow(Base):
    """A model aircraft, and what a writing use case locks.

    ``setup_version`` rises with every change of the setup, undo and redo included, and is never used again; ``log_order`` is
    the newest entry of the log; ``log_version`` rises whenever something changes that an estimate is computed from.
    ``rehearsal``: only a stand-in flies it; ``stand_in``: hidden faults of its simulated twin, made when first flown; ``put_away_at``: kept out of sight since.
    ``site_id``: where it is flown next.
    """

    __tablename__ = "model"
    __table_args__ = (CheckConstraint("setup_version >= 1 AND log_version >= 0", name="counters"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    group_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("pilot_group.id"), index=True)
    name: Mapped[str]
    story: Mapped[str] = mapped_column(default="")
    read_only: Mapped[bool] = mapped_column(default=False)
    rehearsal: Mapped[bool] = mapped_column(default=False)
    stand_in: Mapped[Json | None] = mapped_column(JSONB)
    setup_version: Mapped[int] = mapped_column(default=1)
    log_order: Mapped[int] = mapped_column(BigInteger, default=0)
    log_version: Mapped[int] = mapped_column(default=0)
    request_hash: Mapped[str | None]
    put_away_at: Mapped[datetime | None] = moment()
    site_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("site.id"), index=True)
    created_at: Mapped[datetime] = arrived()


class SetupRow(Base):
    """A setup, stored once under the hash of its content and never changed; a trigger of the database sees to that."""

    __tablename__ = "setup"
    __table_args__ = (CheckConstraint("length(hash) = 64 AND schema_version >= 1", name="content"),)
    hash: Mapped[str] = mapped_column(primary_key=True)
    schema_version: Mapped[int]
    body: Mapped[Json] = mapped_column(JSONB)
    created_at: Mapped[datetime] = arrived()


class ConfigurationRow(Base):
    """A configuration of a model: what differs from the one before, the cards that opened, and which revision is current."""

    __tablename__ = "configuration"
    __table_args__ = (
        UniqueConstraint("model_id", "number"),
        UniqueConstraint("id", "model_id"),
        CheckConstraint("number >= 1", name="number"),
        ForeignKeyConstraint(
            ["current_revision_id", "id"],
            ["revision.id", "revision.configuration_id"],
            name="fk_configuration_current_revision_id_revision",
            use_alter=True,
            deferrable=True,
            initially="DEFERRED",
        ),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    number: Mapped[int]
    change_words: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    opened_cards: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    current_revision_id: Mapped[uuid.UUID]
    created_at: Mapped[datetime] = arrived()


class RevisionRow(Base):
    """One saved state of a configuration. Undo moves to ``parent_id`` and deletes nothing; a number is never used again."""

    __tablename__ = "revision"
    __table_args__ = (
        UniqueConstraint("configuration_id", "number"),
        UniqueConstraint("id", "configuration_id"),
        CheckConstraint("number >= 1", name="number"),
        ForeignKeyConstraint(
            ["parent_id", "configuration_id"],
            ["revision.id", "revision.configuration_id"],
            name="fk_revision_parent_id_revision",
        ),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    configuration_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("configuration.id", ondelete="CASCADE"))
    number: Mapped[int]
    parent_id: Mapped[uuid.UUID | None] = mapped_column(index=True)
    words: Mapped[str]
    setup_hash: Mapped[str] = mapped_column(ForeignKey("setup.hash"), index=True)
    created_at: Mapped[datetime] = arrived()
