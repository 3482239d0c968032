"""A scan becomes a record: fills what is empty, keeps what a person said, asks where the two disagree."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

from brachium.app.intake.local_job import scan_tree, with_scan
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.units import GIB
from brachium.core.base.why import Origin
from brachium.core.fit.engine import evaluate
from brachium.core.fit.every_rule import ALL_RULES
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import Fitted, Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.parts import MemoryModule
from brachium.core.machine.power_parts import Battery
from brachium.core.machine.scanned.from_scan import filled_from_scan, machine_of
from brachium.core.machine.scanned.places_on_links import link_mb_s
from brachium.core.machine.scanned.scan import Scan, ScannedDrive, ScannedField, ScannedModule, ScannedPlace
from brachium.core.machine.scanned.scan_differences import scan_differences, with_scanned
from brachium.core.record.job import Job
from brachium.demo.newsroom import MACHINE
from brachium.formats.scan_plain import scan_from_plain
from brachium_probe.tree import Tree
from tests.probe.test_scan import tree  # noqa: F401 - a whole laptop as a captured tree
from tests.support.system_tree import SystemTree


@pytest.fixture
def scan(tree: SystemTree) -> Scan:  # noqa: F811
    return scan_tree(Tree(str(tree.root)))


def test_the_demo_laptop_read_from_its_tree_is_the_demo_laptop(scan: Scan) -> None:
    machine = machine_of(scan)
    assert machine.kind is MachineKind.LAPTOP and machine.identity.model == "Tern 14"
    assert [s.label for s in machine.slots] == ["ChannelA-DIMM0", "ChannelB-DIMM0"]
    assert [s.channel for s in machine.slots] == [0, 1] and machine.memory.published_max_bytes == 16 * GIB
    assert machine.configuration().memory_bytes() == 4 * GIB, "one of two places filled"
    assert bandwidth_mb_s(machine, machine.configuration()) == 12_800.0
    bay = machine.bays[0]
    assert (bay.link_mb_s, bay.max_height_mm) == (300.0, None), "the negotiated speed, and a height nobody knows"
    assert machine.origin("identity.serial") is Origin.SCANNED and machine.origin("identity.year") is Origin.ASSUMED
    verdicts = evaluate(ALL_RULES, machine, machine.configuration())
    assert {v.rule for v in verdicts} >= {"MEM-FORM", "MEM-CHAN", "STO-IF"}


def test_filling_keeps_what_a_person_said(scan: Scan) -> None:
    typed = replace(Machine(), identity=replace(Machine().identity, model="Tern 14 rev 2"),
                    origins={"identity.model": Origin.LABEL})  # fmt: skip
    machine = filled_from_scan(typed, scan)
    assert machine.identity.model == "Tern 14 rev 2" and machine.origin("identity.model") is Origin.LABEL
    assert machine.identity.serial == "OM-T14-20417" and len(machine.slots) == 2
    bare = MACHINE.with_part("battery", None)
    whole = filled_from_scan(bare, scan)
    assert (whole.slots, whole.bays) == (MACHINE.slots, MACHINE.bays)
    battery = whole.configuration().parts["battery"]
    assert whole.fitted == (*bare.fitted, Fitted("battery", battery)) and isinstance(battery, Battery)
    assert battery.full_wh is not None and battery.design_wh is not None and battery.full_wh < battery.design_wh


def test_a_worn_battery_is_a_difference_and_one_told_in_ah_has_no_energy(scan: Scan) -> None:
    machine = filled_from_scan(MACHINE.with_part("battery", None), scan)
    (was,) = scan.batteries
    assert was.full is not None
    worn = replace(scan, batteries=(replace(was, full=0.5 * was.full, health=0.35),))
    found = {d.key: d for d in scan_differences(machine, worn)}
    assert found["place:battery"].seen == f"{0.5 * was.full:.1f} Wh when full"
    again = with_scanned(machine, worn, ["place:battery"])
    assert not [d for d in scan_differences(again, worn) if d.key == "place:battery"]
    gone = replace(scan, batteries=(replace(was, present=False),))
    assert {d.key: d.seen for d in scan_differences(machine, gone)}["place:battery"] == "empty"
    assert "place:battery" not in {d.key for d in scan_differences(machine, replace(scan, batteries=()))}
    in_ah = replace(scan, batteries=(replace(was, unit="Ah", full_wh=None, design_wh=None),), packs=())
    told = filled_from_scan(MACHINE.with_part("battery", None), in_ah).configuration().parts["battery"]
    assert isinstance(told, Battery) and told.full_wh is None and told.design_wh is None
    by_volts = replace(in_ah, batteries=(replace(was, unit="Ah", full_wh=None, design_wh=40.0, health=0.5),))
    told = filled_from_scan(MACHINE.with_part("battery", None), by_volts).configuration().parts["battery"]
    assert isinstance(told, Battery) and (told.full_wh, told.design_wh) == (20.0, 40.0), "charge x design voltage"


def test_a_changed_machine_is_asked_about_and_taken_or_kept(scan: Scan) -> None:
    record = machine_of(scan)
    assert scan_differences(record, scan) == ()
    grown = replace(scan, places=(scan.places[0], replace(scan.places[1], size_bytes=8 * GIB, type="DDR3",
                                                           speed_mts=1600)),
                    fields=tuple(replace(f, value="1.20") if f.key == "firmware.version" else f for f in scan.fields),
                    drives=(replace(scan.drives[0], size_bytes=480 * 10**9, rotational=False),))  # fmt: skip
    found = {d.label: (d.recorded, d.seen) for d in scan_differences(record, grown)}
    assert found == {
        "firmware": ("1.18", "1.20"),
        "ChannelB-DIMM0": ("empty", "8 GiB DDR3-1600"),
        "Drive sda": ("500 GB disk", "480 GB SSD"),
    }
    keys = [d.key for d in scan_differences(record, grown)]
    now = with_scanned(record, grown, keys)
    assert scan_differences(now, grown) == () and now.configuration().memory_bytes() == 12 * GIB
    unknown = replace(scan, places=(replace(scan.places[0], size_bytes=None), scan.places[1]))
    assert scan_differences(record, unknown) == (), "an unknown size does not say that the place is empty"
    assert record.configuration().memory_bytes() == 4 * GIB, "the record itself is never changed"


def test_a_record_made_by_hand_is_compared_place_by_place(scan: Scan) -> None:
    """Places of the demo's record have other names; two places on each side are taken in order."""
    hand = replace(MACHINE, bays=MACHINE.bays[:1])
    assert "Memory slot 1" not in [d.label for d in scan_differences(hand, scan)]
    swapped = replace(scan, places=(replace(scan.places[0], size_bytes=0), scan.places[1]))
    assert ("4 GiB DDR3-1600", "empty") in [(d.recorded, d.seen) for d in scan_differences(hand, swapped)]


@pytest.mark.parametrize(
    ("drive", "rate"),
    [
        (ScannedDrive("sda", "SATA", link="1.5 Gbps", link_max="6.0 Gbps"), 150.0),
        (ScannedDrive("sda", "SATA", link=None), None),
        (ScannedDrive("nvme0n1", "NVMe", link="gen 1 x4", link_max="gen 3 x4"), 3940.0),
        (ScannedDrive("nvme0n1", "NVMe"), None),
    ],
)
def test_links_become_rates_or_stay_unknown(drive: ScannedDrive, rate: float | None) -> None:
    assert link_mb_s(drive) == rate


def test_odd_places_are_left_out_and_repeated_names_numbered() -> None:
    place = ScannedPlace(1, 4 * GIB, "SO-DIMM", "DDR4", "DIMM", speed_mts=2666)
    machine = machine_of(Scan(places=(place, replace(place, handle=2), ScannedPlace(3, None), ScannedPlace(4, 0))))
    assert [s.label for s in machine.slots][:2] == ["Memory slot 1", "Memory slot 2"] and len(machine.fitted) == 2
    assert machine_of(Scan(places=(ScannedPlace(1, 0),))).slots == (), "without any form there is no place to record"
    soldered = machine_of(Scan(places=(ScannedPlace(1, 8 * GIB, "row of chips", "LPDDR4", speed_mts=3200),)))
    assert soldered.slots[0].form == "soldered"


def test_a_modules_own_data_count_before_the_firmwares_words_where_they_are_sound() -> None:
    empty = ScannedPlace(2, 0, "SO-DIMM", None, "B")
    places = (ScannedPlace(1, 4 * GIB, "SO-DIMM", "DDR3", "A", configured_mts=1333, configured_mv=1350), empty,
              ScannedPlace(3, 8 * GIB, "SO-DIMM", "DDR3", "C", configured_mts=1333))  # fmt: skip
    own = (ScannedModule("0-0050", "DDR3", 4 * GIB, 1600, (1.5, 1.35), "M4"),
           ScannedModule("0-0052", "DDR3", 8 * GIB, 1866, (1.5,), None, checksum_ok=False))  # fmt: skip

    def rated(modules: tuple[ScannedModule, ...]) -> list[tuple[int, tuple[float, ...]]]:
        return [(f.part.speed_mts, f.part.volts) for f in machine_of(Scan(places=places, modules=modules)).fitted
                if isinstance(f.part, MemoryModule)]  # fmt: skip

    assert rated(own) == [(1600, (1.5, 1.35)), (1333, ())], "a doubtful module keeps the firmware's words"
    assert rated(own[1:]) == rated(own[::-1]) == rated(()) == [(1333, (1.35,)), (1333, ())]
    assert rated((replace(own[0], generation="DDR4"), own[1])) == rated(())


def test_a_scan_of_another_version_or_with_wrong_fields_is_refused() -> None:
    with pytest.raises(ExpectedProblem, match="newer Brachium"):
        scan_from_plain({"version": 9}, "x")
    with pytest.raises(ExpectedProblem, match=r"drives\.0"):
        scan_from_plain({"version": 1, "drives": [{"name": 5}]}, "x")
    job = with_scan(Job("a", "a", Machine()), Scan(fields=(ScannedField("identity.model", "Tern 14", "Tern 14", "x"),)))
    assert job.machine.identity.model == "Tern 14" and job.scan is not None


def test_an_empty_tree_changes_nothing(tmp_path: Path) -> None:
    assert filled_from_scan(MACHINE, scan_tree(Tree(str(tmp_path)))) == MACHINE
