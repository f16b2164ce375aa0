"""Export and import of a model with its whole history."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import CardRecord, check_record
from jinba.core.configuration import Configuration
from jinba.core.correct.actions import Action
from jinba.core.errors import JinbaError
from jinba.core.plan.weather import Wind
from jinba.formats.archive import (
    ArchiveError,
    ConfigurationFile,
    ProjectFile,
    RecordFile,
    RevisionFile,
    SortieFile,
    StandInFile,
    WorkOrderFile,
    read_archive,
    write_archive,
)
from jinba.formats.codec import from_json, to_json
from jinba.persistence.orm import ConfigurationRow, ModelRow, RecordRow, RevisionRow, SortieRow, WorkOrderRow
from jinba.persistence.repositories import Models, Sorties


def export_model(session: Session, model_id: uuid.UUID) -> tuple[str, bytes]:
    """Return (file name, bytes) of a model's project file."""
    models, sorties = Models(session), Sorties(session)
    model = models.get(model_id)
    project = ProjectFile(
        id=model.id,
        name=model.name,
        story=model.story,
        stand_in=None if model.stand_in is None else StandInFile.model_validate(model.stand_in),
        configurations=[_configuration_file(c) for c in models.configurations(model_id)],
        sorties=[_sortie_file(s) for s in sorties.of_model(model_id)],
        records=[
            RecordFile(
                id=r.id,
                configuration_id=r.configuration_id,
                sortie_id=r.sortie_id,
                recorded_at=r.recorded_at,
                record=from_json(CardRecord, r.record),
                setup=None if r.setup is None else from_json(Configuration, r.setup),
            )
            for r in sorties.records_of_model(model_id)
        ],
        work_orders=[
            WorkOrderFile(
                id=o.id,
                after_sortie_id=o.after_sortie_id,
                to_configuration_id=o.to_configuration_id,
                actions=[from_json(Action, a) for a in o.actions],
                proofs=o.proofs,
                created_at=o.created_at,
            )
            for o in sorties.work_orders(model_id)
        ],
    )
    safe = "".join(c if c.isalnum() else "-" for c in model.name.lower()).strip("-") or "model"
    return f"{safe}.jinba.zip", write_archive(project)


def import_model(session: Session, data: bytes) -> ModelRow:
    """Add a model from a project file as a new model with new ids. Raises: ArchiveError; nothing is changed then."""
    project = read_archive(data)
    for r in project.records:
        try:
            check_record(card(r.record.card_id), r.record)
        except JinbaError as error:
            raise ArchiveError(f"A record of the project file does not fit its card: {error.title}") from None
    fresh: dict[uuid.UUID, uuid.UUID] = {}

    def new(old: uuid.UUID) -> uuid.UUID:
        return fresh.setdefault(old, uuid.uuid4())

    model = ModelRow(
        id=new(project.id),
        owner_id=Models(session).owner().id,
        name=_free_name(session, project.name),
        story=project.story,
        read_only=False,
        stand_in=None if project.stand_in is None else to_json_model(project.stand_in),
    )
    session.add(model)
    session.flush()
    for c in project.configurations:
        session.add(
            ConfigurationRow(
                id=new(c.id),
                model_id=model.id,
                number=c.number,
                change_words=c.change_words,
                stale_cards=c.stale_cards,
                current_revision=c.current_revision,
            )
        )
        session.flush()
        session.add_all(
            RevisionRow(
                id=uuid.uuid4(), configuration_id=new(c.id), number=r.number, words=r.words, setup=to_json(r.setup)
            )
            for r in c.revisions
        )
    for s in project.sorties:
        session.add(
            SortieRow(
                id=new(s.id),
                model_id=model.id,
                configuration_id=new(s.configuration_id),
                number=s.number,
                status=s.status,
                alone=s.alone,
                simulated=s.simulated,
                card_ids=s.card_ids,
                wind=None if s.wind is None else to_json(s.wind),
                setup=to_json(s.setup),
                predicted=[to_json(t) for t in s.predicted],
                created_at=s.created_at,
                landed_at=s.landed_at,
            )
        )
    session.flush()
    session.add_all(
        RecordRow(
            id=new(r.id),
            model_id=model.id,
            configuration_id=new(r.configuration_id),
            sortie_id=None if r.sortie_id is None else new(r.sortie_id),
            card_id=r.record.card_id,
            record=to_json(r.record),
            setup=None if r.setup is None else to_json(r.setup),
            recorded_at=r.recorded_at,
        )
        for r in project.records
    )
    session.add_all(
        WorkOrderRow(
            id=new(o.id),
            model_id=model.id,
            after_sortie_id=new(o.after_sortie_id),
            to_configuration_id=new(o.to_configuration_id),
            actions=[to_json(a) for a in o.actions],
            proofs=o.proofs,
            created_at=o.created_at,
        )
        for o in project.work_orders
    )
    session.flush()
    return model


def to_json_model(stand_in: StandInFile) -> dict[str, object]:
    """Return the stored form of a stand-in."""
    return {"faults": to_json(stand_in.faults), "nature": to_json(stand_in.nature)}


def _free_name(session: Session, name: str) -> str:
    taken = set(session.scalars(select(ModelRow.name)))
    if name not in taken:
        return name
    return next(candidate for n in range(2, 10_000) if (candidate := f"{name[:54]} ({n})") not in taken)


def _configuration_file(c: ConfigurationRow) -> ConfigurationFile:
    return ConfigurationFile(
        id=c.id,
        number=c.number,
        change_words=c.change_words,
        stale_cards=c.stale_cards,
        current_revision=c.current_revision,
        revisions=[
            RevisionFile(number=r.number, words=r.words, setup=from_json(Configuration, r.setup)) for r in c.revisions
        ],
    )


def _sortie_file(s: SortieRow) -> SortieFile:
    status = s.status if s.status in ("planned", "flying", "landed") else "landed"
    return SortieFile.model_validate(
        {
            "id": s.id,
            "configuration_id": s.configuration_id,
            "number": s.number,
            "status": status,
            "alone": s.alone,
            "simulated": s.simulated,
            "card_ids": s.card_ids,
            "wind": None if s.wind is None else from_json(Wind, s.wind),
            "setup": from_json(Configuration, s.setup),
            "predicted": s.predicted,
            "created_at": s.created_at,
            "landed_at": s.landed_at,
        }
    )
