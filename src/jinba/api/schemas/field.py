"""Shapes of the field door: where it is, codes that pair, devices that are let in."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from jinba.api.schemas.models import Strict, Text
from jinba.services.pairing import PairedDevice


class FieldView(BaseModel):
    """Whether devices beyond this machine can reach the program, where, and what asks: the laptop itself, a paired device, a helper's,
    or one that is not paired yet."""

    serving: bool
    asks: Literal["laptop", "device", "helper", "nobody"]
    name: str = ""
    address: str = ""
    by_number: tuple[str, ...] = ()
    fingerprint: str = ""
    authority_until: datetime | None = None
    device: PairedDevice | None = None


class NewCode(Strict):
    """Have a code shown: for a device of the pilot's own, or with ``sortie_id`` for a helper's, who logs that sortie."""

    sortie_id: uuid.UUID | None = None


class ShownCode(BaseModel):
    """A code, shown once: to type, as an address and as a QR code (``picture``: a data address)."""

    code: str
    address: str
    picture: str
    expires_at: datetime


class Pair(Strict):
    """Pair a device by a code that is shown on the laptop."""

    code: Text = Field(min_length=1, max_length=20)
    name: Text = Field(default="", max_length=80)
