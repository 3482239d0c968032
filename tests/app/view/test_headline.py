"""What stands below a candidate: full rating only where nothing is left open."""

from __future__ import annotations

from dataclasses import replace

from brachium.app.view.plan_in_hand import plan_in_hand
from brachium.core.plan.candidates import candidates
from brachium.core.record.job import Job
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.support.around import EASY


def headline(machine, candidate_id: str) -> str:  # type: ignore[no-untyped-def]
    everything = candidates(machine, demo_catalogue())
    offers = plan_in_hand(Job("j", "j", machine), everything, EASY).offers
    return next(o.headline for o in offers if o.candidate.id == candidate_id)


def test_a_part_whose_rate_hangs_on_the_link_is_not_at_its_full_rating() -> None:
    assert headline(MACHINE, "ssd-480@bay-main") == "fits, at its full rating"
    bays = tuple(replace(b, link_mb_s=None) for b in MACHINE.bays)
    assert headline(replace(MACHINE, bays=bays), "ssd-480@bay-main") == (
        "fits; 138 to 540 MB/s, by the link, not recorded")  # fmt: skip
