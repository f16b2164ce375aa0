"""Instruments at the bench: what the scales show under this model. Stand-ins until a real instrument is connected."""

from __future__ import annotations

import zlib
from collections.abc import Sequence

from jinba.core.configuration import balance_of
from jinba.core.flight.faults import Faults
from jinba.core.history.model import History
from jinba.core.observe.situation import design_of
from jinba.devices.scales import Place, Scales, SimulatedScales


def scales_under(known: History) -> Scales:
    """Return the scales under a model: simulated, with the faults its stand-in really has, or the bench's own balance."""
    balance, mac = balance_of(known.setup), design_of(known.setup).aero.planform.mac_m
    faults = Faults() if known.model.stand_in is None else known.model.stand_in[0]
    return SimulatedScales(
        mass_kg=balance.mass.mass_kg,
        x_m=balance.x_m - faults.static_margin * mac,
        y_m=balance.mass.y_m,
        seed=zlib.crc32(known.model.id.bytes) ^ known.version,
    )


def read_scales(known: History, places: Sequence[Place]) -> tuple[float, ...]:
    """Return what each scale shows under the model now. [kg] Raises: JinbaError for places that cannot carry it."""
    return scales_under(known).read(tuple(places))
