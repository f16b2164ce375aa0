"""The unknowns of a model: what may differ from the bench's idea of it, with prior standard deviations."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


class P(IntEnum):
    """Index of each unknown in the parameter vector."""

    STATIC_MARGIN = 0
    PITCH_MOMENT = 1
    THRUST_DOWN = 2
    THRUST_RIGHT = 3
    LATERAL_CG = 4
    TWIST = 5
    YAW_OFFSET = 6
    LN_ELEVATOR = 7
    LN_TORQUE = 8
    LN_SPEED = 9
    LN_CL_MAX = 10
    LN_AILERON = 11
    LN_WORDS = 12


@dataclass(frozen=True, slots=True)
class ParameterInfo:
    """Key, name and prior sigma of an unknown, and the words for a positive and a negative value.

    ``scale`` and ``unit`` say how the value is shown (value times scale, in unit).
    """

    key: str
    name: str
    sigma: float
    positive: str
    negative: str
    scale: float
    unit: str


PARAMETERS: dict[P, ParameterInfo] = {
    # Prior sigmas: docs/methods/estimator.md. The static margin's is replaced by the geometry's and the jig's own.
    P.STATIC_MARGIN: ParameterInfo(
        "static_margin",
        "balance against the neutral point",
        0.03,
        "balances further forward than thought (nose-heavy)",
        "balances further aft than thought (tail-heavy)",
        100.0,
        "% MAC",
    ),
    P.PITCH_MOMENT: ParameterInfo(
        "pitch_moment",
        "angle between wing and tail",
        0.02,
        "wing and tail set nose-up",
        "wing and tail set nose-down",
        1.0,
        "Cm",
    ),
    P.THRUST_DOWN: ParameterInfo(
        "thrust_down",
        "thrust line, up and down",
        math.radians(2.0),
        "motor points further down than measured",
        "motor points further up than measured",
        57.29578,
        "deg",
    ),
    P.THRUST_RIGHT: ParameterInfo(
        "thrust_right",
        "thrust line, left and right",
        math.radians(1.8),
        "motor points further right than measured",
        "motor points further left than measured",
        57.29578,
        "deg",
    ),
    P.LATERAL_CG: ParameterInfo(
        "lateral_cg", "heavy wing", 0.006, "right wing heavy", "left wing heavy", 100.0, "% span"
    ),
    P.TWIST: ParameterInfo(
        "twist",
        "twisted wing",
        math.radians(0.5),
        "right wing washed out, left one washed in",
        "left wing washed out, right one washed in",
        57.29578,
        "deg",
    ),
    P.YAW_OFFSET: ParameterInfo(
        "yaw_offset",
        "rudder or fin out of line",
        math.radians(1.5),
        "fin or rudder sets the nose left",
        "fin or rudder sets the nose right",
        57.29578,
        "deg",
    ),
    P.LN_ELEVATOR: ParameterInfo(
        "elevator_power",
        "elevator power",
        0.2,
        "elevator stronger than computed",
        "elevator weaker than computed",
        100.0,
        "%",
    ),
    P.LN_TORQUE: ParameterInfo(
        "torque", "propeller torque", 0.35, "more torque than computed", "less torque than computed", 100.0, "%"
    ),
    P.LN_SPEED: ParameterInfo(
        "cruise_speed", "airspeed", 0.10, "flies faster than assumed", "flies slower than assumed", 100.0, "%"
    ),
    P.LN_CL_MAX: ParameterInfo(
        "cl_max", "highest lift", 0.20, "stalls slower than computed", "stalls faster than computed", 100.0, "%"
    ),
    P.LN_AILERON: ParameterInfo(
        "aileron_power",
        "aileron power",
        0.20,
        "ailerons stronger than computed",
        "ailerons weaker than computed",
        100.0,
        "%",
    ),
    P.LN_WORDS: ParameterInfo(
        "words",
        "the pilot's words",
        0.25,
        "words stronger than most people's",
        "words weaker than most people's",
        100.0,
        "%",
    ),
}

COUNT = len(PARAMETERS)

OF_THE_PILOT = frozenset({P.LN_WORDS})
"""What is no fault of a model: how strongly its pilot says what he sees."""


ELEVATOR_LOST, AILERON_LOST = -0.15, -0.17
"""Logarithm of what surfaces on hinges lose beyond the one reduction of their lattice (gap, thickness, slop; of ailerons over the damping of
roll): half way between none and what the independent simulation has, docs/methods/estimator.md."""


def prior_means() -> Array:
    """Return the prior means of the unknowns, shape (COUNT,): nothing differs from the bench but what hinged surfaces lose
    (:data:`ELEVATOR_LOST`). Derived here (docs/methods/estimator.md)."""
    means = np.zeros(COUNT)
    means[P.LN_ELEVATOR], means[P.LN_AILERON] = ELEVATOR_LOST, AILERON_LOST
    return means


def prior_sigmas(*, static_margin_sigma: float) -> Array:
    """Return the prior standard deviations, shape (COUNT,); the static margin's from geometry and jig [fraction of MAC].

    Derived here (docs/methods/estimator.md).
    """
    sigmas = np.array([PARAMETERS[p].sigma for p in P])
    sigmas[P.STATIC_MARGIN] = static_margin_sigma
    return sigmas
