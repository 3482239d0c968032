"""Watching days of use: a simulated day at once, or a watch of this PC in a process of its own that outlives the
window."""

from __future__ import annotations

import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path

from brachium.app.bench.run_roles import AFTER, BEFORE, DAY_AFTER, DAY_BEFORE, TITLES
from brachium.app.measure.simulated_run import bench_of
from brachium.app.shop.workspace import now_text
from brachium.app.view.job_view import JobView
from brachium.core.base.problems import ExpectedProblem, from_os_error
from brachium.core.base.text import phrase
from brachium.core.measure.run import Run
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.day_of_machine import watched_day
from brachium_probe.watching.watch import held

FOLDER = "watches"
STOP_S = 5.0


@dataclass(frozen=True)
class WatchFile:
    """A file of a watch of this PC: hours in it, whether it is still being written."""

    path: Path
    hours: float
    going: bool


def simulated_day(view: JobView, role: str, run_id: str, taken_at: str = "") -> Run:
    """One day on the job's simulated machine. Raises ExpectedProblem where it is none."""
    bench = bench_of(view, AFTER if role == DAY_AFTER else BEFORE, None)
    if not isinstance(bench, SimulatedBench):
        raise ExpectedProblem("this machine is not simulated", "Days", "Let the probe watch it; read its file here.")
    figures = view.causes.figures
    clock = figures.sustained_clock_mhz / figures.full_clock_mhz if figures is not None and role == DAY_BEFORE else 1.0
    return watched_day(bench.machine.spec, view.job.profile_id, run_id, TITLES[role], taken_at or now_text(), clock)


def start_watching(folder: Path, hours: float, agreed_by: str) -> None:
    """Start a watch of this PC. Raises ExpectedProblem without consent, EnvironmentProblem where it cannot start."""
    if not agreed_by.strip():
        raise ExpectedProblem("nobody agreed to being watched", "Days", "Say who did: a desk or a room.")
    if any(held(str(p)) for p in folder.glob("watch-*.jsonl")):
        raise ExpectedProblem("this PC is being watched already", "Days", "What it has recorded can be taken in.")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        subprocess.Popen(
            [
                sys.executable,
                "-m",
                "brachium_probe",
                "watch",
                "--hours",
                phrase("{hours:g}", hours=hours),
                "--agreed-by",
                agreed_by.strip(),
                "--out",
                str(folder),
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
    except OSError as error:
        raise from_os_error(error, str(folder), "Nothing was started.") from error


def watch_folder(shop_path: Path, job_id: str) -> Path:
    """Where watches of this PC for a record lie."""
    return shop_path.parent / FOLDER / job_id


def watch_files(folder: Path) -> tuple[WatchFile, ...]:
    """Files there, the oldest first. Reads all of them, so not in the window's thread."""
    return tuple(_told(p) for p in sorted(folder.glob("watch-*.jsonl"))) if folder.is_dir() else ()


def _told(path: Path) -> WatchFile:
    last, done = 0.0, 0.0
    for line in path.read_text(encoding="utf-8", errors="replace").splitlines():
        if line.startswith('{"kind":"s","t":'):
            last = float(line[len('{"kind":"s","t":') :].partition(",")[0])
        elif line.startswith('{"kind":"session"'):
            done, last = done + last, 0.0
    return WatchFile(path, (done + last) / 3600.0, held(str(path)))
