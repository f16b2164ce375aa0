"""What all tables share: naming of constraints, the time of arrival, and the one order of everything that is logged."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, DateTime, MetaData, Sequence, func
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
