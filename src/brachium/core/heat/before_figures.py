"""The figures of a before-run that causes and predictions start from."""

from __future__ import annotations

from dataclasses import dataclass

from brachium.core.base.late_numpy import np
from brachium.core.heat.assumptions import WAITS_WHILE_BUSY
from brachium.core.heat.claims import HeatReading, read_one
from brachium.core.heat.run_traces import heat_traces
from brachium.core.heat.throttle import HeldBack
from brachium.core.heat.what_if import Base
from brachium.core.measure.own_tests import PREFIX
from brachium.core.measure.run import Run, Trace
from brachium.core.measure.waiting import highest_clock_mhz, top_clock_mhz

OWN_TASK_PHASE = "test own_task"


@dataclass(frozen=True)
class BeforeFigures:
    """Clocks [MHz], resistances [K/W], shares of time 0..1; None = not measured."""

    reading: HeatReading | None
    throttled: bool
    throttled_share: float
    full_clock_mhz: float
    sustained_clock_mhz: float
    r_fast_k_w: float | None
    r_slow_k_w: float | None
    stall_share: float
    stall_measured: bool
    disk_busy_share: float | None
    disk_mb_s: float | None
    memory_used_frac: float | None
    base: Base | None = None  # for what-if; needs power and clock under load
    paste_chance: float | None = None  # of Find cause, that paste or mounting is at fault; None = not judged
    fins_chance: float | None = None
    fan_chance: float | None = None
    power_clock: float | None = None  # clock without what limits its power, over the sustained one; None = not so held
    battery_chance: float | None = None  # that a good battery, or a stronger adapter, gives it back
    adapter_chance: float | None = None
    memory_used_gib: float | None = None  # typed, while the owner works
    typed_clock_mhz: float | None = None  # sustained under load
    highest_clock_mhz: float | None = None  # held for some samples at any load: one thread is let higher than all
    memory_stall_share: float | None = None  # of the task's time waiting because memory is short
    network_chance: float | None = None  # that the network port is slower than the use; None = not looked at
    lower_voltage: bool | None = None  # whether the voltage can be lowered to some gain; None = not tried
    typed_stall_share: float | None = None  # told from a typed share of the drive's time

    @property
    def typed_of_work(self) -> bool:
        """Whether figures on paper say anything that a prediction can start from."""
        return any(x is not None for x in (self.memory_used_gib, self.typed_stall_share, self.typed_clock_mhz))


# complex: one condition a figure that may not have been sampled
def figures_of(run: Run, limit_c: float | None) -> BeforeFigures:
    """Read the figures from a run; what was not sampled stays None or neutral (ratio 1, share 0)."""
    traces = heat_traces(run, limit_c)
    reading = read_one(traces[0]) if traces else None
    throttle = reading.throttle if reading else None
    held = throttle is not None and throttle.kind is HeldBack.THERMAL
    full = throttle.full_clock_mhz if throttle and throttle.full_clock_mhz else 1.0
    if held:  # where heat pulls it down from early on, the load alone never shows the full clock
        full = float(np.nanmax([full, top_clock_mhz(run)]))
    sustained = throttle.sustained_clock_mhz if throttle and throttle.sustained_clock_mhz else full
    stair = reading.stair if reading else None
    power = reading.power_ref_w if reading else float("nan")
    task = [t for s in run.sessions if (t := _task_part(s.trace)) is not None]
    stall, busy = _mean(task, "io_stall_frac"), _typed(run, "diskbusy")
    return BeforeFigures(
        reading, held, throttle.share if throttle else 0.0, full, min(sustained, full),
        stair.chip_to_sink_k / power if stair else None, stair.sink_to_room_k / power if stair else None,
        stall or 0.0, stall is not None, _mean(task, "disk_busy_frac"), _mean(task, "disk_mb_s"),
        _mean(task, "memory_used_frac"), reading.base if reading is not None else None,
        memory_used_gib=_typed(run, "memwork"), typed_clock_mhz=_typed(run, "clock"),
        highest_clock_mhz=highest_clock_mhz(run),
        memory_stall_share=_mean(task, "memory_stall_frac"),
        typed_stall_share=WAITS_WHILE_BUSY * busy / 100.0 if busy is not None else None,
    )  # fmt: skip


def _typed(run: Run, kind: str) -> float | None:
    """Median of what was typed of a kind [its unit]; None where nothing was."""
    found = [r for t in run.tests if t.key.startswith(f"{PREFIX}{kind}-") for r in run.results(t.key)]
    return float(np.median(np.concatenate(found))) if found else None


def _task_part(trace: Trace) -> Trace | None:
    """All stretches in which the owner's task ran."""
    phases = [p for p in trace.phases if p.name == OWN_TASK_PHASE]
    return trace.cut(phases[0].start_s, phases[-1].end_s) if phases else None


def _mean(traces: list[Trace], key: str) -> float | None:
    series = [v for t in traces if (v := t.values(key)) is not None and np.isfinite(v).any()]
    return float(np.mean([np.nanmean(v) for v in series])) if series else None
