"""One quick run on this machine from the open window, kept as a run file: is it like those of the command line?

python -m benchmarks.window_run OUT.json --folder DIR
"""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtWidgets import QApplication

from brachium.app.shop.workspace import now_text
from brachium.core.record.job import DataSafe, DataState, Stage
from brachium.formats.run_file import write_run_file
from brachium.ui.run import make_window


def main() -> int:
    """Open the window on this machine, measure, write the run."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("out", type=Path)
    parser.add_argument("--folder", type=Path, required=True)
    given = parser.parse_args()
    with tempfile.TemporaryDirectory() as shop:
        window, _poster = make_window(Path(shop) / "shop.db", False)
        window.resize(1280, 800)
        window.show()
        session = window.session
        window.records.take_this_machine()
        _until(lambda: session.job() is not None)
        job = session.job()
        assert job is not None
        safe = DataSafe(DataState.NOT_NEEDED, "the bench", now_text())
        setup = replace(job.setup, protocol="quick", drive_folder=str(given.folder))
        session.edit("ready", replace(job, data_safe=safe, setup=setup))
        _until(lambda: (v := session.view()) is not None and v.job == session.job())
        session.select_stage(Stage.MEASURE)
        _until(lambda: False, 5.0)
        window.run_command("measure.start")
        _until(lambda: session.measure.active is None)
        run = session.workspace.all_runs(session.job_id)[-1].run
        write_run_file(replace(run, id=given.out.stem), given.out)
        window.close()
        session.workspace.close()
    return 0 if run.complete else 1


def _until(ready: object, limit_s: float = 900.0) -> None:
    """Let the window live, as it would on a screen."""
    end = time.monotonic() + limit_s
    while not ready() and time.monotonic() < end:  # type: ignore[operator]
        QApplication.processEvents()
        time.sleep(0.02)


if __name__ == "__main__":
    sys.exit(main())
