"""Corrections: what is chosen, how it is rounded, what is held back, and that the prediction follows."""

import math
import re
from dataclasses import replace

import numpy as np
import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.configuration import balance_of
from jinba.core.controls.linkage import Linkage, turned_rad
from jinba.core.controls.shims import shim_m
from jinba.core.correct.actions import ActionKind
from jinba.core.correct.balance import LARGEST_AFT_STEP, LARGEST_STEP, correct_balance, wanted_margin
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Choices
from jinba.core.correct.trims import needed_rest_rad
from jinba.core.diagnose.seen import Seen
from jinba.core.diagnose.shown import Shown
from jinba.core.diagnose.update import Belief, prior_belief
from jinba.core.frames import Axis
from jinba.core.mass.items import Item, ItemKind
from jinba.core.observe.parameters import P
from jinba.core.observe.situation import Trims, design_of
from jinba.core.spoken import spoken
from tests.builders import ALL_SEEN, model, read_twice, trimmed, with_margin

NO_ERRORS = dict.fromkeys(
    ("pitch_left_over", "roll_cruise", "roll_slow", "pitch_full", "yaw_left_over", "yaw_full"), 0.0
)
"""Closed forms that are known to be right."""


def knowing(**means: float) -> Belief:
    """Return a belief that is sure of everything and has the given means."""
    b = prior_belief(static_margin_sigma=0.01)
    mean = b.mean.copy()
    for name, value in means.items():
        mean[P[name]] = value
    mean[P.LN_ELEVATOR] = means.get("LN_ELEVATOR", 0.0)
    return replace(b, mean=mean, covariance=b.covariance * 0.05, bias=NO_ERRORS)


def margin_known(sigma: float) -> Belief:
    """A belief with nothing found and the margin known to a sigma [of MAC]."""
    covariance = knowing().covariance.copy()
    covariance[P.STATIC_MARGIN, P.STATIC_MARGIN] = sigma**2
    return replace(knowing(), covariance=covariance)


def kinds(correction) -> list[ActionKind]:
    return [a.kind for a in correction.actions]


def test_tail_heavy_moves_the_battery_forward_by_the_moment_sum():
    """dx = m shift / m_battery (FAA-H-8083-25 weight shift, from memory), to whole millimetres."""
    c = with_margin(model(), 0.09)
    correction = compose(c, knowing(STATIC_MARGIN=-0.032), trimmed(c), ALL_SEEN)
    d, battery = design_of(c), c.battery
    assert battery is not None
    moved = correction.actions[0]
    assert moved.kind is ActionKind.MOVE_BATTERY
    shift = (wanted_margin(c, knowing()) - 0.058) * d.aero.planform.mac_m
    assert moved.amount == pytest.approx(shift * d.balance.mass.mass_kg / battery.mass_kg * 1000, abs=0.51)
    assert "forward" in moved.words
    after = next(t for t in correction.predicted if t.key == "static_margin")
    assert after.value == pytest.approx(9.0, abs=0.4)


def test_the_elevator_is_preset_for_the_move():
    """Moving the balance forward asks for up elevator: the surface must rest further up than it was flown."""
    c = with_margin(model(), 0.09)
    b = knowing(STATIC_MARGIN=-0.032)
    flown = trimmed(c).moved(Axis.PITCH, needed_rest_rad(c, b, trimmed(c), Axis.PITCH))
    correction = compose(c, b, flown, ALL_SEEN)
    assert correction.configuration.elevator.resting_rad < flown.elevator_rad
    trim = next(t for t in correction.predicted if t.key == "pitch_trim")
    assert abs(trim.value) < 1.5


def tight(c, room_m: float = 0.005):
    """The battery may move by so much each way."""
    pack = c.battery
    items = tuple(replace(i, bay_m=(i.x_m - room_m, i.x_m + room_m)) if i is pack else i for i in c.items)
    return replace(c, items=items)


@pytest.mark.parametrize(("believed", "whole"), [(-0.12, True), (-0.045, True), (-0.032, False)])
def test_below_the_class_minimum_there_is_no_small_step(believed, whole):
    """9 % on the bench; 4 % is the class minimum: what may lie below it goes all the way to the target, at once."""
    c = read_twice(with_margin(model(), 0.09))
    found = correct_balance(c, knowing(STATIC_MARGIN=believed), ALL_SEEN)
    mac = design_of(c).aero.planform.mac_m
    shift = (design_of(c).balance.x_m - balance_of(found.configuration).x_m) / mac
    assert shift == pytest.approx(-believed, abs=0.01)
    assert (shift > LARGEST_STEP) is (whole and -believed > LARGEST_STEP)
    assert abs(found.shortfall_m) < 0.004
    assert found.held == ()


def test_a_safe_model_is_moved_forward_by_five_percent_at_most():
    """Too far aft for its class, yet hardly below its minimum: a step, then look again. Common practice, no source."""
    c = with_margin(model(), 0.09)
    rules = replace(c, flown_inverted=False).rules
    sure = replace(knowing(STATIC_MARGIN=rules.minimum + 0.002 - 0.09), covariance=knowing().covariance * 0.01)
    found = correct_balance(c, sure, ALL_SEEN)
    moved = (design_of(c).balance.x_m - balance_of(found.configuration).x_m) / design_of(c).aero.planform.mac_m
    assert moved == pytest.approx(min(rules.target - rules.minimum - 0.002, LARGEST_STEP), abs=0.004)


def test_ballast_comes_after_the_bay_and_what_still_lacks_is_said():
    c = read_twice(tight(with_margin(model(), 0.09)))
    correction = compose(c, knowing(STATIC_MARGIN=-0.12), trimmed(c), ALL_SEEN)
    assert kinds(correction)[:2] == [ActionKind.MOVE_BATTERY, ActionKind.BALLAST]
    assert "nose" in correction.actions[1].words
    assert correction.held_back == ()
    without = compose(c, knowing(STATIC_MARGIN=-0.12), trimmed(c), ALL_SEEN, Choices(use_ballast=False))
    assert ActionKind.BALLAST not in kinds(without)
    assert without.shortfall_m < -0.003
    (held,) = without.held_back
    lacks = float(
        re.search(r"Not flyable yet: the balance point stays ([\d.]+) mm too far aft", spoken(held.words)).group(1)
    )
    assert lacks == pytest.approx(-1000.0 * without.shortfall_m, abs=0.06)


def test_lead_that_holds_it_back_goes_out_before_any_is_added():
    """Moments about the target: r = m (x - x_t)/(x_lead - x_t) leaves the tail, its moment with it."""
    c = with_margin(model(), 0.09)
    x = balance_of(c).x_m
    lead = Item("lead", "Lead at the tail", 0.080, x + 0.5, kind=ItemKind.BALLAST)
    c = tight(read_twice(with_margin(replace(c, jig=None, items=(*c.items, lead)), 0.09)), 0.0)
    before = balance_of(c)
    found = correct_balance(c, knowing(STATIC_MARGIN=-0.032), ALL_SEEN)
    (order,) = found.actions
    target = before.x_m - 0.032 * design_of(c).aero.planform.mac_m
    ideal = before.mass.mass_kg * (before.x_m - target) / (lead.x_m - target)
    assert order.amount == pytest.approx(1000.0 * ideal, abs=2.6)
    assert order.words.startswith("Take ")
    assert balance_of(found.configuration).x_m == pytest.approx(target, abs=0.002)
    left = sum(i.mass_kg for i in found.configuration.items if i.kind is ItemKind.BALLAST)
    assert left == pytest.approx(0.080 - order.amount / 1000.0)
    far = correct_balance(c, knowing(STATIC_MARGIN=-0.2), ALL_SEEN)
    assert [a.words.split()[0] for a in far.actions] == ["Take", "Add"], "all of it, and then at the nose"
    assert not any(i.key == "lead" for i in far.configuration.items)


def test_lead_waits_for_another_reading_where_the_flights_pull_away_from_the_one_there_is():
    """The battery goes as far as it can; lead for the rest is no answer to a balance that may have been read wrongly. Two readings that
    agree have said it, a small pull is none, and the pilot who takes no lead hears nothing of it."""
    once = tight(with_margin(model(), 0.09), 0.0)
    off = -3.0 * design_of(once).static_margin_sigma
    held = correct_balance(once, knowing(STATIC_MARGIN=off), ALL_SEEN)
    assert held.actions == ()
    assert held.held[0].reading
    assert "more tail-heavy" in held.held[0].words
    assert "Read the balance again, another way" in held.held[0].opens_with
    assert any("Not flyable yet" in h.words for h in held.held), "and until then it does not fly"
    agreed = correct_balance(read_twice(once), knowing(STATIC_MARGIN=off), ALL_SEEN)
    assert [a.kind for a in agreed.actions] == [ActionKind.BALLAST]
    assert not any(h.reading for h in agreed.held)
    pulled = 1.2 * design_of(once).static_margin_sigma
    little = correct_balance(once, replace(knowing(STATIC_MARGIN=-pulled), misread=0.2), ALL_SEEN)
    assert not any(h.reading for h in little.held)
    likely = correct_balance(once, replace(knowing(STATIC_MARGIN=-0.8 * pulled), misread=0.7), ALL_SEEN)
    assert any(h.reading for h in likely.held), "two to one that it was misread"
    assert not any(
        h.reading for h in correct_balance(once, knowing(STATIC_MARGIN=off), ALL_SEEN, use_ballast=False).held
    )


def test_lead_that_is_taken_out_waits_for_nobody():
    """What is taken out is put back as easily as it went; what would be glued in beyond that waits for the reading."""
    c = with_margin(model(), 0.09)
    lead = Item("lead", "Lead at the tail", 0.080, balance_of(c).x_m + 0.5, kind=ItemKind.BALLAST)
    c = tight(with_margin(replace(c, jig=None, items=(*c.items, lead)), 0.09), 0.0)
    out = correct_balance(c, knowing(STATIC_MARGIN=-0.2), ALL_SEEN)
    assert [a.words.split()[0] for a in out.actions] == ["Take"]
    assert out.held[0].reading


def test_the_balance_goes_aft_only_when_a_flight_says_so():
    """Nose-heavy by the numbers alone is no reason; a card that shows it is, until a newer one, or a take-off broken off, speaks
    for tail-heavy."""
    c = with_margin(model(), 0.16)
    mac = design_of(c).aero.planform.mac_m

    def aft(seen: Seen) -> float:
        found = correct_balance(c, knowing(), seen)
        assert bool(found.held) is (not found.actions)
        return (balance_of(found.configuration).x_m - design_of(c).balance.x_m) / mac

    heavy = ((3, "F12"),)
    assert aft(Seen()) == 0.0
    assert aft(Seen(nose_heavy=heavy)) == pytest.approx(LARGEST_AFT_STEP, abs=0.002)
    assert aft(Seen(nose_heavy=heavy, tail_heavy=((2, "F1 was broken off"),))) > 0.0
    assert aft(Seen(nose_heavy=heavy, tail_heavy=((3, "F1 was broken off"),))) == 0.0
    assert aft(Seen(nose_heavy=heavy, tail_heavy=((4, "F2"), (1, "F1")))) == 0.0
    held = correct_balance(c, knowing(), Seen()).held[0]
    assert "no card speaks for a nose-heavy model" in held.words
    assert held.cards == ("F13", "F12")
    chosen = correct_balance(c, knowing(), Seen(), battery_m=0.01)
    assert chosen.actions, "the pilot in command may"


def test_washers_answer_the_power_step_and_not_the_move_of_the_pack():
    """Power is inside its band as it flies; a large move of the balance with the elevator re-set leaves it there."""
    for margin in (0.02, 0.16):
        c = with_margin(model(), margin)
        assert ActionKind.THRUST_LINE not in kinds(compose(c, knowing(), trimmed(c), ALL_SEEN))


def test_nothing_is_changed_on_an_axis_that_was_not_flown():
    c = with_margin(model(), 0.09)
    crooked = knowing(YAW_OFFSET=0.08, LATERAL_CG=0.02, THRUST_DOWN=0.12)
    found = compose(c, crooked, trimmed(c), Seen(frozenset({"F1", "F2"})))
    assert set(kinds(found)) <= {ActionKind.ELEVATOR}, "F2 was flown: that axis may"
    assert {ActionKind.RUDDER, ActionKind.THRUST_LINE} <= set(kinds(compose(c, crooked, trimmed(c), ALL_SEEN)))


@pytest.mark.parametrize("layout", ["low_wing", "twin_boom_pusher", "v_tail", "canard", "flying_wing"])
def test_a_model_that_flies_as_it_should_is_left_as_it_is(layout):
    """All cards flown, all behaviours inside their bands: no action on any axis."""
    c = model(layout)
    c = with_margin(c, c.rules.target)
    assert compose(c, knowing(), trimmed(c), ALL_SEEN).actions == ()


def test_uncertain_balance_aims_further_forward():
    """max(target, minimum + 1.751 sigma), 4 % by the table: with sigma 4 % and minimum 4 % the aim is 11 %, not the target's 9 %."""
    assert wanted_margin(model(), margin_known(0.04)) == pytest.approx(0.04 + 1.751 * 0.04, abs=1e-4)
    assert wanted_margin(model(), margin_known(0.005)) == pytest.approx(0.09)


def test_tip_ballast_only_when_weight_and_twist_are_told_apart():
    c = with_margin(model(), 0.09)
    b = knowing(LATERAL_CG=0.012)
    sure = compose(c, b, trimmed(c), ALL_SEEN)
    assert ActionKind.TIP_BALLAST in kinds(sure)
    tip = next(a for a in sure.actions if a.kind is ActionKind.TIP_BALLAST)
    assert "left wing tip" in tip.words, "right wing heavy: ballast goes into the light left tip"
    wide = b.covariance.copy()
    wide[P.LATERAL_CG, P.LATERAL_CG] = 0.0055**2
    held = compose(c, replace(b, covariance=wide), trimmed(c), ALL_SEEN)
    assert ActionKind.TIP_BALLAST not in kinds(held)
    assert [h.kind for h in held.held_back] == [ActionKind.TIP_BALLAST]
    assert "F7" in held.held_back[0].opens_with
    assert ActionKind.AILERON in kinds(held)


def test_down_thrust_words_are_right_for_a_pusher():
    """A pusher that pitches nose down with power has its forward end tilted down, which pitches the nose up."""
    c = with_margin(model("twin_boom_pusher"), 0.11)
    motor = c.airframe.motor
    assert motor is not None
    high = replace(c, airframe=replace(c.airframe, motor=replace(motor, z_m=motor.z_m + 0.07)))
    b = knowing()
    correction = compose(high, b, trimmed(high), ALL_SEEN)
    shim = next(a for a in correction.actions if a.kind is ActionKind.THRUST_LINE)
    now, then = (next(t for t in s if t.key == "power_pitch") for s in (correction.now, correction.predicted))
    assert now.value < -2
    assert abs(then.value) < abs(now.value)
    assert "forward end down" in shim.words
    assert "nose further up" in shim.why


def test_hands_and_steps_of_the_trade():
    """M2 clevis (0.4 mm, ISO 261) on a 12 mm horn: 1.91 degrees a turn; 0.8 mm over bolts 16/25/44 mm apart: 2.9/1.8/1.0 degrees."""
    square = Linkage(arm_m=0.012, horn_m=0.012, distance_m=0.1, thread_pitch_m=0.0004)
    assert math.degrees(turned_rad(square, 1.0)) == pytest.approx(1.91, abs=0.005)
    for spacing, degrees in ((0.016, 2.9), (0.025, 1.8), (0.044, 1.0)):
        assert shim_m(tilt_rad=math.radians(degrees), spacing_m=spacing) * 1000 == pytest.approx(0.8, abs=0.04)


def test_a_settled_model_is_left_alone():
    c = with_margin(model(), 0.09)
    flown = compose(c, knowing(), trimmed(c), ALL_SEEN).configuration
    again = compose(
        flown,
        knowing(),
        Trims(flown.elevator.resting_rad, flown.aileron.resting_rad, flown.rudder.resting_rad),
        ALL_SEEN,
        Choices(use_thrust_line=False),
    )
    assert again.actions == ()
    assert again.difference.stale == frozenset()


def test_ballast_keeps_a_jig_reading_exact():
    """After adding m_b at x_b the reading must become (m x + m_b x_b)/(m + m_b), whatever the items said."""
    c = with_margin(model(), 0.09)
    battery = c.battery
    assert battery is not None
    fixed = replace(c, items=tuple(replace(i, bay_m=None) if i is battery else i for i in c.items))
    fixed = read_twice(fixed)
    before = balance_of(fixed)
    after = compose(fixed, knowing(STATIC_MARGIN=-0.04), trimmed(c), ALL_SEEN).configuration
    added = after.items[-1]
    expected = (before.mass.mass_kg * before.x_m + added.mass_kg * added.x_m) / (before.mass.mass_kg + added.mass_kg)
    assert balance_of(after).x_m == pytest.approx(expected, abs=1e-9)
    assert np.isfinite(expected)


@pytest.mark.parametrize("margin", [0.01, 0.03])
def test_an_order_says_what_the_balance_point_does_and_will_read(margin):
    """Both from the moment sum after rounding: what is moved, how far the balance point goes, what the jig then shows."""
    c = with_margin(model(), margin)
    found = correct_balance(tight(c, 0.02), knowing(), ALL_SEEN)
    moved = balance_of(found.configuration).x_m - balance_of(c).x_m
    assert found.actions
    done = balance_of(c).x_m
    for action in found.actions:
        said = spoken(action.why)
        millimetres = float(re.search(r"balance point ([\d.]+) mm (forward|aft)", said).group(1))
        assert "forward" in said
        done -= millimetres / 1000.0
        read = float(re.search(r"reads ([\d.]+) mm behind", spoken(action.proof)).group(1))
        assert read / 1000.0 == pytest.approx(done, abs=0.0008)
    assert done == pytest.approx(balance_of(c).x_m + moved, abs=0.0003)
    wanted = -(found.wanted_margin - margin) * design_of(c).aero.planform.mac_m
    assert found.shortfall_m == pytest.approx(wanted - moved, abs=0.001)
    assert wanted < 0


def test_what_the_bay_cannot_give_is_given_by_lead_at_the_far_end():
    """m_b = m (x_cg - x_target)/(x_target - x_b): nose ballast, its own mass included (FAA-H-8083-1, from memory)."""
    c = with_margin(model(), 0.02)
    pack = c.battery
    stuck = replace(c, items=tuple(replace(i, bay_m=(i.x_m, i.x_m)) if i is pack else i for i in c.items))
    found = correct_balance(stuck, knowing(), ALL_SEEN)
    lead = next(i for i in found.configuration.items if i.kind is ItemKind.BALLAST)
    nose = stuck.airframe.body.nose_x_m
    assert lead.x_m == pytest.approx(nose, abs=0.06)
    before, after = balance_of(stuck), balance_of(found.configuration)
    assert after.x_m < before.x_m
    # x_after = (m x + m_b x_b)/(m + m_b), whatever the jig had said.
    expected = (before.mass.mass_kg * before.x_m + lead.mass_kg * lead.x_m) / (before.mass.mass_kg + lead.mass_kg)
    assert after.x_m == pytest.approx(expected, abs=1e-6)
    left = -(found.wanted_margin - 0.02) * design_of(c).aero.planform.mac_m - (after.x_m - before.x_m)
    assert found.shortfall_m == pytest.approx(left, abs=1e-6)
    assert abs(left) < 0.0045 * abs(lead.x_m - before.x_m), "to the piece of lead"


def test_an_order_says_which_way_a_surface_is_preset_beyond_where_it_flew():
    """Ruler and words from the angles: where it will rest less where it flew."""
    c = with_margin(model(), 0.02)
    flown = trimmed(c).moved(Axis.PITCH, trimmed(c).elevator_rad - 0.03)
    found = compose(c, knowing(PITCH_MOMENT=0.03), flown, ALL_SEEN)
    order = next(a for a in found.actions if a.unit == "turns")
    further = found.configuration.elevator.resting_rad - flown.elevator_rad
    said = re.search(r"set ([\d.]+) mm further (up|down)", spoken(order.why))
    assert said is not None
    assert float(said.group(1)) == pytest.approx(1000 * abs(further) * c.elevator.chord_m, abs=0.6)
    assert (said.group(2) == "down") is (further > 0)


def test_an_aft_move_falls_short_by_a_share_of_what_is_not_known():
    """Change + 0.2 sigma, 4 % at most: measured in bench/closed_loop.py, where wrong moves were nearly all aft ones."""
    c = with_margin(model(), 0.125)
    sigma = 0.030
    found = correct_balance(c, margin_known(sigma), ALL_SEEN)
    moved = (balance_of(found.configuration).x_m - balance_of(c).x_m) / design_of(c).aero.planform.mac_m
    assert moved == pytest.approx(0.125 - wanted_margin(c, margin_known(sigma)) - 0.2 * sigma, abs=0.0015)


def test_lead_goes_to_the_far_end_of_what_there_is():
    """Behind the tail plane where there is one, else at the end of the body; two centimetres from either end of it."""
    for layout in ("low_wing", "flying_wing"):
        c = model(layout)
        c = tight(with_margin(c, c.rules.target + 0.08), 0.0)
        found = correct_balance(c, knowing(), ALL_SEEN)
        lead = next(i for i in found.configuration.items if i.kind is ItemKind.BALLAST)
        body, tail = c.airframe.body, c.airframe.pitch_surface
        end = max(body.nose_x_m + body.length_m, tail.x_m if tail is not None else 0.0)
        assert lead.x_m == pytest.approx(end - 0.02)
        assert any("at the tail" in a.words for a in found.actions)


def test_a_clevis_is_ordered_in_half_turns_and_its_words_say_as_many():
    c = with_margin(model(), 0.09)
    far = trimmed(c).moved(Axis.PITCH, trimmed(c).elevator_rad - 0.12)
    order = next(a for a in compose(c, knowing(PITCH_MOMENT=0.06), far, ALL_SEEN).actions if a.unit == "turns")
    turns = {"half a turn": 0.5, "1 turn": 1.0, "1 and a half turns": 1.5, "2 turns": 2.0}
    said = re.search(r"the clevis by ([\w ]+? turns?|half a turn)\b", order.words)
    assert said is not None
    words = said.group(1)
    assert order.amount == turns.get(
        words, float(re.sub(r"[^\d.]", "", words) or 0) + (0.5 if "half" in words else 0.0)
    )
    assert (2.0 * order.amount) % 1.0 == 0.0
    assert order.amount > 0.5


def test_what_a_rework_does_not_touch_stays_seen_and_what_it_moves_is_to_be_flown_again():
    """Found by looking: "seen in its band" stood beside "not known yet: fly F2" on a rework that changed nothing."""
    c = with_margin(model(), 0.09)
    records = tuple(
        CardRecord(card, Outcome.DONE, (Reading("left_over", choice=word),), True)
        for card, word in (("F2", "holds"), ("F3", "level"))
    )
    seen = replace(ALL_SEEN, records=records)
    still = compose(c, knowing(), trimmed(c), seen)
    assert "F2" not in still.difference.stale
    kept = {t.key: t.shown for t in still.predicted}
    assert kept["pitch_trim"] is kept["roll_cruise"] is Shown.IN_BAND
    moved = compose(c, knowing(STATIC_MARGIN=-0.03), trimmed(c), seen)
    assert "F2" in moved.difference.stale
    assert "F3" not in moved.difference.stale
    after = {t.key: t.shown for t in moved.predicted}
    assert after["pitch_trim"] is not Shown.IN_BAND
    assert after["roll_cruise"] is Shown.IN_BAND
