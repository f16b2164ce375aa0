"""Sentences hold typed arguments and are written in the reader's own units by one renderer."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import constants

import jinba
from jinba.core.cards.model import CardRecord, Outcome, Reading
from jinba.core.cards.record_words import record_words
from jinba.core.frames import Response
from jinba.core.plan.heights import cards_for
from jinba.core.spoken import (
    MARKS,
    UNITS,
    Quantity,
    a_distance,
    a_length,
    a_mass,
    a_speed,
    an_amount,
    arguments,
    plus_minus,
    spoken,
    units_chosen,
)
from tests.builders import model

IMPERIAL = units_chosen({"length": "in", "distance": "ft", "mass": "oz", "speed": "mph"})
SENTENCE = f"Move it {a_length(0.012)} aft, add {a_mass(0.0125, 1)}, at {a_speed(9.25, 1)} from {a_distance(60)}."

OUTSIDE = {
    "mm": constants.milli,
    "cm": constants.centi,
    "m": 1.0,
    "in": constants.inch,
    "ft": constants.foot,
    "g": constants.gram,
    "kg": 1.0,
    "oz": constants.oz,
    "lb": constants.lb,
    "m/s": 1.0,
    "km/h": constants.kmh,
    "mph": constants.mph,
    "kt": constants.knot,
    "ft/s": constants.foot,
}
"""scipy.constants, from CODATA and NIST SP 811."""


def test_a_sentence_is_written_in_the_readers_own_units():
    assert spoken(SENTENCE) == "Move it 12 mm aft, add 12.5 g, at 9.2 m/s from 60 m."
    assert spoken(SENTENCE, IMPERIAL) == "Move it 0.47 in aft, add 0.441 oz, at 20.7 mph from 197 ft."
    assert [(a.quantity, a.value, a.digits) for a in arguments(SENTENCE)] == [
        (Quantity.LENGTH, 0.012, 0),
        (Quantity.MASS, 0.0125, 1),
        (Quantity.SPEED, 9.25, 1),
        (Quantity.DISTANCE, 60.0, 0),
    ]


def test_the_sizes_of_the_units_are_those_of_an_outside_table():
    found = {unit.key: unit.si for units in UNITS.values() for unit in units}
    assert found == pytest.approx(OUTSIDE, rel=1e-12)


@given(
    st.sampled_from([(q, u.key) for q, units in UNITS.items() for u in units]),
    st.floats(-50, 50),
    st.integers(0, 3),
)
def test_what_is_written_says_the_value_to_its_last_place(unit, value, digits):
    quantity, key = unit
    writer = {"length": a_length, "distance": a_distance, "mass": a_mass, "speed": a_speed}[quantity]
    text = spoken(writer(value, digits), units_chosen({quantity: key}))
    number, written = text.split(" ")
    places = len(number.partition(".")[2])
    assert written == key
    assert float(number) * OUTSIDE[key] == pytest.approx(
        value, abs=0.5 * OUTSIDE[key] * 10**-places + 1e-5 * abs(value)
    )
    assert number.lstrip("-0.") or not number.startswith("-"), "a zero has no sign"


@given(st.text(alphabet=[*MARKS, *"length mass 0.15e-9"], max_size=40))
def test_whatever_a_name_holds_is_written_without_marks(text):
    assert not set(spoken(f"{text} moved {a_length(0.01)}")) & set(MARKS)


def test_unknown_units_are_refused_with_those_that_are_known():
    with pytest.raises(KeyError, match="'furlong' is no unit of length; known: mm, in, cm, m, ft"):
        units_chosen({"length": "furlong"})
    with pytest.raises(KeyError, match="'colour' has no units to choose"):
        units_chosen({"colour": "mm"})


def test_values_with_a_sigma_and_those_without_units_to_choose():
    assert plus_minus(9.4, 1.0, "% MAC") == "9.4 ± 1.0 % MAC"
    assert spoken(plus_minus(9.25, 0.5, "m/s"), IMPERIAL) == "20.7 mph ± 1.1 mph"
    assert spoken(an_amount(3.0, "mm"), IMPERIAL) == "0.118 in"


@pytest.mark.parametrize(
    ("card", "readings", "words"),
    [
        (
            "F2",
            Reading("pitch_clicks", 1, direction=Response.NOSE_UP),
            "Elevator clicks in all, this flight: 1 click nose up",
        ),
        (
            "F2",
            Reading("pitch_clicks", 3, direction=Response.NOSE_DOWN),
            "Elevator clicks in all, this flight: 3 clicks nose down",
        ),
        ("F8", Reading("entry_speed", 7.5), "Speed at the break, measured: 16.8 mph"),
        ("A3", Reading("elevator_mm", 3), "Elevator trailing edge off fair by: 0.118 in"),
        ("gone", Reading("old_measure", 2), "old measure: 2"),
    ],
)
def test_an_entry_of_the_log_is_said_in_words(card, readings, words):
    said = record_words(CardRecord(card, Outcome.DONE, (readings,), note="gusty", left_alone=False))
    assert [spoken(s, IMPERIAL) for s in said] == ["could not be left alone", words, '"gusty"']


UNIT_BY_HAND = re.compile(r"(?<!pulls )(?:\d|\x00) (?:mm|cm|g|kg|m/s|m)\b(?!/m3)")


def sentences(path: Path) -> list[tuple[int, str]]:
    """The texts a file puts together, values replaced by a mark; what documents, names a unit or matches is none."""
    tree = ast.parse(path.read_text())
    held = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    held |= {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.keyword) and n.arg in ("unit", "hint")}
    inside = {id(v) for n in ast.walk(tree) if isinstance(n, ast.JoinedStr) for v in n.values}
    found = []
    for node in ast.walk(tree):
        if id(node) in held | inside:
            continue
        if isinstance(node, ast.JoinedStr):
            found.append(
                (node.lineno, "".join(str(v.value) if isinstance(v, ast.Constant) else "\0" for v in node.values))
            )
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            found.append((node.lineno, node.value))
    return found


def test_no_sentence_of_the_core_writes_a_unit_by_hand():
    root = Path(jinba.__file__).parent / "core"
    apart = {"spoken.py", "errors.py", "symbols.py"}
    files = [p for p in root.rglob("*.py") if p.name not in apart and "flight" not in p.parts]
    assert len(files) > 80
    found = [f"{p.name}:{line}: {text}" for p in files for line, text in sentences(p) if UNIT_BY_HAND.search(text)]
    assert not found, "\n".join(found)


def test_the_cautions_of_the_cards_speak_in_the_readers_units():
    heights = [c for card in cards_for(model()).values() for c in card.cautions if arguments(c)]
    said = {spoken(h, IMPERIAL) for h in heights}
    assert said >= {"At least 197 ft: by this model's speed.", "Go round from 30 ft or more."}
