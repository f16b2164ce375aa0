"""Tables of the packs: what is written on them, which one is to fly, what flights took from them."""

from __future__ import annotations

import uuid
from datetime import date, datetime

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, arrived, moment


class PackRow(Base):
    """A battery pack by the name written on it; ``chemistry`` empty where nothing but the name is known.

    ``capacity_c`` [C], ``rating_per_h`` [1/h], ``resistance_ohm`` of the whole pack, ``mass_kg``: as on its label or measured.
    """

    __tablename__ = "pack"
    __table_args__ = (
        UniqueConstraint("owner_id", "name"),
        CheckConstraint("chemistry = '' OR (cells >= 1 AND capacity_c > 0)", name="described"),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"))
    group_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("pilot_group.id"), index=True)
    name: Mapped[str]
    chemistry: Mapped[str] = mapped_column(default="")
    cells: Mapped[int | None]
    capacity_c: Mapped[float | None]
    rating_per_h: Mapped[float | None]
    resistance_ohm: Mapped[float | None]
    mass_kg: Mapped[float | None]
    put_away_at: Mapped[datetime | None] = moment()
    created_at: Mapped[datetime] = arrived()


class PackFittedRow(Base):
    """The pack that is to fly a model next, as it was named: volts of a cell at rest [V], current at full throttle [A] where measured.

    Kept; the newest counts until the model has flown.
    """

    __tablename__ = "pack_fitted"
    __table_args__ = (
        CheckConstraint("cell_v > 0 AND full_throttle_a > 0", name="read"),
        Index("ix_pack_fitted_newest", "model_id", "id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"))
    pack_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("pack.id"), index=True)
    cell_v: Mapped[float | None]
    full_throttle_a: Mapped[float | None]
    fitted_at: Mapped[datetime] = arrived()


class PackFlightRow(Base):
    """What one flight took from a pack: of a sortie (``sortie_id``) the charge put back after it, the rest stands in its log; of a
    flight that is not here everything, as it was typed. [min, V of a cell at rest, C]"""

    __tablename__ = "pack_flight"
    __table_args__ = (
        CheckConstraint("sortie_id IS NOT NULL OR minutes > 0", name="of_something"),
        CheckConstraint("put_back_c >= 0 AND before_v > 0 AND after_v > 0", name="read"),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    pack_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("pack.id"), index=True)
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), unique=True)
    flown_on: Mapped[date | None]
    minutes: Mapped[float | None]
    before_v: Mapped[float | None]
    after_v: Mapped[float | None]
    put_back_c: Mapped[float | None]
    created_at: Mapped[datetime] = arrived()
