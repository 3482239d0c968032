"""A log of twelve hours at 4 Hz with eight series: opening it, and moving along it."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np
from PySide6.QtWidgets import QApplication

from brachium.app.files.import_logs import read_log
from brachium.core.base.arrays import FloatArray
from brachium.core.figures.plots.traces import strand
from brachium.ui.widgets.trace_view import TraceView

HOURS, RATE_HZ, FRAMES = 12, 4, 60


def long_log(path: Path) -> None:
    """Write the log."""
    time_s = np.arange(HOURS * 3600 * RATE_HZ) / RATE_HZ
    rng = np.random.default_rng(4)
    busy = ((time_s // 1800) % 2 == 1).astype(float)
    busy[(time_s > 4000) & (time_s < 30_000)] = 1.0

    def noise(spread: float) -> FloatArray:
        return rng.normal(0, spread, time_s.size)

    columns = [time_s, 40 + 35 * busy + noise(0.4), 5 + 30 * busy + noise(0.2), 900 + 2400 * busy + noise(15),
               1900 + 2500 * busy + noise(20), np.clip(100 * busy + noise(1), 0, 100), 22 + noise(0.05)]  # fmt: skip
    extra = [np.abs(noise(5)), np.abs(noise(8))]
    head = "t_s,temp_c,power_w,clock_mhz,fan_rpm,util_pct,room_c,extra1,extra2"
    np.savetxt(path, np.column_stack([*columns, *extra]), fmt="%.2f", delimiter=",", header=head, comments="")


def trace_times() -> tuple[float, float]:
    """(reading, load search and first painting [s]; frames a second while moving along a tenth of it)."""
    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "long.csv"
        long_log(path)
        start = time.perf_counter()
        run = read_log(path).run
        view = TraceView([strand(run.sessions[0].trace, "log", False)])
        view.resize(1060, 560)
        view.grab()
        opened = time.perf_counter() - start
    view.zoom(0.1)
    start = time.perf_counter()
    for _ in range(FRAMES):
        view.move_by(0.01)
        app.processEvents()
        view.grab()
    return opened, FRAMES / (time.perf_counter() - start)
