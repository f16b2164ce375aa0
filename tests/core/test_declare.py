"""What a changed field means stands on the field: every one is classified, and the walkers go by it."""

from __future__ import annotations

from dataclasses import fields, is_dataclass, replace

import pytest

from jinba.core.cards.stale import difference
from jinba.core.configuration import BallastStation, BallastStock, Configuration, JigReading, PublishedPoint, balance_of
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.declare import Change, Keyed, Opens, Sister, declared, default_of, hinted, mark, unit_of
from jinba.core.mass.readings import AxisReading, BenchOrder, BenchStep, SwungInertia
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from jinba.core.walks import built_again, changes, shift_datum
from tests.builders import model


def everything() -> Configuration:
    """Return a setup in which nearly every optional part is there."""
    c = model("twin_boom_pusher")
    controls = replace(c.control_setup, stabiliser=Stabiliser())
    stock = BallastStock((0.01,), stations=(BallastStation("nose", -0.1),))
    order = BenchOrder((BenchStep("slide the pack"),), 0.1, 0.002, "under the spar", 0.101)
    items = tuple(replace(i, bay_m=(i.x_m - 0.05, i.x_m + 0.05)) for i in c.items)
    return replace(
        c,
        items=items,
        jig=JigReading(0.1, 0.002, 0.1),
        published=PublishedPoint(0.11),
        ballast=stock,
        across=AxisReading(0.001, 0.0005, 0.0),
        height=AxisReading(0.01, 0.005, 0.0),
        swung=SwungInertia(0.01, 0.02),
        order=order,
        controls=controls,
    )


def records(kind: type = Configuration, seen: set[type] | None = None) -> set[type]:
    """Return every record class that a setup is made of."""
    found = set() if seen is None else seen
    found.add(kind)
    for _, hint, _ in declared(kind):
        for inner, _ in hinted(hint):
            if is_dataclass(inner) and inner not in found:
                records(inner, found)
    return found


@pytest.mark.parametrize("kind", sorted(records(), key=lambda k: k.__name__), ids=lambda k: k.__name__)
def test_every_number_of_a_setup_says_its_unit(kind):
    suffixes = {"m": "_m", "rad": "_rad", "kg": "_kg", "m/s": "_mps", "us": "_us", "K": "_k", "N": "_n"}
    numbers = [f.name for f, hint, _ in declared(kind) if any(inner in (int, float) for inner, _ in hinted(hint))]
    units = {name: unit_of(kind, name) for name in numbers}
    assert [n for n, u in units.items() if u is None] == [], "say its unit with an alias of core.declare"
    wanted = {n: suffixes.get(u.symbol, "") for n, u in units.items() if u is not None and n != "rad_per_click"}
    assert [n for n, suffix in wanted.items() if not n.endswith(suffix)] == [], f"{kind.__name__}: the unit in its name"
    for field, _, marks in declared(kind):
        if mark(marks, Sister) is Sister.ANEW:
            default_of(field)


def unclassified(kind: type, opens: bool, inherits: bool, path: str) -> list[str]:
    """Return the fields below a record for which nobody says what a change is, or whether a sister inherits it."""
    found = []
    for field, hint, marks in declared(kind):
        here = f"{path}.{field.name}"
        says = opens or mark(marks, Opens) is not None
        keyed = mark(marks, Keyed)
        built = inherits or mark(marks, Sister) is not None
        parts = [inner for inner, _ in hinted(hint) if is_dataclass(inner)]
        for part in parts:
            found += unclassified(part, says and keyed is None, built, here)
        if not parts and not (says and built):
            found.append(here)
    return found


def test_every_field_says_what_a_change_of_it_opens_and_whether_a_sister_inherits_it():
    assert unclassified(Configuration, False, False, "setup") == []


def stations(value: object, path: str = "") -> dict[str, float]:
    """Return every number named like a station, by a rule of its own: x along the body, but no offset from a root."""
    found: dict[str, float] = {}
    for field in fields(value):  # type: ignore[arg-type]
        part, here = getattr(value, field.name), f"{path}.{field.name}"
        parts = part if isinstance(part, tuple) else (part,)
        for i, p in enumerate(parts):
            if is_dataclass(p):
                found |= stations(p, f"{here}.{i}")
            elif isinstance(p, float) and (
                field.name
                in ("x_m", "nose_x_m", "main_x_m", "third_x_m", "items_x_m", "bay_m", "expected_m", "reading_m")
            ):
                found[f"{here}.{i}"] = p
    return found


def test_another_datum_moves_every_station_and_nothing_else():
    c = everything()
    moved = shift_datum(c, 0.07, "nose")
    before, after = stations(c), stations(moved)
    assert len(before) > 15
    assert {k: round(before[k] - after[k], 12) for k in before} == dict.fromkeys(before, 0.07)
    assert shift_datum(moved, -0.07, c.datum) != moved
    assert changes(c, moved) == (frozenset(), ()), "described from elsewhere, the model is the same"
    assert balance_of(moved).x_m == pytest.approx(balance_of(c).x_m - 0.07)


@pytest.mark.parametrize("key", sorted(SILHOUETTES))
def test_a_model_is_no_different_from_itself(key):
    c = model(key)
    assert difference(c, replace(c)).stale == frozenset()


def heavier(c: Configuration, **what: float) -> Configuration:
    return replace(c, items=(c.items[0], replace(c.items[1], **what)))


@pytest.mark.parametrize(
    ("change", "kinds", "words"),
    [
        (lambda c: heavier(c, z_m=c.items[1].z_m + 0.02), {Change.BALANCE, Change.THRUST_LINE}, "moved 20 mm up"),
        (lambda c: heavier(c, x_m=c.items[1].x_m - 0.01), {Change.BALANCE}, "moved 10 mm forward"),
        (lambda c: heavier(c, y_m=0.02), {Change.LATERAL}, "moved sideways"),
        (lambda c: heavier(c, mass_kg=0.3), {Change.BALANCE, Change.POWER}, "now 300 g"),
        (
            lambda c: replace(c, elevator=replace(c.elevator, rad_per_click=0.005)),
            {Change.RADIO_TRIM},
            "elevator trim click measured anew",
        ),
        (lambda c: replace(c, aileron=replace(c.aileron, throw_rad=0.3)), {Change.THROWS}, "aileron throw changed"),
        (
            lambda c: replace(c, rudder=replace(c.rudder, mechanical_rad=0.03, clicks=2)),
            {Change.AILERON_RUDDER},
            "rudder linkage reset",
        ),
        (lambda c: replace(c, across=AxisReading(0.02, 0.001, 0.0)), {Change.LATERAL}, "further right"),
        (lambda c: replace(c, jig=JigReading(0.15, 0.002, 0.1)), {Change.BALANCE}, "further aft"),
        (lambda c: replace(c, pack_minutes=5.0, flown_inverted=True), set(), ""),
        (lambda c: replace(c, published=None, order=None, swung=None), set(), ""),
    ],
)
def test_what_a_change_opens(change, kinds, words):
    c = everything()
    found = difference(c, change(c))
    assert found.changes == kinds
    assert words in spoken("; ".join(found.words))
    assert (found.stale == frozenset()) is not kinds


def test_a_sister_has_nothing_of_the_one_airframe():
    c = everything()
    sister = built_again(replace(c, elevator=replace(c.elevator, sub_trim_rad=0.02, clicks=3)))
    assert (sister.jig, sister.across, sister.height, sister.swung, sister.order) == (None,) * 5
    assert sister.elevator.mechanical_rad == pytest.approx(c.elevator.mechanical_rad + 0.02)
    assert (sister.elevator.sub_trim_rad, sister.elevator.clicks) == (0.0, 0)
    assert (sister.airframe, sister.published) == (c.airframe, c.published)
    assert sister.controls is not None
    assert all(f.proved_on == "" for f in sister.controls.radio.fail_safe)
