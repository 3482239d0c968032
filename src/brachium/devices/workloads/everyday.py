"""What an owner does every day, timed: files, database, programs, pictures, sheets, all at once; and where it went.

Each task makes its data in a folder of its own inside the named one, waits for the start, works, checks its own output
and removes everything.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import sqlite3
import subprocess
import sys
import sysconfig
import tarfile
import time
from collections.abc import Callable
from pathlib import Path

from brachium.devices.workloads import made_data as data
from brachium.devices.workloads.ends_with_us import ends_with_us, forked
from brachium.devices.workloads.where_time_went import TimeSplit
from brachium_probe.child_protocol import say, wait_for_go
from brachium_probe.own_folder import WorkPlace

COMMITS = 2_000
PROGRAM = ("numpy", "numpy.libs", "pandas")  # copied, so that they lie on the drive under test
PROGRAM_DOES = "import sys; sys.path[:0] = [sys.argv[1], sys.argv[2]]; import numpy, pandas; " \
               "print(int(pandas.DataFrame({'a': numpy.arange(1000)}).sum().iloc[0]))"  # fmt: skip
PROGRAM_SAYS = "499500"
FRAME_S, FRAME_ROUNDS = 0.04, 24  # a picture 25 times a second, and what is worked on each of them
Task = Callable[[], Callable[[], int]]  # prepares, and returns the work, which returns how much of it was wrong


def run_task(task: str, **where: object) -> None:
    """One everyday task; says its seconds, and where they went."""
    place = WorkPlace(where)
    try:
        work = TASKS[task]()
        wait_for_go()
        split = TimeSplit()
        split.start()
        wrong = work()
        whole, parts = split.stop()
    finally:
        place.close()
    say(result=whole, wrong=wrong, parts={**parts, **_MORE})


_MORE: dict[str, float] = {}  # what a task counts beside its seconds


def _files() -> Callable[[], int]:
    wanted = data.pack_small_files("small.tar")
    data.flush_files()
    data.forget_files()

    def work() -> int:
        with tarfile.open("small.tar") as archive:
            archive.extractall("out", filter="data")
        data.flush_files("out")
        data.forget_files("out")
        found = count = 0
        for place, _, names in os.walk("out"):
            for name in names:
                found += len(Path(place, name).read_bytes())
                count += 1
        return int(found != wanted) + int(count != data.FILES)

    return work


def _database() -> Callable[[], int]:
    base = sqlite3.connect("saves.db", isolation_level=None)
    base.execute("PRAGMA journal_mode=WAL")
    base.execute("PRAGMA synchronous=FULL")  # every commit is on the drive before the next begins
    base.execute("CREATE TABLE saved (number INTEGER PRIMARY KEY, words TEXT)")
    text = data.words(8, 40).decode()

    def work() -> int:
        for k in range(COMMITS):
            base.execute("BEGIN")
            base.execute("INSERT INTO saved VALUES (?, ?)", (k, text))
            base.execute("COMMIT")
        count, total = base.execute("SELECT COUNT(*), SUM(number) FROM saved").fetchone()
        base.close()
        return int(count != COMMITS) + int(total != COMMITS * (COMMITS - 1) // 2)

    return work


def _start(cold: bool) -> Callable[[], int]:
    home = sysconfig.get_paths()["purelib"]
    for name in PROGRAM:
        if Path(home, name).is_dir():
            shutil.copytree(Path(home, name), Path("program", name),
                            ignore=shutil.ignore_patterns("tests"))  # fmt: skip
    command = [sys.executable, "-S", "-c", PROGRAM_DOES, str(Path("program").absolute()), home]

    def work() -> int:
        done = subprocess.run(command, stdin=subprocess.DEVNULL, capture_output=True, text=True, cwd="/",
                              preexec_fn=ends_with_us)  # fmt: skip
        return int(done.stdout.strip() != PROGRAM_SAYS)

    work()  # compiled files are there, and all is read once
    data.flush_files()
    if cold:
        data.forget_files()
    return work


def _compress() -> Callable[[], int]:
    wanted = data.write_folder("folder")
    first = hashlib.sha256(Path("folder/001.dat").read_bytes()).digest()
    data.flush_files()

    def work() -> int:
        with tarfile.open("folder.tgz", "w:gz", compresslevel=6) as archive:
            archive.add("folder")
        with tarfile.open("folder.tgz") as archive:
            archive.extractall("back", filter="data")
        data.flush_files()
        found = sum(p.stat().st_size for p in Path("back/folder").iterdir())
        same = hashlib.sha256(Path("back/folder/001.dat").read_bytes()).digest() == first
        return int(found != wanted) + int(not same)

    return work


def _photos() -> Callable[[], int]:
    from PIL import Image

    data.write_pictures()

    def work() -> int:
        wrong = 0
        for k in range(data.PICTURES):
            with Image.open(f"picture{k}.jpg") as picture:
                small = picture.resize((data.PICTURE_W // 3, data.PICTURE_H // 3), Image.Resampling.LANCZOS)
                small.save(f"small{k}.jpg", quality=85)
            with Image.open(f"small{k}.jpg") as back:
                wrong += int(back.size != (data.PICTURE_W // 3, data.PICTURE_H // 3))
        return wrong

    return work


def _sheet() -> Callable[[], int]:
    from openpyxl import load_workbook

    wanted = data.write_sheet("figures.xlsx")

    def work() -> int:
        book = load_workbook("figures.xlsx")
        sheet = book["figures"]
        total = sum(cell for row in sheet.iter_rows(values_only=True) for cell in row if isinstance(cell, int))
        book.save("saved.xlsx")
        return int(total != wanted)

    return work


def _together() -> Callable[[], int]:
    """Compressing, pictures and a sheet at once, each in a process of its own, beside a steady load of 25 pictures a
    second whose late ones are counted."""
    works = []
    for name, prepare in (("one", _compress), ("two", _photos), ("three", _sheet)):
        Path(name).mkdir()
        os.chdir(name)
        works.append((name, prepare()))
        os.chdir("..")

    def work() -> int:
        pids = [_forked(name, one) for name, one in works]
        late = frames = 0
        start = time.monotonic()
        left = set(pids)
        wrong = 0
        while left:
            frames += 1
            _picture()
            late += int(time.monotonic() > start + frames * FRAME_S)
            time.sleep(max(start + frames * FRAME_S - time.monotonic(), 0.0))
            for pid in list(left):
                ended, status = os.waitpid(pid, os.WNOHANG)
                if ended:
                    left.discard(pid)
                    wrong += int(status != 0)
        _MORE.update(late_pictures=float(late), pictures=float(frames))
        return wrong

    return work


def _forked(folder: str, work: Callable[[], int]) -> int:
    pid = forked()
    if pid:
        return pid
    code = 1
    try:
        os.chdir(folder)
        code = int(work() != 0)
    finally:
        os._exit(code)


def _picture() -> None:
    """What a picture of a video costs: some milliseconds of work that nothing overlaps."""
    block = b"\x5a" * (1 << 17)
    for _ in range(FRAME_ROUNDS):
        block = hashlib.blake2b(block).digest() + block[64:]


TASKS: dict[str, Task] = {
    "task_files": _files, "task_database": _database, "task_start_cold": lambda: _start(True),
    "task_start_warm": lambda: _start(False), "task_compress": _compress, "task_photos": _photos,
    "task_sheet": _sheet, "task_together": _together,
}  # fmt: skip
