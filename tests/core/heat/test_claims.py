"""What may be claimed and what must be refused, on the sample logs and on doctored traces."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from brachium.core.heat.claims import ClaimKind, HeatVerdict, compare, read_one
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import HeldBack
from brachium.core.heat.trace import HeatTrace, find_load, usable_mask
from brachium.formats.log_run import run_from_log
from brachium.formats.sensor_log import read_sensor_log
from tests.support.fleet import FleetPair, make_pair

ROOMS = {"small-desktop-unchanged-before": 25.0, "small-desktop-unchanged-after": 25.5}


def sample(data: Path, name: str) -> HeatTrace:
    log = read_sensor_log(data / f"{name}.csv")
    return heat_traces(run_from_log(log, name, name, "", ROOMS.get(name)))[0]


def verdict(data: Path, pair: str) -> HeatVerdict:
    return compare((sample(data, f"{pair}-before"),), (sample(data, f"{pair}-after"),))


@pytest.fixture(scope="module")
def pair() -> FleetPair:
    """A laptop whose paste and fins both changed."""
    return next(p for p in map(make_pair, range(0, 60, 3)) if p.changed == 3)


@pytest.mark.parametrize("name", ["laptop-repaste", "tower-cleaned", "small-desktop-unchanged"])
def test_sample_logs_give_the_truth_within_their_intervals(
    data: Path, truth: dict[str, dict[str, float]], name: str
) -> None:
    found, true = verdict(data, name), truth[name]
    scale = true["reference_power_w"] / found.power_ref_w
    for claim, key in ((found.paste, "paste_change_k"), (found.airflow, "airflow_change_k_equal_fan")):
        assert claim is not None
        assert abs(claim.value_k * scale - true[key]) <= claim.half_width_k
        assert (claim.kind is ClaimKind.CHANGED) == (true[key] > 0)


def test_throttling_of_the_sample_logs(data: Path, truth: dict[str, dict[str, float]]) -> None:
    found = verdict(data, "laptop-repaste").throttles
    assert found is not None
    assert (found[0].kind, found[1].kind) == (HeldBack.THERMAL, HeldBack.NONE)
    assert found[0].share == pytest.approx(truth["laptop-repaste"]["throttled_share_before"], abs=0.04)
    for name in ("tower-cleaned", "small-desktop-unchanged"):
        calm = verdict(data, name).throttles
        assert calm is not None and {t.kind for t in calm} == {HeldBack.NONE}


def test_short_load_refuses_airflow_but_states_paste(data: Path, truth: dict[str, dict[str, float]]) -> None:
    found = verdict(data, "small-desktop-short-load")
    assert found.airflow is not None and found.total is not None and found.paste is not None
    assert found.airflow.kind is found.total.kind is ClaimKind.CANNOT_SEPARATE
    assert np.isnan(found.airflow.value_k) and "60 s" in found.airflow.text
    assert found.paste.value_k == pytest.approx(truth["small-desktop-short-load"]["paste_change_k"], abs=1.5)


def test_the_same_run_twice_shows_no_change(pair: FleetPair) -> None:
    found = compare((pair.after,), (pair.after,))
    for claim in (found.paste, found.airflow, found.total):
        assert claim is not None and claim.kind is ClaimKind.NO_CHANGE
        assert abs(claim.value_k) < 0.05
        assert claim.detectable_k == pytest.approx(1.5 * claim.half_width_k)


def test_swapping_before_and_after_turns_the_sign(pair: FleetPair) -> None:
    there, back = compare((pair.before,), (pair.after,)), compare((pair.after,), (pair.before,))
    for a, b in ((there.paste, back.paste), (there.airflow, back.airflow)):
        assert a is not None and b is not None
        assert a.value_k == pytest.approx(-b.value_k, abs=0.02)


def test_more_sessions_narrow_only_the_statistical_part(pair: FleetPair) -> None:
    one = compare((pair.before,), (pair.after,))
    two = compare((pair.before, pair.before), (pair.after, pair.after))
    assert one.paste is not None and two.paste is not None
    assert 0.6 * one.paste.half_width_k < two.paste.half_width_k <= one.paste.half_width_k


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: replace(t, room_c=None), "room temperature is not known"),
        (lambda t: replace(t, room_c=(t.room_c or 0) + 12), "rooms differ by"),
        (lambda t: replace(t, power_w=None, util_frac=None), "no load phase"),
        (lambda t: replace(t, temp_c=np.full(t.time_s.size, np.nan)), "usable temperature samples"),
    ],
)
def test_refusals_of_the_whole(pair: FleetPair, change: object, words: str) -> None:
    assert callable(change)
    found = compare((pair.before,), (change(pair.after),))
    assert words in found.refusal and found.paste is None and found.stairs is None


def test_without_power_no_kelvin_is_given(pair: FleetPair) -> None:
    found = compare((replace(pair.before, power_w=None),), (replace(pair.after, power_w=None),))
    assert found.paste is not None and found.paste.kind is ClaimKind.CANNOT_SEPARATE
    assert "power was not logged" in found.paste.text
    alone = read_one(replace(pair.before, power_w=None))
    assert alone.stair is None and "power was not logged" in alone.refusal


def test_without_fan_speed_the_airflow_interval_doubles(pair: FleetPair) -> None:
    full = compare((pair.before,), (pair.after,))
    blind = compare((replace(pair.before, fan_rpm=None),), (replace(pair.after, fan_rpm=None),))
    assert full.airflow is not None and blind.airflow is not None
    assert blind.airflow.half_width_k > 1.6 * full.airflow.half_width_k
    assert any("stands in" in w for w in blind.warnings)


def test_a_fan_that_stops_late_in_the_load_refuses_the_airflow(pair: FleetPair) -> None:
    assert pair.after.fan_rpm is not None
    fan = pair.after.fan_rpm.copy()
    fan[700:] = 0.0
    found = compare((pair.before,), (replace(pair.after, fan_rpm=fan),))
    assert found.airflow is not None and found.airflow.kind is ClaimKind.CANNOT_SEPARATE
    assert "fan stood still" in found.airflow.text


def test_different_rooms_are_warned_of_and_change_little(pair: FleetPair) -> None:
    warm = replace(pair.after, room_c=(pair.after.room_c or 0) + 7, temp_c=pair.after.temp_c + 7)
    plain, shifted = compare((pair.before,), (pair.after,)), compare((pair.before,), (warm,))
    assert plain.total is not None and shifted.total is not None
    assert shifted.total.value_k == pytest.approx(plain.total.value_k, abs=0.1)
    assert any("only rises are compared" in w for w in shifted.warnings)


def test_stuck_sensor_is_masked_only_while_power_changes(pair: FleetPair) -> None:
    temp = pair.before.temp_c.copy()
    temp[170:225] = temp[170]
    stuck = replace(pair.before, temp_c=temp)
    load = find_load(stuck)
    assert load is not None
    mask, notes = usable_mask(stuck, load)
    assert not mask[180:220].any() and any("stuck" in n for n in notes)
    calm = pair.before.temp_c.copy()
    calm[20:90] = calm[20]
    honest, _ = usable_mask(replace(pair.before, temp_c=calm), load)
    assert honest[20:90].all()


def test_a_gap_masks_what_follows_it(pair: FleetPair) -> None:
    keep = np.ones(pair.before.time_s.size, dtype=bool)
    keep[400:412] = False
    cut = replace(
        pair.before,
        **{
            k: getattr(pair.before, k)[keep]
            for k in ("time_s", "temp_c", "power_w", "clock_mhz", "fan_rpm", "util_frac")
        },
    )
    load = find_load(cut)
    assert load is not None and load.duration_s == pytest.approx(600, abs=3)
    mask, notes = usable_mask(cut, load)
    assert not mask[400:403].any() and mask[405] and any("gap" in n for n in notes)


def test_repaste_that_ends_a_throttle_is_seen_though_the_peak_hardly_moves(pair: FleetPair) -> None:
    from tests.support.fleet import Cooling, FanCurve, Silicon, Thermals, record

    chip = Silicon(max_mhz=3300, dynamic_w=40, limit_c=88, idle_w=3)
    dried, fresh = Cooling(paste_k_w=1.0, fins_k_w=0.95), Cooling(paste_k_w=0.72, fins_k_w=0.95)
    rng = np.random.default_rng(5)
    logs = [record(Thermals(chip, c, FanCurve(), 23.0), rng) for c in (dried, fresh)]
    found = compare((logs[0],), (logs[1],))
    assert found.peaks_c is not None and abs(found.peaks_c[0] - found.peaks_c[1]) < 4.0
    assert found.paste is not None and found.paste.kind is ClaimKind.CHANGED
    assert found.paste.value_k == pytest.approx(0.28 * found.power_ref_w, abs=found.paste.half_width_k)
