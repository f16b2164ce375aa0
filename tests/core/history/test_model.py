"""A history answers what the places ask: what is open, what is decided, what stands in the radio."""

from __future__ import annotations

import uuid
from dataclasses import replace

from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, ActionKind
from jinba.core.frames import Axis
from jinba.core.history.model import (
    ConfigurationLine,
    History,
    LastFlight,
    Model,
    SortieLine,
    SortieStatus,
    WorkOrder,
)
from jinba.core.observe.situation import resting_trims
from tests.builders import model

SETUP = model()
ACTION = Action(ActionKind.ELEVATOR, 1.0, "half turns", "turn it", "why", "read it")


def sortie(number: int, status: SortieStatus, configuration: int = 1) -> SortieLine:
    return SortieLine(uuid.uuid4(), number, status, False, False, ("F1",), configuration, None)


def flight(clicks: int, configuration: int = 1) -> LastFlight:
    """Return a landing with so many nose-down clicks in the radio."""
    rests = resting_trims(SETUP).moved(Axis.PITCH, SETUP.elevator.resting_rad + clicks * SETUP.elevator.rad_per_click)
    return LastFlight(sortie(1, SortieStatus.LANDED, configuration), SETUP, rests, (), ())


def history(**parts) -> History:
    lines = tuple(ConfigurationLine(uuid.uuid4(), n, (), ()) for n in (1, parts.pop("configuration", 1)))
    plain = {
        "model": Model(uuid.uuid4(), "Fell", "", False),
        "configurations": lines[: 1 if lines[0].number == lines[1].number else 2],
        "version": 3,
        "log_order": 9,
        "can_undo": False,
        "can_redo": False,
        "setup": SETUP,
        "sorties": (),
        "standings": {},
        "last_flight": None,
        "belief": None,
        "order": None,
    }
    return History(**{**plain, **parts})


def order(after: int, *proofs: str | None) -> WorkOrder:
    return WorkOrder(uuid.uuid4(), after, 2, (ACTION,) * len(proofs), proofs)


def test_the_open_sortie_is_the_one_that_is_planned_or_flying():
    landed, off = sortie(1, SortieStatus.LANDED), sortie(2, SortieStatus.CALLED_OFF)
    assert history(sorties=(landed, off)).open_sortie is None
    flying = sortie(2, SortieStatus.FLYING)
    assert history(sorties=(landed, off, flying)).open_sortie is flying
    assert history(sorties=(landed, off, flying)).landed == (landed,)


def test_a_configuration_that_a_sortie_belongs_to_is_not_edited_in_place():
    assert not history().flown
    assert history(sorties=(sortie(1, SortieStatus.PLANNED),)).flown
    assert not history(sorties=(sortie(1, SortieStatus.LANDED),), configuration=2).flown


def test_the_rework_is_decided_once_after_each_landing():
    assert history(last_flight=flight(0)).decided is None
    assert history(last_flight=flight(0), order=order(1, None)).decided is not None
    late = replace(flight(0), sortie=sortie(2, SortieStatus.LANDED))
    assert history(last_flight=late, order=order(1, "done")).decided is None, "that was the sortie before"


def test_work_is_open_until_every_action_is_proved():
    assert history(order=order(1, "read", None)).open_work is not None
    assert order(1, "read", None).open == 1
    assert history(order=order(1, "read", "read")).open_work is None


def test_the_state_is_the_setup_with_the_clicks_it_landed_with_until_it_is_changed():
    assert history().state == SETUP
    here = history(last_flight=flight(4))
    assert (here.state.elevator.clicks, here.state.aileron.clicks) == (4, 0)
    assert history(last_flight=flight(4), configuration=2).state == SETUP


def test_an_edit_after_a_flight_keeps_the_clicks_of_every_axis_it_does_not_touch():
    here = history(last_flight=flight(4))
    lighter: Configuration = replace(SETUP, pack_minutes=5.0)
    assert here.with_radio(lighter).elevator.clicks == 4
    set_anew = replace(SETUP, elevator=replace(SETUP.elevator, mechanical_rad=0.02))
    assert here.with_radio(set_anew).elevator.clicks == 0, "who sets the elevator says what the radio holds"
    assert history(last_flight=flight(4), configuration=2).with_radio(lighter).elevator.clicks == 0
