"""Figures on paper reach Find cause: the same machine, the same causes, with nothing sampled."""

from __future__ import annotations

from dataclasses import replace

import pytest

from brachium.core.base.why import Origin
from brachium.core.cause.assess import assess
from brachium.core.cause.known import Known
from brachium.core.cause.typed_signs import typed_signs
from brachium.core.machine.kinds import MachineKind
from brachium.core.measure.own_tests import OwnResult
from brachium.core.record.use_of_job import typed_use
from brachium.demo.newsroom import newsroom_job

JOB = newsroom_job()
MACHINE = replace(
    JOB.machine, processor=replace(JOB.machine.processor, base_mhz=2300.0, boost_mhz=3300.0, limit_c=97.0)
)
SIZE_GIB = MACHINE.configuration().memory_bytes() / 2**30


def typed(**figures: float) -> tuple[OwnResult, ...]:
    return tuple(OwnResult(f"{kind}-1", "before", value) for kind, value in figures.items())


@pytest.mark.parametrize(("figures", "states"), [
    ({"memwork": 0.97 * SIZE_GIB}, {"memory_use": "full"}),
    ({"memwork": 0.5 * SIZE_GIB, "diskbusy": 10.0}, {"memory_use": "room left", "stall": "hardly"}),
    ({"memidle": 0.4 * SIZE_GIB}, {}),  # says nothing of the work
    ({"diskbusy": 97.0}, {"stall": "much"}),
    ({"diskbusy": 55.0}, {}),
    ({"clock": 1400.0, "chipload": 96.0}, {"held": "by heat"}),
    ({"clock": 800.0, "chipload": 52.0}, {"held": "far from its limit", "top_clock": "below its base clock"}),
    ({"clock": 800.0}, {}),  # without a temperature nobody knows by what
    ({"clock": 2600.0, "chipload": 80.0}, {"held": "not", "top_clock": "as rated"}),  # a boost that ended
    ({"clock": 2600.0, "chipload": 96.0}, {"top_clock": "as rated"}),  # heat may take the boost away
    ({"noise": 41.0, "task": 93.0}, {}),
])  # fmt: skip
def test_a_typed_figure_is_the_sign_that_it_tells(figures: dict[str, float], states: dict[str, str]) -> None:
    found = typed_signs(MACHINE, typed(**figures))
    assert {o.sign: o.state for o in found} == states and all(o.origin is Origin.TYPED for o in found)


def test_below_a_boost_clock_alone_nothing_is_said() -> None:
    """Without its base clock nobody knows whether only the boost ended."""
    boost = replace(MACHINE, processor=replace(MACHINE.processor, base_mhz=None))
    assert typed_signs(boost, typed(clock=2300.0, chipload=60.0)) == ()


def test_an_invalid_figure_tells_nothing_and_several_tell_their_median() -> None:
    full = [OwnResult("diskbusy-1", "before", v) for v in (96.0, 2.0, 95.0)]
    assert typed_signs(MACHINE, full)[0].state == "much"
    assert typed_signs(MACHINE, [replace(r, invalid="updates were running") for r in full]) == ()


def test_three_typed_numbers_put_the_cause_first() -> None:
    """A laptop that runs cool and slow with no counters: its power, not its paste."""
    machine = replace(MACHINE, kind=MachineKind.LAPTOP)
    slow = assess(Known(machine, own_results=typed(clock=790.0, chipload=50.0)), typed_use(JOB), ())
    assert {"battery", "governor"} < {c.kind.id for c in slow.ranked[:3]}, "beside the empty channel of the record"
    plain = assess(Known(machine), typed_use(JOB), ())
    swaps = assess(Known(machine, own_results=typed(memwork=0.98 * SIZE_GIB, diskbusy=98.0)), typed_use(JOB), ())
    assert swaps.cause("memory").chance > 3 * plain.cause("memory").chance
