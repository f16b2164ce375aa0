"""From what was measured to what it means: sections, outlines, balance across and in height, inertia, wing mount, scales."""

from __future__ import annotations

import math
import uuid
from typing import Annotated

from fastapi import APIRouter, Body, Query

from jinba.api.deps import DbDep, UploadDep
from jinba.api.routes.compute import AirframeBody
from jinba.api.schemas.measures import (
    EllipseRequest,
    HeightRequest,
    LateralRequest,
    MountRequest,
    OutlineRequest,
    ScalesAnswer,
    ScalesRequest,
    SectionChoice,
    SwingRequest,
    Swung,
)
from jinba.core.airframe.measuring import MeasuringStep, measuring_steps
from jinba.core.airframe.outline import elliptical_sections
from jinba.core.airframe.parts import Foil, Section
from jinba.core.bench.mount import WingMount, wing_mount
from jinba.core.mass.across import AxisEstimate, height_by_hanging, lateral_balance
from jinba.core.mass.weighing import bifilar_inertia_kg_m2, pendulum_inertia_kg_m2
from jinba.core.stability.section_library import SECTIONS
from jinba.formats.airfoil import LARGEST_BYTES, read_airfoil
from jinba.formats.outline_table import read_outline
from jinba.services import instruments

router = APIRouter(prefix="/api/v1", tags=["measures"])


_COORDINATES = """thin section
1.0 0.0
0.7 0.0275
0.4 0.0435
0.2 0.043
0.05 0.0267
0.0 0.0
0.05 -0.0267
0.2 -0.043
0.4 -0.0435
0.7 -0.0275
1.0 0.0
"""
_ELLIPSE = {"half_span_m": 0.75, "root_chord_m": 0.26, "straight_at": 0.3}
_TABLE = {"table": "0 0 260\n300 8 250\n600 40 180\n750 95 60", "millimetres_per_unit": 1}
_TIP = {"tip_mass_kg": 0.012, "tip": "left", "half_span_m": 0.75, "mass_kg": 2.4}
_HUNG = {"x_cg_m": 0.08, "x_hang_m": 0.78, "z_hang_m": 0.0, "lean_to_canopy_rad": 0.03}
_STRINGS = {"mass_kg": 2.4, "period_s": 2.1, "spacing_m": 0.6, "length_m": 1.5}
EllipseBody = Annotated[EllipseRequest, Body(openapi_examples={"1.5 m wing": {"value": _ELLIPSE}})]
OutlineBody = Annotated[OutlineRequest, Body(openapi_examples={"four chords": {"value": _TABLE}})]
LateralBody = Annotated[LateralRequest, Body(openapi_examples={"12 g on the left tip": {"value": _TIP}})]
HeightBody = Annotated[HeightRequest, Body(openapi_examples={"hung by the tail": {"value": _HUNG}})]
SwingBody = Annotated[SwingRequest, Body(openapi_examples={"two strings": {"value": _STRINGS}})]


@router.get("/sections", operation_id="listSections")
def list_sections() -> list[SectionChoice]:
    """Return the section library."""
    return [
        SectionChoice(
            s.key,
            s.family,
            Foil(
                s.name,
                s.thickness,
                s.camber,
                math.radians(s.zero_lift_deg),
                s.cm_zero_lift,
                s.cl_max,
                "library: neuralfoil 0.3.3 on open coordinates",
            ),
        )
        for s in SECTIONS.values()
    ]


@router.post(
    "/compute/section",
    operation_id="computeSection",
    max_body_size=LARGEST_BYTES,
    openapi_extra={
        "requestBody": {
            "content": {
                "text/plain": {"schema": {"type": "string"}, "examples": {"a 9 % section": {"value": _COORDINATES}}}
            },
            "required": True,
        }
    },
)
def compute_section(data: UploadDep, file_name: Annotated[str, Query(max_length=200)] = "") -> Foil:
    """Return the section of a coordinate file."""
    return read_airfoil(data, file_name=file_name)


@router.post("/compute/outline", operation_id="computeOutline")
def compute_outline(request: OutlineBody) -> tuple[Section, ...]:
    """Return the stations of a half wing from a table."""
    return read_outline(request.table, millimetres_per_unit=request.millimetres_per_unit)


@router.post("/compute/ellipse", operation_id="computeEllipse")
def compute_ellipse(request: EllipseBody) -> tuple[Section, ...]:
    """Return the stations of an elliptical half wing."""
    r = request
    return elliptical_sections(
        half_span_m=r.half_span_m, root_chord_m=r.root_chord_m, straight_at=r.straight_at, tip_rise_m=r.tip_rise_m
    )


@router.post("/compute/measuring-steps", operation_id="computeMeasuringSteps")
def compute_measuring_steps(airframe: AirframeBody) -> tuple[MeasuringStep, ...]:
    """Return what to measure on an airframe, in the order in which one measures a model lying on a table."""
    return measuring_steps(airframe)


@router.post("/compute/lateral", operation_id="computeLateral")
def compute_lateral(request: LateralBody) -> AxisEstimate:
    """Return how far off the centre line a model balances."""
    r = request
    return lateral_balance(
        tip_mass_kg=r.tip_mass_kg, on_left_tip=r.tip == "left", half_span_m=r.half_span_m, mass_kg=r.mass_kg
    )


@router.post("/compute/height", operation_id="computeHeight")
def compute_height(request: HeightBody) -> AxisEstimate:
    """Return the height of the balance point from a hanging model."""
    r = request
    return height_by_hanging(
        x_cg_m=r.x_cg_m, x_hang_m=r.x_hang_m, z_hang_m=r.z_hang_m, lean_to_canopy_rad=r.lean_to_canopy_rad
    )


@router.post("/compute/swing", operation_id="computeSwing")
def compute_swing(request: SwingBody) -> Swung:
    """Return the moment of inertia of a swinging model: two strings when spacing and length are given, else a pendulum."""
    r = request
    if r.spacing_m is not None and r.length_m is not None:
        return Swung(
            bifilar_inertia_kg_m2(mass_kg=r.mass_kg, spacing_m=r.spacing_m, length_m=r.length_m, period_s=r.period_s)
        )
    return Swung(pendulum_inertia_kg_m2(mass_kg=r.mass_kg, arm_m=r.arm_m or 0.0, period_s=r.period_s))


@router.post("/models/{model_id}/wing-mount", operation_id="wingMount")
def mount(model_id: uuid.UUID, body: MountRequest, db: DbDep) -> WingMount:
    """Return where the wing must be mounted on a bare fuselage. Nothing is stored."""
    return wing_mount(
        db.history(model_id).setup,
        bare_mass_kg=body.bare_mass_kg,
        bare_x_m=body.bare_x_m,
        wing_mass_kg=body.wing_mass_kg,
        wing_x_m=body.wing_x_m,
    )


@router.post("/models/{model_id}/scales", operation_id="readScales")
def read_scales(model_id: uuid.UUID, body: ScalesRequest, db: DbDep) -> ScalesAnswer:
    """Return what the scales under the model show now."""
    return ScalesAnswer(instruments.read_scales(db.history(model_id), body.places), simulated=True)
