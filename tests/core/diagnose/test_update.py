"""The update: against the closed form of linear Gaussian problems, and by what it must never do."""

import math
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.airframe.twist import INCIDENCE_SIGMA_RAD
from jinba.core.cards.model import CardRecord, Confidence, Outcome, Reading
from jinba.core.diagnose.causes import cause_from, causes
from jinba.core.diagnose.estimate import belief_before, estimate_of
from jinba.core.diagnose.sorties import LoggedSortie, belief_after, sortie_data
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.diagnose.update import STATIC_MARGIN_FLOOR, prior_belief, prior_of, update
from jinba.core.frames import Response
from jinba.core.observe.measures import Datum, Measure
from jinba.core.observe.parameters import COUNT, P, prior_means
from jinba.core.observe.predictions import Moment
from jinba.core.observe.situation import design_of, resting_trims
from tests.builders import model, trimmed, with_margin


def linear(
    key: str, row: dict[P, float], value: float, *, sigma: float, bias: float, low: float | None = None
) -> Datum:
    c = model()

    def predict(x, _):
        return float(sum(k * x[p] for p, k in row.items()))

    m = Measure(key, key, "", predict, sigma, bias, key)
    return Datum(m, Moment(design_of(c), trimmed(c)), value if low is None else low, value, sigma, "F0", key)


def test_linear_gaussian_problem_has_the_textbook_answer():
    """Posterior of a linear Gaussian model, e.g. Gelb, Applied Optimal Estimation, 1974, ch. 4: P (I - K H), in numpy."""
    rng = np.random.default_rng(2)
    prior = prior_belief(static_margin_sigma=0.03)
    rows = [
        {P(int(i)): float(rng.normal()) for i in rng.choice(COUNT, 3, replace=False) if i != P.STATIC_MARGIN}
        for _ in range(6)
    ]
    sigmas = np.array([0.01, 0.02, 0.05, 0.01, 0.02, 0.05])
    data = tuple(
        linear(f"m{i}", r, 0.01 * i, sigma=s, bias=1e-6) for i, (r, s) in enumerate(zip(rows, sigmas, strict=True))
    )
    h = np.array([[r.get(p, 0.0) for p in P] for r in rows])
    gain = prior.covariance @ h.T @ np.linalg.inv(h @ prior.covariance @ h.T + np.diag(sigmas**2))
    expected = prior.mean + gain @ (np.array([d.low for d in data]) - h @ prior.mean)
    found = update(prior, data)
    # Beyond two sigmas a datum is given less weight, and the textbook has no such thing.
    assert all(abs(d.low - float(h[i] @ expected)) < 2 * sigmas[i] for i, d in enumerate(data))
    assert found.mean == pytest.approx(expected, abs=1e-6)
    covariance = prior.covariance - gain @ h @ prior.covariance
    free = [p for p in P if p is not P.STATIC_MARGIN]
    assert np.sqrt(np.diag(covariance))[free] == pytest.approx(found.sigma[free], rel=0.02)


def test_repeating_a_biased_measure_does_not_make_one_sure():
    """Model errors repeat every sortie: twenty readings may not shrink sigma below the bias of their closed form."""
    prior = prior_belief(static_margin_sigma=0.03)
    many = tuple(linear("biased", {P.TWIST: 1.0}, 0.005, sigma=0.002, bias=0.004) for _ in range(20))
    sigma = update(prior, many).sigma[P.TWIST]
    floor = 1 / math.sqrt(1 / prior.sigma[P.TWIST] ** 2 + 1 / 0.004**2)
    assert sigma >= 0.98 * floor


def test_an_end_of_scale_rating_only_says_at_least():
    prior = prior_belief(static_margin_sigma=0.03)
    at_least = linear("end", {P.PITCH_MOMENT: 100.0}, math.inf, low=6.0, sigma=0.5, bias=1e-6)
    one, more = (
        update(prior, (at_least,)),
        update(prior, (at_least, linear("exact", {P.PITCH_MOMENT: 100.0}, 12.0, sigma=0.5, bias=1e-6))),
    )
    assert one.mean[P.PITCH_MOMENT] * 100 > 5.5
    assert more.mean[P.PITCH_MOMENT] * 100 > one.mean[P.PITCH_MOMENT] * 100 + 2


def test_a_gross_misreport_among_good_reports_loses_weight():
    prior = prior_belief(static_margin_sigma=0.03)
    rolls = ("roll_left_over", "roll_slow", "roll_full", "stall_wing")
    good = [linear(key, {P.TWIST: 100.0}, 0.5, sigma=0.1, bias=0.05) for key in rolls]
    wrong = linear("roll_inverted", {P.TWIST: 100.0}, -3.0, sigma=0.1, bias=0.05)
    assert update(prior, (*good, wrong)).mean[P.TWIST] * 100 == pytest.approx(0.47, abs=0.12)


def record(card_id: str, *readings: Reading, alone: bool | None = None, **kw) -> CardRecord:
    return CardRecord(card_id, Outcome.DONE, readings, alone, **kw)


def belief_of(*records: CardRecord, key: str = "low_wing"):
    c = model(key)
    return c, belief_after((LoggedSortie(c, records),), configuration=c)


def test_could_not_be_left_alone_is_a_finding_not_a_gap():
    """The dangerous models are those that cannot be left alone: the belief must move to a smaller margin."""
    _, calm = belief_of(record("F12", Reading("dive", choice="pulls_out"), alone=True))
    c, wild = belief_of(record("F12", alone=False))
    assert wild.mean[P.STATIC_MARGIN] < calm.mean[P.STATIC_MARGIN] - 0.02
    assert design_of(c).static_margin + wild.mean[P.STATIC_MARGIN] < design_of(c).static_margin - 0.01


def test_push_inverted_means_nose_heavy_and_pull_tail_heavy():
    """Common practice, no source; the size by docs/methods/master-equation.md."""
    push = Reading("stick_held", number=0.9, direction=Response.NOSE_DOWN)
    none = Reading("stick_held", number=0.0, none=True)
    _, heavy = belief_of(record("F14", push, alone=True))
    _, light = belief_of(record("F14", none, alone=True))
    assert heavy.mean[P.STATIC_MARGIN] > 0.01 > -0.02 > light.mean[P.STATIC_MARGIN]


def test_heavy_wing_and_twist_are_told_apart_by_slow_flight_only():
    """A right wing that goes down at cruise: alone it could be either; growing when slow it is weight, fading it is twist."""
    cruise = record(
        "F3",
        Reading("roll_clicks", number=0, none=True),
        Reading("left_over", choice="right"),
        Reading("bank_wing", choice="right"),
        Reading("bank_time_first", number=4.0),
        Reading("bank_time_second", number=4.0),
    )

    def slow(rating: str, seconds: float) -> CardRecord:
        wing = "left" if rating.startswith("left") else "right"
        return record(
            "F7",
            Reading("stick_held", number=0.2, direction=Response.NOSE_UP),
            Reading("roll_slow", choice=rating),
            Reading("bank_wing", choice=wing),
            Reading("bank_time", number=seconds),
        )

    _, grows = belief_of(cruise, slow("right_fast", 2.0))
    _, turns = belief_of(cruise, slow("left", 9.0))
    assert grows.mean[P.LATERAL_CG] > 0.001 > turns.mean[P.LATERAL_CG]
    assert grows.mean[P.TWIST] < turns.mean[P.TWIST]


def sure_and_doubtful(push: float, *, read_twice: bool = False):
    c = with_margin(model(), 0.09)
    c = replace(c, jig=replace(c.jig, again_m=c.jig.x_m if read_twice else None))
    reading = Reading("stick_held", number=push, direction=Response.NOSE_DOWN)
    said = ({"confidence": Confidence.SURE}, {"confidence": Confidence.DOUBTFUL, "from_memory": True})
    return tuple(
        belief_after((LoggedSortie(c, (record("F14", reading, alone=True, **how),)),), configuration=c) for how in said
    )


@pytest.mark.parametrize("push", [0.5, 0.8])
def test_from_memory_and_in_doubt_weighs_less(push):
    sure, doubt = sure_and_doubtful(push)
    assert abs(doubt.mean[P.STATIC_MARGIN]) < abs(sure.mean[P.STATIC_MARGIN])


@pytest.mark.parametrize("push", [0.35, 0.5, 0.8])
def test_more_doubt_never_narrows(push):
    """If the balance was read well; what contradicts it widens by the chance that it was not, the more the surer it is said."""
    sure, doubt = sure_and_doubtful(push, read_twice=True)
    assert sure.sigma[P.STATIC_MARGIN] < doubt.sigma[P.STATIC_MARGIN]


def test_speed_course_sets_the_airspeed():
    """100 m in 8 s and in 10 s: 12.5 and 10 m/s over ground, 11.25 through the air (vector sum along the wind)."""
    c, b = belief_of(
        record(
            "F32",
            Reading("distance", number=100.0),
            Reading("seconds_out", number=8.0),
            Reading("seconds_back", number=10.0),
        )
    )
    assert design_of(c).cruise_speed_mps * math.exp(b.mean[P.LN_SPEED]) == pytest.approx(11.25, rel=0.05)


def test_evidence_points_the_way_the_mean_moved_and_the_floor_holds():
    c = model()
    records = (record("F14", Reading("stick_held", number=0.9, direction=Response.NOSE_DOWN), alone=True),)
    data = sortie_data(LoggedSortie(c, records))
    prior = prior_belief(static_margin_sigma=0.03)
    after = update(prior, data)
    top = next(k for k in causes(prior, data, after) if k.key == "static_margin")
    assert "forward" in top.verdict
    assert any(e.pull > 0 and e.card_id == "F14" for e in top.evidence)
    assert after.sigma[P.STATIC_MARGIN] >= STATIC_MARGIN_FLOOR
    assert {t.key for t in tendencies(replace(c, airframe=replace(c.airframe, motor=None)), after, trimmed(c))} == {
        "static_margin",
        "pitch_trim",
        "roll_cruise",
        "roll_slow",
        "yaw",
        "stall_speed",
    }


def test_what_a_closed_form_misses_is_said_under_its_own_name():
    """Two measures that disagree, one of them possibly wrong by itself: the miss is charged to that one, with its sign."""
    prior = prior_belief(static_margin_sigma=0.03)
    sound = [linear("sound", {P.YAW_OFFSET: 1.0}, 0.0, sigma=0.001, bias=1e-6) for _ in range(3)]
    for off in (0.02, -0.02):
        wrong = [linear("wrong", {P.YAW_OFFSET: 1.0}, off, sigma=0.005, bias=0.05) for _ in range(3)]
        found = update(prior, tuple(sound + wrong))
        assert found.bias["wrong"] == pytest.approx(off, rel=0.1)
        assert found.bias["sound"] == pytest.approx(0.0, abs=1e-4)
        # The same belief whichever was flown first.
        other = update(prior, tuple(wrong + sound))
        assert other.bias["wrong"] == pytest.approx(found.bias["wrong"], rel=1e-3)


def test_causes_are_ranked_by_their_own_sigmas_and_show_only_evidence_that_bears_on_them():
    prior = prior_belief(static_margin_sigma=0.03)
    data = (
        linear("yaw", {P.YAW_OFFSET: 1.0}, 0.05, sigma=0.002, bias=1e-6),
        linear("torque", {P.LN_TORQUE: 1.0}, 0.05, sigma=0.05, bias=1e-6),
    )
    found = causes(prior, data, update(prior, data))
    assert found[0].key == "yaw_offset"
    assert [c.chance for c in found] == sorted((c.chance for c in found), reverse=True)
    assert found[0].strength == max(c.strength for c in found)
    assert [e.words for e in found[0].evidence] == ["yaw"]
    assert found[0].evidence[0].pull > 0
    assert found[0].positive
    assert not causes(
        prior, data[:1], update(prior, (linear("yaw", {P.YAW_OFFSET: 1.0}, -0.05, sigma=0.002, bias=1e-6),))
    )[0].positive
    silent = next(c for c in found if c.key == "twist")
    assert silent.evidence == ()


def test_a_step_too_far_is_halved_not_doubled():
    """A measure that grows like a cube: Newton's first step overshoots by far, and the answer is still the only one there is."""
    c = model()
    cube = Measure(
        "cube",
        "cube",
        "",
        lambda x, _: float(x[P.YAW_OFFSET]) * 100.0 + (20.0 * float(x[P.YAW_OFFSET])) ** 5,
        0.01,
        1e-6,
        "cube",
    )
    datum = Datum(cube, Moment(design_of(c), trimmed(c)), 8.0, 8.0, 0.01, "F0", "cube")
    x = float(update(prior_belief(static_margin_sigma=0.03), (datum,)).mean[P.YAW_OFFSET])
    assert 100.0 * x + (20.0 * x) ** 5 == pytest.approx(8.0, abs=0.5)


def test_a_stored_cause_is_read_back_under_its_own_name():
    prior = prior_belief(static_margin_sigma=0.03)
    data = (linear("yaw", {P.YAW_OFFSET: 1.0}, 0.05, sigma=0.002, bias=1e-6),)
    for cause in causes(prior, data, update(prior, data)):
        numbers = {k: getattr(cause, k) for k in ("value", "sigma", "prior_sigma", "strength", "separated", "evidence")}
        numbers |= {"chance": cause.chance, "twin": cause.twin}
        assert cause_from(cause.key, positive=cause.positive, **numbers) == cause
    assert cause_from("forgotten", positive=True, **numbers) is None


def test_what_was_believed_before_a_flight_knows_nothing_of_it():
    c = model()
    pull = Reading("stick_held", number=0.2, direction=Response.NOSE_UP)
    one = LoggedSortie(c, (CardRecord("F14", Outcome.DONE, (pull,), left_alone=True),))
    prior, after = belief_before((one,)), belief_after((one,), configuration=c)
    assert prior.mean == pytest.approx(prior_means(), abs=1e-9)
    assert after.mean[P.STATIC_MARGIN] < -0.01
    assert belief_before((one, one)).mean == pytest.approx(after.mean)
    found = estimate_of((one, one), said=())
    assert found.data_count == len(sortie_data(one))
    assert found.before == tendencies(c, after, resting_trims(c))


def test_a_measured_twist_is_known_as_well_as_an_incidence_meter_reads():
    """Two tips, each against its root: four readings and as much again for the chords between, over two: sigma root 2."""
    told = prior_belief(static_margin_sigma=0.03, twist_rad=0.004)
    assert told.sigma[P.TWIST] == pytest.approx(math.sqrt(2.0) * INCIDENCE_SIGMA_RAD, rel=1e-6)
    assert told.sigma[P.TWIST] < 0.8 * prior_belief(static_margin_sigma=0.03).sigma[P.TWIST]


def test_evidence_pulls_by_as_many_sigmas_as_the_mean_would_move_back():
    """First order: C g = C (mean - prior)/sigma^2, in sigmas of what was believed before; for a cause it is positive either way."""
    prior = prior_belief(static_margin_sigma=0.03)
    for off in (0.05, -0.05):
        data = (linear("yaw", {P.YAW_OFFSET: 1.0}, off, sigma=0.002, bias=1e-6),)
        after = update(prior, data)
        (evidence,) = causes(prior, data, after)[0].evidence
        narrowed = (after.sigma[P.YAW_OFFSET] / prior.sigma[P.YAW_OFFSET]) ** 2
        back = narrowed * abs(after.mean[P.YAW_OFFSET]) / prior.sigma[P.YAW_OFFSET]
        assert evidence.pull == pytest.approx(back, rel=0.02)


def test_what_is_known_better_than_any_bench_could_know_it_is_said_no_better_than_the_floor():
    """A margin told five times over: exactly the floor is kept, and what is known of the rest does not change."""
    prior = prior_belief(static_margin_sigma=0.03)
    data = tuple(linear(f"m{i}", {P.STATIC_MARGIN: 1.0}, 0.02, sigma=0.001, bias=1e-6) for i in range(5))
    after = update(prior, data)
    assert after.sigma[P.STATIC_MARGIN] == pytest.approx(STATIC_MARGIN_FLOOR)
    assert after.sigma[P.TWIST] == pytest.approx(prior.sigma[P.TWIST], rel=1e-6)


@pytest.mark.parametrize(("noise", "told"), [(0.3, True), (1.5, False)])
def test_a_cause_is_told_apart_when_the_flights_have_narrowed_it(noise, told):
    """Posterior over prior sigma 1/sqrt(1 + 1/n^2) at a noise of n prior sigmas: 0.29, or 0.83, against 0.75."""
    prior = prior_belief(static_margin_sigma=0.03)
    size = float(prior.sigma[P.TWIST])
    data = (linear("w", {P.TWIST: 1.0}, 4.0 * size, sigma=noise * size, bias=1e-6),)
    (top, *_) = causes(prior, data, update(prior, data))
    assert top.key == "twist"
    assert top.strength > 1.0
    assert top.separated is told


def test_what_was_measured_before_the_flight_is_where_the_belief_begins():
    """A measured twist and a flight that says nothing of it: the measured one stays; one as sure against it: half way."""
    prior = prior_belief(static_margin_sigma=0.03, twist_rad=0.010)
    size = float(prior.sigma[P.TWIST])
    silent = (linear("yaw", {P.YAW_OFFSET: 1.0}, 0.05, sigma=0.002, bias=1e-6),)
    assert update(prior, silent).mean[P.TWIST] == pytest.approx(0.010, abs=1e-5)
    against = (linear("roll", {P.TWIST: 1.0}, 0.0, sigma=size, bias=1e-6),)
    assert update(prior, against).mean[P.TWIST] == pytest.approx(0.005, rel=0.02)


@pytest.mark.parametrize("word", ["drops", "sinks", "rises", "rears"])
@pytest.mark.parametrize(("card", "key"), [("F5", "pitch_full"), ("F28", "go_round")])
def test_a_word_of_a_step_of_power_moves_the_thrust_line_and_no_battery(card, key, word):
    """Found by review: "rises" with full power, flown alone, moved the battery (common practice, no source)."""
    c = model()
    power = CardRecord(card, Outcome.DONE, (Reading(key, choice=word),))
    trim = CardRecord("F2", Outcome.DONE, (Reading("left_over", choice="rises"),), left_alone=True)
    alone, trimmed_too, trim_alone = (
        belief_after((LoggedSortie(c, records),), configuration=c) for records in ((power,), (trim, power), (trim,))
    )
    assert alone.mean[P.STATIC_MARGIN] == pytest.approx(0.0, abs=1e-12)
    assert alone.sigma[P.STATIC_MARGIN] == pytest.approx(float(prior_of(design_of(c)).sigma[P.STATIC_MARGIN]))
    assert trimmed_too.mean[P.STATIC_MARGIN] == pytest.approx(float(trim_alone.mean[P.STATIC_MARGIN]), abs=1e-9)
    assert trimmed_too.sigma[P.STATIC_MARGIN] == pytest.approx(float(trim_alone.sigma[P.STATIC_MARGIN]), rel=1e-6)
    assert alone.sigma[P.THRUST_DOWN] < 0.98 * prior_belief(static_margin_sigma=0.03).sigma[P.THRUST_DOWN]


def test_a_nose_that_drops_under_power_means_more_down_thrust_than_one_that_rears():
    c = model()
    tilt = {
        word: belief_after(
            (LoggedSortie(c, (CardRecord("F5", Outcome.DONE, (Reading("pitch_full", choice=word),)),)),),
            configuration=c,
        ).mean[P.THRUST_DOWN]
        for word in ("drops", "rears")
    }
    assert tilt["drops"] > tilt["rears"] + math.radians(0.3)


def test_a_step_of_power_is_read_given_the_margin_that_everything_else_says():
    """Cut Gaussian by hand, in numpy: p(others | margin, all) p(margin | without), Plummer, Statistics and Computing 25 (2015)."""
    prior = prior_belief(static_margin_sigma=0.03)
    other = linear("trim", {P.STATIC_MARGIN: 1.0, P.PITCH_MOMENT: 1.0}, 0.02, sigma=0.02, bias=1e-6)
    step = linear("go_round", {P.STATIC_MARGIN: 1.0, P.THRUST_DOWN: 1.0}, 0.05, sigma=0.01, bias=1e-6)
    found = update(prior, (other, step))

    def posterior(rows):
        h = np.zeros((len(rows), COUNT))
        for k, (row, _, _) in enumerate(rows):
            for p, v in row.items():
                h[k, p] = v
        r = np.diag([s**2 for _, _, s in rows])
        gain = prior.covariance @ h.T @ np.linalg.inv(h @ prior.covariance @ h.T + r)
        return gain @ np.array([v for _, v, _ in rows]), prior.covariance - gain @ h @ prior.covariance

    a = ({P.STATIC_MARGIN: 1.0, P.PITCH_MOMENT: 1.0}, 0.02, 0.02)
    b = ({P.STATIC_MARGIN: 1.0, P.THRUST_DOWN: 1.0}, 0.05, 0.01)
    (mean, cov), (alone, alone_cov) = posterior([a, b]), posterior([a])
    m, t = P.STATIC_MARGIN, P.THRUST_DOWN
    slope = cov[t, m] / cov[m, m]
    assert found.mean[m] == pytest.approx(alone[m], abs=1e-6)
    assert found.mean[t] == pytest.approx(mean[t] + slope * (alone[m] - mean[m]), abs=1e-6)
    spread = cov[t, t] - slope**2 * cov[m, m] + slope**2 * alone_cov[m, m]
    assert found.sigma[t] == pytest.approx(math.sqrt(spread), rel=1e-3)
    assert found.pulls[1, m] == 0.0


def test_what_is_so_of_every_model_is_no_cause_of_this_one():
    """Surfaces are some weaker than a lattice says, on all: found by looking, a debrief named it of a model that had flown nothing of it."""
    c = model()
    level = CardRecord("F4", Outcome.DONE, (Reading("left_over", choice="straight"),))
    one = LoggedSortie(c, (level,))
    prior, after = prior_of(design_of(c)), belief_after((one,), configuration=c)
    assert after.mean[P.LN_ELEVATOR] == pytest.approx(prior_means()[P.LN_ELEVATOR])
    found = {k.key: k.strength for k in causes(prior, sortie_data(one), after)}
    assert found.get("elevator_power", 0.0) == pytest.approx(0.0, abs=1e-9)
