"""The shop of these tests is a file, and a database on a server: what is edited is kept alike."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from brachium.app.demo.demo_shop import add_newsroom
from brachium.app.shop.open_shop import open_shop
from brachium.app.shop.workspace import Workspace
from brachium.store.location import Place


@pytest.fixture
def shop(place: Place) -> Iterator[Workspace]:
    """A shop with the newsroom laptop as it comes in, without any run."""
    workspace = open_shop(place)
    add_newsroom(workspace)
    workspace.lanes.drain("store")
    yield workspace
    workspace.close()
