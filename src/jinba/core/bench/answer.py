"""Everything the bench shows for a configuration, each number with its reason: one call for every what-if."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.layout import lifting_area_m2, lifting_surfaces
from jinba.core.airframe.twist import twist_findings
from jinba.core.atmosphere.standard import density_altitude_m
from jinba.core.bench.adequacy import adequacy
from jinba.core.bench.checks import Adequacy
from jinba.core.bench.fingers import Fingers, fingers_of
from jinba.core.bench.fuel import TankEmpty, tank_empty
from jinba.core.bench.maiden import MaidenPoint, maiden_point
from jinba.core.bench.mission import Mission, mission_of
from jinba.core.bench.order import order_said
from jinba.core.bench.origins import Origin, Origins, origins_of
from jinba.core.bench.reason import out_of_reason
from jinba.core.bench.remedies import Remedy, remedies
from jinba.core.bench.schools import School, schools
from jinba.core.configuration import Configuration, balance_of, with_carried_jig
from jinba.core.diagnose.goal import Goal, goal_of
from jinba.core.diagnose.tendencies import Tendency, risk_behind_minimum, tendencies
from jinba.core.diagnose.update import Belief, prior_of
from jinba.core.frames import BEHIND, forward_or_aft, station_words
from jinba.core.mass.items import ItemKind, sum_items
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import Design, Trims, design_of, resting_trims
from jinba.core.said import Said, Severity
from jinba.core.spoken import a_distance, a_length, a_mass
from jinba.core.stability.sections import WING_CLMAX_SIGMA
from jinba.core.stability.stall import wing_loading_kg_m2
from jinba.core.stability.unsure import unsure_m
from jinba.core.uncertainty import Estimate, Input, Reason

DISAGREEMENT_SIGMAS = 2.0


@dataclass(frozen=True, slots=True)
class Number:
    """A computed value: SI ``value`` and ``sigma`` of a ``quantity`` (length, mass, speed, ...), with its reason.

    ``below_zero``: what is said behind its size where it is negative, so that no sign is lost and none has to be read. ``origin``: measured
    itself, computed from what is, or inferred from flight.
    """

    key: str
    label: str
    quantity: str
    value: float
    sigma: float | None
    reason: Reason
    caveats: tuple[Said, ...] = ()
    below_zero: str = ""
    origin: Origin = Origin.COMPUTED


@dataclass(frozen=True, slots=True)
class PackMark:
    """Where the model would balance with another pack, in its place: station [m] and static margin."""

    key: str
    name: str
    x_cg_m: float
    static_margin: float


@dataclass(frozen=True, slots=True)
class BenchAnswer:
    """All numbers, the points on the station ruler [m from the datum], maiden point, fingers, risk and tendencies.

    ``pack_key``: the pack that is moved first, None without one. ``tank_empty``: what burning its fuel does, None without fuel.
    """

    numbers: tuple[Number, ...]
    x_cg_m: float
    x_cg_sigma_m: float
    y_cg_m: float
    x_np_m: float
    x_np_sigma_m: float
    x_le_mac_m: float
    mac_m: float
    y_mac_m: float
    band_m: tuple[float, float]
    goal: Goal
    static_margin: float
    static_margin_sigma: float
    risk: float
    maiden: MaidenPoint
    fingers: Fingers
    items_x_cg_m: float
    items_y_cg_m: float
    items_z_cg_m: float
    disagreement_m: float | None
    disagreement: Said | None
    tendencies: tuple[Tendency, ...]
    caveats: tuple[Said, ...]
    thumb: str
    pack_key: str | None
    pack_marks: tuple[PackMark, ...]
    adequacy: tuple[Adequacy, ...]
    twist: tuple[Said, ...]
    schools: tuple[School, ...]
    remedies: tuple[Remedy, ...]
    mission: Mission | None
    tank_empty: TankEmpty | None
    order: Said | None
    origins: Origins


def bench_answer(
    configuration: Configuration, *, belief: Belief | None = None, trims: Trims | None = None
) -> BenchAnswer:
    """Return everything the bench shows. With a belief from flights its balance finding moves the neutral point shown.

    Without one the prior applies. Raises: errors of the airframe, items and controls, each naming the field.
    """
    design = design_of(configuration)
    known = belief if belief is not None else prior_of(design)
    found = float(known.mean[P.STATIC_MARGIN])
    mac = design.aero.planform.mac_m
    margin = design.static_margin + found
    sigma = float(known.sigma[P.STATIC_MARGIN])
    x_np = design.aero.neutral_point.x_m + found * mac
    x_np_sigma = design.aero.neutral_point.sigma_total_m if belief is None else sigma * mac
    goal = goal_of(configuration, known)
    risk = risk_behind_minimum(configuration, margin_fraction=margin, sigma_fraction=sigma)
    maiden = maiden_point(design)
    summed = sum_items(configuration.items)
    return BenchAnswer(
        numbers=_numbers(design, margin, sigma, Estimate(x_np, x_np_sigma), risk, flown=belief is not None),
        x_cg_m=design.balance.x_m,
        x_cg_sigma_m=design.balance.sigma_m,
        y_cg_m=design.balance.mass.y_m,
        x_np_m=x_np,
        x_np_sigma_m=x_np_sigma,
        x_le_mac_m=design.aero.planform.x_le_mac_m,
        mac_m=mac,
        y_mac_m=design.aero.planform.y_mac_m,
        band_m=(x_np - mac * goal.band[1], x_np - mac * goal.band[0]),
        goal=goal,
        static_margin=margin,
        static_margin_sigma=sigma,
        risk=risk,
        maiden=maiden,
        fingers=fingers_of(design),
        items_x_cg_m=design.balance.mass.x_m,
        items_y_cg_m=summed.y_m,
        items_z_cg_m=summed.z_m,
        disagreement_m=design.balance.disagreement_m,
        disagreement=_disagreement(design),
        tendencies=tendencies(configuration, known, trims if trims is not None else resting_trims(configuration)),
        caveats=(*out_of_reason(configuration), *design.aero.neutral_point.caveats),
        thumb=_thumb(design),
        pack_key=None if configuration.battery is None else configuration.battery.key,
        pack_marks=_pack_marks(configuration, x_np, mac),
        adequacy=adequacy(design),
        twist=tuple(f for s in configuration.airframe.surfaces for f in twist_findings(s)),
        schools=schools(design, maiden, goal, x_np_m=x_np, sigma_m=sigma * mac, flown=belief is not None),
        remedies=remedies(design, maiden),
        mission=mission_of(configuration, x_np_m=x_np),
        tank_empty=tank_empty(configuration, x_np_m=x_np),
        order=order_said(configuration),
        origins=origins_of(design),
    )


def _pack_marks(c: Configuration, x_np_m: float, mac_m: float) -> tuple[PackMark, ...]:
    flown = c.battery
    marks = []
    for pack in c.items:
        if flown is None or pack.kind is not ItemKind.BATTERY or pack.fitted or pack.to_come:
            continue
        swapped = {flown.key: replace(flown, fitted=False), pack.key: replace(pack, fitted=True)}
        after = with_carried_jig(c, replace(c, items=tuple(swapped.get(i.key, i) for i in c.items)))
        x = balance_of(after).x_m
        marks.append(PackMark(pack.key, pack.name, x, (x_np_m - x) / mac_m))
    return tuple(marks)


_AHEAD = "ahead"


def _numbers(
    design: Design, margin: float, sigma: float, point: Estimate, risk: float, *, flown: bool
) -> tuple[Number, ...]:
    told, x_np = Origin.INFERRED if flown else Origin.COMPUTED, point.value
    p, np_, balance = design.aero.planform, design.aero.neutral_point, design.balance
    mass = balance.mass.mass_kg
    c = design.configuration
    return (
        Number(
            "mass",
            "Mass",
            "mass",
            mass,
            None,
            Reason(
                "sum of items",
                "m = sum m_i",
                "FAA-H-8083-1",
                tuple(Input(i.name, a_mass(i.mass_kg)) for i in c.items if i.fitted),
            ),
        ),
        Number(
            "area",
            "Wing area",
            "area",
            p.area_m2,
            None,
            Reason(
                "exact panel integrals",
                "S = 2 sum h (c0 + c1)/2",
                "Etkin and Reid, 1996, app. C",
                (Input("span", a_length(p.span_m)),),
            ),
        ),
        Number(
            "mac",
            "Mean aerodynamic chord",
            "length",
            p.mac_m,
            None,
            Reason(
                "exact panel integrals",
                "MAC = (2/S) int c^2 dy",
                "Etkin and Reid, 1996, app. C",
                (Input("leading edge of the MAC", station_words(p.x_le_mac_m, c.datum)),),
            ),
        ),
        Number(
            "neutral_point",
            "Neutral point",
            "length",
            x_np,
            point.sigma,
            Reason(
                "vortex lattice with body and tail efficiency",
                "x_np = - sum M / sum L per angle of attack",
                "docs/methods/neutral-point.md",
                (
                    Input("lattice accuracy", a_length(np_.sigma_numerical_m, 1)),
                    Input(
                        "guesses and readings of the airframe", a_length(unsure_m(c.airframe, c.guessed, c.taken), 1)
                    ),
                    Input(
                        "tail-volume form",
                        "-" if np_.x_tail_volume_m is None else station_words(np_.x_tail_volume_m, c.datum),
                    ),
                    Input("body", f"{a_length(abs(np_.body_shift_m), 1)} {forward_or_aft(np_.body_shift_m)}"),
                    Input("full power", f"{a_length(abs(np_.power_shift_m), 1)} {forward_or_aft(np_.power_shift_m)}"),
                ),
            ),
            np_.caveats,
            _AHEAD,
            told,
        ),
        Number(
            "balance",
            "Balance point",
            "length",
            balance.x_m,
            balance.sigma_m,
            Reason("jig reading" if balance.from_jig else "sum of items", "x = sum m x / sum m", "FAA-H-8083-1"),
            below_zero=_AHEAD,
            origin=Origin.MEASURED if balance.from_jig else Origin.COMPUTED,
        ),
        Number(
            "static_margin",
            "Static margin",
            "fraction",
            margin,
            sigma,
            Reason(
                "distance of balance and neutral point",
                "SM = (x_np - x_cg)/MAC",
                "docs/methods/maiden-balance.md",
                (
                    Input("neutral point", station_words(x_np, c.datum)),
                    Input("balance point", station_words(balance.x_m, c.datum)),
                    Input("MAC", a_length(p.mac_m)),
                ),
            ),
            below_zero=BEHIND,
            origin=told,
        ),
        Number(
            "risk",
            f"Chance of less than {100 * c.rules.minimum:.0f} % margin",
            "fraction",
            risk,
            None,
            Reason(
                "normal distribution, the total sigma half as large again: what gates make of it",
                "P = Phi((SM_min - SM)/(1.5 sigma))",
                "docs/methods/maiden-balance.md",
                (Input("class minimum", f"{100 * c.rules.minimum:.0f} %"), Input("sigma", f"{100 * sigma:.1f} %")),
            ),
        ),
        Number(
            "wing_loading",
            "Wing loading",
            "wing_loading",
            wing_loading_kg_m2(mass_kg=mass, area_m2=lifting_area_m2(c.airframe)),
            None,
            Reason("definition", "m / S of all surfaces that carry the weight", ""),
        ),
        Number(
            "stall_speed",
            "Stall speed",
            "speed",
            design.stall_speed_mps,
            0.5 * WING_CLMAX_SIGMA * design.stall_speed_mps,
            Reason(
                "level flight at highest lift",
                "V_s = sqrt(2 W / (rho S CL_max))",
                "docs/methods/stall.md",
                (
                    Input(
                        "highest lift of the wing, of its area times the air's pressure", f"{design.aero.cl_max:.2f}"
                    ),
                    Input("air density at the site", f"{c.density_kg_m3:.3f} kg/m3"),
                    Input("density altitude", a_distance(density_altitude_m(c.density_kg_m3))),
                ),
            ),
        ),
        Number(
            "cruise_speed",
            "Cruise speed",
            "speed",
            design.cruise_speed_mps,
            None,
            Reason("measured" if c.cruise_speed_mps else "1.55 times stall speed", "", "common practice, no source"),
            origin=Origin.MEASURED if c.cruise_speed_mps else Origin.COMPUTED,
        ),
    )


def _disagreement(design: Design) -> Said | None:
    off, jig = design.balance.disagreement_m, design.configuration.jig
    if off is None or jig is None:
        return None
    if jig.again_m is not None and not jig.agrees:
        words = (
            f"The two readings differ by {a_length(abs(jig.again_m - jig.x_m))}: one of them is wrong. Read it a third time, another way, and "
            "keep the two that agree."
        )
        return Said("readings_differ", Severity.WARNING, words)
    if abs(off) > DISAGREEMENT_SIGMAS * 0.004:
        side = "behind" if off > 0 else "ahead of"
        words = f"The jig reads {a_length(abs(off))} {side} the sum of items. The jig counts; look for a wrong mass or station."
        return Said("jig_elsewhere", Severity.WARNING, words)
    return Said("jig_agrees", Severity.PLAIN, f"Jig and sum of items agree within {a_length(abs(off))}.")


def _thumb(design: Design) -> str:
    airframe = design.configuration.airframe
    if len(lifting_surfaces(airframe)) > 1 and airframe.pitch_surface in lifting_surfaces(airframe):
        return "Rules of thumb in percent of the wing's chord do not hold with two surfaces that carry: the neutral point decides."
    fraction = design.aero.planform.fraction_at(design.balance.x_m)
    return f"Rule of thumb: 25 to 33 % of the mean chord; this is {100 * fraction:.0f} %. The rule knows nothing of the tail; the neutral point does."
