"""Predicted against simulated gains: random machines and plans, how often the result lies in the 80 % band.

The simulated machines are built from other equations than the prediction: four thermal nodes with a governor, a disk's
arm and tracks, a cache under replacement. The owner's true shares of time are drawn around the profile's, as the
prediction assumes that they scatter. The gain is scored by the functional that also judges measured runs.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from brachium.app.bench.runner import Runner
from brachium.app.intake.practice import PROTOCOL, practice_job
from brachium.app.view.cause_record import figures_with_chances
from brachium.core.base.band import Band
from brachium.core.base.units import GB, GIB
from brachium.core.choose.predict import bands_of, draw
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import figures_of
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryModule, Service
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Assignment, Candidate, Group, planned
from brachium.core.use.profile import PROFILES, UseProfile
from brachium.devices.simulated.bench import SimulatedBench
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.machine import SimulatedSpec
from brachium.devices.simulated.physics import Thermals
from brachium.devices.simulated.practice_machine import PracticeMachine, make_practice_machine

COUNT = 200
FIRST_SEED = 50_000
CAUSES = ("paste", "fins", "memory", "disk", "channels", "")
SHARE_SPREAD, OVERLAP_SPREAD, PAGING_SPREAD = 0.20, 0.07, 0.10


@dataclass(frozen=True)
class Outcome:
    """Band and measured gain of one machine with one plan."""

    band: Band
    measured: float
    other_chip: bool = False

    @property
    def inside(self) -> bool:
        return self.band.low <= self.measured <= self.band.high


def plan_for(one: PracticeMachine, rng: np.random.Generator) -> tuple[Candidate, ...]:
    """One to four changes at random."""
    form, old = one.machine.slots[0].form, next(iter(one.machine.configuration().modules().values()))
    size = int(rng.choice([4, 8]))
    module = MemoryModule(f"{size} GiB", form, old.generation, size * GIB, 2400, (1.2,))
    drive = Drive("SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 480 * GB, False, 530.0, 530.0, 0.09)
    every = (
        Candidate("memory", Group.MEMORY, "memory", "", 0, tuple(Assignment(s.id, module) for s in one.machine.slots)),  # type: ignore[arg-type]
        Candidate("drive", Group.DRIVE, "drive", "", 0, (Assignment("bay-1", drive),)),  # type: ignore[arg-type]
        Candidate("paste", Group.PASTE, "paste", "", 0, (), (Service.NEW_PASTE,)),  # type: ignore[arg-type]
        Candidate("clean", Group.CLEANING, "clean", "", 0, (), (Service.CLEAN_FINS,)),  # type: ignore[arg-type]
    )
    picked = [c for c in every if rng.random() < 0.5]
    if one.machine.kind is MachineKind.TOWER and rng.random() < 0.4:
        picked.append(_processor(one, rng))
    return tuple(picked or [every[int(rng.integers(4))]])


def _processor(one: PracticeMachine, rng: np.random.Generator) -> Candidate:
    """Another processor for the same socket: somewhat faster, cooler or hotter."""
    chip = one.healthy.silicon
    watts = (chip.idle_w + chip.dynamic_w + 1.5 * chip.leakage_w) * float(rng.uniform(0.85, 1.35))
    part = ProcessorPart("chip", "KX-9", watts, 6, 12, float(rng.uniform(100, 130)), float(rng.uniform(105, 220)),
                         limit_c=chip.limit_c)  # fmt: skip
    return Candidate("processor", Group.PROCESSOR, "processor", "", 0, (Assignment("socket", part),))  # type: ignore[arg-type]


def after_work(one: PracticeMachine, chosen: tuple[Candidate, ...], rng: np.random.Generator) -> SimulatedSpec:
    """The simulated machine after the plan: faults taken away, new paste or clean fins a bit better than as built."""
    ids = {c.id for c in chosen}
    fresh = float(rng.lognormal(np.log(0.95), 0.05))
    faults = replace(one.faults, paste=fresh if "paste" in ids else one.faults.paste,
                     dust=0.97 if "clean" in ids else one.faults.dust)  # fmt: skip
    config = planned(one.machine, chosen)
    thermals = with_faults(one.healthy, faults)
    chip = config.processor()
    if chip is not None and chip.power_w is not None:
        thermals = _with_chip(one, replace(faults, paste=fresh), chip.power_w, rng)
    drive = one.spec.drive
    if "drive" in ids:
        drive = SimulatedDrive.of(config.drives()["bay-1"], 600.0)
    return replace(
        one.spec, thermals=thermals, drive=drive, memory_gib=config.memory_bytes() / GIB,
        memory_peak_mb_s=bandwidth_mb_s(one.machine, config) or one.spec.memory_peak_mb_s, seed=one.seed + 1,
    )  # fmt: skip


def _with_chip(one: PracticeMachine, faults: Faults, watts: float, rng: np.random.Generator) -> Thermals:
    """The machine with another chip: its own draw near its design power, its own die and spreader, a fresh layer."""
    thermals = with_faults(one.healthy, faults)
    chip = thermals.silicon
    dynamic = max(watts * float(rng.lognormal(0.0, 0.05)) - chip.idle_w - 1.5 * chip.leakage_w, 5.0)
    die = float(rng.lognormal(0.0, 0.20))
    return replace(
        thermals, silicon=replace(chip, dynamic_w=dynamic, power_limit_w=max(chip.power_limit_w, 2.5 * dynamic)),
        cooling=replace(thermals.cooling, paste_k_w=thermals.cooling.paste_k_w * die),
    )  # fmt: skip


def outcome(seed: int) -> Outcome:
    """Measure a machine, predict a random plan, do it, measure again."""
    rng = np.random.default_rng([77, seed])
    one = make_practice_machine(seed, str(rng.choice(CAUSES)))
    profile = PROFILES[int(rng.integers(len(PROFILES)))]
    job = replace(practice_job(seed), machine=one.machine, scan=one.scan, findings=one.findings, tried=one.tried,
                  health=one.health, own_results=one.own_results, profile_id=profile.id)  # fmt: skip
    machine = replace(one.machine, processor=replace(one.machine.processor, single_rate=100.0, all_rate=100.0))
    one = replace(one, machine=machine)
    profile = replace(profile, working_set_gib=one.spec.task.working_set_gib + 0.9)
    before = measured(one.spec)
    figures = figures_with_chances(job, before, figures_of(before, one.machine.processor.limit_c))
    chosen = plan_for(one, rng)
    heat = None
    if figures.r_fast_k_w is not None and figures.r_slow_k_w is not None and before.conditions.room_c is not None:
        heat = HeatFacts(figures.r_fast_k_w + figures.r_slow_k_w, before.conditions.room_c)
    band = bands_of(one.machine, chosen, profile, figures, draw(profile, figures), heat)
    after = measured(after_work(one, chosen, rng))
    chip = planned(one.machine, chosen).processor()
    rates = {"all": 1.0, "single": 1.0}
    if chip is not None and chip.all_rate and chip.single_rate:
        rates = {"all": chip.all_rate / 100.0 * float(rng.lognormal(0.0, 0.06)),
                 "single": chip.single_rate / 100.0 * float(rng.lognormal(0.0, 0.06))}  # fmt: skip
    return Outcome(band, _gain(before, after, profile, rng, rates), chip is not None)


def measured(spec: SimulatedSpec) -> Run:
    """A quick run of a simulated machine."""
    return Runner(SimulatedBench(spec), PROTOCOL).execute("r", "c", "")


def _gain(before: Run, after: Run, profile: UseProfile, rng: np.random.Generator, rates: dict[str, float]) -> float:
    """The measured speed-ups, weighed by this owner's true shares of time; `rates` are another processor's own."""
    paging = _stall(before) * rng.lognormal(0.0, PAGING_SPREAD)
    raw = {k: v * rng.lognormal(0.0, SHARE_SPREAD) for k, v in profile.shares.items() if v > 0}
    whole = sum(raw.values())
    shares = {k: np.array([v / whole * (1.0 - paging)]) for k, v in raw.items()} | {"paging": np.array([paging])}
    speed = {k: np.array([_ratio(before, after, t)]) for k, t in (
        ("all", "sustained"), ("single", "cpu_single"), ("memory", "mem_bandwidth"), ("random", "drive_rand_q1"),
        ("sequential", "drive_seq"))}  # fmt: skip
    speed |= {k: speed[k] * v for k, v in rates.items()}
    speed["paging"] = np.array([max(_stall_s(before) / max(_stall_s(after), 0.05), 0.05)])
    overlap = np.clip(profile.overlap + rng.normal(0.0, OVERLAP_SPREAD, 1), 0.0, 1.0)
    return float(work_ratio(shares, speed, overlap)[0])


def _ratio(before: Run, after: Run, test: str) -> float:
    a, b = before.results(test), after.results(test)
    return float(np.median(b[0]) / np.median(a[0])) if a and b else 1.0


def _stall(run: Run) -> float:
    return figures_of(run, None).stall_share


def _stall_s(run: Run) -> float:
    return _stall(run) * float(run.results("own_task")[0][0])


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(outcome, range(FIRST_SEED, FIRST_SEED + count), chunksize=8))
    inside = sum(o.inside for o in found)
    width = np.array([np.log(o.band.high / o.band.low) for o in found])
    error = np.array([np.log(o.measured / o.band.mid) for o in found])
    scatter = float(np.percentile(error, 90) - np.percentile(error, 10))
    below = sum(o.measured < o.band.low for o in found)
    print(f"{inside} of {count} inside the 80 % band ({100 * inside / count:.1f} %), {below} below it")
    chips = [o for o in found if o.other_chip]
    print(f"with another processor {sum(o.inside for o in chips)} of {len(chips)}")
    print(f"mean width {width.mean():.3f}, scatter about the middle {scatter:.3f} (both of the logarithm)")
    return 0


if __name__ == "__main__":
    sys.exit(main())
