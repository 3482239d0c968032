"""Run files and job archives: loss-free, checked, newer ones refused, a damaged part named and the rest kept."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.arrays import frozen
from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem, Problem
from brachium.core.measure.run import Repeat, Run
from brachium.demo.newsroom import newsroom_job
from brachium.formats.answers.shapes import answers_schema
from brachium.formats.job_archive import ArchivedRun, read_archive, write_archive
from brachium.formats.records import document_of, job_schema, run_schema
from brachium.formats.run_file import (
    is_run_file,
    read_run_file,
    run_from_text,
    run_to_file_text,
    run_to_parts,
    write_run_file,
)
from brachium_probe.journal import JournalWriter
from tests.support.some_runs import same, some_run

DOCS = Path(__file__).parents[2] / "docs/formats"
finite = st.floats(allow_nan=False, allow_infinity=False)


def nothing(name: str) -> bytes:
    raise FileNotFoundError(2, "No such file", name)


@settings(max_examples=60, deadline=None)
@given(
    values=st.lists(st.one_of(finite, st.just(float("nan"))), min_size=2, max_size=12),
    words=st.text(max_size=30), result=st.floats(min_value=1e-9, max_value=1e12),
)  # fmt: skip
def test_both_forms_come_back_to_the_last_bit(values: list[float], words: str, result: float) -> None:
    run = some_run()
    session = run.sessions[0]
    trace = replace(session.trace.cut(0.0, 1e9), time_s=frozen(np.arange(len(values)) * 0.1), series=tuple(
        replace(s, values=frozen(values), source=words) for s in session.trace.series))  # fmt: skip
    repeats = (Repeat("cpu_all", result, False, words),)
    run = replace(run, configuration=words, notes=(words,), sessions=(replace(session, trace=trace, repeats=repeats),))
    whole = run_from_text(run_to_file_text(run), "run.json", nothing)
    assert whole.damaged == () and same(whole.run, run)
    parts = run_to_parts(run, "run")
    beside = run_from_text(parts["run.json"].decode(), "run.json", parts.__getitem__)
    assert beside.damaged == () and same(beside.run, run)


def journal_of(run: Run, path: Path) -> JournalWriter:
    """Write a run the way it would have come in."""
    head = replace(document_of(run), sessions=(), checks=(), complete=False, notes=())
    channels = [(s.key, s.unit, s.source) for s in run.sessions[0].trace.series]
    writer = JournalWriter(str(path), head.plain(), channels, 4.0)
    for session in run.sessions:
        writer.begin(session.number, session.boot_id)
        table = np.column_stack([s.values for s in session.trace.series])
        for time_s, row in zip(session.trace.time_s.tolist(), table.tolist(), strict=True):
            writer.sample(time_s, row)
        for phase in session.trace.phases:
            writer.enter(phase.name, phase.start_s)
            writer.phase(phase.name, phase.start_s, phase.end_s)
        for r in session.repeats:
            writer.repeat(r.test, r.value, r.valid, r.reason)
    for c in run.checks:
        writer.check(c.key, c.title, c.passed, c.detail)
    return writer


def test_a_journal_that_ended_is_the_run(tmp_path: Path) -> None:
    run = some_run()
    journal_of(run, tmp_path / "j").end(True, list(run.notes))
    read = read_run_file(tmp_path / "j")
    assert read.damaged == () and same(read.run, run)


@pytest.mark.parametrize("share", [0.45, 0.6, 0.93])
def test_a_journal_cut_anywhere_is_a_partial_run(tmp_path: Path, share: float) -> None:
    run = some_run()
    journal_of(run, tmp_path / "j").close()
    data = (tmp_path / "j").read_bytes()
    (tmp_path / "cut").write_bytes(data[: int(share * len(data))])
    read = read_run_file(tmp_path / "cut")
    assert not read.run.complete and read.damaged == (), "half a last line is what cutting off looks like"
    assert any("cut off" in n for n in read.run.notes)
    kept, whole = read.run.sessions[0].trace, run.sessions[0].trace
    np.testing.assert_array_equal(kept.time_s, whole.time_s[: kept.time_s.size])


def test_a_damaged_line_in_a_journal_is_named_and_the_rest_kept(tmp_path: Path) -> None:
    run = some_run()
    journal_of(run, tmp_path / "j").end(True, list(run.notes))
    lines = (tmp_path / "j").read_text().split("\n")
    lines[4] = lines[4][:9] + "?" + lines[4][10:]
    (tmp_path / "j").write_text("\n".join(lines))
    read = read_run_file(tmp_path / "j")
    assert read.damaged == ("line 5 cannot be read and is left out",) and read.run.complete
    assert read.run.sessions[0].trace.time_s.size == run.sessions[0].trace.time_s.size - 1


def test_a_journal_is_never_written_over(tmp_path: Path) -> None:
    run = some_run()
    journal_of(run, tmp_path / "j").close()
    with pytest.raises(FileExistsError):
        journal_of(run, tmp_path / "j")


HEAD = '{"kind":"head","format":"brachium-journal","version":1,"run":{},"channels":[]}\n'


def spoiled(change: Callable[[dict], object]) -> Callable[[str], str]:
    def apply(text: str) -> str:
        whole = json.loads(text)
        change(whole)
        return json.dumps(whole)

    return apply


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t: t[: len(t) // 2], "cut short"),
        (lambda t: "[]", "this is no run file"),
        (lambda t: t.replace('"brachium-run"', '"something-else"'), "this is no run file"),
        (spoiled(lambda w: w.update(version=2)), "written by a newer Brachium"),
        (spoiled(lambda w: w.pop("version")), "states no version"),
        (spoiled(lambda w: w["run"].update(configuration="better")), "do not match their checksum"),
        (
            lambda t: '{"kind":"head","format":"brachium-journal","version":7,"run":{},"channels":[]}\n',
            "newer Brachium",
        ),
        (lambda t: '{"kind":"head","format":"brachium-journal","version":1,"run":{},"channels":[]}\n', "id: "),
    ],
    ids=["cut", "list", "other format", "newer", "no version", "changed result", "newer journal", "headless journal"],
)
def test_a_broken_run_file_is_refused_with_place_and_remedy(
    tmp_path: Path, change: Callable[[str], str], says: str
) -> None:
    path = tmp_path / "run.json"
    path.write_text(change(run_to_file_text(some_run())))
    with pytest.raises(ExpectedProblem, match=r"run\.json") as caught:
        read_run_file(path)
    assert says in caught.value.text and caught.value.remedy


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda w: w["traces"][1]["time_s"].__setitem__(3, 0.0), "checksum differs"),
        (lambda w: w["traces"][1].pop("series"), "'series' is missing"),
        (lambda w: w["traces"].pop(1), "traces are missing"),
    ],
)
def test_a_damaged_trace_is_named_and_everything_else_kept(
    tmp_path: Path, change: Callable[[dict], object], says: str
) -> None:
    run = some_run()
    whole = json.loads(run_to_file_text(run))
    change(whole)
    (tmp_path / "run.json").write_text(json.dumps(whole))
    read = read_run_file(tmp_path / "run.json")
    assert len(read.damaged) == 1 and read.damaged[0].startswith("session 2:") and says in read.damaged[0]
    assert [r.tolist() for r in read.run.results("cpu_all")] == [r.tolist() for r in run.results("cpu_all")]
    assert read.run.sessions[1].trace.time_s.size == 0
    np.testing.assert_array_equal(read.run.sessions[0].trace.time_s, run.sessions[0].trace.time_s)


def test_run_files_are_known_by_their_content(tmp_path: Path) -> None:
    write_run_file(some_run(), tmp_path / "a.json")
    journal_of(some_run(), tmp_path / "b.txt").close()
    (tmp_path / "c.json").write_text("{}")
    assert [is_run_file(tmp_path / n) for n in ("a.json", "b.txt", "c.json", "none")] == [True, True, False, False]
    with pytest.raises(EnvironmentProblem, match="no such file"):
        read_run_file(tmp_path / "none")


@pytest.fixture
def archive(tmp_path: Path) -> Path:
    runs = (ArchivedRun("before", some_run("a")), ArchivedRun("after", some_run("b", seed=9)))
    write_archive(newsroom_job(), runs, tmp_path / "job.zip")
    return tmp_path / "job.zip"


def test_an_archive_comes_back_whole_and_is_the_same_bytes_again(archive: Path, tmp_path: Path) -> None:
    read = read_archive(archive)
    assert read.damaged == () and read.job == newsroom_job()
    assert [r.role for r in read.runs] == ["before", "after"]
    assert same(read.runs[0].run, some_run("a")) and same(read.runs[1].run, some_run("b", seed=9))
    write_archive(read.job, read.runs, tmp_path / "again.zip")
    assert (tmp_path / "again.zip").read_bytes() == archive.read_bytes()


def rewritten(archive: Path, name: str, change: Callable[[bytes], bytes | None]) -> None:
    """Change one part of an archive; None takes it out."""
    with zipfile.ZipFile(archive) as old:
        parts = {n: old.read(n) for n in old.namelist()}
    new = change(parts.pop(name))
    with zipfile.ZipFile(archive, "w") as out:
        for n, data in ({**parts, name: new} if new is not None else parts).items():
            out.writestr(n, data)


@pytest.mark.parametrize(
    ("name", "change", "says"),
    [
        ("runs/run-01-before-s2.csv", lambda b: b.replace(b"6", b"7"), "run-01-before.json, session 2"),
        ("runs/run-01-before-s2.csv", lambda b: None, "this part is missing"),
        ("runs/run-02-after.json", lambda b: b[:-40], "runs/run-02-after.json is left out: its checksum differs"),
    ],
)
def test_a_damaged_part_of_an_archive_is_named_and_the_rest_offered(
    archive: Path, name: str, change: Callable[[bytes], bytes | None], says: str
) -> None:
    rewritten(archive, name, change)
    read = read_archive(archive)
    assert len(read.damaged) == 1 and says in read.damaged[0]
    assert read.job == newsroom_job() and len(read.runs) == (1 if "left out" in says else 2)


@pytest.mark.parametrize(
    ("name", "change", "says"),
    [
        ("manifest.json", lambda b: b.replace(b'"version": 1', b'"version": 9'), "newer Brachium"),
        ("manifest.json", lambda b: None, "this part is missing"),
        ("job.json", lambda b: b.replace(b"Oakmere", b"Vantry_"), "its checksum differs"),
    ],
)
def test_an_archive_without_its_record_is_refused(
    archive: Path, name: str, change: Callable[[bytes], bytes | None], says: str
) -> None:
    rewritten(archive, name, change)
    with pytest.raises(ExpectedProblem) as caught:
        read_archive(archive)
    assert says in caught.value.text and name in caught.value.place


def test_a_flipped_byte_anywhere_in_an_archive_is_named_never_a_crash(archive: Path, tmp_path: Path) -> None:
    whole, told, spoilt = archive.read_bytes(), 0, tmp_path / "spoilt.zip"
    places = range(0, len(whole), max(len(whole) // 150, 1))
    for at in (*places, *range(len(whole) - 300, len(whole), 5)):
        spoilt.write_bytes(whole[:at] + bytes([whole[at] ^ 0xFF]) + whole[at + 1 :])
        try:
            told += bool(read_archive(spoilt).damaged)
        except Problem as problem:
            told += bool(problem.what and problem.remedy)
    assert told > 100


def test_something_else_or_half_an_archive_is_refused(archive: Path, tmp_path: Path) -> None:
    (tmp_path / "half.zip").write_bytes(archive.read_bytes()[:-200])
    for path in (tmp_path / "half.zip", DOCS / "README.md"):
        with pytest.raises(ExpectedProblem, match="this is no job archive"):
            read_archive(path)


@pytest.mark.parametrize(("name", "schema"), [("run", run_schema), ("job", job_schema), ("answers", answers_schema)])
def test_the_documented_schemas_are_the_programs_own(name: str, schema: Callable[[], dict[str, object]]) -> None:
    assert json.loads((DOCS / f"{name}.schema.json").read_text()) == schema(), "make schemas"
