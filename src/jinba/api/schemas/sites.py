"""Shapes around sites."""

from __future__ import annotations

import uuid

from pydantic import Field

from jinba.api.schemas.models import Strict, Text


class SiteTyped(Strict):
    """A site as it is typed: degrees north and east (south and west negative), height above the sea [m], heading of its strip [rad],
    height limit over ground [m], rules in the pilot's words. ``put_away``: kept out of sight."""

    name: Text = Field(min_length=1, max_length=60)
    latitude_deg: float
    longitude_deg: float
    elevation_m: float | None = None
    heading_rad: float | None = None
    height_limit_m: float | None = None
    rules: Text = Field("", max_length=2000)
    put_away: bool = False


class FlyAt(Strict):
    """Where a model is flown next; None: nowhere that is known."""

    site_id: uuid.UUID | None
