"""How a workload's child process is started."""

from __future__ import annotations

import sys

COMMAND = (sys.executable, "-m", "brachium.devices.workloads.child")
