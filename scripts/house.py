"""The structure of the program, measured from its own code: packages, floors, circles, the longest functions.

Run `python -m scripts.house`; it ends with 1 where a rule of the house is broken. tests/test_house.py asks the same.
"""

from __future__ import annotations

import ast
import sys
import tomllib
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src"
MOST_FILES = 25
MOST_COMPLEX = 15
MOST_EXCUSED = 10
Graph = Mapping[str, frozenset[str]]


def core_floors() -> tuple[tuple[str, ...], ...]:
    """The floors of core, lowest first, as the import contract states them; packages of one floor do not know one
    another."""
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text())
    contracts = settings["tool"]["importlinter"]["contracts"]
    layers = next(c["layers"] for c in contracts if c.get("containers") == ["brachium.core"])
    return tuple(tuple(name.strip() for name in layer.split("|")) for layer in reversed(layers))


@dataclass(frozen=True)
class Function:
    """One function: where it stands, its lines, and its ways (branches, loops, conditional expressions,
    comprehensions, boolean operators, and one)."""

    place: str
    lines: int
    complexity: int
    excuse: str


def modules(source: Path = SOURCE) -> dict[str, Path]:
    """Every module below a source folder by its dotted name; a package goes by its own name."""
    found = {}
    for path in sorted(source.rglob("*.py")):
        parts = path.relative_to(source).with_suffix("").parts
        found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path
    return found


@dataclass(frozen=True)
class _Read:
    """A file read once: its lines, its imports, its functions with their complexity."""

    lines: tuple[str, ...]
    imports: tuple[ast.Import | ast.ImportFrom, ...]
    functions: tuple[tuple[ast.FunctionDef | ast.AsyncFunctionDef, int], ...]


@cache
def _read(path: Path) -> _Read:
    """One walk through the tree: both the graph and the functions need it."""
    text = path.read_text()
    imports: list[ast.Import | ast.ImportFrom] = []
    found: list[tuple[ast.FunctionDef | ast.AsyncFunctionDef, int]] = []

    def visit(node: ast.AST) -> int:
        if isinstance(node, ast.Import | ast.ImportFrom):
            imports.append(node)
        inside = sum(visit(child) for child in ast.iter_child_nodes(node) if not isinstance(child, ast.expr_context))
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            found.append((node, 1 + inside))
        return inside + _branches(node)

    visit(ast.parse(text))
    return _Read(tuple(text.splitlines()), tuple(imports), tuple(found))


def _branches(node: ast.AST) -> int:
    """What a node adds to a function's complexity: one for every branch, loop, conditional expression, comprehension
    (each `for` and `if` of it), handler, case and boolean operator."""
    if isinstance(node, ast.If | ast.For | ast.While | ast.IfExp | ast.ExceptHandler | ast.match_case | ast.Assert):
        return 1
    if isinstance(node, ast.comprehension):
        return 1 + len(node.ifs)
    return len(node.values) - 1 if isinstance(node, ast.BoolOp) else 0


def import_graph(source: Path = SOURCE) -> Graph:
    """Which module imports which of ours: type-only imports and those inside functions too."""
    known = modules(source)
    return {name: frozenset(_imported(_read(path).imports, known) - {name}) for name, path in known.items()}


def _imported(imports: Iterable[ast.Import | ast.ImportFrom], known: Mapping[str, Path]) -> set[str]:
    found: set[str] = set()
    for node in imports:
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif node.module and not node.level:
            inside = {f"{node.module}.{alias.name}" for alias in node.names}
            found |= inside & set(known)
            if inside - set(known):
                found.add(node.module)
    return found & set(known)


def circles(graph: Graph) -> list[tuple[str, ...]]:
    """Groups of nodes that reach one another (strongly connected components of more than one; R. Tarjan, 1972)."""
    index: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[tuple[str, ...]] = []

    def visit(node: str) -> None:
        index[node] = low[node] = len(index)
        stack.append(node)
        for other in graph.get(node, ()):
            if other not in index:
                visit(other)
            if other in stack:
                low[node] = min(low[node], low[other])
        if low[node] == index[node]:
            group = stack[stack.index(node) :]
            del stack[stack.index(node) :]
            if len(group) > 1:
                found.append(tuple(sorted(group)))

    sys.setrecursionlimit(max(sys.getrecursionlimit(), 4 * len(graph) + 100))
    for node in graph:
        if node not in index:
            visit(node)
    return sorted(found)


def package_graph(graph: Graph, above: str) -> Graph:
    """Which packages directly below a package import which."""
    depth = above.count(".") + 1

    def package(name: str) -> str:
        parts = name.split(".")
        return parts[depth] if name.startswith(f"{above}.") and len(parts) > depth else ""

    edges: dict[str, set[str]] = {}
    for name, others in graph.items():
        if package(name):
            edges.setdefault(package(name), set()).update(package(o) for o in others if package(o))
    return {name: frozenset(others - {name}) for name, others in edges.items()}


def climbs(graph: Graph) -> list[str]:
    """Imports of core that go up or sideways on its floors."""
    floor = {name: number for number, names in enumerate(core_floors()) for name in names}
    found = []
    for name, others in package_graph(graph, "brachium.core").items():
        for other in sorted(others):
            if name not in floor or other not in floor or floor[other] >= floor[name]:
                found.append(f"core.{name} imports core.{other}")
    return sorted(found)


def crowded(source: Path = SOURCE) -> list[str]:
    """Folders of more modules than one can take in at a look."""
    count = Counter(path.parent for path in modules(source).values() if path.name != "__init__.py")
    return [f"{folder.relative_to(source)}: {n} files" for folder, n in sorted(count.items()) if n > MOST_FILES]


def functions(source: Path = SOURCE) -> Iterator[Function]:
    """Every function, methods and inner ones too; an inner one counts for the outer one as well."""
    for name, path in modules(source).items():
        read = _read(path)
        for node, complexity in read.functions:
            yield Function(f"{name}:{node.name}", (node.end_lineno or node.lineno) - node.lineno + 1, complexity,
                           _excuse(read.lines[: node.lineno], node.decorator_list))  # fmt: skip


def _excuse(before: Sequence[str], decorators: Iterable[ast.AST]) -> str:
    """The reason that stands above a complex function as `# complex: ...`."""
    above = before[: -1 - len(list(decorators))]
    line = above[-1].strip() if above else ""
    return line.removeprefix("# complex:").strip() if line.startswith("# complex:") else ""


def broken(source: Path = SOURCE) -> list[str]:
    """Every rule of the house that is broken, a line each."""
    graph = import_graph(source)
    said = [f"circle of files: {', '.join(c)}" for c in circles(graph)]
    for above in ("brachium.core", "brachium.app", "brachium.ui", "brachium"):
        said += [f"circle of packages in {above}: {', '.join(c)}" for c in circles(package_graph(graph, above))]
    said += [f"floor: {c}" for c in climbs(graph)]
    said += [f"crowded: {c}" for c in crowded(source)]
    complex_ones = [f for f in functions(source) if f.complexity > MOST_COMPLEX]
    said += [f"complex without a reason: {f.place} ({f.complexity})" for f in complex_ones if not f.excuse]
    if len(complex_ones) > MOST_EXCUSED:
        said.append(f"complex: {len(complex_ones)} functions over {MOST_COMPLEX}, at most {MOST_EXCUSED} may be")
    return said


def main() -> int:
    """Print the structure; 1 where a rule is broken."""
    graph = import_graph()
    files = Counter(".".join(name.split(".")[:3]) for name, path in modules().items() if path.name != "__init__.py")
    print("Packages (files)")
    for name, count in sorted(files.items()):
        print(f"  {name}: {count}")
    print("Floors of core, lowest first")
    packages = package_graph(graph, "brachium.core")
    for names in core_floors():
        for name in names:
            print(f"  {name} imports {', '.join(sorted(packages.get(name, ()))) or 'nothing'}")
    every = sorted(functions(), key=lambda f: -f.complexity)
    print(f"Functions over complexity {MOST_COMPLEX}: {sum(f.complexity > MOST_COMPLEX for f in every)}")
    for f in [f for f in every if f.complexity > MOST_COMPLEX]:
        print(f"  {f.complexity:3d}  {f.place}  {f.excuse}")
    print("Longest functions")
    for f in sorted(every, key=lambda f: -f.lines)[:10]:
        print(f"  {f.lines:3d}  {f.place}")
    rules = broken()
    print(f"Circles of files: {len(circles(graph))}")
    print("\n".join(rules) if rules else "No rule of the house is broken.")
    return 1 if rules else 0


if __name__ == "__main__":
    sys.exit(main())
