"""What repastes bring: shrunk by kind of machine, honest about its spread."""

from __future__ import annotations

import numpy as np
import pytest

from brachium.core.learn.repastes import _variances, expectation
from brachium.core.machine.kinds import MachineKind
from brachium.core.record.work.repaste import Repaste

KINDS = (MachineKind.LAPTOP, MachineKind.TOWER)


def history(
    rng: np.random.Generator, count: int, spread: float = 0.08
) -> tuple[list[Repaste], dict[MachineKind, float]]:
    """Repastes of two kinds whose means differ; in K/W."""
    means = {MachineKind.LAPTOP: 0.30 + rng.normal(0, 0.04), MachineKind.TOWER: 0.12 + rng.normal(0, 0.03)}
    out = []
    for k in range(count):
        kind = KINDS[int(rng.integers(2))]
        watts, half = float(rng.uniform(20, 60)), float(rng.uniform(0.5, 1.5))
        true = rng.normal(means[kind], spread) * watts
        out.append(Repaste(f"j{k}", kind, "", float(true + rng.normal(0, half / 1.96)), half, watts))
    return out, means


def test_the_band_holds_eight_of_ten_later_repastes() -> None:
    rng = np.random.default_rng(1)
    inside = total = 0
    for _ in range(250):
        known, means = history(rng, 24)
        kind = KINDS[int(rng.integers(2))]
        found = expectation(known, kind, 40.0)
        assert found is not None
        true = rng.normal(means[kind], 0.08) * 40.0
        inside += found.low_k <= true <= found.high_k
        total += 1
    assert 0.72 <= inside / total <= 0.90


def test_a_kind_moves_away_from_all_as_its_jobs_become_many() -> None:
    general = [Repaste(f"t{k}", MachineKind.TOWER, "", 4.0 + 0.3 * (k % 3), 0.5, 40.0) for k in range(12)]
    mids = []
    for n in (0, 1, 4, 16):
        own = [Repaste(f"l{k}", MachineKind.LAPTOP, "", 11.0 + 0.3 * (k % 3), 0.5, 40.0) for k in range(n)]
        found = expectation([*general, *own], MachineKind.LAPTOP, 40.0)
        assert found is not None and found.of_kind == n and found.in_all == 12 + n
        mids.append(found.mid_k)
    assert mids == sorted(mids) and abs(mids[0] - 4.3) < 0.2 and abs(mids[-1] - 11.3) < 0.5


def test_nothing_is_foretold_from_too_little_and_it_grows_with_the_power() -> None:
    few = [Repaste("a", MachineKind.LAPTOP, "", 8.0, 1.0, 25.0), Repaste("b", MachineKind.LAPTOP, "", 6.0, 1.0, 25.0)]
    assert expectation(few, MachineKind.LAPTOP, 25.0) is None and expectation([], MachineKind.LAPTOP, 25.0) is None
    three = [*few, Repaste("c", MachineKind.LAPTOP, "", 7.0, 1.0, 25.0)]
    one, two = (expectation(three, MachineKind.LAPTOP, w) for w in (25.0, 50.0))
    assert one is not None and two is not None and two.mid_k == 2 * one.mid_k
    assert expectation(three, MachineKind.LAPTOP, 0.0) is None


def test_the_kinds_variance_is_that_of_a_textbook() -> None:
    """One-way moments by hand: kinds at 0.1 and 0.5 K/W, three jobs each, spread small, no measuring error."""
    change = np.array([0.09, 0.10, 0.11, 0.49, 0.50, 0.51])
    groups = [np.arange(6) < 3, np.arange(6) >= 3]
    jobs, kinds = _variances(change, np.zeros(6), groups)
    among = 3 * (0.1 - 0.3) ** 2 + 3 * (0.5 - 0.3) ** 2  # one degree of freedom
    assert jobs == max(4e-4 / 4, (0.1 * 0.3) ** 2)
    assert kinds == pytest.approx((among - 1e-4) / 3.0)
