"""Packs: what is written on them, which one is to fly, what flights took from them."""

from __future__ import annotations

import uuid

from fastapi import APIRouter

from jinba.api.deps import DbDep
from jinba.api.routes.models import plan_view
from jinba.api.schemas.energy import CellKind, FitPack, PackFlight, PackLabel, PutBack
from jinba.api.schemas.models import Plan
from jinba.core.power.cells import CELLS
from jinba.core.power.packs import Pack
from jinba.services import energy, plan
from jinba.services.packs import PackView, shelf_of_packs

router = APIRouter(prefix="/api/v1", tags=["packs"])


@router.get("/cells", operation_id="listCells")
def list_cells() -> list[CellKind]:
    """Return the kinds of cells."""
    return [CellKind(chemistry=k, words=c.words, full_v=c.full_v, nominal_v=c.nominal_v) for k, c in CELLS.items()]


@router.get("/packs", operation_id="listPacks")
def list_packs(db: DbDep) -> list[PackView]:
    """Return every pack with its history."""
    return list(db.read(shelf_of_packs))


@router.put("/packs/{pack_id}", operation_id="keepPack")
def keep_pack(pack_id: uuid.UUID, body: PackLabel, db: DbDep) -> PackView:
    """Write what is on a pack, a new one under a new id. Nothing of its history is touched."""
    pack = Pack(str(pack_id), **body.model_dump(exclude={"put_away"}))
    return db.write(lambda s: energy.keep_pack(s, pack, put_away=body.put_away))


@router.put("/models/{model_id}/pack", operation_id="fitPack")
def fit_pack(model_id: uuid.UUID, body: FitPack, db: DbDep) -> Plan:
    """Name the pack that is to fly next, with its volts: the minutes of the sortie count from it."""
    db.write(
        lambda s: energy.fit_pack(s, model_id, body.pack_id, volts=body.volts, full_throttle_a=body.full_throttle_a)
    )
    return plan_view(*db.read(lambda s: plan.with_contested(s, model_id)))


@router.put("/packs/{pack_id}/flights/{flight_id}", operation_id="keepPackFlight")
def keep_flight(pack_id: uuid.UUID, flight_id: uuid.UUID, body: PackFlight, db: DbDep) -> PackView:
    """Write a flight of a pack that is not logged here, a new one under a new id."""
    flight = energy.TypedFlight(**body.model_dump())
    return db.write(lambda s: energy.keep_flight(s, pack_id, flight_id, flight))


@router.delete("/packs/{pack_id}/flights/{flight_id}", operation_id="removePackFlight")
def remove_flight(pack_id: uuid.UUID, flight_id: uuid.UUID, db: DbDep) -> PackView:
    """Take a typed flight out of a pack's history; twice is once."""
    return db.write(lambda s: energy.remove_flight(s, pack_id, flight_id))


@router.put("/sorties/{sortie_id}/put-back", operation_id="putBack")
def put_back(sortie_id: uuid.UUID, body: PutBack, db: DbDep) -> PackView:
    """Write the charge that was put back into the pack after a sortie."""
    return db.write(lambda s: energy.put_back(s, sortie_id, body.charge_c))
