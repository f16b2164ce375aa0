"""Every public function of the core that gives a number says where it comes from, and every number it takes its unit."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

CORE = Path(__file__).resolve().parents[2] / "src" / "jinba" / "core"
SOURCE = re.compile(
    r"(?i)references?:|source|derived here|common practice|from memory|docs/|handbook|\b(19|20)\d\d\b|ISO|FAA|NACA|RFC"
)
NUMBER = re.compile(r"float|Array|Floats|ndarray")
UNIT = re.compile(
    r"_(m|mm|m2|m3|kg|g|rad|deg|s|mps|n|nm|pa|k|us|min|minutes|kg_m2|kg_m3|m_s|per_\w+|fraction|share|sigma)$"
)


def functions(node: ast.AST, of: str = "") -> Iterator[tuple[str, ast.FunctionDef]]:
    for child in getattr(node, "body", []):
        name = getattr(child, "name", "_")
        if name.startswith("_"):
            continue
        if isinstance(child, ast.ClassDef):
            yield from functions(child, f"{name}.")
        elif isinstance(child, ast.FunctionDef):
            yield f"{of}{name}", child


MODULES = sorted(p for p in CORE.rglob("*.py") if p.name not in ("__init__.py", "errors.py"))


@pytest.mark.parametrize("module", MODULES, ids=lambda p: str(p.relative_to(CORE)))
def test_what_gives_a_number_says_where_it_comes_from(module):
    given = [(n, f) for n, f in functions(ast.parse(module.read_text())) if f.returns is not None]
    numbers = [(n, f) for n, f in given if NUMBER.search(ast.unparse(f.returns))]
    silent = [n for n, f in numbers if not SOURCE.search(ast.get_docstring(f) or "")]
    assert silent == [], "say its source, or that it is derived here, in its docstring"


@pytest.mark.parametrize("module", MODULES, ids=lambda p: str(p.relative_to(CORE)))
def test_every_number_that_is_taken_says_its_unit(module):
    """By the end of its name, or in the docstring: "[rad]", "[-]", "without unit"."""
    silent = []
    for name, f in functions(ast.parse(module.read_text())):
        words = ast.get_docstring(f) or ""
        for a in (*f.args.args, *f.args.kwonlyargs):
            kind = "" if a.annotation is None else ast.unparse(a.annotation)
            if re.search(r"\bfloat\b", kind) and not UNIT.search(a.arg) and not ("[" in words or "unit" in words):
                silent.append(f"{name}({a.arg})")
    assert silent == [], "say the unit in the name or in the docstring"
