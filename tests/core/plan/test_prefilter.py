"""What is left out of a long price list could never have mattered."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.core.choose.front import build_front
from brachium.core.choose.plan_space import Limits
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.candidates import CatalogueItem, Group, candidates
from brachium.core.plan.prefilter import SMALL, worth_judging
from brachium.core.work.effort import Effort
from brachium.demo.newsroom import MACHINE
from brachium.demo.shop import demo_catalogue
from tests.core.choose.test_front import VIDEO, judged


def long_list(copies: int) -> tuple[CatalogueItem, ...]:
    """The parts of the demo's list many times over at random prices, its services once."""
    rng = np.random.default_rng(3)
    services = tuple(i for i in demo_catalogue() if i.part is None)
    return services + tuple(
        replace(i, id=f"{k}-{i.id}", price=i.price * Decimal(str(round(float(rng.uniform(0.8, 1.6)), 2))))
        for k in range(copies) for i in demo_catalogue() if i.part is not None
    )  # fmt: skip


def test_a_short_list_is_judged_whole() -> None:
    assert worth_judging(MACHINE, demo_catalogue()) == demo_catalogue()


def test_a_long_list_loses_nothing_of_the_front(finished_view: JobView) -> None:
    everything = long_list(32)
    assert len(everything) > SMALL and finished_view.causes.figures is not None
    some = worth_judging(MACHINE, everything)
    assert len(some) <= len(demo_catalogue()) and all(i in everything for i in some)
    fronts = [
        build_front(
            MACHINE,
            judged(candidates(MACHINE, items)),
            VIDEO,
            finished_view.causes.figures,
            Limits(32.0),
            Effort(MACHINE),
        )
        for items in (everything, some)
    ]
    kept = [[(round(p.cost, 6), round(p.gain, 9)) for p in f.plans] for f in fronts]
    assert kept[0] == kept[1] and fronts[0].count > 500 * fronts[1].count


@pytest.mark.parametrize("gone", ["mem-8-dimm", "mem-8-d4", "nvme-500"])
def test_what_never_fits_is_left_out(gone: str) -> None:
    assert not any(i.id.endswith(gone) for i in worth_judging(MACHINE, long_list(32)))


def test_an_unknown_socket_keeps_every_processor_and_a_known_one_its_own_and_those_of_listed_boards() -> None:
    price = Decimal(10)
    chips = [
        CatalogueItem(f"p{k}", Group.PROCESSOR, "p", price, 1, ProcessorPart("p", f"S-{k}")) for k in range(SMALL + 1)
    ]
    tower = replace(MACHINE, kind=MachineKind.TOWER)

    def kept(socket: str | None) -> set[str]:
        platform = replace(tower.platform, board=replace(tower.platform.board, socket=socket))
        return {i.id for i in worth_judging(replace(tower, platform=platform), chips)}

    assert kept("S-3") == {"p3"} and len(kept(None)) == SMALL + 1
