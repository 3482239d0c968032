"""Speed and memory figures; writes the table of docs/performance.md.

Times are medians. Beside seconds stands the ratio to a yardstick (a fixed NumPy and Python loop on the same machine), so
that figures of different machines can be held against each other. `python -m benchmarks.run --print` writes nothing.
"""

from __future__ import annotations

import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import tracemalloc
from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from brachium.core.fit.verdict import Level
from brachium.core.plan.candidates import Group

if TYPE_CHECKING:
    from brachium.app.view.job_view import JobView
    from brachium.core.base.band import Band
    from brachium.core.choose.compatibility import Option
    from brachium.core.heat.before_figures import BeforeFigures

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "performance.md"
START, END = "<!-- table: start -->", "<!-- table: end -->"


@dataclass(frozen=True)
class Figure:
    """One line of the table: `count` is what was processed, `peak_mb` extra memory where measured."""

    name: str
    seconds: float
    count: str
    aim: str = ""
    peak_mb: float | None = None


def median_s(work: Callable[[], object], times: int = 5) -> float:
    """Median wall time of a call [s]; the first, cold call is left out."""
    work()
    out = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        out.append(time.perf_counter() - start)
    return statistics.median(out)


def yardstick_s() -> float:
    """A fixed piece of NumPy and plain Python [s]."""
    matrix = np.random.default_rng(1).normal(size=(300, 300))

    def work() -> float:
        total = float(np.linalg.svd(matrix, compute_uv=False)[0])
        for k in range(200_000):
            total += k % 7
        return total

    return median_s(work)


def start_to_window() -> Figure:
    """From the start of the process to a painted window with its first view, files warm."""
    script = (
        "import sys, time, tempfile, pathlib\n"
        "from PySide6.QtWidgets import QApplication\n"
        "from brachium.ui.run import make_window\n"
        "app = QApplication([])\n"
        "w, p = make_window(pathlib.Path(sys.argv[1]), True)\n"
        "w.show()\n"
        "app.processEvents()\n"
        "w.grab()\n"
        "import os; os._exit(0)\n"
    )
    with tempfile.TemporaryDirectory() as folder:
        shop = Path(folder) / "shop.db"

        def once() -> None:
            subprocess.run([sys.executable, "-c", script, str(shop)], check=True)

        return Figure("start to usable window, warm", median_s(once), "one demo shop", "under 2 s")


def page_changes() -> Figure:
    """The longest time that the window's thread is held by a change of page, over all stages, pages built before."""
    from PySide6.QtWidgets import QApplication

    from brachium.app.demo.headless import run_demo_job
    from brachium.core.record.job import STAGES
    from brachium.ui.run import make_window

    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        shop = Path(folder) / "shop.db"
        run_demo_job(shop, lambda _: None, others=False)[0].close()
        window, _poster = make_window(shop, False)
        window.resize(1280, 800)
        window.show()
        end = time.monotonic() + 30
        while window.session.view() is None and time.monotonic() < end:
            app.processEvents()
        longest = 0.0
        for _ in range(3):
            for stage in STAGES:
                start = time.perf_counter()
                window.session.select_stage(stage)
                held = time.perf_counter() - start
                app.processEvents()
                longest = held if _ and held > longest else longest
        window.close()
        window.session.workspace.close()
    return Figure("longest change of page", longest, "7 pages", "0.05 s")


def traces() -> list[Figure]:
    """A very long log."""
    from benchmarks.traces import trace_times

    opened, frames = trace_times()
    of = "12 h at 4 Hz, 8 series"
    return [
        Figure("log read and painted", opened, of, "1.5 s"),
        Figure(
            f"one frame while moving along it ({frames:.0f} frames a second)", 1 / frames, of, "0.025 s (40 a second)"
        ),
    ]


def rail() -> list[Figure]:
    """A shop of thousands of machines."""
    from benchmarks.rail import MACHINES, rail_times

    opened, longest = rail_times()
    of = f"{MACHINES} machines"
    return [
        Figure("shop opened into a window", opened, of),
        Figure("longest keystroke in the search line of the rail", longest, of, "0.1 s"),
    ]


def numbers() -> list[Figure]:
    """Fits, comparison, prediction, simulation, report and import."""
    from brachium.app.demo.headless import run_demo_job
    from brachium.app.reports.full_report import report_content
    from brachium.app.view.cause_record import assessment_of
    from brachium.app.view.figures import traces_of
    from brachium.app.view.job_view import compute_view
    from brachium.app.view.measured import JobRuns
    from brachium.core.cause.kinds import KINDS
    from brachium.core.cause.swap_grid import Axis, solve_grid
    from brachium.core.choose.front import build_front
    from brachium.core.choose.plan_space import Limits
    from brachium.core.choose.predict import predict
    from brachium.core.heat.claims import compare, read_one
    from brachium.core.heat.model import TwoNode, simulate
    from brachium.core.heat.run_traces import heat_traces
    from brachium.core.heat.what_if import Changes, solve
    from brachium.core.prove.comparison import compare_runs
    from brachium.core.work.effort import Effort
    from brachium.demo.shop import demo_catalogue
    from brachium.formats.sensor_log import read_sensor_log
    from brachium.report.html import render_html
    from brachium.report.pdf import html_to_pdf

    GRID = (Axis("modules", tuple("abcd")), Axis("places", tuple("1234")))

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        start = time.perf_counter()
        workspace, view = run_demo_job(folder / "shop.db", lambda _: None, others=False)
        job_s = time.perf_counter() - start
        workspace.close()
        before, after = view.measured.before, view.measured.after
        assert (
            before is not None
            and after is not None
            and view.proof.comparison is not None
            and view.causes.figures is not None
        )
        figures, comparison = view.causes.figures, view.proof.comparison
        traces = [heat_traces(run, 95.0) for run in (before, after)]
        base = figures.base
        machine, many = view.job.machine, _many_options(view)
        assert base is not None
        model = TwoNode(8.0, 160.0, 0.7, 0.9, 0.65, 0.15, 4000.0)
        one = traces[0][0]
        power, fan = one.power_w, one.fan_rpm
        assert power is not None and fan is not None
        html = render_html(report_content(view))
        log = folder / "long.csv"
        _write_long_log(log, 200_000)
        tracemalloc.start()
        compare(traces[0], traces[1])
        peak_mb = tracemalloc.get_traced_memory()[1] / 1e6
        tracemalloc.stop()
        return [
            Figure("two-node model, one trace", median_s(lambda: simulate(model, one.time_s, power, fan, (5.0, 3.0))),
                   f"{one.time_s.size} samples"),
            Figure("heat fit, one trace", median_s(lambda: read_one(one)), f"{one.time_s.size} samples", "0.1 s"),
            Figure("heat fit, a pair", median_s(lambda: compare(traces[0][:1], traces[1][:1])), "2 traces", "0.3 s"),
            Figure("heat fit, two sessions each", median_s(lambda: compare(traces[0], traces[1])), "4 traces", "",
                   peak_mb),
            Figure("what if: balance and transient", median_s(lambda: solve(base, Changes(paste=0.5))), "900 s of load", "0.05 s"),
            Figure("causes ranked", median_s(lambda: assessment_of(view.job, before, figures)), f"{len(KINDS)} causes"),
            Figure("plan front", median_s(lambda: build_front(machine, many, view.causes.profile, figures, Limits(32.0), Effort(machine)), 3),
                   "1 000 000 plans", "3 s"),
            Figure("bands of a front", median_s(lambda: _bands(view, figures), 3), "50 plans, 10 000 draws", "1.5 s"),
            Figure("swap grid, first try", median_s(lambda: solve_grid(GRID, ())), "4 modules, 4 places"),
            Figure("comparison of two runs", median_s(lambda: compare_runs(before, after, 95.0)), "9 tests, 4 traces"),
            Figure("prediction of a plan", median_s(lambda: predict(view.job.machine, view.choice.chosen(), view.causes.profile, figures)),
                   "4 changes, 4000 draws"),
            Figure("fit rules and plan, a whole view", median_s(lambda: _whole_view(view)), f"{len(view.choice.offers)} candidates"),
            Figure("the same after a tick of the work",
                   median_s(lambda: compute_view(view.job, JobRuns(before, after), demo_catalogue())), "front kept"),
            Figure("twin traces, laid out", median_s(lambda: traces_of(comparison, 95.0, 800, 400)), "8 curves", "0.05 s"),
            Figure("report, HTML", median_s(lambda: render_html(report_content(view))), f"{len(html) // 1000} kB"),
            Figure("report, PDF", median_s(lambda: html_to_pdf(html), 3), "3 pages"),
            Figure("reports for three readers, written", median_s(lambda: _reports(view), 3), "3 HTML, 3 PDF", "3 s"),
            Figure("sensor log read", median_s(lambda: read_sensor_log(log), 3), "200 000 lines"),
            Figure("the whole demo job, headless", job_s, "2 runs, 4 sessions"),
        ]  # fmt: skip


def _whole_view(view: JobView) -> JobView:
    from brachium.app.view import weighed_plans as choosing
    from brachium.app.view.job_view import compute_view
    from brachium.demo.shop import demo_catalogue

    choosing._REMEMBERED.forget()
    from brachium.app.view.measured import JobRuns

    return compute_view(view.job, JobRuns(view.measured.before, view.measured.after), demo_catalogue())


def _reports(view: JobView) -> None:
    from brachium.app.reports.full_report import write_report

    with tempfile.TemporaryDirectory() as folder:
        write_report(view, Path(folder))


def _bands(view: JobView, figures: BeforeFigures) -> list[Band]:
    """Bands of fifty plans of up to four changes."""
    from brachium.core.choose.draws import draw
    from brachium.core.choose.predict import bands_of

    draws = draw(view.causes.profile, figures, view.job.machine, 10_000)
    usable = [o.candidate for o in view.choice.offers if o.level <= Level.NEEDS_FIRST]
    by_group = [[c for c in usable if c.group is g] for g in (Group.MEMORY, Group.DRIVE, Group.PASTE, Group.CLEANING)]
    plans = [tuple(group[k % len(group)] for group in by_group if group) for k in range(50)]
    return [bands_of(view.job.machine, p, view.causes.profile, figures, draws, view.choice.around.heat) for p in plans]


def _many_options(view: JobView) -> list[Option]:
    """Candidates of a job copied until there are a million plans: 99 kits, 99 drives, 9 of either service."""
    from brachium.core.choose.compatibility import Option

    out = []
    for group, count in ((Group.MEMORY, 99), (Group.DRIVE, 99), (Group.PASTE, 9), (Group.CLEANING, 9)):
        some = [o for o in view.choice.offers if o.candidate.group is group and o.level <= Level.NEEDS_FIRST]
        for k in range(count):
            one = some[k % len(some)]
            candidate = replace(one.candidate, id=f"{group}{k}", price=one.candidate.price + Decimal(k) / 7)
            out.append(Option(candidate, one.level, one.verdicts))
    return out


def carrying() -> list[Figure]:
    """Sampler cost, run files and archives."""
    from brachium.app.demo.headless import run_demo_job
    from brachium.formats.job_archive import ArchivedRun, read_archive, write_archive
    from brachium.formats.run_file import read_run_file, write_run_file
    from brachium_probe.sampler import SystemSampler
    from brachium_probe.scan import scan
    from brachium_probe.tree import Tree
    from tests.support.system_tree import laptop, scanned_laptop

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        workspace, view = run_demo_job(folder / "shop.db", lambda _: None, others=False)
        workspace.close()
        run = view.measured.before
        assert run is not None
        write_run_file(run, folder / "run.json")
        runs = (ArchivedRun("before", run),)
        write_archive(view.job, runs, folder / "job.zip")
        samples = sum(s.trace.time_s.size for s in run.sessions)
        out = [
            Figure(
                "run file written", median_s(lambda: write_run_file(run, folder / "run.json")), f"{samples} samples"
            ),
            Figure("run file read", median_s(lambda: read_run_file(folder / "run.json")), f"{samples} samples"),
            Figure("job archive read", median_s(lambda: read_archive(folder / "job.zip")), "1 run, 2 traces"),
        ]
        captured = Tree(str(scanned_laptop(folder / "captured").root))
        out.append(Figure("scan of a captured tree", median_s(lambda: scan(captured)), "one laptop", "0.3 s"))
        for title, tree in (
            ("this machine", Tree()),
            ("a laptop with all sensors", Tree(str(laptop(folder / "t").root))),
        ):
            sampler = SystemSampler(tree)
            start = time.process_time()
            for k in range(400):
                sampler.sample(float(k))
            share = (time.process_time() - start) / 400 * 4
            out.append(Figure("processor time of sampling at 4 Hz, a second", share, title, "0.02 s (2 % of a core)"))
        return out


def _write_long_log(path: Path, lines: int) -> None:
    rows = ["t_s,temp_c,power_w,clock_mhz,fan_rpm,util_pct"]
    for t in range(lines):
        busy = 1000 < t < 0.9 * lines
        rows.append(f"{t},{70 if busy else 40},{35.5 if busy else 5.1},{3300 if busy else 900},{4000 if busy else 1900},"
                    f"{99 if busy else 1}")  # fmt: skip
    path.write_text("\n".join(rows), encoding="utf-8")


def table(found: list[Figure], yardstick: float) -> str:
    """The figures as a Markdown table."""
    rows = ["| what | of | seconds | yardsticks | aim |", "|---|---|---|---|---|"]
    for f in found:
        extra = f", peak {f.peak_mb:.0f} MB" if f.peak_mb is not None else ""
        rows.append(f"| {f.name} | {f.count}{extra} | {f.seconds:.4g} | {f.seconds / yardstick:.2f} | {f.aim} |")
    rows.append(f"\nOne yardstick took {1000 * yardstick:.0f} ms.")
    return "\n".join(rows)


def main() -> None:
    """Measure everything and put the table into the page."""
    yardstick = yardstick_s()
    text = table([start_to_window(), page_changes(), *rail(), *traces(), *numbers(), *carrying()], yardstick)
    print(text)
    if "--print" not in sys.argv and PAGE.exists():
        page = PAGE.read_text(encoding="utf-8")
        filled = re.sub(f"{START}.*{END}", lambda _: f"{START}\n{text}\n{END}", page, flags=re.DOTALL)
        PAGE.write_text(filled, encoding="utf-8")


if __name__ == "__main__":
    main()
