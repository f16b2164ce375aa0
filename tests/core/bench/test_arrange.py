"""What to move on a real configuration: words, jig readings carried over, packs as alternatives."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.bench.answer import bench_answer
from jinba.core.bench.arrange import arrangements, load_of, sensitivities, without_dead_weight
from jinba.core.bench.maiden import maiden_point
from jinba.core.configuration import JigReading, balance_of
from jinba.core.errors import RefusedError
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.situation import design_of
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import spoken
from tests.builders import model


def with_two_packs(key: str = "low_wing"):
    c = model(key)
    pack = c.battery
    other = replace(pack, key="large", name="Large pack", mass_kg=1.5 * pack.mass_kg, fitted=False)
    return replace(c, items=(*c.items, other))


def test_a_pack_at_home_counts_in_no_sum_and_has_a_balance_mark_of_its_own():
    one, two = model(), with_two_packs()
    assert balance_of(two).x_m == balance_of(one).x_m
    (mark,) = bench_answer(two).pack_marks
    swapped = replace(two, items=tuple(replace(i, fitted=i.key != one.battery.key) for i in two.items))
    assert mark.name == "Large pack"
    assert mark.x_cg_m == pytest.approx(balance_of(swapped).x_m)
    assert mark.static_margin == pytest.approx(design_of(swapped).static_margin, abs=1e-9)


@pytest.mark.parametrize("key", SILHOUETTES)
def test_every_silhouette_finds_its_maiden_point(key):
    c = model(key)
    aft = replace(c, items=(replace(c.items[0], x_m=c.items[0].x_m + 0.01), *c.items[1:]))
    found = arrangements(aft)
    assert found.target_x_m == pytest.approx(maiden_point(design_of(aft)).x_m)
    best = found.proposals[0]
    assert best.shortfall_m == 0
    assert abs(best.x_cg_m - found.target_x_m) < 0.0021
    assert balance_of(best.setup).x_m == pytest.approx(best.x_cg_m, abs=1e-9), "the setup balances where it is said"
    assert best.steps
    assert "reads" in best.expect


def test_a_jig_reading_is_carried_exactly_over_moves_and_added_mass():
    """x = (m x_read + m_b x_b)/(m + m_b) whatever the items said."""
    c = model()
    read = replace(c, jig=JigReading(balance_of(c).x_m + 0.006, 0.002, balance_of(c).x_m))
    pack = read.battery
    fixed = replace(read, items=tuple(replace(i, bay_m=None) for i in read.items))
    best = arrangements(fixed, target_x_m=balance_of(fixed).x_m - 0.008, tolerance_m=0.0005).proposals[0]
    lead = next(i for i in best.setup.items if i.kind is ItemKind.BALLAST)
    before = balance_of(fixed)
    exact = (before.mass.mass_kg * before.x_m + lead.mass_kg * lead.x_m) / (before.mass.mass_kg + lead.mass_kg)
    assert balance_of(best.setup).x_m == pytest.approx(exact, abs=1e-12)
    assert pack.key in {i.key for i in best.setup.items}


def test_the_words_say_what_and_where_without_a_sign():
    c = with_two_packs()
    far = arrangements(c, target_x_m=balance_of(c).x_m - 0.012)
    for way in far.proposals:
        for step in (*way.steps, way.expect, way.words):
            assert not any(sign in step for sign in (" -", " +")), step
    swap = next((w for w in far.proposals if any("Take" in s for s in w.steps)), None)
    assert swap is not None, "the other pack is one of the ways"
    assert any("Fit Large pack" in s for s in swap.steps)
    assert swap.setup.battery.name == "Large pack"


def test_absurd_targets_are_called_absurd():
    c = model()
    (nearest,) = arrangements(c, target_x_m=-0.3).proposals
    assert nearest.shortfall_m > 0
    assert "Look for a wrong reading" in nearest.words


def test_level_puts_the_mass_on_the_light_wing():
    c = model()
    heavy_left = replace(c, items=(*c.items, Item("cam", "Camera", 0.06, balance_of(c).x_m, -0.3)))
    best = arrangements(heavy_left, target_x_m=balance_of(heavy_left).x_m, level=True).proposals[0]
    assert abs(best.y_cg_m) <= 0.001 * 1.5 + 1e-9
    assert any("right wing tip" in s for s in best.steps)


def test_sensitivities_are_the_moment_rule():
    """10 mm of an item moves the balance by 10 m_i/m millimetres."""
    c = model()
    share = 10 * c.battery.mass_kg / balance_of(c).mass.mass_kg
    assert any(f"{share:.1f} mm the same way" in spoken(s) for s in sensitivities(c))
    assert load_of(c).rest_kg == pytest.approx(balance_of(c).mass.mass_kg - c.battery.mass_kg)


@pytest.mark.parametrize("key", ["low_wing", "canard"])
def test_a_target_that_should_not_be_flown_is_named_in_words_whoever_chose_it(key):
    """Behind the neutral point, behind the chance limit, between the limits, ahead of the flare limit."""
    c = model(key)
    design = design_of(c)
    limits = maiden_point(design)
    neutral = design.aero.neutral_point.x_m
    control = "foreplane" if key == "canard" else "elevator"
    assert f"the {control} can still flare" in limits.words

    def caution(x: float) -> str:
        return arrangements(c, target_x_m=x).proposals[0].caution

    assert "behind the neutral point, the model would be unstable" in caution(neutral + 0.006)
    assert "behind the rearmost point" in caution(0.5 * (neutral + limits.aft_limit_m))
    assert caution(limits.aft_limit_m - 0.003) == ""
    nose_heavy = caution(limits.forward_limit_m - 0.008)
    assert nose_heavy.startswith("Nose-heavy")
    assert control in nose_heavy


def test_a_model_of_nothing_but_movable_items_is_refused_with_what_to_enter():
    c = model()
    with pytest.raises(RefusedError, match="enter the bare airframe"):
        arrangements(replace(c, items=(c.battery,)))


def test_a_heavy_item_off_the_centre_line_may_be_mirrored():
    """The same mass at the mirror place: the moment sum by hand, toward the other side."""
    c = model("low_wing")
    c = replace(c, items=(*c.items, Item("cam", "Wing camera", 0.08, 0.1, 0.30)))
    words = next(s for s in sensitivities(c) if "mirror place of Wing camera" in s)
    y, m = balance_of(c).mass.y_m, balance_of(c).mass.mass_kg
    by_hand = abs((m * y - 0.08 * 0.30) / (m + 0.08) - y) * 1000
    assert f"{by_hand:.1f} mm left" in spoken(words)


@pytest.mark.parametrize("grams", [(500, 250), (250, 500), (80, 20)])
def test_lead_at_both_ends_goes_before_any_is_added(grams):
    """Found by review: 500 g at the nose and 250 g at the tail, and every proposal added more. Equal moments leave: m1 a1 = m2 a2."""
    c = model("low_wing")
    x, body = balance_of(c).x_m, c.airframe.body
    nose, tail = body.nose_x_m + 0.02, body.nose_x_m + body.length_m - 0.02
    lead = tuple(
        Item(name, name, g / 1000.0, at, kind=ItemKind.BALLAST)
        for name, g, at in zip(("nose", "tail"), grams, (nose, tail), strict=True)
    )
    c = replace(c, items=(*c.items, *lead))
    x = balance_of(c).x_m
    lean = without_dead_weight(c, x)
    gone = {i.key: i.mass_kg - sum(k.mass_kg for k in lean.configuration.items if k.key == i.key) for i in lead}
    assert gone["nose"] * (x - nose) == pytest.approx(gone["tail"] * (tail - x), rel=0.03)
    assert any(g == pytest.approx(i.mass_kg) for i, g in zip(lead, gone.values(), strict=True)), (
        "one end is rid of all its lead"
    )
    assert balance_of(lean.configuration).x_m == pytest.approx(x, abs=0.0003)
    for p in arrangements(c).proposals:
        assert spoken(p.steps[0]).startswith("Take ")
        assert p.added_kg < 0.0
        assert p.mass_kg == pytest.approx(balance_of(c).mass.mass_kg + p.added_kg, abs=1e-6)
        assert "only held other lead up" in p.words


def test_lead_at_one_end_alone_stays():
    c = model("low_wing")
    c = replace(c, items=(*c.items, Item("nose", "nose", 0.05, c.airframe.body.nose_x_m, kind=ItemKind.BALLAST)))
    x = balance_of(c).x_m
    assert without_dead_weight(c, x - 0.01).configuration is c, "it holds the way it is to go"
    back = without_dead_weight(c, x + 0.001)
    assert back.steps
    assert balance_of(back.configuration).x_m == pytest.approx(x + 0.001, abs=0.0006), (
        "lead that holds it back goes first"
    )
