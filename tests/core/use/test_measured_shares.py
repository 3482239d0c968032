"""Measured shares in place of a profile's: whole, in the run's proportions, its own ratios where it cannot tell."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.core.machine.machine import Machine
from brachium.core.measure.waiting import KEYS, Limit
from brachium.core.record.job import Job
from brachium.core.record.use_of_job import typed_use, use_of
from brachium.core.use.measured_shares import measured_use
from brachium.core.use.profile import PROFILES, RESOURCES, profile_of

VIDEO = profile_of("video")


def limit(**shares: float) -> Limit:
    return Limit("test own_task", 100.0, dict.fromkeys(KEYS, 0.0) | shares, "", ())


def test_the_shipped_profiles_are_whole_and_named_once() -> None:
    assert len(PROFILES) == 10 and len({p.id for p in PROFILES}) == 10
    assert all(sum(p.shares.values()) == pytest.approx(1.0) and set(p.shares) == set(RESOURCES) for p in PROFILES)


def test_shares_follow_the_run_and_keep_the_profiles_ratio_inside() -> None:
    found = measured_use(VIDEO, (limit(processor=0.3, held=0.1, thread=0.2, storage=0.2, free=0.1, paging=0.1),))
    assert found is not None and found.measured and sum(found.shares.values()) == pytest.approx(1.0)
    assert found.shares["single"] == pytest.approx(0.2 / 0.9), "paging is no share of the profile"
    assert found.shares["all"] + found.shares["memory"] == pytest.approx(0.4 / 0.9)
    assert found.shares["all"] / found.shares["memory"] == pytest.approx(VIDEO.shares["all"] / VIDEO.shares["memory"])
    assert measured_use(VIDEO, ()) is None
    assert measured_use(VIDEO, (limit(paging=1.0),)) is None, "nothing but paging says nothing of the rest"


@given(st.lists(st.floats(0.01, 1.0), min_size=len(KEYS), max_size=len(KEYS)))
def test_measured_shares_are_always_whole(values: list[float]) -> None:
    found = measured_use(VIDEO, (limit(**dict(zip(KEYS, values, strict=True))),))
    assert found is not None and sum(found.shares.values()) == pytest.approx(1.0)
    assert all(v >= 0.0 for v in found.shares.values())


def test_a_job_uses_what_it_was_told() -> None:
    job, seen = Job("a", "a", Machine(), profile_id="video"), (limit(processor=1.0),)
    assert use_of(job, seen) == VIDEO and use_of(replace(job, measured_shares=True), seen).measured
    own = replace(VIDEO, working_set_gib=12.0)
    assert typed_use(replace(job, own_use=own)) == own
    assert typed_use(replace(job, own_use=own, profile_id="office")).id == "office", (
        "another kind of use, another profile"
    )


def test_an_unknown_profile_is_the_first_one() -> None:
    assert profile_of("of a newer program") is PROFILES[0] and profile_of(PROFILES[2].id) is PROFILES[2]


def test_a_group_that_the_profile_does_not_know_is_shared_equally() -> None:
    alone = replace(VIDEO, shares={"single": 1.0})
    found = measured_use(alone, (limit(storage=0.5, thread=0.5),))
    assert found is not None and found.shares["random"] == found.shares["sequential"] == pytest.approx(0.25)
