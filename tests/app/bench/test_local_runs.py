"""Runs on this machine in the shop: journal, recovery after a kill, sessions joined; jobs and runs that travel."""

from __future__ import annotations

import signal
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import pytest

from brachium.app.bench.local_runs import LocalOptions, head_of, join_sessions, local_bench, open_journal
from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.files.compare_files import compare_all, comparison_plain, load_history
from brachium.app.files.job_transfer import export_job, take_in
from brachium.app.intake.local_job import scan_tree, take_this_machine, this_machine
from brachium.app.measure.service import MeasureService
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import AFTER, BEFORE, Workspace
from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.measure.run import Run
from brachium.core.measure.workloads import QUICK
from brachium.core.record.job import LOCAL
from brachium.demo.newsroom import JOB_ID
from brachium.formats.run_file import read_run_file, write_run_file
from brachium_probe.tree import Tree
from tests.support.settle import settle
from tests.support.some_runs import same, some_run
from tests.support.system_tree import laptop


def test_sessions_of_the_same_machine_are_joined_after_a_restart() -> None:
    first, second = some_run("a", [[100.0, 101.0]], boot="mon"), some_run("b", [[102.0, 103.0]], boot="tue", seed=7)
    both = join_sessions(first, second)
    assert [s.number for s in both.sessions] == [1, 2] and both.protocol.sessions == 2
    assert [r.tolist() for r in both.results("cpu_all")] == [[100.0, 101.0], [102.0, 103.0]]
    assert both.sessions[0].trace is first.sessions[0].trace and both.taken_at == first.taken_at


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda r: replace(r, machine="another, 2 threads, 4.0 GiB"), "another machine"),
        (lambda r: replace(r, protocol=replace(r.protocol, repeats=5)), "another protocol"),
        (lambda r: some_run("b", [[1.0]], boot="mon"), "was not restarted"),
    ],
)
def test_a_session_that_does_not_belong_is_not_joined(change, says: str) -> None:  # type: ignore[no-untyped-def]
    later = change(some_run("b", [[102.0, 103.0]], boot="tue"))
    with pytest.raises(ExpectedProblem, match=says):
        join_sessions(some_run("a", [[100.0, 101.0]], boot="mon"), later)


def test_this_machine_is_taken_in_once_with_what_it_says_of_itself(shop: Workspace, tmp_path: Path) -> None:
    tree = laptop(tmp_path / "tree")
    tree.put("/sys/class/dmi/id/product_name", "Tern 14")
    tree.put("/sys/class/dmi/id/sys_vendor", "To be filled by O.E.M.")
    job_id = take_this_machine(shop, scan_tree(Tree(str(tree.root))))
    job = shop.job(job_id)
    assert job.bench == LOCAL and job.machine.identity.model == "Tern 14" and job.machine.processor.threads == 4
    assert job.machine.identity.maker == "", "a placeholder is no maker"
    assert take_this_machine(shop, scan_tree(Tree(str(tree.root)))) == job_id == this_machine(shop)
    view = shop.compute_now(job_id)
    assert "drive_seq" not in view.measured.offered and any(what == "drive tests" for what, _ in view.measured.missing)
    assert 3.0 < view.measured.run_minutes < 90.0


def kill_while_measuring(shop: Path) -> float:
    """A program that measures the demo machine in real time, killed after some seconds; returns for how long it ran."""
    script = (
        "import sys, time; from pathlib import Path; from brachium.app.shop.open_shop import open_shop\n"
        "from brachium.app.demo.demo_shop import fill_demo_shop; from tests.support.settle import settle\n"
        "from brachium.app.measure.service import MeasureService\n"
        f"w = open_shop(Path({str(shop)!r}), fill=fill_demo_shop); settle(w); w.compute_now({JOB_ID!r})\n"
        f"s = MeasureService(w); s.start({JOB_ID!r}, 'before', 1.0); print('going', flush=True); time.sleep(60)"
    )
    process = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None and process.stdout.readline() == "going\n"
    start = time.monotonic()
    time.sleep(6.0)
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    return time.monotonic() - start


def test_a_program_killed_while_measuring_leaves_a_partial_run(tmp_path: Path) -> None:
    shop = tmp_path / "shop.db"
    lasted = kill_while_measuring(shop)
    workspace = open_shop(shop)
    try:
        assert workspace.recovered == ("Newsroom laptop: a run was cut off; what it had sampled is kept.",)
        stored = workspace.all_runs(JOB_ID)
        assert len(stored) == 1 and stored[0].role == BEFORE and not stored[0].run.complete
        assert lasted - float(stored[0].run.sessions[0].trace.time_s[-1]) < 5.0
        assert workspace.run(JOB_ID, BEFORE) is None, "half a run is no before-run"
        assert list((tmp_path / "shop-runs").iterdir()) == []
        service = MeasureService(workspace)
        assert service.cut_off(JOB_ID, BEFORE) is stored[0].run
        workspace.compute_now(JOB_ID)
        service.start(JOB_ID, BEFORE, None, go_on=True)
        workspace.lanes.drain("bench")
        whole = workspace.run(JOB_ID, BEFORE)
        assert whole is not None and whole.complete and len(whole.sessions) == whole.protocol.sessions == 2
        old = next(s.run for s in workspace.all_runs(JOB_ID) if s.run.id == stored[0].run.id)
        assert old.void_reason == f"joined into {whole.id}" and service.cut_off(JOB_ID, BEFORE) is None
    finally:
        workspace.close()
    again = open_shop(shop)
    assert again.recovered == () and len(again.all_runs(JOB_ID)) == 2
    again.close()


def test_a_run_that_cannot_be_stored_leaves_its_journal(shop: Workspace, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(_: object) -> None:
        raise EnvironmentProblem("the disk is full", "shop.db", "Free some space.")

    monkeypatch.setattr(shop.repository, "add_run", full)
    problems: list[Exception] = []
    shop.on_problem.append(problems.append)
    settle(shop)
    shop.compute_now(JOB_ID)
    service = MeasureService(shop)
    service.start(JOB_ID, BEFORE, None)
    shop.lanes.drain("bench")
    shop.lanes.drain("store")
    assert [str(p) for p in problems] == ["shop.db: the disk is full. Free some space."]
    journal = shop.journal_path(JOB_ID, BEFORE, f"{JOB_ID}-before-1")
    assert read_run_file(journal).run.complete, "the next start keeps it"


def test_a_damaged_journal_is_put_aside_and_said(tmp_path: Path) -> None:
    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    workspace.close()
    journal = tmp_path / "shop-runs" / f"{JOB_ID}@before-1.running.jsonl"
    journal.parent.mkdir()
    journal.write_text("no json at all")
    workspace = open_shop(tmp_path / "shop.db")
    assert len(workspace.recovered) == 1 and "this is no run file" in workspace.recovered[0]
    assert [p.suffix for p in journal.parent.iterdir()] == [".damaged"]
    workspace.close()


def test_a_journal_that_cannot_be_made_stops_the_run_before_it_starts(shop: Workspace, tmp_path: Path) -> None:
    settle(shop)
    shop.compute_now(JOB_ID)
    shop.journal_path = lambda *_: tmp_path / "file" / "j"  # type: ignore[method-assign]
    (tmp_path / "file").write_text("in the way")
    service = MeasureService(shop)
    with pytest.raises(EnvironmentProblem, match="Nothing was measured yet"):
        service.start(JOB_ID, BEFORE, None)
    assert service.active is None


def test_an_id_of_a_foreign_shop_file_names_no_journal_elsewhere(shop: Workspace) -> None:
    shop.add_job(replace(shop.job(JOB_ID), id="../../elsewhere"))
    with pytest.raises(ExpectedProblem, match="the id of this record"):
        shop.journal_path("../../elsewhere", BEFORE, "x-1")


def test_history_of_the_shop_narrows_and_widens_what_can_be_proven(finished_shop: Path) -> None:
    workspace = open_shop(finished_shop)
    try:
        fresh = workspace.compute_now(JOB_ID)
        assert fresh.measured.spreads["cpu_all"].source == "4 sessions of this machine"
        assert fresh.proof.comparison is not None and fresh.proof.comparison.gains[0].result is not None
        assert fresh.proof.comparison.gains[0].result.source == "stated default", "the pair does not teach itself twice"
        before = workspace.run(JOB_ID, BEFORE)
        assert before is not None
        wild = [replace(r, value=r.value * (1.3 if s.number == 1 else 0.8)) for s in before.sessions for r in s.repeats]
        sessions = tuple(
            replace(s, repeats=tuple(wild[k :: len(before.sessions)])) for k, s in enumerate(before.sessions)
        )
        old = replace(before, id=f"{JOB_ID}-before-0", sessions=sessions, taken_at="2020-01-01 10:00")
        workspace.add_run(JOB_ID, BEFORE, old)
        wider = workspace.compute_now(JOB_ID)
        assert wider.measured.provable("cpu_all") > 1.5 * fresh.measured.provable("cpu_all")
    finally:
        workspace.close()


def test_a_job_travels_and_gives_the_same_figures_elsewhere(finished_shop: Path, tmp_path: Path) -> None:
    here = open_shop(finished_shop)
    assert export_job(here, JOB_ID, tmp_path / "job.zip") == 2
    wanted = here.compute_now(JOB_ID)
    there = open_shop(tmp_path / "elsewhere.db")
    try:
        taken = take_in(there, tmp_path / "job.zip")
        assert taken.job_id == JOB_ID and "taken in with 2 runs" in taken.said and taken.damaged == ()
        got = there.compute_now(JOB_ID)
        assert got.proof.comparison is not None and wanted.proof.comparison is not None
        assert comparison_plain([got.proof.comparison]) == comparison_plain([wanted.proof.comparison])
        assert [t.met for t in got.proof.targets] == [t.met for t in wanted.proof.targets]
        assert "is here already" in take_in(there, tmp_path / "job.zip").said and len(there.job_ids()) == 1
        there.edit("goal", replace(there.job(JOB_ID), goal="something else"))
        other = take_in(there, tmp_path / "job.zip")
        assert other.job_id == f"{JOB_ID}-2" and len(there.all_runs(other.job_id)) == 2, (
            "an edited record is kept apart"
        )
        there.lanes.drain("store")
    finally:
        here.close()
        there.close()
    reopened = open_shop(tmp_path / "elsewhere.db")
    assert [len(reopened.all_runs(j)) for j in reopened.job_ids()] == [2, 2]
    reopened.close()


def test_a_run_file_is_kept_once_and_under_the_job_that_is_named(shop: Workspace, tmp_path: Path) -> None:
    write_run_file(some_run(), tmp_path / "run.json")
    first = take_in(shop, tmp_path / "run.json")
    assert shop.job(first.job_id).name == "Kestrion M4-35" and same(
        replace(shop.all_runs(first.job_id)[0].run, id="r1"), some_run())  # fmt: skip
    assert "is here already, under Kestrion M4-35" in take_in(shop, tmp_path / "run.json", JOB_ID).said
    write_run_file(some_run("r2", seed=5), tmp_path / "after.json")
    take_in(shop, tmp_path / "after.json", first.job_id, AFTER)
    assert sorted(s.role for s in shop.all_runs(first.job_id)) == [AFTER, BEFORE]
    with pytest.raises(ExpectedProblem, match="no record 'nobody'"):
        take_in(shop, tmp_path / "after.json", "nobody")


def test_history_is_read_from_folders_and_only_whole_runs_count(tmp_path: Path) -> None:
    for k in range(4):
        write_run_file(some_run(f"h{k}", seed=k), tmp_path / f"h{k}.json")
    write_run_file(replace(some_run("cut"), complete=False), tmp_path / "cut.json")
    (tmp_path / "notes.json").write_text("{}")
    history = load_history([tmp_path])
    assert sorted(r.id for r in history) == ["h0", "h1", "h2", "h3"]
    runs: list[Run] = [some_run("h0"), some_run("x", [[140.0, 141.0, 139.0]])]
    found = compare_all(runs, history)[0].gains[0]
    assert found.result is not None and found.result.source == "6 sessions of this machine", "h0 is in the comparison"
    with pytest.raises(ExpectedProblem, match="different machines"):
        compare_all([some_run("a"), some_run("b", machine="Kestrion M6, 8 threads")])


def test_a_journal_opens_where_the_run_is_going_to_be(tmp_path: Path) -> None:
    bench = local_bench(LocalOptions(QUICK))
    head = head_of(bench, QUICK, "x", "as taken in")
    writer = open_journal(tmp_path / "deep" / "x.jsonl", bench, head)
    writer.begin(1, "boot")
    for k in range(3):
        writer.sample(float(k), [float("nan")] * len(bench.sampler.channels()))
    writer.close()
    run = read_run_file(tmp_path / "deep" / "x.jsonl").run
    assert run.machine == bench.signature() and run.sessions[0].trace.series == (), "nothing read is nothing kept"
    with pytest.raises(EnvironmentProblem, match="in the way"):
        open_journal(tmp_path / "deep" / "x.jsonl", bench, head)
    assert [p.name for p in (tmp_path / "deep").iterdir()] == ["x.jsonl"]
