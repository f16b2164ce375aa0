"""Every message of the core as a pilot reads it, metric and imperial: no radians, no bare coefficients, no ids, no unit of the other kind."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from pathlib import Path

import pytest

import jinba
from jinba.core.bench.answer import bench_answer
from jinba.core.bench.controls import controls_answer
from jinba.core.cards.emergency import emergencies_for
from jinba.core.errors import OutOfRangeError
from jinba.core.plan.heights import cards_for
from jinba.core.plan.programme import programme
from jinba.core.silhouettes import SILHOUETTES
from jinba.core.spoken import METRIC, spoken, units_chosen
from tests.builders import model

IMPERIAL = units_chosen({"length": "in", "distance": "ft", "mass": "oz", "speed": "mph"})
CODE = re.compile(
    r"\brad\b|\bC[LDlmn]\b|[0-9a-f]{8}-[0-9a-f]{4}|UUID|\bNone\b|\bnan\b|\binf\b|\{|[\ufff9-\ufffb]|\be[+-]\d\d\b| -;| ;"
)
METRIC_UNIT = re.compile(r"\d (?:mm|cm|m|g|kg|m/s|km/h)\b(?!/m3| m2)")
LOADS = re.compile(r"pulls [\d.]+ g\b")
IMPERIAL_UNIT = re.compile(r"\d (?:in|ft|oz|lb|mph)\b")


def faults(words: str) -> list[str]:
    metric, imperial = spoken(words, METRIC), spoken(words, IMPERIAL)
    found = [f"{what}: {said}" for said in (metric, imperial) for what in CODE.findall(said)]
    found += [f"not metric: {metric}" for _ in IMPERIAL_UNIT.findall(metric)]
    return found + [f"not imperial: {imperial}" for _ in METRIC_UNIT.findall(LOADS.sub("", imperial))]


def ranges() -> Iterator[tuple[str, dict]]:
    """Every check of a range in the core: its name, unit and bounds as they are written."""
    for path in (Path(jinba.__file__).parent / "core").rglob("*.py"):
        if "flight" in path.parts:
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "check_range":
                given = {k.arg: k.value for k in node.keywords}
                name = ast.unparse(node.args[0]) if node.args else "it"
                bounds = {k: _number(given[k]) for k in ("low", "high") if k in given}
                if isinstance(given["unit"], ast.Constant):
                    yield f"{path.name}:{node.lineno}: {name}", {"unit": given["unit"].value, **bounds}


def _number(node: ast.expr) -> float:
    try:
        return float(ast.literal_eval(node))
    except (ValueError, TypeError):
        return 1.0


def test_every_value_out_of_range_is_said_in_the_pilots_units():
    checks = list(ranges())
    assert len(checks) > 150
    wrong = []
    for where, given in checks:
        low, high = given.get("low"), given.get("high")
        top = (abs(high) if high is not None else abs(low or 1.0)) or 1.0
        for value in (-31.7 * top, 31.7 * top, float("inf"), float("nan")):
            said = OutOfRangeError("wing chord", value, unit=given["unit"], low=low, high=high).title
            wrong += [f"{where}: {f}" for f in faults(said)]
    assert not wrong, "\n".join(wrong[:40])


@pytest.mark.parametrize(
    ("value", "unit", "low", "high", "metric", "imperial"),
    [
        (
            0.785398,
            "rad",
            -0.35,
            0.35,
            "incidence is 45°; it must be between -20° and 20°. Did you mean 4.5°?",
            "incidence is 45°; ",
        ),
        (
            210.0,
            "m",
            0.0,
            12.0,
            "is 210000 mm; it must be between 0 mm and 12000 mm. Did you mean 210 mm?",
            "is 8267.72 in;",
        ),
        (-1.3, "m", 0.2, 12.0, "Did you mean 1300 mm?", "Did you mean 51.18 in?"),
        (0.046, "kg", 0.1, None, "is 46 g; it must be at least 100 g.", "is 1.62 oz; it must be at least 3.53 oz."),
        (15.7, "", 0.05, 6.0, "is 15.7; it must be between 0.05 and 6.", "is 15.7;"),
        (
            7000.0,
            "m",
            -500.0,
            5000.0,
            "is 7000 m; it must be between -500 m and 5000 m.",
            "is 22966 ft; it must be between -1640 ft and 16404 ft.",
        ),
        (1.4, "share", 0.0, 1.0, "is 140 %; it must be between 0 % and 100 %.", "is 140 %;"),
        (200.0, "K", 230.0, 330.0, "is -73 °C; it must be between -43 °C and 57 °C.", "is -73 °C;"),
    ],
)
def test_a_value_out_of_range_names_what_was_probably_meant(value, unit, low, high, metric, imperial):
    title = OutOfRangeError("incidence", value, unit=unit, low=low, high=high).title
    assert metric in spoken(title)
    assert imperial in spoken(title, IMPERIAL)


def strings(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif is_dataclass(value) and not isinstance(value, type):
        for f in fields(value):
            if f.name not in ("key", "formula", "setup", "code", "focus"):
                yield from strings(getattr(value, f.name))
    elif isinstance(value, list | tuple):
        for part in value:
            yield from strings(part)
    elif isinstance(value, dict):
        for part in value.values():
            yield from strings(part)


@pytest.mark.parametrize("key", SILHOUETTES)
def test_everything_a_model_is_told_is_words_in_the_readers_units(key):
    c = model(key)
    askew = replace(c, items=tuple(replace(i, y_m=0.3, mass_kg=3 * i.mass_kg) for i in c.items))
    said = [bench_answer(c), bench_answer(askew), controls_answer(c), emergencies_for(c), cards_for(c)]
    said.append(programme(c, results={}, stale=frozenset(), sorties_flown=0))
    texts = {t for t in strings(said) if " " in t}
    assert len(texts) > 300
    wrong = [f for t in texts for f in faults(t)]
    assert not wrong, "\n".join(wrong[:40])
