"""What to move on this model: its items, packs and ballast as a load for the balance solver, and the answers in words."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jinba.core.airframe.layout import lifting_area_m2, pitch_control_of
from jinba.core.bench.fingers import fingers_of
from jinba.core.bench.maiden import forward_margin, maiden_point
from jinba.core.configuration import (
    BallastStation,
    BallastStock,
    Configuration,
    balance_of,
    with_carried_jig,
)
from jinba.core.constants import ONE_SIDED_95_PERCENT
from jinba.core.diagnose.goal import goal_of
from jinba.core.diagnose.update import Belief
from jinba.core.errors import RefusedError
from jinba.core.frames import Axis, control_name, forward_or_aft, left_or_right, station_words
from jinba.core.mass.arrangement import Arrangement, Ballast, Load, Movable, Station, Target, arrange
from jinba.core.mass.items import Item, ItemKind, sum_items
from jinba.core.mass.readings import BenchOrder, BenchStep
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import Design, design_of
from jinba.core.spoken import a_length, a_mass
from jinba.core.stability.stall import wing_loading_kg_m2
from jinba.core.uncertainty import root_sum_square

TOLERANCE_M = 0.0015
_ROUNDING_M = TOLERANCE_M + 0.0005
"""How far rounding to whole millimetres and pieces may carry a point past the one aimed at."""
_INSET_M = 0.03
_NOTHING_KG = 1e-6
_OFF_CENTRE_M = 0.01
_LATERAL_TOLERANCE_SPAN = 0.001
"""Lateral balance within a thousandth of the span: a sixth of what a pilot notices (docs/methods/balance-solver.md)."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """An arrangement as a configuration, in steps a hand can do, with what it gives and what it costs.

    ``expect`` is the reading that proves it; inertia is the pitch moment of inertia of the items over what it was.
    ``caution`` says why the model should not be flown there, empty when the point lies between both limits.
    """

    setup: Configuration
    steps: tuple[str, ...]
    expect: str
    x_cg_m: float
    y_cg_m: float
    static_margin: float
    mass_kg: float
    added_kg: float
    pitch_inertia_ratio: float
    wing_loading_kg_m2: float
    stall_speed_mps: float
    both_ends: bool
    shortfall_m: float
    words: str
    caution: str


@dataclass(frozen=True, slots=True)
class Arrangements:
    """The target with its reason, the best few ways there, what moving or adding anything does, and the ballast at hand."""

    target_x_m: float
    target_words: str
    now_x_m: float
    proposals: tuple[Proposal, ...]
    sensitivities: tuple[str, ...]
    stock: BallastStock


def arrangements(
    configuration: Configuration,
    *,
    target_x_m: float | None = None,
    tolerance_m: float = TOLERANCE_M,
    level: bool = False,
    belief: Belief | None = None,
) -> Arrangements:
    """Return the ways to balance a configuration at a target station, the maiden or class target by default.

    ``level``: reach the lateral balance as well. Raises: as :func:`arrange`.
    """
    x, words = (target_x_m, "as you chose") if target_x_m is not None else default_target(configuration, belief)
    span = design_of(configuration).aero.planform.span_m
    target = Target(x, tolerance_m, _LATERAL_TOLERANCE_SPAN * span if level else None)
    lean = without_dead_weight(configuration, x)
    found = arrange(load_of(lean.configuration), target)
    return Arrangements(
        target_x_m=x,
        target_words=words,
        now_x_m=balance_of(configuration).x_m,
        proposals=tuple(
            _proposal(configuration, lean, a, target, _caution(configuration, belief, a.x_m)) for a in found
        ),
        sensitivities=sensitivities(configuration),
        stock=stock_of(configuration),
    )


def default_target(configuration: Configuration, belief: Belief | None) -> tuple[float, str]:
    """Return the station to aim for [m] and why: the maiden point before any flight, else the class target.

    Derived here (docs/methods/balance-solver.md).
    """
    design = design_of(configuration)
    if belief is None:
        maiden = maiden_point(design)
        if maiden.x_m is not None:
            return maiden.x_m, "the maiden balance point"
        return maiden.forward_limit_m, "the forward limit, because no point is safe both ways yet: measure better first"
    goal = goal_of(configuration, belief)
    margin = max(goal.margin, _least_safe_margin(configuration, belief))
    neutral = _neutral_as_flown_m(design, belief)
    x = neutral - margin * design.aero.planform.mac_m
    return (
        x,
        f"{goal.words if goal.asked is None else f'for {goal.words}'}, {100 * margin:.0f} % of the chord ahead of the neutral point as flown",
    )


def _least_safe_margin(configuration: Configuration, belief: Belief) -> float:
    return configuration.rules.minimum + ONE_SIDED_95_PERCENT * float(belief.sigma[P.STATIC_MARGIN])


def _neutral_as_flown_m(design: Design, belief: Belief) -> float:
    return design.aero.neutral_point.x_m + float(belief.mean[P.STATIC_MARGIN]) * design.aero.planform.mac_m


def _caution(configuration: Configuration, belief: Belief | None, x_m: float) -> str:
    """Return why a model balanced at this station should not be flown, in words; empty between both limits."""
    design = design_of(configuration)
    mac, maiden = design.aero.planform.mac_m, maiden_point(design)
    neutral = design.aero.neutral_point.x_m if belief is None else _neutral_as_flown_m(design, belief)
    aft = maiden.aft_limit_m
    if belief is not None:
        aft = neutral - _least_safe_margin(configuration, belief) * mac
    forward = neutral - forward_margin(design) * mac
    control = control_name(Axis.PITCH, pitch_control_of(configuration.airframe))
    if x_m > neutral:
        return f"Do not fly it there: {_mm(x_m - neutral)} behind the neutral point, the model would be unstable."
    if x_m > aft + _ROUNDING_M:
        return (
            f"Do not fly it there without a reason: {_mm(x_m - aft)} behind the rearmost point that keeps the chance "
            f"of less than {100 * configuration.rules.minimum:.0f} % static margin under 1 %."
        )
    if x_m < forward - _ROUNDING_M:
        return (
            f"Nose-heavy: {_mm(forward - x_m)} ahead of the foremost point from which the {control} "
            "can surely flare. Expect a fast landing, or give it more throw."
        )
    return ""


def _mm(length_m: float) -> str:
    return a_length(length_m)


def stock_of(configuration: Configuration) -> BallastStock:
    """Return the ballast at hand: the pilot's own, or common sizes for nose, tail and both wing tips."""
    own = configuration.ballast
    light = sum_items(configuration.items).mass_kg < 0.4
    pieces = (0.0005, 0.001, 0.002, 0.005) if light else (0.005, 0.010, 0.020, 0.050)
    if own is not None and own.stations:
        return own if own.pieces_kg else replace(own, pieces_kg=pieces)
    a = configuration.airframe
    rear = max(a.body.nose_x_m + a.body.length_m, *(s.x_m + s.sections[0].chord_m for s in a.surfaces)) - _INSET_M
    tip = a.wing.sections[-1]
    tip_x, tip_y = a.wing.x_m + tip.x_offset_m + 0.35 * tip.chord_m, 0.96 * tip.y_m
    stations = (
        BallastStation("nose", a.body.nose_x_m + _INSET_M),
        BallastStation("tail", rear),
        BallastStation("left wing tip", tip_x, -tip_y, 0.2),
        BallastStation("right wing tip", tip_x, tip_y, 0.2),
    )
    return BallastStock(pieces if own is None or not own.pieces_kg else own.pieces_kg, 6, stations)


def load_of(configuration: Configuration) -> Load:
    """Return what the solver may arrange. A jig reading rules: the rest carries what the items do not explain."""
    balance, stock = balance_of(configuration), stock_of(configuration)
    packs = tuple(
        i for i in configuration.items if i.kind is ItemKind.BATTERY and i.bay_m is not None and not i.to_come
    )
    flown = [p for p in packs if p.fitted]
    alternatives = packs if len(flown) == 1 else ()
    movable = tuple(
        i for i in configuration.items if i.fitted and i.bay_m is not None and i not in alternatives and i.mass_kg > 0
    )
    arranged = (*movable, *(p for p in alternatives if p.fitted))
    mass = balance.mass.mass_kg
    rest = mass - sum(i.mass_kg for i in arranged)
    if rest < _NOTHING_KG:
        raise RefusedError("Nothing on this model stays where it is: enter the bare airframe as an item without a bay.")
    rest_x = (mass * balance.x_m - sum(i.mass_kg * i.x_m for i in arranged)) / rest
    rest_y = (mass * balance.mass.y_m - sum(i.mass_kg * i.y_m for i in arranged)) / rest
    return Load(
        rest_kg=rest,
        rest_x_m=rest_x,
        rest_y_m=rest_y,
        movable=tuple(_movable(i) for i in movable),
        packs=tuple(_movable(p) for p in alternatives),
        flown_pack=flown[0].key if alternatives else "",
        stations=tuple(Station(s.name, s.x_m, s.y_m, s.most_kg) for s in stock.stations),
        pieces_kg=stock.pieces_kg,
        pieces_each=stock.pieces_each,
    )


def _movable(item: Item) -> Movable:
    low, high = item.bay_m or (item.x_m, item.x_m)
    return Movable(item.key, item.mass_kg, item.x_m, min(low, item.x_m), max(high, item.x_m), item.y_m, item.z_m)


@dataclass(frozen=True, slots=True)
class Lean:
    """A configuration without lead that only holds other lead up: what was taken out [kg], in steps; nothing where there is none."""

    configuration: Configuration
    steps: tuple[str, ...] = ()
    taken_kg: float = 0.0


def without_dead_weight(configuration: Configuration, target_x_m: float) -> Lean:
    """Return a configuration without the lead that only holds other lead up, and without lead that holds the target back. [m]

    Equal moments about the balance point leave both ends, the outermost lead first, in whole grams; then, of what is left, as
    much as brings the balance to the target: m x - r x_b = (m - r) x_t. Derived here (docs/methods/balance-solver.md).
    """
    balance = balance_of(configuration)
    x_cg, mass = balance.x_m, balance.mass.mass_kg
    lead = [
        i
        for i in configuration.items
        if i.kind is ItemKind.BALLAST and i.fitted and abs(i.y_m) < _OFF_CENTRE_M and abs(i.x_m - x_cg) > _OFF_CENTRE_M
    ]
    ends = [[i for i in lead if (i.x_m < x_cg) is ahead] for ahead in (True, False)]
    moment = min(sum(i.mass_kg * abs(i.x_m - x_cg) for i in end) for end in ends)
    gone = dict.fromkeys((i.key for i in lead), 0.0)
    for end in ends:
        _take(gone, end, moment, about_m=x_cg)
    back = [i for i in lead if (i.x_m - target_x_m) * (x_cg - target_x_m) > 0.0]
    _take(gone, back, (mass - sum(gone.values())) * abs(x_cg - target_x_m), about_m=target_x_m)
    if sum(gone.values()) <= _NOTHING_KG:
        return Lean(configuration)
    kept = tuple(replace(i, mass_kg=i.mass_kg - gone.get(i.key, 0.0)) for i in configuration.items)
    items = tuple(i for i in kept if i.mass_kg > _NOTHING_KG or i.key not in gone)
    steps = tuple(f"Take {a_mass(gone[i.key])} out of {i.name}." for i in lead if gone[i.key] > _NOTHING_KG)
    after = with_carried_jig(configuration, replace(configuration, items=items))
    return Lean(after, steps, sum(gone.values()))


def _take(gone: dict[str, float], lead: list[Item], moment: float, *, about_m: float) -> None:
    """Take lead out, the outermost first, until its moment about a station is gone [kg m]; ``gone`` by key is added to."""
    for item in sorted(lead, key=lambda i: -abs(i.x_m - about_m)):
        arm = abs(item.x_m - about_m)
        mass = min(item.mass_kg - gone[item.key], round(1000.0 * moment / arm) / 1000.0)
        gone[item.key] += mass
        moment -= mass * arm


def _proposal(before: Configuration, lean: Lean, a: Arrangement, target: Target, caution: str) -> Proposal:
    after, moves = _applied(lean.configuration, a)
    steps = (*lean.steps, *moves) or ("Nothing to move: it balances there already.",)
    design, old, new = design_of(after), sum_items(before.items), sum_items(after.items)
    tolerance = root_sum_square([TOLERANCE_M, balance_of(before).sigma_m])
    expect = f"The balance point then reads {station_words(a.x_m, before.datum)}, within {a_length(tolerance, 1)}."
    order = BenchOrder(tuple(BenchStep(s[:300]) for s in steps), a.x_m, tolerance, fingers_of(design).words)
    return Proposal(
        setup=replace(after, order=order),
        steps=steps,
        expect=expect,
        x_cg_m=a.x_m,
        y_cg_m=a.y_m,
        static_margin=design.static_margin,
        mass_kg=a.mass_kg,
        added_kg=a.added_kg - lean.taken_kg,
        pitch_inertia_ratio=1.0 + (new.iyy_kg_m2 - old.iyy_kg_m2) / design_of(before).pitch_inertia_kg_m2,
        wing_loading_kg_m2=wing_loading_kg_m2(mass_kg=a.mass_kg, area_m2=lifting_area_m2(after.airframe)),
        stall_speed_mps=design.stall_speed_mps,
        both_ends=a.both_ends,
        shortfall_m=a.shortfall_m,
        words=_judgement(a, target)
        + (
            f" {a_mass(lean.taken_kg)} of lead goes first: it only held other lead up, or held the balance back."
            if lean.steps
            else ""
        ),
        caution=caution,
    )


def _judgement(a: Arrangement, target: Target) -> str:
    if a.shortfall_m > 0:
        side = forward_or_aft(target.x_m - a.x_m)
        return (
            f"The target is {a_length(abs(target.x_m - a.x_m))} further {side} than anything aboard or in stock can reach. "
            "Look for a wrong reading, datum or target first; then make room for the pack, or move the motor or a servo."
        )
    if a.both_ends:
        return (
            "Ballast at both ends: nothing else reaches both targets. It balances, but it is slow to pitch and "
            "flies badly; moving a part is better."
        )
    if a.added_kg > 0.1 * a.mass_kg:
        return f"{100 * (a.added_kg / a.mass_kg):.0f} % of the mass is ballast: check the reading, the datum and the target first."
    return "Nothing is added." if a.added_kg == 0 else f"Adds {a_mass(a.added_kg, 1)} of ballast."


def _applied(before: Configuration, a: Arrangement) -> tuple[Configuration, tuple[str, ...]]:
    steps: list[str] = []
    items: list[Item] = []
    flown = next((i.key for i in before.items if i.kind is ItemKind.BATTERY and i.fitted), "")
    swapped = a.pack not in ("", flown)
    for item in before.items:
        placed = replace(item, x_m=a.positions_m.get(item.key, item.x_m))
        if swapped and item.key == flown:
            placed = replace(item, fitted=False)
            steps.append(f"Take {item.name} out.")
        elif swapped and item.key == a.pack:
            placed = replace(placed, fitted=True)
            steps.append(f"Fit {item.name}, its centre {station_words(placed.x_m, before.datum)}.")
        elif placed.x_m != item.x_m:
            mm = round((placed.x_m - item.x_m) * 1000)
            where = station_words(placed.x_m, before.datum)
            steps.append(
                f"Move {item.name} {a_length(abs(mm) / 1000)} {forward_or_aft(mm)}; its centre is then {where}."
            )
        items.append(placed)
    stations = {s.name: s for s in stock_of(before).stations}
    for b in a.ballast:
        station = stations[b.station]
        key = f"ballast-{len(items)}"
        items.append(Item(key, f"Ballast, {b.station}", b.mass_kg, station.x_m, station.y_m, kind=ItemKind.BALLAST))
        steps.append(f"Add {_pieces(b)} at the {b.station}, {station_words(station.x_m, before.datum)}.")
    after = with_carried_jig(before, replace(before, items=tuple(items)))
    return after, tuple(steps)


def _grams(mass_kg: float) -> str:
    """Pieces are named by their size: 5 g, 2.5 g."""
    return a_mass(mass_kg, 0 if abs(mass_kg * 1000 - round(mass_kg * 1000)) < 0.01 else 1)


def _pieces(b: Ballast) -> str:
    parts = ", ".join(f"{n} of {_grams(size)}" for size, n in b.pieces)
    return f"{_grams(b.mass_kg)} ({parts})"


def sensitivities(configuration: Configuration) -> tuple[str, ...]:
    """Return what 10 mm of each movable thing and 10 g at each station do to the balance point, in words."""
    balance = balance_of(configuration)
    mass = balance.mass.mass_kg
    words = []
    for item in configuration.items:
        if item.fitted and item.bay_m is not None:
            words.append(
                f"{a_length(0.01)} of {item.name} moves the balance {a_length(0.01 * item.mass_kg / mass, 1)} the same way."
            )
        if item.fitted and abs(item.y_m) > _OFF_CENTRE_M and item.kind is not ItemKind.AIRFRAME:
            across = -item.mass_kg * (item.y_m + balance.mass.y_m) / (mass + item.mass_kg) * 1000
            words.append(
                f"{a_mass(item.mass_kg)} at the mirror place of {item.name}, inside the other half, moves it "
                f"{a_length(abs(across) / 1000, 1)} {left_or_right(across)}."
            )
    for s in stock_of(configuration).stations:
        moved = 0.010 * (s.x_m - balance.x_m) / (mass + 0.010) * 1000
        across = 0.010 * (s.y_m - balance.mass.y_m) / (mass + 0.010) * 1000
        sideways = f" and {a_length(abs(across) / 1000, 1)} {left_or_right(across)}" if abs(s.y_m) > 0.01 else ""
        words.append(
            f"{a_mass(0.01)} at the {s.name} moves it {a_length(abs(moved) / 1000, 1)} {forward_or_aft(moved)}{sideways}."
        )
    return tuple(words)
