"""The glossary decides: no word that it has given up stands in a text of the program, of the guide or of the README."""

from __future__ import annotations

import ast
import json
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
# What older records hold, and what is understood where a person types it, may keep the words
OLD_TEXTS = ("formats/upgrades/", "core/label/machine_words.py")
Texts = list[tuple[str, str]]


def retired() -> list[str]:
    """First column of the glossary's last table, phrase by phrase."""
    table = (ROOT / "docs/glossary.md").read_text().partition("## Words given up")[2]
    rows = re.findall(r"^\| (.+?) \| .+? \|$", table, re.MULTILINE)
    return [phrase.strip() for row in rows[1:] for phrase in row.split(", ")]


def texts_of_source(path: Path) -> Iterator[tuple[str, str]]:
    """Every text of a file that is not a docstring, with its place; an f-string as one text."""
    tree = ast.parse(path.read_text())
    skipped: set[int] = set()
    for node in ast.walk(tree):
        body = getattr(node, "body", None)
        if isinstance(body, list) and body and isinstance(body[0], ast.Expr):
            skipped.add(id(body[0].value))
        if isinstance(node, ast.JoinedStr):
            skipped |= {id(value) for value in node.values}
    for node in ast.walk(tree):
        where = f"{path}:{getattr(node, 'lineno', 0)}"
        if id(node) in skipped:
            continue
        if isinstance(node, ast.JoinedStr):
            yield where, "".join(str(v.value) if isinstance(v, ast.Constant) else "{}" for v in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield where, node.value


@pytest.fixture(scope="module")
def texts() -> Texts:
    out: Texts = []
    for path in sorted((ROOT / "src").rglob("*.py")):
        if not any(part in str(path) for part in OLD_TEXTS):
            out += texts_of_source(path)
    for path in sorted((ROOT / "src/brachium/resources/languages").glob("*.json")):
        out += [(path.name, key) for key in json.loads(path.read_text())["phrases"]]
    templates = sorted((ROOT / "src").rglob("*.j2"))
    for path in (ROOT / "README.md", *sorted((ROOT / "docs/guide").glob("*.md")), *templates):
        out += [(f"{path.name}:{k}", line) for k, line in enumerate(path.read_text().splitlines(), 1)]
    return out


def hits(texts: Texts, phrases: list[str]) -> list[str]:
    pattern = re.compile("|".join(rf"\b{re.escape(p)}s?\b" for p in phrases), re.IGNORECASE)
    return [f"{where}: {found[0]!r} in {text[:90]!r}" for where, text in texts if (found := pattern.search(text))]


def test_no_text_uses_a_word_that_was_given_up(texts: Texts) -> None:
    phrases = retired()
    assert len(texts) > 10_000 and len(phrases) > 40, "the reading of sources or glossary found too little"
    found = hits(texts, phrases)
    assert not found, "\n".join(found)


def test_a_word_that_was_given_up_is_noticed_in_a_text_of_several_parts(tmp_path: Path) -> None:
    path = tmp_path / "a.py"
    path.write_text('"""Docstring of the memory place."""\nx = f"to memory place {1}"\ny = ("lift the " "latch")\n')
    assert len(hits(list(texts_of_source(path)), retired())) == 2
