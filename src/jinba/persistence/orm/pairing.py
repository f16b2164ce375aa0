"""Tables of the devices that may reach the program beyond loopback: codes that let one in once, and who was let in."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, arrived, moment


class PairingCodeRow(Base):
    """A code that pairs one device, once. Only its hash is kept. ``sortie_id``: it opens that sortie for a helper, and nothing else."""

    __tablename__ = "pairing_code"
    __table_args__ = (CheckConstraint("expires_at > made_at", name="expiry"),)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    code_hash: Mapped[str] = mapped_column(unique=True)
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = arrived()
    expires_at: Mapped[datetime] = moment(optional=False)
    used_at: Mapped[datetime | None] = moment()


class PairedDeviceRow(Base):
    """A device that was let in, until it expires or is forgotten. Of its token only the hash is kept; rows are never in a backup."""

    __tablename__ = "paired_device"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    owner_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("owner.id"), index=True)
    name: Mapped[str]
    token_hash: Mapped[str] = mapped_column(unique=True)
    sortie_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), index=True)
    paired_at: Mapped[datetime] = arrived()
    expires_at: Mapped[datetime] = moment(optional=False)
    seen_at: Mapped[datetime | None] = moment()
    forgotten_at: Mapped[datetime | None] = moment()
