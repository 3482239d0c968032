"""Predicted against simulated gains: plans of every kind on machines of a wide range, how often the result lies in the
80 % band, and how far the middle is off.

The simulated machines are built from other equations than the prediction: four thermal nodes with a governor, a disk's
arm and tracks, a cache under replacement. Their memory, drives, working sets, page touches and own reads are drawn from
ranges wider than anything that the prediction takes for granted; the working set that the use states is off by a
quarter, and three logs in ten say nothing of memory. The owner's true shares of time are drawn around the profile's.
The gain is scored by the functional that also judges measured runs.

`python -m benchmarks.prediction [plans of each kind] [first seed]`
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np

from brachium.app.bench.runner import Runner
from brachium.app.intake.practice import PROTOCOL, practice_job
from brachium.app.view.cause_record import figures_with_chances
from brachium.core.base.band import Band
from brachium.core.base.units import GB, GIB
from brachium.core.choose.draws import draw
from brachium.core.choose.predict import bands_of
from brachium.core.choose.unknown_gain import unknown_gain
from brachium.core.choose.work_ratio import work_ratio
from brachium.core.fit.circumstances import HeatFacts
from brachium.core.heat.before_figures import BeforeFigures, figures_of
from brachium.core.machine.card_parts import Card
from brachium.core.machine.cooling_parts import Fan, FanPlug
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryModule, Part, Service
from brachium.core.machine.platform import FanHeader
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
from brachium.devices.simulated.workloads import SYSTEM_GIB

COUNT = 100
FIRST_SEED = 70_000
SHARE_SPREAD, OVERLAP_SPREAD, PAGING_SPREAD, RATE_SPREAD = 0.20, 0.07, 0.10, 0.06
HEAT, POWER, REST = ("paste", "fins", "pipe"), ("battery", "adapter"), ("", "", "background", "full")
# what each kind of plan is made of, and the hidden causes that half of its machines have
KINDS: Mapping[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "drive": (("drive",), ("disk",)), "memory": (("memory",), ("memory",)),
    "both": (("memory", "drive"), ("memory", "disk")), "channel": (("memory",), ("channels",)),
    "paste": (("paste",), HEAT), "clean": (("clean",), HEAT), "service": (("paste", "clean"), HEAT),
    "processor": (("processor",), HEAT), "battery": (("battery",), POWER), "adapter": (("adapter",), POWER),
    "graphics": (("graphics",), ("graphics",)), "all": (("memory", "drive", "paste", "clean"), (*HEAT, "memory")),
    "fan": (("fan",), ("fan", "fins")),
}  # fmt: skip
FLASH = Drive("SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 480 * GB, False, 530.0, 530.0, 0.09)


@dataclass(frozen=True)
class Outcome:
    """Band and measured gain of one machine with one plan."""

    kind: str
    seed: int
    band: Band
    measured: float

    @property
    def inside(self) -> bool:
        return self.band.low <= self.measured <= self.band.high

    @property
    def error(self) -> float:
        """Of the logarithm."""
        return float(np.log(self.measured / self.band.mid))


def _log_uniform(rng: np.random.Generator, low: float, high: float) -> float:
    return float(np.exp(rng.uniform(np.log(low), np.log(high))))


def machine_for(kind: str, seed: int, rng: np.random.Generator) -> PracticeMachine:
    """A machine for a kind of plan: half of them with a cause that it cures, its memory, drive and work drawn anew."""
    causes = KINDS[kind][1]
    cause = str(rng.choice(causes if rng.random() < 0.5 else (*REST, *HEAT)))
    one = make_practice_machine(seed, cause)
    while kind in POWER and one.machine.kind.value != "laptop":
        seed += 100_000
        one = make_practice_machine(seed, cause)
    machine = replace(one.machine, processor=replace(one.machine.processor, single_rate=100.0, all_rate=100.0,
                                                     graphics_rate=100.0))  # fmt: skip
    machine = replace(machine, platform=replace(machine.platform, headers=(FanHeader("fan-1", "Processor fan"),)))
    machine = _with_memory(machine, kind, rng)
    drive = _drive(rng)
    machine = machine.with_part("bay-1", drive)
    behaves = SimulatedDrive.of(drive, 600.0)
    behaves = replace(behaves, long_factor=one.spec.drive.long_factor, small_factor=one.spec.drive.small_factor)
    memory = machine.configuration().memory_bytes() / GIB
    peak = bandwidth_mb_s(machine, machine.configuration()) or one.spec.memory_peak_mb_s
    spec = replace(one.spec, drive=behaves, memory_gib=memory, memory_peak_mb_s=peak)
    return replace(one, machine=machine, spec=_with_work(spec, rng))


def _with_memory(machine: Machine, kind: str, rng: np.random.Generator) -> Machine:
    module = next(iter(machine.configuration().modules().values()))
    assert isinstance(module, MemoryModule)
    size = int(rng.choice([1, 2, 4, 8]))
    single = kind == "channel" and rng.random() < 0.7
    for k, slot in enumerate(machine.slots):
        machine = machine.with_part(slot.id, None if single and k else replace(module, size_bytes=size * GIB))
    return machine


def _drive(rng: np.random.Generator) -> Drive:
    if rng.random() < 0.5:
        return Drive("disk", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 500 * GB, True, float(rng.uniform(80, 180)),
                     float(rng.uniform(40, 80)), float(rng.uniform(8.0, 18.0)))  # fmt: skip
    rate = float(rng.uniform(250, 540))
    return replace(FLASH, name="flash", outer_mb_s=rate, inner_mb_s=rate, read_latency_ms=_log_uniform(rng, 0.06, 0.3))


def _with_work(spec: SimulatedSpec, rng: np.random.Generator) -> SimulatedSpec:
    """Short of memory, about enough or plenty; touches and own reads by what they would cost on this drive."""
    usable = max(spec.memory_gib - SYSTEM_GIB, 0.1)
    share = (rng.uniform(1.05, 2.5), rng.uniform(0.85, 1.1), rng.uniform(0.2, 0.8))[int(rng.integers(3))]
    disk = spec.drive.rotational
    read_s = 1.0 / spec.drive.random_reads_s(2, 0.3, np.random.default_rng(1))
    cpu_s = float(rng.uniform(40.0, 90.0))
    touches = cpu_s * _log_uniform(rng, *((0.7, 15.0) if disk else (0.1, 4.0))) / read_s
    reads = cpu_s * _log_uniform(rng, *((0.005, 0.5) if disk else (0.0005, 0.03))) / read_s
    return replace(spec, task=replace(spec.task, cpu_s=cpu_s, working_set_gib=usable * share, touches=touches,
                                      reads=reads, waits_s=0.0))  # fmt: skip


def plan_for(kind: str, one: PracticeMachine, rng: np.random.Generator) -> tuple[Candidate, ...]:
    """The changes of a kind of plan."""
    made: Mapping[str, Callable[[], Candidate]] = {
        "memory": lambda: _memory(kind, one, rng), "drive": lambda: _candidate(Group.DRIVE, ("bay-1", FLASH)),
        "paste": lambda: _service(Group.PASTE, Service.NEW_PASTE),
        "clean": lambda: _service(Group.CLEANING, Service.CLEAN_FINS),
        "processor": lambda: _candidate(Group.PROCESSOR, ("socket", _processor(one, rng))),
        "battery": lambda: _candidate(Group.BATTERY), "adapter": lambda: _candidate(Group.ADAPTER),
        "graphics": lambda: _candidate(Group.CARD, ("card", _card(rng))),
        "fan": lambda: _candidate(Group.FAN, ("fan-1", Fan("fan", FanPlug.PIN_4))),
    }  # fmt: skip
    return tuple(made[part]() for part in KINDS[kind][0])


def _candidate(group: Group, *parts: tuple[str, Part]) -> Candidate:
    return Candidate(group.value, group, group.value, "", 0, tuple(Assignment(*p) for p in parts))  # type: ignore[arg-type]


def _service(group: Group, service: Service) -> Candidate:
    return replace(_candidate(group), services=(service,))


def _memory(kind: str, one: PracticeMachine, rng: np.random.Generator) -> Candidate:
    """More in both places; a second one like the first where a channel is wanted."""
    old = next(iter(one.machine.configuration().modules().values()))
    assert isinstance(old, MemoryModule)
    module = old if kind == "channel" else replace(old, size_bytes=old.size_bytes * int(rng.choice([2, 4])))
    return _candidate(Group.MEMORY, *((s.id, module) for s in one.machine.slots))


def _card(rng: np.random.Generator) -> Card:
    return Card("card", 16, 3, graphics_rate=100.0 * _log_uniform(rng, 1.2, 8.0))


def _processor(one: PracticeMachine, rng: np.random.Generator) -> ProcessorPart:
    """Another processor for the same socket: somewhat faster, cooler or hotter."""
    chip = one.healthy.silicon
    watts = (chip.idle_w + chip.dynamic_w + 1.5 * chip.leakage_w) * float(rng.uniform(0.85, 1.35))
    return ProcessorPart("chip", "KX-9", watts, 6, 12, float(rng.uniform(100, 130)), float(rng.uniform(105, 220)),
                         limit_c=chip.limit_c)  # fmt: skip


def after_work(one: PracticeMachine, chosen: tuple[Candidate, ...], rng: np.random.Generator) -> SimulatedSpec:
    """The simulated machine after the plan: faults taken away, new paste or clean fins a bit better than as built."""
    groups = {c.group for c in chosen}
    fresh = float(rng.lognormal(np.log(0.95), 0.05))
    faults = replace(
        one.faults, paste=fresh if Group.PASTE in groups else one.faults.paste,
        fan=1.0 if Group.FAN in groups else one.faults.fan, dust=0.97 if Group.CLEANING in groups else one.faults.dust,
        battery_missing=one.faults.battery_missing and Group.BATTERY not in groups,
        power=1.0 if Group.ADAPTER in groups and one.cause == "adapter" else one.faults.power,
    )  # fmt: skip
    config = planned(one.machine, chosen)
    thermals = with_faults(one.healthy, faults)
    chip = config.processor()
    if chip is not None and chip.power_w is not None:
        thermals = _with_chip(one, replace(faults, paste=fresh), chip.power_w, rng)
    drive = SimulatedDrive.of(FLASH, 600.0) if Group.DRIVE in groups else one.spec.drive
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


def outcome(asked: tuple[str, int]) -> Outcome | None:
    """Measure a machine, predict a plan of a kind, do it, measure again; None where a run is stopped (too
    hot), or the program says that what the plan brings is not known."""
    kind, seed = asked
    rng = np.random.default_rng([77, seed, list(KINDS).index(kind)])
    one = machine_for(kind, seed, rng)
    shipped = [p for p in PROFILES if kind != "graphics" or p.shares["graphics"] > 0.0]
    profile = shipped[int(rng.integers(len(shipped)))]
    job = replace(practice_job(seed), machine=one.machine, scan=one.scan, findings=one.findings, tried=one.tried,
                  health=one.health, own_results=one.own_results, profile_id=profile.id)  # fmt: skip
    stated = (one.spec.task.working_set_gib + SYSTEM_GIB - 0.6) * float(rng.lognormal(0.0, 0.25))
    profile = replace(profile, working_set_gib=stated)
    before = measured(one.spec)
    figures = figures_with_chances(job, before, figures_of(before, one.machine.processor.limit_c))
    if rng.random() < 0.3:
        figures = replace(figures, memory_used_frac=None)
    chosen = plan_for(kind, one, rng)
    if any(unknown_gain(one.machine, c, profile, figures) for c in chosen):
        return None
    band = bands_of(one.machine, chosen, profile, figures, draw(profile, figures, one.machine), _heat(figures, before))
    after = measured(after_work(one, chosen, rng))
    if not before.results("own_task") or not after.results("own_task"):
        return None
    return Outcome(kind, seed, band, _gain(before, after, profile, rng, _rates(one.machine, chosen, rng)))


def _heat(figures: BeforeFigures, before: Run) -> HeatFacts | None:
    fast, slow, room = figures.r_fast_k_w, figures.r_slow_k_w, before.conditions.room_c
    return HeatFacts(fast + slow, room) if fast is not None and slow is not None and room is not None else None


def _rates(machine: Machine, chosen: Sequence[Candidate], rng: np.random.Generator) -> dict[str, float]:
    """What another processor or card really does beside its rated rate."""
    out: dict[str, float] = {}
    for part in (a.part for c in chosen for a in c.assignments):
        if isinstance(part, ProcessorPart) and part.all_rate and part.single_rate:
            out |= {"all": part.all_rate / 100.0, "single": part.single_rate / 100.0}
        if isinstance(part, Card) and part.graphics_rate:
            out |= {"graphics": part.graphics_rate / 100.0}
    return {k: v * float(rng.lognormal(0.0, RATE_SPREAD)) for k, v in out.items()}


def measured(spec: SimulatedSpec) -> Run:
    """A quick run of a simulated machine."""
    return Runner(SimulatedBench(spec), PROTOCOL).execute("r", "c", "")


def _gain(before: Run, after: Run, profile: UseProfile, rng: np.random.Generator, rates: dict[str, float]) -> float:
    """The measured speed-ups, weighed by this owner's true shares of time; `rates` are those of other parts."""
    paging = min(_stall(before) * rng.lognormal(0.0, PAGING_SPREAD), 0.98)
    raw = {k: v * rng.lognormal(0.0, SHARE_SPREAD) for k, v in profile.shares.items() if v > 0}
    whole = sum(raw.values())
    shares = {k: np.array([v / whole * (1.0 - paging)]) for k, v in raw.items()} | {"paging": np.array([paging])}
    speed = {k: np.array([_ratio(before, after, t)]) for k, t in (
        ("all", "sustained"), ("single", "cpu_single"), ("memory", "mem_bandwidth"), ("random", "drive_rand_q1"),
        ("sequential", "drive_seq"))}  # fmt: skip
    speed |= {k: speed.get(k, np.ones(1)) * v for k, v in rates.items()}
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


def table(found: Sequence[Outcome]) -> str:
    """A line for each kind: share inside the band, above and below it, bias of the middle, mean width and scatter."""
    lines = [f"{'kind':10s} {'n':>4s} inside  above  below   bias  width scatter"]
    for kind in (*KINDS, ""):
        some = [o for o in found if kind in ("", o.kind)]
        if not some:
            continue
        errors = np.array([o.error for o in some])
        width = float(np.mean([np.log(o.band.high / o.band.low) for o in some]))
        above, below = (np.mean([f(o) for o in some]) for f in (
            lambda o: o.measured > o.band.high, lambda o: o.measured < o.band.low))  # fmt: skip
        scatter = float(np.percentile(errors, 90) - np.percentile(errors, 10))
        inside = np.mean([o.inside for o in some])
        lines.append(
            f"{kind or 'all plans':10s} {len(some):4d} {inside:5.0%} {above:6.0%} {below:6.0%} "
            f"{100 * np.median(errors):+6.1f} {width:6.3f} {scatter:7.3f}"
        )
    return "\n".join(lines)


def main() -> int:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    first = int(sys.argv[2]) if len(sys.argv) > 2 else FIRST_SEED
    asked = [(kind, first + k) for kind in KINDS for k in range(count)]
    with ProcessPoolExecutor() as pool:
        found = [o for o in pool.map(outcome, asked, chunksize=8) if o is not None]
    print(table(found))
    return 0


if __name__ == "__main__":
    sys.exit(main())
