"""Writes what the year before left in the demo shop's record: simulated machines, planned, done and measured for it.

Each job goes through the program itself: a before-run, the plan that Choose recommends, the after-run with the same
plan done, and what `learn_from` keeps of it. Only the hands are drawn: minutes around the plan's, prices around what
was thought likely.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

import numpy as np

from benchmarks.prediction import measured
from brachium.app.demo.demo_record import RECORD, ShopRecord, record_to_json
from brachium.app.intake.practice import practice_job
from brachium.app.shop.shop_record import outcome_of
from brachium.app.view.job_view import JobView, compute_view
from brachium.app.view.measured import JobRuns
from brachium.app.view.paste_expectation import repaste_of
from brachium.core.base.units import GIB
from brachium.core.fit.verdict import Level
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Identity
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import Service
from brachium.core.machine.platform import Board, BootMode, Contacts, DriveMode, InstalledSystem, Platform
from brachium.core.measure.run import Run
from brachium.core.plan.candidates import Group, planned
from brachium.core.record.job import Job, StepDone
from brachium.core.record.money import Resale
from brachium.core.use.profile import PROFILES
from brachium.demo.shop import demo_catalogue
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import with_faults
from brachium.devices.simulated.machine import SimulatedSpec
from brachium.devices.simulated.practice_machine import PracticeMachine, make_practice_machine
from brachium.formats.atomic import write_atomically

SEED = 4_700
LOOKED_UP = Platform(
    Board(True, boot_modes=(BootMode.UEFI,), nvme_start=False, drive_mode=DriveMode.AHCI),
    contacts=Contacts(110.0, True, False, True, 0.5, 1, False), system=InstalledSystem(64, boot_mode=BootMode.UEFI),
)  # fmt: skip


@dataclass(frozen=True)
class Past:
    """A job of the year before: what hid in it, its use, what was done, when it was handed over, likely price if sold.

    `done` empty = the plan that Choose recommends."""

    name: str
    kind: MachineKind
    cause: str
    profile: str
    when: str
    done: tuple[Group, ...] = ()
    likely: int = 0


DRIVE, MEMORY, PASTE, CLEANING = Group.DRIVE, Group.MEMORY, Group.PASTE, Group.CLEANING
LAPTOP, TOWER = MachineKind.LAPTOP, MachineKind.TOWER
PAST = (
    Past("Schedules desk", TOWER, "disk", "office", "2025-11-18 16:05"),
    Past("Jingle desk", TOWER, "paste", "build", "2025-12-02 11:40", (PASTE, CLEANING)),
    Past("Weather laptop", LAPTOP, "fins", "video", "2025-12-16 15:20", (PASTE, CLEANING, DRIVE)),
    Past("Logger", TOWER, "memory", "machines", "2026-01-13 10:15", (MEMORY,)),
    Past("Studio 2 laptop", LAPTOP, "disk", "audio", "2026-01-27 14:50"),
    Past("Phone-in desk", TOWER, "channels", "calls", "2026-02-10 17:10", (MEMORY,)),
    Past("Music library", TOWER, "disk", "files", "2026-02-24 12:30", (DRIVE, CLEANING)),
    Past("Training laptop", LAPTOP, "paste", "calls", "2026-03-17 16:45", (DRIVE, PASTE), 140),
    Past("Podcast desk", TOWER, "memory", "audio", "2026-04-08 11:05", (DRIVE, MEMORY)),
    Past("Treasury laptop", LAPTOP, "", "office", "2026-05-05 15:35", (CLEANING,)),
    Past("Link hut", TOWER, "fins", "video", "2026-05-26 13:25", (CLEANING,)),
    Past("Web desk", TOWER, "disk", "build", "2026-06-16 10:55", (DRIVE, MEMORY, CLEANING)),
    Past("Sales laptop", LAPTOP, "memory", "office", "2026-07-07 16:15", (DRIVE, MEMORY), 165),
    Past("Quiet room", TOWER, "paste", "video", "2026-08-04 14:05", (PASTE,)),
    Past("Roving laptop", LAPTOP, "paste", "build", "2026-09-01 11:50", (PASTE, CLEANING)),
    Past("Volunteers' desk", TOWER, "channels", "office", "2026-09-22 17:30", (MEMORY, CLEANING), 120),
    Past("Continuity desk", TOWER, "disk", "audio", "2026-10-20 15:10"),
)  # fmt: skip


def record() -> ShopRecord:
    """Every past job, worked through."""
    outcomes, repastes = [], []
    for number, past in enumerate(PAST):
        view = _finished(past, number)
        outcome, repaste = outcome_of(view, past.when), repaste_of(view, past.when)
        if outcome is not None:
            outcomes.append(outcome)
            told = outcome.predicted
            print(f"{past.name:22} {outcome.kind.value:9} {'+'.join(c.group for c in outcome.changes):28} "
                  f"predicted {told.mid if told else 0:.2f} measured {outcome.measured or 0:.2f} "
                  f"{outcome.planned_min:.0f} min, {outcome.real_min:.0f} real, {outcome.cost:.0f}")  # fmt: skip
        if repaste is not None:
            repastes.append(repaste)
    return ShopRecord(tuple(outcomes), tuple(repastes))


def _finished(past: Past, number: int) -> JobView:
    seed = next(
        s for s in range(SEED + 100 * number, 99_999) if make_practice_machine(s, past.cause).machine.kind is past.kind
    )
    rng = np.random.default_rng([19, seed])
    one = make_practice_machine(seed, past.cause)
    job = _job(past, one, seed)
    before = measured(one.spec)
    job = replace(job, plan=_plan(past, compute_view(job, JobRuns(before), demo_catalogue())))
    view = compute_view(job, JobRuns(before), demo_catalogue())
    planned_min = sum(s.attended_min for s in view.work.steps)
    hand = (
        view.choice.cost.attended_min / planned_min * float(rng.lognormal(np.log(1.12), 0.12))
    )  # slower than the book
    done = tuple(StepDone(s.id, past.when, round(s.attended_min * hand * float(rng.lognormal(0.0, 0.15)), 1))
                 for s in view.work.steps)  # fmt: skip
    sold = Decimal(round(past.likely * float(rng.lognormal(-0.06, 0.08)))) if past.likely else None
    job = replace(job, steps_done=done, sold_for=sold)
    return compute_view(job, JobRuns(before, _after(one, view, rng)), demo_catalogue())


def _plan(past: Past, view: JobView) -> tuple[str, ...]:
    """What was asked for, the middling one of each kind that fits."""
    if not past.done:
        assert view.choice.weighed is not None
        return view.choice.weighed.front.recommended.ids
    out = []
    for group in past.done:
        fits = [o for o in view.choice.offers if o.candidate.group is group and o.level < Level.NOT_KNOWN]
        solid = [o for o in fits if group is not Group.DRIVE or o.candidate.id.startswith("ssd")]
        out.append(sorted(solid, key=lambda o: (o.level, o.candidate.price))[len(solid) // 2].candidate.id)
    return tuple(out)


def _job(past: Past, one: PracticeMachine, seed: int) -> Job:
    portable = one.machine.kind is MachineKind.LAPTOP
    identity = Identity("Oakmere" if portable else "Vantry", f"{'Tern' if portable else 'Heron'} {10 + seed % 5}")
    machine = replace(one.machine, identity=identity, platform=LOOKED_UP)
    assert past.profile in {p.id for p in PROFILES}, past.profile
    likely = Decimal(past.likely)
    resale = Resale(likely * Decimal("0.8"), likely, likely * Decimal("1.25"), Decimal("0.05")) if past.likely else None
    return replace(
        practice_job(seed), id=f"past-{seed}", name=past.name, machine=machine, scan=one.scan, findings=one.findings,
        tried=one.tried, health=one.health, own_results=one.own_results, profile_id=past.profile,
        budget=Decimal(180), rate_per_hour=Decimal(32), resale=resale or Resale(),
    )  # fmt: skip


def _after(one: PracticeMachine, view: JobView, rng: np.random.Generator) -> Run:
    """The simulated machine with the plan done, measured again."""
    services = {s for c in view.choice.chosen() for s in c.services}
    config = planned(view.job.machine, view.choice.chosen())
    faults = replace(
        one.faults,
        paste=float(rng.lognormal(0.0, 0.15)) if Service.NEW_PASTE in services else one.faults.paste,
        dust=float(rng.lognormal(np.log(1.06), 0.04)) if Service.CLEAN_FINS in services else one.faults.dust,
    )
    spec: SimulatedSpec = replace(one.spec, thermals=with_faults(one.healthy, faults),
                                  memory_gib=config.memory_bytes() / GIB, seed=one.seed + 1,
                                  memory_peak_mb_s=bandwidth_mb_s(view.job.machine, config)
                                  or one.spec.memory_peak_mb_s)  # fmt: skip
    drive = config.drives().get("bay-1")
    if drive is not None and drive != view.job.machine.configuration().drives().get("bay-1"):
        spec = replace(spec, drive=_as_delivered(SimulatedDrive.of(drive, 600.0), rng))
    return measured(spec)


def _as_delivered(drive: SimulatedDrive, rng: np.random.Generator) -> SimulatedDrive:
    """A drive is rarely as fast as its label says."""
    slow = float(rng.lognormal(np.log(1.25), 0.25))
    return replace(drive, small_factor=1.0 / slow, long_factor=1.0 / slow**0.5)


write_atomically(RECORD, record_to_json(record()).encode())
print(f"written to {RECORD.name}")
