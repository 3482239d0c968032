"""What other machines of the same hardware give: a predictive band for the next one, or "no reference"."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.base.units import number
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.own_tests import KINDS, PREFIX, kind_of_test
from brachium.core.measure.run import Run, TestSpec

LEAST_MACHINES = 4
TYPED_KINDS = ("start", "noise", "chipidle", "chipload", "clock")  # that the machine decides, not its owner's work
COLUMNS = ("hardware", "test", "value")


@dataclass(frozen=True)
class ReferenceBand:
    """Where a further machine's result lies 19 times in 20; `machines` is how many it was learned from."""

    low: float
    middle: float
    high: float
    machines: int

    def words(self, value: float, test: TestSpec) -> str:
        """A sentence where the value lies outside, empty where it lies within."""
        if self.low <= value <= self.high:
            return ""
        worse = value < self.low if test.higher_is_better else value > self.high
        band = phrase("{low} to {high} {test}", low=number(self.low), high=number(self.high), test=test.unit)
        side = "worse" if worse else "better"
        return phrase(
            "{test}: {value} {test2} is {side} than {machines} machines like it give, {band}",
            test=test.title,
            value=number(value),
            test2=test.unit,
            side=side,
            machines=self.machines,
            band=band,
        )


def hardware_key(text: str) -> str:
    """A processor's name as a key: letters and digits only."""
    return "".join(c for c in text.lower() if c.isalnum())


def band_key(test: TestSpec) -> str:
    """Under what a test's results are gathered from many machines: its key, of a typed figure its kind (`own:clock`).

    Empty for typed figures that hang on the owner's work, or whose unit or settings are not the usual ones.
    """
    if not test.key.startswith(PREFIX):
        return test.key
    kind = kind_of_test(test.key.removeprefix(PREFIX))
    usual = next((k.spec() for k in KINDS if k.id == kind and kind in TYPED_KINDS), None)
    same = usual is not None and (usual.unit, usual.about) == (test.unit, test.about)
    return phrase("{prefix}{kind}", prefix=PREFIX, kind=kind) if same else ""


def band_of(values: Sequence[float]) -> ReferenceBand | None:
    """Predictive t limits on the logarithms of one value per machine; None with fewer than four machines.

    mean +- t(0.975, n-1) s sqrt(1 + 1/n). Source: Hahn and Meeker (1991), Statistical Intervals, 4.7.
    """
    from scipy.special import stdtrit

    good = np.array([v for v in values if v > 0 and np.isfinite(v)])
    if good.size < LEAST_MACHINES:
        return None
    logs = np.log(good)
    reach = float(stdtrit(good.size - 1, 0.975)) * float(logs.std(ddof=1)) * float(np.sqrt(1 + 1 / good.size))
    middle = float(logs.mean())
    return ReferenceBand(float(np.exp(middle - reach)), float(np.exp(middle)), float(np.exp(middle + reach)), good.size)


def reference_bands(
    runs: Mapping[str, Sequence[Run]], table: Mapping[str, Sequence[float]], own: Conditions | None = None
) -> Mapping[str, ReferenceBand]:
    """Bands by test. `runs` holds the runs of every other machine by its id, `table` further values by test.

    Runs in another power state than `own` (mains, profile, limits, boost, where both state it) are left out.
    """
    if own is not None:
        runs = {k: [r for r in v if _same_power(r.conditions, own)] for k, v in runs.items()}
    values: dict[str, list[float]] = {k: list(v) for k, v in table.items()}
    for machine in runs.values():
        for run in machine[:1]:  # one run a machine: several of one machine are no several machines
            for test in run.tests:
                found, key = run.results(test.key), band_key(test)
                if found and key:
                    values.setdefault(key, []).append(float(np.median(np.concatenate(found))))
    bands = {key: band_of(v) for key, v in values.items()}
    return {k: b for k, b in bands.items() if b is not None}


def _same_power(one: Conditions, other: Conditions) -> bool:
    """Nothing that both state of their power differs."""
    states = [(c.mains, c.power_profile, c.power_limit, c.boost) for c in (one, other)]
    return all(a == b or a in (None, "") or b in (None, "") for a, b in zip(*states, strict=True))


def outside_reference(run: Run, bands: Mapping[str, ReferenceBand]) -> Mapping[str, str]:
    """A sentence for every test whose result lies outside its band, by the test's key."""
    out = {}
    for test in run.tests:
        found, key = run.results(test.key), band_key(test)
        if found and key in bands:
            out[test.key] = bands[key].words(float(np.median(np.concatenate(found))), test)
    return {key: words for key, words in out.items() if words}


def within_reference(run: Run, bands: Mapping[str, ReferenceBand]) -> Mapping[str, bool]:
    """By every test that has a band: whether its result is at least as good as the band's worse end."""
    out = {}
    for test in run.tests:
        found, key = run.results(test.key), band_key(test)
        if found and key in bands:
            value, band = float(np.median(np.concatenate(found))), bands[key]
            out[test.key] = value >= band.low if test.higher_is_better else value <= band.high
    return out
