"""Limits that every reader of foreign bytes keeps: size, depth, digits, cells; and what goes over them, in words.

A file is measured before it is read, and read no further than its limit. Nothing here guesses: what cannot be read is
an ExpectedProblem with its place.
"""

from __future__ import annotations

import contextlib
import csv
import io
import json
import os
import re
import stat
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from brachium.core.base.problems import ExpectedProblem, Problem, from_os_error
from brachium.core.base.text import phrase
from brachium.core.base.typed_numbers import MAX_DIGITS

MIB = 1 << 20
MAX_TABLE_BYTES = 24 * MIB  # logs, price lists, run files
MAX_ROWS, MAX_COLUMNS, MAX_CELL = 400_000, 600, 131_072
_SURROGATE = re.compile(r"\\u[dD][89a-fA-F]")


SHAPE = (ValueError, TypeError, KeyError, IndexError, AttributeError, ArithmeticError, RecursionError, csv.Error)


@contextlib.contextmanager
def foreign(place: str, noun: str) -> Iterator[None]:
    """What a foreign file can still get wrong inside is said with its place; it never ends in a bug report."""
    try:
        yield
    except Problem:
        raise
    except MemoryError as error:
        raise ExpectedProblem(
            phrase("this {noun} is larger than the memory here", noun=noun), place, "Use a part of it."
        ) from error
    except SHAPE as error:
        why = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise ExpectedProblem(
            phrase("this {noun} cannot be read ({why})", noun=noun, why=why), place, "Use the original file."
        ) from error


def read_bytes(path: Path, most: int = MAX_TABLE_BYTES, remedy: str = "Name the right file.") -> bytes:
    """The content of an ordinary file of at most `most` bytes. Raises ExpectedProblem or EnvironmentProblem."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)  # a pipe must not hold us
        with os.fdopen(handle, "rb") as file:
            found = os.fstat(file.fileno())
            if not stat.S_ISREG(found.st_mode):
                what = "a folder" if stat.S_ISDIR(found.st_mode) else "no ordinary file"
                raise ExpectedProblem(phrase("this is {what}", what=what), str(path), "Name a file.")
            data = file.read(most + 1) if found.st_size <= most else b""
    except OSError as error:
        raise from_os_error(error, str(path)) from error
    except ValueError as error:
        raise ExpectedProblem("this is no name of a file", repr(str(path)), "Name a file.") from error
    if found.st_size > most or len(data) > most:
        raise ExpectedProblem(phrase("the file is larger than {most:.0f} MiB", most=most / MIB), str(path), remedy)
    return data


def read_text(path: Path, most: int = MAX_TABLE_BYTES) -> str:
    """UTF-8 text, with or without a byte order mark, every line end as one newline. Raises as `read_bytes`."""
    try:
        text = read_bytes(path, most).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = 1 + error.object[: error.start].count(b"\n")
        raise ExpectedProblem(
            "this is no text in UTF-8", phrase("{path}, line {line}", path=path, line=line), "Save it as UTF-8."
        ) from error
    return plain_lines(text)


def plain_lines(text: str) -> str:
    """Text whose lines all end in one newline, whatever machine wrote it."""
    return text.replace("\r\n", "\n").replace("\r", "\n")


def parse_json(text: str, place: str, noun: str = "JSON", remedy: str = "Use the original file.") -> Any:
    """A JSON value whose numbers are finite and short and whose text is whole. Raises ExpectedProblem with the line."""
    try:
        value = json.loads(text, parse_int=_int, parse_float=_float, parse_constant=_constant)
    except json.JSONDecodeError as error:
        raise ExpectedProblem(
            phrase("this is no {noun} file, or it is cut short ({msg})", noun=noun, msg=error.msg),
            phrase("{place}, line {lineno}", place=place, lineno=error.lineno),
            remedy,
        ) from error
    except RecursionError as error:
        raise ExpectedProblem(
            phrase("this {noun} file is nested deeper than any of ours", noun=noun), place, remedy
        ) from error
    except ValueError as error:
        raise ExpectedProblem(str(error), place, remedy) from error
    if _SURROGATE.search(text):
        try:
            json.dumps(value, ensure_ascii=False).encode()
        except UnicodeEncodeError as error:
            raise ExpectedProblem("a character in it is half of a pair", place, remedy) from error
    return value


def _int(digits: str) -> int:
    if len(digits) > MAX_DIGITS:
        raise ValueError(phrase("a number with {count} digits is none of ours", count=len(digits)))
    return int(digits)


def _float(digits: str) -> float:
    value = float(digits)
    if value - value != 0.0:
        raise ValueError(phrase("{digits} is larger than any number can be", digits=digits[:20]))
    return value


def _constant(name: str) -> float:
    raise ValueError(phrase("{name} stands where a number is meant", name=name))


def csv_rows(text: str, place: str, delimiter: str = ",") -> Iterator[tuple[int, list[str]]]:
    """(line number, cells) of a CSV text. Raises ExpectedProblem with the line where a limit is passed."""
    reader = csv.reader(io.StringIO(plain_lines(text), newline=""), delimiter=delimiter)
    count = 0
    try:
        for row in reader:
            count += 1
            if len(row) > MAX_COLUMNS or count > MAX_ROWS:
                what = f"more than {MAX_COLUMNS} columns" if len(row) > MAX_COLUMNS else f"more than {MAX_ROWS} rows"
                raise ExpectedProblem(
                    what,
                    phrase("{place}, line {line_num}", place=place, line_num=reader.line_num),
                    "Name the right file, or a part of it.",
                )
            yield reader.line_num, row
    except csv.Error as error:
        raise ExpectedProblem(
            phrase("this line cannot be read ({error})", error=error),
            phrase("{place}, line {line_num}", place=place, line_num=reader.line_num),
            "Mend the line and try again.",
        ) from error
