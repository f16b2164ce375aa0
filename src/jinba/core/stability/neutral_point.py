"""The neutral point with its two sigmas, and the tail-volume form as a cross-check."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jinba.core.airframe.layout import lifting_surfaces
from jinba.core.airframe.parts import Airframe, Camber, Role, Surface
from jinba.core.airframe.planform import Planform, half_chord_sweep_rad, planform_of
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length
from jinba.core.stability.body import body_cm_alpha
from jinba.core.stability.grid import centre_of_lift_m, grid_point
from jinba.core.stability.lattice import coarser, panels_for
from jinba.core.stability.loads import LatticeLoads, Load, solve_alpha
from jinba.core.stability.propeller import power_shift_m
from jinba.core.stability.tip_fins import with_tip_fins
from jinba.core.uncertainty import root_sum_square

TAIL_EFFICIENCY = 0.90
"""Dynamic pressure at the tail over the free stream, 0.85 to 0.95 (handbook values from memory)."""

_TAIL_SPAN_SHARE = 0.3
"""Span of an ordinary tail over the wing's: common practice, no source."""

SECTION_SLOPE_RATIO = 0.92
"""Section lift slope over 2 pi at model Reynolds numbers (docs/methods/neutral-point.md)."""

_SLOPE_SIGMA = ((0.18, 0.06, 0.13), (0.10, 0.06, 0.13), (0.0, 0.08, 0.18))
"""Relative sigma of the section lift slope by chord [m, from], of a wing and of a tail: bubbles at low Reynolds numbers and a
tail's slack around zero lift (docs/methods/neutral-point.md). A chord of 0.15 m is about Re 1.5e5."""

_FOREPLANE_SIGMA = 0.10
"""The same for a small wing of its own, which flies in other air than the large one (docs/methods/neutral-point.md)."""

_EFFICIENCY_SIGMA = 0.05
_SECTION_CENTRE_SIGMA = 0.008
"""How far a section's own aerodynamic centre lies from its quarter chord, one sigma [of the chord] (from memory)."""

_SHARED_SLOPE = 0.7
"""Share of the slope's variance that wings of one section have in common: the same section at nearly one Reynolds number."""

_OUTBOARD_SHARE = 0.5
"""How much the slope of the tip differs from the root's, as a share of the slope's own sigma: smaller chord, derived here."""

_BODY_SIGMA_MAC = 0.010
_BODY_SIGMA_SHARE = 0.3
_COPLANAR_SIGMA_MAC = 0.03


CROSS_CHECK_LIMIT_MAC = 0.04
"""Difference of the two methods beyond which an input error is the likeliest reason [fraction of MAC]."""

_COPLANAR_SPAN_FRACTION = 0.01


@dataclass(frozen=True, slots=True)
class NeutralPoint:
    """Neutral point of the whole model, power off.

    ``x_m`` from the datum; ``sigma_numerical_m`` the lattice against a fine one; ``sigma_total_m`` against real models;
    ``x_tail_volume_m`` the closed form, None for a wing alone; ``lift_slope`` [per rad]; ``body_shift_m`` and
    ``power_shift_m`` (what running propellers add), forward < 0.
    """

    x_m: float
    sigma_numerical_m: float
    sigma_total_m: float
    x_tail_volume_m: float | None
    lift_slope: float
    body_shift_m: float
    power_shift_m: float
    caveats: tuple[Said, ...]

    @property
    def x_power_on_m(self) -> float:
        """The neutral point with the propellers pulling at full power. [m from the datum]

        Derived here (docs/methods/neutral-point.md).
        """
        return self.x_m + self.power_shift_m


def efficiency_of(surface: Surface, airframe: Airframe) -> float:
    """Return the dynamic pressure at a surface over the free stream [-]: a tail flies in the wake of body and wing.

    A rear wing reaches far beyond the body's wake and the bubble behind a wing root: it loses as much air as a tail would, over
    the part of its span that a tail has. Derived here (docs/methods/neutral-point.md).
    """
    if surface.role is not Role.TAIL:
        return 1.0
    if surface not in lifting_surfaces(airframe):
        return TAIL_EFFICIENCY
    return 1.0 - (1.0 - TAIL_EFFICIENCY) * min(1.0, _TAIL_SPAN_SHARE * airframe.wing.half_span_m / surface.half_span_m)


def lift_slope_per_rad(aspect_ratio: float, *, half_chord_sweep_rad: float = 0.0, section_ratio: float = 1.0) -> float:
    """Return the lift slope of a wing. [per rad]

    a = 2 pi A / (2 + sqrt(4 + (A/k)^2 (1 + tan^2 sweep))), k = section slope / 2 pi. Validity: incompressible, A > 2.
    References: Polhamus form of the Helmbold equation, USAF DATCOM sec. 4.1.3.2 (from memory).
    """
    term = (aspect_ratio / section_ratio) ** 2 * (1.0 + math.tan(half_chord_sweep_rad) ** 2)
    return 2.0 * math.pi * aspect_ratio / (2.0 + math.sqrt(4.0 + term))


def downwash_gradient(*, wing: Planform, lift_slope: float, tail_arm_m: float, tail_height_m: float) -> float:
    """Return d(epsilon)/d(alpha) [-] at a tail behind the wing.

    1.75 a / (pi A (lambda r)^0.25 (1 + m)), r = 2 l/b, m = 2 h/b. ``tail_arm_m`` from wing to tail quarter chord [m],
    ``tail_height_m`` above the wing [m]. Validity: conventional layouts, r 0.4 to 1.5; against a lattice +0.016 sd 0.025.
    References: empirical form of the kind given by Torenbeek, Synthesis of Subsonic Airplane Design, 1982 (from memory).
    """
    r = max(2.0 * tail_arm_m / wing.span_m, 0.05)
    m = 2.0 * abs(tail_height_m) / wing.span_m
    taper = max(wing.taper, 0.2)
    return 1.75 * lift_slope / (math.pi * wing.aspect_ratio * math.pow(taper * r, 0.25) * (1.0 + m))


def tail_volume_neutral_point_m(airframe: Airframe) -> float | None:
    """Return the neutral point [m from the datum] by the tail-volume closed form; None for any other than one wing and a tail.

    Validity: conventional layouts, power off, no body; spread against a lattice -1 to +3 % MAC.
    References: h_n = h_ac + V_H (a_t/a) (1 - de/da) eta, e.g. Etkin and Reid, Dynamics of Flight, 1996, ch. 2 (from memory).
    """
    wing, tail = airframe.wing, airframe.pitch_surface
    conventional = tail is not None and tail.role is Role.TAIL and lifting_surfaces(airframe) == (wing,)
    if tail is None or not conventional:
        return None
    p, t = planform_of(wing), planform_of(tail)
    a, a_t = (
        lift_slope_per_rad(
            q.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(s), section_ratio=SECTION_SLOPE_RATIO
        )
        for q, s in ((p, wing), (t, tail))
    )
    x_wing, x_tail = p.station_at(0.25), t.station_at(0.25)
    gradient = downwash_gradient(wing=p, lift_slope=a, tail_arm_m=x_tail - x_wing, tail_height_m=tail.z_m - wing.z_m)
    # The tail sees the angle of attack less the downwash, in air the body has slowed.
    share = a_t * t.area_m2 * (1.0 - gradient) * TAIL_EFFICIENCY
    return (a * p.area_m2 * x_wing + share * x_tail) / (a * p.area_m2 + share)


def neutral_point(airframe: Airframe, loads: LatticeLoads, coarse: tuple[Load, ...]) -> NeutralPoint:
    """Return the neutral point from lattice loads, tail efficiency and the body, with both sigmas and caveats.

    ``coarse``: the loads per angle of attack on a coarser grid (:func:`grid_point`).
    """
    p = planform_of(airframe.wing)
    factors = [efficiency_of(s, airframe) for s in airframe.surfaces]
    # Loads, not lift coefficients, are summed: surfaces of any size and number count alike, and no one is the wing.
    lift = sum(f * load.lift_m2 for f, load in zip(factors, loads.alpha, strict=True))
    lattice = grid_point(airframe, loads.alpha, coarse, factors)
    closed = tail_volume_neutral_point_m(airframe)
    shift = _body_shift_m(airframe, p, loads.alpha, lift / p.area_m2)
    x = lattice.x_m + shift
    caveats = _caveats(airframe, p, lattice.x_m, closed)
    coplanar = any(c.code == "coplanar" for c in caveats)
    return NeutralPoint(
        x_m=x,
        sigma_numerical_m=lattice.sigma_m,
        sigma_total_m=root_sum_square(
            [
                lattice.sigma_m,
                _viscous_sigma_m(airframe, loads, lattice.x_m),
                _BODY_SIGMA_MAC * p.mac_m,
                _BODY_SIGMA_SHARE * shift,
                _COPLANAR_SIGMA_MAC * p.mac_m if coplanar else 0.0,
            ]
        ),
        x_tail_volume_m=closed,
        lift_slope=lift / p.area_m2,
        body_shift_m=shift,
        power_shift_m=power_shift_m(airframe, x_np_m=x, area_m2=p.area_m2, lift_slope=lift / p.area_m2),
        caveats=caveats,
    )


def quick_neutral_point_m(airframe: Airframe) -> float:
    """Return the neutral point by the coarser grid alone [m from the datum]: for how it moves with a measure, not for where it lies.

    Validity: slopes within a few per cent of the fine grid's. Derived here.
    """
    shape = with_tip_fins(airframe) or airframe
    grid = coarser(panels_for(len(airframe.surfaces)))
    alpha = solve_alpha(shape, panels=grid, section_slope=SECTION_SLOPE_RATIO)
    factors = [efficiency_of(s, airframe) for s in airframe.surfaces]
    p = planform_of(airframe.wing)
    lift = sum(f * load.lift_m2 for f, load in zip(factors, alpha, strict=True))
    return centre_of_lift_m(alpha, factors) + _body_shift_m(airframe, p, alpha, lift / p.area_m2)


def _body_shift_m(airframe: Airframe, p: Planform, alpha: tuple[Load, ...], lift_slope: float) -> float:
    wing_index = airframe.surfaces.index(airframe.wing)
    wing_slope = alpha[wing_index].lift_m2 / p.area_m2
    tail = airframe.pitch_surface
    if tail is not None and tail.x_m > airframe.wing.x_m:
        t = planform_of(tail)
        # The lattice already has the downwash in the tail's load: it is read back from there, not assumed a second time.
        gradient = 1.0 - alpha[airframe.surfaces.index(tail)].lift_m2 / (
            t.area_m2 * lift_slope_per_rad(t.aspect_ratio, half_chord_sweep_rad=half_chord_sweep_rad(tail))
        )
        x_tail = t.station_at(0.25)
    else:
        gradient, x_tail = 0.4, airframe.body.nose_x_m + airframe.body.length_m
    cm_alpha = sum(
        body.count
        * body_cm_alpha(
            body,
            wing=airframe.wing,
            planform=p,
            downwash_gradient=min(max(gradient, 0.0), 0.9),
            x_tail_m=x_tail,
            cl_alpha_wing=wing_slope,
        )
        for body in (airframe.body, *airframe.nacelles)
    )
    # A body ahead of the wing pitches up with angle of attack: it moves the neutral point forward.
    return -cm_alpha / lift_slope * p.mac_m


def slope_sigma(surface: Surface, *, carries: bool) -> float:
    """Return the relative standard deviation of a surface's section lift slope [-]. Source: :data:`_SLOPE_SIGMA`.

    ``carries``: it flies at a lift of its own, as a wing does, away from a tail's slack around zero lift.
    """
    chord = planform_of(surface).mac_m
    wing, tail = next((w, t) for least, w, t in _SLOPE_SIGMA if chord >= least)
    if carries:
        return wing
    thick = chord < _SLOPE_SIGMA[1][0] and surface.camber is not Camber.FLAT_PLATE
    return tail * (1.1 if thick else 1.0)


def _viscous_sigma_m(airframe: Airframe, loads: LatticeLoads, x_np_m: float) -> float:
    """Return the sigma of the neutral point [m] from what the ideal fluid leaves out: slopes, tail efficiency, section centres.

    x = -sum f M / sum f L; dx = -(sum f dM + x sum f dL)/sum f L for each cause, independent ones by root sum square. A change
    of one surface's slope changes its wake on the others as well (``slope_sensitivity``). Derived here.
    """
    factors = [efficiency_of(s, airframe) for s in airframe.surfaces]
    lift = sum(f * load.lift_m2 for f, load in zip(factors, loads.alpha, strict=True))

    def shift(changed: tuple[Load, ...], weights: list[float]) -> float:
        pairs = zip(weights, changed, strict=True)
        return sum(w * (load.moment_m3 + x_np_m * load.lift_m2) for w, load in pairs) / lift

    terms = []
    carrying = lifting_surfaces(airframe)
    alike: list[tuple[Surface, float]] = []
    for i, surface in enumerate(airframe.surfaces):
        carries = surface in carrying
        slope = slope_sigma(surface, carries=carries)
        if carries and planform_of(surface).mac_m * _LIKE_CHORDS < planform_of(airframe.wing).mac_m:
            slope = max(slope, _FOREPLANE_SIGMA)
        moved = slope * shift(loads.slope_sensitivity[i], factors)
        alike = _with_its_like(alike, surface, moved, carries=carries)
        terms.append(math.sqrt(1.0 - _SHARED_SLOPE) * moved)
        terms.append(_OUTBOARD_SHARE * slope * shift(loads.outboard_sensitivity[i], factors))
        if surface.role is Role.TAIL:
            only = [1.0 if k == i else 0.0 for k in range(len(factors))]
            terms.append(_EFFICIENCY_SIGMA * shift(loads.alpha, only))
        share = factors[i] * loads.alpha[i].lift_m2 / lift
        terms.append(share * _SECTION_CENTRE_SIGMA * planform_of(surface).mac_m)
    return root_sum_square([*terms, *(math.sqrt(_SHARED_SLOPE) * moved for _, moved in alike)])


_LIKE_CHORDS = 1.5
"""Wings whose chords differ by more than this fly at other Reynolds numbers, and their sections do not err alike: common practice, no
source."""


def _with_its_like(
    alike: list[tuple[Surface, float]], surface: Surface, moved: float, *, carries: bool
) -> list[tuple[Surface, float]]:
    """Return the shifts by surfaces that err alike with one more: wings of one section and about one chord; a tail errs by itself."""
    for i, (first, sum_) in enumerate(alike):
        ratio = planform_of(surface).mac_m / planform_of(first).mac_m
        same = first.camber is surface.camber and first.foil == surface.foil
        if carries and same and 1.0 / _LIKE_CHORDS < ratio < _LIKE_CHORDS:
            return [*alike[:i], (first, sum_ + moved), *alike[i + 1 :]]
    return [*alike, (surface, moved)]


def _caveats(airframe: Airframe, p: Planform, x_lattice: float, closed: float | None) -> tuple[Said, ...]:
    found: list[Said] = []
    if closed is not None and abs(x_lattice - closed) > CROSS_CHECK_LIMIT_MAC * p.mac_m:
        found.append(
            finding(
                "cross-check",
                f"The lattice and the tail-volume form differ by {a_length(abs(x_lattice - closed))} "
                f"({100 * (abs(x_lattice - closed) / p.mac_m):.0f} % of the mean chord). Check the tail's station and size first.",
            )
        )
    for other in airframe.surfaces:
        gap = abs(other.z_m - airframe.wing.z_m)
        if other is not airframe.wing and gap < _COPLANAR_SPAN_FRACTION * p.span_m:
            found.append(
                finding(
                    "coplanar", f"{other.key} lies in the plane of the wing: the neutral point is less sure (+3 % MAC)."
                )
            )
    return tuple(found)
