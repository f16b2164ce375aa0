"""Tables of the flying: devices, sorties with their cards, weather, trims and predictions; records with their readings."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    UniqueConstraint,
    false,
    text,
)
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, RailNumbers, arrived, drawn, moment


class DeviceRow(Base):
    """A phone or laptop that logs. ``clock_offset_s``: what to add to its clock, measured at its last exchange."""

    __tablename__ = "device"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    name: Mapped[str] = mapped_column(default="")
    clock_offset_s: Mapped[float] = mapped_column(default=0.0)
    created_at: Mapped[datetime] = arrived()


class SortieRow(Base):
    """A sortie and the setup it is flown in; at most one of a model is open. ``landed_order``: its place in the log.

    ``pack_id``: the pack that flew; ``cell_v``: volts of its cells at rest before [V]; ``safe_minutes`` it was planned with [min].
    """

    __tablename__ = "sortie"
    __table_args__ = (
        UniqueConstraint("id", "model_id"),
        ForeignKeyConstraint(
            ["configuration_id", "model_id"],
            ["configuration.id", "configuration.model_id"],
            name="fk_sortie_configuration_id_configuration",
            ondelete="CASCADE",
        ),
        CheckConstraint("status IN ('planned', 'flying', 'landed', 'called_off')", name="status"),
        CheckConstraint("(status = 'landed') = (landed_at IS NOT NULL AND landed_order IS NOT NULL)", name="landing"),
        # A sortie that was called off gives its number back: flown ones are counted without a gap.
        Index("ix_sortie_number", "model_id", "number", unique=True, postgresql_where=text("status <> 'called_off'")),
        Index("ix_sortie_one_open", "model_id", unique=True, postgresql_where=text("status IN ('planned', 'flying')")),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    configuration_id: Mapped[uuid.UUID] = mapped_column(index=True)
    number: Mapped[int]
    status: Mapped[str]
    alone: Mapped[bool] = mapped_column(default=False)
    simulated: Mapped[bool] = mapped_column(default=False)
    setup_hash: Mapped[str] = mapped_column(ForeignKey("setup.hash"), index=True)
    pack_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("pack.id"), index=True)
    cell_v: Mapped[float | None]
    safe_minutes: Mapped[float | None]
    request_hash: Mapped[str | None]
    created_at: Mapped[datetime] = arrived()
    landed_at: Mapped[datetime | None] = moment()
    landed_order: Mapped[int | None] = mapped_column(BigInteger, unique=True)


class SortieCardRow(Base):
    """A card of a sortie in flying order: planned, added in the air, or dropped; ``proof``: a trim that is only proved."""

    __tablename__ = "sortie_card"
    __table_args__ = (
        UniqueConstraint("sortie_id", "position"),
        CheckConstraint("origin IN ('planned', 'added', 'dropped')", name="origin"),
    )
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)
    card_id: Mapped[str] = mapped_column(primary_key=True)
    position: Mapped[int]
    origin: Mapped[str] = mapped_column(default="planned")
    proof: Mapped[bool] = mapped_column(default=False, server_default=false())


class WeatherRow(Base):
    """The weather a sortie was planned in: wind and gust [m/s], bearing it blows from and strip heading [rad]."""

    __tablename__ = "weather"
    __table_args__ = (CheckConstraint("wind_mps >= 0 AND gust_mps >= wind_mps", name="wind"),)
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)
    wind_mps: Mapped[float]
    gust_mps: Mapped[float]
    from_rad: Mapped[float]
    strip_heading_rad: Mapped[float]
    temperature_k: Mapped[float | None]
    pressure_pa: Mapped[float | None]


class WindReadingRow(Base):
    """The wind as it was read at the field for a model, before a sortie: wind and gust [m/s], bearings [rad]; kept, the newest counts."""

    __tablename__ = "wind_reading"
    __table_args__ = (
        CheckConstraint("wind_mps >= 0 AND gust_mps >= wind_mps", name="wind"),
        Index("ix_wind_reading_newest", "model_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    wind_mps: Mapped[float]
    gust_mps: Mapped[float]
    from_rad: Mapped[float]
    strip_heading_rad: Mapped[float]
    read_at: Mapped[datetime] = arrived()


class SortieTrimRow(Base):
    """Where a surface rested [rad], and the clicks that stood in the radio, at release and at landing of a sortie."""

    __tablename__ = "sortie_trim"
    __table_args__ = (
        CheckConstraint("moment IN ('release', 'landing')", name="moment"),
        CheckConstraint("axis IN ('pitch', 'roll', 'yaw')", name="axis"),
    )
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)
    moment: Mapped[str] = mapped_column(primary_key=True)
    axis: Mapped[str] = mapped_column(primary_key=True)
    rest_rad: Mapped[float]
    clicks: Mapped[int]


class PredictionRow(RailNumbers, Base):
    """One behaviour as it was predicted before the flight, in the unit of its rail; never changed afterwards."""

    __tablename__ = "prediction"
    __table_args__ = (CheckConstraint("sigma >= 0", name="sigma"),)
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)


class GatePassRow(Base):
    """What a sortie was let go on: each gate with the record that closed it."""

    __tablename__ = "gate_pass"
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)
    card_id: Mapped[str] = mapped_column(primary_key=True)
    record_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("record.id"), index=True)


class OverrideRow(Base):
    """What would have stopped a sortie, by its code and in its words then, and why the pilot in command flew all the same."""

    __tablename__ = "override"
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), primary_key=True)
    code: Mapped[str] = mapped_column(primary_key=True)
    words: Mapped[str]
    reason: Mapped[str]


class RecordRow(Base):
    """A logged card with the conditions it was flown in; appended, never overwritten.

    ``epoch`` 2 n - 1 in sortie n, 2 n on the ground after n landings: what is entered late keeps its place. ``replaces_id``:
    the entry this one corrects. ``seen_order``: the newest entry its writer knew. ``made_at`` by the device's clock,
    ``flown_at`` the same corrected by the offset measured when it was sent; ``recorded_at`` the arrival.
    """

    __tablename__ = "record"
    __table_args__ = (
        ForeignKeyConstraint(
            ["configuration_id", "model_id"],
            ["configuration.id", "configuration.model_id"],
            name="fk_record_configuration_id_configuration",
            ondelete="CASCADE",
        ),
        ForeignKeyConstraint(
            ["sortie_id", "model_id"],
            ["sortie.id", "sortie.model_id"],
            name="fk_record_sortie_id_sortie",
            ondelete="CASCADE",
        ),
        CheckConstraint("outcome IN ('done', 'passed', 'failed', 'skipped', 'aborted')", name="outcome"),
        CheckConstraint("confidence IN ('sure', 'fair', 'doubtful')", name="confidence"),
        CheckConstraint("gear IN ('up', 'down')", name="gear"),
        CheckConstraint("throttle BETWEEN 0 AND 1 AND flap BETWEEN 0 AND 1", name="levers"),
        CheckConstraint("wind_mps >= 0 AND gust_mps >= 0", name="wind"),
        CheckConstraint("epoch >= 0 AND schema_version >= 1", name="place"),
        Index("ix_record_newest", "model_id", "card_id", "epoch", "log_order"),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    order: Mapped[int] = drawn()
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    configuration_id: Mapped[uuid.UUID] = mapped_column(index=True)
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(index=True)
    epoch: Mapped[int]
    card_id: Mapped[str]
    outcome: Mapped[str]
    left_alone: Mapped[bool | None]
    confidence: Mapped[str]
    from_memory: Mapped[bool]
    note: Mapped[str] = mapped_column(default="")
    setup_hash: Mapped[str] = mapped_column(ForeignKey("setup.hash"), index=True)
    replaces_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("record.id"), unique=True)
    throttle: Mapped[float | None]
    flap: Mapped[float | None]
    gear: Mapped[str | None]
    stabiliser_mode: Mapped[str | None]
    wind_mps: Mapped[float | None]
    gust_mps: Mapped[float | None]
    pack_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("pack.id"), index=True)
    device_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("device.id"), index=True)
    logged_by: Mapped[str] = mapped_column(default="")
    seen_order: Mapped[int | None] = mapped_column(BigInteger)
    schema_version: Mapped[int]
    request_hash: Mapped[str | None]
    made_at: Mapped[datetime | None] = moment()
    flown_at: Mapped[datetime | None] = moment()
    recorded_at: Mapped[datetime] = arrived()


class ReadingRow(Base):
    """One measure of a record: an SI number (or clicks, or a share), a choice, a direction; and the text as it was entered."""

    __tablename__ = "reading"
    __table_args__ = (
        CheckConstraint("number >= 0", name="unsigned"),
        Index(None, "measure"),
    )
    record_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("record.id", ondelete="CASCADE"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    measure: Mapped[str]
    number: Mapped[float | None]
    choice: Mapped[str | None]
    direction: Mapped[str | None]
    nothing: Mapped[bool]
    as_entered: Mapped[str] = mapped_column(default="")
    telemetry: Mapped[bool] = mapped_column(default=False)


class RecordChoiceRow(Base):
    """A person's choice between entries of two devices: this record counts."""

    __tablename__ = "record_choice"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    record_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("record.id", ondelete="CASCADE"), index=True)
    order: Mapped[int] = drawn()
    chosen_by: Mapped[str] = mapped_column(default="")
    chosen_at: Mapped[datetime] = arrived()
