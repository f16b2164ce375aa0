"""Tables of the work: orders, their actions, the readings that prove them; notes, incidents and attachments."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, ForeignKeyConstraint
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, Logged, arrived, drawn


class WorkOrderRow(Base):
    """A rework decided after a sortie, and the configuration it leads to."""

    __tablename__ = "work_order"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    order: Mapped[int] = drawn()
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"), index=True)
    after_sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"), unique=True)
    to_configuration_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("configuration.id", ondelete="CASCADE"), index=True
    )
    request_hash: Mapped[str | None]
    created_at: Mapped[datetime] = arrived()


class WorkOrderActionRow(Base):
    """One change of a work order; ``amount`` in ``unit``, never signed, the directions in its words."""

    __tablename__ = "work_order_action"
    __table_args__ = (CheckConstraint("amount >= 0", name="unsigned"),)
    work_order_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("work_order.id", ondelete="CASCADE"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str]
    amount: Mapped[float]
    unit: Mapped[str]
    words: Mapped[str]
    why: Mapped[str]
    proof: Mapped[str]
    surface_words: Mapped[str] = mapped_column(default="")
    thumb: Mapped[str] = mapped_column(default="")


class ProofRow(Base):
    """A reading that proves an action was done; the newest of an action counts, the earlier ones stay."""

    __tablename__ = "proof"
    __table_args__ = (
        ForeignKeyConstraint(
            ["work_order_id", "position"],
            ["work_order_action.work_order_id", "work_order_action.position"],
            name="fk_proof_work_order_id_work_order_action",
            ondelete="CASCADE",
        ),
    )
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    order: Mapped[int] = drawn()
    work_order_id: Mapped[uuid.UUID] = mapped_column(index=True)
    position: Mapped[int]
    reading: Mapped[str]
    proved_by: Mapped[str] = mapped_column(default="")
    proved_at: Mapped[datetime] = arrived()


class NoteRow(Logged, Base):
    """A remark about a model, a sortie or a record, beside the note a record carries itself."""

    __tablename__ = "note"
    record_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("record.id", ondelete="CASCADE"), index=True)
    words: Mapped[str]
    noted_by: Mapped[str] = mapped_column(default="")
    noted_at: Mapped[datetime] = arrived()


class IncidentRow(Logged, Base):
    """Something that went wrong in a sortie and must not be averaged away."""

    __tablename__ = "incident"
    kind: Mapped[str]
    words: Mapped[str]
    happened_at: Mapped[datetime] = arrived()


class AttachmentRow(Logged, Base):
    """A photo or a voice note of a record, a sortie or a model; its bytes stand outside the row that lists it."""

    __tablename__ = "attachment"
    __table_args__ = (CheckConstraint("kind IN ('photo', 'voice') AND bytes > 0", name="kind"),)
    record_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("record.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str]
    media_type: Mapped[str]
    bytes: Mapped[int]
    content_hash: Mapped[str]
    added_at: Mapped[datetime] = arrived()
