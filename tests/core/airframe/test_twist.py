"""Twist as measured on both sides: the alarm, the side it rolls to in words, and what it is worth in roll."""

import math
from dataclasses import replace

import pytest

from jinba.core.airframe.parts import Airframe, Section
from jinba.core.airframe.twist import twist_findings
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import MEASURED_TWIST_SIGMA_RAD, prior_of
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import design_of
from jinba.core.stability.aero import aero_model
from tests.builders import model, trimmed

DEG = math.radians(1.0)


def twisted(airframe: Airframe, *, right: tuple[float, float], left: tuple[float, float]) -> Airframe:
    """Return the airframe with its wing's (root, tip) incidence of each half, in degrees."""
    wing = airframe.wing
    root, tip = wing.sections[0], wing.sections[-1]
    sections = (
        replace(root, twist_rad=right[0] * DEG, left_twist_rad=left[0] * DEG),
        replace(tip, twist_rad=right[1] * DEG, left_twist_rad=left[1] * DEG),
    )
    return replace(
        airframe, surfaces=tuple(replace(s, sections=sections) if s is wing else s for s in airframe.surfaces)
    )


def rectangular(chords: tuple[float, float] = (0.2, 0.2)) -> Airframe:
    base = model("high_wing").airframe
    wing = replace(base.wing, sections=(Section(0, 0, chords[0]), Section(0.75, 0, chords[1])))
    return replace(base, surfaces=(wing, *base.surfaces[1:]))


def test_a_linear_difference_is_worth_exactly_its_tip_angle():
    """Right tip 1 degree down, left tip 1 degree up, linear between: the equivalent linear twist is 1 degree, any planform."""
    for chords in ((0.2, 0.2), (0.26, 0.14)):
        aero = aero_model(twisted(rectangular(chords), right=(0, -1), left=(0, 1)))
        assert aero.measured_twist_rad == pytest.approx(DEG, rel=1e-9)


def test_a_whole_half_set_lower_rolls_more_than_a_twisted_tip():
    """Uniform incidence per half: 1.65 to 1.71 of a linear twist of that angle (study with another lattice, AR 4 to 12)."""
    aero = aero_model(twisted(rectangular(), right=(-1, -1), left=(1, 1)))
    assert 1.60 < aero.measured_twist_rad / DEG < 1.75


def test_twist_alike_on_both_sides_rolls_nothing_and_lifts_as_before():
    plain, both = rectangular(), twisted(rectangular(), right=(0, -2), left=(0, -2))
    assert aero_model(both).measured_twist_rad == pytest.approx(0.0, abs=1e-12)
    one = replace(plain.wing, sections=(plain.wing.sections[0], replace(plain.wing.sections[1], twist_rad=-2 * DEG)))
    alike = aero_model(replace(plain, surfaces=(one, *plain.surfaces[1:])))
    assert aero_model(both).cm_zero == pytest.approx(alike.cm_zero)
    assert aero_model(both).cl_zero == pytest.approx(alike.cl_zero)


@pytest.mark.parametrize(("lower", "rolls"), [("left", "left"), ("right", "right")])
def test_the_lower_half_drops_in_words_and_in_the_prediction(lower, rolls):
    """The half with its leading edge lower lifts less and drops; the bench says so before the first flight."""
    c = model("low_wing")
    sides = {"right": (0.0, 0.0), "left": (0.0, 0.0)} | {lower: (0.0, -1.2)}
    c = replace(c, airframe=twisted(c.airframe, **sides))
    words = " ".join(f.words for f in twist_findings(c.airframe.wing))
    assert f"It rolls {rolls}" in words
    prior = prior_of(design_of(c))
    roll = next(t for t in tendencies(c, prior, trimmed(c)) if t.key == "roll_cruise")
    assert f"{rolls} wing down" in roll.words
    assert bool(prior.mean[P.TWIST] > 0) is (rolls == "right")
    assert prior.sigma[P.TWIST] == pytest.approx(MEASURED_TWIST_SIGMA_RAD)


def test_wash_in_at_a_tapered_tip_is_an_alarm_and_comes_first():
    """Two degrees of wash-in were enough to drop a tip viciously (common practice, no source)."""
    found = twist_findings(twisted(rectangular((0.26, 0.14)), right=(0, 2), left=(0, -1)).wing)
    assert found[0].stops
    assert "right tip: 2.0 degrees washed IN" in found[0].words
    assert "viciously" in found[0].words
    assert not any(f.stops for f in twist_findings(twisted(rectangular(), right=(0, -1), left=(0, -1.1)).wing))


def test_a_sharp_taper_without_washout_is_told_what_it_likes():
    sharp = rectangular((0.28, 0.12)).wing
    assert "likes 1 to 2 degrees" in twist_findings(sharp)[0].words
    assert twist_findings(rectangular().wing) == ()


def test_unmeasured_sides_leave_the_wide_prior():
    assert prior_of(design_of(model("low_wing"))).mean[P.TWIST] == 0.0
