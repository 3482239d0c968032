"""Levels compare by their difference, and what heat work brought is told in whole sentences."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from brachium.core.base.arrays import frozen
from brachium.core.base.why import Because
from brachium.core.heat.claims import ClaimKind, HeatClaim, HeatVerdict, limited_words, refused
from brachium.core.heat.throttle import HeldBack, ThrottleFinding
from brachium.core.heat.trace import HeatTrace
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.own_tests import KINDS, OwnResult
from brachium.core.measure.run import Run
from brachium.core.measure.statistics import Word
from brachium.core.measure.typed_runs import with_own
from brachium.core.prove.comparison import Comparison, compare_runs
from brachium.core.prove.gain_words import gain_band
from brachium.core.prove.heat_results import heat_results, sustained_words
from brachium.core.prove.verdict_words import subline

NOISE = next(k for k in KINDS if k.id == "noise")


def levels(before: list[float], after: list[float]) -> Comparison:
    sides = [OwnResult("noise", role, v) for role, values in (("before", before), ("after", after)) for v in values]
    runs = [with_own(None, role, (NOISE,), sides) for role in ("before", "after")]
    assert runs[0] is not None and runs[1] is not None
    return compare_runs(*runs)


@pytest.mark.parametrize(
    ("before", "after", "word", "says"),
    [
        ([42.0, 42.4, 41.8], [36.0, 36.3, 35.9], Word.BETTER, "6.0 dB quieter"),
        ([36.0, 36.3, 35.9], [42.0, 42.4, 41.8], Word.WORSE, "6.0 dB louder"),
        ([42.0, 42.4, 41.8], [42.1, 42.0, 42.2], Word.CANNOT_TELL, ""),
    ],
)
def test_a_level_is_louder_by_decibels_and_never_a_ratio(
    before: list[float], after: list[float], word: Word, says: str
) -> None:
    (gain,) = levels(before, after).gains
    assert gain.result is not None and gain.judgement.word in (word, Word.SAME if not says else word)
    text = gain_band(gain.test, gain.result)
    assert "×" not in text and "%" not in gain.judgement.sentence
    if says:
        assert text.startswith(says)
        low, high = (float(x) for x in text.partition("(")[2].rstrip(")").split(" to "))
        assert 3.0 < low < 6.1 < high < 9.0, "half a decibel from one reading to the next"


def finding(kind: HeldBack, sustained: float | None, share: float = 0.0) -> ThrottleFinding:
    return ThrottleFinding(kind, share, frozen(np.zeros(3)) > 0, 3300.0, sustained, 95.0, True, "")


def verdict(before: ThrottleFinding, after: ThrottleFinding, cooler_k: float | None) -> HeatVerdict:
    claim = HeatClaim(ClaimKind.CHANGED, cooler_k, 1.5, "", Because("", "", "")) if cooler_k is not None else None
    return replace(refused(""), throttles=(before, after), total=claim)


def test_heat_work_is_told_of_like_any_result() -> None:
    held, free = finding(HeldBack.THERMAL, 2760.0, 0.4), finding(HeldBack.NONE, 3312.0)
    assert heat_results(verdict(held, free, 16.4)) == (
        "Heat no longer slows it down under long load.", "Under long load it keeps 3312 MHz instead of 2760 MHz.",
        "At the same power the chip is 16 K cooler.",
    )  # fmt: skip
    assert sustained_words(verdict(held, free, None)) == "sustained clock 2760, then 3312 MHz, 20 % more"
    assert heat_results(verdict(free, held, -3.0))[0] == "Heat now slows it down under long load."
    same = verdict(free, finding(HeldBack.BOOST_OVER, 3330.0), None)
    assert heat_results(same) == () and sustained_words(same).endswith("about the same")
    blind = verdict(held, finding(HeldBack.NOT_KNOWN, None), None)
    assert heat_results(blind) == () and sustained_words(blind) == ""
    assert heat_results(refused("no sensor")) == ()


def test_what_nobody_stated_is_never_called_the_same() -> None:
    found = levels([42.0, 42.4], [36.0, 36.3])
    bare = [replace(r, conditions=Conditions(room_c=22.0)) for r in (found.before, found.after)]
    assert subline(compare_runs(*bare)).endswith("same as far as stated, 14 conditions not.")
    said = Conditions(
        room_c=22.0, boot_medium="installed system", mains=True, power_profile="balanced", power_limit="as delivered",
        boost=True, fan_mode="automatic", panel_on=True, stand="on the desk", temp_source="package",
        memory_profile="standard", graphics_driver="24.1", encryption=False, system="Linux 6.1", firmware="1.2",
    )  # fmt: skip
    both = [replace(r, conditions=said) for r in (found.before, found.after)]
    assert subline(compare_runs(*both)).endswith("same conditions.")
    one = compare_runs(both[0], replace(both[1], conditions=replace(said, fan_mode="")))
    assert subline(one).endswith("1 condition stated on one side only.")


def test_sustained_work_is_not_claimed_where_heat_held_it_back_in_another_room(runs: tuple[Run, Run]) -> None:
    """35 then 12 degC: the machine does more because of the window."""
    before, after = runs
    whole = compare_runs(before, after)
    assert whole.gain("sustained").judgement.word is Word.BETTER  # type: ignore[union-attr]
    assert whole.heat.throttles is not None and whole.heat.throttles[0].kind is HeldBack.THERMAL
    hot, cold = (replace(r, conditions=replace(r.conditions, room_c=c)) for r, c in ((before, 35.0), (after, 12.0)))
    apart = compare_runs(hot, cold, heat=whole.heat)
    gain = apart.gain("sustained")
    assert gain is not None and gain.result is None and "sustains follows the room" in gain.excluded
    assert apart.gain("start_up").result is not None, "what heat does not reach is compared"  # type: ignore[union-attr]
    near = replace(cold, conditions=replace(cold.conditions, room_c=33.0))
    assert compare_runs(hot, near, heat=whole.heat).gain("sustained").result is not None  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("watts", "mhz", "kind", "says"),
    [
        ((40.0, 24.0), (3300.0, 2600.0), HeldBack.NONE, "after it ran at 60 % of the power and 21 % less clock"),
        ((24.0, 40.0), (2600.0, 3300.0), HeldBack.NONE, "before it ran at 60 %"),
        ((24.0, 40.0), (2600.0, 3300.0), HeldBack.THERMAL, ""),  # heat took it, which is what is compared
        ((40.0, 36.0), (3300.0, 2600.0), HeldBack.NONE, ""),
        ((40.0, 24.0), (3300.0, 3200.0), HeldBack.NONE, ""),
    ],
)
def test_a_run_that_was_held_down_by_power_has_no_temperatures_beside_another(
    watts: tuple[float, float], mhz: tuple[float, float], kind: HeldBack, says: str
) -> None:
    time = np.arange(600.0)
    busy = (time >= 100) & (time < 500)
    traces = [HeatTrace(time, np.where(busy, 80.0, 40.0), np.where(busy, w, 4.0), None, None, np.where(busy, 1.0, 0.02))
              for w in watts]  # fmt: skip
    found = limited_words((traces[0], traces[1]), (finding(kind, mhz[0]), finding(kind, mhz[1])))
    assert found.startswith(says) and bool(found) is bool(says)
