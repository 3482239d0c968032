"""What is said where a fact is missing and changes nothing: never a value that was only tried on."""

from __future__ import annotations

import pytest

from brachium.core.fit.answers import Answers, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject, settle_gap
from brachium.core.fit.range_words import range_of
from brachium.core.fit.verdict import Gap, Level, Verdict
from tests.core.fit.bench_machines import TOWER


@pytest.mark.parametrize(
    ("sentences", "whole"),
    [
        (["runs at 1066, not 1600", "runs at 1333, not 1600"], "runs at 1066 to 1333, not 1600"),
        (["100 GB in use", "1 TB in use", "300 GB in use"], "100 GB to 1 TB in use"),
        (["8 GiB of at most 16 GiB", "8 GiB of at most 64 GiB"], "8 GiB of at most 16 to 64 GiB"),
        (["gen 1 x4, 0.8 GB/s", "gen 3 x16, 15.8 GB/s"], "gen 1 to 3 x4 to 16, 0.8 to 15.8 GB/s"),
        (["a {0} b 1", "a {0} b 2"], "a {0} b 1 to 2"), (["same", "same"], "same"),
        (["fits", "fits well"], None),
    ],
)  # fmt: skip
def test_numbers_that_differ_become_a_range(sentences: list[str], whole: str | None) -> None:
    assert range_of(sentences) == whole


def _rule(levels: dict[tuple[int, int], Level]) -> Rule:
    """A rule of two missing facts that says both of them."""
    first, second = (Gap(k, f"{k} fact", (1, 2), "look", 1) for k in ("first", "second"))

    def check(ground: FitGround, subject: Subject) -> Verdict:
        a, b = ground.need(None, first), ground.need(None, second)
        return Answers("R", subject, "text", (on_part("a", a), on_part("kept", 7)))._say(
            levels[a, b], f"a {a} and b {10 * b}", f"{a}", "more")  # fmt: skip

    return Rule("R", "rule", lambda _: (), check)


def test_of_two_facts_that_change_nothing_both_are_named_in_one_range() -> None:
    same = _rule({(a, b): Level.LIMITED for a in (1, 2) for b in (1, 2)})
    verdict = settle_gap(same, FitGround(TOWER, TOWER.configuration()), Subject(()))
    assert verdict.sentence == "a 1 to 2 and b 10 to 20, by the first fact and second fact, which is not recorded"
    assert verdict.level is Level.LIMITED and verdict.because.result == "1 to 2"
    assert {f.label: f.value for f in verdict.because.facts} == {
        "kept": "7", "first fact": "not recorded", "second fact": "not recorded"}  # fmt: skip
    one = _rule({(1, 1): Level.FITS, (1, 2): Level.FITS, (2, 1): Level.REFUSED, (2, 2): Level.REFUSED})
    verdict = settle_gap(one, FitGround(TOWER, TOWER.configuration()), Subject(()))
    assert verdict.level is Level.NOT_KNOWN and verdict.gap is not None and verdict.gap.key == "first"
