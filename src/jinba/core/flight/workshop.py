"""The bench as hands know it: builders' errors, readings that are wrong, and changes carried out not quite as ordered."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from jinba.core.airframe.parts import Airframe, Motor, Surface
from jinba.core.airframe.planform import planform_of
from jinba.core.configuration import Configuration, JigReading, balance_of
from jinba.core.controls.surface_control import Control
from jinba.core.flight.piloting.sortie import Truth
from jinba.core.flight.simulation.spread import Twin, Wrong, draw_spread
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind


@dataclass(frozen=True, slots=True)
class Blunders:
    """How often, and how large, a bench goes wrong. ``misread``: share of balances read wrongly, by ``least`` to ``most`` of the
    chord; ``datum``: share that is measured from another point; ``forgotten``: share where something heavy was left off the
    scales; ``elsewhere``: share of sorties with the pack put back in another place; ``ahead``: every balance is read this much too far
    forward [of the chord]."""

    misread: float = 0.25
    least: float = 0.025
    most: float = 0.065
    datum: float = 0.03
    forgotten: float = 0.05
    elsewhere: float = 0.05
    ahead: float = 0.0


NONE = Blunders(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Hands:
    """How exactly a change is carried out: ``place_m`` of what is moved or stuck on, ``share`` of clevises, grams and
    washers; ``wrong_way`` and ``not_done``: shares of surfaces turned the other way, and of changes that stay undone."""

    place_m: float = 0.0015
    share: float = 0.06
    wrong_way: float = 0.007
    not_done: float = 0.02


EXACT = Hands(0.0, 0.0, 0.0, 0.0)


def draw_truth(bench: Configuration, rng: np.random.Generator, blunders: Blunders) -> Truth:
    """Return a model as it really is behind what its bench says.

    Rulers to 0.4 % and 1.5 mm, incidence to 0.3 degrees a surface; builders' errors: half a degree between wing and tail, a
    third of a degree of twist, a degree and a half of thrust line each way, a degree of fin, 0.4 % of the span of lateral
    balance; the balance by its stated sigma, and by blunders. Nothing here is read from what the estimator expects.
    Common practice, no source.
    """
    real = replace(bench, airframe=_ruled(bench.airframe, rng))
    p = planform_of(bench.airframe.wing)
    balance = balance_of(bench)
    error = balance.sigma_m * float(rng.standard_normal()) + blunders.ahead * p.mac_m
    if rng.random() < blunders.misread:
        error += float(rng.choice([-1.0, 1.0])) * float(rng.uniform(blunders.least, blunders.most)) * p.mac_m
    if rng.random() < blunders.datum:
        error += float(rng.choice([-1.0, 1.0])) * float(rng.uniform(0.004, 0.010))
    if rng.random() < blunders.forgotten:
        left_off = float(rng.uniform(0.01, 0.03)) * balance.mass.mass_kg
        at = float(rng.uniform(-0.8, 0.8)) * p.mac_m + balance.x_m
        real = replace(real, items=(*real.items, Item("left-off", "Left off the scales", left_off, at)))
    mass = balance_of(real).mass
    real = replace(real, jig=JigReading(balance.x_m + error, 0.0005, mass.x_m))
    for axis in Axis:
        control = real.control(axis)
        off = math.radians(0.3) * float(rng.standard_normal())
        real = real.with_control(replace(control, mechanical_rad=control.mechanical_rad + off))
    z = rng.standard_normal(5)
    wrong = Wrong(
        cg_right_m=0.004 * p.span_m * float(z[0]),
        tail_incidence_rad=math.radians(0.5) * float(z[1]),
        twist_rad=math.radians(0.35) * float(z[2]),
        thrust_down_rad=math.radians(1.5) * float(z[3]),
        thrust_right_rad=math.radians(1.5) * float(z[4]),
        fin_left_rad=math.radians(1.0) * float(rng.standard_normal()),
    )
    return Truth(real, draw_spread(rng), wrong)


_SECOND_LOOK = 0.5
"""How much rarer a balance is misread by somebody who reads it again, another way: common practice, no source."""


def read_again(bench: Configuration, truth: Truth, rng: np.random.Generator, blunders: Blunders) -> Configuration:
    """Return a bench whose balance was read again, another way, as hands do it: where the two differ a third time, and the two that
    agree are kept. Derived here."""
    jig = bench.jig
    if jig is None:
        return bench
    mac = planform_of(bench.airframe.wing).mac_m

    def reading() -> float:
        error = jig.sigma_m * float(rng.standard_normal())
        if rng.random() < _SECOND_LOOK * blunders.misread:
            error += float(rng.choice([-1.0, 1.0])) * float(rng.uniform(blunders.least, blunders.most)) * mac
        return balance_of(truth.real).x_m + error

    first, second = balance_of(bench).x_m, reading()
    here = balance_of(bench).mass.x_m
    read = JigReading(first, jig.sigma_m, here, jig.how, second)
    if not read.agrees:
        third = reading()
        nearest = min((first, second), key=lambda x: abs(x - third))
        read = JigReading(nearest, jig.sigma_m, here, jig.how, third)
    return replace(bench, jig=read)


def draw_twin(bench: Configuration, rng: np.random.Generator) -> Twin:
    """Return the hidden side of a model as it comes to its first flight, for a stand-in that flies the bench's own setup."""
    truth = draw_truth(bench, rng, Blunders())
    aft = balance_of(truth.real).x_m - balance_of(bench).x_m
    return Twin(truth.spread, replace(truth.wrong, cg_aft_m=aft))


def _ruled(a: Airframe, rng: np.random.Generator) -> Airframe:
    def surface(s: Surface) -> Surface:
        scale = 1.0 + 0.004 * float(rng.standard_normal())
        sections = tuple(
            replace(q, chord_m=q.chord_m * scale + 0.001 * float(rng.standard_normal())) for q in s.sections
        )
        return replace(
            s,
            x_m=s.x_m + 0.0015 * float(rng.standard_normal()),
            sections=sections,
            incidence_rad=s.incidence_rad + math.radians(0.3) * float(rng.standard_normal()),
        )

    return replace(a, surfaces=tuple(surface(s) for s in a.surfaces))


def flown_with(truth: Truth, before: Configuration, landed: Configuration) -> Truth:
    """Return the truth with the trim clicks it landed with; ``before``, ``landed``: the bench's own, one sortie apart."""
    real = truth.real
    for axis in Axis:
        given = landed.control(axis).clicks - before.control(axis).clicks
        control = real.control(axis)
        real = real.with_control(replace(control, clicks=control.clicks + given))
    return replace(truth, real=real)


def pack_elsewhere(truth: Truth, rng: np.random.Generator, blunders: Blunders) -> Truth:
    """Return the truth for one sortie, in which the pack may lie elsewhere in its bay than the bench thinks."""
    pack = truth.real.battery
    if pack is None or pack.bay_m is None or rng.random() >= blunders.elsewhere:
        return truth
    room = 0.15 * (pack.bay_m[1] - pack.bay_m[0])
    moved = replace(pack, x_m=pack.x_m + float(rng.uniform(-room, room)))
    return replace(truth, real=replace(truth.real, items=tuple(moved if i is pack else i for i in truth.real.items)))


def carried_out(
    truth: Truth, before: Configuration, after: Configuration, rng: np.random.Generator, hands: Hands
) -> Truth:
    """Return the truth after a change of the bench was carried out by hands: items, washers, clevises; clicks are exact.

    ``before``: the bench's setup as it landed; ``after``: as it was ordered. What was already different stays different.
    """
    real = replace(truth.real, items=_items(truth.real, before, after, rng, hands))
    motor = _washers(real.airframe.motor, before.airframe.motor, after.airframe.motor, rng, hands)
    real = replace(real, airframe=replace(real.airframe, motor=motor))
    for axis in Axis:
        real = real.with_control(_control(real.control(axis), before.control(axis), after.control(axis), rng, hands))
    return replace(truth, real=real)


def _items(
    real: Configuration, before: Configuration, after: Configuration, rng: np.random.Generator, hands: Hands
) -> tuple[Item, ...]:
    was, now = ({i.key: i for i in c.items} for c in (before, after))
    kept = {i.key: i for i in real.items}
    for key, item in now.items():
        done = rng.random() >= hands.not_done
        slip = hands.place_m * float(rng.standard_normal())
        if key not in was:
            share = 1.0 + hands.share * float(rng.standard_normal())
            if done:
                kept[key] = replace(item, x_m=item.x_m + slip, mass_kg=item.mass_kg * max(share, 0.2))
        elif (item.x_m, item.mass_kg) != (was[key].x_m, was[key].mass_kg) and key in kept and done:
            moved = kept[key].x_m + item.x_m - was[key].x_m + slip
            if item.kind is ItemKind.BATTERY and item.bay_m is not None:
                moved = max(item.bay_m[0], min(item.bay_m[1], moved))
            kept[key] = replace(kept[key], x_m=moved, mass_kg=kept[key].mass_kg + item.mass_kg - was[key].mass_kg)
    gone = [k for k in was if k not in now]
    return tuple(i for i in kept.values() if i.key not in gone)


def _washers(
    real: Motor | None, before: Motor | None, after: Motor | None, rng: np.random.Generator, hands: Hands
) -> Motor | None:
    if real is None or before is None or after is None or rng.random() < hands.not_done:
        return real
    share = 1.0 + hands.share * float(rng.standard_normal())
    return replace(
        real,
        tilt_down_rad=real.tilt_down_rad + share * (after.tilt_down_rad - before.tilt_down_rad),
        tilt_right_rad=real.tilt_right_rad + share * (after.tilt_right_rad - before.tilt_right_rad),
    )


def _control(real: Control, before: Control, after: Control, rng: np.random.Generator, hands: Hands) -> Control:
    given = after.clicks - before.clicks
    by_hand = after.mechanical_rad - before.mechanical_rad
    done = 1.0 + hands.share * float(rng.standard_normal())
    if rng.random() < hands.wrong_way:
        done = -done
    return replace(
        real,
        clicks=real.clicks + given,
        mechanical_rad=real.mechanical_rad + done * by_hand,
        sub_trim_rad=real.sub_trim_rad + after.sub_trim_rad - before.sub_trim_rad,
    )
