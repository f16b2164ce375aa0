"""What a telemetry link tells, as it is sent."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from jinba.core.cards.model import Reading
from jinba.core.telemetry.samples import Sample


class TelemetryView(BaseModel):
    """``source``: which link; ``now``: its newest line; ``seconds`` told so far of ``lasts`` [s]; ``taken``: the measures that what was told gives."""

    model_config = ConfigDict(from_attributes=True)

    source: str
    now: Sample | None
    seconds: float
    lasts: float
    ended: bool
    taken: list[Reading]
