"""Spread learned from history: finds what is true, weighs other machines down, keeps null comparisons quiet."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.measure.assumptions import SHOP_DF
from brachium.core.measure.history import History, learn_spread, learn_spreads
from brachium.core.measure.run import RunCheck
from brachium.core.measure.session_model import difference
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import ALPHA, Word, adjusted_p_values, ratio_of
from brachium.core.measure.workloads import STANDARD, spread_for
from brachium.core.prove.comparison import compare_runs
from tests.support.some_runs import some_run


def sessions(
    rng: np.random.Generator, count: int, between: float, within: float, repeats: int = 3
) -> list[list[float]]:
    centre = rng.normal(0.0, between, count)
    return [np.exp(4.6 + c + rng.normal(0.0, within, repeats)).tolist() for c in centre]


def test_without_history_the_default_stands_and_says_so() -> None:
    assert learn_spread("cpu_all", 1, ()) == spread_for("cpu_all")
    assert learn_spreads(()) == {}


def test_a_long_own_history_gives_the_true_spread() -> None:
    rng = np.random.default_rng(3)
    run = some_run(results=sessions(rng, 400, 0.03, 0.015))
    found = learn_spread("cpu_all", 1, (History((run,), True),))
    assert found.between == pytest.approx(0.03, rel=0.1) and found.within == pytest.approx(0.015, rel=0.1)
    assert found.between_df == 1 + 399 and found.source == "400 sessions of this machine"


def test_other_machines_count_up_to_a_weight_and_another_version_not_at_all() -> None:
    rng = np.random.default_rng(4)
    others = tuple(History((some_run(results=sessions(rng, 5, 0.05, 0.01)),), False) for _ in range(30))
    found = learn_spread("cpu_all", 1, others)
    assert found.between_df == pytest.approx(1 + SHOP_DF) and found.source == "150 sessions of the shop"
    assert 0.04 < found.between < 0.06, "pulled to what the shop shows"
    assert learn_spread("cpu_all", 2, others) == spread_for("cpu_all")


def test_one_slow_repeat_in_seven_does_not_teach_a_wilder_machine() -> None:
    rng = np.random.default_rng(8)
    calm = sessions(rng, 60, 0.01, 0.01, 5)
    slowed = [[v * (0.9 if rng.random() < 0.1 else 1.0) for v in s] for s in calm]
    plain, found = (learn_spread("cpu_all", 1, (History((some_run(results=r),), True),)) for r in (calm, slowed))
    assert found.within < 1.6 * plain.within and np.std(np.log(slowed)) > 2.5 * plain.within
    assert found.between < 1.6 * plain.between


def test_the_fewer_and_the_less_alike_the_machines_the_wider_is_what_was_learned() -> None:
    rng = np.random.default_rng(9)
    run = some_run(results=sessions(rng, 12, 0.01, 0.01))

    def width(*histories: History) -> float:
        return learn_spread("cpu_all", 1, histories).between_log_sds(True)[0]

    other, alike, own = History((run,), False), History((run,), False, True), History((run,), True)
    assert width(other) > width(other, other, other) > width(alike, alike, alike) > width(own)
    assert width(own) > width(History((run, run, run), True))


def test_configurations_are_not_scatter() -> None:
    """Before and after differ by the gain; only sessions of the same configuration teach the spread."""
    rng = np.random.default_rng(5)
    slow = some_run("a", sessions(rng, 40, 0.01, 0.01))
    fast = some_run("b", (2.0 * np.array(sessions(rng, 40, 0.01, 0.01))).tolist())
    found = learn_spread("cpu_all", 1, (History((slow,), True), History((fast,), True)))
    assert found.between == pytest.approx(0.01, rel=0.25)


def test_an_unsteady_machine_is_not_taken_for_steady_between_sessions() -> None:
    steady, wild = ([np.array([100.0, 101.0, 99.5])], [np.array([100.0, 130.0, 85.0])])
    for side, least in ((steady, 0.01), (wild, 0.04)):
        found = ratio_of(tuple(side), tuple(side), True, Spread())
        assert found is not None and found.between >= least


@pytest.mark.parametrize("between", [0.01, 0.06])
def test_null_comparisons_stay_quiet_once_the_machine_is_known(between: float) -> None:
    """One session against one, seven tests, corrected: pairs of an unchanged machine, steady or not."""
    rng = np.random.default_rng(6)
    history = History(tuple(some_run(f"h{k}", sessions(rng, 1, between, 0.02)) for k in range(10)), True)
    spread = learn_spread("cpu_all", 1, (history,))
    logs = np.log([sessions(rng, 2, between, 0.02) for _ in range(150 * 7)])
    pages = difference(logs, np.array([False, True]), spread).two_sided().reshape(150, 7)
    claims = np.array([adjusted_p_values(tuple(page)) for page in pages]) < ALPHA
    assert claims.mean() <= 0.02 and (claims.sum(1) > 1).sum() <= 2


def test_the_comparison_uses_what_was_learned_and_says_from_where() -> None:
    before, after = some_run("a", [[100.0, 101.0, 99.0]]), some_run("b", [[104.0, 105.0, 104.5]])
    plain = compare_runs(before, after).gains[0]
    noisy = {"cpu_all": Spread(0.08, 30.0, 0.01, 60.0, "31 sessions of this machine")}
    learned = compare_runs(before, after, None, noisy).gains[0]
    assert plain.result is not None and learned.result is not None
    assert learned.result.high / learned.result.low > 1.3 * plain.result.high / plain.result.low
    assert ("learned from", "31 sessions of this machine") in [(f.label, f.value) for f in learned.because.facts]


def test_another_protocol_or_machine_is_said() -> None:
    before, after = some_run("a"), replace(some_run("b"), protocol=STANDARD)
    gain = compare_runs(before, after).gains[0]
    assert gain.result is None and "protocol differs: Quick 3, then Standard 3" in gain.excluded
    other = compare_runs(before, some_run("c", machine="Kestrion M6-45, 8 threads, 7.6 GiB"))
    assert [d.name for d in other.differences] == ["machine"] and other.gains[0].result is not None
    grown = compare_runs(before, some_run("d", machine="Kestrion M4-35, 4 threads, 15.5 GiB"))
    assert grown.differences == (), "more memory is what upgrades are for"


def test_a_shared_processor_is_not_taken_for_steady_until_its_history_says_so() -> None:
    shared = (RunCheck("host", "Processor shared with other machines", False, "the host took 9 % away"),)
    before, after = some_run("a", [[100.0, 101.0, 99.0]]), some_run("b", [[117.0, 118.0, 116.5]])
    plain = compare_runs(before, after).gains[0]
    careful = compare_runs(before, replace(after, checks=shared)).gains[0]
    assert plain.judgement.word is Word.BETTER and careful.judgement.word is Word.CANNOT_TELL
    assert careful.result is not None and careful.result.source == "stated default for a shared processor"
    known = {"cpu_all": Spread(0.01, 20.0, 0.01, 60.0, "20 sessions of this machine")}
    learned = compare_runs(before, replace(after, checks=shared), None, known).gains[0]
    assert learned.judgement.word is Word.BETTER, "what the machine's own sessions showed outranks the assumption"


def test_a_test_without_a_valid_repeat_says_why() -> None:
    before, after = some_run("a"), some_run("b")
    bad = tuple(replace(s, repeats=tuple(replace(r, valid=False, reason="background load: drive") for r in s.repeats))
                for s in after.sessions)  # fmt: skip
    assert compare_runs(before, replace(after, sessions=bad)).gains[0].excluded == (
        "no valid repeat after, background load: drive")  # fmt: skip
    failed = tuple(replace(s, repeats=()) for s in after.sessions)
    wrong = (RunCheck("cpu_all", "All threads, short", False, "3 wrong checksums"),)
    text = compare_runs(before, replace(after, sessions=failed, checks=wrong)).gains[0].excluded
    assert text == "it failed after: 3 wrong checksums"
    assert compare_runs(before, replace(after, sessions=failed)).gains[0].excluded == "not measured after"
