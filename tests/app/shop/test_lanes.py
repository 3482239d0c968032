"""Lanes: order within a lane, failures delivered, nothing delivered after closing."""

from __future__ import annotations

import threading

import pytest

from brachium.app.shared.lanes import Lanes


def test_work_in_one_lane_runs_in_order_and_lanes_run_beside_each_other() -> None:
    lanes = Lanes()
    gate, seen = threading.Event(), []
    lanes.submit("compute", gate.wait)
    for k in range(20):
        lanes.submit("store", lambda k=k: k, seen.append)
    lanes.drain("store")
    assert seen == list(range(20)), "the busy compute lane held nothing up"
    gate.set()
    lanes.close()


def test_failures_are_delivered_and_without_a_listener_kept_in_the_future() -> None:
    lanes = Lanes()
    told: list[Exception] = []

    def fail() -> None:
        raise ValueError("broken")

    lanes.submit("compute", fail, None, told.append).result()
    assert [str(e) for e in told] == ["broken"]
    with pytest.raises(ValueError, match="broken"):
        lanes.submit("compute", fail).result()
    lanes.close()


def test_results_are_posted_not_called_in_the_worker() -> None:
    posted: list[object] = []
    lanes = Lanes(posted.append)
    done: list[int] = []
    lanes.submit("compute", lambda: 7, done.append).result()
    assert done == [] and len(posted) == 1
    call = posted[0]
    assert callable(call)
    call()
    assert done == [7]
    lanes.close()


def test_closing_finishes_what_is_to_be_stored_and_drops_the_rest() -> None:
    lanes = Lanes()
    gate, stored, computed = threading.Event(), [], []
    lanes.submit("store", gate.wait)
    lanes.submit("store", lambda: stored.append(1))
    lanes.submit("compute", gate.wait)
    lanes.submit("compute", lambda: computed.append(1))
    closer = threading.Thread(target=lanes.close)
    closer.start()
    closer.join(0.1)
    gate.set()
    closer.join()
    assert stored == [1] and computed == []
