"""Change the core at random places and see which changes no test notices: ``.venv/bin/python -m tools.mutate --count 100``.

Each change is one of: another number, another comparison, plus for minus, times for over, the other end of ``min`` and
``max``, *and* for *or*, true for false. It is made in a copy of the tree; the tests of the core run until the first that
fails. Survivors are printed with their place: either a test is missing, or the change makes no difference.
"""

from __future__ import annotations

import argparse
import ast
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).parents[1]
CORE = Path("src/ubrex/core")
# The quickest and farthest-reaching first: most changes are noticed within seconds.
TESTS = (
    "tests/core/calibrate/test_rules_as_they_were.py",
    "tests/core/test_tables_as_they_are.py",
    "tests/core/gcode/test_pieces_as_drawn.py",
    "tests/server/test_rules_hold.py::test_a_rule_gives_what_it_gave",
    "tests/server/test_calc.py::test_a_public_vector_is_met",
    "tests/core",
)

ROUNDING = 1e-5
"""Numbers smaller than this are guards."""

COMPARISONS = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
OPERATORS = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}


@dataclass(frozen=True)
class Mutant:
    """One change: the file, the node that goes, and what stands in its place."""

    path: Path
    node: ast.expr
    text: str

    def applied(self, source: str) -> str:
        """The file with the change made."""
        lines = source.splitlines(keepends=True)
        before = (
            "".join(lines[: self.node.lineno - 1]).encode()
            + lines[self.node.lineno - 1].encode()[: self.node.col_offset]
        )
        last, end = self.node.end_lineno or self.node.lineno, self.node.end_col_offset or 0
        after = lines[last - 1].encode()[end:] + "".join(lines[last:]).encode()
        return (before + self.text.encode() + after).decode()

    def __str__(self) -> str:
        return f"{self.path}:{self.node.lineno}: {ast.unparse(self.node)} -> {self.text}"


def mutants(path: Path, source: str) -> Iterator[Mutant]:
    """Every change that could be made to a file; docstrings, messages and annotations are left alone."""
    tree = ast.parse(source)
    # How a record is made (frozen, slots) is no rule: nothing that is worked out hangs on it.
    made = [one for node in ast.walk(tree) if isinstance(node, ast.ClassDef) for one in node.decorator_list]
    left_alone = {id(part) for one in made for part in ast.walk(one)}
    # Nor do these decide anything: that what goes together is of one length, and how much is kept for the next call.
    aside = {"strict", "maxsize"}
    left_alone |= {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.keyword) and node.arg in aside}
    # Nor is what only guards against rounding: no test can tell one billionth from another.
    left_alone |= {id(node) for node in ast.walk(tree) if _guards(node)}
    for node in ast.walk(tree):
        if id(node) in left_alone:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, bool):
            yield Mutant(path, node, str(not node.value))
        elif isinstance(node, ast.Constant) and isinstance(node.value, int):
            yield Mutant(path, node, repr(node.value + 1))
        elif isinstance(node, ast.Constant) and isinstance(node.value, float):
            yield Mutant(path, node, repr(node.value * 1.25 + 0.001))
        elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in COMPARISONS:
            left, right = ast.unparse(node.left), ast.unparse(node.comparators[0])
            yield Mutant(path, node, f"({left} {COMPARISONS[type(node.ops[0])]} {right})")
        elif isinstance(node, ast.BinOp) and type(node.op) in OPERATORS and not _is_type(node):
            left, right = ast.unparse(node.left), ast.unparse(node.right)
            yield Mutant(path, node, f"(({left}) {OPERATORS[type(node.op)]} ({right}))")
        elif isinstance(node, ast.BoolOp):
            word = " or " if isinstance(node.op, ast.And) else " and "
            yield Mutant(path, node, "(" + word.join(f"({ast.unparse(value)})" for value in node.values) + ")")
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in {"min", "max"}:
            yield Mutant(path, node.func, {"min": "max", "max": "min"}[node.func.id])


def _guards(node: ast.AST) -> bool:
    """Whether a number is, a sum ends in, or a comparison stands at, a guard against rounding."""
    if isinstance(node, ast.BinOp):
        return _guards(node.right)
    if isinstance(node, ast.Compare):
        return any(_guards(side) for side in (node.left, *node.comparators))
    return isinstance(node, ast.Constant) and isinstance(node.value, float) and 0 < abs(node.value) < ROUNDING


def _is_type(node: ast.BinOp) -> bool:
    return any(isinstance(part, ast.Constant) and isinstance(part.value, str) for part in (node.left, node.right))


def killed(tree: Path, mutant: Mutant) -> bool:
    """Whether any test fails with the change made."""
    path = tree / mutant.path
    source = path.read_text()
    path.write_text(mutant.applied(source))
    try:
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-m", "not slow", "-p", "no:cacheprovider", *TESTS]
        found = subprocess.run(command, cwd=tree, capture_output=True, timeout=600, check=False, env=_environment(tree))
        return found.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(source)


def _environment(tree: Path) -> dict[str, str]:
    return {"PYTHONPATH": f"{tree / 'src'}:{tree}", "PATH": "/usr/bin:/bin", "PYTHONDONTWRITEBYTECODE": "1"}


def main() -> None:
    """Sample, change, test, print the share killed and the survivors."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=14)
    parser.add_argument("--jobs", type=int, default=2, help="how many at the same time")
    options = parser.parse_args()
    files = sorted(path.relative_to(ROOT) for path in (ROOT / CORE).rglob("*.py"))
    every = [mutant for path in files for mutant in mutants(path, (ROOT / path).read_text())]
    sample = random.Random(options.seed).sample(every, min(options.count, len(every)))  # noqa: S311 - not a secret
    with tempfile.TemporaryDirectory(prefix="ubrex-mutate-") as folder:
        trees: Queue[Path] = Queue()
        for number in range(options.jobs):
            trees.put(_copied(Path(folder) / str(number)))

        def survives(mutant: Mutant) -> bool:
            tree = trees.get()
            try:
                return not killed(tree, mutant)
            finally:
                trees.put(tree)

        survivors = 0
        with ThreadPoolExecutor(options.jobs) as pool:
            for number, (mutant, left) in enumerate(zip(sample, pool.map(survives, sample), strict=True), start=1):
                survivors += left
                if left:
                    print(f"survives: {mutant}", flush=True)
                print(f"{number} of {len(sample)}, {survivors} survive", file=sys.stderr, flush=True)
    share = 1 - survivors / len(sample)
    print(f"{len(sample)} of {len(every)} changes sampled (seed {options.seed}); killed {share:.0%}")


def _copied(tree: Path) -> Path:
    """A tree of its own, so that changes made at the same time do not meet."""
    for name in ("src", "tests", "docs"):
        shutil.copytree(ROOT / name, tree / name)
    shutil.copy(ROOT / "pyproject.toml", tree)
    return tree


if __name__ == "__main__":
    main()
