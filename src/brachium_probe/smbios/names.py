"""Names behind the numbers of SMBIOS structures (DMTF DSP0134, clause 7)."""

from __future__ import annotations

CHASSIS = {
    0x03: "desktop",
    0x04: "low-profile desktop",
    0x05: "flat desktop",
    0x06: "mini tower",
    0x07: "tower",
    0x08: "portable",
    0x09: "laptop",
    0x0A: "notebook",
    0x0B: "handheld",
    0x0C: "docking station",
    0x0D: "all-in-one",
    0x0E: "sub-notebook",
    0x0F: "space-saving",
    0x10: "lunch box",
    0x11: "main server",
    0x12: "expansion chassis",
    0x13: "sub-chassis",
    0x14: "bus expansion chassis",
    0x15: "peripheral chassis",
    0x16: "storage chassis",
    0x17: "rack mount",
    0x18: "sealed-case",
    0x19: "multi-system chassis",
    0x1C: "blade",
    0x1D: "blade enclosure",
    0x1E: "tablet",
    0x1F: "convertible",
    0x20: "detachable",
    0x21: "gateway",
    0x22: "embedded",
    0x23: "mini PC",
    0x24: "stick PC",
}
FORMS = {
    0x03: "SIMM",
    0x09: "DIMM",
    0x0B: "row of chips",
    0x0C: "RIMM",
    0x0D: "SO-DIMM",
    0x0F: "FB-DIMM",
    0x10: "die",
}
MEMORY_TYPES = {
    0x0F: "SDR",
    0x11: "RDRAM",
    0x12: "DDR",
    0x13: "DDR2",
    0x14: "DDR2 FB-DIMM",
    0x18: "DDR3",
    0x1A: "DDR4",
    0x1B: "LPDDR",
    0x1C: "LPDDR2",
    0x1D: "LPDDR3",
    0x1E: "LPDDR4",
    0x22: "DDR5",
    0x23: "LPDDR5",
}
ECC = {0x03: "none", 0x04: "parity", 0x05: "single-bit ECC", 0x06: "multi-bit ECC", 0x07: "CRC"}
SLOT_TYPES = {
    0x03: "ISA", 0x04: "MCA", 0x05: "EISA", 0x06: "PCI", 0x07: "PC card", 0x08: "VL-VESA", 0x0C: "riser", 0x0D: "NuBus",
    0x0E: "PCI 66 MHz", 0x0F: "AGP", 0x10: "AGP 2x", 0x11: "AGP 4x", 0x12: "PCI-X", 0x13: "AGP 8x",
    0x14: "M.2 socket 1 (key A)", 0x15: "M.2 socket 1 (key E)", 0x16: "M.2 socket 2 (key B)",
    0x17: "M.2 socket 3 (key M)", 0x18: "MXM type I", 0x19: "MXM type II", 0x1A: "MXM type III standard",
    0x1B: "MXM type III HE", 0x1C: "MXM type IV", 0x1D: "MXM 3.0 type A", 0x1E: "MXM 3.0 type B",
    0x1F: "PCIe gen 2 SFF-8639", 0x20: "PCIe gen 3 SFF-8639", 0x21: "PCIe Mini", 0x22: "PCIe Mini", 0x23: "PCIe Mini",
    0x24: "PCIe gen 4 SFF-8639", 0x25: "PCIe gen 5 SFF-8639",
}  # fmt: skip
WIDTHS = {0x08: 1, 0x09: 2, 0x0A: 4, 0x0B: 8, 0x0C: 12, 0x0D: 16, 0x0E: 32}
USAGE = {0x03: "free", 0x04: "in use", 0x05: "unavailable"}
# Type 4, processor upgrade: what the processor sits in. "soldered" where it is none, or a ball grid.
SOCKETS = {
    0x03: "daughter board", 0x04: "ZIF socket", 0x05: "replaceable piggy back", 0x06: "soldered", 0x07: "LIF socket",
    0x08: "slot 1", 0x09: "slot 2", 0x0A: "370-pin socket", 0x0B: "slot A", 0x0C: "slot M", 0x0D: "socket 423",
    0x0E: "socket A (462)", 0x0F: "socket 478", 0x10: "socket 754", 0x11: "socket 940", 0x12: "socket 939",
    0x13: "socket mPGA604", 0x14: "LGA771", 0x15: "LGA775", 0x16: "socket S1", 0x17: "socket AM2",
    0x18: "socket F (1207)", 0x19: "LGA1366", 0x1A: "socket G34", 0x1B: "socket AM3", 0x1C: "socket C32",
    0x1D: "LGA1156", 0x1E: "LGA1567", 0x1F: "PGA988A", 0x20: "BGA1288", 0x21: "rPGA988B", 0x22: "BGA1023",
    0x23: "BGA1224", 0x24: "LGA1155", 0x25: "LGA1356", 0x26: "LGA2011", 0x27: "socket FS1", 0x28: "socket FS2",
    0x29: "socket FM1", 0x2A: "socket FM2", 0x2B: "LGA2011-3", 0x2C: "LGA1356-3", 0x2D: "LGA1150", 0x2E: "BGA1168",
    0x2F: "BGA1234", 0x30: "BGA1364", 0x31: "socket AM4", 0x32: "LGA1151", 0x33: "BGA1356", 0x34: "BGA1440",
    0x35: "BGA1515", 0x36: "LGA3647-1", 0x37: "socket SP3", 0x38: "socket SP3r2", 0x39: "LGA2066", 0x3A: "BGA1392",
    0x3B: "BGA1510", 0x3C: "BGA1528", 0x3D: "LGA4189", 0x3E: "LGA1200", 0x3F: "LGA4677", 0x40: "LGA1700",
    0x41: "BGA1744", 0x42: "BGA1781", 0x43: "BGA1211", 0x44: "BGA2422", 0x45: "LGA1211", 0x46: "LGA2422",
    0x47: "LGA5773", 0x48: "BGA5773", 0x49: "socket AM5", 0x4A: "socket SP5", 0x4B: "socket SP6",
}  # fmt: skip
# Type 9: first code of a run of six (any width, x1, x2, x4, x8, x16) and its PCIe generation; the first run names none.
PCIE_RUNS = ((0xA5, None), (0xAB, 2), (0xB1, 3), (0xB8, 4), (0xBE, 5))
PCIE_WIDTHS = (None, 1, 2, 4, 8, 16)
# Type 17, type detail: bits that say how a module drives the bus.
BUFFERING = {13: "registered", 14: "unbuffered", 15: "load-reduced"}


def pcie_of(kind: int) -> tuple[bool, int | None, int | None]:
    """(whether a slot's code is one of PCI Express, its generation, the lanes that the code names)."""
    for first, generation in PCIE_RUNS:
        if first <= kind <= first + 5:
            return True, generation, PCIE_WIDTHS[kind - first]
    return kind == 0xC4, 6 if kind == 0xC4 else None, None
