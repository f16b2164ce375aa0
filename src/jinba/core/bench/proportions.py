"""Measures against one another: which part is out of proportion to the rest of the model, and what was probably meant.

Common practice, no source, for every limit: each lies far outside anything that flies as a model.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from jinba.core.airframe.parts import Airframe, Motor, Role, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration
from jinba.core.errors import SLIPS
from jinba.core.mass.items import ItemKind, sum_items
from jinba.core.said import Said, finding
from jinba.core.spoken import a_length, a_mass

_STEEPEST_INCIDENCE_RAD = math.radians(8.0)
_STEEPEST_TILT_RAD = math.radians(9.0)
_MOST_SWEEP = 2.0
"""Of the half span: how far behind its root a tip lies, about 63 degrees."""

_HIGHEST = {Role.WING: 0.3, Role.TAIL: 0.3, Role.CANARD: 0.3}
"""Of the span: how far above or below the datum line a surface stands."""

_MOST_RISE = {Role.WING: 0.6, Role.TAIL: 1.3, Role.CANARD: 0.9}
"""Of the way out: how much higher a tip lies, a steep V-tail the most."""

_WIDEST_BODY, _LONGEST_BODY = 0.6, 3.0
_TALLEST_FIN, _LONGEST_FIN_CHORD = 0.6, 0.5
_LARGEST_PROPELLER = 0.65
_OUTSIDE = 0.1
"""Of the model's length: how far outside it an item may hang."""

_LARGEST_PACK = 0.6
_ASKEW = 0.03
"""Of the half span: a balance point further off the centre line is no model's before it is trimmed."""


def out_of_proportion(c: Configuration) -> tuple[Said, ...]:
    """Return what does not fit the rest of the model. Common practice, no source."""
    a = c.airframe
    return (
        *(said for s in a.surfaces for said in (*_angles(s), *_heights(a, s), *_sweep(s), *_side_of_the_wing(a, s))),
        *_body_and_fin(a),
        *_motors(a),
        *_wheels(a),
        *_items(c),
    )


def ask(what: str, value: str, meant: str, *about: str) -> Said:
    """Return the question about a measure, with what was probably meant where a slip explains it."""
    guess = f" Did you mean {meant}?" if meant else ""
    return finding(
        "reason",
        f"{what[0].upper()}{what[1:]}: {value}?{guess} Measure it again, or say why it is so.",
        *about,
        stops=True,
    )


def _ask_length(what: str, value_m: float, most_m: float, about: str) -> Said:
    meant = next((value_m / slip for slip in SLIPS if 0.05 * most_m <= abs(value_m / slip) <= 0.8 * most_m), None)
    return ask(what, a_length(value_m), "" if meant is None else a_length(meant), about)


def _angle(value_rad: float, most_rad: float) -> tuple[str, str]:
    tenth = 0.1 * value_rad
    meant = f"{math.degrees(tenth):.1f}°" if abs(tenth) <= most_rad else ""
    return f"{math.degrees(value_rad):.1f}°", meant


def _angles(s: Surface) -> Iterator[Said]:
    if abs(s.incidence_rad) > _STEEPEST_INCIDENCE_RAD:
        yield ask(f"{s.key}, incidence of the root", *_angle(s.incidence_rad, _STEEPEST_INCIDENCE_RAD), s.key)
    for section in s.sections:
        for side, twist in (("right", section.twist_rad), ("left", section.left_twist_rad)):
            if twist is not None and abs(twist) > _STEEPEST_INCIDENCE_RAD:
                yield ask(f"{s.key}, {side} wash-out", *_angle(-twist, _STEEPEST_INCIDENCE_RAD), s.key)


def _heights(a: Airframe, s: Surface) -> Iterator[Said]:
    most = _HIGHEST[s.role] * planform_of(a.wing).span_m
    if abs(s.z_m) > most:
        yield _ask_length(f"{s.key}, height above the datum line", s.z_m, most, s.key)
    for section in s.sections[1:]:
        most = _MOST_RISE[s.role] * section.y_m
        if abs(section.z_offset_m) > most:
            yield _ask_length(f"{s.key}, rise of the tip", section.z_offset_m, most, s.key)


def _sweep(s: Surface) -> Iterator[Said]:
    root = s.sections[0].chord_m
    for section in s.sections[1:]:
        most = max(_MOST_SWEEP * section.y_m, 1.5 * root)
        if abs(section.x_offset_m) > most:
            yield _ask_length(f"{s.key}, leading edge behind the root's", section.x_offset_m, most, s.key)


def _side_of_the_wing(a: Airframe, s: Surface) -> Iterator[Said]:
    """A tail ahead of its wing, a foreplane behind it, or one within it: a lost sign, or a digit."""
    wing = a.wing
    if s is wing or s.role is Role.WING:
        return
    away, root = s.x_m - wing.x_m, wing.sections[0].chord_m
    behind = s.role is Role.TAIL
    if (away > 0.0) == behind and abs(away) > 0.4 * root:
        return
    turned = (away > 0.0) != behind and abs(away) > 0.4 * root
    meant = a_length(abs(away) if turned else 10.0 * abs(away))
    side = "behind" if behind else "ahead of"
    is_now = f"{a_length(abs(away))} {'behind' if away > 0.0 else 'ahead of'} the wing's root leading edge"
    yield ask(f"{s.key}, root leading edge", is_now, f"{meant} {side} it", s.key)


def _body_and_fin(a: Airframe) -> Iterator[Said]:
    span, body, fin = planform_of(a.wing).span_m, a.body, a.fin
    if body.length_m > _LONGEST_BODY * span:
        yield _ask_length("length of the body", body.length_m, _LONGEST_BODY * span, "body")
    for name, size in (("width", body.width_m), ("height", body.height_m)):
        most = _WIDEST_BODY * max(span, body.length_m)
        if size > 0.5 * most:
            yield _ask_length(f"greatest {name} of the body", size, 0.5 * most, "body")
    if fin is None:
        return
    if fin.height_m > _TALLEST_FIN * span:
        yield _ask_length("fin height", fin.height_m, _TALLEST_FIN * span, "fin")
    longest = _LONGEST_FIN_CHORD * max(body.length_m, span)
    for name, chord in (("root", fin.root_chord_m), ("tip", fin.tip_chord_m)):
        if chord > longest:
            yield _ask_length(f"fin chord at the {name}", chord, longest, "fin")


def _motors_of(a: Airframe) -> tuple[Motor, ...]:
    return () if a.motor is None else (a.motor, *a.further_motors)


def _motors(a: Airframe) -> Iterator[Said]:
    most = _LARGEST_PROPELLER * planform_of(a.wing).span_m
    for motor in _motors_of(a):
        if motor.propeller_diameter_m > most:
            yield _ask_length("propeller diameter", motor.propeller_diameter_m, most, "motor")
        for name, tilt in (("down", motor.tilt_down_rad), ("right", motor.tilt_right_rad)):
            if abs(tilt) > _STEEPEST_TILT_RAD:
                yield ask(f"motor tilt {name}", *_angle(tilt, _STEEPEST_TILT_RAD), "motor")


def _wheels(a: Airframe) -> Iterator[Said]:
    gear = a.gear
    if gear is not None and gear.ground_z_m >= 0.0:
        words = f"{a_length(gear.ground_z_m)} above the datum line"
        yield ask("the ground under the wheels", words, f"{a_length(gear.ground_z_m)} below it", "gear")


def _items(c: Configuration) -> Iterator[Said]:
    first, last = _extent(c.airframe)
    room = _OUTSIDE * (last - first)
    fitted = [i for i in c.items if i.fitted]
    total = sum_items(c.items).mass_kg
    for item in fitted:
        if not first - room <= item.x_m <= last + room:
            tried = (-item.x_m, *(item.x_m / slip for slip in SLIPS))
            meant = next((x for x in tried if first <= x <= last), None)
            yield ask(
                f"{item.name}, station", _from_datum(item.x_m), "" if meant is None else _from_datum(meant), "items"
            )
        if item.kind is ItemKind.BATTERY and item.mass_kg > _LARGEST_PACK * total:
            yield ask(f"{item.name}, mass", a_mass(item.mass_kg), a_mass(0.1 * item.mass_kg), "items")
    yield from _askew(c)


def _from_datum(x_m: float) -> str:
    return f"{a_length(abs(x_m))} {'behind' if x_m >= 0.0 else 'ahead of'} the datum"


def _askew(c: Configuration) -> Iterator[Said]:
    """A model that balances far off its centre line: the item that takes it there stands on a wrong side, or too far out."""
    summed = sum_items(c.items)
    if abs(summed.y_m) <= _ASKEW * c.airframe.wing.half_span_m:
        return
    fitted = [i for i in c.items if i.fitted]
    far = max(fitted, key=lambda i: i.mass_kg * i.y_m * math.copysign(1.0, summed.y_m))
    side = "right" if summed.y_m > 0.0 else "left"
    words = (
        f"By its items it balances {a_length(abs(summed.y_m))} {side} of its centre line: {far.name} stands {a_length(abs(far.y_m))} {side}. "
        "Has a side or a digit slipped? Look again, or say why it is so."
    )
    yield finding("reason", words, "items", stops=True)


def _extent(a: Airframe) -> tuple[float, float]:
    ends = [a.body.nose_x_m, a.body.nose_x_m + a.body.length_m, *(m.x_m for m in _motors_of(a))]
    for s in a.surfaces:
        for section in s.sections:
            ends += [s.x_m + section.x_offset_m, s.x_m + section.x_offset_m + section.chord_m]
    return min(ends), max(ends)
