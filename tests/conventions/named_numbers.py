"""The page of every named number of the physics: ``python -m tests.conventions.named_numbers`` writes it anew."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PAGE = ROOT / "docs/methods/named-numbers.md"
ROOMS = ("atmosphere", "mass", "stability", "power", "controls", "observe", "diagnose", "correct")
GENERATED = "section_library.py"
_HEAD = """# Named numbers

Every number of the physics that has a name, with what the code says of it: what it is, its unit and where it is from. Written by
`python -m tests.conventions.named_numbers`; a test fails when page and code differ, so that nobody changes one unseen.
"""


def page() -> str:
    """Return the page as the code says it."""
    parts = [_HEAD]
    for room in ROOMS:
        rows = [row for file in sorted((ROOT / "src/jinba/core" / room).glob("*.py")) for row in _rows(file)]
        if rows:
            parts.append("\n".join((f"## {room}", "", "| number | value | |", "|---|---|---|", *rows, "")))
    return "\n".join(parts)


def _rows(file: Path) -> Iterator[str]:
    if file.name == GENERATED:
        return
    body = ast.parse(file.read_text()).body
    for node, following in zip(body, (*body[1:], None), strict=True):
        if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name):
            name, value = node.targets[0].id, node.value
        elif isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name) and node.value is not None:
            name, value = node.target.id, node.value
        else:
            continue
        if any(isinstance(c, ast.Constant) and isinstance(c.value, float) for c in ast.walk(value)):
            yield f"| `{file.stem}.{name}` | `{_in_cell(ast.unparse(value))}` | {_in_cell(_said(following))} |"


def _said(following: ast.stmt | None) -> str:
    if isinstance(following, ast.Expr) and isinstance(following.value, ast.Constant):
        return " ".join(str(following.value.value).split())
    return ""


def _in_cell(text: str) -> str:
    return text.replace("|", "\\|")


if __name__ == "__main__":
    PAGE.write_text(page())
