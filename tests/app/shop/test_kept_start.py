"""What was kept of the last start: taken up only for the very same file, program and day, and never trusted blindly."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop import kept_start
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import Workspace
from brachium.app.view.job_view import JobView
from brachium.demo.newsroom import JOB_ID


@pytest.fixture
def closed(tmp_path: Path) -> Path:
    """A shop that was closed while a machine and its figures were in view."""
    path = tmp_path / "shop.db"
    workspace = open_shop(path)
    add_newsroom(workspace)
    workspace.start_with = JOB_ID
    figures_of(workspace)
    workspace.close()
    return path


def figures_of(workspace: Workspace) -> JobView:
    """The figures, as the window asks for them."""
    workspace.refresh(JOB_ID)
    workspace.lanes.drain("compute")
    view = workspace.view(JOB_ID)
    assert view is not None
    return view


def taken_up(path: Path, monkeypatch: pytest.MonkeyPatch) -> tuple[bool, bool, JobView]:
    """(whether the shop file was not read, whether the figures were not worked out, the figures)."""
    workspace = open_shop(path)
    unread = workspace.repository._real is None  # type: ignore[attr-defined]
    with monkeypatch.context() as patch:
        worked = list[str]()
        real = type(workspace.reading()).computed
        patch.setattr("brachium.app.shop.reading.ShopReading.computed",
                      lambda self, job: (worked.append(job.id), real(self, job))[1])  # fmt: skip
        view = figures_of(workspace)
    workspace.start_with = JOB_ID
    workspace.close()
    return unread, not worked, view


def test_the_next_start_shows_what_was_kept_and_an_edit_replaces_it(
    closed: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    unread, kept, view = taken_up(closed, monkeypatch)
    assert unread and kept and view.job.id == JOB_ID
    workspace = open_shop(closed)
    assert [c.id for c in workspace.cards()] == [JOB_ID]
    again = workspace.compute_now(JOB_ID)
    assert (again.job, again.standing, again.choice.cost) == (view.job, view.standing, view.choice.cost)
    workspace.edit("goal", replace(workspace.job(JOB_ID), goal="mixing"))
    workspace.start_with = JOB_ID
    workspace.lanes.drain("compute")
    workspace.close()
    unread, kept, view = taken_up(closed, monkeypatch)
    assert unread and kept and view.job.goal == "mixing"


def test_a_file_that_somebody_wrote_to_is_read_itself(closed: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    with closing(sqlite3.connect(closed)) as c:
        c.execute("update job set document = replace(document, 'cutting news clips', 'mixing'), card = ''")
        c.commit()
    unread, kept, view = taken_up(closed, monkeypatch)
    assert not unread and not kept and view.job.goal == "mixing"


def test_figures_of_another_day_are_worked_out(closed: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    class Tomorrow(kept_start.date):
        @classmethod
        def today(cls) -> Tomorrow:
            return cls(2099, 1, 1)

    monkeypatch.setattr(kept_start, "date", Tomorrow)
    unread, kept, _ = taken_up(closed, monkeypatch)
    assert unread and not kept


@pytest.mark.parametrize("harm", ["writable", "link", "cut", "other", "newer program", "folder"])
def test_what_was_kept_by_somebody_else_or_is_broken_is_not_taken_up(
    closed: Path, monkeypatch: pytest.MonkeyPatch, harm: str
) -> None:
    file = kept_start._file(closed)
    assert file.stat().st_mode & 0o022 == 0 and file.parent.stat().st_mode & 0o077 == 0
    if harm == "writable":
        file.chmod(0o666)
    elif harm == "link":
        file.rename(file.with_suffix(".real"))
        file.symlink_to(file.with_suffix(".real"))
    elif harm == "cut":
        file.write_bytes(file.read_bytes()[:2000])
    elif harm == "other":
        file.write_bytes(b"cos\nsystem\n(S'exit 1'\ntR.")
        file.chmod(0o666)
    elif harm == "newer program":
        monkeypatch.setattr(kept_start, "program_stamp", lambda: "another")
    else:
        file.parent.chmod(0o777)
    try:
        unread, kept, view = taken_up(closed, monkeypatch)
    finally:
        file.parent.chmod(0o700)
    assert not unread and not kept and view.job.id == JOB_ID
