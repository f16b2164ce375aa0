"""Project files of earlier versions, as plain JSON, brought to the present one."""

from __future__ import annotations

import json
from typing import Any

Body = dict[str, Any]


def project_from_1(old: Body) -> Body:
    """Return a project file of version 2 from one of version 1.

    Version 1 held each setup where it was used; version 2 holds each once and points to it. The order of the log, which
    version 1 did not keep, follows the times it gives; records without a setup count as done on the one their configuration
    has now, as they did then.
    """
    setups = _Setups()
    current = {
        c["id"]: next(r["setup"] for r in c["revisions"] if r["number"] == c["current_revision"])
        for c in old["configurations"]
    }
    sorties = {s["id"]: s for s in old["sorties"]}
    events = [(r["recorded_at"], 0, r["id"]) for r in old["records"]]
    events += [(s["landed_at"], 1, s["id"]) for s in old["sorties"] if s["landed_at"] is not None]
    order = {e[2]: i for i, e in enumerate(sorted(events), start=1)}
    return {
        **{k: old[k] for k in ("id", "name", "story", "stand_in")},
        "configurations": [_configuration(c, setups) for c in old["configurations"]],
        "sorties": [_sortie(s, setups, order) for s in old["sorties"]],
        "records": [_record(r, setups, order, sorties, current) for r in old["records"]],
        "choices": [],
        "work_orders": [_work_order(o) for o in old["work_orders"]],
        # Last, when every setup has been seen.
        "setups": setups.bodies,
    }


def project_from_2(old: Body) -> Body:
    """Return a project file of version 3 from one of version 2: what a stand-in flew is a rehearsal; its twin is drawn anew."""
    return {**old, "rehearsal": any(s["simulated"] for s in old["sorties"]), "stand_in": None}


class _Setups:
    def __init__(self) -> None:
        self.bodies: dict[str, Body] = {}
        self._labels: dict[str, str] = {}

    def keep(self, body: Body) -> str:
        text = json.dumps(body, sort_keys=True)
        label = self._labels.setdefault(text, f"setup-{len(self._labels) + 1}")
        self.bodies[label] = {"schema_version": 1, "body": body}
        return label


def _configuration(c: Body, setups: _Setups) -> Body:
    numbers = {r["number"] for r in c["revisions"]}
    revisions = [
        {
            "number": r["number"],
            "parent": r["number"] - 1 if r["number"] - 1 in numbers else None,
            "words": r["words"],
            "setup": setups.keep(r["setup"]),
        }
        for r in c["revisions"]
    ]
    return {
        **{k: c[k] for k in ("id", "number", "change_words", "current_revision")},
        "opened_cards": c["stale_cards"],
        "revisions": revisions,
    }


_NUMBERS = ("key", "value", "sigma", "low", "high", "rail_low", "rail_high")


def _sortie(s: Body, setups: _Setups, order: dict[str, int]) -> Body:
    kept = ("id", "configuration_id", "number", "status", "alone", "simulated", "wind", "created_at", "landed_at")
    return {
        **{k: s[k] for k in kept},
        "card_ids": list(dict.fromkeys(s["card_ids"])),
        "setup": setups.keep(s["setup"]),
        "predicted": [{k: t[k] for k in _NUMBERS} for t in s.get("predicted", [])],
        "gate_passes": [],
        "landed_order": order.get(s["id"]),
    }


def _record(
    r: Body, setups: _Setups, order: dict[str, int], sorties: dict[str, Body], current: dict[str, Body]
) -> Body:
    sortie = sorties.get(r["sortie_id"] or "")
    setup = sortie["setup"] if sortie else r.get("setup") or current[r["configuration_id"]]
    landed = [s["number"] for s in sorties.values() if s["landed_at"] is not None and order[s["id"]] < order[r["id"]]]
    return {
        **{k: r[k] for k in ("id", "configuration_id", "sortie_id", "recorded_at", "record")},
        "setup": setups.keep(setup),
        "order": order[r["id"]],
        "epoch": 2 * sortie["number"] - 1 if sortie else 2 * max(landed, default=0),
    }


def _work_order(o: Body) -> Body:
    return {
        **{k: o[k] for k in ("id", "after_sortie_id", "to_configuration_id", "actions", "created_at")},
        "proofs": [
            {"action": int(i), "reading": reading, "proved_at": o["created_at"]}
            for i, reading in sorted(o["proofs"].items(), key=lambda p: int(p[0]))
        ],
    }
