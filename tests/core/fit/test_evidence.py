"""Evidence adds up with its caps; preconditions are ordered, circles found; acceptance never lifts a refusal."""

from __future__ import annotations

from dataclasses import replace
from math import exp

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.why import Because
from brachium.core.fit.acceptance import acceptable, still_open
from brachium.core.fit.evidence import log_odds, probability
from brachium.core.fit.preconditions import circle_verdict, precondition_chain
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.record.acceptance import Acceptance
from brachium.core.record.evidence import Source, SourceKind

K = SourceKind


@pytest.mark.parametrize(
    ("sources", "total"),
    [
        ((), -1.0),
        ((Source(K.MAKER),), 2.0),
        ((Source(K.MAKER), Source(K.OWN_JOB, note="a"), Source(K.OWN_JOB, note="b")), 8.0),
        (tuple(Source(K.SAME_FIRMWARE, note=str(n)) for n in range(9)), -1.0 + 1.5 * 1.5),
        (tuple(Source(K.DATABASE, works=False, note=str(n)) for n in range(9)), -1.0 - 0.75),
        ((Source(K.SAME_MODEL, note="x"), Source(K.SAME_MODEL, note="y", copy_of="x")), 0.0),
        ((Source(K.SAME_MODEL, note="x"), Source(K.SAME_MODEL, works=False, note="z")), -1.0),
        ((Source(K.SAME_SOCKET),), -0.8),
    ],
)
def test_log_odds_by_hand(sources: tuple[Source, ...], total: float) -> None:
    assert log_odds(sources) == pytest.approx(total)
    assert probability(sources) == pytest.approx(1.0 / (1.0 + exp(-total)))


@given(st.lists(st.builds(Source, st.sampled_from(K), st.booleans(), note=st.text("abc", min_size=1)), max_size=8))
def test_one_more_report_that_it_works_never_lowers_the_sum(sources: list[Source]) -> None:
    more = (*sources, Source(K.SAME_FIRMWARE, True, note="fresh"))
    assert log_odds(more) >= log_odds(tuple(sources)) - 1e-12
    assert log_odds(tuple(sources[::-1])) == pytest.approx(log_odds(tuple(sources)))


def needs(what: str, *after: str) -> Verdict:
    return Verdict("X", Level.NEEDS_FIRST, ("p",), what, Because(what), what, after=after)


def test_preconditions_come_in_their_order_and_a_circle_is_impossible() -> None:
    firmware, cell = needs("firmware 2.0", "new CMOS battery"), needs("processor", "firmware 2.0")
    assert precondition_chain((cell, firmware)).order == ("new CMOS battery", "firmware 2.0", "processor")
    turning = precondition_chain((firmware, needs("new CMOS battery", "processor"), cell))
    assert turning.order == () and set(turning.circle) == {"firmware 2.0", "new CMOS battery", "processor"}
    verdict = circle_verdict(turning.circle)
    assert verdict.level is Level.REFUSED and "waits for" in verdict.sentence and not acceptable(verdict)


def test_only_what_was_said_is_accepted() -> None:
    hot = Verdict("CPU-POWER", Level.LIMITED, ("socket",), "105 W on a board for 65 W", Because("x"))
    slow = replace(hot, rule="STO-LINK")
    refused, unknown = replace(hot, level=Level.REFUSED), replace(hot, rule="MEM-OS", level=Level.NOT_KNOWN)
    assert still_open((hot, slow, refused, unknown), ()) == (hot, unknown)
    given_ = (Acceptance(hot.rule, hot.places, hot.sentence, "the owner knows", "now"),)
    assert still_open((hot, unknown), given_) == (unknown,)
    assert still_open((replace(hot, sentence="140 W on a board for 65 W"),), given_), "another sentence, another risk"
