"""Any number of configurations in time order: chance is not claimed, stairs stand at one power, what is left out is
said."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.app.view.job_view import JobView
from brachium.core.figures.lists.series_ledger import series_ledger
from brachium.core.measure.spread import Spread
from brachium.core.measure.statistics import Word, adjusted_p_values, judge, ratio_of
from brachium.core.prove.series import series_of
from tests.support.some_runs import some_run

JOBS, TESTS = 100, 12


def test_unchanged_machines_stay_silent() -> None:
    rng = np.random.default_rng(12)
    spread = Spread(0.01, 12.0, 0.01, 40.0, "history")

    def results() -> tuple[np.ndarray, ...]:
        return tuple(np.exp(rng.normal(0, 0.01) + rng.normal(0, 0.01, 3)) for _ in range(2))

    loud = 0
    for _ in range(JOBS):
        found = [ratio_of(results(), results(), True, spread) for _ in range(TESTS)]
        p_values = adjusted_p_values(tuple(r.p_value for r in found if r is not None))
        words = [judge(r, p).word for r, p in zip(found, p_values, strict=True) if r is not None]
        loud += any(w in (Word.BETTER, Word.WORSE) for w in words)
    assert loud <= 0.08 * JOBS, f"{loud} of {JOBS} jobs claim a change"


def test_many_configurations_make_no_chance_difference_more_likely() -> None:
    rng = np.random.default_rng(4)
    pair_loud = series_loud = 0
    for _ in range(30):
        runs = [replace(some_run(f"r{n}", rng.normal(100, 1.2, (2, 3)).tolist()), taken_at=f"2026-11-{10 + n}")
                for n in range(7)]  # fmt: skip
        series = series_of(runs[::-1])
        assert [r.id for r in series.runs] == [f"r{n}" for n in range(7)], "in time order"
        said = [g.judgement.word for c in series.comparisons for g in c.gains]
        series_loud += any(w in (Word.BETTER, Word.WORSE) for w in said)
        alone = [series_of([runs[0], later]) for later in runs[1:]]
        pair_loud += any(g.judgement.word in (Word.BETTER, Word.WORSE) for s in alone for g in s.comparisons[0].gains)
    assert series_loud <= pair_loud and series_loud <= 3


def test_stairs_of_a_pair_are_those_of_the_comparison_and_a_third_fits_in(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.measured.after is not None and view.proof.comparison is not None
    limit = view.job.machine.processor.limit_c
    middle = replace(view.measured.after, id="middle", taken_at="2026-11-24 23:00", configuration="cleaned")
    series = series_of([view.measured.after, middle, view.measured.before], limit)
    assert series.runs[0].id == view.measured.before.id and len(series.stairs.stairs) == 3
    heat = view.proof.comparison.heat
    assert heat.stairs is not None
    scale = heat.power_ref_w / series.stairs.power_ref_w
    assert series.stairs.stairs[0].total_k_w == pytest.approx(heat.stairs[0].total_k_w, rel=0.08)
    assert series.stairs.stairs[1].chip_to_sink_k * scale == pytest.approx(heat.stairs[1].chip_to_sink_k, rel=0.15)
    drawn = series_ledger(series, 800)
    numbers = {r.id.rpartition(":")[2] for r in drawn.regions}
    assert numbers == {"0", "1"} and len(drawn.regions) == 2 * sum(
        g.result is not None for g in series.comparisons[0].gains
    )


def test_what_cannot_be_compared_is_left_out_alone(finished_view: JobView) -> None:
    view = finished_view
    assert view.measured.before is not None and view.measured.after is not None
    other = replace(view.measured.after, id="other", taken_at="2026-11-26 09:00",
                    conditions=replace(view.measured.after.conditions, power_profile="power saving"))  # fmt: skip
    series = series_of([view.measured.before, view.measured.after, other])
    left = series.left_out()
    assert left and {name for name, _, _ in left} == {other.configuration} and "power profile" in left[0][2]
    assert all(g.result is not None for g in series.comparisons[0].gains), "the pair that can be compared is"
    with pytest.raises(ValueError, match="two runs"):
        series_of([view.measured.before])
    hot = replace(view.measured.after, conditions=replace(view.measured.after.conditions, room_c=40.0))
    assert "rooms differ" in series_of([view.measured.before, hot]).stairs.refusal
