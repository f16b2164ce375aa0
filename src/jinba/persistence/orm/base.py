"""What all tables share: naming of constraints, the time of arrival, and the one order of everything that is logged."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, DateTime, ForeignKey, MetaData, Sequence, func
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

Json = dict[str, Any]


class Base(DeclarativeBase):
    """Base with a naming convention, so that migrations and errors can name every constraint."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


LOG_ORDER = Sequence("log_order", metadata=Base.metadata)
"""Drawn for every entry of a log: the order of records is the database's, whatever a clock says."""


def arrived() -> Mapped[datetime]:
    """Return the column of the time at which a row came to be, by the database's clock."""
    return mapped_column(DateTime(timezone=True), server_default=func.clock_timestamp())


def drawn() -> Mapped[int]:
    """Return the column of a row's place in the order of the log: rising, never used again."""
    return mapped_column("log_order", BigInteger, LOG_ORDER, server_default=LOG_ORDER.next_value(), unique=True)


def moment(*, optional: bool = True) -> Any:
    """Return a column of a time with its zone."""
    return mapped_column(DateTime(timezone=True), nullable=optional)


class RailNumbers:
    """The numbers of one behaviour, in the unit of its rail: value and sigma, wanted band, ends of the rail. Not its words."""

    key: Mapped[str] = mapped_column(primary_key=True)
    position: Mapped[int]
    value: Mapped[float]
    sigma: Mapped[float]
    low: Mapped[float]
    high: Mapped[float]
    rail_low: Mapped[float]
    rail_high: Mapped[float]


class Logged:
    """Something said of a model, perhaps of one of its sorties, with its place in the log."""

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    order: Mapped[int] = drawn()
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"), index=True)
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), index=True)
