"""Measures the machines of the demo shop again and writes them as job archives into the package."""

from __future__ import annotations

from brachium.app.demo.demo_shop import ARCHIVES, measure_demo_job
from brachium.demo.machines import OTHERS
from brachium.formats.job_archive import write_archive

for make in OTHERS:
    job, runs = measure_demo_job(make())
    write_archive(job, runs, ARCHIVES / f"{job.id}.zip")
    print(f"{job.id}: {len(runs)} runs")
