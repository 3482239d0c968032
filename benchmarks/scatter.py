"""How far repeats of a test lie apart: 20 of each, every compiled test by turns with the NumPy one that it follows, and
with `--tasks` the everyday tasks; writes the table of docs/workloads.md. Nothing else should run meanwhile.

`python -m benchmarks.scatter [repeats] [--tasks] [--print]`
"""

from __future__ import annotations

import re
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from brachium.core.measure.feel_tests import EVERYDAY
from brachium.core.measure.workloads import spec_of
from brachium.devices.live.workloads import WorkloadPlan, live_workload
from brachium_probe.own_folder import OwnFolder

ROOT = Path(__file__).parents[1]
PAGE, SCRATCH = ROOT / "docs" / "workloads.md", ROOT / ".benchmarks"
START, END = "<!-- scatter: start -->", "<!-- scatter: end -->"
REPEATS, TEST_S, REST_S, MIB = 20, 3.0, 0.5, 1 << 20
PAIRS = (
    ("cpu_integer", "cpu_all"), ("cpu_float", "cpu_all"), ("mem_copy", "mem_bandwidth"), ("mem_latency", "mem_gather"),
    ("drive_stream", "drive_seq"), ("drive_q1", "drive_rand_q1"), ("drive_q32", "drive_rand_q32"),
)  # fmt: skip


def once(plan: WorkloadPlan, key: str) -> float:
    """One repeat. Raises RuntimeError where it gave no result."""
    workload = live_workload(plan, key, lambda _: None)
    workload.start()
    while not workload.done():
        time.sleep(0.02)
    if workload.problem():
        raise RuntimeError(f"{key}: {workload.problem()}")
    result = workload.result()
    workload.stop()
    time.sleep(REST_S)
    return result


def spread(values: list[float]) -> float:
    """Robust spread of the logarithms: 1.4826 times the median distance from the median."""
    logs = np.log(values)
    return float(1.4826 * np.median(np.abs(logs - np.median(logs))))


def table(repeats: int, tasks: bool) -> str:
    """Spread of each test, beside that of its forerunner."""
    lines = ["| test | spread of one repeat | follows | its spread |", "|---|---|---|---|"]
    SCRATCH.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory(dir=SCRATCH) as folder:
        own = OwnFolder(folder)
        plan = WorkloadPlan(TEST_S, 5.0, 256 * MIB, 512 * MIB, own.where())
        try:
            once(plan, "drive_layout")
            for key, older in PAIRS:
                pairs = [(once(plan, key), once(plan, older)) for _ in range(repeats)]
                a, b = (spread([p[i] for p in pairs]) for i in (0, 1))
                lines.append(f"| {spec_of(key).title} | {a:.1%} | {spec_of(older).title} | {b:.1%} |")
                print(lines[-1], flush=True)
            for key in EVERYDAY if tasks else ():
                lines.append(f"| {spec_of(key).title} | {spread([once(plan, key) for _ in range(repeats)]):.1%} | | |")
                print(lines[-1], flush=True)
        finally:
            own.close()
    return "\n".join(lines)


def main() -> int:
    repeats = int(sys.argv[1]) if len(sys.argv) > 1 and sys.argv[1].isdigit() else REPEATS
    made = table(repeats, "--tasks" in sys.argv)
    if "--print" not in sys.argv:
        text = PAGE.read_text()
        PAGE.write_text(re.sub(f"{START}.*?{END}", f"{START}\n{made}\n{END}", text, flags=re.DOTALL))
    return 0


if __name__ == "__main__":
    sys.exit(main())
