"""Tables of signs and checks: chances add up, only known causes are named, every cause can be proven."""

from __future__ import annotations

import pytest

from brachium.core.base.why import Origin
from brachium.core.cause import checks, kinds, signs
from brachium.core.cause.kinds import KINDS
from brachium.core.cause.ranking import Observation, rank
from brachium.core.cause.signs import CUT, Sign
from brachium.core.cause.start.assess import START
from brachium.core.cause.start.kinds import ALL
from brachium.demo.newsroom import MACHINE

EVERY = (*signs.SIGNS, *(c.sign for c in checks.CHECKS))
TO_START = tuple(START.signs.values())


@pytest.mark.parametrize("sign", (*EVERY, *TO_START), ids=lambda s: s.id)
def test_chances_of_every_sign_add_up_and_name_known_causes(sign: Sign) -> None:
    known = set(kinds.BY_ID) if sign in EVERY else set(ALL)
    assert set(sign.given) <= known and len(set(sign.states)) == len(sign.states) >= 2
    for row in (sign.well, *sign.given.values()):
        assert len(row) == len(sign.states) and sum(row) == pytest.approx(1.0) and min(row) > 0.0


def test_ids_are_unique_and_no_single_sign_settles_a_matter() -> None:
    assert len({s.id for s in (*EVERY, *TO_START)}) == len(EVERY) + len(TO_START)
    for sign in EVERY:
        for cause in sign.given:
            plain = [s for s in sign.states if sign.decides.get(s) != cause]
            assert all(abs(sign.weight(state, cause)) <= CUT for state in plain)
            assert sum(c * (sign.weight(s, cause) > 0) for c, s in zip(sign.given[cause], sign.states, strict=True)) > 0


def test_a_decisive_answer_calls_its_cause_against_everything_else() -> None:
    """Each alone, and beside one strong sign against it."""
    decided = [(s, state, cause) for s in EVERY for state, cause in s.decides.items()]
    assert {"dying", "cable", "adapter", "fan", "bad_memory", "battery", "worn"} <= {c for _, _, c in decided}
    for sign, state, cause in decided:
        assert state in sign.states and sign.given[cause][sign.states.index(state)] > 0.4
        against = min(
            ((s.weight(x, cause), s.id, x) for s in EVERY if s.id != sign.id for x in s.states), default=(0.0, "", "")
        )
        for beside in ((), (Observation(against[1], against[2], "", Origin.MEASURED),)):
            ranked = {r.kind.id: r for r in rank((Observation(sign.id, state, "", Origin.MEASURED), *beside), {})}
            assert ranked[cause].called, (sign.id, state, against)


def test_every_cause_has_a_check_that_can_prove_it() -> None:
    for kind in KINDS:
        strongest = max((c.sign.weight(s, kind.id) for c in checks.CHECKS for s in c.sign.states), default=0.0)
        assert strongest > 2.0, kind.id


def test_checks_fit_the_machine() -> None:
    ids = {c.id for c in checks.possible(MACHINE)}
    assert {"other_battery", "borrow_module"} <= ids and not {"swap_cable", "other_port"} & ids
    full = MACHINE.with_part("slot-2", MACHINE.fitted[0].part)
    assert "borrow_module" not in {c.id for c in checks.possible(full)}
