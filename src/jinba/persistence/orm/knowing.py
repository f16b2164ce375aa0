"""Tables of what is known: each sortie's estimate, computed once when its inputs change and read by everyone."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import (
    ARRAY,
    CheckConstraint,
    Double,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Text,
)
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, Logged, RailNumbers, arrived, drawn


class EstimateRow(Base):
    """The belief after a sortie for a setup. Computed from: the log as of ``log_version``, and what ``inputs_hash`` stands for.

    ``mean`` and ``covariance`` (row by row) in the order of ``parameters``; null where an earlier version kept only what it
    showed. ``misread``: the chance that the balance was read wrongly, null from versions that knew none. ``joint`` (row by row): covariance
    of the parameters and then the ``errors`` by name, null from versions that kept none. ``together``: the chance that all behaviours lie in their bands at once as
    it landed, null where it was not asked. A newer row of the same sortie and setup takes
    its place; none is ever changed.
    """

    __tablename__ = "estimate"
    __table_args__ = (
        CheckConstraint(
            "cardinality(mean) = cardinality(parameters) AND cardinality(covariance) = cardinality(parameters) ^ 2",
            name="shape",
        ),
        CheckConstraint("data_count >= 0", name="data"),
        CheckConstraint("misread >= 0 AND misread <= 1", name="misread"),
        CheckConstraint("together >= 0 AND together <= 1", name="together"),
        CheckConstraint(
            "cardinality(joint) = (cardinality(parameters) + cardinality(errors)) ^ 2 AND (joint IS NULL) = (errors IS NULL)",
            name="joint",
        ),
        Index("ix_estimate_newest", "sortie_id", "setup_hash", "log_order"),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    order: Mapped[int] = drawn()
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"), index=True)
    sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"))
    setup_hash: Mapped[str] = mapped_column(ForeignKey("setup.hash"), index=True)
    method: Mapped[str]
    log_version: Mapped[int]
    inputs_hash: Mapped[str]
    data_count: Mapped[int]
    parameters: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    mean: Mapped[list[float] | None] = mapped_column(ARRAY(Double))
    covariance: Mapped[list[float] | None] = mapped_column(ARRAY(Double))
    misread: Mapped[float | None] = mapped_column(Double)
    errors: Mapped[list[str] | None] = mapped_column(ARRAY(Text))
    joint: Mapped[list[float] | None] = mapped_column(ARRAY(Double))
    together: Mapped[float | None] = mapped_column(Double)
    created_at: Mapped[datetime] = arrived()


class EstimateBiasRow(Base):
    """The persistent error of one kind of measure, in the unit of the measure."""

    __tablename__ = "estimate_bias"
    estimate_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("estimate.id", ondelete="CASCADE"), primary_key=True)
    measure: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[float]


class BehaviourRow(RailNumbers, Base):
    """A behaviour as it was found: before its trim clicks (``flown``) or as it landed; ``before``: as it had been said.

    ``shown``: how it is known; NULL for what was computed before that was asked.
    """

    __tablename__ = "behaviour"
    __table_args__ = (CheckConstraint("moment IN ('before', 'flown', 'landed')", name="moment"),)
    estimate_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("estimate.id", ondelete="CASCADE"), primary_key=True)
    moment: Mapped[str] = mapped_column(primary_key=True)
    shown: Mapped[str | None]


class ScoreRow(Base):
    """A prediction against what the flight showed: the distance in sigmas, and whether it lay within one."""

    __tablename__ = "score"
    estimate_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("estimate.id", ondelete="CASCADE"), primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    position: Mapped[int]
    sigmas: Mapped[float]
    within_one_sigma: Mapped[bool]


class CauseRow(Base):
    """A cause with its value and sigma before and after, in the unit of its parameter; ``positive``: which way; ``chance``: that it is a
    fault and the largest, null from versions that did not say; ``twin``: what it is not told apart from, empty where nothing is."""

    __tablename__ = "cause"
    estimate_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("estimate.id", ondelete="CASCADE"), primary_key=True)
    key: Mapped[str] = mapped_column(primary_key=True)
    position: Mapped[int]
    positive: Mapped[bool]
    value: Mapped[float]
    sigma: Mapped[float]
    prior_sigma: Mapped[float]
    strength: Mapped[float]
    separated: Mapped[bool]
    chance: Mapped[float | None] = mapped_column(Double)
    twin: Mapped[str] = mapped_column(server_default="")


class EvidenceRow(Base):
    """One logged measure and how it bears on a cause."""

    __tablename__ = "evidence"
    __table_args__ = (
        ForeignKeyConstraint(
            ["estimate_id", "cause_key"],
            ["cause.estimate_id", "cause.key"],
            name="fk_evidence_estimate_id_cause",
            ondelete="CASCADE",
        ),
    )
    estimate_id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    cause_key: Mapped[str] = mapped_column(primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    card_id: Mapped[str]
    words: Mapped[str]
    pull: Mapped[float]


class SquawkRow(Logged, Base):
    """Something to be looked at before the next flight: computed with an estimate, or said by a pilot (no estimate)."""

    __tablename__ = "squawk"
    estimate_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("estimate.id", ondelete="CASCADE"), index=True)
    code: Mapped[str]
    words: Mapped[str]
    raised_at: Mapped[datetime] = arrived()
