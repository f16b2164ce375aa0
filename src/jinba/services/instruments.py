"""Instruments at the bench: what the scales show under this model. Stand-ins until a real instrument is connected."""

from __future__ import annotations

import zlib
from collections.abc import Sequence

from jinba.core.configuration import balance_of
from jinba.core.flight.simulation.spread import Wrong
from jinba.core.history.model import History
from jinba.devices.scales import Place, Scales, SimulatedScales


def scales_under(known: History) -> Scales:
    """Return the scales under a model: simulated, where its stand-in really balances, or the bench's own balance."""
    balance = balance_of(known.setup)
    wrong = Wrong() if known.model.stand_in is None else known.model.stand_in.wrong
    return SimulatedScales(
        mass_kg=balance.mass.mass_kg,
        x_m=balance.x_m + wrong.cg_aft_m,
        y_m=balance.mass.y_m + wrong.cg_right_m,
        seed=zlib.crc32(known.model.id.bytes) ^ known.version,
    )


def read_scales(known: History, places: Sequence[Place]) -> tuple[float, ...]:
    """Return what each scale shows under the model now. [kg] Raises: JinbaError for places that cannot carry it."""
    return scales_under(known).read(tuple(places))
