"""Shared fixtures. The demo job is run once; tests get their own copies of its shop file."""

from __future__ import annotations

import json
import os
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

SCREEN = Path(__file__).parent / "support" / "screen.json"
if os.environ.get("QT_QPA_PLATFORM", "offscreen") == "offscreen":
    os.environ["QT_QPA_PLATFORM"] = f"offscreen:configfile={SCREEN}"
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="brachium-state-")  # what windows keep for their next start

import hypothesis
import pydantic.fields  # noqa: F401 - before Qt: its import hook trips over this one when the command line loads it later
import pytest

from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import Workspace
from brachium.app.view.job_view import JobView
from brachium.core.measure.run import Run
from brachium.demo.newsroom import JOB_ID
from brachium.store.location import Place
from tests.support.made_once import demo_shop, finished_job, made_once
from tests.support.private_server import NoServer, PrivateServer

hypothesis.settings.register_profile("busy", deadline=None)  # a busy machine is no failure
hypothesis.settings.load_profile("busy")
DATA = Path(__file__).parent / "data"
LONG = ("tests/ui/", "tests/devices/", "tests/probe/", "tests/test_cli")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Long files first, so that the short ones fill up what is left when they are shared out."""
    items.sort(key=lambda item: not item.nodeid.startswith(LONG))


@pytest.fixture(scope="session")
def data() -> Path:
    return DATA


@pytest.fixture(scope="session")
def truth() -> dict[str, dict[str, object]]:
    """Truth of the sample logs, by pair without its letter."""
    return {row["pair"][2:]: row for row in json.loads((DATA / "truth.json").read_text())}


@pytest.fixture(scope="session")
def finished(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, JobView]:
    """Shop file and view of the demo job after all stages."""
    path = made_once(tmp_path_factory, "finished.db", finished_job)
    copy = tmp_path_factory.mktemp("finished") / "shop.db"
    shutil.copy(path, copy)
    workspace = open_shop(copy)
    view = workspace.compute_now(JOB_ID)
    workspace.close()
    return path, view


@pytest.fixture
def demo_shop_file(tmp_path_factory: pytest.TempPathFactory, tmp_path: Path) -> Path:
    """A copy of the whole demo shop, every machine worked out once, that the test may change."""
    target = tmp_path / "shop.db"
    shutil.copy(made_once(tmp_path_factory, "demo.db", demo_shop), target)
    return target


@pytest.fixture(scope="session")
def finished_view(finished: tuple[Path, JobView]) -> JobView:
    return finished[1]


@pytest.fixture
def finished_shop(finished: tuple[Path, JobView], tmp_path: Path) -> Path:
    """A copy of the finished shop that the test may change."""
    target = tmp_path / "shop.db"
    shutil.copy(finished[0], target)
    return target


@pytest.fixture(scope="session")
def runs(finished_view: JobView) -> tuple[Run, Run]:
    assert finished_view.measured.before is not None and finished_view.measured.after is not None
    return finished_view.measured.before, finished_view.measured.after


@pytest.fixture(scope="session")
def server() -> Iterator[PrivateServer]:
    """A private PostgreSQL; where there is none the tests that need it say why and are passed over."""
    try:
        found = PrivateServer()
    except NoServer as why:
        pytest.skip(f"no PostgreSQL here: {why}")
    yield found
    found.close()


@pytest.fixture
def state_folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """What this computer keeps of a shop on a server, and what the bench is called, lies in the test's own folder."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    return tmp_path / "state"


@pytest.fixture(params=["file", "server"])
def place(request: pytest.FixtureRequest, tmp_path: Path, state_folder: Path) -> Place:
    """An empty shop: a file, and a database on a server."""
    if request.param == "file":
        return tmp_path / "shop.db"
    found: PrivateServer = request.getfixturevalue("server")
    return found.shop()


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[Workspace]:
    """A shop with the newsroom laptop as it comes in, without any run."""
    from brachium.app.demo.demo_shop import add_newsroom

    workspace = open_shop(tmp_path / "shop.db")
    add_newsroom(workspace)
    yield workspace
    workspace.close()
