"""Export and import of a model with its whole history."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from jinba.core.cards.catalogue import card
from jinba.core.cards.model import check_record
from jinba.core.cards.noticed import noticed
from jinba.core.errors import JinbaError
from jinba.core.observe.situation import resting_trims
from jinba.core.plan.weather import Wind
from jinba.formats.archive import (
    ArchiveError,
    ChoiceFile,
    ConfigurationFile,
    GatePassFile,
    NoteFile,
    OverrideFile,
    PackFile,
    PhotoFile,
    PredictedFile,
    ProjectFile,
    ProofFile,
    RecordFile,
    RevisionFile,
    SetupFile,
    SignOffFile,
    SortieFile,
    StandInFile,
    WindReadFile,
    WorkOrderFile,
    read_archive,
    write_archive,
)
from jinba.formats.codec import to_json
from jinba.formats.photo import read_photo
from jinba.formats.voice import read_voice
from jinba.persistence.orm import (
    ConfigurationRow,
    GatePassRow,
    ModelRow,
    NoteRow,
    OverrideRow,
    PackFlightRow,
    PredictionRow,
    ProofRow,
    RecordChoiceRow,
    RevisionRow,
    SignOffRow,
    SortieRow,
    WeatherRow,
    WindReadingRow,
    WorkOrderActionRow,
    WorkOrderRow,
)
from jinba.persistence.repositories import Log, Models, Orders, Packs, Sorties
from jinba.services import notes
from jinba.services.estimates import log_changed, store_release
from jinba.services.history import action_of
from jinba.services.log import ToWrite, Written, entries_of, write_entry
from jinba.services.packs import pack_of
from jinba.services.photos import Of, jpeg_of, keep, photos_of
from jinba.services.setups import keep_setup, setups_of


def export_model(session: Session, model_id: uuid.UUID) -> tuple[str, ProjectFile]:
    """Return (file name, project) of a model; writing it into bytes needs no session."""
    models, sorties = Models(session), Sorties(session)
    model = models.get(model_id)
    configurations = [_configuration_file(session, c) for c in models.configurations(model_id)]
    flown = [_sortie_file(session, s) for s in sorties.of_model(model_id)]
    records = _record_files(session, model_id)
    used = {r.setup for c in configurations for r in c.revisions}
    used |= {s.setup for s in flown} | {r.setup for r in records}
    project = ProjectFile(
        id=model.id,
        name=model.name,
        story=model.story,
        rehearsal=model.rehearsal,
        stand_in=None if model.stand_in is None else StandInFile.model_validate(model.stand_in),
        setups={h: SetupFile(body=c) for h, c in sorted(setups_of(session, used).items())},
        configurations=configurations,
        sorties=flown,
        records=records,
        choices=_choice_files(session, records),
        work_orders=[_order_file(session, o) for o in Orders(session).of_model(model_id)],
        sign_offs=[_sign_off_file(r) for r in Orders(session).sign_offs(model_id) if r.sortie_id is not None],
        photos=[
            PhotoFile.model_construct(
                **{k: getattr(p, k) for k in ("id", "record_id", "work_order_id", "position", "caption", "added_at")},
                jpeg=jpeg_of(session, p.id),
            )
            for p in photos_of(session, model_id)
        ],
        notes=_note_files(session, model_id),
        wind_read=_wind_file(sorties, model_id),
    )
    safe = "".join(c if c.isalnum() else "-" for c in model.name.lower()).strip("-") or "model"
    return f"{safe}.jinba.zip", project


def _note_files(session: Session, model_id: uuid.UUID) -> list[NoteFile]:
    kept = ("id", "sortie_id", "card_id", "what", "words", "noted_by", "made_at", "found")
    found = []
    for line in notes.notes_of(session, model_id):
        jpeg, sound = notes.content_of(session, line)
        # Not read again: what is kept was checked when it came, and its bytes are not yet in base 64.
        found.append(NoteFile.model_construct(**{k: getattr(line, k) for k in kept}, jpeg=jpeg, sound=sound))
    return found


def _wind_file(sorties: Sorties, model_id: uuid.UUID) -> WindReadFile | None:
    row = sorties.wind_read(model_id)
    if row is None:
        return None
    wind = Wind(row.wind_mps, row.gust_mps, row.from_rad, row.strip_heading_rad)
    return WindReadFile(wind=wind, read_at=row.read_at)


def _sign_off_file(row: SignOffRow) -> SignOffFile:
    kept = ("id", "sortie_id", "signed_by", "remark", "missing", "signed_at", "taken_back_at")
    return SignOffFile.model_validate({k: getattr(row, k) for k in kept})


def write_project(project: ProjectFile) -> bytes:
    """Return the bytes of a project file."""
    return write_archive(project)


def _configuration_file(session: Session, c: ConfigurationRow) -> ConfigurationFile:
    revisions = Models(session).revisions(c.id)
    numbers = {r.id: r.number for r in revisions}
    return ConfigurationFile(
        id=c.id,
        number=c.number,
        change_words=c.change_words,
        opened_cards=c.opened_cards,
        current_revision=numbers[c.current_revision_id],
        revisions=[
            RevisionFile(
                number=r.number,
                parent=None if r.parent_id is None else numbers[r.parent_id],
                words=r.words,
                setup=r.setup_hash,
            )
            for r in revisions
        ],
    )


def _sortie_file(session: Session, s: SortieRow) -> SortieFile:
    sorties = Sorties(session)
    w = sorties.weather(s.id)
    numbers = ("key", "value", "sigma", "low", "high", "rail_low", "rail_high")
    return SortieFile.model_validate(
        {
            **{k: getattr(s, k) for k in ("id", "configuration_id", "number", "status", "alone", "simulated")},
            **{k: getattr(s, k) for k in ("created_at", "landed_at", "landed_order")},
            "card_ids": sorties.cards(s.id),
            "proved": sorted(sorties.proved(s.id)),
            "wind": None if w is None else Wind(w.wind_mps, w.gust_mps, w.from_rad, w.strip_heading_rad),
            "setup": s.setup_hash,
            "predicted": [
                PredictedFile(**{k: getattr(p, k) for k in numbers}) for p in sorties.predictions((s.id,)).get(s.id, [])
            ],
            "overrides": [OverrideFile(code=o.code, words=o.words, reason=o.reason) for o in sorties.overrides(s.id)],
            "gate_passes": [GatePassFile(card_id=g.card_id, record_id=g.record_id) for g in sorties.gate_passes(s.id)],
            "safe_minutes": s.safe_minutes,
            "pack": _pack_file(session, s),
        }
    )


def _pack_file(session: Session, s: SortieRow) -> PackFile | None:
    if s.pack_id is None:
        return None
    packs = Packs(session)
    row, back = packs.get(s.pack_id), packs.put_back(s.id)
    return PackFile.model_validate(
        {
            **{k: getattr(row, k) for k in ("name", *_LABEL)},
            "chemistry": row.chemistry or None,
            "cell_v": s.cell_v,
            "put_back_c": None if back is None else back.put_back_c,
        }
    )


_LABEL = ("cells", "capacity_c", "rating_per_h", "resistance_ohm", "mass_kg")


def _record_files(session: Session, model_id: uuid.UUID) -> list[RecordFile]:
    rows = Log(session).of_model(model_id)
    kept = ("id", "order", "epoch", "configuration_id", "sortie_id", "logged_by", "made_at", "flown_at", "recorded_at")
    return [
        RecordFile(
            **{k: getattr(row.RecordRow, k) for k in kept},
            setup=row.RecordRow.setup_hash,
            record=entry.record,
            replaces=row.RecordRow.replaces_id,
            device=row.RecordRow.device_id,
            device_name=row.device_name or "",
            seen=row.RecordRow.seen_order,
        )
        for row, entry in zip(rows, entries_of(session, rows), strict=True)
    ]


def _choice_files(session: Session, records: Iterable[RecordFile]) -> list[ChoiceFile]:
    query = select(RecordChoiceRow).where(RecordChoiceRow.record_id.in_([r.id for r in records]))
    return [
        ChoiceFile(record_id=c.record_id, order=c.order, chosen_by=c.chosen_by, chosen_at=c.chosen_at)
        for c in session.scalars(query.order_by(RecordChoiceRow.order))
    ]


def _order_file(session: Session, o: WorkOrderRow) -> WorkOrderFile:
    orders = Orders(session)
    return WorkOrderFile(
        id=o.id,
        after_sortie_id=o.after_sortie_id,
        to_configuration_id=o.to_configuration_id,
        actions=[action_of(a) for a in orders.actions(o.id)],
        proofs=[
            ProofFile(
                action=p.position,
                reading=p.reading,
                number=p.number,
                taken_back=p.taken_back,
                proved_by=p.proved_by,
                proved_at=p.proved_at,
            )
            for p in orders.proofs(o.id)
        ],
        created_at=o.created_at,
        taken_back_at=o.taken_back_at,
    )


def read_project(data: bytes) -> ProjectFile:
    """Return the project of a file, checked card by card. Needs no session. Raises: ArchiveError."""
    project = read_archive(data)
    for r in project.records:
        try:
            check_record(card(r.record.card_id), r.record, kept=True)
        except JinbaError as error:
            raise ArchiveError(f"A record of the project file does not fit its card: {error.title}") from None
    return project


def import_model(session: Session, project: ProjectFile) -> ModelRow:
    """Add a model from a project as a new model with new ids; its sorties are computed anew from its log."""
    return _Import(session, project).everything()


class _Import:
    """Writes a project under new ids and new places in the log, in the order it had."""

    def __init__(self, session: Session, project: ProjectFile) -> None:
        self.session, self.project, self.models = session, project, Models(session)
        self.fresh: dict[uuid.UUID, uuid.UUID] = {}
        self.setups = {label: s.body for label, s in project.setups.items()}
        self.hashes = {label: keep_setup(session, body) for label, body in self.setups.items()}
        self.places: dict[int, int] = {}

    def new(self, old: uuid.UUID) -> uuid.UUID:
        return self.fresh.setdefault(old, uuid.uuid4())

    def everything(self) -> ModelRow:
        p = self.project
        stand_in = None if p.stand_in is None else _stand_in(p.stand_in)
        owner_id = self.models.owner_id()
        model = ModelRow(
            id=self.new(p.id),
            owner_id=owner_id,
            name=_free_name(self.models.names(owner_id), p.name),
            story=p.story,
            rehearsal=p.rehearsal,
            stand_in=stand_in,
        )
        self.session.add(model)
        self.session.flush()
        for c in p.configurations:
            self._configuration(model, c)
        self._log(model)
        for o in p.work_orders:
            self._order(model, o)
        for signed in p.sign_offs:
            self._sign_off(model, signed)
        for photo in p.photos:
            self._photo(model, photo)
        for n in p.notes:
            self._note(model, n)
        if p.wind_read is not None:
            self._wind(model, p.wind_read)
        model.setup_version = sum(len(c.revisions) for c in p.configurations)
        self.session.flush()
        if any(s.status == "landed" for s in p.sorties):
            log_changed(self.session, model, since=1)
        return model

    def _photo(self, model: ModelRow, p: PhotoFile) -> None:
        of = Of(
            record_id=None if p.record_id is None else self.new(p.record_id),
            work_order_id=None if p.work_order_id is None else self.new(p.work_order_id),
            position=p.position,
        )
        # Read like any other: a file from elsewhere may hold anything.
        photo = read_photo(p.jpeg)
        keep(self.session, model.id, photo, of=of, caption=p.caption, photo_id=self.new(p.id), added_at=p.added_at)

    def _note(self, model: ModelRow, n: NoteFile) -> None:
        if n.what:
            noticed(n.what)
        row = NoteRow(
            id=self.new(n.id),
            model_id=model.id,
            sortie_id=self.new(n.sortie_id),
            card_id=n.card_id,
            what=n.what,
            words=n.words,
            noted_by=n.noted_by,
            made_at=n.made_at,
            found=n.found,
            looked_at=n.made_at if n.found else None,
        )
        photo = None if n.jpeg is None else read_photo(n.jpeg)
        notes.keep(self.session, row, photo, None if n.sound is None else read_voice(n.sound))

    def _wind(self, model: ModelRow, read: WindReadFile) -> None:
        w = read.wind
        self.session.add(
            WindReadingRow(
                model_id=model.id,
                wind_mps=w.speed_mps,
                gust_mps=w.gust_mps,
                from_rad=w.from_rad,
                strip_heading_rad=w.strip_heading_rad,
                read_at=read.read_at,
            )
        )

    def _configuration(self, model: ModelRow, c: ConfigurationFile) -> None:
        ids = {r.number: uuid.uuid4() for r in c.revisions}
        self.session.add(
            ConfigurationRow(
                id=self.new(c.id),
                model_id=model.id,
                number=c.number,
                change_words=c.change_words,
                opened_cards=c.opened_cards,
                current_revision_id=ids[c.current_revision],
            )
        )
        self.session.flush()
        for r in sorted(c.revisions, key=lambda r: r.number):
            self.session.add(
                RevisionRow(
                    id=ids[r.number],
                    configuration_id=self.new(c.id),
                    number=r.number,
                    parent_id=None if r.parent is None else ids.get(r.parent),
                    words=r.words,
                    setup_hash=self.hashes[r.setup],
                )
            )
            self.session.flush()

    def _log(self, model: ModelRow) -> None:
        """Write sorties, then records, landings and choices one after the other as they happened."""
        landings: dict[uuid.UUID, SortieRow] = {s.id: self._sortie(model, s) for s in self.project.sorties}
        events: list[tuple[int, Any]] = [(r.order, r) for r in self.project.records]
        events += [(s.landed_order, s) for s in self.project.sorties if s.landed_order is not None]
        events += [(c.order, c) for c in self.project.choices]
        for order, event in sorted(events, key=lambda e: e[0]):
            if isinstance(event, RecordFile):
                self.places[order] = self._record(model, event)
            elif isinstance(event, SortieFile):
                row = landings[event.id]
                place = self.places[order] = self.models.draw_order()
                row.status, row.landed_at, row.landed_order = "landed", event.landed_at, place
            else:
                self._choice(event)
        self.session.flush()
        for s in self.project.sorties:
            self.session.add_all(
                GatePassRow(sortie_id=self.new(s.id), card_id=g.card_id, record_id=self.new(g.record_id))
                for g in s.gate_passes
            )
        model.log_order = max(self.places.values(), default=0)

    def _sortie(self, model: ModelRow, s: SortieFile) -> SortieRow:
        row = SortieRow(
            id=self.new(s.id),
            model_id=model.id,
            configuration_id=self.new(s.configuration_id),
            number=s.number,
            # A landed sortie is written as called off until its landing has its place in the log.
            status="called_off" if s.status == "landed" else s.status,
            alone=s.alone,
            simulated=s.simulated,
            setup_hash=self.hashes[s.setup],
            created_at=s.created_at,
            safe_minutes=s.safe_minutes,
        )
        self.session.add(row)
        self.session.flush()
        if s.pack is not None:
            self._pack(model, row, s.pack)
        Sorties(self.session).add_cards(row.id, s.card_ids, s.proved)
        if s.wind is not None:
            w = s.wind
            self.session.add(
                WeatherRow(
                    sortie_id=row.id,
                    wind_mps=w.speed_mps,
                    gust_mps=w.gust_mps,
                    from_rad=w.from_rad,
                    strip_heading_rad=w.strip_heading_rad,
                )
            )
        self.session.add_all(
            PredictionRow(sortie_id=row.id, position=i, **p.model_dump()) for i, p in enumerate(s.predicted)
        )
        self.session.add_all(OverrideRow(sortie_id=row.id, **o.model_dump()) for o in s.overrides)
        store_release(self.session, row.id, self.setups[s.setup], resting_trims(self.setups[s.setup]))
        return row

    def _pack(self, model: ModelRow, sortie: SortieRow, p: PackFile) -> None:
        """Take in the pack of a sortie by its name; what is known of it here stays as it is."""
        pack = Packs(self.session).by_name(model.owner_id, p.name)
        if not pack.chemistry and p.chemistry is not None and p.cells is not None and p.capacity_c is not None:
            pack.chemistry = p.chemistry.value
            for key in _LABEL:
                setattr(pack, key, getattr(p, key))
            if pack_of(pack) is None:
                raise ArchiveError(f"The project file is damaged at the pack {p.name}.")
        sortie.pack_id, sortie.cell_v = pack.id, p.cell_v
        if p.put_back_c is not None:
            self.session.add(
                PackFlightRow(
                    id=uuid.uuid4(),
                    owner_id=model.owner_id,
                    pack_id=pack.id,
                    sortie_id=sortie.id,
                    put_back_c=p.put_back_c,
                )
            )
        self.session.flush()

    def _record(self, model: ModelRow, r: RecordFile) -> int:
        written = Written(
            device=None if r.device is None else self.new(r.device),
            device_name=r.device_name,
            by=r.logged_by,
            made_at=r.made_at,
            offset_s=0.0 if r.made_at is None or r.flown_at is None else (r.flown_at - r.made_at).total_seconds(),
            seen=None if r.seen is None else self._place(r.seen),
        )
        row = write_entry(
            self.session,
            model,
            ToWrite(
                id=self.new(r.id),
                record=r.record,
                request_hash=None,
                configuration_id=self.new(r.configuration_id),
                sortie_id=None if r.sortie_id is None else self.new(r.sortie_id),
                epoch=r.epoch,
                setup_hash=self.hashes[r.setup],
                written=written,
                replaces=None if r.replaces is None else self.new(r.replaces),
            ),
        )
        row.recorded_at = r.recorded_at
        return row.order

    def _place(self, seen: int) -> int:
        """Return the new place of the newest entry that had been seen."""
        return max((new for old, new in self.places.items() if old <= seen), default=0)

    def _choice(self, c: ChoiceFile) -> None:
        row = RecordChoiceRow(
            record_id=self.new(c.record_id),
            order=self.models.draw_order(),
            chosen_by=c.chosen_by,
            chosen_at=c.chosen_at,
        )
        self.session.add(row)
        self.places[c.order] = row.order

    def _sign_off(self, model: ModelRow, s: SignOffFile) -> None:
        row = SignOffRow(
            id=self.new(s.id),
            order=self.models.draw_order(),
            model_id=model.id,
            sortie_id=self.new(s.sortie_id),
            signed_by=s.signed_by,
            remark=s.remark,
            missing=s.missing,
            signed_at=s.signed_at,
            taken_back_at=s.taken_back_at,
        )
        self.session.add(row)
        self.session.flush()

    def _order(self, model: ModelRow, o: WorkOrderFile) -> None:
        self.session.add(
            WorkOrderRow(
                id=self.new(o.id),
                order=self.models.draw_order(),
                model_id=model.id,
                after_sortie_id=self.new(o.after_sortie_id),
                to_configuration_id=self.new(o.to_configuration_id),
                created_at=o.created_at,
                taken_back_at=o.taken_back_at,
            )
        )
        self.session.flush()
        for i, action in enumerate(o.actions):
            self.session.add(WorkOrderActionRow(work_order_id=self.new(o.id), position=i, **to_json(action)))
        self.session.flush()
        for proof in o.proofs:
            self.session.add(
                ProofRow(
                    order=self.models.draw_order(),
                    work_order_id=self.new(o.id),
                    position=proof.action,
                    reading=proof.reading,
                    number=proof.number,
                    taken_back=proof.taken_back,
                    proved_by=proof.proved_by,
                    proved_at=proof.proved_at,
                )
            )
        self.session.flush()


def _stand_in(stand_in: StandInFile) -> dict[str, Any]:
    return {"spread": to_json(stand_in.spread), "wrong": to_json(stand_in.wrong)}


def _free_name(taken: set[str], name: str) -> str:
    if name not in taken:
        return name
    return next(candidate for n in range(2, 10_000) if (candidate := f"{name[:54]} ({n})") not in taken)
