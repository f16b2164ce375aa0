"""What a history costs: what-if, board, model page and sixty pages at once, beside the version before rows (308e144).

``python -m bench.history [N ...]`` flies models of 0, 2, 8 and 30 sorties and clones one to 400, in this tree and in a work
tree of the commit given by ``--against`` (default 308e144), one after the other on the same machine, and prints ratios.
"""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SORTIES = (0, 2, 8, 30)


def main() -> None:
    """Measure both and print one line a figure."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--against", default="308e144")
    parser.add_argument("--most-before", type=int, default=8, help="sorties up to which the version before is measured")
    args = parser.parse_args()
    now = measured(ROOT, [str(n) for n in SORTIES])
    with tempfile.TemporaryDirectory(prefix="jinba-against-") as folder:
        tree = Path(folder) / "tree"
        subprocess.run(["git", "worktree", "add", "-q", "--detach", str(tree), args.against], cwd=ROOT, check=True)
        try:
            before = measured(tree, [*(str(n) for n in SORTIES if n <= args.most_before), "--queue-all"])
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(tree)], cwd=ROOT, check=True)
    print(f"{'figure':44s} {'now':>10s} {args.against:>10s} {'ratio':>7s}")
    for key, value in now.items():
        old = before.get(key)
        ratio = "" if old is None or not value else f"{old / value:7.1f}"
        print(f"{key:44s} {value:10.1f} {'' if old is None else f'{old:10.1f}':>10s} {ratio}")


def measured(tree: Path, arguments: list[str]) -> dict[str, float]:
    """Return the figures of a tree, measured in a process of its own with this file's driver."""
    driver = Path(__file__).with_name("history_driver.py")
    environment = {**os.environ, "PYTHONPATH": str(tree / "src"), "OPENBLAS_NUM_THREADS": "1"}
    command = [sys.executable, str(driver), *arguments]
    ran = subprocess.run(command, env=environment, cwd=tree, capture_output=True, text=True, check=False)
    if ran.returncode != 0:
        raise SystemExit(f"the driver failed in {tree.name}:\n{ran.stderr[-2000:]}")
    return dict(json.loads(ran.stdout.splitlines()[-1]))


if __name__ == "__main__":
    main()
