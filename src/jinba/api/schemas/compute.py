"""Shapes of the stateless computation."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import Field

from jinba.api.schemas.models import Strict, Text
from jinba.core.airframe.parts import Surface
from jinba.core.airframe.planform import Planform
from jinba.core.atmosphere.standard import Air
from jinba.core.cards.model import CardRecord
from jinba.core.configuration import Configuration, ModelClass, PilotLimits
from jinba.core.correct.composed import Choices
from jinba.core.diagnose.causes import Cause
from jinba.core.diagnose.tendencies import Tendency
from jinba.core.mass.weighing import Support
from jinba.core.plan.weather import Wind
from jinba.core.stability.neutral_point import NeutralPoint
from jinba.formats.metar import Report


class FlownSortie(Strict):
    """A configuration with the records of a sortie."""

    configuration: Configuration
    records: tuple[CardRecord, ...]


class DebriefRequest(Strict):
    """Sorties in order, oldest first; the last one's configuration is debriefed."""

    sorties: tuple[FlownSortie, ...]


class CorrectionRequest(Strict):
    """Sorties in order and the pilot's choices."""

    sorties: tuple[FlownSortie, ...]
    choices: Choices = Choices()


class WindRequest(Strict):
    """A wind, the stall speed and the pilot's limits [m/s, rad]; what the model is for and which ``sortie`` comes next."""

    wind: Wind
    stall_speed_mps: float
    limits: PilotLimits = PilotLimits()
    model_class: ModelClass = ModelClass.SPORT
    sortie: int = 1


class ArrangementRequest(Strict):
    """A configuration and the balance point wanted [m from the datum]; None for the maiden point."""

    configuration: Configuration
    target_x_m: float | None = None
    tolerance_m: float = 0.0015
    level: bool = False


class SpanPlace(Strict):
    """Where a model was held level: behind the leading edge there, from the centre line, one sigma. [m]"""

    behind_le_m: float
    y_m: float
    sigma_m: float = 0.003


class WeighingRequest(Strict):
    """A reading: held at a span station of a wing, or two to four scales."""

    wing: Surface | None = None
    span: SpanPlace | None = None
    supports: tuple[Support, ...] = ()


@dataclass(frozen=True, slots=True)
class Geometry:
    """Planform of every surface and the neutral point of the whole."""

    planforms: dict[str, Planform]
    neutral_point: NeutralPoint


@dataclass(frozen=True, slots=True)
class DebriefAnswer:
    """Behaviours and causes with the method's version."""

    method: str
    tendencies: tuple[Tendency, ...]
    causes: tuple[Cause, ...]


class MetarRequest(Strict):
    """An aerodrome's report as it was pasted, and the elevation of the field [m]."""

    text: Text = Field(max_length=2000)
    elevation_m: float = Field(default=0.0, ge=-500, le=5000)


@dataclass(frozen=True, slots=True)
class MetarAnswer:
    """What an aerodrome reports, in SI, and the air at the field where pressure and temperature are reported."""

    report: Report
    air: Air | None


@dataclass(frozen=True, slots=True)
class WindForce:
    """A step of the Beaufort scale over land: what it moves, and its means [m/s]; ``usual_mps`` its middle, ``most_mps`` its upper end."""

    number: int
    words: str
    usual_mps: float
    most_mps: float
