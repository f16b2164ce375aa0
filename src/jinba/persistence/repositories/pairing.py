"""Codes that pair a device, and the devices that were let in."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session

from jinba.persistence.orm import PairedDeviceRow, PairingCodeRow
from jinba.persistence.repositories.models import NotFoundError


class Pairings:
    """Codes and paired devices. A code or a token is only ever asked for by its hash."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def take(self, code_hash: str) -> PairingCodeRow | None:
        """Use a code up and return it; None where there is none, or it was used or has expired. Two at once: one gets it."""
        return self.session.scalars(
            update(PairingCodeRow)
            .where(
                PairingCodeRow.code_hash == code_hash,
                PairingCodeRow.used_at.is_(None),
                PairingCodeRow.expires_at > func.clock_timestamp(),
            )
            .values(used_at=func.clock_timestamp())
            .returning(PairingCodeRow)
        ).first()

    def withdraw_codes(self) -> None:
        """Let no code that is open pair anything any more."""
        self.session.execute(
            update(PairingCodeRow).where(PairingCodeRow.used_at.is_(None)).values(used_at=func.clock_timestamp())
        )

    def let_in(self, token_hash: str) -> PairedDeviceRow | None:
        """Return the device with a token that is let in now, None where there is none."""
        return self.session.scalars(
            select(PairedDeviceRow).where(
                PairedDeviceRow.token_hash == token_hash,
                PairedDeviceRow.forgotten_at.is_(None),
                PairedDeviceRow.expires_at > func.clock_timestamp(),
            )
        ).first()

    def devices(self) -> Sequence[PairedDeviceRow]:
        """Return the devices that are let in, the newest first."""
        return self.session.scalars(
            select(PairedDeviceRow)
            .where(PairedDeviceRow.forgotten_at.is_(None), PairedDeviceRow.expires_at > func.clock_timestamp())
            .order_by(PairedDeviceRow.paired_at.desc())
        ).all()

    def forget(self, device_id: uuid.UUID) -> None:
        """Let a device in no more; twice is once. Raises: NotFoundError."""
        found = self.session.scalars(
            update(PairedDeviceRow)
            .where(PairedDeviceRow.id == device_id)
            .values(forgotten_at=func.coalesce(PairedDeviceRow.forgotten_at, func.clock_timestamp()))
            .returning(PairedDeviceRow.id)
        ).first()
        if found is None:
            raise NotFoundError("There is no such device.")

    def seen(self, device_id: uuid.UUID, before: datetime) -> None:
        """Note that a device was there, unless that was noted since a time."""
        self.session.execute(
            update(PairedDeviceRow)
            .where(
                PairedDeviceRow.id == device_id,
                or_(PairedDeviceRow.seen_at.is_(None), PairedDeviceRow.seen_at < before),
            )
            .values(seen_at=func.clock_timestamp())
        )
