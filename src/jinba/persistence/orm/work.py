"""Tables of the work: orders, their actions, the readings that prove them; notes and attachments."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import (
    ARRAY,
    CheckConstraint,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    Text,
    UniqueConstraint,
    false,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from jinba.persistence.orm.base import Base, Json, Logged, arrived, drawn, moment


class WorkOrderRow(Base):
    """A rework decided after a sortie, and the configuration it leads to; one stands, others were taken back."""

    __tablename__ = "work_order"
    __table_args__ = (
        Index("uq_work_order_standing", "after_sortie_id", unique=True, postgresql_where=text("taken_back_at IS NULL")),
    )
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    order: Mapped[int] = drawn()
    model_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("model.id", ondelete="CASCADE"), index=True)
    after_sortie_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sortie.id", ondelete="CASCADE"))
    to_configuration_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("configuration.id", ondelete="CASCADE"), index=True
    )
    request_hash: Mapped[str | None]
    created_at: Mapped[datetime] = arrived()
    taken_back_at: Mapped[datetime | None] = moment()


class WorkOrderActionRow(Base):
    """One change of a work order; ``amount`` in ``unit``, never signed, the directions in its words; ``expected`` the reading that
    proves it as a number, with its tolerance and ways, None where it is no number."""

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
    expected: Mapped[Json | None] = mapped_column(JSONB(none_as_null=True))


class ProofRow(Base):
    """A reading that proves an action was done; the newest of an action counts, the earlier ones stay. ``taken_back``: none counts
    any more."""

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
    number: Mapped[float | None]
    taken_back: Mapped[bool] = mapped_column(default=False, server_default=false())
    proved_by: Mapped[str] = mapped_column(default="")
    proved_at: Mapped[datetime] = arrived()


class SignOffRow(Logged, Base):
    """A model handed over after a sortie, as it landed: by whom, on what that was missing then, and why all the same."""

    __tablename__ = "sign_off"
    signed_by: Mapped[str]
    remark: Mapped[str] = mapped_column(default="")
    missing: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    request_hash: Mapped[str | None]
    signed_at: Mapped[datetime] = arrived()
    taken_back_at: Mapped[datetime | None] = moment()


class NoteRow(Logged, Base):
    """What was noticed on a sortie and stands on no card; ``what`` by one tap, by its key. ``found`` when somebody went through it."""

    __tablename__ = "note"
    card_id: Mapped[str] = mapped_column(default="", server_default="")
    what: Mapped[str] = mapped_column(default="", server_default="")
    words: Mapped[str]
    noted_by: Mapped[str] = mapped_column(default="")
    device_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("device.id"), index=True)
    request_hash: Mapped[str | None]
    made_at: Mapped[datetime | None] = moment()
    noted_at: Mapped[datetime] = arrived()
    found: Mapped[str] = mapped_column(default="", server_default="")
    looked_at: Mapped[datetime | None] = moment()
    taken_back_at: Mapped[datetime | None] = moment()


class AttachmentRow(Logged, Base):
    """A photo of an incident's record, or of an action of a work order by its ``position``; a photo or a voice of a note, one of each.
    Its bytes stand outside the row that lists it. Taken back it stays in the table, without its bytes."""

    __tablename__ = "attachment"
    __table_args__ = (
        CheckConstraint("kind IN ('photo', 'voice') AND bytes > 0", name="kind"),
        CheckConstraint("(work_order_id IS NULL) = (position IS NULL)", name="action"),
        UniqueConstraint("note_id", "kind"),
        ForeignKeyConstraint(
            ["work_order_id", "position"],
            ["work_order_action.work_order_id", "work_order_action.position"],
            name="fk_attachment_work_order_id_work_order_action",
            ondelete="CASCADE",
        ),
    )
    record_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("record.id", ondelete="CASCADE"), index=True)
    note_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("note.id", ondelete="CASCADE"), index=True)
    work_order_id: Mapped[uuid.UUID | None] = mapped_column(index=True)
    position: Mapped[int | None]
    kind: Mapped[str]
    media_type: Mapped[str]
    bytes: Mapped[int]
    width: Mapped[int] = mapped_column(default=0, server_default="0")
    height: Mapped[int] = mapped_column(default=0, server_default="0")
    caption: Mapped[str] = mapped_column(default="", server_default="")
    content_hash: Mapped[str]
    request_hash: Mapped[str | None]
    added_at: Mapped[datetime] = arrived()
    taken_back_at: Mapped[datetime | None] = moment()


class AttachmentContentRow(Base):
    """The bytes of an attachment."""

    __tablename__ = "attachment_content"
    attachment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attachment.id", ondelete="CASCADE"), primary_key=True)
    content: Mapped[bytes]
