"""Unchanged quick runs on this machine, paired up: how many comparisons claim a change where there is none?

    python -m benchmarks.null_runs FOLDER [--runs 20]     measures what is missing in FOLDER, then compares
    python -m benchmarks.null_runs FOLDER --only-compare

Every pair is compared with what all other runs teach about the spread (docs/performance.md holds the result).
A run whose calm phase had background load is measured again, as the program would ask its user to.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import time
from dataclasses import replace
from pathlib import Path

from brachium.app.files.compare_files import compare_all
from brachium.core.measure.run import MeasuredSession, Run
from brachium.core.measure.statistics import Word
from brachium.core.measure.validity import burst_problem, settle_problem
from brachium.core.prove.comparison import Comparison
from brachium.formats.run_file import read_run_file
from brachium.formats.run_journal import JOURNAL_SUFFIX

PAUSE_S = 20.0
CLAIMED = (Word.BETTER, Word.WORSE)


def usable(run: Run) -> bool:
    """Complete, and calm before its tests."""
    calm = [r.valid for s in run.sessions for r in s.repeats if r.test == "sustained"]
    return run.complete and bool(calm) and all(calm)


def measure(folder: Path, count: int) -> int:
    """Fill the folder with so many usable runs; returns how many had to be measured again."""
    drive = folder / "drive"
    drive.mkdir(parents=True, exist_ok=True)
    again = 0
    for number in range(1, count + 1):
        out = folder / f"null-{number:02}.json"
        while not (out.exists() and usable(read_run_file(out).run)):
            out.unlink(missing_ok=True)
            again += not _one(out, drive)
    return again


def _one(out: Path, drive: Path) -> bool:
    """One run; given up early where its calm phase was not calm, because all its repeats would be invalid."""
    command = [sys.executable, "-m", "brachium", "measure", "--out", str(out), "--folder", str(drive)]
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    journal = out.with_name(out.name + JOURNAL_SUFFIX)
    looked = False
    while process.poll() is None:
        time.sleep(2.0)
        if looked or not journal.exists() or '"enter","name":"load"' not in journal.read_text():
            continue
        looked = True
        if settle_problem(read_run_file(journal).run.sessions[0].trace):
            process.terminate()
            process.wait()
            out.unlink(missing_ok=True)
            time.sleep(PAUSE_S)
            return False
    return True


def judged(run: Run) -> Run:
    """Validity judged anew from the traces, so that runs of an earlier build count alike."""
    return replace(run, sessions=tuple(_session(s) for s in run.sessions))


def _session(session: MeasuredSession) -> MeasuredSession:
    load = session.trace.phase("load")
    problem = burst_problem(session.trace.cut(load.start_s + 1.0, load.end_s)) if load is not None else ""
    repeats = tuple(replace(r, valid=False, reason=problem) if problem and r.test == "sustained" else r
                    for r in session.repeats)  # fmt: skip
    return replace(session, repeats=repeats)


def compare_pairs(runs: list[Run]) -> list[Comparison]:
    """Neighbours are paired; each pair learns its spread from all the others."""
    out: list[Comparison] = []
    for k in range(0, len(runs) - 1, 2):
        pair = runs[k : k + 2]
        out += compare_all(pair, runs)  # the pair itself is left out of what it learns from
    return out


def claims(comparison: Comparison) -> list[str]:
    return [g.test.key for g in comparison.gains if g.judgement.word in CLAIMED]


def main() -> None:
    """Measure what is missing, compare, print a table in Markdown."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--runs", type=int, default=20)
    parser.add_argument("--only-compare", action="store_true")
    given = parser.parse_args()
    again = 0 if given.only_compare else measure(given.folder, given.runs)
    runs = [read_run_file(p).run for p in sorted(given.folder.glob("null-*.json"))]
    runs = [judged(r) for r in runs if usable(r)]
    print(f"{len(runs)} runs, {again} measured again because of background load")
    print("| pair | " + " | ".join(t.key for t in runs[0].tests) + " | claimed |")
    print("|---|" + "---|" * (len(runs[0].tests) + 1))
    total = compared = 0
    for number, comparison in enumerate(compare_pairs(runs), 1):
        found = claims(comparison)
        cells = []
        for gain in comparison.gains:
            r = gain.result
            cells.append(f"{r.ratio:.2f} ({r.low:.2f} to {r.high:.2f})" if r else "not compared")
            compared += r is not None
        total += len(found)
        print(f"| {number} | " + " | ".join(cells) + f" | {', '.join(found) or 'none'} |")
    print(f"{total} of {compared} comparisons claim a change")


if __name__ == "__main__":
    main()
