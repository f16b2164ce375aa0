"""Pairing: codes that let one device in, once; who was let in, and forgetting it.

A code of forty bits lives for minutes and pairs one device; a token of 256 bits is the device's from then on. Of both only the hash is
kept, so that whoever reads the database cannot come in by what he reads.
"""

from __future__ import annotations

import hashlib
import secrets
import uuid
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from sqlalchemy.orm import Session

from jinba.core.errors import JinbaError, RefusedError, check_text
from jinba.persistence.orm import PairedDeviceRow, PairingCodeRow
from jinba.persistence.repositories import Models, Pairings, Sorties

LETTERS = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"
"""No letter that is read as another one or as a figure (D. Crockford's base 32, from memory)."""

CODE_LENGTH = 8
CODE_LIVES = timedelta(minutes=10)
HELPERS_CODE_LIVES = timedelta(hours=2)
DEVICE_STAYS = timedelta(days=90)
HELPER_STAYS = timedelta(hours=12)
"""A season is shorter than the first, a day at the field than the second: common practice, no source."""

_SEEN_EVERY = timedelta(minutes=10)
_READ_AS = str.maketrans({"O": "0", "I": "1", "L": "1"})


class WrongCodeError(JinbaError):
    """A code that pairs nothing: mistyped, used before, or too old."""

    code = "wrong-code"


class TooManyGuessesError(JinbaError):
    """So many wrong codes that nobody's code is looked at for a while."""

    code = "too-many-guesses"


@dataclass(frozen=True, slots=True)
class Helps:
    """The one sortie that a helper's device logs."""

    model_id: uuid.UUID
    sortie_id: uuid.UUID


@dataclass(frozen=True, slots=True)
class PairingCode:
    """A code as it is shown once, and until when it pairs."""

    code: str
    expires_at: datetime
    sortie_id: uuid.UUID | None = None


@dataclass(frozen=True, slots=True)
class PairedDevice:
    """A device that is let in: its name, since and until when, when it was last there; ``helps``: a helper's, with its sortie alone."""

    id: uuid.UUID
    name: str
    paired_at: datetime
    expires_at: datetime
    seen_at: datetime | None = None
    helps: Helps | None = None


def new_code(session: Session, *, sortie_id: uuid.UUID | None = None) -> PairingCode:
    """Return a code that pairs one device; with a sortie, a helper's device that logs that sortie and nothing else.

    Raises: NotFoundError; RefusedError when that sortie is not to be flown any more.
    """
    if sortie_id is not None and Sorties(session).get(sortie_id).status not in ("planned", "flying"):
        raise RefusedError("This sortie has landed or was called off: there is nothing left to help with.")
    code = "".join(secrets.choice(LETTERS) for _ in range(CODE_LENGTH))
    until = datetime.now(UTC) + (CODE_LIVES if sortie_id is None else HELPERS_CODE_LIVES)
    session.add(
        PairingCodeRow(
            id=uuid.uuid4(),
            owner_id=Models(session).owner_id(),
            code_hash=_hash(code),
            sortie_id=sortie_id,
            expires_at=until,
        )
    )
    session.flush()
    return PairingCode(f"{code[:4]}-{code[4:]}", until, sortie_id)


def pair(session: Session, *, code: str, name: str) -> tuple[PairedDevice, str]:
    """Let the device with a code in; return it and the token by which it is known from then on.

    Raises: WrongCodeError; errors of the name.
    """
    called = check_text("name of the device", " ".join(name.split()), longest=80) or "device"
    typed = "".join(c for c in code.upper().translate(_READ_AS) if c.isalnum())
    taken = Pairings(session).take(_hash(typed))
    if taken is None:
        raise WrongCodeError("This code pairs nothing: mistyped, used before, or too old. Have a new one shown.")
    token = secrets.token_urlsafe(32)
    row = PairedDeviceRow(
        id=uuid.uuid4(),
        owner_id=taken.owner_id,
        name=called,
        token_hash=_hash(token),
        sortie_id=taken.sortie_id,
        expires_at=datetime.now(UTC) + (DEVICE_STAYS if taken.sortie_id is None else HELPER_STAYS),
    )
    session.add(row)
    session.flush()
    return _device(session, row), token


def device_of(session: Session, token: str) -> PairedDevice | None:
    """Return the device that a token lets in now, None where it lets none in."""
    row = Pairings(session).let_in(_hash(token))
    return None if row is None else _device(session, row)


def was_here(session: Session, device: PairedDevice) -> None:
    """Note that a device was there, every ten minutes at most."""
    Pairings(session).seen(device.id, datetime.now(UTC) - _SEEN_EVERY)


def seen_lately(device: PairedDevice) -> bool:
    """Return whether it need not be noted that a device was there."""
    return device.seen_at is not None and datetime.now(UTC) - device.seen_at < _SEEN_EVERY


def paired(session: Session) -> list[PairedDevice]:
    """Return the devices that are let in, the newest first."""
    return [_device(session, row) for row in Pairings(session).devices()]


def forget(session: Session, device_id: uuid.UUID) -> None:
    """Let a device in no more. Raises: NotFoundError."""
    Pairings(session).forget(device_id)


def withdraw_codes(session: Session) -> None:
    """Let no code that was shown pair anything any more: somebody is guessing."""
    Pairings(session).withdraw_codes()


def _device(session: Session, row: PairedDeviceRow) -> PairedDevice:
    helps = None
    if row.sortie_id is not None:
        helps = Helps(Sorties(session).get(row.sortie_id).model_id, row.sortie_id)
    return PairedDevice(row.id, row.name, row.paired_at, row.expires_at, row.seen_at, helps)


def _hash(secret: str) -> str:
    """Return what is kept of a code or token. They are drawn at random and long: nothing slower is needed than for a password."""
    return hashlib.sha256(secret.encode()).hexdigest()
