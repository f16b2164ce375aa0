"""One transfer for every clevis: from where the axes must rest to an order per surface, and back to the axes.

A surface with two tasks has one clevis, two surfaces of one axis have two: an order is made for each surface from the sum of
its tasks, and what the orders do is led back to the axes. Angles in rad, trailing edge down (a rudder: left) positive.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from jinba.core.controls.fitting import Fitting, sense_of, surface_words
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.linkage import Drive, motion, turned_rad, turns_for
from jinba.core.controls.pulses import NEUTRAL_US
from jinba.core.controls.setup import COMMAND_OF, ControlSetup
from jinba.core.controls.stabiliser import trims_forbidden
from jinba.core.controls.travel import ruler_m
from jinba.core.controls.trim import back_to_axes, deflection_for, pulses_for, rest_words, surface_rest_rad
from jinba.core.frames import Axis, response_of_deflection, words_for
from jinba.core.spoken import a_length

MOST_HALF_TURNS = 40
_NOTHING_RAD = 1e-9
_PULSE_US = 1.0
"""Less than a microsecond is nothing: no radio sets it finer."""


class Way(StrEnum):
    """Where trim goes that leaves the radio."""

    CLEVIS = "clevis"
    SUB_TRIM = "sub_trim"
    MIDPOINT = "midpoint"


@dataclass(frozen=True, slots=True)
class AxisRest:
    """What holds the surfaces of an axis [rad, signs of ``core.frames``].

    ``mechanical_rad``: the linkage alone (a midpoint a controller has learned included); ``sub_trim_rad``: the radio's
    sub-trim; ``trim_rad``: trim clicks, those of the last landing included; ``leave_rad``: what of them stays in the radio.
    """

    mechanical_rad: float
    sub_trim_rad: float
    trim_rad: float
    leave_rad: float = 0.0

    @property
    def rest_rad(self) -> float:
        """Where the surfaces rest in all. [rad] Derived here (docs/methods/trim-transfer.md)."""
        return self.mechanical_rad + self.sub_trim_rad + self.trim_rad


@dataclass(frozen=True, slots=True)
class SurfaceOrder:
    """What to do to one surface, and where it must be found afterwards with the trims centred.

    ``start_rad``: it stands there now; ``in_radio_rad``: what of that trim and sub-trim hold, ``in_radio_m`` by the ruler;
    ``rest_rad``: where it must
    stand. ``half_turns`` of the clevis, > 0 unscrews (longer rod), and ``turned_rad`` what they do. ``held_before_us``,
    ``held_us``: what sub-trim (with a controller: the learned midpoint, off 1500) holds now and afterwards, in pulse
    [us, signed as the servo turns]; ``held_rad`` what it does afterwards. ``clicks_per_turn`` of the clevis, for one task;
    0 without one. ``starts``, ``in_radio``, ``clevis``, ``held``, ``stands``, ``find``: the same in words.
    """

    role: str
    name: str
    start_rad: float
    in_radio_rad: float
    in_radio_m: float
    rest_rad: float
    rest_m: float
    half_turns: int
    turned_rad: float
    held_before_us: float
    held_us: float
    held_rad: float
    clicks_per_turn: float
    starts: str
    in_radio: str
    stands: str
    clevis: str
    held: str
    find: str

    @property
    def idle(self) -> bool:
        """Whether nothing is to be done to it."""
        moves = abs(self.rest_rad - self.start_rad) > _NOTHING_RAD or abs(self.held_us - self.held_before_us) > 1e-6
        return self.half_turns == 0 and not moves

    @property
    def steps(self) -> tuple[str, ...]:
        """What to do by hand, the clevis before the radio."""
        return tuple(words for words in (self.clevis, self.held) if words)


def orders(
    setup: ControlSetup, rests: Mapping[Axis, AxisRest], wanted: Mapping[Axis, float], way: Way, *, inverted_v: bool
) -> tuple[SurfaceOrder, ...]:
    """Return an order for every surface of the axes in ``wanted`` [rad: where they must rest with their trims centred].

    Clevis: half turns by the four-bar that bring the surface nearest, the remainder as sub-trim, a sub-trim that is there
    counted in. Sub-trim or midpoint: the clevis is left, all of it is held there. With a controller the remainder is what it
    must learn. Every axis that shares a surface with one in ``wanted`` must be in it. Raises: LinkageError.
    References: docs/methods/trim-transfer.md (derived here).
    """
    rows = []
    for f in setup.fittings:
        if any(sense_of(f.role, COMMAND_OF[a]) != 0.0 for a in wanted):
            rows.append(_order(setup, f, rests, wanted, way, inverted_v=inverted_v))
    return tuple(rows)


def _order(
    setup: ControlSetup,
    f: Fitting,
    rests: Mapping[Axis, AxisRest],
    wanted: Mapping[Axis, float],
    way: Way,
    *,
    inverted_v: bool,
) -> SurfaceOrder:
    def total(part: Mapping[Axis, float]) -> float:
        return surface_rest_rad(f, dict(part), inverted_v=inverted_v)

    # A controller's learned midpoint moves the servo's neutral: the clevis holds what is left without it.
    learned = 0.0 if f.learned_us is None else deflection_for(f, f.learned_us - NEUTRAL_US)
    start = total({a: r.rest_rad for a, r in rests.items()})
    radio = total({a: r.sub_trim_rad for a, r in rests.items()})
    clevis = total({a: r.mechanical_rad for a, r in rests.items()}) - learned
    rest = total(wanted)
    # From where the linkage stands now, not from its drawing: the four-bar is not straight, and turns add up on it.
    half = nearest_half_turns(f, clevis, rest) if way is Way.CLEVIS else 0
    turned = turned_from(f, clevis, half)
    held = rest - clevis - turned
    midpoint = in_midpoints(setup, way)
    before_us = pulses_for(f, learned if midpoint else radio)
    held_us = pulses_for(f, held)
    stands = rest_words(f, rest)
    return SurfaceOrder(
        role=f.role.value,
        name=f.name,
        start_rad=start,
        in_radio_rad=start - clevis - learned,
        in_radio_m=ruler_m(f.chord_m, start - clevis - learned),
        rest_rad=rest,
        rest_m=ruler_m(f.chord_m, rest),
        half_turns=half,
        turned_rad=turned,
        held_before_us=before_us,
        held_us=held_us,
        held_rad=held,
        clicks_per_turn=clicks_per_turn(f, setup.radio.click_us),
        starts=rest_words(f, start).removeprefix(f.name).strip(),
        in_radio=rest_words(f, start - clevis - learned),
        stands=stands,
        clevis=clevis_words(f, half, turned, inverted_v=inverted_v) if way is Way.CLEVIS else "",
        held=_midpoint_words(f, held_us)
        if midpoint
        else _sub_trim_words(f, (before_us, radio), (held_us, held), stands),
        find=f"All trims centred: {stands}.",
    )


def in_midpoints(setup: ControlSetup, way: Way) -> bool:
    """Return whether what the clevis leaves goes to learned midpoints: a controller takes sub-trim for a command."""
    return way is Way.MIDPOINT or trims_forbidden(setup.stabiliser)


def nearest_half_turns(f: Fitting, clevis_rad: float, rest_rad: float) -> int:
    """Return the half turns that bring a surface from where its linkage holds it nearest to where it must stand.

    0 for a direct drive. Raises: LinkageError for more than twenty turns or a rod that cannot reach.
    """
    if f.linkage.drive is Drive.DIRECT or abs(rest_rad - clevis_rad) < _NOTHING_RAD:
        return 0
    guess = round(2.0 * (turns_for(f.linkage, rest_rad) - turns_for(f.linkage, clevis_rad)))
    near = [n for n in (guess - 1, guess, guess + 1) if abs(n) <= MOST_HALF_TURNS]
    if not near:
        raise LinkageError(
            "That is more than twenty turns of the clevis: the rod has the wrong length, or the surface is warped.",
            name="trim",
        )
    return min(near, key=lambda n: abs(turned_from(f, clevis_rad, n) + clevis_rad - rest_rad))


def turned_from(f: Fitting, clevis_rad: float, half_turns: int) -> float:
    """Return what half turns do to a surface that its linkage holds at ``clevis_rad`` off the measured neutral. [rad]

    Derived here (docs/methods/trim-transfer.md).
    """
    if half_turns == 0 or f.linkage.drive is Drive.DIRECT:
        return 0.0
    return turned_rad(f.linkage, turns_for(f.linkage, clevis_rad) + 0.5 * half_turns) - clevis_rad


def clicks_per_turn(f: Fitting, click_us: float) -> float:
    """Return how many trim clicks [us each] one turn of the clevis is worth at neutral; 0 without a clevis.

    Derived here (docs/methods/trim-transfer.md).
    """
    slope = abs(float(motion(f.linkage, np.zeros(1)).slope[0]))
    per_click = slope * f.servo.rad_per_us * click_us
    return abs(turned_rad(f.linkage, 1.0)) / per_click if per_click > 1e-9 else 0.0


def set_at(
    rests: Mapping[Axis, AxisRest],
    wanted: Mapping[Axis, float],
    found: tuple[SurfaceOrder, ...],
    setup: ControlSetup,
    way: Way,
    *,
    inverted_v: bool,
) -> dict[Axis, AxisRest]:
    """Return what holds the axes once the orders are done: trims centred but for what is left, the sum as wanted.

    What the clevises did is led back to the axes by the mean over their surfaces; sub-trim is what is left to the sum. What a
    controller has learned counts as mechanical: the radio holds nothing. ``wanted`` [rad].
    """
    if in_midpoints(setup, way):
        return {a: AxisRest(rest, 0.0, rests[a].leave_rad, rests[a].leave_rad) for a, rest in wanted.items()}
    turned = back_to_axes(setup, {o.role: o.turned_rad for o in found}, inverted_v=inverted_v)
    after = {}
    for axis, rest in wanted.items():
        mechanical = rests[axis].mechanical_rad + turned.get(axis, 0.0)
        after[axis] = AxisRest(mechanical, rest - mechanical, rests[axis].leave_rad, rests[axis].leave_rad)
    return after


def learned(setup: ControlSetup, found: tuple[SurfaceOrder, ...]) -> ControlSetup:
    """Return the set-up with the midpoints that a controller has learned after the orders."""
    midpoints = {o.role: NEUTRAL_US + o.held_us for o in found}
    fittings = tuple(
        replace(f, learned_us=midpoints[f.role.value]) if f.role.value in midpoints else f for f in setup.fittings
    )
    return replace(setup, fittings=fittings)


def sharing(setup: ControlSetup) -> tuple[frozenset[Axis], ...]:
    """Return the axes in groups that share a surface: each axis alone, or with those whose clevis it turns too."""
    groups: list[set[Axis]] = []
    for f in setup.fittings:
        tasks = {a for a in Axis if sense_of(f.role, COMMAND_OF[a]) != 0.0}
        if not tasks:
            continue
        joined = [g for g in groups if g & tasks]
        groups = [g for g in groups if not g & tasks] + [tasks.union(*joined)]
    return tuple(frozenset(g) for g in groups)


def clevis_words(f: Fitting, half_turns: int, turned: float, *, inverted_v: bool = False) -> str:
    """Return what to do to a clevis, which way the surface goes for it, and what that is for. ``turned`` [rad]."""
    name = _capital(f.name)
    if f.linkage.drive is Drive.DIRECT:
        return f"The {f.name} is driven directly: there is no clevis."
    if half_turns == 0:
        return f"{name}: leave the clevis."
    goes = f"{surface_words(f.role, turned).removeprefix(f.name).strip()}, for {_purpose(f, turned, inverted_v=inverted_v)}"
    count = turns_words(half_turns)
    if f.linkage.drive is Drive.PULL_PULL:
        return f"{name}: {count} out on one cable and in on the other, so that it goes {goes}."
    what = "turnbuckle" if f.linkage.both_ends else "clevis"
    way = "unscrew (longer rod)" if half_turns > 0 else "screw in (shorter rod)"
    return f"{name}: {way} the {what} by {count}: it goes {goes}."


def _purpose(f: Fitting, deflection: float, *, inverted_v: bool) -> str:
    """Return what a deflection of one surface does to the model, task by task: "nose up and left wing down"."""
    tasks = {a: sense_of(f.role, c, inverted_v=inverted_v) for a, c in COMMAND_OF.items()}
    return " and ".join(words_for(response_of_deflection(a, s * deflection)).model for a, s in tasks.items() if s)


def turns_words(half_turns: int) -> str:
    """Return a number of half turns, whichever way, in words: "half a turn", "2 and a half turns"."""
    whole, half = divmod(abs(half_turns), 2)
    if whole == 0:
        return "half a turn" if half else "no turn"
    return f"{whole}{' and a half' if half else ''} turn{'s' if whole > 1 or half else ''}"


def _sub_trim_words(f: Fitting, before: tuple[float, float], after: tuple[float, float], stands: str) -> str:
    """Return what sub-trim is set to and what is taken back, each with the way the surface goes; pulse [us], angle [rad]."""
    was, now = (abs(us) >= _PULSE_US for us, _ in (before, after))
    if not was and not now:
        return ""
    if not now:
        return f"Sub-trim of the {f.name} to zero: the {_held(f, *before)} that stood there is taken back."
    words = f"Sub-trim of the {f.name}: {_held(f, *after)}, until the ruler reads {stands}"
    same = was and abs(before[0] - after[0]) < _PULSE_US
    return (
        f"{words}{', as it is' if same else f', in place of the {_held(f, *before)} that stood there' if was else ''}."
    )


def _held(f: Fitting, pulse_us: float, angle_rad: float) -> str:
    way = surface_words(f.role, angle_rad).removeprefix(f.name).strip()
    return f"{abs(pulse_us):.0f} µs ({a_length(ruler_m(f.chord_m, angle_rad), 1)}) {way}"


def _midpoint_words(f: Fitting, held_us: float) -> str:
    return (
        f"Midpoint of the {f.name} in the controller: {NEUTRAL_US + held_us:.0f} µs on a channel that is not reversed."
    )


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]
