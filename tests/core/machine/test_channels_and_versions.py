"""Channels that labels tell, and versions that can be ordered: what nobody says stays unknown."""

from __future__ import annotations

import pytest

from brachium.core.machine.channels import channels_of
from brachium.core.machine.firmware_version import at_least


@pytest.mark.parametrize(
    ("labels", "channels"),
    [
        (["ChannelA-DIMM0", "ChannelB-DIMM0"], (0, 1)), (["A1", "A2", "B1", "B2"], (0, 0, 1, 1)),
        (["DIMM_A1", "DIMM_B1"], (0, 1)), (["Controller0-ChannelA", "Controller1-ChannelA"], (0, 1)),
        (["P0 CHANNEL A", "P0 CHANNEL B", "P1 CHANNEL A", "P1 CHANNEL B"], (0, 1, 2, 3)),
        (["DIMM 1", "DIMM 2"], (None, None)), (["DIMM A", "DIMM B"], (None, None)),
        (["Memory slot 1", "Memory slot 2"], (None, None)), (["A1", "A2"], (None, None)),
        (["ChannelA-DIMM0", "DIMM1"], (None, None)), ([], ()),
    ],
)  # fmt: skip
def test_channels_come_from_labels_and_never_from_their_order(labels: list[str], channels: tuple[object, ...]) -> None:
    assert channels_of(labels) == channels


@pytest.mark.parametrize(
    ("now", "asked", "is_so"),
    [
        ("1.18", "1.9", True), ("1.9", "1.18", False), ("1.18", "1.18.1", False), ("A14", "A07", True),
        ("F5", "F10", False), ("2019-03-04", "2018-12-30", True), ("03/04/2019", "2019-03-05", False),
        ("20190304", "2019-03-04", True), ("A14", "1.20", None), ("2019-03-04", "1.20", None), ("F5a", "F5", True),
        ("P1.20", "P1.30", False), ("A14", "A14", True), ("weird", "1", None),
    ],
)  # fmt: skip
def test_versions_are_ordered_only_within_one_format(now: str, asked: str, is_so: bool | None) -> None:
    assert at_least(now, asked) is is_so


def test_the_makers_order_comes_first() -> None:
    assert at_least("B1", "A9", ("B1", "A9")) is False and at_least("A9", "B1", ("B1", "A9")) is True
