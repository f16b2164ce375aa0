"""Which behaviour is worst, what its bands are, and what trim counts for what a surface should read."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.diagnose.estimate import estimate_of, worst_tendency
from jinba.core.diagnose.shown import Shown
from jinba.core.diagnose.sorties import LoggedSortie
from jinba.core.diagnose.tendencies import Tendency, tendencies
from jinba.core.diagnose.update import prior_of
from jinba.core.diagnose.wandering import moved_since, wandering_trim
from jinba.core.frames import Axis, Response
from jinba.core.observe.situation import design_of
from tests.builders import model, trimmed, with_margin


def behaviour(key: str, value: float, low: float, high: float) -> Tendency:
    inside = low <= value <= high
    shown = Shown.IN_BAND if inside else Shown.BELOW if value < low else Shown.ABOVE
    chance = 0.9 if inside else 0.05
    numbers = (value, 1.0, low, high, -50.0, 50.0)
    return Tendency(key, key, "left", "right", "", *numbers, "", "", chance, shown, inside, not inside)


def test_the_worst_is_the_one_furthest_out_in_widths_of_its_own_band():
    """4 beyond a band of 20 is a fifth of it, 2 beyond a band of 2 the whole: the second is worse, either side alike."""
    wide, narrow = behaviour("roll", 14.0, -10.0, 10.0), behaviour("pitch", -3.0, -1.0, 1.0)
    assert worst_tendency((wide, narrow)) is narrow
    assert worst_tendency((behaviour("roll", 60.0, -10.0, 10.0), narrow)).key == "roll"
    assert worst_tendency((behaviour("roll", 0.0, -1.0, 1.0),)) is None


def test_balance_counts_double():
    margin, pitch = behaviour("static_margin", 3.0, 6.0, 12.0), behaviour("pitch", 1.8, -1.0, 1.0)
    assert worst_tendency((margin, pitch)) is margin, "half a width twice against four tenths"
    assert worst_tendency((behaviour("other", 3.0, 6.0, 12.0), behaviour("pitch", 2.2, -1.0, 1.0))).key == "pitch"


@pytest.mark.parametrize("key", ["low_wing", "flying_wing", "twin_boom_pusher", "sailplane"])
def test_every_band_is_a_band_inside_its_rail_and_a_drift_to_either_side_is_as_bad(key):
    c = with_margin(model(key), 0.09)
    found = {t.key: t for t in tendencies(c, prior_of(design_of(c)), trimmed(c))}
    for t in found.values():
        assert t.rail_low < t.low < t.high < t.rail_high, t.key
    sided = [found[k] for k in ("pitch_trim", "roll_cruise", "roll_slow", "power_pitch", "yaw") if k in found]
    assert len(sided) >= 4
    for t in sided:
        assert (t.low, t.rail_low) == pytest.approx((-t.high, -t.rail_high)), t.key


def test_the_last_count_of_a_flight_says_where_the_surface_should_rest():
    """Two clicks nose up at the end of the first card, four at the end of the second: the ruler is held against four."""
    c = model()
    rows = tuple(
        CardRecord("F2", Outcome.DONE, (Reading("pitch_clicks", number=n, direction=Response.NOSE_UP),)) for n in (3, 4)
    )
    rests = c.ruler_mm(Axis.PITCH, c.elevator.resting_rad - 4 * c.elevator.rad_per_click)
    far = c.ruler_mm(Axis.PITCH, c.elevator.resting_rad - 12 * c.elevator.rad_per_click)

    def read(mm: float) -> list[str]:
        return [
            s.code for s in wandering_trim(c, (*rows, CardRecord("A3", Outcome.DONE, (Reading("elevator_mm", mm),))))
        ]

    assert read(rests) == []
    assert read(far) == ["surface_moved"]


def pitch_trim(clicks: float, way: Response = Response.NOSE_UP) -> tuple[CardRecord, ...]:
    readings = (Reading("pitch_clicks", number=clicks, direction=way), Reading("left_over", choice="holds"))
    return (CardRecord("F2", Outcome.DONE, readings, left_alone=True),)


@pytest.mark.parametrize(("clicks", "moved"), [(3.0, False), (4.0, True), (12.0, True)])
@pytest.mark.parametrize("way", [Response.NOSE_UP, Response.NOSE_DOWN])
def test_more_than_three_clicks_between_two_sorties_of_one_configuration_is_something_that_moved(clicks, moved, way):
    """Found by review: twelve clicks up, next time twelve down, and the elevator was called weak (common practice, no source)."""
    squawks = moved_since(pitch_trim(12.0), pitch_trim(clicks, way))
    assert [s.code for s in squawks] == (["trim_moved"] if moved else [])
    assert all("something has moved. Look at clevis and horn" in s.words and s.stops for s in squawks)
    assert moved_since((), pitch_trim(clicks, way)) == (), "the first time it is trimmed nothing has moved"


def test_the_estimate_says_it_only_where_nothing_was_changed_between():
    c = with_margin(model(), 0.09)
    other = replace(c, elevator=replace(c.elevator, mechanical_rad=0.02))
    for second, codes in ((c, ["trim_moved"]), (other, [])):
        flown = (LoggedSortie(c, pitch_trim(2.0)), LoggedSortie(second, pitch_trim(8.0)))
        assert [s.code for s in estimate_of(flown, said=()).squawks] == codes
