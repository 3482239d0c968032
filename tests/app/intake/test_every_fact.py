"""Every fact of a record in a shop: recorded, taken back, done again, carried out and taken in elsewhere."""

from __future__ import annotations

from pathlib import Path

from brachium.app.files.job_transfer import export_job, take_in
from brachium.app.shop.open_shop import open_shop
from brachium.core.base.why import Origin
from brachium.core.fit.recorded_facts import with_job_fact
from brachium.core.machine.facts.record_facts import record_facts
from brachium.core.machine.facts.typed_facts import shown_value, typed_value
from brachium.core.machine.machine import Machine
from brachium.core.record.job import Job
from tests.support.every_fact import FACTS, MACHINE, text_for


def told(machine: Machine) -> dict[str, tuple[str, Origin]]:
    """What the record page shows of each fact, and where it came from."""
    return {f.key: (shown_value(f), f.origin) for f in record_facts(machine)}


def test_every_fact_is_undone_done_again_and_carried_to_another_shop(tmp_path: Path) -> None:
    shop = open_shop(tmp_path / "shop.db")
    shop.add_job(Job("full", "full", MACHINE))
    for fact in FACTS:
        before = shop.job("full")
        edited = with_job_fact(before, fact.key, typed_value(fact, text_for(fact)))
        shop.edit(fact.title, edited)
        assert told(shop.job("full").machine)[fact.key] != told(before.machine)[fact.key], fact.key
        shop.undo("full")
        assert shop.job("full") == before, fact.key
        shop.redo("full")
        assert shop.job("full") == edited, fact.key
    whole = shop.job("full")
    assert {o for _, o in told(whole.machine).values()} >= {Origin.TYPED}
    shop.add_job(Job("line", "line", MACHINE))
    assert {o for _, o in told(MACHINE).values()} >= {Origin.TYPICAL, Origin.TYPED, Origin.ASSUMED}
    for job_id in ("full", "line"):
        export_job(shop.reading(), job_id, tmp_path / f"{job_id}.zip")
    shop.close()
    again = open_shop(tmp_path / "shop.db")
    assert again.job("full") == whole, "nothing is lost in the shop file"
    again.close()
    other = open_shop(tmp_path / "other.db")
    for job_id, machine in (("full", whole.machine), ("line", MACHINE)):
        taken = take_in(other, tmp_path / f"{job_id}.zip")
        assert told(other.job(taken.job_id).machine) == told(machine)
    other.close()
