"""How wrong closed forms are goes by family: which family, which mean, which share of another's error."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, sortie_data
from jinba.core.diagnose.update import prior_of
from jinba.core.flight.piloting.person import PERFECT
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.frames import Response
from jinba.core.observe import predictions
from jinba.core.observe.calibrated import BY_THE_PROPELLER, ERRORS
from jinba.core.observe.families import Family, family_of
from jinba.core.observe.measures import MEASURES, errors_of, size_of
from jinba.core.observe.parameters import P, prior_means
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of
from tests.builders import model, trimmed, with_margin

OF_LAYOUT = {
    "high_wing": Family.HIGH_WING,
    "low_wing": Family.LOW_WING,
    "twin_boom_pusher": Family.PUSHER,
    "sailplane": Family.GLIDER,
    "v_tail": Family.V_TAIL,
    "biplane": Family.SEVERAL_WINGS,
    "triplane": Family.SEVERAL_WINGS,
    "canard": Family.FOREPLANE,
    "tandem": Family.TANDEM,
    "flying_wing": Family.FLYING_WING,
    "delta": Family.DELTA,
}


@pytest.mark.parametrize(("layout", "family"), OF_LAYOUT.items())
def test_every_layout_has_its_family_whatever_its_size(layout, family):
    assert {family_of(model(layout, span_m=b).airframe) for b in (0.6, 1.5, 2.8)} == {family}


def test_a_model_without_its_motor_is_a_glider():
    a = model("low_wing").airframe
    assert family_of(replace(a, motor=None)) is Family.GLIDER


@pytest.mark.parametrize("layout", ["high_wing", "sailplane", "delta"])
def test_the_table_is_read_by_family_and_goes_with_size(layout):
    design = design_of(model(layout, span_m=1.1))
    family, errors = OF_LAYOUT[layout], errors_of(design)
    for key, by_family in ERRORS.items():
        if family not in by_family or key not in errors:
            continue
        times = size_of(next(m.per for m in MEASURES.values() if m.bias_key == key), design)
        mean, sigma, scatter = by_family[family]
        assert (errors[key].mean, errors[key].sigma) == pytest.approx((times * mean, times * sigma))
        own = next((m for m in MEASURES.values() if m.key == key), None)
        assert own is None or own.sized(design).sigma == pytest.approx(scatter * own.sized(design).noise)
    # What no table knows is as it was.
    assert errors["stall_wing"].mean == 0.0


def test_a_mirrored_propeller_mirrors_what_its_step_misses_sideways_and_a_glider_misses_alike_both_ways():
    c = model("low_wing")
    a = c.airframe
    assert a.motor is not None
    for key in sorted(BY_THE_PROPELLER):
        right, left, pair, none = (
            errors_of(design_of(replace(c, airframe=replace(a, motor=m))))[key].mean
            for m in (
                replace(a.motor, turns_right=True),
                replace(a.motor, turns_right=False),
                replace(a.motor, y_m=0.2, counter_rotating=True),
                None,
            )
        )
        assert right == -left
        assert right != 0.0
        assert (pair, none) == (0.0, 0.0)


def test_a_second_look_at_what_scatters_says_more_and_at_what_is_wrong_every_time_no_more():
    """Three readings of one kind: what is noise goes with the root of three, what comes back every time stays (docs/methods/estimator.md)."""
    for key, by_family in ERRORS.items():
        for family, (_, sigma, scatter) in by_family.items():
            assert sigma > 0.0, (key, family)
            assert 0.8 <= scatter <= 3.5, (key, family)
    design = design_of(model("high_wing"))
    fast = MEASURES["F13", "left_over"].sized(design)
    once, thrice = (math.hypot(fast.bias, fast.sigma / math.sqrt(n)) for n in (1, 3))
    assert fast.bias < thrice < 0.75 * once, "a second speed is worth flying again"


def test_a_high_wing_that_needs_the_down_trim_of_all_high_wings_is_not_called_nose_up():
    """Trimmed by as many degrees a second as its family misses in the mean, the belief stays where the bench is; the other way it moves."""
    c = with_margin(model("high_wing"), 0.12)
    design = design_of(c)
    usual = errors_of(design)["pitch_left_over"].mean
    assert usual > 0.0
    x = prior_means()
    k = (predictions.trim_left_cruise(x, Moment(design, trimmed(c).moved(*_down(0.01)))) - 0.0) / -0.01
    held = usual / k
    moved = {}
    for way in (1.0, -1.0):
        rests = trimmed(c)
        at = replace(c, elevator=replace(c.elevator, mechanical_rad=rests.elevator_rad + way * held))
        flown = LoggedSortie(at, (CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), True),))
        belief = belief_after((flown,), configuration=at)
        moved[way] = float((belief.mean - prior_of(design).mean)[P.PITCH_MOMENT])
    assert abs(moved[1.0]) < 0.35 * abs(moved[-1.0])
    assert moved[-1.0] < 0.0, "less nose-up than usual: its moment is nose-down"


def _down(angle_rad: float):
    from jinba.core.frames import Axis

    return Axis.PITCH, trimmed(with_margin(model("high_wing"), 0.12)).elevator_rad + angle_rad


def test_a_moment_nobody_computed_asks_for_push_upside_down_as_it_left_the_nose_up():
    """A moment is a moment: adding one to the model moves what is left over upright and the stick upside down by the stated share."""
    c = with_margin(model(), 0.1)
    design, trims = design_of(c), trimmed(with_margin(model(), 0.1))
    at = Moment(design, trims)
    x, more = prior_means(), prior_means()
    more[P.PITCH_MOMENT] += 0.01
    upright = predictions.trim_left_cruise(more, at) - predictions.trim_left_cruise(x, at)
    inverted = predictions.inverted_push(more, at) - predictions.inverted_push(x, at)
    share = predictions.moment_upside_down(design)
    lost = math.exp(x[P.LN_ELEVATOR])
    assert upright > 0.0
    assert inverted / upright == pytest.approx(share / lost * lost, rel=0.02)


def test_a_glider_flies_its_second_speed_and_more_down_trim_means_more_margin():
    """Common practice: a glider trimmed for a third more speed asks for down trim as far as it is nose-heavy."""
    assert not CARDS["F13"].powered
    c = with_margin(model("sailplane", span_m=2.0), 0.12)
    trim = CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="holds"),), True)

    def margin(clicks: float) -> float:
        faster = (
            Reading("clicks_fast", number=clicks, direction=Response.NOSE_DOWN),
            Reading("left_over", choice="holds"),
        )
        flown = LoggedSortie(c, (trim, CardRecord("F13", Outcome.DONE, faster, True)))
        return float(belief_after((flown,), configuration=c).mean[P.STATIC_MARGIN])

    assert margin(1.0) < margin(5.0) < margin(10.0)
    flown = fly_sortie(Truth(c), ("F2", "F13"), seed=3, person=PERFECT)
    record = next(r for r in flown.records if r.card_id == "F13")
    assert record.outcome is Outcome.DONE
    assert any(d.measure.key == "pitch_fast" for d in sortie_data(LoggedSortie(c, flown.records)))
    held = record.reading("clicks_fast")
    assert held is not None
    assert held.direction is Response.NOSE_DOWN, "a stable glider wants down trim to fly faster"


def test_seconds_of_a_dive_err_less_than_its_word():
    design = design_of(model("low_wing"))
    word = MEASURES["F12", "dive"].sized(design)
    timed = word.timed(predictions.rate_to_level, design)
    assert timed.bias < word.bias
    assert timed.errors[0].key != word.errors[0].key
    assert np.isfinite(timed.expected)
