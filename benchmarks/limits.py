"""The program against bare NumPy, SQL and Qt that do the same work, beside it in the same run: ratios, not seconds.

`python -m benchmarks.limits` prints the table of docs/performance.md.
"""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import tempfile
import zlib
from contextlib import closing
from dataclasses import asdict, replace
from hashlib import sha256
from pathlib import Path

import numpy as np

from benchmarks.in_turn import Limit, in_turn
from benchmarks.start_limits import starts

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


def stores(folder: Path) -> list[Limit]:
    """Edits and runs against the same statements by SQLite's own module, both brought to the disk."""
    from brachium.app.demo.demo_shop import add_newsroom
    from brachium.app.shop.open_shop import open_shop
    from brachium.core.record.card import card_of
    from brachium.demo.newsroom import JOB_ID, newsroom_job
    from brachium.formats.records import job_to_json, run_to_json
    from brachium.store.edits import JobEdit, RunEdit, StoredRun
    from tests.support.some_runs import some_run

    workspace = open_shop(folder / "edits.db")
    add_newsroom(workspace)
    workspace.lanes.drain("store")
    repository, text, card = workspace.repository, job_to_json(newsroom_job()), card_of(newsroom_job())
    bare = sqlite3.connect(folder / "bare.db", isolation_level=None)
    for statement in ("pragma journal_mode=wal", "pragma synchronous=full",
                      "create table job (id text primary key, document text, card text)",
                      "create table edit (id integer primary key, job_id text, label text)",
                      "create table sent (token text primary key)",
                      "create table run (id text primary key, document text, position integer, fingerprint text)",
                      "create table series (run_id text, session int, key text, data blob)"):  # fmt: skip
        bare.execute(statement)
    bare.execute("insert into job values (?, ?, '')", (JOB_ID, text))
    number = iter(range(10**6))

    def edit() -> None:
        job = repository.job(JOB_ID)
        repository.save_job(JobEdit(job, replace(job, goal=f"goal {next(number)}"), "goal", card))

    def bare_edit() -> None:
        found = bare.execute("select document from job where id = ?", (JOB_ID,)).fetchone()[0]
        plain = json.loads(found) | {"goal": f"goal {next(number)}"}
        bare.execute("begin immediate")
        bare.execute("insert into sent values (?)", (str(next(number)),))
        theirs = bare.execute("select document from job where id = ?", (JOB_ID,)).fetchone()[0]
        if theirs == found:  # nobody else wrote to it: nothing to merge
            values = (json.dumps(plain), json.dumps(asdict(card)), JOB_ID)
            bare.execute("update job set document = ?, card = ? where id = ?", values)
        bare.execute("insert into edit (job_id, label) values (?, 'goal')", (JOB_ID,))
        bare.execute("commit")

    out = [
        Limit(
            "an edit read, merged and stored",
            *in_turn(edit, bare_edit, 25),
            "SQL: read, compared, JSON, three statements",
        )
    ]
    run = some_run()

    def keep() -> None:
        repository.add_run(RunEdit(StoredRun(JOB_ID, "before", replace(run, id=f"r{next(number)}"))))

    def bare_keep() -> None:
        name = f"b{next(number)}"
        bare.execute("begin immediate")
        bare.execute("insert into sent values (?)", (name,))
        position = bare.execute("select max(rowid) from run").fetchone()[0] or 0
        document = run_to_json(run)
        print_of_it = sha256(json.dumps(json.loads(document), sort_keys=True).encode()).hexdigest()
        bare.execute("insert into run values (?, ?, ?, ?)", (name, document, position + 1, print_of_it))
        for session in run.sessions:
            for series in session.trace.series:
                data = zlib.compress(np.ascontiguousarray(series.values, dtype="<f8").tobytes(), 6)
                bare.execute("insert into series values (?, ?, ?, ?)", (name, session.number, series.key, data))
        bare.execute("commit")

    out.append(
        Limit("a run stored", *in_turn(keep, bare_keep, 15), "SQL: the same rows, compressed and digested alike")
    )
    bare.close()
    workspace.close()
    return out


def rails(folder: Path) -> list[Limit]:
    from benchmarks.rail import MACHINES, fill
    from brachium.store.database import Database
    from brachium.store.repository import Repository

    path = folder / "many.db"
    fill(path)
    database = Database(path)
    repository = Repository(database)
    with closing(sqlite3.connect(path)) as bare:
        mine, plain = in_turn(
            repository.cards,
            lambda: [json.loads(c) for _, c in bare.execute("select id, card from job order by position, id")],
        )
    database.close()
    return [Limit(f"cards of {MACHINES} machines read", mine, plain, "SQL: the same rows, json.loads")]


def numbers() -> list[Limit]:
    from brachium.core.heat.model import TwoNode, simulate

    model = TwoNode(8.0, 160.0, 0.7, 0.9, 0.65, 0.15, 4000.0)
    time_s = np.arange(0.0, 3600.0, 0.5)
    power, fan = 20.0 + 15.0 * (time_s % 900 > 300), np.full(time_s.size, 3500.0)

    def bare_simulate() -> None:
        rise = np.zeros((2, time_s.size))
        a = np.array([[-1 / 5.6, 1 / 5.6], [1 / 112, -1 / 112 - 1 / 144]])
        step = np.eye(2) + 0.5 * a
        drive = np.vstack([power / 16.0, np.zeros(time_s.size)])
        for k in range(1, time_s.size):
            rise[:, k] = step @ rise[:, k - 1] + drive[:, k]

    mine, bare = in_turn(lambda: simulate(model, time_s, power, fan, (5.0, 3.0)), bare_simulate)
    return [Limit("two-node model over an hour", mine, bare, "NumPy: one product a sample")]


def paints(shop: Path) -> list[Limit]:
    """Figures against the same lines, boxes and texts drawn by Qt itself."""
    from PySide6.QtCore import QPointF, QRectF
    from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPolygonF
    from PySide6.QtWidgets import QApplication

    from brachium.app.shop.open_shop import open_shop
    from brachium.app.view.figures import traces_of
    from brachium.core.figures.base.drawing import Box, Line, Polyline, Text
    from brachium.demo.newsroom import JOB_ID
    from brachium.ui.theme import theme
    from brachium.ui.widgets.paint import paint_drawing

    app = QApplication.instance() or QApplication([])
    assert isinstance(app, QApplication)
    theme.apply(app, "light")
    copy = shop.with_name("paint.db")
    shutil.copy(shop, copy)
    workspace = open_shop(copy)
    view = workspace.compute_now(JOB_ID)
    workspace.close()
    assert view.proof.comparison is not None
    drawing = traces_of(view.proof.comparison, 95.0, 800, 400)
    image = QImage(800, 400, QImage.Format.Format_RGB32)

    def mine() -> None:
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        paint_drawing(painter, drawing)
        painter.end()

    def bare() -> None:
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.setFont(QFont("Barlow", 10))
        painter.fillRect(QRectF(0, 0, 800, 400), QColor("#ffffff"))
        for item in drawing.items:
            match item:
                case Line():
                    painter.drawLine(QPointF(item.x1, item.y1), QPointF(item.x2, item.y2))
                case Box():
                    painter.drawRect(QRectF(item.x, item.y, item.w, item.h))
                case Text():
                    painter.drawText(QPointF(item.x, item.y), item.text)
                case Polyline():
                    painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in item.points.tolist()]))
        painter.end()

    return [Limit("twin traces painted", *in_turn(mine, bare, 25), "Qt: the same lines and texts")]


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        os.environ["XDG_STATE_HOME"] = str(folder / "state")
        from brachium.app.demo.headless import run_demo_job

        shop = folder / "shop.db"
        run_demo_job(shop, lambda _: None, others=False)[0].close()
        same, empty = starts(shop)
        found = [*same, *stores(folder), *rails(folder), *numbers(), *paints(shop)]
    print("| work | program, s | bare, s | ratio | bare is |\n|---|---|---|---|---|")
    for limit in found:
        print(f"| {limit.name} | {limit.program_s:.4f} | {limit.bare_s:.4f} | {limit.ratio:.1f} | {limit.bare} |")
    print(
        "\nAgainst an empty window of Qt: " + ", ".join(f"{x.name} {x.program_s:.2f} s ({x.ratio:.1f})" for x in empty)
    )


if __name__ == "__main__":
    main()
