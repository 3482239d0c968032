"""Finds the phrases of the program in its source, as an extraction method for Babel.

A phrase is a template (`phrase`, `counted`, `many`), what stands between joined parts, and any other text that reads
as words: a title, a sentence, a value of an enumeration. Docstrings, keys, expressions and names of things are none.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Collection, Iterator
from typing import IO, Any

from brachium.speech.language import has_words

Found = tuple[int, str, str | tuple[str, str], list[str]]
SENTENCE = re.compile(r"[A-Za-z0-9,;.:)”]  ?[A-Za-z0-9(“\[{]|^[A-Z][a-z]+[?:…]?$|^[A-Z][a-z]+(?:-[a-z]+)+$")
SMALL = re.compile(r"^[a-z][a-zé]+(?:-[a-z]+)?$")
NO_PHRASE = re.compile(
    r"\\|^\.\w+$|^nan$|\(\?|\.\*|\[\^|\[a-z|^[\w/]+/\w+$|^\w+=|%[YmdH]|^SELECT|^PRAGMA|^(?:select|insert|delete|set|listen) .*[_('=*]|^set transaction |^READ |::|^#[0-9a-f]{3}|{\w*;"
)
PLACES = re.compile(r"\{[^{}]*(?:\{\w*\})?[^{}]*\}")
NEVER_SAID = ("__all__", "_WORDS")  # names, and stems of words that are looked for
TELLERS = ("phrase", "counted", "many", "joined", "Text")
KEYS = (
    "get", "setProperty", "value", "setValue", "getattr", "setattr", "startswith", "endswith", "split", "partition",
    "removeprefix", "removesuffix", "replace", "strip", "rstrip", "lstrip", "compile", "open", "encode", "decode",
    "files", "joinpath", "execute", "connect", "qcolor", "restyle", "setObjectName", "sub", "search", "match",
    "fullmatch", "find", "index", "with_suffix", "pop", "import_module", "TypeVar", "Literal", "environ", "getenv",
    "origin", "NewType",
)  # fmt: skip
STYLES = ("role", "kind", "fill", "anchor", "interface", "mode", "errors", "encoding", "dash", "sign", "key")
STYLED = ("label", "paragraph", "button", "Text", "Line", "Box", "Dot", "path", "Polyline", "Face", "leader",
          "field", "Hatch", "setProperty", "restyle", "Command", "getattr", "replace", "qcolor", "icon")  # fmt: skip


def extract_phrases(
    fileobj: IO[bytes], keywords: Collection[str], comment_tags: Collection[str], options: dict[str, Any]
) -> Iterator[Found]:
    """Babel's extraction method: yields (line, function, messages, comments)."""
    tree = ast.parse(fileobj.read().decode("utf-8"))
    yield from _Finder(tree).found()


def extract_template(
    fileobj: IO[bytes], keywords: Collection[str], comment_tags: Collection[str], options: dict[str, Any]
) -> Iterator[Found]:
    """The phrases of a report's page: what stands in `say("...")`."""
    for number, line in enumerate(fileobj.read().decode("utf-8").splitlines(), 1):
        for said in re.findall(r'say\("([^"]+)"', line):
            yield number, "gettext", said, []


class _Finder:
    def __init__(self, tree: ast.Module) -> None:
        self._tree = tree
        self._above = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}

    def found(self) -> Iterator[Found]:
        for node in ast.walk(self._tree):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in TELLERS:
                yield from self._told(node)
            elif isinstance(node, ast.Constant) and isinstance(node.value, str) and self._reads_as_words(node):
                for said in node.value.split("|") if "|" in node.value else [node.value]:
                    yield node.lineno, "gettext", said.split("=>")[0], []

    def _told(self, node: ast.Call) -> Iterator[Found]:
        assert isinstance(node.func, ast.Name)
        said = [a.value for a in node.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
        name = node.func.id
        if name == "many" and said:
            yield node.lineno, "ngettext", (f"{{count}} {said[0]}", f"{{count}} {said[0]}s"), []
        elif name == "counted" and len(said) >= 2:
            yield node.lineno, "ngettext", (said[0], said[1]), []
        elif name in ("phrase", "joined", "Text") and said and has_words(PLACES.sub("", said[0])):
            for template in said[0].split("|"):
                yield node.lineno, "gettext", template.split("=>")[0], []

    def _reads_as_words(self, node: ast.Constant) -> bool:
        above, text = self._above[node], node.value
        if not has_words(text) or NO_PHRASE.search(text) or isinstance(above, ast.Expr | ast.JoinedStr):
            return False
        if isinstance(above, ast.Call) and self._is_told(above, node):
            return False
        if isinstance(above, ast.Subscript) or self._is_key(node):
            return False
        if SENTENCE.search(text):
            return True
        small = text.strip(" ,;.:()")
        return bool(SMALL.match(small)) and self._is_said(node, "-" in small)

    def _is_told(self, above: ast.Call, node: ast.Constant) -> bool:
        return isinstance(above.func, ast.Name) and above.func.id in TELLERS and node in above.args

    def _is_key(self, node: ast.Constant) -> bool:
        above = self._above[node]
        if isinstance(above, ast.Call):
            name = above.func.id if isinstance(above.func, ast.Name) else getattr(above.func, "attr", "")
            return name in KEYS
        if isinstance(above, ast.Compare) or (isinstance(above, ast.Dict) and node in above.keys):
            return not re.search(r"[a-z] [a-z]", node.value) or isinstance(above, ast.Compare)
        while above in self._above:
            if isinstance(above, ast.arg | ast.AnnAssign) and getattr(above, "annotation", None) is node:
                return True
            if isinstance(above, ast.Assign | ast.AnnAssign):
                targets = above.targets if isinstance(above, ast.Assign) else [above.target]
                return any(getattr(t, "id", "") in NEVER_SAID for t in targets)
            above = self._above[above]
        return False

    def _is_said(self, node: ast.Constant, strict: bool) -> bool:
        """Whether a single small word may be one that is shown: no key, no name of a style; `strict`: one that
        looks like the name of a thing must be a value of a phrase or an enumeration."""
        below: ast.AST = node
        while below in self._above:
            above = self._above[below]
            if isinstance(above, ast.keyword):
                teller = getattr(getattr(self._above[above], "func", None), "id", "")
                return above.arg not in STYLES and (not strict or teller in TELLERS)
            if isinstance(above, ast.Call) and below in above.args[1:]:
                return getattr(above.func, "id", getattr(above.func, "attr", "")) not in STYLED
            if isinstance(above, ast.Subscript | ast.Compare):
                return False
            if isinstance(above, ast.stmt):
                return not strict or isinstance(self._above[above], ast.ClassDef)
            below = above
        return False
