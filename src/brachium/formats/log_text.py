"""The text of a delimited log as lines and columns, whole arrays at a time: a million lines are read in seconds."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import numpy.typing as npt

from brachium.core.base.arrays import FloatArray
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.formats.limits import MAX_COLUMNS, MIB, read_bytes

NEWLINE, BLANKS = 10, (9, 32)
LARGEST = 24 * MIB
LONGEST_BAD = 60
MOST_INDENT = 64


@dataclass(frozen=True)
class LogText:
    """UTF-8 bytes with plain newlines; `starts` and `ends` bound each line; `kind` is 0 blank, 1 comment, 2 content."""

    data: bytes
    starts: npt.NDArray[np.int64]
    ends: npt.NDArray[np.int64]
    kind: npt.NDArray[np.int8]

    def line(self, index: int) -> str:
        return self.data[self.starts[index] : self.ends[index]].decode("utf-8", "replace")

    def comments(self) -> list[str]:
        return [self.line(int(k)) for k in np.flatnonzero(self.kind == 1)]

    def content(self) -> npt.NDArray[np.int64]:
        """Indices of the lines that hold something."""
        return np.flatnonzero(self.kind == 2)


@dataclass(frozen=True)
class LogRows:
    """Lines below the heading with the right number of fields (`lines` are their indices), and those without."""

    text: LogText
    separator: str
    width: int
    lines: npt.NDArray[np.int64]
    bad: tuple[tuple[int, str], ...]
    _loaded: dict[int, np.ndarray] = field(default_factory=dict, repr=False, compare=False)

    def load(self, columns: Sequence[int], decimal_comma: bool) -> None:
        """Read several columns of numbers in one pass."""
        self._loaded.update(self._read(columns, None, "," if decimal_comma else "."))

    def sample(self, count: int) -> list[list[str]]:
        """The fields of the first rows."""
        return [self.text.line(int(k)).split(self.separator) for k in self.lines[:count]]

    def cells(self, column: int) -> list[str]:
        """One column as text, shape (n_rows,)."""
        found = self._read((column,), str)[column]
        return ["" if isinstance(c, float) else str(c).strip().strip('"') for c in found]

    def numbers(self, column: int, decimal_comma: bool) -> FloatArray:
        """One column as numbers, NaN where a cell is empty or no number, shape (n_rows,)."""
        import pandas

        if column not in self._loaded:
            self.load((column,), decimal_comma)
        found = self._loaded[column]
        if found.dtype != object:
            return np.asarray(found, dtype=np.float64)
        text = pandas.Series(found, dtype="object").astype(str).str.strip().str.strip('"')
        if decimal_comma:
            text = text.str.replace(",", ".", regex=False)
        return np.asarray(pandas.to_numeric(text, errors="coerce"), dtype=np.float64)

    def _read(self, columns: Sequence[int], kind: type | None, decimal: str = ".") -> dict[int, np.ndarray]:
        import pandas

        names = list(range(self.width))
        frame = pandas.read_csv(
            io.BytesIO(self._body()), sep=self.separator, header=None, names=names, usecols=sorted(columns),
            decimal=decimal, quoting=csv.QUOTE_NONE, skipinitialspace=True, dtype=kind, engine="c", low_memory=False,
        )  # fmt: skip
        return {c: np.asarray(frame[c].to_numpy(dtype=object if kind is str else None)) for c in columns}

    def _body(self) -> bytes:
        first, last = int(self.lines[0]), int(self.lines[-1])
        if last - first + 1 == self.lines.size:
            return self.text.data[self.text.starts[first] : self.text.ends[last]]
        parts = zip(self.text.starts[self.lines], self.text.ends[self.lines], strict=True)
        return b"\n".join(self.text.data[a:b] for a, b in parts)


def read_text(path: Path) -> LogText:
    """Read a text file of any usual encoding. Raises ExpectedProblem or EnvironmentProblem."""
    data = read_bytes(path, LARGEST)
    if not data.strip():
        raise ExpectedProblem("the file is empty", str(path), "Export the log again.")
    wide = data.startswith((b"\xff\xfe", b"\xfe\xff"))
    if b"\x00" in data[:4096] and not wide:
        raise ExpectedProblem("this is not a text file", str(path), "Export the log as CSV.")
    return _split(_utf8(data, wide))


def _utf8(data: bytes, wide: bool) -> bytes:
    if wide:
        data = data.decode("utf-16", "replace").encode()
    else:
        data = data.removeprefix(b"\xef\xbb\xbf")
        if not data.isascii():
            try:
                data.decode("utf-8")
            except UnicodeDecodeError:
                data = data.decode("latin-1").encode()
    return data.replace(b"\r\n", b"\n").replace(b"\r", b"\n")


def _split(data: bytes) -> LogText:
    array = np.frombuffer(data, dtype=np.uint8)
    breaks = np.flatnonzero(array == NEWLINE)
    starts = np.concatenate([[0], breaks + 1]).astype(np.int64)
    ends = np.concatenate([breaks, [array.size]]).astype(np.int64)
    first = starts.copy()
    padded = np.append(array, NEWLINE)
    for _ in range(MOST_INDENT):
        blank = np.isin(padded[np.minimum(first, array.size)], BLANKS) & (first < ends)
        if not blank.any():
            break
        first[blank] += 1
    head = padded[np.minimum(first, array.size)]
    after = padded[np.minimum(first + 1, array.size)]
    comment = (head == ord("#")) | ((head == ord("/")) & (after == ord("/")))
    kind = np.where(first >= ends, 0, np.where(comment, 1, 2)).astype(np.int8)
    return LogText(data, starts, ends, kind)


def rows_below(text: LogText, header: int, separator: str, width: int) -> LogRows:
    """The rows below the heading line, and the lines that are no rows, each with its number counted from one."""
    array = np.frombuffer(text.data, dtype=np.uint8)
    if width > MAX_COLUMNS:
        raise ExpectedProblem(
            phrase("more than {max_columns} columns", max_columns=MAX_COLUMNS),
            phrase("line {header}", header=header + 1),
            "Export fewer columns.",
        )
    marks = np.flatnonzero(array == ord(separator))
    fields = 1 + np.searchsorted(marks, text.ends) - np.searchsorted(marks, text.starts)
    below = (np.arange(text.kind.size) > header) & (text.kind == 2)
    lines = np.flatnonzero(below & (fields == width))
    wrong = np.flatnonzero(below & (fields != width))
    bad = tuple((int(k) + 1, text.line(int(k)).strip()[:LONGEST_BAD]) for k in wrong)
    return LogRows(text, separator, width, lines, bad)
