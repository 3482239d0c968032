"""How the rail does with a shop of five thousand machines."""

from __future__ import annotations

import tempfile
import time
from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QApplication
from sqlalchemy import insert

from brachium.core.record.card import card_of
from brachium.core.record.job import Stage
from brachium.demo.newsroom import newsroom_job
from brachium.formats.records import card_to_json, job_to_json
from brachium.store.database import Database
from brachium.store.tables import JOB
from brachium.ui.run import make_window

MACHINES = 5000


def fill(path: Path) -> None:
    """A shop of copies of one record."""
    database = Database(path)
    first = newsroom_job()
    rows = []
    for k in range(MACHINES):
        identity = replace(first.machine.identity, serial=f"OM-{k:05d}")
        machine = replace(first.machine, identity=identity)
        job = replace(first, id=f"m-{k}", name=f"Laptop {k}", machine=machine)
        card = card_to_json(card_of(job, Stage.TAKE_IN))
        rows.append({"id": job.id, "position": k, "document": job_to_json(job), "changed_at": "", "card": card})
    with database.transaction() as c:
        c.execute(insert(JOB), rows)
    database.close()


def rail_times() -> tuple[float, float]:
    """(opening the window [s], the longest keystroke in the search line [s]), painting included."""
    app = QApplication.instance() or QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.db"
        fill(path)
        start = time.perf_counter()
        window, _poster = make_window(path, False)
        window.resize(1280, 800)
        window.show()
        app.processEvents()
        opened = time.perf_counter() - start
        longest = 0.0
        for text in ("l", "la", "lap", "laptop 4", "laptop 49", "laptop 4999", "om-0123", "nothing at all", ""):
            start = time.perf_counter()
            window.filter.setText(text)
            app.processEvents()
            window.rail.grab()
            longest = max(longest, time.perf_counter() - start)
        window.close()
        window.session.workspace.close()
    return opened, longest
