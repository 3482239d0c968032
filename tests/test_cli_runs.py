"""measure, compare, report, export and import from the command line, as their own processes where it matters."""

from __future__ import annotations

import json
import signal
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

import pytest
from typer.testing import CliRunner

from brachium.app.bench.local_runs import join_sessions
from brachium.cli.commands import app
from brachium.cli.measure import _joined_or_alone
from brachium.demo.newsroom import JOB_ID
from brachium.formats.run_file import read_run_file, write_run_file
from tests.support.some_runs import some_run


def run(*arguments: object) -> tuple[int, str]:
    done = CliRunner().invoke(app, [str(a) for a in arguments])
    return done.exit_code, done.output


# the quick protocol with a memory test that is over at once: what is tried here begins with the settle phase
BRIEFLY = """
from dataclasses import replace
import brachium.core.measure.workloads as workloads
small = dict(memory_test_s=0.1, memory_test_bytes=1 << 20, drive_bytes=1 << 20)
workloads.PROTOCOLS["quick"] = replace(workloads.QUICK, **small)
from brachium.cli import main
main()
"""


def measuring(out: Path) -> subprocess.Popen[str]:
    process = subprocess.Popen(
        [sys.executable, "-c", BRIEFLY, "measure", "--out", str(out), "--room", "22"],
        stderr=subprocess.PIPE,
        text=True,
    )
    assert process.stderr is not None
    said = []
    for line in process.stderr:
        said.append(line)
        if line.startswith("settle"):
            break
    assert any("prove a gain from" in line for line in said), "the smallest provable gain is said before the run"
    assert any("not measured here" in line for line in said) and any("not with this protocol" in line for line in said)
    return process


def samples(journal: Path, count: int) -> None:
    """Wait until so many samples of the settle phase are written."""
    while journal.read_text().partition('"settle"')[2].count('"kind":"s"') < count:
        time.sleep(0.05)


def test_a_polite_stop_keeps_the_run_as_incomplete(tmp_path: Path) -> None:
    process = measuring(tmp_path / "run.json")
    samples(tmp_path / "run.json.running.jsonl", 8)
    process.send_signal(signal.SIGINT)
    assert process.wait() == 1
    assert process.stderr is not None
    process.stderr.close()
    stopped = read_run_file(tmp_path / "run.json").run
    assert not stopped.complete and stopped.sessions[0].trace.time_s.size > 5 and stopped.conditions.room_c == 22.0
    assert [p.name for p in tmp_path.iterdir()] == ["run.json"]


def test_a_killed_run_is_recovered_by_the_next_one(tmp_path: Path) -> None:
    out = tmp_path / "run.json"
    process = measuring(out)
    samples(out.with_name("run.json.running.jsonl"), 6)
    process.send_signal(signal.SIGKILL)
    process.wait()
    assert process.stderr is not None
    process.stderr.close()
    journal = tmp_path / "run.json.running.jsonl"
    partial = read_run_file(journal).run
    last = partial.sessions[0].trace.phases[-1]
    assert not partial.complete and last.name == "settle" and last.end_s - last.start_s > 1.0
    again = measuring(out)
    again.send_signal(signal.SIGTERM)
    again.wait()
    assert again.stderr is not None
    again.stderr.close()
    kept = read_run_file(tmp_path / "run-cut-off-1.json").run
    assert kept.sessions[0].trace.time_s.size == partial.sessions[0].trace.time_s.size
    assert sorted(p.name for p in tmp_path.iterdir()) == ["run-cut-off-1.json", "run.json"]


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["measure", "--out", "{here}/r.json", "--protocol", "long"], "Known: quick, standard"),
        (["measure", "--out", "{here}/r.json", "--rate", "9"], "Choose 1 to 4"),
        (["measure", "--out", "{here}/taken.json"], "in the way"),
        (["measure", "--out", "/proc/none/r.json"], "/proc/none"),
        (["measure", "--out", "{here}/r.json", "--folder", "{here}/none"], "no such folder"),
        (["measure", "--out", "{here}/r.json", "--folder", "/dev/shm"], "lies in memory"),
        (["measure", "--out", "{here}/r.json", "--add-to", "{here}/none.json"], "no such file"),
        (["compare", "{here}/taken.json"], "Name two or more"),
        (["compare", "{here}/taken.json", "{here}/broken.json"], "broken.json"),
        (["compare", "{here}/taken.json", "{here}/other.json"], "different machines"),
        (["compare", "{here}/taken.json", "{here}/taken.json", "--html", "/proc/none/x.html"], "/proc/none"),
        (["report", "--out", "{here}", "--shop", "{here}/none.db"], "no such shop file"),
        (["export", "--out", "{here}/x.zip", "--shop", "{here}/none.db"], "no such shop file"),
        (["import", "{here}/broken.json", "--shop", "{here}/s.db"], "broken.json"),
        (["import", "{here}/none.zip", "--shop", "{here}/s.db"], "no such file"),
        (["import", "{here}/taken.json", "--shop", "{here}/s.db", "--as", "someday"], "is none of before, after"),
    ],
)
def test_bad_input_ends_with_one_and_a_sentence(tmp_path: Path, arguments: list[str], says: str) -> None:
    write_run_file(some_run(), tmp_path / "taken.json")
    write_run_file(some_run(machine="Kestrion M6-45, 8 threads, 15.5 GiB"), tmp_path / "other.json")
    (tmp_path / "broken.json").write_text((tmp_path / "taken.json").read_text()[:700])
    code, text = run(*(a.format(here=tmp_path) for a in arguments))
    assert code == 1 and says in text and "Traceback" not in text
    assert not (tmp_path / "r.json").exists()


def test_a_session_of_the_same_start_is_kept_by_itself_and_said(capsys: pytest.CaptureFixture[str]) -> None:
    earlier, same_start = some_run("a", [[100.0]], boot="mon"), some_run("b", [[101.0]], boot="mon")
    assert _joined_or_alone(join_sessions, earlier, same_start) is same_start
    assert "was not restarted since the last session" in capsys.readouterr().err
    assert len(_joined_or_alone(join_sessions, earlier, some_run("b", [[101.0]], boot="tue")).sessions) == 2


def test_three_runs_are_compared_with_the_first_and_written_as_html_and_json(tmp_path: Path) -> None:
    for name, results in (
        ("a", [[100.0, 101.0, 99.0]] * 2),
        ("b", [[120.0, 121.0, 119.5]] * 2),
        ("c", [[100.2] * 3] * 2),
    ):
        write_run_file(some_run(name, results), tmp_path / f"{name}.json")
    code, text = run("compare", *(tmp_path / f"{n}.json" for n in "abc"), "--html", tmp_path / "c.html", "--json",
                     tmp_path / "c.json")  # fmt: skip
    assert code == 0 and text.count("All threads, short") == 3 and "better" in text and "no difference above" in text
    figures = json.loads((tmp_path / "c.json").read_text())
    assert figures["format"] == "brachium-comparison" and figures["first"]["id"] == "a"
    gains = [later["tests"][0] for later in figures["later"]]
    assert (
        gains[0]["word"] == "better"
        and gains[0]["low"] < 1.2 < gains[0]["high"]
        and gains[1]["word"] == "no difference"
    )
    assert figures["later"][0]["heat"]["refusal"]
    html = (tmp_path / "c.html").read_text()
    assert html.count("<svg") >= 4 and "as taken in, then as taken in" in html and 'src="http' not in html


def test_history_makes_a_comparison_more_careful(tmp_path: Path) -> None:
    write_run_file(some_run("a", [[100.0, 101.0, 99.0]]), tmp_path / "a.json")
    write_run_file(some_run("b", [[112.0, 113.0, 111.5]]), tmp_path / "b.json")
    (tmp_path / "old").mkdir()
    for k, value in enumerate((80.0, 125.0, 95.0, 110.0, 70.0, 130.0)):
        write_run_file(some_run(f"h{k}", [[value, value * 1.01, value * 0.99]]), tmp_path / "old" / f"h{k}.json")
    plain = run("compare", tmp_path / "a.json", tmp_path / "b.json")[1]
    careful = run("compare", tmp_path / "a.json", tmp_path / "b.json", "--history", tmp_path / "old")[1]
    assert "better" in plain and "cannot tell" in careful


def test_a_damaged_part_is_said_and_the_rest_compared(tmp_path: Path) -> None:
    write_run_file(some_run("a"), tmp_path / "a.json")
    whole = json.loads((tmp_path / "a.json").read_text())
    whole["traces"][0]["sha256"] = "0"
    (tmp_path / "b.json").write_text(json.dumps(whole))
    write_run_file(replace(some_run("c"), complete=False), tmp_path / "c.json")
    code, text = run("compare", tmp_path / "a.json", tmp_path / "b.json", tmp_path / "c.json")
    assert code == 0 and "session 1: the traces are damaged" in text and "this run is not complete" in text


def test_a_job_goes_out_and_comes_in_and_gives_its_report(finished_shop: Path, tmp_path: Path) -> None:
    code, text = run("export", "--shop", finished_shop, "--out", tmp_path / "job.zip")
    assert code == 0 and f"{JOB_ID} with 2 runs" in text
    code, text = run("import", tmp_path / "job.zip", "--shop", tmp_path / "there.db")
    assert code == 0 and "taken in with 2 runs" in text
    code, text = run("report", "--shop", tmp_path / "there.db", "--out", tmp_path / "report")
    assert code == 0 and (tmp_path / "report/report.pdf").read_bytes()[:5] == b"%PDF-"
    write_run_file(some_run(), tmp_path / "run.json")
    code, text = run("import", tmp_path / "run.json", "--shop", tmp_path / "there.db", "--job", JOB_ID, "--as", "after")
    assert code == 0 and "kept as after-run of Newsroom laptop" in text
    code, text = run("export", "--shop", tmp_path / "there.db", "--out", tmp_path / "x.zip", "--job", "nobody")
    assert code == 1 and f"--job: {JOB_ID}" in text
