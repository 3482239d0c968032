"""Ranking: log-odds by hand, rivals, risk first, and the expected information against its definition."""

from __future__ import annotations

from math import exp, log

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.why import Origin
from brachium.core.cause import checks, signs
from brachium.core.cause.assumptions import ENDS, ENDS_FROM
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.cause.kinds import BY_ID as KIND
from brachium.core.cause.kinds import HEAT, KINDS
from brachium.core.cause.ranking import Observation, expected_bits, next_checks, rank
from brachium.core.cause.signs import Sign, sign
from brachium.demo.newsroom import MACHINE


def seen(sign_id: str, state: str) -> Observation:
    return Observation(sign_id, state, "", Origin.MEASURED)


def test_log_odds_are_the_base_and_the_weights_and_nothing_else() -> None:
    ranked = {r.kind.id: r for r in rank((seen("held", "by heat"), seen("split", "mostly chip to heatsink")), {})}
    paste = ranked["paste"]
    by_hand = KIND["paste"].base + log(0.88 / 0.01) + log(0.80 / 0.08)
    assert paste.log_odds == pytest.approx(by_hand) and len(paste.weights) == 2
    odds = {c: exp(ranked[c].log_odds) for c in HEAT}
    assert paste.chance == pytest.approx(odds["paste"] / (1.0 + sum(odds.values())))
    assert ranked["disk"].weights == () and ranked["disk"].log_odds == KIND["disk"].base


def test_rivals_share_what_one_sign_says() -> None:
    """All five ways of being hot explain the throttling; none is called on that alone, together they are sure."""
    ranked = rank((seen("held", "by heat"),), {})
    hot = [r.chance for r in ranked if r.kind.id in HEAT]
    assert sum(hot) > 0.8 and not any(r.called for r in ranked)


def test_nothing_is_called_on_a_machine_whose_signs_are_all_well() -> None:
    every = [seen(s.id, s.states[int(np.argmax(s.well))]) for s in signs.SIGNS]
    ranked = rank(every, dict.fromkeys((k.id for k in KINDS), 0.5))
    assert max(r.chance for r in ranked) < 0.15


def test_data_at_risk_comes_before_lost_time() -> None:
    observed = (seen("health", "media faults"), seen("drive_rate", "slow in both"), seen("stall", "much"),
                seen("memory_use", "full"))  # fmt: skip
    ranked = rank(observed, {"memory": 0.6, "dying": 0.01})
    assert [r.kind.id for r in ranked[:2]] == ["dying", "memory"]
    quiet = rank(observed[2:], {"memory": 0.6, "dying": 0.01})
    assert quiet[0].kind.id == "memory", "an uncalled risk does not push itself forward"


def test_an_unknown_sign_or_state_says_nothing() -> None:
    plain = rank((), {})
    odd = rank((seen("from a newer version", "x"), seen("held", "sideways")), {})
    assert [r.log_odds for r in odd] == [r.log_odds for r in plain]


def information(one: Sign, prior: dict[str, float]) -> float:
    """Mutual information of a single rival set, from its definition over the joint table."""
    causes = list(HEAT)
    p = np.array([1.0 - sum(prior[c] for c in causes), *(prior[c] for c in causes)])
    joint = p[:, None] * np.array([one.well, *(one.chances(c) for c in causes)])
    outer = joint.sum(axis=1, keepdims=True) * joint.sum(axis=0, keepdims=True)
    some = joint > 0
    return float((joint[some] * np.log2(joint[some] / outer[some])).sum())


@given(
    st.lists(st.floats(0.001, 0.16), min_size=len(HEAT), max_size=len(HEAT)),
    st.sampled_from(["look_fins", "fan_full", "repaste"]),
)
def test_expected_bits_are_the_mutual_information(shares: list[float], check_id: str) -> None:
    chances = dict.fromkeys((k.id for k in KINDS), 0.0) | dict(zip(HEAT, shares, strict=True))
    one = checks.BY_ID[check_id].sign
    assert expected_bits(one, chances) == pytest.approx(information(one, chances), abs=1e-9)


def test_a_sure_matter_leaves_nothing_to_ask_and_a_perfect_question_tells_all() -> None:
    perfect = sign("x", "X", "no|yes", (1 - 1e-12, 1e-12), paste=(1e-12, 1 - 1e-12))
    none = dict.fromkeys((k.id for k in KINDS), 0.0)
    assert expected_bits(perfect, none | {"paste": 0.5}) == pytest.approx(1.0, abs=1e-6)
    assert expected_bits(perfect, none | {"paste": 1.0}) == pytest.approx(0.0, abs=1e-6)


def test_checks_come_by_what_they_tell_for_a_minute_and_made_ones_are_gone() -> None:
    sure = rank((seen("held", "by heat"), seen("split", "mostly chip to heatsink")), {})
    likely = next_checks(sure, checks.possible(MACHINE))
    ends = [sure[0].kind.id in c.check.sign.decides.values() for c in likely]
    rates = [c.bits_per_minute * (ENDS if end else 1.0) for c, end in zip(likely, ends, strict=True)]
    assert sure[0].chance > ENDS_FROM and any(ends) and rates == sorted(rates, reverse=True)
    ranked = rank((seen("held", "by heat"),), {})
    found = next_checks(ranked, checks.possible(MACHINE))
    rates = [c.bits_per_minute for c in found]
    assert ranked[0].chance < ENDS_FROM and rates == sorted(rates, reverse=True)
    assert found[0].check is COMPLAINT, "what brought the owner is asked first"
    ways = [c.check for c in found if set(c.check.sign.given) <= {*HEAT, "regulators"}]
    assert ways[0].attended_min <= 3 and not ways[0].opens, "cheap looks before the machine is opened"
    rest = next_checks(ranked, checks.possible(MACHINE), frozenset({found[0].check.id}))
    assert found[0].check.id not in {c.check.id for c in rest} and rest[0].check.id == found[1].check.id


def test_a_complaint_names_one_thing_and_every_weight_is_shown() -> None:
    said = seen("complaint", "slow in heavy or long work")
    hot = seen("watch_load", "at its limit within a minute")
    alone, explained = (
        next(w.log_odds for r in rank(s, {}) if r.kind.id == "governor" for w in r.weights if w.state == said.state)
        for s in ((said,), (said, hot))
    )
    assert 0.0 < explained < 0.85 * alone, "heat explains it, so it accuses power less"
    for one in rank((said, hot, seen("watch_monitor", "nothing is busy")), {}):
        assert one.log_odds == pytest.approx(one.kind.base + sum(w.log_odds for w in one.weights))


def test_a_limit_that_nobody_timed_speaks_for_every_way_of_the_heat_alike() -> None:
    bases = {k.id: k.base for k in KINDS}
    found = {
        r.kind.id: r.log_odds - bases[r.kind.id]
        for r in rank((seen("watch_load", "at its limit, the clock falls"),), {})
    }
    assert min(found[c] for c in HEAT) > 3.0 and max(found[c] for c in HEAT) == pytest.approx(
        min(found[c] for c in HEAT)
    )
