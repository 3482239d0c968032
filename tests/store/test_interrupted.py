"""A shop file interrupted while it was made, upgraded, backed up or filled: it opens, or names the way back."""

from __future__ import annotations

import contextlib
import os
import sqlite3
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

import pytest

from brachium.app.demo.demo_shop import fill_demo_shop
from brachium.app.shop.open_shop import open_shop
from brachium.core.base.problems import EnvironmentProblem, ExpectedProblem
from brachium.core.measure.run import Run
from brachium.demo.newsroom import newsroom_job
from brachium.store import database as opening
from brachium.store.backups import KEPT, backup, backup_if_due, is_good, newest_good, restore
from brachium.store.database import HEAD, Database
from brachium.store.database_problems import ShopUnreadable
from brachium.store.edits import JobEdit, RunEdit, StoredRun, WholeJob
from brachium.store.repository import Repository, card_of


@pytest.fixture
def path(tmp_path: Path) -> Path:
    return tmp_path / "shop.db"


def filled(path: Path) -> Path:
    database = Database(path)
    Repository(database).save_job(JobEdit(None, newsroom_job(), "taken in"))
    database.close()
    return path


def run_sql(path: Path, *statements: str) -> None:
    with contextlib.closing(sqlite3.connect(path)) as c:
        for statement in statements:
            c.execute(statement)
        c.commit()


class Killed(Exception):  # noqa: N818
    """Stands for the end of the program."""


def test_schema_and_version_are_there_together_or_not_at_all(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Interrupted after every single statement of the first start."""
    import sqlalchemy

    count = 0
    for stop in range(1, 60):
        seen = 0

        def after(*_: object) -> None:
            nonlocal seen
            seen += 1
            if seen == stop:  # noqa: B023 - called while this stop is tried
                raise Killed

        sqlalchemy.event.listen(sqlalchemy.Engine, "after_cursor_execute", after)
        try:
            Database(path).close()
            break
        except Killed:
            count += 1
        finally:
            sqlalchemy.event.remove(sqlalchemy.Engine, "after_cursor_execute", after)
        with contextlib.closing(sqlite3.connect(path)) as c:
            tables = c.execute("select name from sqlite_master").fetchall()
        assert tables == [], f"after statement {stop}"
    assert count > 10
    Database(path).close()
    assert is_good(path)


@pytest.mark.parametrize("left", [
    ("create table job (id text)",),
    ("create table job (id text)", "create table run (id text)", "create table alembic_version (version_num text)"),
])  # fmt: skip
def test_what_earlier_programs_left_half_made_is_begun_anew(path: Path, left: tuple[str, ...]) -> None:
    run_sql(path, *left)
    filled(path)
    assert is_good(path)


def test_an_upgrade_that_stopped_halfway_goes_on(path: Path) -> None:
    """As a program without one transaction left it: the columns are there, the version is the old one."""
    filled(path)
    run_sql(path, "update alembic_version set version_num = '0001'")
    database = Database(path)
    assert Repository(database).job("newsroom-laptop") == newsroom_job()
    database.close()
    with contextlib.closing(sqlite3.connect(path)) as c:
        assert c.execute("select version_num from alembic_version").fetchone() == (HEAD,)


@pytest.mark.parametrize("broken", [lambda p: p.write_bytes(p.read_bytes()[:5000]),
                                    lambda p: p.write_bytes(b"x" * 9000),
                                    lambda p: run_sql(p, "delete from alembic_version")])  # fmt: skip
def test_a_shop_that_cannot_be_opened_names_its_newest_good_backup(path: Path, broken: Callable[[Path], None]) -> None:
    filled(path)
    first = backup(path)
    second = backup(path)
    second.write_bytes(second.read_bytes()[:-3000])  # a backup that was cut short is none
    broken(path)
    kept = path.read_bytes()
    with pytest.raises(ShopUnreadable) as caught:
        open_shop(path)
    assert caught.value.backup == first and str(first) in caught.value.text and path.read_bytes() == kept
    aside = restore(path, first)
    assert aside is not None and aside.read_bytes() == kept, "what was there is kept"
    workspace = open_shop(path)
    assert workspace.job("newsroom-laptop") == newsroom_job()
    workspace.close()


def test_a_backup_has_its_name_only_when_it_is_whole(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    filled(path)
    monkeypatch.setattr("brachium.store.backups.is_good", lambda _: False)
    with pytest.raises(EnvironmentProblem, match="does not read back"):
        backup(path)
    assert list((path.parent / "backups").iterdir()) == []
    (path.parent / "backups" / f".{path.stem}-20260101-101010-000001.db.part").write_bytes(b"left by a killed program")
    Database(path).close()
    assert list((path.parent / "backups").iterdir()) == [], "left-overs go at the next start"


def test_a_day_has_one_backup_and_old_ones_go(path: Path) -> None:
    filled(path)
    first = backup_if_due(path)
    assert first is not None and backup_if_due(path) is None
    assert backup_if_due(path, datetime.now() + timedelta(days=2)) is not None
    assert backup_if_due(path, datetime.now() - timedelta(days=400)) is not None, (
        "a clock set back is no reason for none"
    )
    for _ in range(KEPT):
        backup(path)
    assert len(list((path.parent / "backups").glob("*.db"))) == KEPT and newest_good(path) != first


def test_a_shop_whose_name_begins_alike_keeps_its_own_backups(path: Path) -> None:
    other = path.with_name(f"{path.stem}-two.db")
    filled(path)
    filled(other)
    mine, theirs = backup(path), backup(other)
    for _ in range(KEPT):
        backup(other)
    assert newest_good(path) == mine and mine.exists()
    for _ in range(KEPT):
        backup(path)
    assert newest_good(other) is not None and theirs.name.startswith(other.stem)
    assert len(list((path.parent / "backups").glob(f"{other.stem}-*.db"))) == KEPT


def test_a_way_back_that_is_killed_leaves_a_shop_file_in_its_place(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    filled(path)
    copy = backup(path)
    path.write_bytes(path.read_bytes()[:5000])
    kept = path.read_bytes()

    def killed(*_: object) -> None:
        raise Killed

    with monkeypatch.context() as patch:
        patch.setattr("brachium.store.backups.put_in_place", killed)
        with pytest.raises(Killed):
            restore(path, copy)
    assert path.read_bytes() == kept, "no empty shop is begun in its place"
    with pytest.raises(ShopUnreadable):
        open_shop(path)
    restore(path, copy)
    open_shop(path).close()


def test_a_job_comes_with_its_photos_and_runs_or_not_at_all(path: Path, runs: tuple[Run, Run]) -> None:
    database = Database(path)
    repository = Repository(database)
    job = newsroom_job()
    twice = (StoredRun(job.id, "before", runs[0]), StoredRun(job.id, "after", runs[0]))
    with pytest.raises(ExpectedProblem, match="refused"):
        repository.add_whole(WholeJob(job, card_of(job), twice, {"p1": b"jpeg"}, "taken in"))
    assert repository.cards() == () and repository.photo("p1") == b"" and repository.runs(job.id)[0] == ()
    repository.add_whole(WholeJob(job, card_of(job), twice[:1], {"p1": b"jpeg"}, "taken in"))
    assert repository.photo("p1") == b"jpeg" and len(repository.runs(job.id)[0]) == 1
    database.close()


def test_a_record_of_a_newer_program_is_not_half_read(path: Path) -> None:
    """It keeps its place and its text; the others open."""
    filled(path)
    document = '{"document_version": 99, "id": "newsroom-laptop", "wishes": 3}'
    for changed in (document, '{"id": "newsroom-laptop", "name": "x", "machine": {}, "wishes": 3}'):
        run_sql(path, f"update job set document = '{changed}', card = ''")
        workspace = open_shop(path)
        assert workspace.card("newsroom-laptop").note == "cannot be read"
        with pytest.raises(ExpectedProblem, match="newer Brachium") as caught:
            workspace.job("newsroom-laptop")
        assert "left as it is" in caught.value.text
        workspace.refresh("newsroom-laptop")
        workspace.compute_stages()
        workspace.close()
        with contextlib.closing(sqlite3.connect(path)) as c:
            assert c.execute("select document from job").fetchone() == (changed,)


def test_a_run_of_a_newer_program_stays_and_is_said(path: Path, runs: tuple[Run, Run]) -> None:
    """The others count, its id stays taken, its text stays as it is."""
    database = Database(path)
    repository = Repository(database)
    repository.save_job(JobEdit(None, newsroom_job(), "taken in"))
    for number in (1, 2):
        repository.add_run(
            RunEdit(StoredRun("newsroom-laptop", "before", replace(runs[0], id=f"newsroom-laptop-before-{number}")))
        )
    database.close()
    run_sql(path, "update run set document = '{\"document_version\": 99}' where id = 'newsroom-laptop-before-1'")
    workspace = open_shop(path)
    told = list[Exception]()
    workspace.on_problem.append(told.append)
    assert workspace.compute_now("newsroom-laptop").measured.before is not None
    assert len(told) == 1 and "newer Brachium" in str(told[0])
    assert workspace.next_run_number("newsroom-laptop") == "3" and len(workspace.all_runs("newsroom-laptop")) == 1
    workspace.close()
    with contextlib.closing(sqlite3.connect(path)) as c:
        assert c.execute("select count(*) from run where document = '{\"document_version\": 99}'").fetchone() == (1,)


def test_runs_keep_the_order_in_which_they_arrived(path: Path, runs: tuple[Run, Run]) -> None:
    """A clock that was set back, and a date that is none, neither vanish nor win."""
    database = Database(path)
    repository = Repository(database)
    repository.save_job(JobEdit(None, newsroom_job(), "taken in"))
    for number, date in enumerate(("2026-11-20 10:00", "2026-11-24 10:00", "2001-01-01 00:00", "no date")):
        run = replace(runs[0], id=f"r{number}", taken_at=date)
        repository.add_run(RunEdit(StoredRun("newsroom-laptop", "before", run)))
    database.close()
    workspace = open_shop(path)
    assert [s.run.id for s in workspace.all_runs("newsroom-laptop")] == ["r0", "r1", "r2", "r3"]
    latest = workspace.run("newsroom-laptop", "before")
    assert latest is not None and latest.id == "r3", "the last that came counts"
    view = workspace.compute_now("newsroom-laptop")
    assert "cannot be read" in view.measured.flags_before[0].text and view.measured.flags_before[0].kind == "date"
    workspace.void_run("newsroom-laptop", "r3", "no date")
    view = workspace.compute_now("newsroom-laptop")
    assert (
        "a clock was wrong" in view.measured.flags_before[0].text
        and "2026-11-24 10:00" in view.measured.flags_before[0].text
    )
    workspace.close()


def test_what_stands_beside_a_shop_is_never_followed_through_a_link(path: Path) -> None:
    precious = path.parent / "letter.txt"
    precious.write_text("dear reader")
    (path.parent / "shop.db.lock").symlink_to(precious)
    with pytest.raises(EnvironmentProblem, match="is a link"):
        Database(path)
    assert precious.read_text() == "dear reader"


def test_a_refused_newer_shop_gets_no_companions(path: Path) -> None:
    filled(path)
    run_sql(path, "update alembic_version set version_num = '9999'")
    for beside in path.parent.iterdir():
        if beside != path:
            beside.unlink()
    before = path.read_bytes()
    with pytest.raises(ExpectedProblem, match="newer Brachium"):
        open_shop(path, fill=fill_demo_shop)
    assert [p.name for p in path.parent.iterdir()] == ["shop.db"] and path.read_bytes() == before


def test_a_folder_named_as_the_shop_is_said(tmp_path: Path) -> None:
    with pytest.raises(EnvironmentProblem, match="this is a folder"):
        Database(tmp_path)
    assert list(tmp_path.iterdir()) == []


def test_a_lock_that_cannot_be_written_on_a_full_disk_does_not_stop_the_shop(
    path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    filled(path)
    real = os.fdopen

    def full(handle: int, *mode: object) -> object:
        file = real(handle, *mode)  # type: ignore[call-overload]

        class Full:
            def __getattr__(self, name: str) -> object:
                if name == "write":
                    raise OSError(28, "No space left on device")
                return getattr(file, name)

        return Full()

    monkeypatch.setattr(opening.os, "fdopen", full)
    Database(path).close()
