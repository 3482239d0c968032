"""The methods of records, kept from start to start: the same as compiled ones, and never taken from anybody else."""

from __future__ import annotations

import dataclasses
import gc
import marshal
import threading
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import pytest

from brachium.ui import quick_start
from brachium.ui.quick_start import KeptMethods, begin, settle


@pytest.fixture
def path(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    file = tmp_path / "own" / "methods.bin"
    monkeypatch.setattr(quick_start, "kept_file", lambda: file)
    yield file
    gc.enable()
    vars(dataclasses).pop("exec", None)


def some_record() -> type:
    @dataclass(frozen=True)
    class Record:
        name: str
        size: int = 3
        parts: tuple[str, ...] = field(default=(), compare=False)

        @property
        def twice(self) -> int:
            return 2 * self.size

    return Record


def compiled(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """What is compiled from now on."""
    out: list[str] = []
    monkeypatch.setattr(quick_start, "compile", lambda *a: (out.append(a[0]), compile(*a))[1], raising=False)
    return out


def test_a_second_start_compiles_nothing_and_its_records_are_the_same(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    plain = some_record()("a", parts=("x",))
    first, texts = begin(), compiled(monkeypatch)
    some_record()
    assert len(texts) >= 5 and not gc.isenabled()
    settle(first)
    for thread in threading.enumerate():
        if thread.name == "brachium-methods":
            thread.join()
    assert gc.isenabled() and "exec" not in vars(dataclasses)
    texts.clear()
    begin()
    record = some_record()("a", parts=("x",))
    assert texts == []
    assert repr(record) == repr(plain) and hash(record) == hash(plain) and record.twice == 6
    assert record == type(record)("a", 3, ("other",)) != type(record)("a", 4)
    with pytest.raises(dataclasses.FrozenInstanceError):
        record.size = 5


@pytest.mark.parametrize("harm", ["damaged", "written by others", "a link", "another Python"])
def test_what_is_not_surely_ours_is_compiled_anew(path: Path, monkeypatch: pytest.MonkeyPatch, harm: str) -> None:
    methods = begin()
    some_record()
    methods.write()
    text = path.read_bytes()
    assert len(marshal.loads(text[32:])) >= 5
    if harm == "damaged":
        path.write_bytes(text[:-1] + bytes([text[-1] ^ 1]))
    elif harm == "written by others":
        path.chmod(0o666)
    elif harm == "a link":
        path.rename(path.with_name("elsewhere"))
        path.symlink_to(path.with_name("elsewhere"))
    else:
        monkeypatch.setattr(quick_start.sys, "version", "4.0")
    texts = compiled(monkeypatch)
    begin()
    assert some_record()("a").name == "a" and texts, "compiled, and works"


def test_a_folder_that_takes_nothing_is_no_hindrance(tmp_path: Path) -> None:
    (tmp_path / "own").write_text("a file where the folder would be")
    methods = KeptMethods(tmp_path / "own" / "methods.bin")
    out: dict[str, object] = {}
    methods("x = 1", {}, out)
    methods.write()
    assert out["x"] == 1
