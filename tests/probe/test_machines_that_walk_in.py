"""Scans of trees that are not the demo's: odd firmware, other drives, batteries told in charge, cores on dies."""

from __future__ import annotations

from pathlib import Path

import pytest

from brachium_probe.scan import scan
from brachium_probe.smbios.fields import clean, decoded
from brachium_probe.smbios.tables import read_entry_point, read_table
from brachium_probe.spd import read_spd
from brachium_probe.tree import Tree
from brachium_probe.words import is_order_code
from tests.support.firmware_tables import entry_2, entry_3, laptop_tables, module, spd_ddr3, structure
from tests.support.system_tree import SystemTree

GIB = 1 << 30
DMI = "/sys/class/dmi/id"
CPU = "/sys/devices/system/cpu"


@pytest.fixture
def tree(tmp_path: Path) -> SystemTree:
    return SystemTree(tmp_path)


def fields(tree: SystemTree) -> dict[str, object]:
    return {f["key"]: f["value"] for f in scan(Tree(str(tree.root)))["fields"]}  # type: ignore[attr-defined]


def notes(tree: SystemTree) -> str:
    return "; ".join(scan(Tree(str(tree.root)))["notes"])  # type: ignore[arg-type]


def tables(tree: SystemTree, table: bytes, entry: bytes | None = None) -> None:
    folder = tree.root / "sys/firmware/dmi/tables"
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "DMI").write_bytes(table)
    (folder / "smbios_entry_point").write_bytes(entry if entry is not None else entry_3(table))


END = structure(127, 0xFEFF, 4, {})


def test_anybody_may_read_the_kind_and_an_unknown_one_stays_unknown(tree: SystemTree) -> None:
    tree.put(f"{DMI}/chassis_type", 10)
    assert fields(tree)["case.kind"] == "notebook"
    for odd in (2, 250, "x"):
        tree.put(f"{DMI}/chassis_type", odd)
        assert "case.kind" not in fields(tree)


def test_an_order_code_gives_way_to_the_selling_name(tree: SystemTree) -> None:
    tree.put(f"{DMI}/product_name", "20XW004AUS")
    tree.put(f"{DMI}/product_version", "Heron X4 Gen 2")
    said = fields(tree)
    assert (said["identity.model"], said["identity.order_code"]) == ("Heron X4 Gen 2", "20XW004AUS")
    tree.put(f"{DMI}/product_version", "1.0")
    tree.put(f"{DMI}/product_family", "Heron X")
    assert fields(tree)["identity.model"] == "Heron X"
    tree.put(f"{DMI}/product_name", "Tern 14")
    assert fields(tree)["identity.model"] == "Tern 14" and "identity.order_code" not in fields(tree)
    assert [is_order_code(t) for t in ("80QQ0123", "Tern 14", "TERN", "A1", "MS-7A38")] == [
        True,
        False,
        False,
        False,
        True,
    ]


def test_how_it_was_started_is_said_only_where_the_tree_can_tell(tree: SystemTree) -> None:
    assert "firmware.mode" not in fields(tree)
    tables(tree, structure(0, 0, 0x18, {0x13: (0x08, 1)}) + END)
    said = fields(tree)
    assert said["firmware.mode"] == "legacy" and said["firmware.uefi_capable"] == "yes"


def test_the_socket_is_its_kind_and_two_processors_are_two(tree: SystemTree) -> None:
    one = {0x04: (1, 1), 0x18: (0x41, 1), 0x19: (0x15, 1), 0x23: (4, 1), 0x25: (8, 1)}
    empty = {**one, 0x18: (0x00, 1)}
    tables(tree, b"".join(structure(4, k, 0x30, f, ("CPU 1",)) for k, f in enumerate((one, one, empty))) + END)
    said = fields(tree)
    assert (said["processor.socket"], said["processor.place"], said["processor.count"]) == ("LGA775", "CPU 1", 2)
    assert (said["processor.cores"], said["processor.threads"]) == (8, 16)


def test_cores_are_told_apart_by_die_and_counted_with_processors_switched_off(tree: SystemTree) -> None:
    for cpu, (package, die, core) in enumerate([(0, 0, 0), (0, 0, 1), (0, 1, 0), (0, 1, 1), (1, 0, 0), (1, 0, 1)]):
        for name, value in (("physical_package_id", package), ("die_id", die), ("core_id", core)):
            tree.put(f"{CPU}/cpu{cpu}/topology/{name}", value)
    assert fields(tree)["processor.cores"] == 6 and fields(tree)["processor.count"] == 2
    tree.put("/proc/cpuinfo", "model name\t: Kestrion M4\ncpu cores\t: 4\nphysical id\t: 0")
    tree.put(f"{CPU}/cpu6/online", 0)
    assert fields(tree)["processor.cores"] == 8, "one shows no topology: cores stated, times packages"


@pytest.mark.parametrize(("code", "kind", "lanes"), [
    (0xA5, "PCIe", None), (0xAA, "PCIe", 16), (0xAC, "PCIe gen 2", 1), (0xB6, "PCIe gen 3", 16),
    (0xB8, "PCIe gen 4", None), (0xC3, "PCIe gen 5", 16), (0x17, "M.2 socket 3 (key M)", None), (0x02, None, None),
])  # fmt: skip
def test_a_slot_has_a_generation_only_where_its_code_names_one(code: int, kind: str | None, lanes: int | None) -> None:
    (slot,) = decoded(read_table(structure(9, 1, 0x11, {0x05: (code, 1), 0x06: (2, 1)})))[9]
    assert (slot["kind"], slot["lanes"]) == (kind, lanes)


def test_slots_are_checked_against_the_devices(tree: SystemTree) -> None:
    slot = {0x04: (1, 1), 0x05: (0xB6, 1), 0x06: (0x0D, 1), 0x0D: (0, 2), 0x0F: (1, 1), 0x10: (0, 1)}
    table = b"".join((structure(9, 1, 0x11, {**slot, 0x07: (4, 1)}, ("J1",)),
                      structure(9, 2, 0x11, {**slot, 0x07: (3, 1), 0x0F: (2, 1)}, ("J2",)), END))  # fmt: skip
    tables(tree, table)
    device = "/sys/bus/pci/devices/0000:02:00.0"
    for name, text in (("class", "0x030000"), ("vendor", "0x1abc"), ("device", "0x0042")):
        tree.put(f"{device}/{name}", text)
    said = notes(tree)
    assert "J1: said to be in use, but no device is at 0000:01:00.0" in said
    assert "J2: said to be free, but a device is at 0000:02:00.0" in said
    (found,) = scan(Tree(str(tree.root)))["pci"]  # type: ignore[misc, attr-defined]
    assert (found["name"], found["id"]) == ("graphics", "1abc:0042")


def test_drives_are_named_by_what_they_hang_on(tree: SystemTree) -> None:
    ways = {"sda": "devices/pci0/ata1/host0/block/sda", "sdb": "devices/pci0/usb1/host1/block/sdb",
            "sdc": "devices/pci0/host2/port-2:0/end_device-2:0/block/sdc", "nvme0n1": "devices/pci0/nvme/nvme0/nvme0n1",
            "nvme0c0n1": "devices/pci0/nvme/nvme0/nvme0c0n1", "mmcblk0": "devices/mmc/mmcblk0",
            "mmcblk1": "devices/mmc/mmcblk1"}  # fmt: skip
    (tree.root / "sys/block").mkdir(parents=True)
    for name, way in ways.items():
        tree.put(f"/sys/{way}/size", 1_000_000)
        (tree.root / "sys/block" / name).symlink_to(tree.root / "sys" / way)
    tree.put("/sys/devices/mmc/mmcblk0/device/type", "MMC")
    tree.put("/sys/devices/mmc/mmcblk1/device/type", "SD")
    found = {d["name"]: d["kind"] for d in scan(Tree(str(tree.root)))["drives"]}  # type: ignore[attr-defined]
    assert found == {"sda": "SATA", "sdb": "USB", "sdc": "SAS", "nvme0n1": "NVMe", "mmcblk0": "eMMC",
                     "mmcblk1": "SD card"}, "a hidden way to an NVMe drive is no drive"  # fmt: skip


def test_every_battery_is_told_in_watt_hours_where_its_volts_are(tree: SystemTree) -> None:
    for number, values in enumerate(({"charge_full": 3_000_000, "charge_full_design": 4_000_000,
                                      "voltage_min_design": 11_100_000, "cycle_count": -1},
                                     {"energy_full": 20_000_000, "energy_full_design": 24_000_000, "cycle_count": 310},
                                     {"charge_full": 3_000_000, "charge_full_design": -1})):  # fmt: skip
        for name, value in {"type": "Battery", "present": 1, **values}.items():
            tree.put(f"/sys/class/power_supply/BAT{number}/{name}", value)
    first, second, third = scan(Tree(str(tree.root)))["batteries"]  # type: ignore[misc, attr-defined]
    assert (first["unit"], first["design_wh"], first["full_wh"]) == ("Ah", pytest.approx(44.4), pytest.approx(33.3))
    assert first["cycles"] is None and first["health"] == 0.75
    assert (second["full_wh"], second["cycles"], second["volts"]) == (20.0, 310, None)
    assert (third["full"], third["design"], third["design_wh"], third["health"]) == (3.0, None, None, None)


def test_memory_that_may_be_soldered_is_asked_about_and_a_maximum_below_what_is_fitted_named(tree: SystemTree) -> None:
    blank = structure(17, 2, 0x28, {0x04: (0x1000, 2), 0x0C: (4096, 2), 0x0E: (0x0D, 1), 0x10: (1, 1), 0x12: (0x1A, 1),
                                    0x17: (2, 1), 0x18: (2, 1)}, ("ChannelB", "0000"))  # fmt: skip
    array = structure(16, 0x1000, 0x17, {0x04: (3, 1), 0x05: (3, 1), 0x07: (4 << 20, 4), 0x0D: (2, 2)})
    tables(tree, array + module(1, "ChannelA", 4096) + blank + END)
    said = notes(tree)
    assert "ChannelB may be soldered memory" in said and "ChannelA may be" not in said
    assert "maximum of 4 GiB, but 8 GiB are fitted" in said


def test_buffering_ranks_and_sizes_that_are_only_a_least(tree: SystemTree) -> None:
    def one(detail: int, size: int = 4096) -> dict[str, object]:
        fields_ = {0x0C: (size, 2), 0x13: (detail, 2), 0x1B: (0x82, 1), 0x08: (72, 2), 0x0A: (64, 2)}
        return decoded(read_table(structure(17, 1, 0x28, fields_)))[17][0]

    assert [one(1 << bit)["buffering"] for bit in (13, 14, 15, 7)] == ["registered", "unbuffered", "load-reduced", None]
    assert one(3 << 13)["buffering"] is None, "both at once say nothing"
    assert one(0)["ranks"] == 2 and one(0)["ecc"] is True
    assert one(0, 0x7FFF)["size_bytes"] == 32 * GIB and one(0, 0x7FFF)["size_at_least"] is True
    assert one(0)["size_at_least"] is False


def test_the_identifier_is_read_in_the_order_of_its_version() -> None:
    table = structure(1, 1, 0x1B, {0x08: (int.from_bytes(bytes(range(16)), "little"), 16)}) + END
    old, new = (
        decoded(read_table(table, read_entry_point(entry_2(table, 2, v))))[1][0]["uuid"] for v in ((2, 5), (2, 6))
    )
    assert old == "00010203-0405-0607-0809-0a0b0c0d0e0f" and new == "03020100-0504-0706-0809-0a0b0c0d0e0f"


@pytest.mark.parametrize(("count", "cut", "says"), [
    (15, 0, ""), (9, 0, "goes on after the 9 structures"), (40, 0, "announces 40 structures, 15 are there"),
    (15, 30, "announces 15 structures, 13 are there"),
])  # fmt: skip
def test_a_table_that_its_entry_point_does_not_describe_is_said(
    tree: SystemTree, count: int, cut: int, says: str
) -> None:
    table = laptop_tables()
    entry = entry_2(table[: len(table) - cut], count)
    tables(tree, table, entry)
    assert says in notes(tree) and bool(notes(tree)) == bool(says)


def test_wrong_checksums_and_strings_that_are_not_there_are_said(tree: SystemTree) -> None:
    table = structure(1, 1, 0x1B, {0x04: (7, 1)}, ("Oakmere",)) + END
    broken = bytearray(entry_2(table, 2))
    broken[0x1C] ^= 3
    broken[4] = 0
    broken[4] = -sum(broken) & 0xFF
    tables(tree, table, bytes(broken))
    assert "intermediate checksum" in notes(tree) and "names string 7, it has 1" in notes(tree)
    wrong = bytearray(entry_3(table))
    wrong[5] ^= 1
    tables(tree, table, bytes(wrong))
    assert "the checksum of its entry point is wrong" in notes(tree)


def test_a_base_of_128_bytes_is_checked_by_itself() -> None:
    whole = spd_ddr3()
    found = read_spd(whole[:128])
    assert found is not None and found["checksum_ok"] is True and found["part"] is None
    spoiled = bytearray(whole[:128])
    spoiled[4] ^= 1
    again = read_spd(bytes(spoiled))
    assert again is not None and again["checksum_ok"] is False


def test_control_characters_are_gone_before_anybody_sees_them() -> None:
    assert clean("Tern\x1b[2J 14\x07\u009b31m") == "Tern [2J 14 31m"
