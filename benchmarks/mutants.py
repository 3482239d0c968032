"""How many small faults the tests notice: `python -m benchmarks.mutants [COUNT [SEED]]` or `... --at FILE:LINE`.

A sample of places in the functions of core and formats, as many of each package, is changed one at a time in a copy of
the tree: a comparison, an operator, a number, a condition. Tables and assumptions are judgement and left alone. Tests
of the same package run first, then all of core and formats: what only a page or a shop notices counts as unnoticed.
What survives is printed with its place, to be looked at: a test is missing, or the change says the same.
"""

from __future__ import annotations

import ast
import compileall
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
COUNT, SEED, WORKERS, LIMIT_S = 84, 17, 2, 400
LEFT_OUT = ("figures", "__init__.py", "base/why.py", "upgrades", "assumptions.py")
SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.Add: ast.Sub, ast.Sub: ast.Add,
    ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip
SLOW = ("heat/test_fleet", "learn/test_correction", "choose/test_calibration", "learn/test_attribution")


@dataclass(frozen=True)
class Mutant:
    """One change: the file, the line, what stood there and what stands there now, and the whole text."""

    path: Path
    line: int
    before: str
    after: str
    text: str

    @property
    def package(self) -> str:
        parts = self.path.relative_to(ROOT / "src/brachium").parts
        return "formats" if parts[0] == "formats" else parts[1]

    @property
    def place(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.line}: {self.before}  ->  {self.after}"


def sources() -> list[Path]:
    """Files that are changed."""
    found = [*(ROOT / "src/brachium/core").rglob("*.py"), *(ROOT / "src/brachium/formats").rglob("*.py")]
    return sorted(p for p in found if not any(word in str(p.relative_to(ROOT)) for word in LEFT_OUT))


def mutants_of(path: Path) -> Iterator[Mutant]:
    """Every change of a file."""
    text = path.read_text()
    lines = text.split("\n")
    inside = [n for n in ast.walk(ast.parse(text)) if isinstance(n, ast.FunctionDef)]
    inner = {id(n) for f in inside for n in ast.walk(f) if n is not f and isinstance(n, ast.FunctionDef)}
    for node in (n for f in inside if id(f) not in inner for n in _changeable(ast.Module([f], []))):
        for changed in _changes(node):
            first, last = node.lineno - 1, (node.end_lineno or node.lineno) - 1
            start = len(lines[first].encode()[: node.col_offset].decode())
            stop = len(lines[last].encode()[: node.end_col_offset].decode())
            new = f"{lines[first][:start]}({ast.unparse(changed)}){lines[last][stop:]}"
            whole = "\n".join([*lines[:first], new, *lines[last + 1 :]])
            yield Mutant(path, node.lineno, ast.unparse(node), ast.unparse(changed), whole)


def _changeable(tree: ast.AST) -> Iterator[ast.expr]:
    """Expressions inside functions and assignments; annotations, texts and assertions are left alone."""
    for node in ast.iter_child_nodes(tree):
        if isinstance(node, ast.Assert | ast.Import | ast.ImportFrom | ast.arg | ast.JoinedStr):
            continue
        if isinstance(node, ast.AnnAssign):
            if node.value is not None:
                yield from _changeable(ast.Expression(node.value))
            continue
        if isinstance(node, ast.FunctionDef):
            for one in [*node.body, *node.args.defaults]:
                yield from _changeable(ast.Module([one] if isinstance(one, ast.stmt) else [ast.Expr(one)], []))
            continue
        if isinstance(node, ast.Compare | ast.BinOp | ast.BoolOp | ast.Constant | ast.UnaryOp | ast.Call):
            yield node
        yield from _changeable(node)


def _changes(node: ast.expr) -> Iterator[ast.expr]:
    new = copy.deepcopy(node)
    match new:
        case ast.Compare(ops=[op]) if type(op) in SWAPS:
            new.ops = [SWAPS[type(op)]()]  # type: ignore[list-item]
            yield new
        case ast.BinOp(op=op, left=left) if type(op) in SWAPS and not isinstance(left, ast.JoinedStr):
            new.op = SWAPS[type(op)]()  # type: ignore[assignment]
            yield new
        case ast.BoolOp(op=op):
            new.op = SWAPS[type(op)]()  # type: ignore[assignment]
            yield new
        case ast.Constant(value=value) if isinstance(value, bool):
            new.value = not value
            yield new
        case ast.Constant(value=value) if isinstance(value, int | float):
            new.value = value + 1 if isinstance(value, int) else value * 1.25 if value else 0.5
            yield new
        case ast.UnaryOp(op=ast.Not()):
            yield new.operand
        case ast.Call(func=ast.Name(id="min" | "max" as name)):
            new.func = ast.Name({"min": "max", "max": "min"}[name], ast.Load())
            yield new
        case _:
            return


def sample(count: int, seed: int) -> list[Mutant]:
    """As many of each package, drawn by a fixed seed."""
    rng = random.Random(seed)
    by_package: dict[str, list[Mutant]] = {}
    for path in sources():
        for mutant in mutants_of(path):
            by_package.setdefault(mutant.package, []).append(mutant)
    out: list[Mutant] = []
    packages = sorted(by_package)
    while len(out) < count:
        for package in packages[: count - len(out)]:
            out.append(by_package[package].pop(rng.randrange(len(by_package[package]))))
    return out


def noticed(mutant: Mutant, tree: Path) -> str:
    """Which tests notice a change in a copy of the tree; empty where none does."""
    target = tree / mutant.path.relative_to(ROOT)
    kept = target.read_text()
    target.write_text(mutant.text)
    own = "tests/formats" if mutant.package == "formats" else f"tests/core/{mutant.package}"
    rest = ["tests/core", "tests/formats"]
    slow = [f"--ignore=tests/core/{name}.py" for name in SLOW if not name.startswith(f"{mutant.package}/")]
    try:
        for name, arguments in (("its package", [own]), ("others", [*rest, *slow, f"--ignore={own}"])):
            if (tree / arguments[0]).exists() and _fails(tree, arguments):
                return name
    finally:
        target.write_text(kept)
    return ""


def _fails(tree: Path, arguments: list[str]) -> bool:
    environment = {**os.environ, "PYTHONPATH": str(tree / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    base = tree / "tmp"
    shutil.rmtree(base, ignore_errors=True)
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist",
               f"--basetemp={base}", "--hypothesis-seed=0", *arguments]  # fmt: skip
    try:
        done = subprocess.run(command, cwd=tree, env=environment, capture_output=True, timeout=LIMIT_S)
    except subprocess.TimeoutExpired:
        return True  # a change that never ends is noticed
    return done.returncode not in (0, 5)


def _copy_tree() -> Path:
    tree = Path(tempfile.mkdtemp(prefix="mutants-"))
    for name in ("src", "tests", "scripts", "benchmarks", "docs"):
        shutil.copytree(ROOT / name, tree / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copy(ROOT / "pyproject.toml", tree)
    compileall.compile_dir(tree / "src", quiet=1, workers=1)  # a changed file is newer than its compiled one
    return tree


def run(mutants: list[Mutant]) -> int:
    """Try them, two at a time; how many survive."""
    trees = [_copy_tree() for _ in range(WORKERS)]
    killed: Counter[str] = Counter()
    tried: Counter[str] = Counter()

    def work(lot: int) -> None:
        for mutant in mutants[lot::WORKERS]:
            by = noticed(mutant, trees[lot])
            tried[mutant.package] += 1
            killed[mutant.package] += bool(by)
            print(f"{'noticed by ' + by if by else 'SURVIVES':22} {mutant.place[:150]}", flush=True)

    try:
        with ThreadPoolExecutor(WORKERS) as pool:
            list(pool.map(work, range(WORKERS)))
    finally:
        for tree in trees:
            shutil.rmtree(tree, ignore_errors=True)
    for package in sorted(tried):
        print(f"  {package:10} {killed[package]} of {tried[package]}")
    total, kills = sum(tried.values()), sum(killed.values())
    print(f"{kills} of {total} noticed: {100 * kills / max(total, 1):.0f} %")
    return total - kills


def main(arguments: list[str]) -> int:
    """Try a sample, or the changes of one line."""
    if arguments[:1] == ["--at"]:
        name, _, line = arguments[1].rpartition(":")
        return run([m for m in mutants_of(ROOT / name) if m.line == int(line)])
    numbers = [int(a) for a in arguments]
    return run(sample(*(numbers + [COUNT, SEED][len(numbers) :])))


if __name__ == "__main__":
    sys.exit(min(main(sys.argv[1:]), 1))
