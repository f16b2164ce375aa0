"""The pilot: in still air, with perfect eyes, he says of a fault what a practitioner would; human ones err as they should."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from bench.loop.judge import margins
from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Phase, check_record
from jinba.core.configuration import Configuration
from jinba.core.controls.fitting import ControlRole
from jinba.core.controls.setup import starting_setup
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.flight.piloting.aloft import Air
from jinba.core.flight.piloting.person import DIVE_EDGES, PERFECT, Eyes, Person, draw_person
from jinba.core.flight.piloting.sortie import Truth, fly_sortie
from jinba.core.flight.simulation.craft import craft_of
from jinba.core.flight.simulation.spread import Spread, Wrong
from jinba.core.flight.simulation.steady import steady
from jinba.core.frames import Axis, Response
from jinba.core.observe.situation import design_of
from tests.builders import model

EVERY_FLIGHT_CARD = tuple(c.id for c in CARDS.values() if c.phase is Phase.FLIGHT)


def flown_in(key: str) -> Configuration:
    """A model whose surfaces rest where a faultless one flies straight."""
    c = model(key)
    at = steady(craft_of(c), speed_mps=design_of(c).cruise_speed_mps)
    for axis, rest in zip(Axis, at.surfaces[:3], strict=True):
        c = c.with_control(replace(c.control(axis), mechanical_rad=float(rest), sub_trim_rad=0.0, clicks=0))
    return replace(c, cruise_speed_mps=design_of(c).cruise_speed_mps)


def said(
    key: str, cards: tuple[str, ...], wrong: Wrong | None = None, spread: Spread | None = None
) -> dict[str, CardRecord]:
    flown = fly_sortie(Truth(flown_in(key), spread or Spread(), wrong or Wrong()), cards, seed=1)
    return {r.card_id: r for r in flown.records}


def with_true_margin(key: str, margin: float) -> Wrong:
    """Ballast that brings the balance where the simulation's own margin is as wanted, elevator trimmed along by the pilot."""
    c = flown_in(key)
    d = design_of(c)
    now = margins(craft_of(c), d.cruise_speed_mps)[1]
    return Wrong(cg_aft_m=(now - margin) * d.aero.planform.mac_m)


def word(records: dict[str, CardRecord], card: str, key: str) -> str | None:
    reading = records[card].reading(key)
    return None if reading is None else reading.choice


@pytest.mark.parametrize(
    ("margin", "words"),
    [
        (-0.03, {"tucks"}),
        (0.02, {"keeps", "eases"}),
        (0.06, {"eases", "pulls_out"}),
        (0.18, {"pulls_out", "rears_out"}),
    ],
)
def test_a_dive_let_go_steepens_behind_the_neutral_point_and_pulls_out_ahead_of_it(margin, words):
    assert word(said("low_wing", ("F2", "F12"), with_true_margin("low_wing", margin)), "F12", "dive") in words


def test_inverted_a_nose_heavy_model_takes_much_push_and_a_neutral_one_hardly_any():
    held = []
    for margin in (0.01, 0.06, 0.15):
        reading = said("low_wing", ("F2", "F14"), with_true_margin("low_wing", margin))["F14"].reading("stick_held")
        assert reading is not None
        assert reading.none or reading.direction is Response.NOSE_DOWN
        held.append(reading.number)
    assert held[0] < 0.2 < held[2]
    assert held == sorted(held)


@pytest.mark.parametrize(
    ("way", "light", "side"), [(1.0, Response.ROLL_LEFT, "right"), (-1.0, Response.ROLL_RIGHT, "left")]
)
def test_a_heavy_wing_is_trimmed_up_and_goes_down_again_when_slow(way, light, side):
    records = said("low_wing", ("F2", "F3", "F7"), Wrong(cg_right_m=way * 0.008))
    clicks = records["F3"].reading("roll_clicks")
    assert clicks is not None
    assert clicks.direction is light
    assert word(records, "F7", "roll_slow") in (side, f"{side}_fast")
    assert word(records, "F7", "bank_wing") == side


@pytest.mark.parametrize(("way", "trimmed"), [(1.0, Response.ROLL_LEFT), (-1.0, Response.ROLL_RIGHT)])
def test_a_twist_is_trimmed_away_from_the_washed_out_side(way, trimmed):
    """Right tip washed out goes right: it takes left trim."""
    clicks = said("low_wing", ("F2", "F3"), Wrong(twist_rad=way * 0.015))["F3"].reading("roll_clicks")
    assert clicks is not None
    assert clicks.direction is trimmed


@pytest.mark.parametrize(("card", "key"), [("F5", "pitch_full"), ("F28", "go_round")])
def test_thrust_line_shows_when_power_comes(card, key):
    names = [o.key for o in CARDS[card].capture(key).options]
    seen = [
        names.index(str(word(said("low_wing", ("F2", card), Wrong(thrust_down_rad=t)), card, key)))
        for t in (-0.08, 0.16)
    ]
    assert seen[0] > seen[1], "down-thrust keeps the nose down"


def test_side_thrust_moves_the_nose_when_power_comes():
    names = [o.key for o in CARDS["F5"].capture("yaw_full").options]
    seen = [
        names.index(str(word(said("low_wing", ("F2", "F4", "F5"), Wrong(thrust_right_rad=t)), "F5", "yaw_full")))
        for t in (-0.12, 0.12)
    ]
    assert seen[0] < seen[1], "right thrust, nose right"


@pytest.mark.parametrize(("left", "trimmed"), [(0.06, Response.YAW_RIGHT), (-0.06, Response.YAW_LEFT)])
def test_a_fin_set_askew_is_trimmed_the_other_way(left, trimmed):
    clicks = said("low_wing", ("F4",), Wrong(fin_left_rad=left))["F4"].reading("yaw_clicks")
    assert clicks is not None
    assert clicks.direction is trimmed


@pytest.mark.parametrize(("off", "way"), [(8, Response.NOSE_UP), (-8, Response.NOSE_DOWN)])
def test_an_elevator_that_rests_wrong_is_trimmed_back_by_as_much(off, way):
    c = flown_in("low_wing")
    c = c.with_control(replace(c.elevator, mechanical_rad=c.elevator.mechanical_rad + off * c.elevator.rad_per_click))
    clicks = fly_sortie(Truth(c), ("F2",), seed=1).records[0].reading("pitch_clicks")
    assert clicks is not None
    assert clicks.number == pytest.approx(abs(off), abs=2)
    assert clicks.direction is way


@pytest.mark.parametrize(("uneven", "wing"), [(-0.12, "right"), (0.12, "left")])
def test_the_wing_that_lifts_less_drops_at_the_stall(uneven, wing):
    assert word(said("low_wing", ("F8",), spread=Spread(uneven_peak=uneven)), "F8", "wing") == wing


def test_every_flight_card_is_flown_and_its_record_is_one_the_program_takes():
    c = flown_in("low_wing")
    setup = starting_setup(c.airframe, elevator=c.elevator, aileron=c.aileron, rudder=c.rudder)
    c = replace(c, controls=replace(setup, stabiliser=Stabiliser()), flown_inverted=True)
    flown = fly_sortie(Truth(c), EVERY_FLIGHT_CARD, seed=3, person=draw_person(np.random.default_rng(2)), air=Air(2.0))
    assert flown.crashed_in is None
    assert [r.card_id for r in flown.records] == list(EVERY_FLIGHT_CARD)
    for record in flown.records:
        assert record.outcome is Outcome.DONE, record.card_id
        check_record(CARDS[record.card_id], record)


def test_a_level_reference_that_is_too_high_climbs_and_one_too_low_sinks():
    c = flown_in("low_wing")
    setup = starting_setup(c.airframe, elevator=c.elevator, aileron=c.aileron, rudder=c.rudder)
    at = steady(craft_of(c), speed_mps=design_of(c).cruise_speed_mps)
    nose = math.atan2(at.state[5], at.state[3])
    paths = []
    for off in (-0.08, 0.08):
        turned = replace(setup, stabiliser=Stabiliser(level_board_rad=float(nose + off)))
        record = fly_sortie(Truth(replace(c, controls=turned)), ("F23",), seed=1).records[0]
        paths.append(word({"F23": record}, "F23", "path"))
    assert paths == ["sinks", "climbs"]


def test_flaps_take_stick():
    c = flown_in("low_wing")
    setup = starting_setup(c.airframe, elevator=c.elevator, aileron=c.aileron, rudder=c.rudder)
    flap = replace(setup.fittings[0], role=ControlRole.LEFT_FLAP, channel=7)
    other = replace(setup.fittings[0], role=ControlRole.RIGHT_FLAP, channel=8)
    record = fly_sortie(
        Truth(replace(c, controls=replace(setup, fittings=(*setup.fittings, flap, other)))), ("F11",), seed=1
    ).records[0]
    assert record.outcome is Outcome.DONE
    held = [record.reading(k) for k in ("stick_quarter", "stick_half")]
    assert all(h is not None for h in held)


def test_the_same_seed_flies_the_same_sortie_and_another_another():
    truth, person = Truth(flown_in("canard")), draw_person(np.random.default_rng(1))
    cards = ("F1", "F2", "F3", "F7")
    one, again, other = (fly_sortie(truth, cards, seed=s, person=person, air=Air(3.0)) for s in (4, 4, 5))
    assert one == again
    assert one != other


def test_a_model_far_behind_its_neutral_point_cannot_be_left_alone_or_is_lost():
    truth = Truth(flown_in("low_wing"), Spread(), with_true_margin("low_wing", -0.10))
    flown = fly_sortie(truth, ("F1", "F2"), seed=1)
    alone = [r.left_alone for r in flown.records if r.card_id == "F2" and r.outcome is Outcome.DONE]
    assert flown.crashed_in is not None or alone == [False]


def test_people_differ_in_gain_and_words_and_take_left_for_right_now_and_then():
    assert [Eyes(PERFECT, np.random.default_rng(1)).word(v, DIVE_EDGES) for v in (-3, 0, 4, 9, 20)] == [0, 1, 2, 3, 4]
    people = [draw_person(np.random.default_rng(i)) for i in range(400)]
    assert np.std(np.log([p.gain for p in people])) == pytest.approx(0.25, abs=0.03)
    eyes = Eyes(Person(slips=0.015), np.random.default_rng(3))
    assert np.mean([eyes.slips() for _ in range(20000)]) == pytest.approx(0.015, abs=0.004)
    assert not any(Eyes(PERFECT, np.random.default_rng(3)).slips() for _ in range(1000))
