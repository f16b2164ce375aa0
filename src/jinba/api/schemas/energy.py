"""Shapes around packs."""

from __future__ import annotations

import uuid
from datetime import date

from pydantic import BaseModel, Field

from jinba.api.schemas.models import Strict, Text
from jinba.core.power.cells import Chemistry


class PackLabel(Strict):
    """What is written on a pack, or was measured of it: ``capacity_c`` [C], ``rating_per_h`` the number before the C, ``resistance_ohm``
    of the whole pack [ohm], ``mass_kg`` with its lead [kg]. ``put_away``: kept out of sight, with its history."""

    name: Text = Field(min_length=1, max_length=40)
    chemistry: Chemistry
    cells: int = Field(ge=1, le=30)
    capacity_c: float = Field(gt=0)
    rating_per_h: float | None = None
    resistance_ohm: float | None = None
    mass_kg: float | None = None
    put_away: bool = False


class FitPack(Strict):
    """The pack that is to fly next: ``volts`` at rest, of a cell or of the whole pack [V]; current at full throttle as measured [A]."""

    pack_id: uuid.UUID
    volts: float | None = Field(None, gt=0)
    full_throttle_a: float | None = Field(None, gt=0)


class PackFlight(Strict):
    """A flight that is not logged here: minutes in the air, volts at rest of a cell or of the pack [V], charge put back [C]."""

    minutes: float = Field(gt=0)
    flown_on: date | None = None
    before_v: float | None = Field(None, gt=0)
    after_v: float | None = Field(None, gt=0)
    put_back_c: float | None = Field(None, ge=0)


class PutBack(Strict):
    """The charge put back after a sortie [C]; None takes it out."""

    charge_c: float | None = Field(None, ge=0)


class CellKind(BaseModel):
    """A kind of cell: its name, and volts at rest, full and nominal [V]."""

    chemistry: Chemistry
    words: str
    full_v: float
    nominal_v: float
