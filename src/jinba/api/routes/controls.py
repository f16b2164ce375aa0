"""Controls desk: linkages, throws, mixes, trim, radio and stabiliser; papers and tables of it."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from fastapi import APIRouter, Body, Response

from jinba.api.deps import DbDep, IfMatch, UploadDep
from jinba.api.routes.compute import ConfigurationBody
from jinba.api.routes.models import detail, tagged
from jinba.api.schemas.controls import (
    DeviceRequest,
    HolesRequest,
    LevelRequest,
    LinkageAnswer,
    LinkageRequest,
    RateRequest,
    ReversalRequest,
    ShimRequest,
    TransferAnswer,
    TransferRequest,
)
from jinba.api.schemas.models import ModelDetail
from jinba.api.units import UnitsDep
from jinba.core.bench.authority import ThrowSetting, rate_for_throw
from jinba.core.bench.controls import ControlsAnswer, controls_answer, section_chord_m
from jinba.core.bench.level import level_for
from jinba.core.configuration import Configuration
from jinba.core.controls.holes import HoleChoice, hole_search
from jinba.core.controls.linkage import square_lean_rad
from jinba.core.controls.shims import Shim, mount_shim, seat_shim
from jinba.core.controls.stabiliser import LevelCorrection
from jinba.core.controls.travel import travel
from jinba.core.diagnose.reversal import Reversal
from jinba.core.errors import JinbaError
from jinba.core.observe.situation import design_of
from jinba.formats.paper import to_pdf, to_svg
from jinba.formats.throw_table import LARGEST_BYTES
from jinba.services import controls

router = APIRouter(prefix="/api/v1", tags=["controls"])


_LINKAGE = {
    "fitting": {"role": "elevator", "channel": 2, "chord_m": 0.045, "span_m": 0.4},
    "section_chord_m": 0.15,
    "speed_mps": 28.0,
}
_MOUNT = {"tilt": "down", "angle_rad": 0.035, "spacing_m": 0.025, "x_motor_ahead_of_cg_m": 0.3}
_SEAT = {"seat": "wing_on_top", "angle_rad": 0.0175, "spacing_m": 0.14}
LinkageBody = Annotated[LinkageRequest, Body(openapi_examples={"an elevator": {"value": _LINKAGE}})]
ShimBody = Annotated[
    ShimRequest, Body(openapi_examples={"2° of down-thrust": {"value": _MOUNT}, "1° on a wing seat": {"value": _SEAT}})
]


@router.post("/compute/controls", operation_id="computeControls")
def compute_controls(configuration: ConfigurationBody) -> ControlsAnswer:
    """Return everything the controls desk shows for a configuration."""
    return controls_answer(configuration)


@router.post("/compute/linkage", operation_id="computeLinkage")
def compute_linkage(request: LinkageBody) -> LinkageAnswer:
    """Return what a fitting does: travel, resolution, binding, torque left."""
    r = request
    found = travel(r.fitting, speed_mps=r.speed_mps, density_kg_m3=r.density_kg_m3, section_chord_m=r.section_chord_m)
    return LinkageAnswer(found, square_lean_rad(r.fitting.linkage))


@router.post("/compute/shim", operation_id="computeShim")
def compute_shim(request: ShimBody) -> Shim:
    """Return the washers or the shim for an angle, where they go and what the model then does."""
    r = request
    if r.tilt is not None:
        return mount_shim(
            r.tilt,
            angle_rad=r.angle_rad,
            spacing_m=r.spacing_m,
            propeller_faces_aft=r.propeller_faces_aft,
            x_motor_ahead_of_cg_m=r.x_motor_ahead_of_cg_m,
        )
    if r.seat is None:
        raise JinbaError("Say what is shimmed: the motor's tilt, or the seat of wing or tail.", name="seat")
    return seat_shim(r.seat, raise_rad=r.angle_rad, spacing_m=r.spacing_m)


@router.get("/models/{model_id}/controls", operation_id="getControls")
def get_controls(model_id: uuid.UUID, db: DbDep) -> controls.ControlsView:
    """Return the controls desk of a model."""
    return controls.controls_view(db.read(lambda s: controls.desk(s, model_id)))


@router.post("/models/{model_id}/holes", operation_id="searchHoles")
def search_holes(model_id: uuid.UUID, body: HolesRequest, db: DbDep) -> tuple[HoleChoice, ...]:
    """Return the pairs of holes that give a throw, the finest resolution first. Nothing is stored."""
    c: Configuration = db.history(model_id).setup
    setup = c.control_setup
    fitting = next((f for f in setup.fittings if f.role.value == body.role), None)
    if fitting is None:
        raise JinbaError(f"There is no {body.role.replace('_', ' ')} on this model.", name="role")
    if not 1 <= len(body.arm_holes_m) <= 20 or not 1 <= len(body.horn_holes_m) <= 20:
        raise JinbaError("One to twenty holes on the arm and on the horn.", name="holes")
    return hole_search(
        fitting,
        arm_holes_m=body.arm_holes_m,
        horn_holes_m=body.horn_holes_m,
        wanted_m=body.wanted_m,
        speed_mps=controls_answer(c).dive_speed_mps,
        density_kg_m3=c.density_kg_m3,
        section_chord_m=section_chord_m(c, fitting),
    )


@router.post("/models/{model_id}/square-arm/{role}", operation_id="squareArm")
def square_arm(model_id: uuid.UUID, role: str, db: DbDep) -> float:
    """Return the lean of a servo arm [rad] that sets it square to its rod. Nothing is stored."""
    setup = db.history(model_id).setup.control_setup
    fitting = next((f for f in setup.fittings if f.role.value == role), None)
    if fitting is None:
        raise JinbaError(f"There is no {role.replace('_', ' ')} on this model.", name="role")
    return square_lean_rad(fitting.linkage)


@router.post("/models/{model_id}/rate-for", operation_id="rateFor")
def rate_for(model_id: uuid.UUID, body: RateRequest, db: DbDep) -> ThrowSetting:
    """Return the rate that gives a throw at the trailing edge. Nothing is stored."""
    setup = db.history(model_id).setup.control_setup
    return rate_for_throw(setup, body.axis, straight_m=body.straight_m, first=body.first)


@router.post("/models/{model_id}/trim-transfer", operation_id="moveTrim")
def move_trim(
    model_id: uuid.UUID, body: TransferRequest, db: DbDep, response: Response, version: IfMatch = None
) -> TransferAnswer:
    """Move trim out of the radio and save it; 409 when somebody saved in between or the device forbids the way."""
    base = body.base_revision if version is None else version
    known, moved = db.write(lambda s: controls.move_trim(s, model_id, base_version=base, way=body.way, axes=body.axes))
    return TransferAnswer(tagged(response, known), moved.steps, moved.to_find)


@router.post("/models/{model_id}/level-reference", operation_id="levelReference")
def level_reference(model_id: uuid.UUID, body: LevelRequest, db: DbDep) -> LevelCorrection:
    """Return the change of the level reference for what self-levelling flight showed. Nothing is stored."""
    design = design_of(db.history(model_id).setup)
    return level_for(design, height_m=body.height_m, seconds=body.seconds)


@router.post("/models/{model_id}/reversal", operation_id="reversalTrial")
def reversal_trial(model_id: uuid.UUID, body: ReversalRequest, db: DbDep) -> tuple[Reversal, ...]:
    """Return the effect of a change proved by putting the old setting back. Nothing is stored."""
    flown = db.read(lambda s: controls.flown_sorties(s, model_id))
    return controls.reversal_of(flown, sorties=(body.first, body.changed, body.again), card_id=body.card_id)


@router.post("/models/{model_id}/devices", operation_id="readDevices")
def read_devices(model_id: uuid.UUID, body: DeviceRequest, db: DbDep) -> controls.DeviceReading:
    """Return what radio and controller hold now; on request the set-up sheet is written to them."""
    return controls.read_devices(db.history(model_id), write_sheet=body.write_sheet)


@router.get("/models/{model_id}/setup-sheet.{kind}", operation_id="setupSheet", response_class=Response)
def setup_sheet(model_id: uuid.UUID, kind: Literal["pdf", "svg", "csv"], db: DbDep, units: UnitsDep) -> Response:
    """Return the set-up sheet on one page, or as a table."""
    known = db.history(model_id)
    headers = {"Content-Disposition": f'inline; filename="setup-sheet.{kind}"'}
    if kind == "csv":
        return Response(controls.table_of(known, units), media_type="text/csv; charset=utf-8", headers=headers)
    sheet = controls.sheet_of(known, units)
    if kind == "pdf":
        return Response(to_pdf(sheet), media_type="application/pdf", headers=headers)
    return Response(to_svg(sheet).encode(), media_type="image/svg+xml", headers=headers)


@router.get("/models/{model_id}/throws.csv", operation_id="throwsOut", response_class=Response)
def throws_out(model_id: uuid.UUID, db: DbDep) -> Response:
    """Return the throws of every rate as a table in millimetres."""
    headers = {"Content-Disposition": 'attachment; filename="throws.csv"'}
    table = controls.throws_out(db.history(model_id))
    return Response(table, media_type="text/csv; charset=utf-8", headers=headers)


@router.put(
    "/models/{model_id}/throws.csv",
    operation_id="throwsIn",
    max_body_size=LARGEST_BYTES,
    openapi_extra={"requestBody": {"content": {"text/csv": {"schema": {"type": "string"}}}, "required": True}},
)
def throws_in(model_id: uuid.UUID, data: UploadDep, db: DbDep, version: IfMatch = None) -> ModelDetail:
    """Set the rates from a table of throws; nothing is changed when it cannot be read."""
    return detail(db.write(lambda s: controls.throws_in(s, model_id, data, version=version)))
