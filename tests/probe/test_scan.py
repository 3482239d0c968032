"""Firmware tables, module data and system trees: every field where the standard puts it, and nothing breaks it."""

from __future__ import annotations

import json
import random
import time
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium_probe.scan import scan
from brachium_probe.smbios.fields import clean, decoded
from brachium_probe.smbios.tables import read_entry_point, read_table
from brachium_probe.spd import crc16, read_spd
from brachium_probe.startup import start_up
from brachium_probe.tree import Tree
from tests.support.firmware_tables import (
    entry_2,
    entry_3,
    laptop_tables,
    module,
    spd_ddr2,
    spd_ddr3,
    spd_ddr4,
    spd_ddr5,
    structure,
)
from tests.support.system_tree import BTIME, LOADER, SystemTree, loader_stamp, scanned_laptop, utmp

GIB = 1 << 30


def test_every_type_is_decoded_field_by_field() -> None:
    table = laptop_tables()
    read = read_table(table, read_entry_point(entry_3(table)))
    assert read.damaged == "" and read.version == (3, 4) and len(read.structures) == 15
    found = decoded(read)
    assert found[0] == [
        {"vendor": "Oakmere", "version": "1.18", "date": "03/17/2014", "rom_bytes": 8 << 20, "uefi": True}
    ]
    assert found[1][0]["uuid"] == "03020100-0504-0706-0809-0a0b0c0d0e0f", "the first three fields are little-endian"
    assert found[1][0]["version"] is None and found[1][0]["sku"] is None and found[1][0]["serial"] == "OM-T14-20417"
    assert found[3][0]["kind"] == "notebook" and found[3][0]["lock"] is True and found[3][0]["asset"] is None
    chip = found[4][0]
    assert (chip["place"], chip["version"], chip["cores"], chip["threads"], chip["populated"]) == (
        "U3E1",
        "Kestrion M4-35",
        4,
        8,
        True,
    )
    assert found[9][0] == {
        "name": "M.2 slot",
        "kind": "M.2 socket 3 (key M)",
        "lanes": 4,
        "usage": "free",
        "address": "0000:02:01.0",
    }
    assert found[16][0]["max_bytes"] == 16 * GIB and found[16][0]["system"] and not found[16][1]["system"]
    first, second = found[17][:2]
    assert (first["size_bytes"], first["form"], first["type"], first["speed_mts"], first["ranks"], first["ecc"]) == (
        4 * GIB,
        "SO-DIMM",
        "DDR3",
        1600,
        2,
        False,
    )
    assert second["size_bytes"] == 0 and second["type"] is None and second["locator"] == "ChannelB-DIMM0"
    assert found[22][0]["design_mwh"] == 44_000 and found[39][0]["max_w"] == 65 and found[41][0]["enabled"] is True


@pytest.mark.parametrize(
    ("data", "size"),
    [
        (module(1, "A", extended_mib=64 << 10), 64 * GIB),
        (module(1, "A", 0xFFFF), None),
        (module(1, "A", 0x8000 | 512), 512 << 10),
        (structure(17, 1, 0x15, {0x0C: (2048, 2)}), 2 * GIB),
        (structure(17, 1, 0x0C, {}), None),
    ],
    ids=["extended", "unknown", "kibibytes", "version 2.3", "cut short"],
)
def test_sizes_in_all_their_forms(data: bytes, size: int | None) -> None:
    assert decoded(read_table(data))[17][0]["size_bytes"] == size


def test_counts_and_speeds_beyond_a_byte_or_word() -> None:
    fields = {0x23: (0xFF, 1), 0x2A: (96, 2), 0x25: (0xFF, 1), 0x2E: (192, 2)}
    assert decoded(read_table(structure(4, 1, 0x30, fields)))[4][0]["threads"] == 192
    fast = structure(17, 1, 0x5C, {0x15: (0xFFFF, 2), 0x54: (70_000, 4)})
    assert decoded(read_table(fast))[17][0]["speed_mts"] == 70_000


def test_the_older_entry_point_and_wrong_checksums() -> None:
    table = laptop_tables()
    old = read_entry_point(entry_2(table, 5))
    assert old is not None and old.version == (2, 7) and len(read_table(table, old).structures) == 5
    broken = bytearray(entry_3(table))
    broken[7] ^= 1
    assert read_entry_point(bytes(broken)) is None and read_entry_point(b"") is None


@pytest.mark.parametrize(
    ("spoil", "says", "kept"),
    [
        (lambda t: t[:100], "", 1),
        (
            lambda t: t[: t.index(b"\x02\x0f\x02")] + b"\x02\x03" + t[t.index(b"\x02\x0f\x02") + 2 :],
            "says it has 3 bytes",
            2,
        ),
        (lambda t: t.replace(b"T14-B\x00\x00", b"T14-B\x00\x01")[: t.index(b"T14-B") + 7], "have no end", 2),
    ],
)
def test_a_damaged_table_gives_what_was_read_of_it(spoil, says: str, kept: int) -> None:  # type: ignore[no-untyped-def]
    read = read_table(spoil(laptop_tables()))
    assert read.damaged and says in read.damaged and len(read.structures) >= kept


@pytest.mark.parametrize(
    "text", ["To Be Filled By O.E.M.", "Default string", "0000", "  ", "SerNum00", "None", "Not Specified"]
)
def test_placeholders_count_as_absent(text: str) -> None:
    assert clean(text) is None


def test_mutated_tables_never_break_or_hang_it() -> None:
    dice, table = random.Random(5), laptop_tables()
    start = time.monotonic()
    for _ in range(6000):
        data = bytearray(table)
        for _ in range(dice.randint(1, 30)):
            data[dice.randrange(len(data))] = dice.randrange(256)
        cut = bytes(data[: dice.randint(0, len(data))]) if dice.random() < 0.3 else bytes(data)
        read = read_table(cut, read_entry_point(entry_3(cut)))
        assert sum(len(s.data) for s in read.structures) <= len(cut)
        decoded(read)
    assert time.monotonic() - start < 60


@settings(max_examples=300, deadline=None)
@given(st.binary(max_size=700), st.sampled_from([0x08, 0x0B, 0x0C, 0x12]))
def test_any_bytes_of_a_module_give_fields_or_nothing(data: bytes, generation: int) -> None:
    image = data[:2] + bytes([generation]) + data[3:]
    found = read_spd(image)
    assert found is None or found["generation"] in ("DDR2", "DDR3", "DDR4", "DDR5")


@pytest.mark.parametrize(
    ("image", "generation", "form", "size", "speed", "ranks", "cas"),
    [
        (spd_ddr3(), "DDR3", "SO-DIMM", 4 * GIB, 1600, 2, 11),
        (spd_ddr3(1, 16, 4096), "DDR3", "SO-DIMM", 2 * GIB, 1600, 1, 11),
        (spd_ddr3(mtb=12), "DDR3", "SO-DIMM", 4 * GIB, 1333, 2, 10),
        (spd_ddr4(), "DDR4", "DIMM", 8 * GIB, 2666, 1, 19),
        (spd_ddr4(2, 8, 5), "DDR4", "DIMM", 16 * GIB, 2666, 2, 19),
        (spd_ddr4(1, 16, 5), "DDR4", "DIMM", 4 * GIB, 2666, 1, 19),
        (spd_ddr5(), "DDR5", "SO-DIMM", 16 * GIB, 4800, 1, 39),
        (spd_ddr2(), "DDR2", "DIMM", 2 * GIB, 800, 2, None),
    ],
)
def test_modules_of_each_generation(
    image: bytes, generation: str, form: str, size: int, speed: int, ranks: int, cas: int | None
) -> None:
    found = read_spd(image)
    assert found is not None
    assert (
        found["generation"],
        found["form"],
        found["size_bytes"],
        found["speed_mts"],
        found["ranks"],
        found["cas"],
    ) == (generation, form, size, speed, ranks, cas)
    assert found["checksum_ok"] is True and str(found["part"]).startswith("PLV-")


def test_a_wrong_checksum_is_said_and_the_data_still_shown() -> None:
    image = bytearray(spd_ddr4(ecc=True))
    image[20] ^= 0x10
    found = read_spd(bytes(image))
    assert (
        found is not None and found["checksum_ok"] is False and found["size_bytes"] == 8 * GIB and found["ecc"] is True
    )
    assert crc16(b"123456789") == 0x31C3, "the published check value of this CRC"


@pytest.fixture
def tree(tmp_path: Path) -> SystemTree:
    return scanned_laptop(tmp_path)


def fields(found: dict[str, object]) -> dict[str, object]:
    return {f["key"]: f["value"] for f in found["fields"]}  # type: ignore[attr-defined, index]


def test_a_captured_tree_says_the_whole_machine(tree: SystemTree) -> None:
    found = scan(Tree(str(tree.root)))
    said = fields(found)
    assert said["identity.model"] == "Tern 14" and said["identity.serial"] == "OM-T14-20417"
    assert said["case.kind"] == "notebook" and said["firmware.mode"] == "UEFI" and said["firmware.secure_start"] == "on"
    assert said["processor.name"] == "Kestrion M4-35" and said["processor.cores"] == 2
    assert len(found["memory"]["places"]) == 2, "the flash array is not memory"  # type: ignore[index, call-overload]
    drive = found["drives"][0]  # type: ignore[index]
    assert drive["size_bytes"] == 976_773_168 * 512 and drive["rotational"] is True and drive["kind"] == "SATA"
    assert (drive["link"], drive["link_max"], drive["model"]) == ("3.0 Gbps", "6.0 Gbps", "Sandpiper 500")
    battery = found["batteries"][0]  # type: ignore[index]
    assert battery["health"] == pytest.approx(0.7) and battery["cycles"] is None and battery["unit"] == "Wh"
    assert found["modules"][0]["part"] == "PLV-4G-1600" and found["notes"] == []  # type: ignore[index]


def test_without_tables_the_kernels_copies_serve_and_what_is_missing_names_its_command(tree: SystemTree) -> None:
    (tree.root / "sys/firmware/dmi/tables/DMI").unlink()
    tree.put("/sys/class/dmi/id/product_name", "Tern 14")
    tree.put("/sys/class/dmi/id/sys_vendor", "System manufacturer")
    found = scan(Tree(str(tree.root)))
    assert fields(found)["identity.model"] == "Tern 14" and "identity.maker" not in fields(found)
    absent = {a["what"]: a for a in found["absent"]}  # type: ignore[attr-defined]
    assert "only a placeholder (System manufacturer)" in absent["identity.maker"]["why"]
    refused = Tree(str(tree.root))
    refused.bytes = lambda name, limit=0: refused.refused.add(name)  # type: ignore[method-assign, assignment, return-value]
    commands = {a["command"] for a in scan(refused)["absent"]}  # type: ignore[attr-defined]
    assert any("as root" in c for c in commands)


def test_a_tree_with_nothing_in_it_gives_an_empty_scan(tmp_path: Path) -> None:
    found = scan(Tree(str(tmp_path)))
    assert found["drives"] == [] and fields(found) == {}, "how it was started is not known either"


@pytest.mark.parametrize(
    ("files", "value", "source"),
    [
        ({"sys/firmware/efi/efivars/LoaderTimeInitUSec-1": b"\x06\x00\x00\x00" + "4213000\x00".encode("utf-16-le")},
         4213, "EFI variable LoaderTimeInitUSec"),
        ({"sys/firmware/acpi/fpdt/boot/firmware_start_ns": b"100000000\n",
          "sys/firmware/acpi/fpdt/boot/bootloader_launch_ns": b"6600000000\n"}, 6500, "/sys/firmware/acpi/fpdt/boot"),
        ({"sys/firmware/efi/efivars/LoaderTimeInitUSec-1": b"\x06\x00"}, None, ""),
        ({"sys/firmware/acpi/fpdt/boot/bootloader_launch_ns": b"6600000000\n"}, None, ""),
    ],
)  # fmt: skip
def test_the_firmwares_share_of_a_start_is_read_where_it_is_told(
    tmp_path: Path, files: dict[str, bytes], value: int | None, source: str
) -> None:
    for name, data in files.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_bytes(data)
    found = [f for f in scan(Tree(str(tmp_path)))["fields"] if f["key"] == "startup.firmware_ms"]
    assert [(f["value"], f["source"]) for f in found] == ([(value, source)] if value else [])


START = {
    LOADER: loader_stamp(5_300_000),
    "proc/stat": f"cpu 1 2 3\nintr {' 0' * 60_000}\nbtime {BTIME}\n".encode(),
    "run/utmp": utmp(3.1, 17.45),
}
FPDT = {
    "sys/firmware/acpi/fpdt/boot/firmware_start_ns": b"100000000",
    "sys/firmware/acpi/fpdt/boot/exitbootservice_end_ns": b"7100000000",
}


@pytest.mark.parametrize(
    ("files", "seconds", "why"),
    [
        (START, 22.75, ""),
        (FPDT | START | {LOADER: b""}, 24.45, ""),
        (START | {"system-update": b""}, 22.75, "updates were pending"),
        (START | {LOADER: b""}, None, "firmware does not say"),
        (START | {"run/utmp": b""}, None, "does not say when its start was over"),
        (START | {"run/utmp": b"\x01" * 400}, None, "does not say when its start was over"),
        (START | {"run/utmp": utmp(-7200.0, -7180.0)}, None, "clock was set"),
        (START | {"run/utmp": utmp(3600.0, 3620.0)}, None, "clock was set"),
    ],
)  # fmt: skip
def test_the_whole_start_is_firmware_loader_and_system(
    tmp_path: Path, files: dict[str, bytes], seconds: float | None, why: str
) -> None:
    for name, data in files.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_bytes(data)
    value, said = start_up(Tree(str(tmp_path)))
    assert value == (pytest.approx(seconds) if seconds else None)
    assert why in said and bool(said) == bool(why)


@pytest.mark.parametrize("text", ["inf", "-Infinity", "NaN", "9" * 5000])
def test_a_number_that_cannot_be_is_absent_and_named(tmp_path: Path, text: str) -> None:
    """Neither a fact nor a crash: its path and what stands there are said."""
    tree = scanned_laptop(tmp_path / "tree")
    name = "/sys/class/power_supply/BAT0/cycle_count"
    tree.put(name, text)
    tree.put("/proc/meminfo", f"MemTotal: {text} kB\nMemAvailable: 4 kB\n")
    found = scan(Tree(str(tree.root)))
    said = [line for line in found["absent"] if line["what"] == name]  # type: ignore[attr-defined]
    assert len(said) == 1 and "is no number that can be" in said[0]["why"]
    assert not {"Infinity", "NaN"} & set(json.dumps({**found, "absent": []}).replace(",", " ").split())
