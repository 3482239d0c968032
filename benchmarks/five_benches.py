"""Five benches on one server, two edits a second each, for ten minutes: is anything lost, how soon is it seen.

Every edit sets one field of one of a few machines to a value that nothing else sets. Afterwards the values of each
field are followed back from the last one: an edit that is not on that way must have been shown as a clash at its
bench, or it was lost. What the benches work out of the records is left out: five computers' worth of it would share
this one's two cores.

`python -m benchmarks.five_benches [--seconds 600] [--benches 5]`
"""

from __future__ import annotations

import argparse
import json
import random
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop.workspace import Workspace
from brachium.core.record.job import Job
from brachium.demo.newsroom import newsroom_job
from brachium.store.edits import JobEdit
from brachium.store.location import ServerPlace
from tests.support.desk import Desk
from tests.support.private_server import PrivateServer

MACHINES, PER_S = 6, 2.0
FIELDS = ("goal", "needed_by", "warranty_until", "look_again", "parts_due")
REMARKS = ("owner", "buyer")
CLOSING_S = 5.0


def value_of(job: Job, field: str) -> str:
    return str(job.remarks.get(field, "")) if field in REMARKS else str(getattr(job, field))


def with_field(job: Job, field: str, value: str) -> Job:
    if field in REMARKS:
        return replace(job, remarks={**job.remarks, field: value})
    return replace(job, **{field: value})


def bench(url: str, name: str, seconds: float, log: Path) -> None:
    """One bench's edits, what it saw of others and what clashed, as JSON lines."""
    rng = random.Random(name)
    with Desk(ServerPlace(url), name) as desk, log.open("w") as out:
        desk.shop.refresh = lambda job_id: None  # type: ignore[method-assign]
        jobs = [f"m-{k}" for k in range(MACHINES)]
        seen = {(j, f): value_of(desk.job(j), f) for j in jobs for f in (*FIELDS, *REMARKS)}

        def say(**what: object) -> None:
            out.write(json.dumps({"t": time.time(), **what}) + "\n")

        def look(job_id: str) -> None:
            job = desk.shop.job(job_id)
            for field in (*FIELDS, *REMARKS):
                value = value_of(job, field)
                if seen[job_id, field] != value:
                    seen[job_id, field] = value
                    say(saw=value, job=job_id, field=field)

        real = desk.shop._to_choose

        def clashed(edit: object, clashes: object, who: str) -> None:
            assert isinstance(edit, JobEdit)
            for clash in clashes:  # type: ignore[attr-defined]
                say(clash=str(clash.mine), job=edit.job_id, field=clash.path[-1], theirs=str(clash.theirs))
            real(edit, clashes, who)  # type: ignore[arg-type]

        desk.shop._to_choose = clashed  # type: ignore[method-assign]
        desk.shop.on_edited.append(look)
        end, number, due = time.time() + seconds, 0, time.time() + rng.random()
        while time.time() < end:
            desk.look()
            if time.time() < due:
                time.sleep(0.004)
                continue
            due += rng.expovariate(PER_S)
            number += 1
            job_id, field, value = rng.choice(jobs), rng.choice((*FIELDS, *REMARKS)), f"{name} {number}"
            job = desk.shop.job(job_id)
            say(edit=value, job=job_id, field=field, before=value_of(job, field))
            desk.shop.edit(field, with_field(job, field, value))
        desk.sent()
        until = time.time() + CLOSING_S
        desk.until(lambda: time.time() > until)


@dataclass(frozen=True)
class Outcome:
    """What became of the edits."""

    edits: int
    clashes: int
    lost: int
    seen_s: tuple[float, ...]
    unseen: int

    @property
    def share_within_1_s(self) -> float:
        times = np.array(self.seen_s)
        return float((times <= 1.0).sum() / max(times.size + self.unseen, 1))


def outcome(logs: list[list[dict[str, object]]], last: dict[tuple[str, str], str]) -> Outcome:
    """Follow every field back from its last value, and look for every edit at the other benches."""
    edits: dict[tuple[str, str, str], dict[str, object]] = {}
    for lines in logs:
        for line in lines:
            if "edit" in line:
                edits[str(line["job"]), str(line["field"]), str(line["edit"])] = line
    clashes = {(str(x["job"]), str(x["field"]), str(x["clash"])) for lines in logs for x in lines if "clash" in x}
    chain: dict[tuple[str, str], list[str]] = {}
    for (job, field), value in last.items():
        way = []
        while (job, field, value) in edits:
            way.append(value)
            value = str(edits[job, field, value]["before"])
        chain[job, field] = way[::-1]
    on_the_way = {(job, field, v) for (job, field), way in chain.items() for v in way}
    lost = [e for e in edits if e not in on_the_way and e not in clashes]
    times, unseen = [], 0
    for number, lines in enumerate(logs):
        mine = {str(x["edit"]) for x in lines if "edit" in x}
        first: dict[tuple[str, str, str], float] = {}
        for x in lines:
            if "saw" in x:
                first.setdefault((str(x["job"]), str(x["field"]), str(x["saw"])), float(str(x["t"])))
        for (job, field), way in chain.items():
            later = float("inf")
            for value in reversed(way):  # a value that was replaced before it came is seen with the one behind it
                later = min(later, first.get((job, field, value), later))
                if value in mine:
                    later = float(str(edits[job, field, value]["t"]))
                    continue
                if later == float("inf"):
                    unseen += 1
                else:
                    times.append(max(later - float(str(edits[job, field, value]["t"])), 0.0))
        assert number < len(logs)
    return Outcome(len(edits), len(clashes), len(lost), tuple(times), unseen)


def fill(shop: Workspace) -> None:
    add_newsroom(shop)
    for number in range(MACHINES):
        shop.add_job(replace(newsroom_job(), id=f"m-{number}", name=f"Laptop {number}"))


def run(seconds: float, benches: int) -> Outcome:
    server = PrivateServer()
    try:
        place = server.shop()
        with Desk(place, "Counter", fill) as desk:
            desk.sent()
        with tempfile.TemporaryDirectory() as folder:
            files = [Path(folder) / f"{k}.log" for k in range(benches)]
            started = [
                subprocess.Popen([sys.executable, "-m", "benchmarks.five_benches", "--bench", place.url,
                                  f"Bench {k + 1}", str(seconds), str(file)]) for k, file in enumerate(files)
            ]  # fmt: skip
            for one in started:
                assert one.wait() == 0
            logs = [[json.loads(line) for line in file.read_text().splitlines()] for file in files]
        with Desk(place, "Counter") as desk:
            last = {
                (f"m-{k}", f): value_of(desk.job(f"m-{k}"), f) for k in range(MACHINES) for f in (*FIELDS, *REMARKS)
            }
    finally:
        server.close()
    return outcome(logs, last)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=float, default=600.0)
    parser.add_argument("--benches", type=int, default=5)
    parser.add_argument("--bench", nargs=4, help=argparse.SUPPRESS)
    asked = parser.parse_args()
    if asked.bench:
        url, name, seconds, log = asked.bench
        bench(url, name, float(seconds), Path(log))
        return
    found = run(asked.seconds, asked.benches)
    times = np.array(found.seen_s)
    median, most = np.quantile(times, (0.5, 0.95))
    print(f"edits {found.edits}, of them {found.clashes} shown as a clash; lost or overwritten {found.lost}")
    print(f"seen elsewhere {times.size} times, never {found.unseen}; within 1 s {100 * found.share_within_1_s:.1f} %, ")
    print(f"median {median:.3f} s, 95 % {most:.3f} s, longest {times.max():.3f} s")


if __name__ == "__main__":
    main()
