"""Packs: charge by volts, what flights took, minutes; against definitions, a reference library and a conditioning done otherwise."""

from __future__ import annotations

import math

import numpy as np
import pytest
from aerosandbox.library.propulsion_propeller import propeller_shaft_power_from_thrust
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.errors import OutOfRangeError
from jinba.core.power import draw
from jinba.core.power.cells import CELLS, CHARGED, Charge, Chemistry, charge_of, per_cell_v
from jinba.core.power.draw import Draw, contradicts, full_power_w, learnt, minutes_of_pack, prior_draw, share_of
from jinba.core.power.packs import COULOMBS_PER_MAH, Flight, Pack, check_flight
from jinba.core.silhouettes import silhouette_configuration

MAH = COULOMBS_PER_MAH
PACK = Pack("a", "Fell 1", Chemistry.LIPO, 3, 2200 * MAH, rating_per_h=30.0, resistance_ohm=0.018)


@pytest.mark.parametrize(
    ("volts", "percent"),
    [
        (4.20, 100),
        (4.11, 90),
        (4.08, 85),
        (3.98, 75),
        (3.87, 60),
        (3.84, 50),
        (3.79, 35),
        (3.73, 20),
        (3.69, 10),
        (3.27, 0),
    ],
)
def test_a_rested_cell_tells_its_charge_within_what_published_tables_differ_by(volts, percent):
    """Common practice, no source: a widely copied table, from memory; 7 points, 12 in the flat part."""
    charge = charge_of(Chemistry.LIPO, volts)
    assert abs(100 * charge.share - percent) <= 7
    assert 0.03 <= charge.sigma <= 0.12


def test_another_curve_of_a_cell_lies_within_two_sigmas():
    """Chen and Rincon-Mora, IEEE Transactions on Energy Conversion 21, 2006, eq. 2 (from memory); above 4.0 V it is of a cell charged to 4.1."""
    for share in np.linspace(0.15, 0.75, 13):
        volts = -1.031 * math.exp(-35 * share) + 3.685 + 0.2156 * share - 0.1178 * share**2 + 0.3201 * share**3
        read = charge_of(Chemistry.LIPO, volts)
        assert abs(read.share - share) < 2 * read.sigma


def test_nominal_and_full_volts_are_those_of_the_data_sheets():
    """Data sheets, from memory: 11.1 V of three, 16.8 V full of four, 3.2 V of an iron phosphate cell."""
    assert PACK.nominal_v == pytest.approx(11.1)
    assert 4 * CELLS[Chemistry.LIPO].full_v == pytest.approx(16.8)
    assert CELLS[Chemistry.LIFEPO4].nominal_v == pytest.approx(3.2)
    assert CELLS[Chemistry.LIHV].full_v == pytest.approx(4.35)


@pytest.mark.parametrize("kind", list(Chemistry))
def test_volts_of_one_cell_or_of_the_whole_pack_are_the_same_reading(kind):
    full = CELLS[kind].full_v
    for cells in (1, 3, 6):
        assert per_cell_v(kind, cells, full) == pytest.approx(full)
        assert per_cell_v(kind, cells, cells * full) == pytest.approx(full)


def test_volts_that_no_such_pack_shows_are_refused_with_the_likely_slip():
    with pytest.raises(OutOfRangeError, match="number of cells"):
        per_cell_v(Chemistry.LIPO, 3, 16.4)
    with pytest.raises(OutOfRangeError, match="between"):
        per_cell_v(Chemistry.LIPO, 3, 126.0)


def test_a_flat_curve_tells_full_and_nothing_else():
    assert charge_of(Chemistry.LIFEPO4, 3.55).share == 1.0
    assert charge_of(Chemistry.LIFEPO4, 3.30) is None


@pytest.mark.parametrize(
    ("mah", "rating", "cells", "amps", "watt_hours"),
    [(2200, 30, 3, 66.0, 24.42), (1300, 45, 3, 58.5, 14.43), (5000, 20, 3, 100.0, 55.5), (3300, 25, 3, 82.5, 36.63)],
)
def test_current_and_energy_follow_from_the_label(mah, rating, cells, amps, watt_hours):
    """By definition: I = C x Ah, E = U x Ah."""
    pack = Pack("a", "a", Chemistry.LIPO, cells, mah * MAH, rating_per_h=rating)
    assert pack.most_a == pytest.approx(amps)
    assert pack.energy_j / 3600 == pytest.approx(watt_hours)


def test_a_pack_sags_by_ohms_law():
    assert PACK.loaded_v(12.3, 25.0) == pytest.approx(11.85)


@pytest.mark.parametrize(("mah", "usable", "amps", "minutes"), [(2200, 0.80, 20, 5.28), (5000, 0.75, 40, 5.625)])
def test_a_known_draw_lasts_by_the_definition_of_capacity(mah, usable, amps, minutes):
    """t = use x Ah / I; the 80 % rule is common practice."""
    pack = Pack("a", "a", Chemistry.LIPO, 3, mah * MAH)
    known = Draw(("a",), np.log([amps * pack.nominal_v, 1.0, 1.0, pack.capacity_c]), np.zeros((4, 4)))
    assert usable * known.full_minutes(pack)[0] == pytest.approx(minutes)


def test_power_at_full_throttle_is_that_of_an_actuator_disk():
    """aerosandbox's actuator disk, standing, with the efficiency of ours in place of its own."""
    setup = silhouette_configuration("low_wing", span_m=1.5)
    motor = setup.airframe.motor
    area = math.pi / 4 * motor.propeller_diameter_m**2
    known = propeller_shaft_power_from_thrust(motor.static_thrust_n, area, 1e-6, 1.225, 0.5)
    assert full_power_w(setup.airframe, 1.225) == pytest.approx(known, rel=1e-4)
    per_kg = known / sum(i.mass_kg for i in setup.items if i.fitted)
    assert 80 < per_kg < 350, "watts a kilogram of a sport model: common practice, no source"


def test_learning_is_the_conditioning_of_one_joint_normal():
    """The same by the joint covariance of unknowns, scatter of each flight and readings, conditioned at once: another formula."""
    prior = prior_draw([PACK], 250.0)
    flights = [
        Flight("a", "m", 6.0, 4.17, 3.84, 1100 * MAH),
        Flight("a", "m", 5.0, None, 3.86, None),
        Flight("a", "m", 7.0, 4.18, None, 1350 * MAH),
        Flight("a", "other", 4.0, 4.19, 3.90, 700 * MAH),
    ]
    rows, y, noise = [], [], []
    for i, f in enumerate(flights):
        scatter = np.zeros(len(flights))
        scatter[i] = 1.0
        seconds = 60 * f.minutes
        if f.put_back_c:
            rows.append(np.concatenate([[1, 0, 1, 0], scatter]))
            y.append(math.log(f.put_back_c * PACK.nominal_v / seconds))
            noise.append(0.04**2)
        if f.after_v:
            before, after = PACK.charge(f.before_v), PACK.charge(f.after_v)
            drop = before.share - after.share
            rows.append(np.concatenate([[1, 1, 1, -1], scatter]))
            y.append(math.log(drop * PACK.nominal_v / seconds))
            noise.append((math.hypot(before.sigma, after.sigma) / drop) ** 2)
    got = learnt(prior, [PACK], flights, model="m")
    assert got.differs == pytest.approx(draw.FLIGHTS_DIFFER), "flights that are alike differ as flights usually do"
    clock = [got.differs**2 + 0.03**2 + (0.25 / f.minutes) ** 2 for f in flights]
    # The power of another model is anything: its flight tells of the pack alone.
    clock[3] = 1e8
    wide = np.block([[prior.covariance, np.zeros((4, 4))], [np.zeros((4, 4)), np.diag(clock)]])
    h = np.array(rows)
    gain = wide @ h.T @ np.linalg.inv(h @ wide @ h.T + np.diag(noise))
    mean = np.concatenate([prior.mean, np.zeros(4)])
    mean = mean + gain @ (np.array(y) - h @ mean)
    covariance = wide - gain @ h @ wide
    assert got.mean == pytest.approx(mean[:4], abs=1e-4)
    assert got.covariance == pytest.approx(covariance[:4, :4], abs=1e-4)


def put_back(minutes, mah, **more):
    return Flight("a", "m", minutes, None, None, mah * MAH, **more)


def test_flights_that_differ_more_than_usual_are_believed_to():
    """The sample deviation of many flights, and as usual where they are alike."""
    rng = np.random.default_rng(3)
    prior = prior_draw([PACK], 250.0)
    mah = 900 * np.exp(0.6 * rng.standard_normal(80))
    wild = learnt(prior, [PACK], [put_back(6.0, q) for q in mah], model="m")
    assert wild.differs == pytest.approx(np.std(np.log(mah), ddof=1), rel=0.08)
    alike = learnt(prior, [PACK], [put_back(6.0, 900.0)] * 5, model="m")
    assert alike.differs == draw.FLIGHTS_DIFFER
    assert minutes_of_pack(wild, PACK, CHARGED).safe < 0.6 * minutes_of_pack(alike, PACK, CHARGED).safe


def test_the_motors_minutes_tell_its_power_whatever_part_of_a_flight_it_ran():
    """I = Q / t: 600 mAh in three minutes of motor are 12 A, in the air for six minutes or for twenty."""
    flights = [put_back(m, 600.0, motor_minutes=3.0) for m in (6.0, 20.0, 9.0, 14.0)]
    share = share_of(flights, "m")
    assert share == pytest.approx(np.mean([3 / 6, 3 / 20, 3 / 9, 3 / 14]))
    known = learnt(prior_draw([PACK], 250.0, share=share), [PACK], flights, model="m")
    full, sigma = known.motor_minutes(PACK)
    assert full == pytest.approx(0.95 * PACK.capacity_c / 12.0 / 60.0, rel=0.1)
    assert sigma < known.full_minutes(PACK)[1], "the motor's minutes are known better than those in the air"
    lasts = minutes_of_pack(known, PACK, CHARGED)
    assert lasts.motor < 3.0 * 1100 / 600 * 1.2
    assert lasts.safe > lasts.motor
    unread = learnt(prior_draw([PACK], 250.0), [PACK], [put_back(6.0, 600.0)], model="m")
    assert minutes_of_pack(unread, PACK, CHARGED).motor is None


def test_a_motor_that_always_runs_is_believed_as_before_and_one_that_ran_longer_than_the_flight_is_a_slip():
    always = [put_back(6.0, 900.0, motor_minutes=6.0)] * 3
    assert share_of(always, "m") == 1.0
    read, unread = (
        minutes_of_pack(learnt(prior_draw([PACK], 250.0, share=s), [PACK], always, model="m"), PACK, CHARGED)
        for s in (1.0, None)
    )
    assert read.safe == pytest.approx(unread.safe, rel=0.04)
    assert read.motor == pytest.approx(read.safe, rel=0.04)
    assert put_back(6.0, 900.0, motor_minutes=60.0).motor_share is None
    assert share_of([put_back(6.0, 900.0, motor_minutes=60.0)], "m") is None


def test_current_in_cruise_tells_the_draw_where_nothing_else_does():
    prior = prior_draw([PACK], 250.0)
    seen = learnt(prior, [PACK], [Flight("a", "m", 6.0, cruise_a=5.0)], model="m")
    assert seen.own == 1
    assert seen.power_w()[1] < prior.power_w()[1]
    assert math.log(5.0 * PACK.nominal_v) == pytest.approx(float(seen.mean[0]), abs=0.5)
    charged = [put_back(6.0, 900.0), put_back(6.0, 900.0, cruise_a=50.0)]
    alone, both = (learnt(prior, [PACK], [f], model="m") for f in charged)
    assert alone.mean == pytest.approx(both.mean), "what was put back tells more"


def test_a_slipped_digit_is_seen_and_not_used():
    prior = prior_draw([PACK], 250.0)
    good, slipped = Flight("a", "m", 6.0, 4.17, 3.84, 1100 * MAH), Flight("a", "m", 6.0, 4.17, 3.84, 110 * MAH)
    assert not contradicts(PACK, good)
    assert contradicts(PACK, slipped)
    both = learnt(prior, [PACK], [good, slipped], model="m")
    assert both.disagree == (1,)
    assert both.mean == pytest.approx(learnt(prior, [PACK], [good], model="m").mean)


def test_what_is_more_than_a_pack_holds_is_refused_and_so_is_before_for_after():
    with pytest.raises(OutOfRangeError, match="slipped digit"):
        check_flight(PACK, before_v=None, after_v=None, put_back_c=11_000 * MAH)
    with pytest.raises(OutOfRangeError, match="swapped"):
        check_flight(PACK, before_v=3.8, after_v=4.15, put_back_c=None)


shares = st.floats(0.0, 1.0)


@given(shares, shares, st.floats(0.01, 0.2))
def test_more_charge_never_gives_fewer_minutes_and_safe_is_never_more_than_to_the_reserve(a, b, sigma):
    known = prior_draw([PACK], 250.0)
    low, high = (minutes_of_pack(known, PACK, Charge(s, sigma)) for s in sorted((a, b)))
    assert 0.0 <= low.safe <= high.safe
    assert high.safe <= high.reserve


@given(st.floats(2.0, 12.0), st.floats(200.0, 1400.0), st.floats(1.05, 1.5))
def test_a_flight_that_took_more_never_gives_more_minutes(minutes, mah, more):
    prior = prior_draw([PACK], 250.0)
    safe = [
        minutes_of_pack(
            learnt(prior, [PACK], [Flight("a", "m", minutes, None, None, q * MAH)], model="m"), PACK, CHARGED
        )
        for q in (mah, mah * more)
    ]
    assert safe[1].safe < safe[0].safe


def test_nobody_gets_more_minutes_for_not_reading_the_volts_of_a_full_pack():
    known = prior_draw([PACK], 250.0)
    read = minutes_of_pack(known, PACK, PACK.charge(4.19))
    assert minutes_of_pack(known, PACK, PACK.charge(None)).safe < read.safe
