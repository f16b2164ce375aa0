"""Faults seeded into the physics, one at a time: how many do the tests of that room find?

``python -m bench.mutations [N] [seed=S] [ROOM ...]`` (default 60 faults over all rooms) copies the tree, changes one operator, number,
comparison or sign in a copy, and runs the tests of the room with the conventions and the references. Those tests must pass
first without a fault: else every fault would count as found. Survivors are printed, to be read: a fault that changes nothing
anybody can see is no gap. Solvers' tolerances and the generated table of sections are left alone.
"""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from queue import Queue
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
ROOMS = ("atmosphere", "mass", "stability", "power", "controls", "observe", "diagnose", "correct")
ALWAYS = ("tests/conventions", "tests/reference")
ADVICE = ("observe", "diagnose", "correct")
"""The rooms the advice matrix goes through from end to end: it is a test of each of them."""

QUICK = ("--noconftest", "-p", "no:schemathesis", "-p", "no:xdist")
"""The core needs neither server nor fixtures: most of the time of a short run was their start."""

PAGE = "tests/conventions/test_named_numbers.py"
"""Holds every named number against its page: what is found by it alone is said apart."""

WORKERS = 2
MOST_S = 600
_TOLERANCE = 1e-5
"""Numbers below this are where a solver stops: nobody can see another one."""

GENERATED = ("section_library.py",)

_SWAPPED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
_TURNED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.Gt,
    ast.Gt: ast.Lt,
    ast.LtE: ast.Gt,
    ast.GtE: ast.Lt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
}


@dataclass(frozen=True)
class Fault:
    """One change of one file: where it is and what it does."""

    room: str
    file: str
    line: int
    words: str
    source: str


def faults_of(room: str) -> list[Fault]:
    """Return every fault that can be seeded into a room."""
    found = []
    for file in sorted(f for f in (ROOT / "src/jinba/core" / room).glob("*.py") if f.name not in GENERATED):
        tree = ast.parse(file.read_text())
        for n, node in enumerate(ast.walk(tree)):
            words = _change(copy.deepcopy(node))
            if words is not None and _computes(tree, node):
                changed = copy.deepcopy(tree)
                _change(next(x for i, x in enumerate(ast.walk(changed)) if i == n))
                place = str(file.relative_to(ROOT))
                found.append(Fault(room, place, getattr(node, "lineno", 0), words, ast.unparse(changed)))
    return found


def _change(node: ast.AST) -> str | None:
    """Change a node in place; return what was changed, None for a node that is left."""
    if isinstance(node, ast.BinOp) and type(node.op) in _SWAPPED:
        before = ast.unparse(node)
        node.op = _SWAPPED[type(node.op)]()
        return f"{before}  ->  {ast.unparse(node)}"
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _TURNED:
        before = ast.unparse(node)
        node.ops[0] = _TURNED[type(node.ops[0])]()
        return f"{before}  ->  {ast.unparse(node)}"
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        before = ast.unparse(node)
        node.op = ast.UAdd()
        return f"{before}  ->  {ast.unparse(node)}"
    if (
        isinstance(node, ast.Constant)
        and isinstance(node.value, float)
        and node.value not in (0.0, 1.0)
        and abs(node.value) > _TOLERANCE
    ):
        number = node.value
        node.value = number * 1.7
        return f"{number}  ->  {number * 1.7}"
    return None


_SOLVERS = ("_STEPS",)
"""Names of a solver's own numbers: the steps of a difference quotient change nothing anybody can see."""


def _computes(tree: ast.Module, node: ast.AST) -> bool:
    """Whether a node stands where something is computed: not in a range check's bound, not among a solver's own numbers."""
    left: list[ast.AST] = [
        p for p in ast.walk(tree) if isinstance(p, ast.Call) and getattr(p.func, "id", "") == "check_range"
    ]
    left += [p for p in tree.body if isinstance(p, ast.Assign) and getattr(p.targets[0], "id", "") in _SOLVERS]
    return hasattr(node, "lineno") and not any(x is node for part in left for x in ast.walk(part))


def found_by_tests(fault: Fault, tree: Path) -> str:
    """Return what finds the fault in a copy of the tree: "tests" of the room, the "page" of named numbers alone, or nothing."""
    place = tree / fault.file
    whole = place.read_text()
    place.write_text(fault.source)
    try:
        if not tests_pass(fault.room, tree):
            return "tests"
        return "" if _pass((PAGE,), tree) else "page"
    finally:
        place.write_text(whole)


def tests_pass(room: str, tree: Path) -> bool:
    """Return whether the tests of a room pass in a copy of the tree; tests that take too long do not."""
    asked = (f"tests/core/{room}", *ALWAYS, *(("tests/core/test_advice.py",) if room in ADVICE else ()))
    return _pass((*(t for t in asked if (tree / t).exists()), f"--ignore={PAGE}"), tree)


def _pass(asked: tuple[str, ...], tree: Path) -> bool:
    command = [sys.executable, "-m", "pytest", "-x", "-q", "--no-header", *QUICK, *asked]
    same = {**os.environ, "CI": "1", "OPENBLAS_NUM_THREADS": "1"}  # hypothesis then draws the same cases every time
    try:
        done = subprocess.run(command, cwd=tree, env=same, capture_output=True, timeout=MOST_S, check=False)
        return done.returncode == 0
    except subprocess.TimeoutExpired:
        return False


def main() -> None:
    """Seed so many faults, drawn evenly over the rooms, and print what was found and what was not."""
    asked = [a for a in sys.argv[1:] if a.isdecimal()]
    seeds = [int(a.removeprefix("seed=")) for a in sys.argv[1:] if a.startswith("seed=")]
    rooms = [a for a in sys.argv[1:] if a in ROOMS] or list(ROOMS)
    count, rng = int(asked[0]) if asked else 60, random.Random(seeds[0] if seeds else 11)
    drawn = [f for room in rooms for f in rng.sample(faults_of(room), max(1, count // len(rooms)))]
    with tempfile.TemporaryDirectory(prefix="jinba-faults-") as folder:
        trees: Queue[Path] = Queue()
        for i in range(WORKERS):
            tree = Path(folder) / str(i)
            for part in ("src", "tests", "bench", "docs", "pyproject.toml"):
                copied = ROOT / part
                if copied.is_dir():
                    shutil.copytree(copied, tree / part, ignore=shutil.ignore_patterns("__pycache__"))
                else:
                    shutil.copy(copied, tree / part)
            trees.put(tree)

        def in_a_tree(ask: Callable[[Any, Path], Any], about: Any) -> Any:
            tree = trees.get()
            try:
                return ask(about, tree)
            finally:
                trees.put(tree)

        with ThreadPoolExecutor(WORKERS) as pool:
            passing = list(pool.map(partial(in_a_tree, tests_pass), rooms))
            if not in_a_tree(lambda about, tree: _pass(about, tree), (PAGE,)):
                raise SystemExit("the page of named numbers is not what the code says: nothing can be said")
            if not all(passing):
                failing = [room for room, passes in zip(rooms, passing, strict=True) if not passes]
                raise SystemExit(f"tests fail without any fault in {', '.join(failing)}: nothing can be said")
            outcomes = list(zip(drawn, pool.map(partial(in_a_tree, found_by_tests), drawn), strict=True))
    seeded, found = Counter(f.room for f, _ in outcomes), Counter(f.room for f, hit in outcomes if hit)
    for fault, hit in outcomes:
        if not hit:
            print(f"survived: {fault.file}:{fault.line}  {fault.words}")
    for room in rooms:
        print(f"{room:12s} {found[room]} of {seeded[room]}")
    total, by_page = sum(seeded.values()), sum(hit == "page" for _, hit in outcomes)
    print(
        f"found {sum(found.values())} of {total}: {sum(found.values()) / total:.0%}, {by_page} of them by the page alone"
    )


if __name__ == "__main__":
    main()
