"""A hundred kills on a shop of a server, of the program and of the server, in the middle of edits, runs and imports.

A program says what it did once that lies in its journal; whatever it said must be in the shop after the next start,
and nothing may be there by halves.

`python -m benchmarks.kill_benches [--kills 100]`
"""

from __future__ import annotations

import argparse
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, replace

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop import store_queue
from brachium.demo.newsroom import JOB_ID, newsroom_job
from brachium.store.edits import StoredRun
from brachium.store.location import ServerPlace
from tests.support.desk import Desk
from tests.support.private_server import PrivateServer
from tests.support.some_runs import some_run

WORKS = ("edits", "runs", "imports", "everything")


def work(url: str, kind: str, mark: str) -> None:
    """Edit, measure or import until killed; each line of output is one thing that lies safe."""
    store_queue.RETRY_S = 0.3
    with Desk(ServerPlace(url), mark) as desk:
        desk.shop.refresh = lambda job_id: None  # type: ignore[method-assign]
        desk.job(JOB_ID)
        run = some_run()
        print("open", flush=True)
        number = 0
        while True:
            number += 1
            desk.look()
            one = kind if kind != "everything" else WORKS[number % 3]
            if one == "edits":
                job = desk.shop.job(JOB_ID)
                desk.shop.edit("remark", replace(job, remarks={**job.remarks, f"{mark} {number}": "kept"}))
                said = f"edit {mark} {number}"
            elif one == "runs":
                desk.shop.add_run(JOB_ID, "before", replace(run, id=f"{mark}-{number}"))
                said = f"run {mark}-{number}"
            else:
                job_id = f"{mark}-{number}"
                job = replace(newsroom_job(), id=job_id, name=job_id)
                runs = tuple(StoredRun(job_id, r, replace(run, id=f"{job_id}-{r}-1")) for r in ("before", "after"))
                desk.shop.add_whole(job, runs, {f"{job_id}-p": b"jpeg" * 5000}, "taken in")
                said = f"import {job_id}"
            desk.shop.lanes.drain("journal")
            print(said, flush=True)


@dataclass
class Count:
    kills: int = 0
    of_server: int = 0
    said: int = 0
    lost: int = 0
    half: int = 0


def check(place: ServerPlace, said: list[str], count: Count) -> None:
    """Open the shop as the next start does, and look for everything."""
    with Desk(place, "after") as desk:
        desk.sent()
        remarks = desk.job(JOB_ID).remarks
        run_ids = {s.run.id for s in desk.shop.all_runs(JOB_ID)}
        jobs = set(desk.shop.job_ids())
        for line in said:
            kind, _, key = line.partition(" ")
            there = key in remarks if kind == "edit" else key in run_ids if kind == "run" else key in jobs
            count.lost += not there
        for job_id in jobs - {JOB_ID}:
            runs = desk.shop.all_runs(job_id)
            whole = len(runs) == 2 and desk.shop.repository.photo(f"{job_id}-p") == b"jpeg" * 5000
            count.half += not (whole and all(s.run.sessions[0].trace.series for s in runs))
        count.half += any(not s.run.sessions[0].trace.series for s in desk.shop.all_runs(JOB_ID))
        assert not desk.problems, desk.problems


def kill_once(server: PrivateServer, place: ServerPlace, number: int, count: Count, rng: random.Random) -> None:
    kind = WORKS[number % len(WORKS)]
    command = [sys.executable, "-m", "benchmarks.kill_benches", "--work", place.url, kind, f"k{number}"]
    program = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    assert program.stdout is not None and program.stdout.readline() == "open\n"
    said: list[str] = []
    reader = threading.Thread(target=lambda: said.extend(line.strip() for line in program.stdout))  # type: ignore[union-attr]
    reader.start()
    time.sleep(rng.uniform(0.0, 0.8))
    if number % 3 == 0:
        server.kill()
        count.of_server += 1
        count.kills += 1
        time.sleep(rng.uniform(0.0, 0.6))
        server.start()
        time.sleep(rng.uniform(0.0, 1.5))
    os.kill(program.pid, signal.SIGKILL)
    count.kills += 1
    program.wait()
    reader.join()
    count.said += len(said)
    check(place, said, count)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=100)
    parser.add_argument("--work", nargs=3, help=argparse.SUPPRESS)
    asked = parser.parse_args()
    if asked.work:
        work(*asked.work)
        return
    os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="brachium-")
    rng, count, server = random.Random(25), Count(), PrivateServer()
    try:
        place, number = None, 0
        while count.kills < asked.kills:
            if place is None or number % 10 == 0:
                place = server.shop()
                with Desk(place, "Counter", add_newsroom) as desk:
                    desk.sent()
            kill_once(server, place, number, count, rng)
            number += 1
    finally:
        server.close()
    print(f"{count.kills} kills ({count.of_server} of the server), {count.said} edits, runs and imports that were said "
          f"to be safe: {count.lost} lost, {count.half} half")  # fmt: skip


if __name__ == "__main__":
    main()
