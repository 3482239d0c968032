"""Documents of jobs and runs, the catalogue, and files that are written whole or not at all."""

from __future__ import annotations

import json
import os
from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Group
from brachium.core.record.job import DataSafe, DataState, Job, LatchLift, Stage, StepDone
from brachium.core.record.target import Target
from brachium.demo.newsroom import MACHINE, newsroom_job
from brachium.demo.shop import demo_catalogue
from brachium.formats.atomic import check_folder, write_atomically
from brachium.formats.catalogue import COLUMNS, catalogue_text, parse_catalogue, read_catalogue
from brachium.formats.records import job_from_json, job_to_json, run_arrays, run_from_json, run_to_json

text = st.text(max_size=30)
jobs = st.builds(
    Job, id=st.just("j"), name=text, machine=st.just(MACHINE), goal=text,
    budget=st.none() | st.decimals(0, 10_000, places=2), condition=st.lists(text, max_size=3).map(tuple),
    data_safe=st.builds(DataSafe, st.sampled_from(list(DataState)), text, text),
    targets=st.lists(st.builds(Target, text, text, st.floats(-1e6, 1e6), text, st.booleans()), max_size=2).map(tuple),
    steps_done=st.lists(st.builds(StepDone, text, text, st.floats(0, 999), text), max_size=2).map(tuple),
    lifts=st.lists(st.builds(LatchLift, st.sampled_from(list(Stage)), text, text), max_size=2).map(tuple),
)  # fmt: skip


@given(jobs)
def test_a_job_survives_its_document(job: Job) -> None:
    assert job_from_json(job_to_json(job), "x") == job


def test_money_stays_exact_and_origins_stay() -> None:
    job = replace(newsroom_job(), budget=Decimal("149.10"))
    back = job_from_json(job_to_json(job), "x")
    assert back.budget == Decimal("149.10") and str(back.budget) == "149.10"
    assert back.machine.origin("memory.low_voltage_only") == "label"


def test_a_run_survives_with_every_sample(runs: tuple[Run, Run]) -> None:
    for run in runs:
        back = run_from_json(run_to_json(run), run_arrays(run), "x")
        assert replace(back, sessions=()) == replace(run, sessions=())
        for a, b in zip(run.sessions, back.sessions, strict=True):
            assert a.repeats == b.repeats and a.trace.phases == b.trace.phases
            np.testing.assert_array_equal(a.trace.time_s, b.trace.time_s)
            for x, y in zip(a.trace.series, b.trace.series, strict=True):
                assert (x.key, x.unit, x.source) == (y.key, y.unit, y.source)
                np.testing.assert_array_equal(x.values, y.values)


def test_a_damaged_document_names_the_field(runs: tuple[Run, Run]) -> None:
    document = json.loads(job_to_json(newsroom_job()))
    document["machine"]["slots"][0]["channel"] = "first"
    with pytest.raises(ExpectedProblem, match=r"machine\.slots\.0\.channel"):
        job_from_json(json.dumps(document), "job x")
    with pytest.raises(ExpectedProblem, match="no time axis"):
        run_from_json(run_to_json(runs[0]), (), "run x")


def test_the_demo_catalogue_holds_every_group() -> None:
    items = demo_catalogue()
    assert {i.group for i in items} == set(Group) - {Group.PADS, Group.VOLTAGE}
    assert len({i.id for i in items}) == len(items)
    assert all(i.price >= 0 for i in items)


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("x,memory,t,ten,1,SO-DIMM,DDR3,8,1600,1.5,,,,,,,,,", "line 2"),
        ("x,memory,t,10,1,SODIMM,DDR3,8,1600,1.5,,,,,,,,,", "SODIMM"),
        ("x,cable,t,10,1,,,,,,,,,,,,,,", "cable"),
        ("x,drive,t,10,1,,,,,,SATA,2.5 in,7,480,no,fast,1,1,", "fast"),
    ],
)
def test_a_bad_catalogue_names_the_line(row: str, says: str) -> None:
    with pytest.raises(ExpectedProblem, match=says) as caught:
        parse_catalogue(",".join(COLUMNS) + "\n" + row + "\n", "prices.csv")
    assert "prices.csv, line 2" in caught.value.text


def test_a_catalogue_without_columns_names_them() -> None:
    with pytest.raises(ExpectedProblem, match=r"columns are missing: .*price_eur"):
        parse_catalogue("id,group\n", "prices.csv")


def test_a_failed_write_leaves_the_old_file_and_no_crumbs(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "report.html"
    write_atomically(target, b"old")

    def full(_: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(EnvironmentProblem, match="disk is full"):
        write_atomically(target, b"new")
    assert target.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["report.html"]


def test_a_folder_that_is_a_file_is_said_so(tmp_path: Path) -> None:
    blocker = tmp_path / "out"
    blocker.write_text("x")
    for attempt in (lambda: check_folder(blocker), lambda: write_atomically(blocker / "a", b"x")):
        with pytest.raises(EnvironmentProblem) as caught:
            attempt()
        assert str(blocker) in caught.value.text and caught.value.remedy


def test_a_price_list_goes_out_and_in_again() -> None:
    items = demo_catalogue()
    read = read_catalogue(catalogue_text(items), "prices.csv")
    assert read is not None and read.bad == () and read.items == items


def test_bad_lines_of_a_price_list_are_named_and_the_good_ones_kept() -> None:
    text = catalogue_text(demo_catalogue()).replace(
        "mem-8-l,memory,8 GiB DDR3L-1600 SO-DIMM,19", "mem-8-l,memory,8,cheap"
    )
    text += "x,drive,No sizes,9\n,memory,No id,9,1,DIMM,DDR3,4,1600,1.5\n"
    text += "neg,cleaning,Less than nothing,-2\nz,boat,A boat,1\n"
    read = read_catalogue(text, "prices.csv")
    assert read is not None and len(read.items) == len(demo_catalogue()) - 1
    first = len(demo_catalogue()) + 2
    assert [line for line, _ in read.bad] == [3, first, first + 1, first + 2, first + 3]
    assert "an id is missing" in read.bad[2][1] and "a price of -2" in read.bad[3][1] and "boat" in read.bad[4][1]


def test_reading_a_long_list_tells_its_share_and_can_be_stopped() -> None:
    head, *rows = catalogue_text(demo_catalogue()).splitlines()
    text = "\n".join([head, *(f"{k}-{row}" for k in range(300) for row in rows)])
    shares: list[float] = []
    read = read_catalogue(text, "prices.csv", shares.append)
    assert read is not None and len(read.items) == 300 * len(rows)
    assert 90 <= len(shares) <= 110 and shares == sorted(shares) and shares[-1] <= 1.0
    asked: list[int] = []

    def after_three() -> bool:
        asked.append(1)
        return len(asked) > 3

    assert read_catalogue(text, "prices.csv", cancelled=after_three) is None and len(asked) == 4
