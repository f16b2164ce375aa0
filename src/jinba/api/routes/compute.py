"""Stateless computation: the same numbers for every what-if and any script. Nothing is stored."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Body

from jinba.api.schemas.models import DirectionTable, Rework
from jinba.core.airframe.parts import Airframe
from jinba.core.airframe.planform import Planform, planform_of
from jinba.core.bench.answer import BenchAnswer, bench_answer
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import Card, CardRecord, check_record
from jinba.core.configuration import Configuration, PilotLimits
from jinba.core.correct.compose import Choices, compose
from jinba.core.diagnose.causes import Cause, causes
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, sortie_data, trims_at_landing
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.update import METHOD_VERSION, prior_belief
from jinba.core.errors import JinbaError
from jinba.core.frames import Response, words_for
from jinba.core.observe.situation import design_of
from jinba.core.plan.weather import Wind, WindVerdict, judge_wind
from jinba.core.silhouettes import silhouette_configuration
from jinba.core.stability.aero import aero_model
from jinba.core.stability.neutral_point import NeutralPoint
from jinba.core.symbols import SYMBOLS, Symbol
from jinba.formats.codec import to_json

router = APIRouter(prefix="/api/v1", tags=["compute"])

_EXAMPLE = to_json(silhouette_configuration("high_wing", span_m=1.4))
ConfigurationBody = Annotated[Configuration, Body(openapi_examples={"high wing, 1.4 m": {"value": _EXAMPLE}})]
AirframeBody = Annotated[Airframe, Body(openapi_examples={"high wing, 1.4 m": {"value": _EXAMPLE["airframe"]}})]


@dataclass(frozen=True, slots=True)
class Geometry:
    """Planform of every surface and the neutral point of the whole."""

    planforms: dict[str, Planform]
    neutral_point: NeutralPoint


@dataclass(frozen=True, slots=True)
class FlownSortie:
    """A configuration with the records of a sortie."""

    configuration: Configuration
    records: tuple[CardRecord, ...]


@dataclass(frozen=True, slots=True)
class DebriefRequest:
    """Sorties in order, oldest first; the last one's configuration is debriefed."""

    sorties: tuple[FlownSortie, ...]


@dataclass(frozen=True, slots=True)
class CorrectionRequest:
    """Sorties in order and the pilot's choices."""

    sorties: tuple[FlownSortie, ...]
    choices: Choices = Choices()


@dataclass(frozen=True, slots=True)
class WindRequest:
    """A wind, the stall speed and the pilot's limits. [m/s, rad]"""

    wind: Wind
    stall_speed_mps: float
    limits: PilotLimits = PilotLimits()


@dataclass(frozen=True, slots=True)
class DebriefAnswer:
    """Behaviours and causes with the method's version."""

    method: str
    tendencies: tuple[Tendency, ...]
    causes: tuple[Cause, ...]


@router.post("/compute/geometry", operation_id="computeGeometry")
def compute_geometry(airframe: AirframeBody) -> Geometry:
    """Return area, mean chord and neutral point of an airframe."""
    return Geometry({s.key: planform_of(s) for s in airframe.surfaces}, aero_model(airframe).neutral_point)


@router.post("/compute/balance", operation_id="computeBalance")
def compute_balance(configuration: ConfigurationBody) -> BenchAnswer:
    """Return everything the bench shows for a configuration, from the prior alone."""
    return bench_answer(configuration)


@router.post("/compute/wind", operation_id="computeWind")
def compute_wind(request: WindRequest) -> WindVerdict:
    """Return go, caution or no-go with its reasons."""
    return judge_wind(request.wind, stall_speed_mps=request.stall_speed_mps, limits=request.limits)


@router.post("/compute/debrief", operation_id="computeDebrief")
def compute_debrief(request: DebriefRequest) -> DebriefAnswer:
    """Return what sorties mean: behaviours with sigma, causes with evidence."""
    sorties = _logged(request.sorties)
    setup = sorties[-1].configuration
    belief = belief_after(sorties, configuration=setup)
    data = tuple(d for s in sorties for d in sortie_data(s))
    prior = prior_belief(static_margin_sigma=design_of(setup).static_margin_sigma)
    return DebriefAnswer(
        METHOD_VERSION, tendencies(setup, belief, trims_at_landing(sorties[-1])), causes(prior, data, belief)
    )


@router.post("/compute/corrections", operation_id="computeCorrections")
def compute_corrections(request: CorrectionRequest) -> Rework:
    """Return the composed correction for sorties, with the predicted outcome."""
    sorties = _logged(request.sorties)
    setup = sorties[-1].configuration
    c = compose(setup, belief_after(sorties, configuration=setup), trims_at_landing(sorties[-1]), request.choices)
    return Rework(
        actions=list(c.actions),
        held_back=list(c.held_back),
        setup=c.configuration,
        flown_setup=setup,
        now=list(c.now),
        predicted=list(c.predicted),
        change_words=list(c.difference.words),
        stale=sorted(c.difference.stale),
        wanted_margin=c.wanted_margin,
        shortfall_m=c.shortfall_m,
        decided=None,
    )


def _logged(sorties: tuple[FlownSortie, ...]) -> tuple[LoggedSortie, ...]:
    if not sorties:
        raise JinbaError("Give at least one sortie.")
    for s in sorties:
        for record in s.records:
            if record.card_id not in CARDS:
                raise JinbaError(f"There is no card {record.card_id!r}.")
            check_record(CARDS[record.card_id], record)
    return tuple(LoggedSortie(s.configuration, s.records) for s in sorties)


@router.get("/cards", operation_id="listCards")
def list_cards() -> list[Card]:
    """Return the card catalogue."""
    return list(CARDS.values())


@router.get("/directions", operation_id="getDirections")
def get_directions() -> DirectionTable:
    """Return every direction in words: model, stick, surface, trim lever."""
    table = {}
    for r in Response:
        w = words_for(r)
        table[r.value] = {"model": w.model, "stick": w.stick, "surface": w.surface, "trim_lever": w.trim_lever}
    return DirectionTable(responses=table)


@router.get("/symbols", operation_id="listSymbols")
def list_symbols() -> list[Symbol]:
    """Return the nomenclature."""
    return list(SYMBOLS)
