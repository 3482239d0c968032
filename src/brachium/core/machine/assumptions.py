"""What is taken for parts that nobody measured, and from where on something is called worn or missing."""

from __future__ import annotations

WORN = 0.6  # of its design capacity, below which a battery is called worn
MISSING_MEMORY = 0.15  # of what is fitted that a system does not use, beyond what firmware and graphics keep
# Rates of a class of drives: (outer, inner [MB/s], latency of one 4 KiB read [ms]); its own are measured by a run.
DISK_RATES, SATA_SSD_RATES, NVME_RATES = (120.0, 55.0, 14.0), (520.0, 520.0, 0.10), (2500.0, 2500.0, 0.08)
