"""Entry point of a workload's child process: `python -m brachium.devices.workloads.child NAME JSON`."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable
from importlib import import_module

KERNELS = {
    "processor": ("processor", "run"),
    "bandwidth": ("memory", "run_bandwidth"),
    "gather": ("memory", "run_gather"),
    "memory-test": ("memory", "run_test"),
    "layout": ("drive", "run_layout"),
    "sequential": ("drive", "run_sequential"),
    "random": ("drive", "run_random"),
    "compiled-latency": ("compiled", "run_latency"),
    "compiled-memory": ("compiled", "run_memory"),
    "compiled-work": ("compiled", "run_work"),
    "compiled-requests": ("compiled", "run_requests"),
    "compiled-stream": ("compiled", "run_stream"),
    "compiled-flush": ("compiled", "run_flush"),
    "everyday": ("everyday", "run_task"),
    "memory-ladder": ("ladder", "run_ladder"),
    "graphics-look": ("graphics.tests", "run_look"),
    "graphics-rate": ("graphics.tests", "run_rate"),
    "graphics-scene": ("graphics.tests", "run_scene"),
    "graphics-heat": ("graphics.tests", "run_heat"),
    "graphics-memory": ("graphics.tests", "run_memory"),
}


def _kernel(name: str) -> Callable[..., None]:
    """Only the module of the kernel in question is loaded."""
    module, function = KERNELS[name]
    found: Callable[..., None] = getattr(import_module(f"brachium.devices.workloads.{module}"), function)
    return found


def main() -> None:
    """Run one kernel; what goes wrong is said on the last line and in the exit code."""
    from brachium_probe.child_protocol import end_with_the_program, say

    end_with_the_program()
    name, arguments = sys.argv[1], json.loads(sys.argv[2])
    cpu = arguments.pop("cpu", None)
    if cpu is not None:
        os.sched_setaffinity(0, {cpu})
    try:
        _kernel(name)(**arguments)
    except MemoryError:
        say(problem="not enough free memory for this test")
        sys.exit(2)
    except ImportError as error:
        say(problem=f"a library that this test works with is missing: {error.name}; run set-up again")
        sys.exit(2)
    except OSError as error:
        say(problem=f"{error.strerror or error} ({error.filename or arguments.get('folder', '')})")
        sys.exit(2)


if __name__ == "__main__":
    main()
