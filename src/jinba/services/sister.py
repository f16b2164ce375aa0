"""A sister model: the airframe copied, with what the flights of the first one have taught as its starting point."""

from __future__ import annotations

import uuid
from dataclasses import replace

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.controls.surface_control import Control
from jinba.core.mass.items import ItemKind
from jinba.persistence.orm import ModelRow
from jinba.services.bench import add_model, history
from jinba.services.debrief import debrief_of
from jinba.services.history import History

_CLEAR_STRENGTH = 1.0
"""A finding of at least its prior sigma is a lesson; less is within what the next build may differ anyway."""


def make_sister(session: Session, model_id: uuid.UUID, *, sister_id: uuid.UUID, name: str) -> ModelRow:
    """Make a model with the airframe of another, to be weighed and balanced anew. The same id twice is one model.

    What belongs to the one airframe (jig reading, trims in the radio, ballast) is left out; where the surfaces were found
    to rest stays, and the lessons of its flights are written into the story. Raises: NotFoundError.
    """
    known = history(session, model_id)
    number = known.configuration_row.number
    return add_model(
        session,
        model_id=sister_id,
        name=name,
        setup=_as_built_again(known.setup),
        words=f"sister of {known.model.name}, configuration {number}",
        story=f"Sister of {known.model.name}, from its configuration {number}. {lessons(known)}"[:2000],
    )


def _as_built_again(setup: Configuration) -> Configuration:
    kept = tuple(i for i in setup.items if i.kind is not ItemKind.BALLAST)
    return replace(
        setup,
        items=kept,
        jig=None,
        elevator=_untrimmed(setup.elevator),
        aileron=_untrimmed(setup.aileron),
        rudder=_untrimmed(setup.rudder),
    )


def _untrimmed(control: Control) -> Control:
    # Where it was found to rest is set at the clevis of the new one, with nothing in the radio.
    return replace(control, mechanical_rad=control.mechanical_rad + control.sub_trim_rad, sub_trim_rad=0.0, clicks=0)


def lessons(known: History) -> str:
    """Return what the flights of a model have taught, in sentences for the builder of the next one."""
    if not known.landed:
        return "Nothing of it has flown yet: there are no lessons."
    last = debrief_of(known, known.landed[-1])
    balance = next(t for t in last.after if t.key == "static_margin")
    clear = [c for c in last.causes if c.strength >= _CLEAR_STRENGTH]
    found = "; ".join(f"{c.verdict} ({abs(c.value):.2g} \u00b1 {c.sigma:.1g} {c.unit})" for c in clear)
    flown = f"After {len(known.landed)} sorties its static margin was {balance.value:.1f} \u00b1 {balance.sigma:.1f} %"
    return f"{flown}. {'Found: ' + found + '.' if clear else 'It flew as the bench had said.'}"
