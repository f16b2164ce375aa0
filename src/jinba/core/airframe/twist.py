"""Incidence measured at root, mid and tip of both sides: wash-in, and the difference of left and right, in words."""

from __future__ import annotations

import math

from jinba.core.airframe.parts import Role, Section, Surface
from jinba.core.said import Said, Severity, finding, worst_first

INCIDENCE_SIGMA_RAD = math.radians(0.25)
"""How well an incidence meter on a model's wing repeats, one standard deviation: common practice, no source."""

_NOTICED_RAD = math.radians(0.4)
_TAPERED = 0.9
_ENOUGH_WASHOUT_RAD = math.radians(1.0)


def left_twist_rad(section: Section) -> float:
    """Return the twist of the left half of a section against the right root. [rad, leading edge up positive]

    Derived here (docs/methods/twist.md).
    """
    return section.twist_rad if section.left_twist_rad is None else section.left_twist_rad


def both_sides_measured(surface: Surface) -> bool:
    """Return whether any chord of the surface had its left half measured apart."""
    return any(s.left_twist_rad is not None for s in surface.sections)


def twist_findings(surface: Surface) -> tuple[Said, ...]:
    """Return what the twist of a surface means for the first flight, worst first.

    A tip washed in against its own root stalls before it: 2 degrees was enough to make a tapered wing drop a tip viciously
    (common practice, no source). A difference of the sides rolls; it is taken out with heat before the ailerons trim it.
    """
    found = [f for side in ("right", "left") if (f := _washed_in(surface, side)) is not None]
    if both_sides_measured(surface):
        found.append(_difference(surface))
    if not found and _needs_washout(surface):
        found.append(
            finding(
                "taper",
                f"{surface.key}: a taper like this likes 1 to 2 degrees of wash-out; none or little is measured. Measure "
                "root and tip of both sides, ailerons included.",
                surface.key,
            )
        )
    return worst_first(found)


def _washed_in(surface: Surface, side: str) -> Said | None:
    twist = [s.twist_rad if side == "right" else left_twist_rad(s) for s in surface.sections]
    against_root = [t - twist[0] for t in twist]
    worst = max(range(1, len(twist)), key=lambda i: against_root[i])
    washed_in = against_root[worst]
    if washed_in < _NOTICED_RAD or surface.role is not Role.WING:
        return None
    place = "tip" if worst == len(twist) - 1 else f"chord {worst + 1}"
    tapered = surface.sections[-1].chord_m < _TAPERED * surface.sections[0].chord_m
    drops = "A tapered wing then drops that tip viciously" if tapered else "That side then stalls first, at its tip"
    return finding(
        "washed_in",
        f"{surface.key}, {side} {place}: {math.degrees(washed_in):.1f} degrees washed IN against its root. {drops}: twist it "
        "out with heat and measure again before it flies.",
        surface.key,
        stops=True,
    )


def _difference(surface: Surface) -> Said:
    odd = [left_twist_rad(s) - s.twist_rad for s in surface.sections]
    worst = max(odd, key=abs)
    if abs(worst) < _NOTICED_RAD:
        words = f"{surface.key}: left and right agree within the meter's accuracy."
        return Said("sides_agree", Severity.GOOD, words, (surface.key,))
    side, other = ("right", "left") if worst > 0 else ("left", "right")
    return finding(
        "sides_differ",
        f"{surface.key}: the {side} half is set {math.degrees(abs(worst)):.1f} degrees lower than the {other}. It rolls "
        f"{side}, more so the faster it flies; take the twist out before aileron trim hides it.",
        surface.key,
        stops=abs(worst) >= math.radians(1.5),
    )


def _needs_washout(surface: Surface) -> bool:
    root, tip = surface.sections[0], surface.sections[-1]
    tapered = tip.chord_m < 0.6 * root.chord_m
    return surface.role is Role.WING and tapered and root.twist_rad - tip.twist_rad < _ENOUGH_WASHOUT_RAD
