"""The path of a machine that does not start: simulated chains with one broken link, and what its parts say."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import replace

import numpy as np
import pytest

from brachium.core.cause.known import Known
from brachium.core.cause.start.assess import START, assess_start, cannot_run, does_not_start
from brachium.core.cause.start.checks import CHECKS, TOOLS, possible
from brachium.core.cause.start.kinds import ALL, KINDS
from brachium.core.cause.start.symptoms import BEEPS, FIRMWARE, SYMPTOM, UNDER_LOAD
from brachium.core.condition.findings import Finding
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Machine
from brachium.core.record.checks import CheckDone, SwapTry
from brachium.devices.simulated.practice_machine import make_practice_machine
from brachium.devices.simulated.start_chain import LINKS, answer_of, make_chain

MADE = [make_practice_machine(seed, "").machine for seed in range(12)]
BY_KIND = {kind: next(m for m in MADE if m.kind is kind) for kind in (MachineKind.LAPTOP, MachineKind.TOWER)}


def searched(seed: int, most: int = 9) -> tuple[str, str, list[CheckDone]]:
    """(what is broken, what is in front at the end, the checks made) of a machine searched check by check."""
    chain, kind = make_chain(seed)
    known, done = Known(BY_KIND[kind]), list[CheckDone]()
    found = assess_start(known, done)
    while not found.ranked[0].settled and found.next is not None and len(done) < most:
        check = found.next.check
        answer = answer_of(chain, check.id, check.sign.states)
        done.append(CheckDone(check.id, answer, check.attended_min))
        found = assess_start(known, done)
    return chain.broken, found.ranked[0].kind.id, done


def test_what_is_broken_is_found_by_few_and_cheap_checks() -> None:
    found = [searched(seed) for seed in range(240)]
    right = [broken == front for broken, front, _ in found]
    assert np.mean(right) >= 0.85, Counter((b, f) for b, f, _ in found if b != f).most_common(8)
    assert np.median([sum(c.minutes for c in done) for *_, done in found]) <= 15.0
    assert all(done[0].check == SYMPTOM.id for *_, done in found), "what it does is asked first"
    by_link = defaultdict(list)
    for (broken, *_), good in zip(found, right, strict=True):
        by_link[broken].append(good)
    assert len(by_link) == len(LINKS) and min(np.mean(v) for v in by_link.values()) >= 0.4


def test_nothing_dear_comes_before_what_is_cheap() -> None:
    """Of a dead tower: socket, button and plugs before another supply, that before another board."""
    known, done, order = Known(BY_KIND[MachineKind.TOWER]), [CheckDone(SYMPTOM.id, "nothing at all", 1)], list[str]()
    while (following := assess_start(known, done).next) is not None:
        order.append(following.check.id)
        done.append(CheckDone(following.check.id, following.check.sign.states[0], 1))
    assert order.index("start_mains") < 3
    assert max(map(order.index, ("start_mains", "start_hold", "start_plugs"))) < order.index("start_other_supply")
    assert order[-1] == "start_other_board" or "start_other_board" not in order[: len(order) // 2]


def test_every_broken_link_has_a_symptom_and_a_check_that_proves_it() -> None:
    assert set(LINKS) == set(ALL)
    for kind in KINDS:
        assert max(c.sign.weight(s, kind.id) for c in CHECKS for s in c.sign.states) > 1.8, kind.id
        chain, _ = make_chain(3, kind.id)
        assert START.signs[SYMPTOM.id].chances(kind.id)[SYMPTOM.sign.states.index(chain.symptom())] > 0.03, kind.id
    assert set(TOOLS) <= {c.id for c in CHECKS}


def test_checks_fit_the_kind_of_machine() -> None:
    laptop, tower, mini = (
        {c.id for c in possible(m)}
        for m in (BY_KIND[MachineKind.LAPTOP], BY_KIND[MachineKind.TOWER],
                  replace(BY_KIND[MachineKind.TOWER], kind=MachineKind.MINI_PC))
    )  # fmt: skip
    assert {"start_adapter", "start_no_battery"} <= laptop and not {"start_other_supply", "start_card"} & laptop
    assert {"start_other_supply", "start_button"} <= tower and "start_adapter" not in tower
    assert "start_adapter" in mini and "start_other_supply" not in mini and "start_no_battery" not in mini


@pytest.mark.parametrize(
    ("tried", "state"),
    [
        (("system", "firmware"), FIRMWARE),
        (("stays", "system"), UNDER_LOAD),
    ],
)
def test_how_far_it_came_stands_in_for_the_symptom(tried: tuple[str, str], state: str) -> None:
    results = (TestResult(tried[0], TrialOutcome.FAILS), TestResult(tried[1], TrialOutcome.WORKS))
    seen = assess_start(Known(Machine(), tried=results)).seen
    assert [(o.sign, o.state) for o in seen] == [(SYMPTOM.id, state)]
    said = assess_start(Known(Machine(), tried=results), [CheckDone(SYMPTOM.id, BEEPS, 1)]).seen
    assert [o.state for o in said] == [BEEPS], "what a person answers goes before"


def test_map_and_swap_grid_are_read() -> None:
    tries = (
        SwapTry((("module:a", "place:1"), ("module:b", "place:2")), False),
        SwapTry((("module:a", "place:1"),), True),
    )
    tone = (TestResult("starts", TrialOutcome.FAILS, "three short beeps"),)
    found = assess_start(Known(Machine(), tried=tone, swap_tries=tries))
    assert found.ranked[0].kind.id == "module" and found.ranked[0].called
    loose = assess_start(
        Known(Machine(), findings=(Finding("cable", "board"),)), [CheckDone(SYMPTOM.id, "nothing at all", 1)]
    )
    without = assess_start(Known(Machine()), [CheckDone(SYMPTOM.id, "nothing at all", 1)])
    assert loose.cause("plug").chance > 2 * without.cause("plug").chance


def test_who_is_on_this_path() -> None:
    fails, holds = TestResult("system", TrialOutcome.FAILS), TestResult("stays", TrialOutcome.FAILS)
    assert does_not_start((fails,)) and cannot_run((fails,))
    assert does_not_start((holds,)) and not cannot_run((holds,)), "what goes off under load can be measured at rest"
    assert does_not_start((), [CheckDone(SYMPTOM.id, BEEPS, 1)]) and does_not_start((), (), "does not start")
    assert not does_not_start((TestResult("starts", TrialOutcome.WORKS),), (), "log of the shop")
    mended = tuple(TestResult(i, TrialOutcome.WORKS) for i in ("starts", "firmware", "system", "stays"))
    assert not does_not_start(mended, [CheckDone(SYMPTOM.id, BEEPS, 1)]), "it runs again"
