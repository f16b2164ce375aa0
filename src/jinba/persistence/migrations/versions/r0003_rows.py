"""one truth, in rows: setups once by content, records and readings, proofs, predictions and estimates as rows

The tables before are moved aside, read, written anew and dropped; all in the one transaction of the migration.
"""

from __future__ import annotations

import json
import uuid
from collections import defaultdict
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from alembic import op

from jinba.persistence.content import content_hash

revision = '0003'
down_revision = '0002'

Rows = list[dict[str, Any]]
OLD = "before_0003"
OLD_TABLES = ("analysis", "work_order", "record", "sortie", "revision", "configuration", "model", "owner")
FIRST_SCHEMA = 1
"""Version of every setup and record written before this revision."""

POSITIVE = {
    "static_margin": "balances further forward than thought (nose-heavy)",
    "pitch_moment": "wing and tail set nose-up",
    "thrust_down": "motor points further down than measured",
    "thrust_right": "motor points further right than measured",
    "lateral_cg": "right wing heavy",
    "twist": "right wing washed out, left one washed in",
    "yaw_offset": "fin or rudder sets the nose left",
    "elevator_power": "elevator stronger than computed",
    "torque": "more torque than computed",
    "cruise_speed": "flies faster than assumed",
    "cl_max": "stalls slower than computed",
    "aileron_power": "ailerons stronger than computed",
}
"""The words by which a stored analysis said that a cause was positive."""


def upgrade() -> None:
    op.execute(f"CREATE SCHEMA {OLD}")
    for table in OLD_TABLES:
        op.execute(f"ALTER TABLE {table} SET SCHEMA {OLD}")
    op.get_bind().exec_driver_sql((Path(__file__).parent / "r0003_rows.sql").read_text())
    _Move(op.get_bind()).everything()
    op.execute(f"DROP SCHEMA {OLD} CASCADE")


def downgrade() -> None:
    raise NotImplementedError("0003 cannot be taken back: the tables before cannot hold what is kept now.")


class _Move:
    """Reads the tables that were moved aside and writes the new ones."""

    def __init__(self, bind: sa.Connection) -> None:
        self.bind = bind
        self.old = {t: self._read(t) for t in OLD_TABLES}
        self.orders = self._orders()
        self.hashes: dict[str, dict[str, Any]] = {}

    def _read(self, table: str) -> Rows:
        return [dict(r) for r in self.bind.execute(sa.text(f"SELECT * FROM {OLD}.{table}")).mappings()]

    def _write(self, table: str, rows: Rows) -> None:
        if not rows:
            return
        values = ", ".join(f":{k}" for k in rows[0])
        columns = ", ".join(rows[0])
        self.bind.execute(sa.text(f"INSERT INTO {table} ({columns}) VALUES ({values})"), rows)

    def _orders(self) -> dict[uuid.UUID, int]:
        """Return the place in the log of each record, landing and work order: by their times, once and for all."""
        events = [(r["recorded_at"], 0, r["id"]) for r in self.old["record"]]
        events += [(s["landed_at"], 1, s["id"]) for s in self.old["sortie"] if s["landed_at"] is not None]
        events += [(o["created_at"], 2, o["id"]) for o in self.old["work_order"]]
        events += [(a["created_at"], 3, a["id"]) for a in self.old["analysis"]]
        return {e[2]: self._draw() for e in sorted(events, key=lambda e: (e[0], e[1], str(e[2])))}

    def _draw(self) -> int:
        return int(self.bind.execute(sa.text("SELECT nextval('log_order')")).scalar_one())

    def everything(self) -> None:
        self._write("owner", self.old["owner"])
        revisions, configurations = self._bench()
        sorties, records = self._sorties(), self._records()
        bodies = [{"hash": h, "version": FIRST_SCHEMA, "body": json.dumps(b)} for h, b in self.hashes.items()]
        setup = sa.text("INSERT INTO setup (hash, schema_version, body) VALUES (:hash, :version, CAST(:body AS jsonb))")
        if bodies:
            self.bind.execute(setup, bodies)
        self._models()
        self._write("configuration", configurations)
        self._write("revision", revisions)
        self._write("sortie", sorties)
        self._sortie_parts()
        self._write("record", records)
        self._readings()
        self._work()
        self._estimates()

    def _hash(self, body: dict[str, Any]) -> str:
        found = content_hash(body)
        self.hashes.setdefault(found, body)
        return found

    def _bench(self) -> tuple[Rows, Rows]:
        ids = {(r["configuration_id"], r["number"]): r["id"] for r in self.old["revision"]}
        revisions = [
            {
                "id": r["id"],
                "configuration_id": r["configuration_id"],
                "number": r["number"],
                "parent_id": ids.get((r["configuration_id"], r["number"] - 1)),
                "words": r["words"],
                "setup_hash": self._hash(r["setup"]),
                "created_at": r["created_at"],
            }
            for r in sorted(self.old["revision"], key=lambda r: r["number"])
        ]
        configurations = [
            {
                "id": c["id"],
                "model_id": c["model_id"],
                "number": c["number"],
                "change_words": c["change_words"],
                "opened_cards": c["stale_cards"],
                "current_revision_id": ids[c["id"], c["current_revision"]],
                "created_at": c["created_at"],
            }
            for c in self.old["configuration"]
        ]
        return revisions, configurations

    def _models(self) -> None:
        revisions: dict[uuid.UUID, int] = defaultdict(int)
        newest: dict[uuid.UUID, int] = defaultdict(int)
        landings: dict[uuid.UUID, int] = defaultdict(int)
        of = {c["id"]: c["model_id"] for c in self.old["configuration"]}
        for r in self.old["revision"]:
            revisions[of[r["configuration_id"]]] += 1
        for r in (*self.old["record"], *self.old["sortie"]):
            newest[r["model_id"]] = max(newest[r["model_id"]], self.orders.get(r["id"], 0))
        for s in self.old["sortie"]:
            landings[s["model_id"]] += s["landed_at"] is not None
        insert = sa.text(
            "INSERT INTO model (id, owner_id, name, story, read_only, stand_in, setup_version, log_order, log_version, "
            "created_at) VALUES (:id, :owner_id, :name, :story, :read_only, CAST(:stand_in AS jsonb), :setup_version, "
            ":log_order, :log_version, :created_at)"
        )
        for m in self.old["model"]:
            stand_in = None if m["stand_in"] is None else json.dumps(m["stand_in"])
            counters = {
                "setup_version": max(1, revisions[m["id"]]),
                "log_order": newest[m["id"]],
                "log_version": landings[m["id"]],
            }
            self.bind.execute(insert, {**m, **counters, "stand_in": stand_in})

    def _sorties(self) -> Rows:
        newest_open: dict[uuid.UUID, int] = {}
        for s in self.old["sortie"]:
            if s["landed_at"] is None:
                newest_open[s["model_id"]] = max(newest_open.get(s["model_id"], 0), s["number"])
        return [
            {
                "id": s["id"],
                "model_id": s["model_id"],
                "configuration_id": s["configuration_id"],
                "number": s["number"],
                # Only the newest open sortie of a model can go on; one that was never landed holds no landing to keep.
                "status": s["status"]
                if s["landed_at"] is not None or newest_open[s["model_id"]] == s["number"]
                else "called_off",
                "alone": s["alone"],
                "simulated": s["simulated"],
                "setup_hash": self._hash(s["setup"]),
                "created_at": s["created_at"],
                "landed_at": s["landed_at"],
                "landed_order": self.orders.get(s["id"]),
            }
            for s in self.old["sortie"]
        ]

    def _sortie_parts(self) -> None:
        cards, weather, said = [], [], []
        for s in self.old["sortie"]:
            once = list(dict.fromkeys(s["card_ids"]))
            cards += [
                {"sortie_id": s["id"], "card_id": c, "position": i, "origin": "planned"} for i, c in enumerate(once)
            ]
            if s["wind"] is not None:
                w = s["wind"]
                weather.append(
                    {
                        "sortie_id": s["id"],
                        "wind_mps": w["speed_mps"],
                        "gust_mps": max(w["gust_mps"], w["speed_mps"]),
                        "from_rad": w["from_rad"],
                        "strip_heading_rad": w["strip_heading_rad"],
                    }
                )
            said += [{"sortie_id": s["id"], **_rail(t, i)} for i, t in enumerate(s["predicted"])]
        self._write("sortie_card", cards)
        self._write("weather", weather)
        self._write("prediction", said)

    def _records(self) -> Rows:
        sorties = {s["id"]: s for s in self.old["sortie"]}
        current = {
            c["id"]: next(
                r["setup"]
                for r in self.old["revision"]
                if r["configuration_id"] == c["id"] and r["number"] == c["current_revision"]
            )
            for c in self.old["configuration"]
        }
        rows = []
        for r in self.old["record"]:
            body, sortie = r["record"], sorties.get(r["sortie_id"])
            # Records made before their setup was kept count as done on the setup their configuration now has.
            setup = sortie["setup"] if sortie else r["setup"] or current[r["configuration_id"]]
            rows.append(
                {
                    "id": r["id"],
                    "log_order": self.orders[r["id"]],
                    "model_id": r["model_id"],
                    "configuration_id": r["configuration_id"],
                    "sortie_id": r["sortie_id"],
                    "epoch": 2 * sortie["number"] - 1 if sortie else 2 * self._landed_before(r),
                    "card_id": r["card_id"],
                    "outcome": body["outcome"],
                    "left_alone": body.get("left_alone"),
                    "confidence": body.get("confidence", "fair"),
                    "from_memory": body.get("from_memory", False),
                    "note": body.get("note", ""),
                    "setup_hash": self._hash(setup),
                    "logged_by": "",
                    "schema_version": FIRST_SCHEMA,
                    "recorded_at": r["recorded_at"],
                }
            )
        return rows

    def _landed_before(self, record: dict[str, Any]) -> int:
        numbers = [
            s["number"]
            for s in self.old["sortie"]
            if s["model_id"] == record["model_id"]
            and s["landed_at"] is not None
            and self.orders[s["id"]] < self.orders[record["id"]]
        ]
        return max(numbers, default=0)

    def _readings(self) -> None:
        rows = [
            {
                "record_id": r["id"],
                "position": i,
                "measure": x["key"],
                "number": x.get("number"),
                "choice": x.get("choice"),
                "direction": x.get("direction"),
                "nothing": x.get("none", False),
                "as_entered": "",
            }
            for r in self.old["record"]
            for i, x in enumerate(r["record"].get("readings", []))
        ]
        self._write("reading", rows)

    def _work(self) -> None:
        orders, actions, proofs = [], [], []
        for o in self.old["work_order"]:
            kept = ("id", "model_id", "after_sortie_id", "to_configuration_id", "created_at")
            orders.append({**{k: o[k] for k in kept}, "log_order": self.orders[o["id"]]})
            for i, a in enumerate(o["actions"]):
                words = {"surface_words": a.get("surface_words", ""), "thumb": a.get("thumb", "")}
                plain = {k: a[k] for k in ("kind", "amount", "unit", "words", "why", "proof")}
                actions.append({"work_order_id": o["id"], "position": i, **plain, **words})
            proofs += [
                {
                    "work_order_id": o["id"],
                    "position": int(i),
                    "reading": reading,
                    "proved_by": "",
                    "proved_at": o["created_at"],
                }
                for i, reading in sorted(o["proofs"].items(), key=lambda p: int(p[0]))
            ]
        self._write("work_order", orders)
        self._write("work_order_action", actions)
        self._write("proof", proofs)

    def _estimates(self) -> None:
        """Keep what was shown of each landed sortie under the method it was computed by; its covariance was never stored."""
        sorties = {s["id"]: s for s in self.old["sortie"]}
        for a in self.old["analysis"]:
            sortie, result = sorties[a["sortie_id"]], a["result"]
            identity = uuid.uuid5(a["id"], "estimate")
            self._write(
                "estimate",
                [
                    {
                        "id": identity,
                        "log_order": self.orders[a["id"]],
                        "model_id": sortie["model_id"],
                        "sortie_id": sortie["id"],
                        "setup_hash": content_hash(sortie["setup"]),
                        "method": a["method"],
                        "log_version": 0,
                        "inputs_hash": "",
                        "data_count": result.get("data_count", 0),
                        "parameters": [],
                        "created_at": a["created_at"],
                    }
                ],
            )
            moments = (("before", "before"), ("flown", "flown"), ("after", "landed"))
            for key, moment in moments:
                rails = [
                    {"estimate_id": identity, "moment": moment, **_rail(t, i)}
                    for i, t in enumerate(result.get(key, []))
                ]
                self._write("behaviour", rails)
            scores = [
                {
                    "estimate_id": identity,
                    "key": s["key"],
                    "position": i,
                    "sigmas": s["sigmas"],
                    "within_one_sigma": s["within_one_sigma"],
                }
                for i, s in enumerate(result.get("score", []))
            ]
            self._write("score", scores)
            self._causes(identity, result.get("causes", []))

    def _causes(self, identity: uuid.UUID, causes: Rows) -> None:
        plain = ("key", "value", "sigma", "prior_sigma", "strength", "separated")
        rows = [
            {
                "estimate_id": identity,
                "position": i,
                "positive": c["verdict"] == POSITIVE.get(c["key"]),
                **{k: c[k] for k in plain},
            }
            for i, c in enumerate(causes)
        ]
        self._write("cause", rows)
        evidence = [
            {
                "estimate_id": identity,
                "cause_key": c["key"],
                "position": i,
                "card_id": e["card_id"],
                "words": e["words"],
                "pull": e["pull"],
            }
            for c in causes
            for i, e in enumerate(c["evidence"])
        ]
        self._write("evidence", evidence)


def _rail(tendency: dict[str, Any], position: int) -> dict[str, Any]:
    plain = ("key", "value", "sigma", "low", "high", "rail_low", "rail_high")
    return {"position": position, **{k: tendency[k] for k in plain}}
