"""Programme and go / no-go."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jinba.core.cards.catalogue import CARDS
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.stale import STALE, Change, difference
from jinba.core.configuration import Experience, ModelClass, PilotLimits, balance_of
from jinba.core.controls.fitting import ControlRole, Servo
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.diagnose.seen import Logged, Seen, seen_of
from jinba.core.errors import OutOfRangeError
from jinba.core.plan.heights import FLOOR_M, cards_for, dive_height_m, stall_height_m
from jinba.core.plan.minutes import LastSortie
from jinba.core.plan.order import refusal
from jinba.core.plan.programme import programme
from jinba.core.plan.states import CardState
from jinba.core.plan.weather import Verdict, Wind, judge_wind, wind_stops
from jinba.core.spoken import spoken
from tests.builders import model

GATES = ("B1", "B2", "B4", "B5", "B6", "B7", "G1", "G2", "G7")


def results(*ids: str) -> dict[str, Outcome]:
    return dict.fromkeys(ids, Outcome.PASSED)


def test_a_maiden_holds_first_acquaintance_only_and_needs_every_gate():
    p = programme(model(), results={}, stale=frozenset(), sorties_flown=0)
    assert p.gates == GATES
    assert set(p.flight) <= {"F1", "F2", "F3", "F4", "F7", "F32", "F28", "F29"}
    assert (p.flight[0], p.flight[-1]) == ("F1", "F29")
    assert p.minutes <= p.safe_minutes


def test_bold_cards_come_with_the_second_and_inverted_ones_with_the_third_sortie():
    flown = results(*GATES, "F1", "F2", "F3", "F4", "F7", "F28", "F29", "F32")
    second = programme(replace(model(), pack_minutes=20.0), results=flown, stale=frozenset(), sorties_flown=1)
    assert {"F5", "F13"} <= set(second.flight)
    assert "F14" not in second.flight
    assert sum(CARDS[c].risk >= 3 for c in second.flight) <= 2
    never = programme(model("high_wing"), results=flown, stale=frozenset(), sorties_flown=5)
    assert "F14" not in never.flight


def test_cards_of_flaps_and_stabilisers_are_only_for_models_that_have_them():
    c = replace(model(), flown_inverted=True, pack_minutes=30.0)
    setup = c.control_setup
    flap = replace(setup.fittings[0], role=ControlRole.LEFT_FLAP, channel=7)
    flapped = replace(c, controls=replace(setup, fittings=(*setup.fittings, flap)))
    steered = replace(c, controls=replace(setup, stabiliser=Stabiliser()))

    def states(configuration, flown: int) -> dict[str, CardState]:
        p = programme(configuration, results={}, stale=frozenset(), sorties_flown=flown)
        return {k.card_id: k.state for k in p.cards}

    plain = states(c, 3)
    for card in ("F11", "F23", "F24", "F25", "B11"):
        assert plain[card] is CardState.NOT_FOR_THIS_MODEL, card
    assert plain["F21"] is CardState.OPEN
    assert states(flapped, 3)["F11"] is CardState.OPEN
    assert states(flapped, 0)["F11"] is CardState.LATER, "no flaps on the maiden"
    assert states(steered, 3)["F23"] is CardState.OPEN
    assert "B11" in programme(steered, results={}, stale=frozenset(), sorties_flown=0).gates
    assert states(model("high_wing"), 3)["F21"] is CardState.NOT_FOR_THIS_MODEL, "not flown inverted"


def test_every_change_of_a_control_set_up_opens_what_it_touches():
    c = model()
    setup = c.control_setup
    before = replace(c, controls=setup)
    elevator = setup.fittings[2]
    cases = {
        Change.THROWS: replace(setup, crow=0.2),
        Change.ELEVATOR: with_fitting(setup, replace(elevator, linkage=replace(elevator.linkage, horn_m=0.02))),
        Change.AILERON_RUDDER: with_fitting(setup, replace(setup.fittings[0], servo=Servo(torque_nm=0.5))),
        Change.RADIO_MEMORY: with_fitting(setup, replace(elevator, reversed=True)),
        Change.FAIL_SAFE: replace(setup, radio=replace(setup.radio, fail_safe=())),
        Change.STABILISER: replace(setup, stabiliser=Stabiliser()),
        Change.RADIO_TRIM: replace(setup, phases=(replace(setup.phases[0], pitch_clicks=3),)),
    }
    for kind, after in cases.items():
        found = difference(before, replace(c, controls=after))
        assert found.changes == {kind}, kind
        assert found.words, kind
        assert found.stale == STALE[kind]
    first = difference(c, before)
    assert first.stale == STALE[Change.CONTROLS], (
        "what was checked before anybody wrote it down was checked against nothing"
    )
    assert {"B4", "B5", "B6", "G1", "G2"} == first.stale
    proved = replace(
        setup, radio=replace(setup.radio, fail_safe=(replace(setup.radio.fail_safe[0], proved_on="today"),))
    )
    assert not difference(before, replace(c, controls=proved)).changes


def with_fitting(setup, fitting):
    return replace(setup, fittings=tuple(fitting if f.role is fitting.role else f for f in setup.fittings))


def test_a_failed_gate_stays_open():
    p = programme(
        model(),
        results={**results(*GATES), "B4": Outcome.FAILED},
        stale=frozenset(),
        sorties_flown=0,
        fresh=frozenset({"G7"}),
    )
    assert p.gates == ("B4",)


@pytest.mark.parametrize(
    ("order", "words"),
    [
        (("F2", "F29"), "F1 comes first"),
        (("F1", "F2"), "F29 comes last"),
        (("F1", "F3", "F7", "F2", "F29"), "F7 needs F2 before it"),
        (("F1", "F12", "F29"), "from sortie 2"),
        (("F1", "F1", "F29"), "twice"),
    ],
)
def test_orders_that_are_refused_say_why(order, words):
    found = refusal(order, configuration=model(), sortie_number=1, results={}, stale=frozenset())
    assert words in (found or "")


def flown_model(*records: CardRecord) -> tuple[dict[str, Outcome], Seen]:
    done = results("F1", "F3", "F28", "F29") | {r.card_id: r.outcome for r in records}
    return done, seen_of(Logged(r, 1) for r in records)


def f2(choice: str, *, alone: bool = True) -> CardRecord:
    return CardRecord("F2", Outcome.DONE, (Reading("left_over", choice=choice),), left_alone=alone)


SLOW = CardRecord("F7", Outcome.DONE)


@pytest.mark.parametrize(
    ("records", "order", "words"),
    [
        ((f2("holds", alone=False), SLOW), ("F1", "F12", "F29"), "could not be left alone: fly F2 first"),
        ((f2("holds", alone=False), SLOW), ("F1", "F8", "F29"), "could not be left alone"),
        ((f2("rears"), SLOW), ("F1", "F12", "F29"), "left out of trim"),
        ((f2("holds"),), ("F1", "F12", "F29"), "F7"),
        ((), ("F1", "F13", "F29"), "F13 needs F2, which was never flown"),
        ((f2("holds"), SLOW), ("F1", "F12", "F8", "F14", "F29"), "at most two bold cards"),
        ((f2("holds"), SLOW), ("F1", "F12", "F29"), None),
        ((f2("rears", alone=False), SLOW), ("F1", "F2", "F12", "F29"), None),
        ((f2("holds"),), ("F1", "F7", "F12", "F29"), None),
    ],
)
def test_nothing_bold_on_a_model_that_is_not_in_trim_or_was_never_flown_slowly(records, order, words):
    """Prerequisites hold across sorties; flown in this sortie before the card, they are fulfilled. Common practice, no source."""
    done, seen = flown_model(*records)
    c = replace(model(), flown_inverted=True)
    found = refusal(order, configuration=c, sortie_number=3, results=done, stale=frozenset(), seen=seen)
    assert found is None if words is None else words in (found or "")


def test_the_proposal_keeps_to_the_same_rules_and_puts_first_what_a_change_waits_for():
    calm, wild = f2("holds"), f2("holds", alone=False)
    for trim, slow, bold in ((calm, True, True), (wild, True, False), (calm, False, True)):
        records = (trim, SLOW) if slow else (trim,)
        done, seen = flown_model(*records)
        done |= results(*GATES, "F4", "F32", "F5", "F13")
        c = replace(model(), pack_minutes=16.0)
        p = programme(c, results=done, stale=frozenset(), sorties_flown=2, fresh=frozenset({"G7"}), seen=seen)
        assert any(CARDS[k].risk >= 3 for k in p.flight) is bold, (trim, slow)
        assert slow or "F7" in p.flight, "never flown slowly: that comes before the bold one, in the same sortie"
        order = refusal(p.flight, configuration=c, sortie_number=3, results=done, stale=frozenset(), seen=seen)
        assert order is None, "what is proposed may be flown"
    done = results(*GATES, "F1", "F28", "F29", "F2", "F3", "F4")
    for asked, first in (((), "F3"), ((("F13", "F12"),), "F13")):
        p = programme(
            replace(model(), pack_minutes=6.0),
            results=done,
            stale=frozenset({"F3"}),
            sorties_flown=1,
            fresh=frozenset({"G7"}),
            asked=asked,
            last=LastSortie(model(), frozenset({"F3"})),
        )
        assert first in p.flight
        assert p.minutes <= p.safe_minutes


def test_what_a_change_waits_for_is_flown_again_where_all_of_it_was_flown():
    """Found by measuring: the rework asked for F13 or F12, both had been flown, and the plan proposed neither, for ever."""
    done = results(*GATES, "F1", "F28", "F29", "F2", "F3", "F4", "F7", "F12", "F13")
    _, seen = flown_model(f2("holds"), SLOW)
    plans = [
        programme(
            model(), results=done, stale=frozenset(), sorties_flown=4, fresh=frozenset({"G7"}), seen=seen, asked=asked
        ).flight
        for asked in ((), (("F13", "F12"),))
    ]
    assert "F13" not in plans[0]
    assert "F13" in plans[1]
    assert "F12" not in plans[1], "one of them opens it"


def test_every_kind_of_change_makes_something_stale_and_balance_reopens_the_balance_cards():
    assert set(STALE) == set(Change)
    assert all(ids and ids <= set(CARDS) for ids in STALE.values())
    c = model()
    battery = c.battery
    assert battery is not None
    moved = replace(c, items=tuple(replace(i, x_m=i.x_m + 0.012) if i is battery else i for i in c.items))
    d = difference(c, moved)
    assert {"B7", "F2", "F7", "F12", "F14"} <= d.stale
    assert [spoken(w) for w in d.words] == ["Battery moved 12 mm aft"]
    assert difference(c, c).stale == frozenset()
    relinked = replace(c, elevator=replace(c.elevator, horn_arm_m=0.02))
    assert {"B4", "F2"} <= difference(c, relinked).stale


def wind(speed=3.0, gust=4.0, off_deg=0.0) -> Wind:
    return Wind(speed, gust, math.radians(off_deg), 0.0)


@pytest.mark.parametrize(
    ("w", "verdict", "words"),
    [
        (wind(2, 3), Verdict.GO, "well inside"),
        (wind(6, 7), Verdict.CAUTION, "mean wind"),
        (wind(9, 10), Verdict.NO_GO, "mean wind"),
        (wind(5, 5.5, 90), Verdict.NO_GO, "across the strip"),
        (wind(3, 4, 180), Verdict.NO_GO, "tailwind"),
        (wind(2, 6.4), Verdict.NO_GO, "gust"),
        (wind(3, 6.2), Verdict.CAUTION, "not F8"),
    ],
)
def test_go_or_no_go_in_words(w, verdict, words):
    v = judge_wind(w, stall_speed_mps=20.0, limits=PilotLimits(7, 3.5, 4))
    assert v.verdict is verdict
    assert words in v.headline


@given(st.floats(0, 15), st.floats(0, 8), st.floats(0, 6.28))
def test_more_wind_is_never_a_better_verdict(speed, spread, angle):
    order = [Verdict.GO, Verdict.CAUTION, Verdict.NO_GO]
    a, b = (
        judge_wind(Wind(s, s + spread, angle, 0.0), stall_speed_mps=9.0, limits=PilotLimits())
        for s in (speed, speed + 1.0)
    )
    assert order.index(b.verdict) >= order.index(a.verdict)


TRAINER_STALL = 7.4


@pytest.mark.parametrize(
    ("share", "gust", "verdict"),
    [
        # Common practice, no source: half the stall speed ends a maiden; a settled trainer is flown in 5 m/s.
        ((ModelClass.TRAINER, Experience.PRACTISED, 1), 3.9, Verdict.NO_GO),
        ((ModelClass.TRAINER, Experience.PRACTISED, 9), 5.2, Verdict.CAUTION),
        ((ModelClass.TRAINER, Experience.LEARNING, 9), 5.2, Verdict.NO_GO),
        ((ModelClass.AEROBATIC, Experience.SEASONED, 9), 7.2, Verdict.CAUTION),
    ],
)
def test_gusts_are_judged_by_class_experience_and_sortie(share, gust, verdict):
    kind, experience, sortie = share
    limits = PilotLimits(12.0, 6.0, 6.0, experience)
    found = judge_wind(
        Wind(3.0, gust, 0.0, 0.0), stall_speed_mps=TRAINER_STALL, limits=limits, model_class=kind, sortie=sortie
    )
    assert found.verdict is verdict
    assert any("of the stall speed" in r for r in found.reasons)


def test_what_is_beyond_a_limit_is_said_to_be_beyond_it():
    said = judge_wind(wind(9, 10), stall_speed_mps=20.0, limits=PilotLimits(7, 3.5, 4)).headline
    assert spoken(said) == "Not now: 9.0 m/s mean wind, beyond the 7.0 m/s."


def test_no_go_and_gusty_cards_are_two_stops_and_no_wind_is_none():
    storm = judge_wind(Wind(9.0, 16.0, 0.0, 0.0), stall_speed_mps=20.0, limits=PilotLimits())
    assert [s.code for s in wind_stops(storm, ("F1", "F8", "F29"))] == ["wind", "gusts"]
    assert [s.code for s in wind_stops(storm, ("F1", "F29"))] == ["wind"]
    assert wind_stops(None, ("F8",)) == ()


def test_a_gust_below_the_mean_is_refused():
    with pytest.raises(OutOfRangeError, match="at least the mean wind"):
        judge_wind(wind(5, 4), stall_speed_mps=9.0, limits=PilotLimits())


@pytest.mark.parametrize(
    ("change", "words", "stale", "untouched"),
    [
        (lambda c: replace(c, elevator=replace(c.elevator, mechanical_rad=0.05)), "elevator linkage reset", "F2", "F4"),
        (lambda c: replace(c, aileron=replace(c.aileron, clicks=3)), "aileron trim changed", "F3", "F12"),
        (lambda c: replace(c, elevator=replace(c.elevator, throw_rad=0.4)), "elevator throw changed", "F14", "F1"),
        (
            lambda c: replace(c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, tilt_down_rad=0.06))),
            "thrust line shimmed",
            "F5",
            "F1",
        ),
        (
            lambda c: replace(
                c, airframe=replace(c.airframe, motor=replace(c.airframe.motor, propeller_diameter_m=0.33))
            ),
            "motor or propeller changed",
            "G1",
            "F7",
        ),
        (lambda c: replace(c, airframe=replace(c.airframe, motor=None)), "motor taken out", "B7", "F7"),
        (lambda c: replace(c, items=c.items[:1]), "taken off", "F1", "G2"),
        (
            lambda c: replace(c, items=(*c.items, replace(c.items[1], key="n", name="Lamp", y_m=0.3))),
            "Lamp added",
            "F3",
            "G2",
        ),
    ],
)
def test_each_change_is_said_in_words_and_reopens_what_it_touches_and_no_more(change, words, stale, untouched):
    c = model("low_wing")
    d = difference(c, change(c))
    assert any(words in w for w in d.words), d.words
    assert stale in d.stale
    assert untouched not in d.stale
    assert difference(c, c).changes == frozenset()


def test_an_alternative_pack_at_home_is_no_change_until_it_is_fitted():
    c = model("low_wing")
    other = replace(c.battery, key="other", name="Other pack", mass_kg=2 * c.battery.mass_kg, fitted=False)
    known = replace(c, items=(*c.items, other))
    assert difference(c, known).changes == frozenset()
    swapped = replace(known, items=tuple(replace(i, fitted=i.key != c.battery.key) for i in known.items))
    d = difference(known, swapped)
    assert {"B7", "F1", "F2"} <= d.stale
    assert d.words[0].startswith("Pack swapped: Other pack")


def test_heights_of_bold_cards_follow_the_models_speed():
    """Stepped in time here: 35 degrees for 2 s, half a second more, round at 3 g (a circle); a jet of 42 m/s needs about 95 m."""
    for cruise in (10.0, 42.0):
        x, v, dt, slope = 0.0, cruise, 1e-4, math.radians(35)
        for _ in range(round(2.0 / dt)):
            v += 9.80665 * math.sin(slope) * dt
            x += v * math.sin(slope) * dt
        x += 0.5 * v * math.sin(slope)
        while slope > 0:
            x += v * math.sin(slope) * dt
            slope -= 9.80665 / v * (3.0 - math.cos(math.radians(35))) * dt
        assert dive_height_m(cruise) == pytest.approx(FLOOR_M + x, rel=0.02)
    assert dive_height_m(42.0) - FLOOR_M == pytest.approx(95.0, abs=4.0)
    assert stall_height_m(27.0) > 3.0 * stall_height_m(9.0) - 2.0 * FLOOR_M
    slow, fast = (cards_for(replace(model(), cruise_speed_mps=v))["F12"].cautions[0] for v in (14.0, 42.0))
    assert spoken(slow) == "At least 80 m: by this model's speed."
    assert spoken(fast) == "At least 140 m: by this model's speed."


def test_a_pack_that_is_swapped_is_one_change_with_what_it_does_to_the_balance():
    """m x + dm (x_p - x) over m + dm: the moment rule, in one sentence instead of one taken off and another added."""
    c = model("low_wing")
    pack = c.battery
    heavy = replace(pack, key="heavy", name="Heavy pack", mass_kg=1.4 * pack.mass_kg, fitted=False)
    c = replace(c, items=(*c.items, heavy))
    swapped = replace(
        c, items=tuple(replace(i, fitted=not i.fitted) if i.key in (pack.key, "heavy") else i for i in c.items)
    )
    before = balance_of(c)
    more = 0.4 * pack.mass_kg
    x = (before.mass.mass_kg * before.x_m + more * pack.x_m) / (before.mass.mass_kg + more)
    found = difference(c, swapped)
    moved = 1000 * (before.x_m - x)
    assert [spoken(w) for w in found.words] == [
        f"Pack swapped: Heavy pack, {1000 * heavy.mass_kg:.0f} g, for {pack.name}; the balance moves {moved:.1f} mm forward"
    ]
    assert {"F2", "B7"} <= found.stale
