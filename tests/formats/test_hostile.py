"""Files that mean harm or make no sense: each ends in a sentence with its place, soon and in little memory."""

from __future__ import annotations

import io
import json
import os
import resource
import time
import zipfile
from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.base.typed_numbers import decimal_of, finite
from brachium.core.plan.candidates import CatalogueItem, Group
from brachium.core.plan.price_offer import read_rates
from brachium.core.record.job import Photo
from brachium.demo.newsroom import newsroom_job
from brachium.formats.catalogue import catalogue_text, read_catalogue
from brachium.formats.cells import guard, plain_cell
from brachium.formats.drive_counters import read_counters
from brachium.formats.ids import file_stem, id_problem
from brachium.formats.job_archive import ArchivedRun, read_archive, write_archive
from brachium.formats.limits import csv_rows, parse_json, read_text
from brachium.formats.photo import LONGEST_PX, read_photo, scaled
from brachium.formats.records import job_from_json, job_to_json
from brachium.formats.reference_table import parse_table
from brachium.formats.run_file import read_run_file, run_to_file_text, sha256
from brachium.formats.sensor_log import read_sensor_log
from tests.support.some_runs import some_run

DEEP, LONG = "[" * 200_000, "9" * 5000
LIST = "id,group,title,price_eur\n"


@pytest.mark.parametrize(
    ("text", "says"),
    [(DEEP, "deeper"), (f'{{"a": {LONG}}}', "5000 digits"), ('{"a": 1e400}', "larger than any number"),
     ('{"a": NaN}', "NaN stands where a number"), ('{"a": -Infinity}', "Infinity"),
     ('{"a": "\\ud800"}', "half of a pair"),
     ('{"a":\n\n 1,}', "line 3"), ("", "cut short")],
)  # fmt: skip
def test_json_that_is_none_of_ours_is_said(text: str, says: str) -> None:
    with pytest.raises(ExpectedProblem, match=says) as caught:
        parse_json(text, "here")
    assert "here" in caught.value.text


@pytest.mark.parametrize("end", ["\r", "\r\n", "\n"])
def test_lines_end_as_on_any_machine(end: str) -> None:
    text = end.join(["hardware,test,value", "A,cpu_all,3", '"B, the second",cpu_all,4', ""])
    assert [len(v) for v in parse_table(text, "t").values()] == [1, 1]
    with pytest.raises(ExpectedProblem, match="t, line 3"):
        parse_table(text.replace(",4", ",inf"), "t")


def test_a_cell_larger_than_any_is_said_with_its_line() -> None:
    with pytest.raises(ExpectedProblem, match="x, line 2"):
        list(csv_rows(f"a,b\n{'z' * 200_000},1\n", "x"))
    with pytest.raises(ExpectedProblem, match="600 columns"):
        list(csv_rows("," * 1000, "x"))


@pytest.mark.parametrize("price", ["1e999999999", "1e-999999999", LONG, "NaN", "inf", "1e400", "-3"])
def test_a_price_that_no_arithmetic_ends_on_is_a_bad_line(price: str) -> None:
    start = time.monotonic()
    read = read_catalogue(f"{LIST}a,{Group.CLEANING},A,{price}\nb,{Group.CLEANING},B,3,,,\n", "list")
    assert read is not None and [line for line, _ in read.bad] == [2] and [i.id for i in read.items] == ["b"]
    with pytest.raises(ValueError):
        read_rates(f"USD {price}")
    assert decimal_of(price) in (None, Decimal("-3")) and time.monotonic() - start < 5.0


@given(st.text(max_size=30))
def test_numbers_are_finite_or_none(text: str) -> None:
    value, amount = finite(text), decimal_of(text)
    assert value is None or value - value == 0.0
    assert amount is None or (amount.is_finite() and len(f"{amount:f}") < 100)


@pytest.mark.parametrize(
    "line", [" " * 900_000, "5" + " " * 900_000 + "x", "\t 5 " * 200_000, "reallocated" + " " * 900_000]
)
def test_blanks_in_a_table_of_counters_take_no_time(tmp_path: Path, line: str) -> None:
    (tmp_path / "c.txt").write_text(f"{line}\npending,3\n")
    start = time.monotonic()
    assert dict(read_counters(tmp_path / "c.txt")) == {"pending": 3}
    assert time.monotonic() - start < 5.0, "it took minutes"


# -- archives


def archive_with(tmp_path: Path, change: Callable[[dict[str, object], dict[str, bytes]], None]) -> Path:
    """A good archive, changed by one who can count checksums."""
    path = tmp_path / "job.zip"
    write_archive(newsroom_job(), [ArchivedRun("before", some_run())], path)
    with zipfile.ZipFile(path) as old:
        parts = {n: old.read(n) for n in old.namelist()}
    manifest = json.loads(parts.pop("manifest.json"))
    change(manifest, parts)
    for name, data in parts.items():
        manifest["files"].setdefault(name, {})["sha256"] = sha256(data)
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
        for name, data in {**parts, "manifest.json": json.dumps(manifest).encode()}.items():
            new.writestr(name, data)
    return path


def memory_of(work: Callable[[], object]) -> float:
    """MB that a work takes beside what is there, in a process of its own."""
    read, write = os.pipe()
    pid = os.fork()
    if pid == 0:
        base = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        try:
            work()
        finally:
            grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - base
            os.write(write, str(grown / 1024).encode())
            os._exit(0)
    os.close(write)
    data = os.read(read, 100)
    os.close(read)
    os.waitpid(pid, 0)
    return float(data)


def test_a_small_archive_does_not_unpack_to_gigabytes(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("brachium.formats.job_archive.MAX_PART_BYTES", 2 << 20)
    monkeypatch.setattr("brachium.formats.job_archive.MAX_TOTAL_BYTES", 8 << 20)

    def grow(manifest: dict[str, object], parts: dict[str, bytes]) -> None:
        name = next(n for n in parts if n.endswith(".csv"))
        for k in range(40):
            parts[f"runs/x{k}.csv"] = b"0,0,0\n" * 300_000
        parts[name] = b"0," * 6_000_000

    path = archive_with(tmp_path, grow)
    assert path.stat().st_size < 6_000_000
    assert memory_of(lambda: read_archive(path)) < 40.0
    assert "larger than any job" in " ".join(read_archive(path).damaged)


def test_a_part_is_taken_once_however_often_it_is_named(tmp_path: Path) -> None:
    def repeat(manifest: dict[str, object], parts: dict[str, bytes]) -> None:
        manifest["runs"] = manifest["runs"] * 30  # type: ignore[operator]

    read = read_archive(archive_with(tmp_path, repeat))
    assert len(read.runs) == 1 and len(read.damaged) == 29 and "two entries name this part" in read.damaged[0]


@pytest.mark.parametrize("job_id", ["../../etc/x", "/abs", "a/b", "..", "x" * 65, "", "a\x00b", "a\nb", "-x", "~"])
def test_an_id_that_could_be_a_path_is_refused_at_the_border(tmp_path: Path, job_id: str) -> None:
    def rename(manifest: dict[str, object], parts: dict[str, bytes]) -> None:
        parts["job.json"] = job_to_json(replace(newsroom_job(), id=job_id)).encode()

    with pytest.raises(ExpectedProblem, match="the id of its job"):
        read_archive(archive_with(tmp_path, rename))
    assert id_problem(job_id) and "/" not in file_stem(job_id) and not file_stem(job_id).startswith((".", "-"))


@given(st.text(max_size=80), st.text(max_size=80))
def test_names_of_files_are_made_and_tell_ids_apart(one: str, other: str) -> None:
    assert set(file_stem(one)) <= set("abcdefghijklmnopqrstuvwxyz0123456789-") and 0 < len(file_stem(one)) <= 57
    assert (file_stem(one) == file_stem(other)) == (one == other)


def test_an_unknown_field_is_refused_by_its_path_and_not_dropped(tmp_path: Path) -> None:
    plain = json.loads(job_to_json(newsroom_job()))
    plain["machine"]["identity"]["colour"] = "grey"
    with pytest.raises(ExpectedProblem, match=r"machine\.identity\.colour: this program does not know this field"):
        job_from_json(json.dumps(plain), "job")
    whole = json.loads(run_to_file_text(some_run()))
    whole["run"]["mood"] = "good"
    whole["run_sha256"] = sha256(
        json.dumps(whole["run"], ensure_ascii=False, sort_keys=True, separators=(",", ":")).encode()
    )
    (tmp_path / "run.json").write_text(json.dumps(whole))
    with pytest.raises(ExpectedProblem, match="mood: this program does not know"):
        read_run_file(tmp_path / "run.json")


# -- pictures


def picture(width: int, height: int, kind: str = "JPEG", **more: object) -> bytes:
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 120, 150)).save(out, kind, **more)
    return out.getvalue()


def test_pictures_in_an_archive_are_looked_at_like_any_other(tmp_path: Path) -> None:
    from PIL import Image

    exif = Image.Exif()
    exif[0x010F] = "Where it was taken"
    large, noted = picture(3000, 200), picture(300, 200, exif=exif)
    good = scaled(picture(640, 480), "x")
    photos = (Photo("large", 3000, 200), Photo("noted", 300, 200), Photo("none", 1, 1), Photo(good.id, 640, 480))
    data = {"large": large, "noted": noted, "none": b"<svg onload='x'>" * 9, good.id: good.data}
    write_archive(replace(newsroom_job(), photos=photos), [], tmp_path / "job.zip", data)
    read = read_archive(tmp_path / "job.zip")
    assert len(read.damaged) == 1 and "photos/none.jpg is left out" in read.damaged[0]
    assert [p.id for p in read.job.photos] == list(read.photos) and read.job.photos[2].id == good.id, (
        "ours stays as it is"
    )
    for photo, kept in zip(read.job.photos, read.photos.values(), strict=True):
        with Image.open(io.BytesIO(kept)) as found:
            assert found.format == "JPEG" and max(found.size) <= LONGEST_PX and not found.getexif()
            assert found.size == (photo.width, photo.height)


def test_very_large_pictures_are_read_reduced(tmp_path: Path) -> None:
    (tmp_path / "p.jpg").write_bytes(picture(10_000, 11_000))
    assert memory_of(lambda: read_photo(tmp_path / "p.jpg")) < 120.0, "whole it takes 330 MB"
    (tmp_path / "p.png").write_bytes(picture(9000, 5000, "PNG"))
    with pytest.raises(ExpectedProblem, match="more than 40 million pixels"):
        read_photo(tmp_path / "p.png")


# -- what is no file, and what spreadsheets compute


def test_what_is_no_ordinary_file_is_not_waited_for(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.csv")
    for read in (read_sensor_log, read_counters, read_run_file, read_photo, read_archive, read_text):
        with pytest.raises(ExpectedProblem, match="no ordinary file"):
            read(tmp_path / "pipe.csv")
        with pytest.raises((ExpectedProblem, EnvironmentProblem), match="folder"):
            read(tmp_path)


@pytest.mark.parametrize(
    "title", ["=cmd()", "+1+2", "-2+3", "@sum", "'=x", "\t=x", "''@", "'quoted'", "-12", "fan, 120 mm"]
)
def test_no_cell_of_a_list_is_a_formula_and_all_come_back(title: str) -> None:
    item = CatalogueItem("a", Group.FAN, title, Decimal("3"), 1)
    text = catalogue_text((replace(item, group=Group.CLEANING),))
    cells = next(row for line, row in csv_rows(text, "x") if line == 2)
    assert not cells[2].startswith(("=", "+", "@", "\t")) and (cells[2] == "-12" or not cells[2].startswith("-"))
    read = read_catalogue(text, "x")
    assert read is not None and read.bad == () and read.items[0].title == title


@given(st.text(max_size=12))
def test_the_guard_comes_off_again(text: str) -> None:
    assert plain_cell(guard(text)) == text
