"""Runs from files compared: run files of either form and sensor logs, two or more, with what a history taught."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from brachium.app.files.import_logs import log_to_run, read_log
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import phrase
from brachium.core.heat.claims import HeatClaim
from brachium.core.heat.fan_work import FanWork
from brachium.core.heat.throttle import ThrottleFinding
from brachium.core.measure.history import History, learn_spreads
from brachium.core.measure.run import Run
from brachium.core.measure.run_checks import run_flags
from brachium.core.measure.spread import Spread
from brachium.core.prove.comparison import Comparison, Gain, compare_runs
from brachium.core.prove.gain_words import is_level, level_db, level_unit
from brachium.core.prove.offered_causes import offered_causes
from brachium.core.prove.series import ConfigurationSeries, series_of
from brachium.core.prove.verdict_words import headline, subline
from brachium.formats.run_file import is_run_file, read_run_file

COMPARISON_FORMAT, COMPARISON_VERSION = "brachium-comparison", 1


@dataclass(frozen=True)
class LoadedRun:
    """A run with where it came from and what of it was damaged."""

    path: Path
    run: Run
    damaged: tuple[str, ...] = ()


def load_run(path: Path, role: str, units: Mapping[str, str], room_c: float | None) -> LoadedRun:
    """A run file, a run in progress, or a sensor log. Raises ExpectedProblem or EnvironmentProblem."""
    if is_run_file(path):
        read = read_run_file(path)
        if not read.run.sessions:
            raise ExpectedProblem("the run was cut off before anything was sampled", str(path), "Measure again.")
        return LoadedRun(path, read.run, read.damaged)
    if path.suffix.lower() == ".json":
        read_run_file(path)  # says what is wrong with it
    return LoadedRun(path, log_to_run(read_log(path, role, units), role, room_c))


def load_history(paths: Sequence[Path]) -> tuple[Run, ...]:
    """Earlier runs: run files, and folders of them. Raises where a named file cannot be read."""
    out = []
    for path in paths:
        files = sorted(p for p in path.glob("*.json") if is_run_file(p)) if path.is_dir() else [path]
        out += [read_run_file(p).run for p in files]
    return tuple(r for r in out if r.complete and not r.void_reason)


def spreads_from(history: Sequence[Run], compared: Sequence[Run]) -> Mapping[str, Spread]:
    """What earlier runs teach about the compared ones: the same machine's own count in full."""
    machine = compared[0].machine
    busy = {r.id for r in compared}
    groups: dict[tuple[str, str], list[Run]] = {}
    for run in history:
        if run.id not in busy:
            groups.setdefault((run.machine, run.configuration), []).append(run)
    processor = machine.partition(",")[0]
    found = [
        History(tuple(runs), bool(machine) and name == machine, bool(processor) and name.startswith(f"{processor},"))
        for (name, _), runs in groups.items()
    ]
    return learn_spreads(found)


def compare_all(runs: Sequence[Run], history: Sequence[Run] = ()) -> tuple[Comparison, ...]:
    """Every later run against the first one, each pair by itself. Raises ExpectedProblem where they are of different
    machines."""
    first = _of_one_machine(runs)
    spreads = spreads_from(history, runs)
    return tuple(compare_runs(first, later, None, spreads) for later in runs[1:])


def series_all(
    runs: Sequence[Run], history: Sequence[Run] = (), limit_c: float | None = None, arrived: bool = False
) -> ConfigurationSeries:
    """All runs in time order, or as they arrived, against the first, corrected over all.

    Raises ExpectedProblem for different machines.
    """
    _of_one_machine(runs)
    return series_of(runs, limit_c, spreads_from(history, runs), arrived, True)


def _of_one_machine(runs: Sequence[Run]) -> Run:
    first = runs[0]
    for later in runs[1:]:
        if first.machine and later.machine and first.machine.split(",")[0] != later.machine.split(",")[0]:
            raise ExpectedProblem(
                phrase(
                    "these runs are of different machines: {machine}; {machine2}",
                    machine=first.machine,
                    machine2=later.machine,
                ),
                later.id,
                "Compare runs of one machine.",
            )
    return first


def comparison_plain(comparisons: Sequence[Comparison]) -> dict[str, object]:
    """The comparisons as JSON-ready values; the format is in docs/formats/comparison.md."""
    return {
        "format": COMPARISON_FORMAT, "version": COMPARISON_VERSION, "first": _run_plain(comparisons[0].before),
        "later": [_one_plain(c) for c in comparisons],
    }  # fmt: skip


def _run_plain(run: Run) -> dict[str, object]:
    return {"id": run.id, "configuration": run.configuration, "taken_at": run.taken_at, "protocol": run.protocol.name,
            "sessions": len(run.sessions), "machine": run.machine, "room_c": run.conditions.room_c}  # fmt: skip


def _one_plain(comparison: Comparison) -> dict[str, object]:
    heat = comparison.heat
    return {
        "run": _run_plain(comparison.after), "headline": headline(comparison), "subline": subline(comparison),
        "tests": [
            {"key": g.test.key, "title": g.test.title, "unit": g.test.unit, "before": _finite(g.before),
             "after": _finite(g.after), "ratio": g.result.ratio if g.result and not is_level(g.test) else None,
             "difference_db": _difference(g, "dB"), "difference_k": _difference(g, "K"),
             "low": g.result.low if g.result else None, "high": g.result.high if g.result else None,
             "p": g.result.p_value if g.result else None, "word": g.judgement.word.value,
             "sentence": g.judgement.sentence, "excluded": g.excluded, "hangs_on": list(g.hangs_on)}
            for g in comparison.gains
        ],
        "heat": {"refusal": heat.refusal, "power_w": _finite(heat.power_ref_w), "fan_rpm": _finite(heat.fan_ref_rpm),
                 "paste": _claim_plain(heat.paste), "airflow": _claim_plain(heat.airflow),
                 "total": _claim_plain(heat.total), "warnings": list(heat.warnings),
                 "held_back": [t.share for t in heat.throttles] if heat.throttles else None,
                 "throttling": [_throttle_plain(t) for t in heat.throttles] if heat.throttles else None},
        "offered_causes": list(offered_causes(comparison)), "fan": _fan_plain(heat.fan),
        "flags": [*_flags_plain("before", comparison.before), *_flags_plain("after", comparison.after)],
        "differs": [{"name": d.name, "before": d.before, "after": d.after, "excludes": list(d.excludes),
                     "one_sided": d.one_sided, "text": d.text} for d in comparison.differences],
    }  # fmt: skip


def _difference(gain: Gain, unit: str) -> float | None:
    """By how much a level [dB] or a temperature [K] is better; None of other tests."""
    if gain.result is None or not is_level(gain.test) or level_unit(gain.test) != unit:
        return None
    return level_db(gain.result.ratio)


def _flags_plain(side: str, run: Run) -> list[dict[str, str]]:
    return [{"run": side, "kind": f.kind, "text": f.text} for f in run_flags(run)]


def _fan_plain(fan: FanWork | None) -> dict[str, object] | None:
    if fan is None:
        return None
    return {"before_rpm": fan.before_rpm, "after_rpm": fan.after_rpm, "cooler_k": _finite(fan.cooler_k),
            "half_width_k": _finite(fan.half_width_k), "curve_changed": fan.same_c is not None}  # fmt: skip


def _throttle_plain(found: ThrottleFinding) -> dict[str, object]:
    return {"kind": found.kind.value, "share": found.share, "full_mhz": found.full_clock_mhz,
            "sustained_mhz": found.sustained_clock_mhz, "reason": found.reason}  # fmt: skip


def _claim_plain(claim: HeatClaim | None) -> dict[str, object] | None:
    if claim is None:
        return None
    return {"kind": claim.kind.value, "change_k": _finite(claim.value_k), "half_width_k": _finite(claim.half_width_k),
            "text": claim.text}  # fmt: skip


def _finite(value: float) -> float | None:
    return float(value) if value == value and abs(value) != float("inf") else None
