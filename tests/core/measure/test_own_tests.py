"""The owner's own tests beside a run, and the permutation value against an independent implementation."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from brachium.core.measure.own_tests import BETWEEN, How, OwnResult, OwnTest, redefined_test
from brachium.core.measure.permutation import permutation
from brachium.core.measure.run import Run
from brachium.core.measure.statistics import Word
from brachium.core.measure.typed_runs import between_with_own, is_typed, with_own
from brachium.core.prove.comparison import compare_runs

EXPORT = OwnTest("task-1", "exports the magazine", "s", False, "1080 lines, preset 3")


def _results(role: str, *values: float, session: int = 1) -> list[OwnResult]:
    return [OwnResult("task-1", role, v, How.TIMED, session, "2026-11-25 10:00") for v in values]


def test_results_stand_beside_a_run_that_stays_as_it_is(runs: tuple[Run, Run]) -> None:
    before = runs[0]
    results = [*_results("before", 91, 92, 90.5), *_results("before", 91.4, 90.9, session=2),
               *_results("after", 60, 61, 60.4), *_results("after", 60.2, 59.9, session=2)]  # fmt: skip
    merged = [with_own(r, role, (EXPORT,), results) for r, role in zip(runs, ("before", "after"), strict=True)]
    assert merged[0] is not None and merged[1] is not None and before.test(EXPORT.key) is None
    assert [r.tolist() for r in merged[0].results(EXPORT.key)] == [[91, 92, 90.5], [91.4, 90.9]]
    gain = compare_runs(merged[0], merged[1]).gain(EXPORT.key)
    assert gain is not None and gain.result is not None and gain.judgement.word is Word.BETTER
    assert gain.result.ratio == pytest.approx(91.15 / 60.3, rel=0.01), "less time is better"
    assert with_own(before, "before", (EXPORT,), []) is before


def test_without_a_run_the_results_make_one_of_their_own() -> None:
    run = with_own(None, "before", (EXPORT,), _results("before", 91, 92))
    assert run is not None and run.origin == "typed by hand" and run.results(EXPORT.key)[0].size == 2
    assert with_own(None, "before", (EXPORT,), _results("after", 91)) is None


def test_typed_results_make_any_number_of_named_configurations(runs: tuple[Run, Run]) -> None:
    """Measured ones keep their order and get the results typed for their name; typed ones lie before later ones."""
    first = replace(runs[0], configuration="fan curve", taken_at="2026-11-24 09:00")
    last = replace(runs[1], configuration="new paste", taken_at="2026-11-26 09:00")

    def typed(name: str, when: str, value: float) -> OwnResult:
        return OwnResult("task-1", BETWEEN, value, configuration=name, when=when)

    results = [typed("cleaned", "2026-11-25 10:00", 80), typed("new paste", "2026-11-27 10:00", 70),
               typed("last", "2026-11-28 10:00", 60), *_results("before", 91)]  # fmt: skip
    found = between_with_own((first, last), (EXPORT,), results)
    assert [r.configuration for r in found] == ["fan curve", "cleaned", "new paste", "last"]
    assert [is_typed(r) for r in found] == [False, True, False, True] and len({r.id for r in found}) == 4
    assert [float(r.results(EXPORT.key)[0][0]) for r in found[1:]] == [80, 70, 60]
    assert not found[0].results(EXPORT.key) and found[0].tests == first.tests


def test_own_tests_are_of_the_same_length_under_any_protocol(runs: tuple[Run, Run]) -> None:
    """A typed before against a measured after: the owner's task is compared, the tests of the bench are not."""
    typed = with_own(None, "before", (EXPORT,), _results("before", 91, 92, 90.5))
    other = replace(runs[0], protocol=replace(runs[0].protocol, test_s=5.0))
    after = with_own(runs[1], "after", (EXPORT,), _results("after", 60, 61, 60.4))
    assert typed is not None and after is not None
    gain = compare_runs(typed, after).gain(EXPORT.key)
    assert gain is not None and gain.result is not None and gain.judgement.word is Word.BETTER
    both = with_own(other, "before", (EXPORT,), _results("before", 91, 92, 90.5))
    assert both is not None
    mixed = compare_runs(both, after)
    own, bench = mixed.gain(EXPORT.key), mixed.gain("cpu_all")
    assert own is not None and own.result is not None and bench is not None and bench.excluded.startswith("protocol")


def test_invalid_and_stale_results_keep_their_value_and_do_not_count() -> None:
    changed = redefined_test(EXPORT, settings="2160 lines, preset 3")
    assert changed.version == 2 and redefined_test(EXPORT, title="other name").version == 1
    back = redefined_test(changed, settings=EXPORT.settings)
    assert back.version == 1, "a typo corrected back keeps its results"
    assert redefined_test(back, settings="720 lines").version == 3, "and no version means two things"
    assert (
        redefined_test(redefined_test(back, unit="min"), unit=back.unit, settings="2160 lines, preset 3").version == 2
    )
    results = [*_results("before", 91), replace(_results("before", 55)[0], version=2),
               replace(_results("before", 300)[0], version=2, invalid="update ran")]  # fmt: skip
    run = with_own(None, "before", (changed,), results)
    assert run is not None and [r.tolist() for r in run.results(changed.key)] == [[55.0]]
    reasons = [r.reason for r in run.sessions[0].repeats]
    assert reasons == ["taken under other settings of the test", "", "update ran"]


@pytest.mark.parametrize(("n", "m", "shift"), [(3, 3, 0.5), (5, 5, 0.2), (5, 5, 0.0), (4, 6, 0.1), (2, 7, 0.3)])
def test_the_permutation_value_is_exact(n: int, m: int, shift: float) -> None:
    rng = np.random.default_rng(n + m)
    a, b = np.exp(rng.normal(3, 0.1, n)), np.exp(rng.normal(3 + shift, 0.1, m))
    ours = permutation(a, b)
    theirs = stats.permutation_test(
        (np.log(a), np.log(b)), lambda x, y, axis: np.abs(x.mean(axis) - y.mean(axis)), vectorized=True,
        alternative="greater", n_resamples=np.inf,
    )  # fmt: skip
    assert ours is not None and ours.p_value == pytest.approx(theirs.pvalue, abs=1e-9)


def test_small_groups_say_what_they_cannot_reach() -> None:
    apart = permutation(np.array([1.0, 1.1, 1.2]), np.array([9.0, 9.1, 9.2]))
    assert apart is not None and apart.p_value == pytest.approx(0.1) and "cannot go below 0.10" in apart.words
    five = permutation(np.arange(1.0, 6), np.arange(11.0, 16))
    assert five is not None and five.p_value == pytest.approx(2 / 252) and "cannot" not in five.words
    assert permutation(np.ones(20), np.ones(20)) is None and permutation(np.array([0.0]), np.array([1.0])) is None
