"""Switch maps, fail-safe, copied memory, channels: planted faults are found, and an edit opens a proof again."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jinba.core.controls.radio import ChannelUse, FailSafe, LossAction, RadioSheet, Timer, radio_findings, reopened
from jinba.core.controls.switches import FlightMode, Job, Switch, switch_conflicts
from jinba.core.errors import JinbaError, OutOfRangeError

CUT = Switch("A", "left", 1, jobs=(Job.MOTOR_CUT,))
ORDER = (FlightMode.PASS_THROUGH, FlightMode.SELF_LEVEL, FlightMode.RETURN)
MODE = Switch("C", "right", 1, positions=3, jobs=(Job.MODE,), modes=ORDER)
GOOD = RadioSheet(
    channels=(ChannelUse(3, "throttle", 1000.0),),
    switches=(CUT, MODE),
    fail_safe=(FailSafe(3, "throttle", LossAction.POSITION, 1000.0, "2026-05-02"),),
    timers=(Timer("flight", 6.0),),
)
SURFACES = ((1, "left aileron"), (2, "elevator"))


def found(radio: RadioSheet, *, controller: bool = False, minutes: float = 8.0) -> dict[str, bool]:
    rows = radio_findings(radio, SURFACES, has_motor=True, pack_minutes=minutes, has_controller=controller)
    return {f.code: f.stops for f in rows}


def test_a_sound_sheet_has_nothing_to_find():
    assert found(GOOD) == {}


@pytest.mark.parametrize(
    ("switches", "code", "about"),
    [
        ((replace(CUT, jobs=(Job.MOTOR_CUT, Job.FLAPS)), MODE), "two_jobs", ("A",)),
        ((CUT, replace(MODE, side="left", place=2)), "cut_beside_mode", ("A", "C")),
        ((CUT, MODE, Switch("D", "right", 3, jobs=(Job.LAUNCH,))), "launch_blocks_arming", ("D",)),
        ((replace(CUT, jobs=(Job.MOTOR_CUT, Job.LAUNCH)), MODE), "launch_blocks_arming", ("A",)),
        ((CUT, replace(MODE, modes=(ORDER[1], ORDER[0], ORDER[2]))), "mode_order", ("C",)),
        ((CUT, replace(MODE, modes=(ORDER[0], ORDER[0], ORDER[2]))), "mode_twice", ("C",)),
        ((CUT, MODE, Switch("E", "left", 5, jobs=(Job.MOTOR_CUT,))), "job_twice", ("A", "E")),
        ((MODE,), "no_motor_cut", ()),
    ],
)
def test_planted_switch_conflicts_are_found_by_their_switches(switches, code, about):
    rows = [f for f in switch_conflicts(switches, has_motor=True) if f.code == code]
    assert [f.about for f in rows] == [about]


def test_what_is_harmless_is_left_alone():
    apart = (CUT, replace(MODE, side="left", place=3))
    spring = Switch("D", "right", 3, jobs=(Job.LAUNCH,), momentary=True)
    backward = replace(MODE, modes=tuple(reversed(ORDER)))
    assert switch_conflicts(apart, has_motor=True) == ()
    assert switch_conflicts((CUT, MODE, spring), has_motor=True) == ()
    assert switch_conflicts((CUT, backward), has_motor=True) == ()
    assert switch_conflicts((MODE,), has_motor=False) == ()


def test_a_name_a_place_or_a_channel_used_twice_is_refused():
    with pytest.raises(JinbaError, match="switch 'a' is used twice"):
        RadioSheet(switches=(CUT, replace(MODE, name="a ")))
    with pytest.raises(JinbaError, match="place on the radio"):
        RadioSheet(switches=(CUT, replace(MODE, side="left")))
    with pytest.raises(JinbaError, match="say the mode of each"):
        replace(MODE, modes=ORDER[:2])
    with pytest.raises(OutOfRangeError, match="stick mode"):
        RadioSheet(mode=5)
    assert found(replace(GOOD, channels=(ChannelUse(2, "gear"),)))["channel_twice"]


def test_the_fail_safe_must_stop_the_motor_and_be_proved():
    hold = replace(GOOD, fail_safe=(replace(GOOD.fail_safe[0], action=LossAction.HOLD),))
    assert found(hold)["fail_safe_hold"]
    assert found(replace(GOOD, fail_safe=()))["fail_safe_missing"]
    assert found(replace(GOOD, fail_safe=(replace(GOOD.fail_safe[0], proved_on=""),)))["fail_safe_unproved"]
    with pytest.raises(OutOfRangeError, match="fail-safe pulse"):
        replace(GOOD.fail_safe[0], pulse_us=2500.0)


def test_a_copied_memory_a_long_timer_and_a_shifted_neutral_are_found():
    assert found(replace(GOOD, copied_from="Puffin"))["copied_memory"]
    assert found(replace(GOOD, copied_from="Puffin", copy_checked=True)) == {}
    assert found(GOOD, minutes=5.0) == {"timer_long": False}
    # Common practice, no source: 1450 microseconds is read as a standing command.
    shifted = replace(GOOD, channels=(*GOOD.channels, ChannelUse(6, "gear", 1450.0)))
    assert "neutral_pulse" in found(shifted, controller=True)
    assert "neutral_pulse" not in found(shifted)
    assert "neutral_pulse" not in found(GOOD, controller=True), "1500 is what a controller wants"


def test_any_edit_of_the_fail_safe_opens_its_proof_again():
    other = FailSafe(1, "aileron", LossAction.HOLD, 1500.0, "2026-05-02")
    before = replace(GOOD, fail_safe=(*GOOD.fail_safe, other))

    def proofs(after: RadioSheet) -> dict[int, str]:
        return {f.channel: f.proved_on for f in reopened(before, after).fail_safe}

    assert proofs(before) == {3: "2026-05-02", 1: "2026-05-02"}
    edited = replace(before, fail_safe=(replace(GOOD.fail_safe[0], pulse_us=1100.0), other))
    assert proofs(edited) == {3: "", 1: "2026-05-02"}
    assert proofs(replace(before, fail_safe=before.fail_safe[:1])) == {3: ""}, "a channel taken away: another table"
    moved = replace(before, channels=(ChannelUse(7, "throttle", 1000.0),))
    assert set(proofs(moved).values()) == {""}
    opened = replace(before, fail_safe=(replace(GOOD.fail_safe[0], proved_on=""), other))
    proved = reopened(opened, before)
    assert proved.fail_safe == before.fail_safe, "writing a proof down does not open it"
    assert proofs(replace(before, timers=())) == {3: "2026-05-02", 1: "2026-05-02"}
