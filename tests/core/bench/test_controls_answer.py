"""The whole desk for linkages as people measure them: always an answer in finite numbers, or one clear refusal."""

from __future__ import annotations

import json
import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jinba.core.bench.controls import controls_answer, stopping
from jinba.core.controls.deflections import surface_deflection
from jinba.core.controls.four_bar import LinkageError
from jinba.core.controls.linkage import Drive, Linkage, bars_of
from jinba.core.controls.mixing import Weights
from jinba.core.controls.stabiliser import Stabiliser
from jinba.core.controls.travel import travel
from jinba.core.frames import Axis
from jinba.formats.codec import to_json
from tests.builders import model

LINKAGES = st.builds(
    Linkage,
    drive=st.sampled_from(Drive),
    arm_m=st.floats(0.002, 0.05),
    horn_m=st.floats(0.002, 0.05),
    distance_m=st.floats(0.005, 0.5),
    rise_m=st.floats(-0.05, 0.05),
    arm_lean_rad=st.floats(-1.4, 1.4),
    horn_lean_rad=st.floats(-1.4, 1.4),
    arm_up=st.booleans(),
    horn_up=st.booleans(),
    both_ends=st.booleans(),
)
BINDS = Linkage(arm_m=0.020, horn_m=0.006, distance_m=0.06)


@settings(max_examples=60)
@given(
    key=st.sampled_from(["low_wing", "flying_wing", "v_tail"]),
    linkage=LINKAGES,
    end=st.floats(0.0, 1.5),
    clicks=st.integers(-60, 60),
    weight=st.floats(0.05, 1.5),
)
def test_no_linkage_whatever_gives_a_number_that_is_none(key, linkage, end, clicks, weight):
    c = model(key)
    setup = c.control_setup
    fittings = tuple(replace(f, linkage=linkage, end_point_up=end, end_point_down=end) for f in setup.fittings)
    odd = replace(
        c,
        controls=replace(setup, fittings=fittings, weights=Weights(weight, weight, weight, weight)),
        elevator=replace(c.elevator, clicks=clicks),
    )
    if bool(bars_of(linkage).dead) and linkage.drive is Drive.ROD:
        with pytest.raises(LinkageError, match="dead centre"):
            controls_answer(odd)
        return
    answer = controls_answer(odd)
    text = json.dumps(to_json(answer), allow_nan=False)
    assert "NaN" not in text
    for f in answer.fittings:
        assert f.travel is not None or f.problem


def test_a_surface_whose_rod_binds_stays_where_it_came_to_and_the_plan_is_told():
    c = model()
    setup = c.control_setup
    elevator = replace(setup.fittings[2], linkage=BINDS, end_point_up=1.0, end_point_down=1.0)
    full = surface_deflection(elevator, [-1.0, -0.5, 0.0, 0.5, 1.0])  # type: ignore[arg-type]
    assert all(math.isfinite(v) for v in full)
    assert abs(full[0]) <= BINDS.stop_rad
    assert (full[0], full[-1]) == pytest.approx((-BINDS.stop_rad, BINDS.stop_rad))
    t = travel(elevator, speed_mps=25.0, density_kg_m3=1.2, section_chord_m=0.15)
    assert (t.up_rad, t.down_rad) == pytest.approx((BINDS.stop_rad, BINDS.stop_rad)), "desk and rates say the same"
    fittings = tuple(elevator if f.role is elevator.role else f for f in setup.fittings)
    words = [s.words for s in stopping(replace(c, controls=replace(setup, fittings=fittings)))]
    assert any("it binds" in w for w in words)


def test_trim_that_the_linkage_cannot_hold_is_said_and_not_called_centred():
    c = model()
    setup = c.control_setup
    short = Linkage(arm_m=0.004, horn_m=0.030, distance_m=0.06)
    fittings = tuple(replace(f, linkage=short) for f in setup.fittings)
    odd = replace(c, controls=replace(setup, fittings=fittings), elevator=replace(c.elevator, clicks=150))
    answer = controls_answer(odd)
    assert answer.surfaces == ()
    assert "turns of the clevis" in answer.trim_problem or "cannot reach" in answer.trim_problem


def test_what_the_desk_names_comes_from_the_core():
    """Ways of sticks and surfaces in words, trial cards, a device to start from: the page has no words of its own for them."""
    answer = controls_answer(model("low_wing"))
    ways = {w.axis: (w.first, w.second) for w in answer.ways}
    assert ways == {
        Axis.PITCH: ("nose up", "nose down"),
        Axis.ROLL: ("right wing down", "left wing down"),
        Axis.YAW: ("nose right", "nose left"),
    }
    assert {(f.role.value, f.up, f.down) for f in answer.fittings} >= {
        ("elevator", "up", "down"),
        ("rudder", "right", "left"),
    }
    assert {"F2", "F5", "F12"} <= set(answer.trial_cards)
    assert answer.starting_stabiliser == Stabiliser()
