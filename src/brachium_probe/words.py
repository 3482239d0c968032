"""Words that a machine uses of itself: selling names against order codes, classes of PCI devices (PCI code and id)."""

from __future__ import annotations

import re

PCI_CLASSES = {
    "0100": "SCSI controller", "0101": "IDE controller", "0104": "RAID controller", "0106": "SATA controller",
    "0107": "SAS controller", "0108": "NVMe controller", "0200": "Ethernet", "0280": "radio", "0300": "graphics",
    "0302": "graphics", "0380": "graphics", "0401": "audio", "0403": "audio", "0604": "PCI bridge", "0805": "SD host",
    "0c03": "USB controller", "0c05": "SMBus", "0d11": "radio", "0d80": "radio",
}  # fmt: skip


def pci_class(code: str | None) -> str | None:
    """The class of a device in words from its six digits; None for one that has no bearing on an upgrade."""
    return PCI_CLASSES.get(hex_digits(code)[:4])


def hex_digits(text: str | None) -> str:
    """Digits of a number as the kernel writes it, without their 0x."""
    digits = (text or "").lower()
    return digits[2:] if digits.startswith("0x") else digits


def is_order_code(text: str) -> bool:
    """Whether a product name is an order code: one word of capitals and figures, with at least two figures."""
    return re.fullmatch(r"(?=(?:\D*\d){2})[0-9A-Z][0-9A-Z/_#-]{4,}", text) is not None


def is_name(text: str) -> bool:
    """Whether a text is a selling name: it has a word of letters, and is no order code itself."""
    return re.search(r"[A-Za-z]{3,}", text) is not None and not is_order_code(text)
