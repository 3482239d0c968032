"""README and guide name only what is there: a new user has nothing else."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import typer.main

from brachium.cli.commands import app

ROOT = Path(__file__).parents[1]
PAGES = (ROOT / "README.md", *sorted((ROOT / "docs" / "guide").glob("*.md")))


def words_of_the_program() -> str:
    """Every text constant of the source, in lower case."""
    found = [
        node.value
        for path in (ROOT / "src").rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.Constant) and isinstance(node.value, str)
    ]
    return "\n".join(found).lower()


def test_every_name_set_in_italics_is_on_the_screen() -> None:
    program = words_of_the_program()
    named = 0
    for page in PAGES:
        text = re.sub(r"```.*?```", "", page.read_text(encoding="utf-8"), flags=re.DOTALL)
        for name in re.findall(r"(?<![*\w])\*([^*\s](?:[^*]*?[^*\s])?)\*(?!\*)", re.sub(r"\s*\n\s*(?=\S)", " ", text)):
            named += 1
            assert name.lower() in program, f"{page.name}: {name}"
    assert named > 60


def test_every_command_line_has_its_command_and_options() -> None:
    commands = typer.main.get_command(app).commands  # type: ignore[attr-defined]
    seen = set()
    for page in PAGES:
        for block in re.findall(r"```(?:\w*)\n(.*?)```", page.read_text(encoding="utf-8"), flags=re.DOTALL):
            for line in re.findall(r"^(?:\S*/)?brachium (.+)$", block, flags=re.MULTILINE):
                if line.startswith("--"):
                    continue
                for name in re.match(r"[\w-]+(?: \| [\w-]+)*", line)[0].split(" | "):  # type: ignore[index]
                    assert name in commands, f"{page.name}: {line}"
                    seen.add(name)
                known = {o for n in line.split(" | ")[0].split()[:1] for p in commands[n].params for o in p.opts}
                asked = set(re.findall(r"(?<![\w-])--[a-z][\w-]*", line))
                assert asked <= known, f"{page.name}: {sorted(asked - known)} in {line}"
    assert {"demo", "measure", "scan", "compare", "report", "import-log"} <= seen


def test_every_picture_and_page_that_is_linked_is_there() -> None:
    for page in (*PAGES, *sorted((ROOT / "docs").rglob("*.md"))):
        for target in re.findall(r"\]\((?!https?:|#)([^)#\s]+)", page.read_text(encoding="utf-8")):
            assert (page.parent / target).exists(), f"{page.name}: {target}"
    shown = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    named = "\n".join(p.read_text(encoding="utf-8") for p in (ROOT / "README.md",))
    assert len(shown) < 20 and all(name in named for name in shown)
