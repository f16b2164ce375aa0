"""The nomenclature page of the documentation, written from ``core.symbols``."""

from __future__ import annotations

from jinba.core.symbols import SYMBOLS

_HEAD = """# Nomenclature

Generated from `src/jinba/core/symbols.py` by `python -m jinba.cli.main nomenclature docs/nomenclature.md`; a test keeps it current.

| symbol | name in code | unit | sign | meaning |
|---|---|---|---|---|
"""


def nomenclature_page() -> str:
    """Return the page as Markdown."""
    rows = (f"| {s.symbol} | `{s.name}` | {s.unit} | {s.sign} | {s.meaning} |\n" for s in SYMBOLS)
    return _HEAD + "".join(rows)
