"""The fan's work is told apart from the paste's: known machines whose fan curve alone, or paste alone, was changed."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.heat.claims import ClaimKind, HeatVerdict, compare
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals, steady_rises_k
from tests.support.fleet import record

COOLING = Cooling(
    paste_k_w=0.4, pipe_k_w=0.12, fins_k_w=0.75, fan_exponent=0.7, fan_ref_rpm=4000.0, fins_to_chassis_k_w=4.0,
    chassis_to_room_k_w=1.5, intake_share=0.08, die_j_k=8.0, plate_j_k=50.0, fins_j_k=150.0, chassis_j_k=1200.0,
    pipe_flux_w=4.0, hidden_frac=0.02, hidden_load_w=0.5,
)  # fmt: skip
SILICON = Silicon(dynamic_w=38.0, leakage_w=1.5, limit_c=99.0, power_limit_w=999.0, idle_w=3.0)
QUIET, LOUD = FanCurve(42.0, 92.0, 1700.0, 4200.0, 6.0), FanCurve(42.0, 82.0, 2900.0, 6000.0, 6.0)


def verdict(after: Cooling, curve: FanCurve) -> HeatVerdict:
    rng = np.random.default_rng(3)
    first = record(Thermals(SILICON, COOLING, QUIET, 22.0, 0.0, 1.0), rng)
    second = record(Thermals(SILICON, after, curve, 22.5, 0.0, 1.0), rng)
    return compare((first,), (second,))


def test_a_louder_curve_is_the_fans_work_in_kelvin() -> None:
    found = verdict(COOLING, LOUD)
    assert found.paste is not None and found.paste.kind is ClaimKind.NO_CHANGE
    fan = found.fan
    assert fan is not None and fan.after_rpm > 1.2 * fan.before_rpm and fan.same_c is not None
    true = sum(steady_rises_k(COOLING, found.power_ref_w, fan.before_rpm)) - sum(
        steady_rises_k(COOLING, found.power_ref_w, fan.after_rpm)
    )
    assert true > 3.0 and abs(fan.cooler_k - true) <= fan.half_width_k < true
    assert "cooler are the fan's work, not the paste's" in fan.words and "its curve was changed, at" in fan.words


def test_a_new_paste_under_the_same_curve_changes_no_curve() -> None:
    found = verdict(replace(COOLING, paste_k_w=0.2), QUIET)
    assert found.paste is not None and found.paste.kind is ClaimKind.CHANGED
    assert found.fan is None or found.fan.same_c is None


@pytest.mark.parametrize("curve", [QUIET, LOUD])
def test_without_a_fan_column_nothing_is_said_of_it(curve: FanCurve) -> None:
    rng = np.random.default_rng(4)
    runs = [replace(record(Thermals(SILICON, COOLING, c, 22.0, 0.0, 1.0), rng), fan_rpm=None) for c in (QUIET, curve)]
    assert compare((runs[0],), (runs[1],)).fan is None
