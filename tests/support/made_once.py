"""Shop files that are dear to make: made by the first worker that needs one, copied by all others."""

from __future__ import annotations

import fcntl
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest

from brachium.app.demo.demo_shop import fill_demo_shop
from brachium.app.demo.headless import run_demo_job
from brachium.app.shop.open_shop import open_shop


def made_once(factory: pytest.TempPathFactory, name: str, make: Callable[[Path], None]) -> Path:
    """The file of that name of this test session; the other workers wait until the first has made it."""
    base = factory.getbasetemp()
    folder = base.parent if base.name.startswith("popen-") else base
    path = folder / name
    with (folder / f"{name}.making").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            part = folder / f"{name}.part"
            part.unlink(missing_ok=True)
            make(part)
            shutil.copy(part, path)  # without the journal of its database, which is closed by now
    return path


def finished_job(path: Path) -> None:
    """The newsroom laptop after all stages, the only machine of its shop."""
    workspace, _ = run_demo_job(path, lambda _: None, others=False)
    workspace.close()


def demo_shop(path: Path) -> None:
    """The whole demo shop with every machine worked out once."""
    workspace = open_shop(path, fill=fill_demo_shop)
    workspace.lanes.drain("compute")
    for job_id in workspace.job_ids():
        workspace.compute_now(job_id)
    workspace.close()
