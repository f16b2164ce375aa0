"""Published and independently computed planforms.

Neutral points: aerosandbox 4.2.10 VortexLatticeMethod, 24 x 12 per half wing, alpha 0, naca0006, flat surfaces, no body;
checked there with a second, independently written horseshoe lattice. Geometry: closed-form integration.
Stations as (y, x of the leading edge, chord, z) of the right half in metres.
"""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.airframe.parts import Airframe, Body, Role, Section, Surface

Stations = list[tuple[float, float, float, float]]


@dataclass(frozen=True)
class PlanformCase:
    name: str
    surfaces: dict[str, Stations]
    area_m2: float
    mac_m: float
    x_le_mac_m: float
    x_np_m: float
    tolerance_mac: float


CASES = [
    PlanformCase(
        "rectangular high-wing",
        {"wing": [(0, 0, 0.25, 0), (0.75, 0, 0.25, 0)], "tail": [(0, 0.85, 0.15, 0.05), (0.25, 0.85, 0.15, 0.05)]},
        0.375,
        0.25,
        0.0,
        0.1327295401,
        0.010,
    ),
    PlanformCase(
        "straight taper",
        {"wing": [(0, 0, 0.3, 0), (0.8, 0.05, 0.2, 0.04)], "tail": [(0, 0.95, 0.18, 0.08), (0.28, 0.99, 0.12, 0.08)]},
        0.4,
        0.2533333333,
        0.02333333333,
        0.1680509787,
        0.010,
    ),
    PlanformCase(
        "three-panel polyhedral",
        {
            "wing": [(0, 0, 0.22, 0), (0.6, 0, 0.22, 0.02), (1.0, 0.02, 0.18, 0.1), (1.25, 0.05, 0.11, 0.17)],
            "tail": [(0, 0.95, 0.12, 0.1), (0.26, 0.97, 0.08, 0.1)],
        },
        0.4965,
        0.2032292716,
        0.008049681101,
        0.1134934228,
        0.025,
    ),
    PlanformCase(
        "swept wing",
        {"wing": [(0, 0, 0.32, 0), (0.55, 0.3, 0.14, 0)], "tail": [(0, 0.78, 0.16, 0.07), (0.23, 0.91, 0.09, 0.07)]},
        0.253,
        0.2417391304,
        0.1304347826,
        0.2598806558,
        0.010,
    ),
    PlanformCase(
        "flying wing swept 25 degrees",
        {"wing": [(0, 0, 0.28, 0), (0.6, 0.279785, 0.16, 0)]},
        0.264,
        0.2254545455,
        0.127175,
        0.1804836097,
        0.010,
    ),
    PlanformCase(
        "canard",
        {
            "wing": [(0, 0.7, 0.26, 0), (0.65, 0.8, 0.18, 0)],
            "canard": [(0, 0.05, 0.13, 0.06), (0.25, 0.065, 0.10, 0.06)],
        },
        0.286,
        0.2224242424,
        0.746969697,
        0.6802993446,
        0.010,
    ),
    PlanformCase(
        "V-tail, 35 degrees",
        {
            "wing": [(0, 0, 0.22, 0), (1.0, 0.04, 0.13, 0.06)],
            "tail": [(0, 0.95, 0.14, 0.04), (0.22, 0.99, 0.09, 0.194046)],
        },
        0.35,
        0.1788571429,
        0.01828571429,
        0.1244086094,
        0.010,
    ),
    PlanformCase(
        "staggered biplane",
        {
            "wing": [(0, 0, 0.22, 0), (0.55, 0, 0.22, 0)],
            "upper wing": [(0, -0.06, 0.22, 0.24), (0.55, -0.06, 0.22, 0.24)],
            "tail": [(0, 0.72, 0.16, 0.1), (0.21, 0.75, 0.12, 0.1)],
        },
        0.242,
        0.22,
        0.0,
        0.05161622756,
        0.010,
    ),
]


def airframe_of(surfaces: dict[str, Stations]) -> Airframe:
    """Return an airframe of flat surfaces without body from stations."""
    built = tuple(
        Surface(
            key,
            Role.WING if key.endswith("wing") else Role.CANARD if key == "canard" else Role.TAIL,
            s[0][1],
            s[0][3],
            tuple(Section(y, x - s[0][1], c, z - s[0][3]) for y, x, c, z in s),
        )
        for key, s in surfaces.items()
    )
    return Airframe(built, Body(0.0, 0.5, 0.001, 0.001))
