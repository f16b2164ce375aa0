"""The ways to one balance point: judged by one belief, leaving it always among them."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.configuration import balance_of
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Choices
from jinba.core.correct.ways import ways
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.situation import design_of
from tests.builders import ALL_SEEN, model, trimmed, with_margin
from tests.core.correct.test_compose import knowing


def with_second_pack(c):
    pack = c.battery
    assert pack is not None
    other = Item(
        "heavy", "Heavy pack", 1.4 * pack.mass_kg, pack.x_m, bay_m=pack.bay_m, kind=ItemKind.BATTERY, fitted=False
    )
    return replace(c, items=(*c.items, other))


@pytest.mark.parametrize("key", ["low_wing", "high_wing", "flying_wing"])
def test_every_way_reaches_the_same_margin_and_leaving_it_stays_where_it_is(key):
    """A margin is where it balances: x_np less x over the chord, whatever was moved to get there."""
    c = with_second_pack(with_margin(model(key), 0.03))
    belief, flown = knowing(), trimmed(c)
    composed = compose(c, belief, flown, ALL_SEEN)
    found = ways(c, belief, flown, composed)
    assert 2 <= len(found) <= 4
    assert (found[0].key, found[-1].key) == ("composed", "leave")
    margins = {w.key: w.predicted[0].value for w in found}
    assert margins["leave"] == pytest.approx(3.0, abs=0.2)
    for way in found:
        if way.key.startswith("arranged"):
            assert margins[way.key] == pytest.approx(margins["composed"], abs=1.0)
            assert way.setup is not None
            mac = design_of(c).aero.planform.mac_m
            moved = (balance_of(c).x_m - balance_of(way.setup).x_m) / mac
            assert 100 * moved == pytest.approx(margins[way.key] - margins["leave"], abs=1.0)
            assert way.added_kg == pytest.approx(way.mass_kg - found[-1].mass_kg)
    assert found[-1].stale == ()
    assert "F12" in found[0].stale


def test_with_nothing_to_do_there_is_no_other_place_to_go_to():
    c = with_margin(model(), 0.09)
    belief, flown = knowing(), trimmed(c)
    found = ways(c, belief, flown, compose(c, belief, flown, ALL_SEEN, Choices()))
    assert not any(w.key.startswith(("composed", "arranged")) for w in found)
    assert found[-1].key == "leave"
