"""Estimates: computed when a log or a setup changes, stored with what they were computed from, never by a reader."""

from __future__ import annotations

import uuid
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from sqlalchemy import Row
from sqlalchemy.orm import Session

from jinba.core.configuration import Configuration
from jinba.core.diagnose.causes import Cause, Evidence, cause_from
from jinba.core.diagnose.estimate import Estimate, estimate_of
from jinba.core.diagnose.pairs import PAIR
from jinba.core.diagnose.score import PredictionScore, scored
from jinba.core.diagnose.shown import Shown
from jinba.core.diagnose.sorties import belief_after, clicks_standing
from jinba.core.diagnose.tendencies import Tendency, tendency_from
from jinba.core.diagnose.update import METHOD_VERSION, Belief, prior_of
from jinba.core.frames import Axis
from jinba.core.observe.parameters import COUNT, PARAMETERS, P
from jinba.core.observe.situation import Trims, design_of
from jinba.core.said import Said, finding
from jinba.persistence.content import content_hash
from jinba.persistence.orm import (
    BehaviourRow,
    CauseRow,
    EstimateBiasRow,
    EstimateRow,
    EvidenceRow,
    ModelRow,
    PredictionRow,
    ScoreRow,
    SquawkRow,
)
from jinba.persistence.repositories import Estimates, Models, Sorties
from jinba.services.computing import Computation, computed
from jinba.services.log import SortieLog, sortie_logs
from jinba.services.setups import setup_of, setups_of

_NAMES = [PARAMETERS[p].key for p in P]


@dataclass(frozen=True, slots=True)
class Change:
    """What a recomputation moved: the static margin of a sortie under the method before and under this one. [% MAC]"""

    model: str
    sortie: int
    method_before: str
    margin_before: float | None
    method: str
    margin: float


def log_changed(session: Session, model: ModelRow, *, since: int) -> None:
    """Compute anew what a change of the log of a locked model touches: every landed sortie from number ``since`` on.

    The one place that is called when a sortie lands, a late entry or a correction arrives, or a choice is made.
    """
    model.log_version += 1
    logs = sortie_logs(session, model.id)
    said = _said(session, logs)
    due = [logs[: i + 1] for i, log in enumerate(logs) if log.number >= since]
    found = computed(session, model.id, [_estimation(past, said.get(past[-1].id, ())) for past in due])
    for past, estimate in zip(due, found, strict=True):
        _store(session, model, past, estimate)
    session.flush()
    setup_changed(session, model, logs=logs)


def _estimation(past: Sequence[SortieLog], said: tuple[Tendency, ...]) -> Computation:
    logged, looked_after = tuple(s.logged for s in past), past[-1].looked_after
    return Computation(
        ("estimate", _flown(past), said, looked_after),
        lambda: estimate_of(logged, said=said, looked_after=looked_after),
    )


def _flown(past: Iterable[SortieLog]) -> Hashable:
    return tuple((s.setup_hash, s.logged.records) for s in past)


def setup_changed(session: Session, model: ModelRow, *, logs: Sequence[SortieLog] | None = None) -> None:
    """Compute the belief of the present setup of a locked model unless it is there; nothing to do before a landing."""
    setup_hash = present_hash(session, model.id)
    last = logs[-1].id if logs else Sorties(session).last_landed(model.id)
    if last is None or _present_row(session, model, last, setup_hash) is not None:
        return
    belief = _of_equal_prior(session, model, last, setup_hash)
    logs = sortie_logs(session, model.id) if logs is None else logs
    if belief is None:
        setup, logged = setup_of(session, setup_hash), tuple(s.logged for s in logs)
        made_from = ("belief", setup_hash, _flown(logs))
        wanted = Computation(made_from, lambda: belief_after(logged, configuration=setup))
        (belief,) = computed(session, model.id, [wanted])
    row = _row(model, logs, setup_hash, belief, data_count=0)
    session.add(row)
    session.flush()
    _store_bias(session, row.id, belief)


def _of_equal_prior(session: Session, model: ModelRow, last: uuid.UUID, setup_hash: str) -> Belief | None:
    """Return the belief of another setup of the same log whose prior is the very same, None when there is none.

    A belief depends on the setup through its prior alone: sliding the pack changes where the model balances, not how well
    that is known, so that most edits on the bench need no new estimate.
    """
    rows = Estimates(session).of_log(last, method=METHOD_VERSION, log_version=model.log_version)
    wanted, *priors = _priors(session, model, [setup_hash, *(r.setup_hash for r in rows)])
    for row, prior in zip(rows, priors, strict=True):
        if np.array_equal(prior.mean, wanted.mean) and np.array_equal(prior.covariance, wanted.covariance):
            return _belief(row, Estimates(session).biases(row.id))
    return None


def _priors(session: Session, model: ModelRow, hashes: Sequence[str]) -> list[Belief]:
    setups = setups_of(session, hashes)
    return computed(
        session,
        model.id,
        [Computation(("prior", h), partial(lambda c: prior_of(design_of(c)), setups[h])) for h in hashes],
    )


def present_hash(session: Session, model_id: uuid.UUID) -> str:
    """Return the hash of the present setup of a model."""
    return Models(session).present_hash(model_id)


def _present_row(session: Session, model: ModelRow, last: uuid.UUID, setup_hash: str) -> EstimateRow | None:
    return Estimates(session).present(last, setup_hash, method=METHOD_VERSION, log_version=model.log_version)


def present_belief(session: Session, model: ModelRow, last: uuid.UUID | None, setup_hash: str) -> Belief | None:
    """Return the stored belief of the present setup, None before any landing."""
    row = None if last is None else _present_row(session, model, last, setup_hash)
    return None if row is None else _belief(row, Estimates(session).biases(row.id))


def missing(session: Session) -> list[uuid.UUID]:
    """Return the models of which something was not computed by the method of today."""
    found = []
    for model_id in Models(session).ids():
        sorties = Sorties(session).landed(model_id)
        stored = Estimates(session).of_sorties(s.id for s in sorties)
        if any(s.id not in stored or stored[s.id].method != METHOD_VERSION for s in sorties):
            found.append(model_id)
    return found


def recompute(session: Session, model_id: uuid.UUID) -> list[Change]:
    """Compute what of a model was not computed from its log by the method of today; what was stored before stays.

    Returns every landed sortie with what it was and what it is.
    """
    model = Models(session).lock(model_id)
    logs = sortie_logs(session, model_id)
    before = {i: (row, margin_of(session, row)) for i, row in Estimates(session).of_sorties(s.id for s in logs).items()}
    behind = [
        log.number
        for i, log in enumerate(logs)
        if log.id not in before
        or before[log.id][0].method != METHOD_VERSION
        or before[log.id][0].inputs_hash != _inputs_hash(logs[: i + 1], log.setup_hash)
    ]
    if behind:
        log_changed(session, model, since=min(behind))
    after = Estimates(session).of_sorties(s.id for s in logs)
    changes = []
    for log in logs:
        old = before.get(log.id)
        margin = margin_of(session, after[log.id])
        assert margin is not None
        changes.append(
            Change(
                model.name,
                log.number,
                "" if old is None else old[0].method,
                None if old is None else old[1],
                METHOD_VERSION,
                margin,
            )
        )
    return changes


def margin_of(session: Session, row: EstimateRow) -> float | None:
    """Return the static margin a sortie landed with, as an estimate has it. [% MAC]"""
    behaviours = Estimates(session).behaviours((row.id,)).get((row.id, "landed"), [])
    return next((b.value for b in behaviours if b.key == "static_margin"), None)


def _said(session: Session, logs: Iterable[SortieLog]) -> dict[uuid.UUID, tuple[Tendency, ...]]:
    return {i: rails(rows) for i, rows in Sorties(session).predictions(s.id for s in logs).items()}


def rails(rows: Iterable[Row[Any] | PredictionRow]) -> tuple[Tendency, ...]:
    """Return stored behaviours in today's words; one that nobody knows any more is left out."""
    found = (
        tendency_from(
            b.key,
            value=b.value,
            sigma=b.sigma,
            band=(b.low, b.high),
            rail=(b.rail_low, b.rail_high),
            shown=None if (shown := getattr(b, "shown", None)) is None else Shown(shown),
        )
        for b in rows
    )
    return tuple(t for t in found if t is not None)


def numbers_of(t: Tendency, position: int) -> dict[str, float | int | str]:
    """Return what is stored of a behaviour: its numbers, not its words."""
    numbers = ("value", "sigma", "low", "high", "rail_low", "rail_high")
    return {"key": t.key, "position": position, **{k: getattr(t, k) for k in numbers}}


def _inputs_hash(logs: Sequence[SortieLog], setup_hash: str) -> str:
    """Return what stands for everything an estimate is computed from besides its method."""
    sorties = [[s.setup_hash, list(s.counted_ids)] for s in logs]
    return content_hash({"setup": setup_hash, "sorties": sorties, "looked_after": list(logs[-1].looked_ids)})


def _row(
    model: ModelRow, logs: Sequence[SortieLog], setup_hash: str, belief: Belief, *, data_count: int
) -> EstimateRow:
    return EstimateRow(
        id=uuid.uuid4(),
        model_id=model.id,
        sortie_id=logs[-1].id,
        setup_hash=setup_hash,
        method=METHOD_VERSION,
        log_version=model.log_version,
        inputs_hash=_inputs_hash(logs, setup_hash),
        data_count=data_count,
        parameters=_NAMES,
        mean=[float(v) for v in belief.mean],
        covariance=[float(v) for v in belief.covariance.ravel()],
        misread=belief.misread,
        errors=None if belief.joint is None else list(belief.bias),
        joint=None if belief.joint is None else [float(v) for v in belief.joint.ravel()],
    )


def _store_bias(session: Session, estimate_id: uuid.UUID, belief: Belief) -> None:
    session.add_all(EstimateBiasRow(estimate_id=estimate_id, measure=k, value=v) for k, v in belief.bias.items())


def _store(session: Session, model: ModelRow, logs: Sequence[SortieLog], found: Estimate) -> None:
    last = logs[-1]
    row = _row(model, logs, last.setup_hash, found.belief, data_count=found.data_count)
    row.together = found.together
    session.add(row)
    session.flush()
    _store_bias(session, row.id, found.belief)
    for moment, behaviours in (("before", found.before), ("flown", found.flown), ("landed", found.after)):
        session.add_all(
            BehaviourRow(estimate_id=row.id, moment=moment, shown=t.shown.value, **numbers_of(t, i))
            for i, t in enumerate(behaviours)
        )
    session.add_all(
        ScoreRow(estimate_id=row.id, key=s.key, position=i, sigmas=s.sigmas, within_one_sigma=s.within_one_sigma)
        for i, s in enumerate(found.score)
    )
    for i, cause in enumerate(found.causes):
        session.add(_cause_row(row.id, i, cause))
    session.flush()
    for cause in found.causes:
        session.add_all(
            EvidenceRow(
                estimate_id=row.id, cause_key=cause.key, position=i, card_id=e.card_id, words=e.words, pull=e.pull
            )
            for i, e in enumerate(cause.evidence)
        )
    for squawk in found.squawks:
        session.add(
            SquawkRow(
                id=uuid.uuid4(),
                model_id=model.id,
                sortie_id=last.id,
                estimate_id=row.id,
                code=squawk.code,
                words=squawk.words,
            )
        )
    clicks = clicks_in_radio(last.logged.configuration, found.landed)
    Sorties(session).set_trims(last.id, "landing", found.landed, clicks)


def clicks_in_radio(setup: Configuration, rests: Trims) -> dict[Axis, int]:
    """Return the trim clicks that stand in the radio when the surfaces rest there, in the signs of ``core.frames``."""
    return {axis: clicks_standing(setup, rests, axis) for axis in Axis}


def store_release(session: Session, sortie_id: uuid.UUID, setup: Configuration, rests: Trims) -> None:
    """Write where the surfaces rest when a sortie begins."""
    Sorties(session).set_trims(sortie_id, "release", rests, clicks_in_radio(setup, rests))


def _cause_row(estimate_id: uuid.UUID, position: int, c: Cause) -> CauseRow:
    return CauseRow(
        estimate_id=estimate_id,
        key=c.key,
        position=position,
        positive=c.positive,
        value=c.value,
        sigma=c.sigma,
        prior_sigma=c.prior_sigma,
        strength=c.strength,
        separated=c.separated,
        chance=c.chance,
        twin=c.twin,
    )


def _belief(row: EstimateRow, bias: dict[str, float]) -> Belief:
    # By name, so that a parameter that is added later does not shift the others.
    mean, covariance = np.zeros(COUNT), np.zeros((COUNT, COUNT))
    assert row.mean is not None
    assert row.covariance is not None
    places = [_NAMES.index(name) for name in row.parameters]
    mean[places] = row.mean
    covariance[np.ix_(places, places)] = np.asarray(row.covariance).reshape(len(places), len(places))
    joint = None
    if row.joint is not None and row.errors is not None and row.parameters == _NAMES:
        bias, size = {k: bias[k] for k in row.errors}, COUNT + len(row.errors)
        joint = np.asarray(row.joint).reshape(size, size)
    return Belief(mean, covariance, bias, np.zeros((0, COUNT)), row.misread or 0.0, joint)


@dataclass(frozen=True, slots=True)
class Stored:
    """A stored estimate in today's words; ``after`` as it landed, ``together``: chance that all of it lies in its bands at once."""

    method: str
    before: tuple[Tendency, ...]
    flown: tuple[Tendency, ...]
    after: tuple[Tendency, ...]
    score: tuple[PredictionScore, ...]
    data_count: int
    together: float | None = None


def stored_estimates(session: Session, sortie_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, Stored]:
    """Return the newest estimate of each sortie, in a fixed number of queries whatever their number."""
    estimates = Estimates(session)
    rows = estimates.of_sorties(sortie_ids)
    return read_stored(session, rows)


def read_stored(session: Session, rows: dict[uuid.UUID, EstimateRow]) -> dict[uuid.UUID, Stored]:
    """Return the estimates of rows, by the same keys."""
    estimates, ids = Estimates(session), [r.id for r in rows.values()]
    behaviours, scores = estimates.behaviours(ids), estimates.scores(ids)
    found = {}
    for key, row in rows.items():
        before, flown, after = (rails(behaviours.get((row.id, m), [])) for m in ("before", "flown", "landed"))
        flown_by_key = {t.key: t for t in flown or after}
        of_row = scores.get(row.id, {})
        score = tuple(
            scored(t, flown_by_key[t.key], of_row[t.key]) for t in before if t.key in of_row and t.key in flown_by_key
        )
        found[key] = Stored(row.method, before, flown, after, score, row.data_count, row.together)
    return found


def stored_causes(session: Session, estimate_id: uuid.UUID) -> tuple[Cause, ...]:
    """Return the causes of a stored estimate, strongest first."""
    found = (
        cause_from(
            c.key,
            positive=c.positive,
            value=c.value,
            sigma=c.sigma,
            prior_sigma=c.prior_sigma,
            strength=c.strength,
            separated=c.separated,
            evidence=tuple(Evidence(e.card_id, e.words, e.pull) for e in evidence),
            chance=c.chance,
            twin=c.twin,
        )
        for c, evidence in Estimates(session).causes(estimate_id)
    )
    return tuple(c for c in found if c is not None)


def stored_squawks(session: Session, estimate_id: uuid.UUID) -> tuple[Said, ...]:
    """Return the squawks computed with an estimate."""
    return tuple(finding(s.code, s.words, stops=s.code != PAIR) for s in Estimates(session).squawks(estimate_id))
