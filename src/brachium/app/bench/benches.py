"""Which bench a job's machine stands on: the simulated one of the demo, this very machine, or none."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from brachium.app.bench.need_folder import NEED_FOLDER
from brachium.app.bench.run_roles import AFTER, LATER
from brachium.core.base.problems import ExpectedProblem
from brachium.core.measure.feel_tests import HEAT_LOAD_S, HEAT_REST_S, ONCE
from brachium.core.measure.run import Protocol
from brachium.core.measure.workloads import COMPILED, COMPILED_DRIVE, COMPILED_S
from brachium.core.plan.candidates import Candidate, planned, services_of
from brachium.core.record.job import LOCAL, PRACTICE_PREFIX, SIMULATED, Job
from brachium.core.record.protocol_of_job import protocol_of
from brachium.devices.live.everyday import TASK_S
from brachium.devices.live.graphics import scene_s
from brachium.devices.protocols import Bench
from brachium.devices.simulated.bench import OFFERED, SimulatedBench
from brachium.devices.simulated.practice_machine import practice_machine_of

if TYPE_CHECKING:
    from brachium.demo.simulation import Simulation


def _simulation(job: Job) -> Simulation:
    from brachium.demo.machines import simulation_of  # late: the window opens without the simulated machines

    return simulation_of(job)


def bench_for(
    job: Job, role: str, speed: float | None, chosen: tuple[Candidate, ...] = (), put_back: bool = False
) -> Bench | None:
    """A bench with the machine in the configuration that the role asks for; None where there is none.

    `chosen` is what the work puts in; `put_back`: what forbade the comparison is as it was before. Raises
    ExpectedProblem where the folder for drive tests cannot serve.
    """
    if job.bench == LOCAL:
        return local_bench_of(job)
    if job.bench != SIMULATED:
        return None
    if job.simulated_as.startswith(PRACTICE_PREFIX):
        return SimulatedBench(practice_machine_of(job.simulated_as).spec, speed, job.setup.limit_c)
    if role == "before":
        return SimulatedBench(
            _simulation(job).spec(job.machine.configuration(), frozenset(), False), speed, job.setup.limit_c
        )
    config = planned(job.machine, chosen)
    again = put_back and role == AFTER
    spec = _simulation(job).spec(config, frozenset(services_of(chosen)), True, role == LATER, again)
    return SimulatedBench(spec, speed, job.setup.limit_c)


def local_bench_of(job: Job) -> Bench:
    """This machine, with the folder and room that the job states."""
    from brachium.app.bench.local_runs import LocalOptions, local_bench

    folder = Path(job.setup.drive_folder) if job.setup.drive_folder else None
    return local_bench(LocalOptions(protocol_of(job), folder, job.setup.room_c, job.setup.limit_c))


def offered_here(job: Job) -> tuple[tuple[str, ...], tuple[tuple[str, str], ...]]:
    """(keys of the tests that the job's bench can do, (what, why) of what it cannot sample or test)."""
    if job.bench == SIMULATED:
        return OFFERED, ()
    if job.bench != LOCAL:
        return (), ()
    from brachium.devices.live.bench import missing_here, offers_here

    folder = bool(job.setup.drive_folder)
    return offers_here(folder), tuple((m.what, m.why) for m in missing_here(folder))


def expected_minutes(job: Job) -> float:
    """Expected length of a run with the job's protocol [min], all its sessions together."""
    from brachium.app.bench.runner import run_seconds

    protocol = protocol_of(job)
    if job.bench == SIMULATED and not job.simulated_as.startswith(PRACTICE_PREFIX):
        with suppress(ExpectedProblem):  # a machine that cannot start now is estimated like any other
            spec = _simulation(job).spec(job.machine.configuration(), frozenset(), False)
            return run_seconds(SimulatedBench(spec), protocol) / 60.0
    return estimated_s(protocol, bool(job.setup.drive_folder)) / 60.0


def estimated_s(protocol: Protocol, with_drive: bool) -> float:
    """Length of a run from its protocol alone [s]: every short test takes a second or two more than its time."""
    tests = [t for t in protocol.tests if t not in ("sustained", "start_up", "own_task")]
    tests = [t for t in tests if with_drive or not t.startswith(NEED_FOLDER)]
    phases = sum(p.duration_s for p in protocol.phases)
    once = protocol.memory_test_s + (protocol.drive_bytes / 150e6 if with_drive else 0.0)
    short = sum((1 if t in ONCE else protocol.repeats) * _test_s(t, protocol.test_s) for t in tests)
    return once + protocol.sessions * (phases + short)


def _test_s(key: str, test_s: float) -> float:
    """Length of one repeat with the rest after it [s]."""
    if key in TASK_S:
        return TASK_S[key] + 3.0
    if key in (*COMPILED, *COMPILED_DRIVE):
        return min(test_s, COMPILED_S) + 3.0
    if key.startswith("heat_"):
        return HEAT_REST_S + HEAT_LOAD_S + 3.0
    return (scene_s(test_s) if key in ONCE else test_s) + 3.0
