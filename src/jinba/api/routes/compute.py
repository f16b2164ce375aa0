"""Stateless computation: the same numbers for every what-if and any script. Nothing is stored."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Body, Query

from jinba.api.schemas.compute import (
    ArrangementRequest,
    CorrectionRequest,
    DebriefAnswer,
    DebriefRequest,
    FlownSortie,
    Geometry,
    MetarAnswer,
    MetarRequest,
    WeighingRequest,
    WindForce,
    WindRequest,
)
from jinba.api.schemas.models import DirectionTable, Rework
from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.planform import planform_of
from jinba.core.atmosphere.beaufort import FORCES
from jinba.core.atmosphere.standard import air_at
from jinba.core.bench.answer import BenchAnswer, bench_answer
from jinba.core.bench.arrange import Arrangements, arrangements
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import Card, check_record
from jinba.core.configuration import Configuration
from jinba.core.correct.compose import compose
from jinba.core.diagnose.causes import causes
from jinba.core.diagnose.pairs import pairs_said
from jinba.core.diagnose.seen import seen_in
from jinba.core.diagnose.sorties import (
    LoggedSortie,
    belief_after,
    carried,
    data_by_record,
    sortie_data,
    trims_at_landing,
)
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import METHOD_VERSION, prior_of
from jinba.core.errors import JinbaError
from jinba.core.frames import (
    Axis,
    DirectionWords,
    PitchControl,
    Response,
    control_name,
    words_for,
    words_for_pilot,
)
from jinba.core.mass.weighing import BalanceReading, scales_reading, span_reading
from jinba.core.observe.situation import design_of
from jinba.core.plan.weather import WindVerdict, judge_wind
from jinba.core.silhouettes import silhouette_configuration
from jinba.core.stability.aero import aero_model
from jinba.core.stability.heights import at_height
from jinba.core.symbols import SYMBOLS, Symbol
from jinba.formats.codec import to_json
from jinba.formats.metar import read_metar

router = APIRouter(prefix="/api/v1", tags=["compute"])

_EXAMPLE = to_json(silhouette_configuration("high_wing", span_m=1.4))
ConfigurationBody = Annotated[Configuration, Body(openapi_examples={"high wing, 1.4 m": {"value": _EXAMPLE}})]
AirframeBody = Annotated[Airframe, Body(openapi_examples={"high wing, 1.4 m": {"value": _EXAMPLE["airframe"]}})]


_ARRANGEMENT = {"configuration": _EXAMPLE, "target_x_m": 0.062, "level": True}


ArrangementBody = Annotated[
    ArrangementRequest, Body(openapi_examples={"62 mm behind the leading edge": {"value": _ARRANGEMENT}})
]


_HELD = {"wing": _EXAMPLE["airframe"]["surfaces"][0], "span": {"behind_le_m": 0.06, "y_m": 0.12}}
_SCALES = {
    "supports": [
        {"name": "nose wheel", "mass_kg": 0.24, "x_m": -0.19},
        {"name": "main wheels", "mass_kg": 1.65, "x_m": 0.118},
    ]
}
WeighingBody = Annotated[
    WeighingRequest, Body(openapi_examples={"held at a place": {"value": _HELD}, "two scales": {"value": _SCALES}})
]
_SORTIE = {
    "configuration": _EXAMPLE,
    "records": [
        {
            "card_id": "F2",
            "outcome": "done",
            "left_alone": True,
            "readings": [
                {"key": "pitch_clicks", "number": 6, "direction": "nose_up"},
                {"key": "left_over", "choice": "holds"},
            ],
        },
        {
            "card_id": "F7",
            "outcome": "done",
            "readings": [
                {"key": "stick_held", "number": 0.2, "direction": "nose_up"},
                {"key": "roll_slow", "choice": "left"},
                {"key": "bank_wing", "choice": "left"},
                {"key": "bank_time", "number": 5.5},
            ],
        },
    ],
}
_WIND = {
    "wind": {"speed_mps": 4.0, "gust_mps": 6.0, "from_rad": 4.5, "strip_heading_rad": 4.19},
    "stall_speed_mps": 8.5,
}
DebriefBody = Annotated[DebriefRequest, Body(openapi_examples={"one sortie": {"value": {"sorties": [_SORTIE]}}})]
CorrectionBody = Annotated[
    CorrectionRequest,
    Body(
        openapi_examples={
            "one sortie, no ballast": {"value": {"sorties": [_SORTIE], "choices": {"use_ballast": False}}},
        }
    ),
]
WindBody = Annotated[WindRequest, Body(openapi_examples={"a breeze across": {"value": _WIND}})]
_REPORT = {"text": "METAR ZZZZ 211220Z 24008KT 9999 FEW040 24/12 Q1018", "elevation_m": 420.0}
MetarBody = Annotated[MetarRequest, Body(openapi_examples={"a light wind from the south-west": {"value": _REPORT}})]


HeightQuery = Annotated[float | None, Query(ge=-12.0, le=12.0, allow_inf_nan=False)]


@router.post("/compute/geometry", operation_id="computeGeometry")
def compute_geometry(airframe: AirframeBody, z_cg_m: HeightQuery = None) -> Geometry:
    """Return area, mean chord and neutral point of an airframe.

    ``z_cg_m``: height of its balance point over the datum line [m]; without one the neutral point is that of a model that balances at the
    height of every surface.
    """
    aero = aero_model(airframe)
    known = aero if z_cg_m is None else at_height(airframe, aero, z_cg_m=z_cg_m)
    return Geometry({s.key: planform_of(s) for s in airframe.surfaces}, known.neutral_point)


@router.post("/compute/balance", operation_id="computeBalance")
def compute_balance(configuration: ConfigurationBody) -> BenchAnswer:
    """Return everything the bench shows for a configuration, from the prior alone."""
    return bench_answer(configuration)


@router.post("/compute/arrangements", operation_id="computeArrangements")
def compute_arrangements(request: ArrangementBody) -> Arrangements:
    """Return the best few ways to a balance point."""
    return arrangements(
        request.configuration,
        target_x_m=request.target_x_m,
        tolerance_m=request.tolerance_m,
        level=request.level,
    )


@router.post("/compute/weighing", operation_id="computeWeighing")
def compute_weighing(request: WeighingBody) -> BalanceReading:
    """Return the balance point that a reading means, with its error and what is odd about it."""
    if request.span is not None and request.wing is not None:
        s = request.span
        return span_reading(request.wing, behind_le_m=s.behind_le_m, y_m=s.y_m, sigma_m=s.sigma_m)
    return scales_reading(request.supports)


@router.post("/compute/wind", operation_id="computeWind")
def compute_wind(request: WindBody) -> WindVerdict:
    """Return go, caution or no-go with its reasons."""
    return judge_wind(
        request.wind,
        stall_speed_mps=request.stall_speed_mps,
        limits=request.limits,
        model_class=request.model_class,
        sortie=request.sortie,
    )


@router.post("/compute/metar", operation_id="computeMetar")
def compute_metar(request: MetarBody) -> MetarAnswer:
    """Return what an aerodrome reports, and the air it means at the field."""
    report = read_metar(request.text)
    if report.qnh_pa is None or report.temperature_k is None:
        return MetarAnswer(report, None)
    air = air_at(qnh_pa=report.qnh_pa, elevation_m=request.elevation_m, temperature_k=report.temperature_k)
    return MetarAnswer(report, air)


@router.get("/wind-forces", operation_id="listWindForces")
def list_wind_forces() -> list[WindForce]:
    """Return the wind by what it moves, calm first."""
    return [WindForce(f.number, f.words, f.usual_mps, f.high_mps or f.low_mps) for f in FORCES]


@router.post("/compute/debrief", operation_id="computeDebrief")
def compute_debrief(request: DebriefBody) -> DebriefAnswer:
    """Return what sorties mean: behaviours with sigma, causes with evidence."""
    sorties = _logged(request.sorties)
    setup = sorties[-1].configuration
    belief = belief_after(sorties, configuration=setup)
    data = tuple(d for s in sorties for d in sortie_data(s))
    prior = prior_of(design_of(setup))
    return DebriefAnswer(
        METHOD_VERSION, tendencies(setup, belief, trims_at_landing(sorties[-1])), causes(prior, data, belief)
    )


@router.post("/compute/corrections", operation_id="computeCorrections")
def compute_corrections(request: CorrectionBody) -> Rework:
    """Return the composed correction for sorties, with the predicted outcome."""
    sorties = _logged(request.sorties)
    setup = sorties[-1].configuration
    belief, landed = belief_after(sorties, configuration=setup), trims_at_landing(sorties[-1])
    odd = pairs_said(prior_of(design_of(setup)), belief, data_by_record(sorties))
    c = compose(setup, belief, landed, seen_in(sorties, setup), request.choices, disagreeing=odd)
    return Rework.of(c, flown=setup)


def _logged(sorties: tuple[FlownSortie, ...]) -> tuple[LoggedSortie, ...]:
    if not sorties:
        raise JinbaError("Give at least one sortie.")
    for s in sorties:
        for record in s.records:
            if record.card_id not in CARDS:
                raise JinbaError(f"There is no card {record.card_id!r}.")
            check_record(CARDS[record.card_id], record)
    return carried(tuple(LoggedSortie(s.configuration, s.records) for s in sorties))


@router.get("/cards", operation_id="listCards")
def list_cards() -> list[Card]:
    """Return the card catalogue."""
    return list(CARDS.values())


@router.get("/directions", operation_id="getDirections")
def get_directions(
    layout: PitchControl = PitchControl.TAIL,
    mode: Annotated[int | None, Query(ge=1, le=4)] = None,
    levers: Annotated[str, Query(max_length=30)] = "",
) -> DirectionTable:
    """Return every direction in words: model, stick, surface, trim lever; ``layout`` is what pitches the model.

    ``mode``: the pilot's stick mode, 1 to 4, names the stick by its side; ``levers``: axes whose trim lever is reversed,
    separated by commas.
    """
    other = tuple(a for a in levers.split(",") if a)
    words = {
        r.value: words_for(r, layout) if mode is None else words_for_pilot(r, layout, mode=mode, levers_reversed=other)
        for r in Response
    }
    return direction_table(words, layout)


def direction_table(words: dict[str, DirectionWords], layout: PitchControl) -> DirectionTable:
    """Return directions in words as a table."""
    table = {
        r: {"model": w.model, "stick": w.stick, "surface": w.surface, "trim_lever": w.trim_lever}
        for r, w in words.items()
    }
    return DirectionTable(responses=table, controls={axis.value: control_name(axis, layout) for axis in Axis})


@router.get("/symbols", operation_id="listSymbols")
def list_symbols() -> list[Symbol]:
    """Return the nomenclature."""
    return list(SYMBOLS)
