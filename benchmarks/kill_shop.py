"""Programs killed at random moments: `python -m benchmarks.kill_shop [KILLS]`.

Each kind of work is begun in a process of its own, killed with SIGKILL after a random time within the time it takes,
and looked at as the next start would: does the file open, is every confirmed edit there, is an import whole or absent,
is anything left lying about. Counted are failures; the aim is none.
"""

from __future__ import annotations

import contextlib
import os
import random
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.files.job_transfer import export_job, take_in
from brachium.app.measure.service import MeasureService
from brachium.app.shop.open_shop import open_shop
from brachium.core.base.problems import Problem
from brachium.core.record.job import DataSafe, DataState, Photo
from brachium.demo.newsroom import JOB_ID, newsroom_job
from brachium.formats.job_archive import ArchivedRun, read_archive, write_archive
from brachium.formats.photo import scaled
from brachium.formats.run_file import read_run_file
from brachium.store.backups import backup, is_good
from brachium_probe.own_folder import sweep
from tests.support.some_runs import some_run

SEED, KILLS = 20261129, 300
MARK = "BRACHIUM_KILLED"
Act = Callable[[Path, Callable[[int], None]], None]
Look = Callable[[Path, int], list[str]]


def _opens(folder: Path) -> list[str]:
    """What is wrong with the shop at the next start, and what lies about after it."""
    try:
        workspace = open_shop(folder / "shop.db")
        for job_id in workspace.job_ids():
            workspace.job(job_id)
            workspace.all_runs(job_id)
        workspace.close()
    except Problem as problem:
        return [f"does not open: {problem.text}"]
    left = [p.name for p in folder.rglob("*") if p.name.endswith((".part", ".running.jsonl", "-journal"))]
    return [f"left over: {n}" for n in left]


def create(folder: Path, _: Callable[[int], None]) -> None:
    workspace = open_shop(folder / "shop.db")
    add_newsroom(workspace)
    workspace.close()


def upgrade(folder: Path, _: Callable[[int], None]) -> None:
    open_shop(folder / "shop.db").close()


def before_upgrade(folder: Path) -> None:
    """A shop of the first version."""
    create(folder, lambda _: None)
    with contextlib.closing(sqlite3.connect(folder / "shop.db")) as c:
        for statement in ("drop table photo", "drop index ix_run_fingerprint", "alter table run drop column position",
                          "alter table run drop column fingerprint", "alter table job drop column card",
                          "update alembic_version set version_num = '0001'"):  # fmt: skip
            c.execute(statement)
        c.commit()


def upgraded(folder: Path, confirmed: int) -> list[str]:
    wrong = _opens(folder)
    with contextlib.closing(sqlite3.connect(folder / "shop.db")) as c:
        if c.execute("select count(*) from job").fetchone() != (1,):
            wrong.append("the machine is gone")
    return wrong + [f"{p.name} is no backup" for p in (folder / "backups").glob("*.db") if not is_good(p)]


def back_up(folder: Path, done: Callable[[int], None]) -> None:
    for number in range(1, 20):
        backup(folder / "shop.db")
        done(number)


def bring(folder: Path, done: Callable[[int], None]) -> None:
    workspace = open_shop(folder / "shop.db")
    taken = take_in(workspace, folder / "job.zip")
    workspace.after_stored(taken.tickets, lambda: done(1))
    workspace.close()


def before_import(folder: Path) -> None:
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.effect_noise((400, 300), 60).convert("RGB").save(out, "JPEG")
    photo = scaled(out.getvalue(), "noise")
    job = replace(newsroom_job(), photos=(Photo(photo.id, photo.width, photo.height),))
    runs = [ArchivedRun("before", replace(some_run(), id=f"r{k}")) for k in range(6)]
    write_archive(job, runs, folder / "job.zip", {photo.id: photo.data})
    open_shop(folder / "shop.db").close()


def brought(folder: Path, confirmed: int) -> list[str]:
    wrong = _opens(folder)
    workspace = open_shop(folder / "shop.db")
    if JOB_ID in workspace.job_ids():
        job = workspace.job(JOB_ID)
        if len(workspace.all_runs(JOB_ID)) != 6 or not all(workspace.photo(p.id) for p in job.photos):
            wrong.append("half an import")
    elif confirmed:
        wrong.append("an import that was told is not there")
    workspace.close()
    return wrong


def export(folder: Path, done: Callable[[int], None]) -> None:
    workspace = open_shop(folder / "shop.db")
    for number in range(1, 40):
        export_job(workspace, JOB_ID, folder / "out.zip")
        done(number)
    workspace.close()


def exported(folder: Path, confirmed: int) -> list[str]:
    wrong = []
    if (folder / "out.zip").exists():
        try:
            wrong += [f"damaged: {d}" for d in read_archive(folder / "out.zip").damaged]
        except Problem as problem:
            wrong.append(problem.text)
    elif confirmed:
        wrong.append("an export that was told is not there")
    create(folder, lambda _: None)
    workspace = open_shop(folder / "shop.db")
    export_job(workspace, JOB_ID, folder / "out.zip")
    workspace.close()
    return wrong + _opens(folder)


def edit(folder: Path, done: Callable[[int], None]) -> None:
    workspace = open_shop(folder / "shop.db")
    for number in range(1, 4000):
        workspace.edit("goal", replace(workspace.job(JOB_ID), goal=str(number)))
        workspace.lanes.drain("store")
        done(number)
    workspace.close()


def edited(folder: Path, confirmed: int) -> list[str]:
    wrong = _opens(folder)
    workspace = open_shop(folder / "shop.db")
    goal = workspace.job(JOB_ID).goal
    workspace.close()
    if confirmed and not (goal.isdigit() and int(goal) >= confirmed):
        wrong.append(f"edit {confirmed} was told, the record says {goal}")
    return wrong


def measure(folder: Path, done: Callable[[int], None]) -> None:
    workspace = open_shop(folder / "shop.db")
    workspace.edit("settled", replace(workspace.job(JOB_ID), data_safe=DataSafe(DataState.NOT_NEEDED)))
    workspace.compute_now(JOB_ID)
    service = MeasureService(workspace)
    service.start(JOB_ID, "before", 400.0)
    workspace.lanes.drain("bench")
    workspace.close()


def probe(folder: Path, _: Callable[[int], None]) -> None:
    root = Path(__file__).parents[1] / "src"
    program, drive = str(root / "brachium_probe" / "__main__.py"), str(folder / "drive")
    command = [sys.executable, program, "--rehearsal", "--folder", drive, "--out", str(folder)]
    os.execve(sys.executable, command, {**os.environ, "PYTHONPATH": str(root)})


def before_probe(folder: Path) -> None:
    (folder / "drive").mkdir()


def probed(folder: Path, confirmed: int) -> list[str]:
    """Its children are gone within a second, its run reads as far as it was written, its test file goes."""
    wrong = []
    end = time.monotonic() + 1.0
    while (alive := _marked(folder)) and time.monotonic() < end:
        time.sleep(0.05)
    if alive:
        wrong.append(f"{len(alive)} children are still there after a second")
    for path in folder.glob("probe-*.jsonl"):
        try:
            read_run_file(path)
        except Problem as problem:
            if path.stat().st_size > 0:
                wrong.append(problem.text)
    sweep(str(folder / "drive"))
    return wrong + [f"left over: {p.name}" for p in (folder / "drive").iterdir()]


def _marked(folder: Path) -> list[int]:
    out = []
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            with contextlib.suppress(OSError):
                if f"{MARK}={folder}".encode() in (entry / "environ").read_bytes():
                    out.append(int(entry.name))
    return out


def nothing(_: Path) -> None:
    """What is there before a first start."""


def with_shop(folder: Path) -> None:
    create(folder, lambda _: None)


KINDS: dict[str, tuple[Callable[[Path], None], Act, Look, float]] = {  # the last: how long it takes [s], about
    "create": (nothing, create, lambda f, _: _opens(f), 0.6),
    "upgrade": (before_upgrade, upgrade, upgraded, 0.5),
    "backup": (with_shop, back_up, upgraded, 0.6),
    "import": (before_import, bring, brought, 0.7),
    "export": (with_shop, export, exported, 0.5),
    "edit": (with_shop, edit, edited, 1.2),
    "measure": (with_shop, measure, lambda f, _: _opens(f), 4.0),
    "probe": (before_probe, probe, probed, 6.0),
}


def killed(kind: str, folder: Path, after_s: float) -> tuple[int, bool]:
    """(last number that was told, whether it was still at work)."""
    told, tell = os.pipe()
    pid = os.fork()
    if pid == 0:
        os.environ[MARK] = str(folder)
        with contextlib.suppress(BaseException):
            os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
            KINDS[kind][1](folder, lambda n: os.write(tell, n.to_bytes(4, "big")) and None)  # type: ignore[func-returns-value]
        os._exit(0)
    os.close(tell)
    time.sleep(after_s)
    running = os.waitpid(pid, os.WNOHANG) == (0, 0)
    if running:
        os.kill(pid, signal.SIGKILL)
        os.waitpid(pid, 0)
    data = b""
    while piece := os.read(told, 1 << 16):
        data += piece
    os.close(told)
    return (int.from_bytes(data[-4:], "big") if data else 0), running


def main(arguments: list[str]) -> int:
    kills = int(arguments[0]) if arguments else KILLS
    dice = random.Random(SEED)
    wrong = 0
    print("| work | kills | at work when killed | failures |\n|---|---|---|---|")
    for kind, (prepare, _, look, lasts_s) in KINDS.items():
        count, at_work, failures = max(kills // len(KINDS), 1), 0, list[str]()
        for number in range(count):
            folder = Path(tempfile.mkdtemp(prefix="brachium-kill-"))
            _in_child(lambda f=folder, p=prepare: p(f))  # type: ignore[misc]
            confirmed, running = killed(kind, folder, dice.uniform(0.0, lasts_s))
            at_work += running
            found = _in_child(lambda f=folder, c=confirmed, w=look: w(f, c))  # type: ignore[misc]
            failures += [f"{number}: {text}" for text in found]
            shutil.rmtree(folder, ignore_errors=True)
        wrong += len(failures)
        print(f"| {kind} | {count} | {at_work} | {len(failures)} |", flush=True)
        for text in failures[:5]:
            print(f"  {text}")
    return 1 if wrong else 0


def _in_child(work: Callable[[], list[str] | None]) -> list[str]:
    """Done in a process of its own, so that this one never holds threads while it forks."""
    read, write = os.pipe()
    pid = os.fork()
    if pid == 0:
        try:
            said = "\n".join(work() or [])
        except BaseException as error:
            said = f"{type(error).__name__}: {error}"
        os.write(write, said.encode()[:60_000])
        os._exit(0)
    os.close(write)
    data = b""
    while piece := os.read(read, 1 << 16):
        data += piece
    os.close(read)
    os.waitpid(pid, 0)
    return [line for line in data.decode().split("\n") if line]


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
