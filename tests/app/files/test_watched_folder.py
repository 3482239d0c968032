"""The watched folder: whole files once, others never, a stick that comes and goes."""

from __future__ import annotations

from pathlib import Path

from brachium.app.files.job_transfer import keep_carried, read_carried
from brachium.app.files.watched_folder import FolderWatch
from brachium.app.shop.workspace import Workspace
from brachium.formats.run_file import run_to_file_text, write_run_file
from tests.support.some_runs import some_run


def test_a_file_counts_once_it_is_whole_and_only_once(tmp_path: Path) -> None:
    stick = tmp_path / "stick"
    watch = FolderWatch(stick)
    assert watch.look() == () and not watch.there
    stick.mkdir()
    (stick / "other.json").write_text('{"format": "something else"}')
    (stick / "notes.txt").write_text("brachium-run")
    text = run_to_file_text(some_run())
    (stick / "run.json").write_text(text[:2000])
    assert watch.look() == () and watch.there, "seen for the first time: it may still be written"
    (stick / "run.json").write_text(text)
    assert watch.look() == (), "it has grown"
    assert watch.look() == (stick / "run.json",)
    assert watch.look() == ()
    (stick / "run.json").unlink()
    assert watch.look() == ()
    (stick / "run.json").write_text(text)
    assert [watch.look(), watch.look()] == [(), (stick / "run.json",)], "pulled and put back: told again"


def test_the_same_run_is_never_kept_twice_also_after_a_restart(shop: Workspace, tmp_path: Path) -> None:
    write_run_file(some_run(), tmp_path / "run.json")
    first = keep_carried(shop, read_carried(tmp_path / "run.json", shop.reading()))
    again = keep_carried(shop, read_carried(tmp_path / "run.json", shop.reading()))
    assert first.fresh and not again.fresh and again.job_id == first.job_id
    shop.lanes.drain("store")
    shop._runs._runs.clear()
    third = keep_carried(shop, read_carried(tmp_path / "run.json", shop.reading()))
    assert not third.fresh and len(shop.all_runs(first.job_id)) == 1
