"""Our decoding against an independent one, field by field.

`tests/data/firmware/*.txt` holds what the usual decoder of Linux distributions prints for the tables beside it.
The tables `virtual-*` were made by a machine emulator's firmware (entry points 2.8 and 3.0), `laptop` by tests/support.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest

from brachium_probe.smbios.fields import clean, decoded
from brachium_probe.smbios.tables import read_entry_point, read_table

DATA = Path(__file__).parents[1] / "data/firmware"
UNITS = {"B": 1, "kB": 1 << 10, "MB": 1 << 20, "GB": 1 << 30, "TB": 1 << 40}
Rule = tuple[str, Callable[[str], object]]


def size(text: str) -> int | None:
    if text == "No Module Installed":
        return 0
    match = re.match(r"(\d+) (B|kB|MB|GB|TB)$", text)
    return int(match.group(1)) * UNITS[match.group(2)] if match else None


def number(text: str) -> int | None:
    match = re.match(r"(\d+)( |$)", text)
    return int(match.group(1)) if match else None


def named(**names: str) -> Callable[[str], object]:
    """Words of the reference that we word otherwise; what it calls other or unknown is nothing to us."""
    return lambda text: names.get(text.replace(" ", "_").replace("-", "_"), None if "nknown" in text else clean(text))


STRINGS: dict[str, Rule] = {
    "Manufacturer": ("maker", clean),
    "Version": ("version", clean),
    "Serial Number": ("serial", clean),
}
RULES: dict[int, dict[str, Rule]] = {
    0: {
        "Vendor": ("vendor", clean),
        "Version": ("version", clean),
        "Release Date": ("date", clean),
        "ROM Size": ("rom_bytes", size),
    },
    1: {
        **STRINGS,
        "Product Name": ("product", clean),
        "UUID": ("uuid", clean),
        "SKU Number": ("sku", clean),
        "Family": ("family", clean),
    },
    2: {**STRINGS, "Product Name": ("product", clean), "Asset Tag": ("asset", clean)},
    3: {
        **STRINGS,
        "Asset Tag": ("asset", clean),
        "Type": ("kind", lambda t: None if t == "Other" else t.lower()),
        "Lock": ("lock", lambda t: t == "Present"),
    },
    4: {
        "Manufacturer": ("maker", clean),
        "Version": ("version", clean),
        "Socket Designation": ("place", clean),
        "External Clock": ("external_mhz", number),
        "Max Speed": ("max_mhz", number),
        "Current Speed": ("current_mhz", number),
        "Status": ("populated", lambda t: t.startswith("Populated")),
        "Serial Number": ("serial", clean),
        "Part Number": ("part", clean),
        "Core Count": ("cores", number),
        "Core Enabled": ("enabled", number),
        "Thread Count": ("threads", number),
    },
    9: {
        "Designation": ("name", clean),
        "Current Usage": ("usage", named(Available="free", In_Use="in use")),
        "Bus Address": ("address", clean),
    },
    16: {
        "Error Correction Type": ("ecc", named(None_="none", Multi_bit_ECC="multi-bit ECC")),
        "Maximum Capacity": ("max_bytes", size),
        "Number Of Devices": ("places", number),
    },
    17: {
        "Size": ("size_bytes", size),
        "Form Factor": ("form", named(SODIMM="SO-DIMM")),
        "Locator": ("locator", clean),
        "Bank Locator": ("bank", clean),
        "Type": ("type", named(RAM="")),
        "Speed": ("speed_mts", number),
        "Manufacturer": ("maker", clean),
        "Serial Number": ("serial", clean),
        "Part Number": ("part", clean),
        "Rank": ("ranks", number),
        "Configured Memory Speed": ("configured_mts", number),
        "Data Width": ("data_bits", number),
    },
    19: {"Range Size": ("size_bytes", size)},
    22: {
        "Manufacturer": ("maker", clean),
        "Name": ("name", clean),
        "Design Capacity": ("design_mwh", number),
        "Design Voltage": ("design_mv", number),
    },
    39: {"Name": ("name", clean), "Manufacturer": ("maker", clean), "Max Power Capacity": ("max_w", number)},
    41: {"Reference Designation": ("name", clean), "Status": ("enabled", lambda t: t == "Enabled")},
}


def reference(text: str) -> list[tuple[int, dict[str, str]]]:
    """(type, fields) of every structure that the reference prints."""
    out = []
    for block in text.split("Handle 0x")[1:]:
        match = re.search(r"DMI type (\d+)", block)
        assert match is not None
        lines = (re.match(r"^\t(\w[^:]*): (.*)$", line) for line in block.splitlines())
        out.append((int(match.group(1)), {m.group(1): m.group(2) for m in lines if m is not None}))
    return out


@pytest.mark.parametrize("name", ["virtual-2.8", "virtual-3.0", "laptop"])
def test_fields_agree_with_the_reference(name: str) -> None:
    table = read_table((DATA / f"{name}.table").read_bytes(), read_entry_point((DATA / f"{name}.entry").read_bytes()))
    assert table.damaged == "" and table.version is not None
    wanted = reference((DATA / f"{name}.txt").read_text())
    assert [s.kind for s in table.structures] == [kind for kind, _ in wanted]
    ours = {kind: iter(found) for kind, found in decoded(table).items()}
    compared = 0
    for kind, said in wanted:
        if kind not in RULES:
            continue
        mine = next(ours[kind])
        for label, (field, read) in RULES[kind].items():
            if label not in said or "OUT OF SPEC" in said[label]:
                continue
            theirs = (
                read(said[label]) or None
                if field not in ("size_bytes", "lock", "populated", "enabled")
                else read(said[label])
            )
            value = None if field == "ecc" and mine[field] == "none" else mine[field]
            assert value == theirs, f"type {kind}, {label}: {mine[field]!r} against {said[label]!r}"
            compared += 1
    assert compared >= 50
