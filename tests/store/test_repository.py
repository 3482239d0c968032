"""What a shop keeps, whether it is a file or a database on a server: the same tests on both."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal
from pathlib import Path

import numpy as np
import pytest
from sqlalchemy import Connection, Table, insert, inspect, select, text

from brachium.core.base.merge import Clash
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.measure.run import Run
from brachium.core.plan.price_offer import Rates
from brachium.core.record.card import card_of
from brachium.core.record.job import Hold, StepDone
from brachium.core.record.shop_settings import ShopSettings
from brachium.demo.newsroom import JOB_ID, newsroom_job
from brachium.formats.records import run_arrays
from brachium.formats.shop_documents import SETTINGS
from brachium.store import copy_shop as copying
from brachium.store.database import HEAD, Database
from brachium.store.edits import (
    JobEdit,
    PhotoEdit,
    RunEdit,
    SettingEdit,
    ShopEdit,
    StoredRun,
    WholeJob,
    edit_from_text,
    edit_to_text,
)
from brachium.store.fingerprint import fingerprint_of
from brachium.store.location import Place
from brachium.store.open_database import open_database
from brachium.store.repository import Repository
from brachium.store.server import ServerDatabase
from brachium.store.tables import METADATA

JOB = newsroom_job()


@pytest.fixture
def database(place: Place) -> Iterator[Database | ServerDatabase]:
    found = open_database(place)
    yield found
    found.close()


@pytest.fixture
def repository(database: Database | ServerDatabase) -> Repository:
    made = Repository(database, "Bench 1")
    made.save_job(JobEdit(None, JOB, "taken in"))
    return made


def test_migrations_make_the_tables_that_the_program_uses(database: Database | ServerDatabase) -> None:
    with database.transaction() as c:
        there = inspect(c)
        made = {name: {col["name"] for col in there.get_columns(name)} for name in METADATA.tables}
        version = c.execute(text("select version_num from alembic_version")).scalar()
    assert made == {name: {col.name for col in table.columns} for name, table in METADATA.tables.items()}
    assert version == HEAD


def test_everything_comes_back_after_the_shop_was_closed(place: Place, runs: tuple[Run, Run]) -> None:
    database = open_database(place)
    repository = Repository(database, "Bench 1")
    repository.save_job(JobEdit(None, JOB, "taken in"))
    repository.save_job(JobEdit(JOB, replace(JOB, goal="changed"), phrase("goal {n}", n=2)))
    repository.add_run(RunEdit(StoredRun(JOB_ID, "before", runs[0])))
    repository.add_photo("p", b"\xff\xd8\x00jpeg")
    repository.set_setting(SettingEdit("theme", None, "dark"))
    database.close()
    database = open_database(place)
    repository = Repository(database)
    assert repository.stored_job(JOB_ID).revision == 2 and repository.job(JOB_ID).goal == "changed"
    assert [c.id for c in repository.cards()] == [JOB_ID] and repository.revisions() == {JOB_ID: 2}
    ((stored,), bad) = repository.runs(JOB_ID)
    assert stored.role == "before" and bad == ()
    for a, b in zip(stored.run.sessions, runs[0].sessions, strict=True):
        power_a, power_b = a.trace.values("power_w"), b.trace.values("power_w")
        assert power_a is not None and power_b is not None
        np.testing.assert_array_equal(power_a, power_b)
    assert repository.twin(fingerprint_of(replace(runs[0], id="other"))) == JOB_ID
    assert repository.photo("p") == b"\xff\xd8\x00jpeg" and repository.photo("none") == b""
    assert {k: s.text for k, s in repository.settings().items()} == {"theme": "dark"}
    assert [(e.who, e.label) for e in repository.edits(JOB_ID)] == [("Bench 1", "goal 2"), ("Bench 1", "taken in")]
    with pytest.raises(KeyError):
        repository.job("nobody")
    database.close()


def test_a_job_comes_with_its_photos_and_runs_or_not_at_all(
    database: Database | ServerDatabase, runs: tuple[Run, Run]
) -> None:
    repository = Repository(database)
    twice = (StoredRun(JOB_ID, "before", runs[0]), StoredRun(JOB_ID, "after", runs[0]))
    with pytest.raises(ExpectedProblem, match="refused"):
        repository.add_whole(WholeJob(JOB, card_of(JOB), twice, {"p1": b"jpeg"}, "taken in"))
    assert repository.cards() == () and repository.photo("p1") == b"" and repository.runs(JOB_ID)[0] == ()
    repository.add_whole(WholeJob(JOB, card_of(JOB), twice[:1], {"p1": b"jpeg"}, "taken in"))
    assert repository.photo("p1") == b"jpeg" and len(repository.runs(JOB_ID)[0]) == 1


def test_edits_of_one_record_are_merged_and_what_clashes_is_left_to_a_person(repository: Repository) -> None:
    """A second bench edits what it read before the first one changed it."""
    here = replace(JOB, goal="cutting", needed_by="2027-02-01", hold=Hold("Waiting for parts", "fan"))
    repository.save_job(JobEdit(JOB, here, "here"))
    other = Repository(repository._database, "Bench 2")
    there = replace(JOB, goal="mixing", budget=Decimal(77), steps_done=(StepDone("open", "2027-01-01", 4.0),))
    stored = other.save_job(JobEdit(JOB, there, "there"))
    assert stored.clashes == (Clash(("goal",), JOB.goal, "mixing", "cutting"),) and stored.changed_by == "Bench 1"
    merged = replace(here, budget=Decimal(77), steps_done=there.steps_done)
    assert stored.job == merged == repository.job(JOB_ID) == other.job(JOB_ID) and stored.revision == 3
    (card,) = repository.cards()
    assert card.note == "fan" and card.needed_by == "2027-02-01"
    again = other.save_job(JobEdit(stored.job, replace(stored.job, goal="mixing"), "chosen"))
    assert again.clashes == () and repository.job(JOB_ID).goal == "mixing"


def test_an_edit_sent_twice_counts_once(repository: Repository, runs: tuple[Run, Run]) -> None:
    """The line broke before the answer came: what is sent again changes nothing, even after a later edit."""
    first = JobEdit(JOB, replace(JOB, goal="one"), "one")
    repository.save_job(first)
    run = RunEdit(StoredRun(JOB_ID, "before", runs[0]))
    kept = SettingEdit("theme", None, "dark")
    for edit in (run, run):
        repository.add_run(edit)
    repository.set_setting(kept)
    repository.set_setting(SettingEdit("theme", "dark", "light"))
    later = replace(JOB, goal="two")
    repository.save_job(JobEdit(first.after, later, "two"))
    assert repository.save_job(first).job == later and repository.set_setting(kept).text == "light"
    assert repository.job(JOB_ID) == later and len(repository.runs(JOB_ID)[0]) == 1
    assert [e.label for e in repository.edits(JOB_ID)] == ["two", "one", "taken in"]
    with repository._database.transaction(writes=True) as c:
        c.execute(text("update sent set at = '2001-01-01T00:00:00Z' where token = :t"), {"t": first.token})
    repository.forget_sent()
    with repository._database.transaction() as c:
        left = set(c.execute(text("select token from sent")).scalars())
    assert first.token not in left and kept.token in left, "old ones are let go of, others stay"


def test_a_machine_of_the_same_id_is_never_written_over(repository: Repository) -> None:
    with pytest.raises(ExpectedProblem, match="taken in meanwhile"):
        repository.save_job(JobEdit(None, replace(JOB, name="Another"), "taken in"))
    assert repository.job(JOB_ID) == JOB


def test_settings_of_two_benches_are_merged_entry_by_entry(repository: Repository) -> None:
    text_of = SETTINGS.codec.text
    before = text_of(ShopSettings())
    repository.set_setting(SettingEdit(SETTINGS.key, None, before))
    here = replace(ShopSettings(), benches=5, rates=dict[str, Decimal](USD=Decimal("0.9")))
    repository.set_setting(SettingEdit(SETTINGS.key, before, text_of(here)))
    there = replace(ShopSettings(), benches=3, technicians=4, rates=dict[str, Decimal](GBP=Decimal("1.2")))
    stored = repository.set_setting(SettingEdit(SETTINGS.key, before, text_of(there)))
    merged = SETTINGS.codec.read(stored.text, "")
    rates: Rates = merged.rates
    assert (merged.benches, merged.technicians, sorted(rates)) == (5, 4, ["GBP", "USD"])
    assert [c.path for c in stored.clashes] == [("settings", "benches")]
    assert repository.settings()[SETTINGS.key].text == stored.text


def test_the_first_document_of_a_key_from_two_benches_at_once_is_merged(
    repository: Repository, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The other bench keeps its own between our look, which finds none, and our writing."""
    text_of = SETTINGS.codec.text
    other = Repository(repository._database, "Bench 2")
    real, looked = repository._set_setting, list[int]()

    def late(edit: SettingEdit) -> object:
        looked.append(1)
        if len(looked) == 1:
            other.set_setting(SettingEdit(SETTINGS.key, None, text_of(replace(ShopSettings(), benches=7))))
            raise ExpectedProblem("the shop refused it (duplicate key)", "", "")
        return real(edit)

    monkeypatch.setattr(repository, "_set_setting", late)
    repository.set_setting(SettingEdit(SETTINGS.key, None, text_of(replace(ShopSettings(), technicians=4))))
    kept = SETTINGS.codec.read(repository.settings()[SETTINGS.key].text, "")
    assert (kept.benches, kept.technicians) == (7, 4)


def test_edits_wait_as_text_and_come_back_the_same(runs: tuple[Run, Run]) -> None:
    stored = StoredRun(JOB_ID, "before", runs[0])
    edits: tuple[ShopEdit, ...] = (
        JobEdit(None, JOB, phrase("taken {how}", how="in"), card_of(JOB)), JobEdit(JOB, replace(JOB, goal="x"), "goal"),
        PhotoEdit("p", b"\x00\xff"), SettingEdit("k", None, "v"), SettingEdit("k", "v", "w"),
    )  # fmt: skip
    for edit in edits:
        assert edit_from_text(edit_to_text(edit)) == edit
    for edit in (RunEdit(stored, True), WholeJob(JOB, card_of(JOB), (stored,), {"p": b"\x01"}, "in")):
        back = edit_from_text(edit_to_text(edit))
        assert edit_to_text(back) == edit_to_text(edit) and back.token == edit.token
    for broken in (
        "",
        "{}",
        '{"edit": "job", "version": 1, "token": "t"}',
        '{"edit": "x", "version": 1, "token": "t"}',
    ):
        with pytest.raises(ExpectedProblem, match="cannot be read"):
            edit_from_text(broken)
    with pytest.raises(ExpectedProblem, match="newer"):
        edit_from_text('{"edit": "job", "version": 99, "token": "t"}')


def test_long_ids_are_kept_and_what_can_never_be_kept_is_refused(repository: Repository, runs: tuple[Run, Run]) -> None:
    """Refused, not tried again for ever: on a server a text holds no sign of value nought."""
    long = replace(runs[0], id="r" * 100)
    repository.add_run(RunEdit(StoredRun(JOB_ID, "before", long)))
    assert [s.run.id for s in repository.runs(JOB_ID)[0]] == [long.id]
    if repository.shared:
        with pytest.raises(ExpectedProblem, match="refused"):
            repository.set_setting(SettingEdit("theme", None, "dark\0"))
        with pytest.raises(ExpectedProblem, match="refused"):
            repository.set_setting(SettingEdit("k" * 65, None, "dark"))
        assert repository.settings() == {}


def test_half_a_transaction_leaves_nothing(database: Database | ServerDatabase, repository: Repository) -> None:
    with pytest.raises(ZeroDivisionError), database.transaction(writes=True) as c:
        c.execute(text("update job set document = 'x'"))
        raise ZeroDivisionError
    assert repository.job(JOB_ID) == JOB
    with database.transaction() as c:
        assert c.execute(select(METADATA.tables["job"].c.revision)).scalar() == 1


def test_a_shop_is_copied_either_way_and_checked(
    place: Place, tmp_path: Path, runs: tuple[Run, Run], monkeypatch: pytest.MonkeyPatch
) -> None:
    """From a file or a server into a file and on; what differs on arrival undoes the copy."""
    source, target = open_database(place), open_database(tmp_path / "copy.db")
    kept = Repository(source, "Bench 1")
    kept.add_whole(WholeJob(JOB, card_of(JOB), (StoredRun(JOB_ID, "before", runs[0]),), {"p": b"\x00\xff"}, "in"))
    kept.save_job(JobEdit(JOB, replace(JOB, goal="später"), "goal"))
    kept.set_setting(SettingEdit("theme", None, "dark"))
    with monkeypatch.context() as patch:
        patch.setattr(copying, "_copy", _one_cell_changed)
        with pytest.raises(ExpectedProblem, match="or differ"):
            copying.copy_shop(source, target)
    assert Repository(target).cards() == (), "nothing of it stays"
    tables = {t.name: t.rows for t in copying.copy_shop(source, target)}
    assert tables == {"job": 1, "run": 1, "series": len(run_arrays(runs[0])), "photo": 1, "setting": 1, "edit": 2}
    there = Repository(target)
    assert there.job(JOB_ID) == kept.job(JOB_ID) and there.stored_job(JOB_ID).revision == 2
    assert there.edits(JOB_ID) == kept.edits(JOB_ID) and there.photo("p") == b"\x00\xff"
    with pytest.raises(ExpectedProblem, match="machines in it already"):
        copying.copy_shop(target, source)
    there.save_job(JobEdit(there.job(JOB_ID), replace(JOB, goal="and on"), "on"))
    source.close()
    target.close()


def _one_cell_changed(c: Connection, t: Connection, table: Table, told: object) -> None:
    for row in c.execute(select(table)).all():
        changed = {"value": "changed on the way"} if table.name == "setting" else {}
        t.execute(insert(table), [{**row._mapping, **changed}])
