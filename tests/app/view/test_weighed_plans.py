"""The front is not worked out anew while a plan is carried out, and always is when anything that it asks changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from decimal import Decimal

import pytest

from brachium.app.bench.run_roles import BEFORE
from brachium.app.demo.demo_shop import ARCHIVES
from brachium.app.view import weighed_plans as choosing
from brachium.app.view.job_view import JobView, compute_view
from brachium.app.view.lately import Lately
from brachium.app.view.measured import JobRuns
from brachium.app.view.weighed_plans import Ask, WeighedPlans
from brachium.core.choose.cost import PlanCost
from brachium.core.condition.findings import Finding
from brachium.core.machine.locks import Locks, LockState
from brachium.core.measure.run import Run
from brachium.core.record.correction import Correction
from brachium.core.record.job import Job, StepDone
from brachium.core.record.shop_rules import ShopRules
from brachium.demo.shop import demo_catalogue
from brachium.formats.job_archive import read_archive

PLAIN = ShopRules()
EDITS: dict[str, Callable[[Job], Job]] = {
    "budget": lambda j: replace(j, budget=Decimal(70)),
    "rate": lambda j: replace(j, rate_per_hour=Decimal(60)),
    "minutes": lambda j: replace(j, attended_limit_min=30.0),
    "plan": lambda j: replace(j, plan=("nvme-500@m2",)),
    "targets": lambda j: replace(j, targets=j.targets[:1], targets_asked=False),
    "use": lambda j: replace(j, profile_id="build"),
    "finding": lambda j: replace(j, findings=(*j.findings, Finding("felt", "cooler"))),
    "lock": lambda j: replace(j, locks=Locks(LockState.SHUT, LockState.SHUT)),
    "dead slot": lambda j: replace(j, machine=replace(j.machine, bad_places=("slot-2",))),
}


@pytest.fixture(scope="module")
def tower() -> tuple[Job, Run]:
    archive = read_archive(ARCHIVES / "edit-suite-tower.zip")
    return archive.job, next(r.run for r in archive.runs if r.role == BEFORE)


def view_of(job: Job, run: Run, shop: ShopRules = PLAIN) -> JobView:
    return compute_view(job, JobRuns(run), demo_catalogue(), shop)


def told(choice: WeighedPlans | None) -> object:
    assert choice is not None
    return (choice.front.plans, choice.front.recommended, choice.front.hull, choice.bands, choice.present, choice.odds,
            choice.why, choice.worth, choice.targets_say, choice.meets, choice.unknown)  # fmt: skip


def test_ticks_and_notes_keep_the_front(tower: tuple[Job, Run]) -> None:
    job, run = tower
    first = view_of(job, run)
    ticked = replace(job, steps_done=(StepDone("power-off", "2026-11-25 10:00", 3.0),), condition=("scratched lid",),
                     remarks={"owner": "thanks"}, warranty_until="2027-01-01")  # fmt: skip
    assert view_of(ticked, run).choice.weighed is first.choice.weighed


@pytest.fixture
def asked(monkeypatch: pytest.MonkeyPatch) -> list[Ask]:
    """Every question that reaches the front, which is not worked out here."""
    found: list[Ask] = []

    def weighed(ask: Ask, cost: PlanCost) -> None:
        found.append(ask)

    monkeypatch.setattr(choosing, "_REMEMBERED", Lately(choosing.MOST_REMEMBERED))
    monkeypatch.setattr(choosing, "weighed_plans", weighed)
    return found


@pytest.mark.parametrize("name", EDITS)
def test_whatever_it_asks_makes_it_anew(tower: tuple[Job, Run], asked: list[Ask], name: str) -> None:
    job, run = tower
    view_of(job, run)
    view_of(job, run)
    assert len(asked) == 1
    view_of(EDITS[name](job), run)
    assert len(asked) == 2


def test_the_shops_own_rules_and_another_run_make_it_anew(tower: tuple[Job, Run], asked: list[Ask]) -> None:
    job, run = tower
    view_of(job, run)
    view_of(job, run, replace(PLAIN, worth_per_eur=0.01))
    view_of(job, run, replace(PLAIN, correction=Correction({"drive": -0.2}, 0.0, 1.0, 9)))
    view_of(job, run)
    assert len(asked) == 3, "an edit taken back asks what was asked before"
    view_of(job, replace(run, id="another"))
    assert len(asked) == 4 and asked[-1].before.id == "another"


def test_what_is_made_anew_beside_a_remembered_one_is_what_a_fresh_program_says(tower: tuple[Job, Run]) -> None:
    job, run = tower
    view_of(job, run)
    edited = EDITS["lock"](EDITS["plan"](job))
    remembered = view_of(edited, run)
    choosing._REMEMBERED.forget()
    assert told(remembered.choice.weighed) == told(view_of(edited, run).choice.weighed)
