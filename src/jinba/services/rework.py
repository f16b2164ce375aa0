"""Rework: the composed correction, its acceptance as the next configuration, and the proof of each action."""

from __future__ import annotations

import uuid
from dataclasses import replace
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action, Expected, Reads
from jinba.core.correct.compose import compose
from jinba.core.correct.composed import Choices, Correction
from jinba.core.correct.proofs import as_read, proves, refusal, said
from jinba.core.correct.ways import WayThere, ways
from jinba.core.diagnose.tendencies import tendencies
from jinba.core.errors import RefusedError, check_text
from jinba.core.history.model import History, LastFlight, WorkOrder
from jinba.core.observe.situation import resting_trims
from jinba.core.plan.first import before_a_change
from jinba.core.said import Said
from jinba.formats.codec import to_json
from jinba.persistence.once import once
from jinba.persistence.orm import ProofRow, WorkOrderActionRow, WorkOrderRow
from jinba.persistence.repositories import Models, Orders
from jinba.services.bench import accept_configuration, save_setup
from jinba.services.computing import Computation, computed
from jinba.services.history import action_of, history
from jinba.services.plan import next_programme, prospect_of


def propose(known: History, choices: Choices | None = None) -> Correction:
    """Return the correction for what the landed sorties say. Raises: RefusedError before the first landing."""
    last, belief = _flown(known), known.belief
    if belief is None:
        raise RefusedError("The last sortie is not computed yet. Stop the program and run ./jinba recompute.")
    return compose(flown_setup(known), belief, last.landed, known.seen, choices, disagreeing=last.disagreeing)


def other_ways(known: History, choices: Choices | None = None) -> tuple[WayThere, ...]:
    """Return the ways to what is composed side by side, leaving it among them. Raises: as :func:`propose`."""
    correction = propose(known, choices)
    belief = known.belief
    assert belief is not None
    return ways(flown_setup(known), belief, _flown(known).landed, correction)


def better_first(known: History) -> tuple[Said, ...]:
    """Return what is better done before anything is changed, nothing once it is decided: a reading on the bench, a second pack."""
    if known.decided is not None or known.belief is None:
        return ()
    flight = next_programme(known)[0].flight
    return before_a_change(prospect_of(known, flight), flight)


def _flown(known: History) -> LastFlight:
    if known.last_flight is None:
        raise RefusedError("Nothing has been flown yet: there is nothing to correct. Plan the maiden first.")
    return known.last_flight


def flown_setup(known: History) -> Configuration:
    """Return the setup the correction starts from.

    That of the last landed sortie; or the present one when it was changed on the bench since, without a work order.
    """
    last = _flown(known)
    return known.setup if known.changed_since_landing and known.decided is None else last.setup


def with_decision(known: History, correction: Correction) -> Correction:
    """Return the correction as it was decided: the accepted configuration and what it is predicted to do."""
    belief = known.belief
    if known.decided is None or belief is None:
        return correction
    predicted = tendencies(known.setup, belief, resting_trims(known.setup))
    return replace(correction, configuration=known.setup, predicted=predicted)


def accept(session: Session, model_id: uuid.UUID, *, order_id: uuid.UUID, choices: Choices) -> WorkOrder:
    """Accept the proposed correction: makes the next configuration and the work order.

    The same id and choices twice is one order. Raises: RefusedError; ConflictError when the id names something else.
    """
    model = Models(session).lock(model_id)
    request = {"model": str(model_id), "choices": to_json(choices)}
    existing, asked = once(session, WorkOrderRow, order_id, request)
    if existing is not None:
        return _order(session, model_id)
    known = history(session, model_id)
    if model.read_only:
        raise RefusedError(f"{model.name} is read-only.")
    last = _flown(known).sortie
    if known.decided is not None:
        raise RefusedError(
            f"The rework after sortie {last.number} is already decided. Fly again, then decide the next."
        )
    made_from = ("correction", model.setup_version, model.log_version, choices)
    (correction,) = computed(session, model_id, [Computation(made_from, lambda: propose(known, choices))])
    row = accept_configuration(
        session,
        model,
        number=known.configuration.number + 1,
        setup=correction.configuration,
        words=f"rework after sortie {last.number}",
        change_words=correction.difference.words or ("nothing changed",),
        opened=correction.difference.stale,
    )
    order = WorkOrderRow(
        id=order_id,
        order=Models(session).draw_order(),
        model_id=model_id,
        after_sortie_id=last.id,
        to_configuration_id=row.id,
        request_hash=asked,
    )
    session.add(order)
    session.flush()
    for position, action in enumerate(correction.actions):
        session.add(WorkOrderActionRow(work_order_id=order_id, position=position, **to_json(action)))
    session.flush()
    return _order(session, model_id)


def _order(session: Session, model_id: uuid.UUID) -> WorkOrder:
    order = history(session, model_id).order
    assert order is not None
    return order


def prove(
    session: Session,
    order_id: uuid.UUID,
    *,
    index: int,
    reading: str = "",
    number: float | None = None,
    differently: bool = False,
) -> WorkOrder:
    """Tick one action of a work order with the reading that proves it; an earlier reading stays in the log.

    ``number``: what was read, signed, in the unit of what is expected; a right one becomes the bench's own reading of the balance.
    ``differently``: that is how it was done, and how it is computed from now on. Raises: RefusedError for a reading that is missing
    or proves nothing.
    """
    row, action = _standing_action(session, order_id, index)
    expected = action.expected
    words = check_text("proof", reading.strip() or "done", longest=200)
    if expected is not None:
        if number is None:
            raise RefusedError(f"{action.proof} Enter what was read.", index=index)
        right = proves(expected, number)
        if not right and not differently:
            raise refusal(expected, number)
        words = said(expected, number) if right else f"done differently: {said(expected, number)}"
        if not right or expected.reads is Reads.BALANCE:
            _as_read(session, row, expected, number, words)
    orders = Orders(session)
    newest = [p for p in orders.proofs(order_id) if p.position == index][-1:]
    if not newest or newest[0].taken_back or (newest[0].reading, newest[0].number) != (words, number):
        _log_proof(session, order_id, index, reading=words, number=number)
    return _order(session, row.model_id)


def take_back_proof(session: Session, order_id: uuid.UUID, *, index: int) -> WorkOrder:
    """Open an action again that was ticked; what was read stays in the log. Taking back twice is taking back once."""
    row, _ = _standing_action(session, order_id, index)
    newest = [p for p in Orders(session).proofs(order_id) if p.position == index][-1:]
    if newest and not newest[0].taken_back:
        _log_proof(session, order_id, index, reading=newest[0].reading, taken_back=True)
    return _order(session, row.model_id)


def take_back(session: Session, order_id: uuid.UUID) -> History:
    """Take a work order back that nobody has flown on: the bench is again as it landed. Taking back twice is taking back once.

    Raises: RefusedError once a sortie was planned on it.
    """
    row = Orders(session).get(order_id)
    model = Models(session).lock(row.model_id)
    # Read before the lock was ours, it is what it was before a rival took it back.
    session.refresh(row)
    if row.taken_back_at is not None:
        return history(session, row.model_id)
    known = history(session, row.model_id)
    if known.order is None or known.order.id != order_id or known.flown:
        raise RefusedError("This work order was flown on, or another one came after it: it stays in the ledger.")
    row.taken_back_at = datetime.now(UTC)
    session.flush()
    return save_setup(
        session,
        row.model_id,
        base_version=model.setup_version,
        setup=_flown(known).state,
        words="work order taken back: as it landed",
    )


def _standing_action(session: Session, order_id: uuid.UUID, index: int) -> tuple[WorkOrderRow, Action]:
    row = Orders(session).get(order_id)
    Models(session).lock(row.model_id)
    session.refresh(row)
    if row.taken_back_at is not None:
        raise RefusedError("This work order was taken back: nothing of it is to be done.")
    actions = Orders(session).actions(order_id)
    if not 0 <= index < len(actions):
        raise RefusedError(f"This work order has {len(actions)} actions.", index=index)
    return row, action_of(actions[index])


def _as_read(session: Session, row: WorkOrderRow, expected: Expected, number: float, words: str) -> None:
    """Save the setup as it really stands, where the order is what the model stands at now."""
    known = history(session, row.model_id)
    if known.order is None or known.order.id != row.id or known.flown:
        return
    setup = as_read(known.setup, expected, number)
    version = Models(session).get(row.model_id).setup_version
    save_setup(session, row.model_id, base_version=version, setup=setup, words=words[:300])


def _log_proof(
    session: Session,
    order_id: uuid.UUID,
    index: int,
    *,
    reading: str,
    number: float | None = None,
    taken_back: bool = False,
) -> None:
    session.add(
        ProofRow(
            order=Models(session).draw_order(),
            work_order_id=order_id,
            position=index,
            reading=reading,
            number=number,
            taken_back=taken_back,
        )
    )
    session.flush()
