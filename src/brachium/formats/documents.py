"""Stored documents: text with its version, read through a chain of upgrades, one per version that ever was.

What this program does not know it does not read: a field that is not known is refused by its path, never dropped at
the next save. A document without a version is of the first one. How to make a new version:
docs/how-to/change-the-record.md.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.formats.limits import SHAPE, parse_json

if TYPE_CHECKING:
    from pydantic import TypeAdapter, ValidationError

T = TypeVar("T")
VERSION = "document_version"
Upgrade = Callable[[Any], Any]  # JSON values of one version into those of the next, by names that stood then


class Document(Generic[T]):
    """How one kind of record is written and read: one JSON object a record."""

    def __init__(
        self, kind: Any, noun: str, upgrades: Sequence[Upgrade] = (), strict: bool = True, late: bool = False
    ) -> None:
        """`upgrades[k]` makes version k + 2 of version k + 1, so that their number says today's version.

        `late`: `kind` is a function that gives the kind, so that its classes are loaded with the first record.

        Not `strict`: a foreign text that holds more than is needed of it, and is never written back.
        """
        self.noun, self.version = noun, len(upgrades) + 1
        self._kind, self._late = kind, late
        self._upgrades = tuple(upgrades)
        self._strict = strict

    @property
    def kind(self) -> Any:
        """The class of the record, or of its parts."""
        return self._kind() if self._late else self._kind

    @cached_property
    def _adapter(self) -> TypeAdapter[tuple[T]]:
        """Made when the first record of the kind is met: one takes up to a third of a second."""
        from pydantic import ConfigDict, TypeAdapter  # late: what is shown first is kept as it was read

        strict = ConfigDict(extra="forbid", ser_json_inf_nan="constants")
        return TypeAdapter(tuple[self.kind], config=strict if self._strict else None)  # type: ignore[name-defined]

    def plain(self, record: T) -> Any:
        """As JSON-ready values; an object carries its version, the first one by its absence."""
        plain = self._adapter.dump_python((record,), mode="json")[0]
        return {VERSION: self.version, **plain} if self.version > 1 and isinstance(plain, dict) else plain

    def text(self, record: T) -> str:
        """As JSON text with its version; a list is wrapped."""
        body = self._adapter.dump_json((record,))[1:-1].decode()
        if not body.startswith("{"):
            body = f'{{"items":{body}}}'
        return f'{{"{VERSION}":{self.version}{"" if body == "{}" else ","}{body[1:]}'

    def read(self, text: str, place: str) -> T:
        """Raises ExpectedProblem naming the first bad or unknown field, or the newer version."""
        return self.take(parse_json(text, place, self.noun), place)

    def take(self, plain: Any, place: str) -> T:
        """The record of JSON values, with or without a version. Raises as `read` does."""
        version = 1
        if isinstance(plain, dict) and VERSION in plain:
            version = known_version(plain[VERSION], self.version, self.noun, place)
            plain = {k: v for k, v in plain.items() if k != VERSION}
            plain = plain["items"] if set(plain) == {"items"} else plain
        plain = upgrade_document(plain, self._upgrades[version - 1 :], f"{self.noun} of version {version}", place)
        from pydantic import ValidationError

        try:
            return self._adapter.validate_python((plain,))[0]
        except ValidationError as error:
            raise validation_problem(error, place) from error
        except RecursionError as error:
            raise ExpectedProblem(
                phrase("this {noun} is nested deeper than any of ours", noun=self.noun), place, "It was left."
            ) from error

    def schema(self) -> dict[str, object]:
        """JSON Schema of the record."""
        from pydantic import TypeAdapter

        kind: TypeAdapter[T] = TypeAdapter(self.kind)
        return kind.json_schema()


class TextDocument(Generic[T]):
    """A stored document that is no JSON, such as a table: its version stands in a first line of its own."""

    def __init__(
        self, noun: str, write: Callable[[T], str], read: Callable[[str, str], T], upgrades: Sequence[Upgrade] = ()
    ) -> None:
        self.noun, self.version = noun, len(upgrades) + 1
        self._write, self._read, self._upgrades = write, read, tuple(upgrades)

    def text(self, record: T) -> str:
        """With its version."""
        return f"{VERSION},{self.version}\n{self._write(record)}"

    def read(self, text: str, place: str) -> T:
        """Raises ExpectedProblem as its reader does, or naming the newer version."""
        version = 1
        if text.startswith(f"{VERSION},"):
            head, _, text = text.partition("\n")
            stated = head.removeprefix(f"{VERSION},").strip()
            version = known_version(int(stated) if stated.isdigit() else None, self.version, self.noun, place)
        text = upgrade_document(text, self._upgrades[version - 1 :], f"{self.noun} of version {version}", place)
        return self._read(text, place)


def known_version(version: object, newest: int, noun: str, place: str) -> int:
    """A version that can be read. Raises ExpectedProblem where it is newer, or none."""
    if isinstance(version, bool) or not isinstance(version, int) or not 1 <= version <= newest:
        raise ExpectedProblem(
            phrase(
                "this {noun} was written by a newer Brachium (version {version}, this program knows {newest})",
                noun=noun,
                version=version,
                newest=newest,
            ),
            place,
            "Update the program. It was left as it is.",
        )
    return version


def upgrade_document(plain: Any, upgrades: Sequence[Upgrade], what: str, place: str) -> Any:
    """Values after these upgrades. Raises ExpectedProblem where they are not of the version that they say."""
    for upgrade in upgrades:
        try:
            plain = upgrade(plain)
        except SHAPE as error:
            raise ExpectedProblem(
                phrase("this is no {what} ({error})", what=what, error=error), place, "It was left as it is."
            ) from error
    return plain


def validation_problem(error: ValidationError, place: str) -> ExpectedProblem:
    """A validation error in words: the path of the first bad field."""
    first = error.errors()[0]
    path = ".".join(str(p) for p in first["loc"][1:] or first["loc"])
    if first["type"] in ("unexpected_keyword_argument", "extra_forbidden"):
        return ExpectedProblem(
            phrase("{path}: this program does not know this field", path=path), place,
            "A newer Brachium may have written it; update the program. It was left as it is.",
        )  # fmt: skip
    return ExpectedProblem(
        phrase("{path}: {first}", path=path, first=first["msg"]), place, "The rest of the file was left as it is."
    )
