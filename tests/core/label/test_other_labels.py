"""Labels of drives, adapters, batteries and supplies, and the kind of label that a text is."""

from __future__ import annotations

import json

import pytest
from typer.testing import CliRunner

from brachium.cli.commands import app
from brachium.core.label.any_label import read_label
from brachium.formats.answers.label_json import label_values

GB = 10**9


@pytest.mark.parametrize(("text", "kind", "said"), [
    ("500gb 2.5 hdd", "drive", {"size_bytes": 500 * GB, "form": "2.5 in", "rotational": True}),
    ("HDD 1TB 5400 rpm 2,5\" 9,5mm SATA 6Gb/s 512e", "drive",
     {"size_bytes": 1000 * GB, "rpm": 5400, "height_mm": 9.5, "link_mb_s": 600.0, "sector_bytes": 512}),
    ("1tb u.2 nvme ssd", "drive", {"interface": "NVMe", "form": "2.5 in", "rotational": False}),
    ("1TB NVMe M.2 2280 PCIe gen 3 x4", "drive",
     {"interface": "NVMe", "length_mm": 80, "link_mb_s": 3940.0, "rotational": False}),
    ("256gb m.2 2242 sata b+m", "drive", {"interface": "SATA", "key": "B+M", "length_mm": 42, "link_mb_s": None}),
    ("240 GB SSD SATA3 7mm", "drive", {"interface": "SATA", "link_mb_s": 600.0, "height_mm": 7.0}),
    ("SATA 3.0 Gb/s 320GB", "drive", {"link_mb_s": 300.0, "size_bytes": 320 * GB, "form": None}),
    ("4TB 3.5in 7200rpm 4Kn 256MB cache", "drive", {"sector_bytes": 4096, "rpm": 7200, "form": "3.5 in"}),
    ("40GB IDE 3.5", "drive", {"interface": "parallel ATA", "rotational": None}),
    ("512GB", "drive", {"size_bytes": 512 * GB}), ("512MB", "memory", {"size_mib": 512}),
    ("19.5V 3.34A 4.5x3.0mm centre positive", "adapter",
     {"rated_w": 65.1, "plug": "4.5 x 3 mm", "polarity": "centre positive", "usb_c": False}),
    ("USB-C 5V/3A 9V/3A 20V/3.25A", "adapter",
     {"usb_c": True, "rated_w": 65.0, "profiles": [[5, 3], [9, 3], [20, 3.25]]}),
    ("11.1V 4400mAh 6 cells", "battery", {"design_wh": 48.8, "cells": 6}),
    ("battery 57 Wh 15.2 V", "battery", {"design_wh": 57.0, "volts": 15.2, "design_mah": None}),
    ("ATX 500W +12V 38A 2x 6-pin 4x SATA", "supply",
     {"rated_w": 500.0, "rated_12v_w": 456.0, "connectors": [["6-pin card power", 2], ["SATA power", 4]]}),
    ("650W 12V1 20A 12V2 20A 1x 8-pin eps", "supply",
     {"rated_12v_w": None, "connectors": [["8-pin processor power", 1]]}),
])  # fmt: skip
def test_each_kind_is_known_and_read(text: str, kind: str, said: dict[str, object]) -> None:
    found = read_label(text)
    assert found is not None
    values = json.loads(json.dumps(label_values(*found)))
    assert values["kind"] == kind and values["not_understood"] == []
    assert {k: values[k] for k in said} == said
    assert {k for k in said if said[k] is None} <= set(values["left_open"])


def test_figures_that_cannot_be_stay_unread() -> None:
    for text, left in (("900000GB ssd", "900000GB"), ("20V 99999W adapter", "99999W"), ("hdd 2.5 turbo", "turbo")):
        found = read_label(text)
        assert found is not None and found[1].not_understood == (left,)


def test_the_command_reads_a_label_for_programs_and_people() -> None:
    run = CliRunner().invoke
    done = run(app, ["label", "4GB 1Rx8 PC3L-12800S-11-13-B4", "--json"])
    values = json.loads(done.stdout)
    assert (values["size_mib"], values["speed_mts"], values["volts"], values["left_open"]) == (4096, 1600, 1.35, [])
    people = run(app, ["label", "2x4 ddr3 bogus"]).output
    assert "left open: form, ranks" in people and "not understood: bogus" in people
    refused = run(app, ["label", "bogus"])
    assert refused.exit_code == 1 and "no word of “bogus”" in refused.output
