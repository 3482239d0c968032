"""Stored documents: one JSON object a record, with its version; what this program does not know it does not read.

A field that is not known is refused by its path, never dropped at the next save. A document without a version is of
the first one.
"""

from __future__ import annotations

import json
from typing import Any, Generic, TypeVar

from pydantic import ConfigDict, TypeAdapter, ValidationError

from brachium.core.base.problems import ExpectedProblem
from brachium.formats.limits import parse_json

T = TypeVar("T")
VERSION = "document_version"
_STRICT = ConfigDict(extra="forbid", ser_json_inf_nan="constants")


class Document(Generic[T]):
    """How one kind of record is written and read."""

    def __init__(self, kind: Any, noun: str, version: int = 1, strict: bool = True) -> None:
        """Not `strict`: a foreign text that holds more than is needed of it, and is never written back."""
        self._noun, self._version = noun, version
        self._kind: TypeAdapter[T] = TypeAdapter(kind)
        self._adapter: TypeAdapter[tuple[T]] = TypeAdapter(tuple[kind], config=_STRICT if strict else None)

    def plain(self, record: T) -> Any:
        """As JSON-ready values, without the version."""
        return self._adapter.dump_python((record,), mode="json")[0]

    def text(self, record: T) -> str:
        """As JSON text with its version; a list is wrapped."""
        plain = json.loads(self._adapter.dump_json((record,)))[0]
        whole = {VERSION: self._version, **(plain if isinstance(plain, dict) else {"items": plain})}
        return json.dumps(whole, ensure_ascii=False, separators=(",", ":"))

    def read(self, text: str, place: str) -> T:
        """Raises ExpectedProblem naming the first bad or unknown field, or the newer version."""
        return self.take(parse_json(text, place, self._noun), place)

    def take(self, plain: Any, place: str) -> T:
        """The record of JSON values, with or without a version. Raises as `read` does."""
        if isinstance(plain, dict) and VERSION in plain:
            version = plain[VERSION]
            if not isinstance(version, int) or version > self._version:
                raise ExpectedProblem(
                    f"this {self._noun} was written by a newer Brachium (version {version}, this program knows "
                    f"{self._version})", place, "Update the program. It was left as it is.",
                )  # fmt: skip
            plain = {k: v for k, v in plain.items() if k != VERSION}
            plain = plain["items"] if set(plain) == {"items"} else plain
        try:
            return self._adapter.validate_python((plain,))[0]
        except ValidationError as error:
            raise said(error, place) from error
        except RecursionError as error:
            raise ExpectedProblem(
                f"this {self._noun} is nested deeper than any of ours", place, "It was left."
            ) from error

    def schema(self) -> dict[str, object]:
        """JSON Schema of the record."""
        return self._kind.json_schema()


def said(error: ValidationError, place: str) -> ExpectedProblem:
    """A validation error in words: the path of the first bad field."""
    first = error.errors()[0]
    path = ".".join(str(p) for p in first["loc"][1:] or first["loc"])
    if first["type"] in ("unexpected_keyword_argument", "extra_forbidden"):
        return ExpectedProblem(
            f"{path}: this program does not know this field", place,
            "A newer Brachium may have written it; update the program. It was left as it is.",
        )  # fmt: skip
    return ExpectedProblem(f"{path}: {first['msg']}", place, "The rest of the file was left as it is.")
