"""The shop file: lock, versions, backup, full disk, killed program."""

from __future__ import annotations

import os
import shutil
import signal
import sqlite3
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest

from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.measure.run import Run
from brachium.demo.newsroom import newsroom_job
from brachium.store.backups import backup
from brachium.store.database import HEAD, Database
from brachium.store.edits import JobEdit, RunEdit, StoredRun
from brachium.store.fingerprint import fingerprint_of
from brachium.store.repository import Repository


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "shop.db"


def test_a_second_program_on_the_same_file_is_told_who_has_it(path: Path) -> None:
    database = Database(path)
    with pytest.raises(EnvironmentProblem, match=f"process {os.getpid()}") as caught:
        Database(path)
    assert "Nothing was changed" in caught.value.text
    database.close()
    Database(path).close()


def test_a_newer_file_is_refused_and_left_alone(path: Path) -> None:
    Database(path).close()
    with sqlite3.connect(path) as c:
        c.execute("update alembic_version set version_num = '9999'")
    c.close()
    before = path.read_bytes()
    with pytest.raises(ExpectedProblem, match="newer Brachium") as caught:
        Database(path)
    assert "Update the program" in caught.value.text
    assert path.read_bytes() == before
    assert not list(path.parent.glob("backups/*"))


@pytest.mark.parametrize(
    ("content", "says"),
    [(b"this is no database at all" * 40, "damaged or no database"), (None, "not one of Brachium's")],
)
def test_other_files_are_refused(path: Path, content: bytes | None, says: str) -> None:
    if content is None:
        with sqlite3.connect(path) as c:
            c.execute("create table recipes (id integer)")
        c.close()
    else:
        path.write_bytes(content)
    kept = path.read_bytes()
    with pytest.raises((ExpectedProblem, EnvironmentProblem), match=says):
        Database(path)
    assert path.read_bytes() == kept


def test_an_older_file_is_backed_up_before_it_is_changed(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    database = Database(path)
    Repository(database).save_job(JobEdit(None, newsroom_job(), "taken in"))
    database.close()
    with sqlite3.connect(path) as c:
        c.execute("delete from alembic_version")
        c.execute("drop table edit")
        c.execute("insert into alembic_version values ('0000')")
    c.close()
    monkeypatch.setattr("brachium.store.database.KNOWN", ("0000", HEAD))
    monkeypatch.setattr("brachium.store.file_engine.upgrade", lambda engine, path: None)
    Database(path).close()
    (copy,) = path.parent.glob("backups/*.db")
    with sqlite3.connect(copy) as c:
        assert c.execute("select count(*) from job").fetchone() == (1,)
    c.close()


def test_backup_sees_what_is_still_in_the_write_ahead_log(path: Path) -> None:
    database = Database(path)
    Repository(database).save_job(JobEdit(None, newsroom_job(), "taken in"))
    assert Path(f"{path}-wal").stat().st_size > 0
    copy = backup(path)
    with sqlite3.connect(copy) as c:
        assert c.execute("select count(*) from job").fetchone() == (1,)
    c.close()
    database.close()


def test_full_disk_keeps_everything_saved_before(path: Path, runs: tuple[Run, Run]) -> None:
    database = Database(path)
    repository = Repository(database)
    job = newsroom_job()
    repository.save_job(JobEdit(None, job, "taken in"))
    with database.transaction() as c:
        pages = c.exec_driver_sql("pragma page_count").scalar()
        c.exec_driver_sql(f"pragma max_page_count = {pages + 2}")
    with pytest.raises(EnvironmentProblem, match="disk is full") as caught:
        repository.add_run(RunEdit(StoredRun(job.id, "before", runs[0])))
    assert "Everything saved before is kept" in caught.value.text
    assert repository.runs(job.id)[0] == ()
    assert repository.job(job.id) == job
    database.close()


def test_a_folder_without_permission_is_named(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("x")
    with pytest.raises(EnvironmentProblem) as caught:
        Database(blocked / "shop.db")
    assert str(blocked) in caught.value.text


KILLED = """
import sys, time
from dataclasses import replace
from pathlib import Path
from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop.open_shop import open_shop
w = open_shop(Path(sys.argv[1]))
add_newsroom(w)
job = w.job("newsroom-laptop")
for k in range(1, 100000):
    w.edit("goal", replace(w.job(job.id), goal=f"goal {k}"))
    w.lanes.drain("store")
    print(k, flush=True)
"""


def test_a_killed_program_loses_at_most_the_last_edit(path: Path) -> None:
    program = subprocess.Popen([sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE, text=True)
    assert program.stdout is not None
    seen = 0
    while seen < 25:
        seen = int(program.stdout.readline())
    program.send_signal(signal.SIGKILL)
    rest = program.stdout.read().split()
    program.wait()
    program.stdout.close()
    last = int(rest[-1]) if rest else seen
    database = Database(path)
    job = Repository(database).job("newsroom-laptop")
    database.close()
    assert int(job.goal.split()[1]) in (last, last + 1)


def test_runs_kept_by_the_first_schema_are_known_again(path: Path, runs: tuple[Run, Run]) -> None:
    database = Database(path)
    repository = Repository(database)
    repository.save_job(JobEdit(None, newsroom_job(), "taken in"))
    repository.add_run(RunEdit(StoredRun("newsroom-laptop", "before", runs[0])))
    database.close()
    with sqlite3.connect(path) as c:
        c.execute("drop index ix_run_fingerprint")
        c.execute("alter table run drop column fingerprint")
        c.execute("alter table job drop column card")
        c.execute("drop table photo")
        c.execute("drop table sent")
        c.execute("drop table bench")
        c.execute("update alembic_version set version_num = '0001'")
    c.close()
    database = Database(path)
    repository = Repository(database)
    assert repository.twin(fingerprint_of(replace(runs[0], id="other", void_reason="x"))) == "newsroom-laptop"
    assert repository.twin(fingerprint_of(runs[1])) == ""
    assert [c.name for c in repository.cards()] == ["Newsroom laptop"]
    assert len(list(path.parent.glob("backups/*.db"))) == 1
    database.close()


def test_every_older_schema_still_opens(tmp_path: Path) -> None:
    """Fixtures of older schemas lie in tests/data/schemas; the first is the present one."""
    folder = Path(__file__).parents[1] / "data" / "schemas"
    files = sorted(folder.glob("*.db"))
    assert [f.stem for f in files] == ["0001"]
    for file in files:
        copy = tmp_path / file.name
        shutil.copy(file, copy)
        database = Database(copy)
        repository = Repository(database)
        (card,) = repository.cards()
        job, stored = repository.job(card.id), repository.runs(card.id)[0]
        twins = [repository.twin(fingerprint_of(s.run)) for s in stored]
        database.close()
        assert job.name == card.name == "Newsroom laptop" and twins == [job.id] * len(stored)
