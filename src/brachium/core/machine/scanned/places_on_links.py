"""Places that hang on a link, out of a scan: drives with their bays, free M.2 slots, card slots, the radio card."""

from __future__ import annotations

import re

from brachium.core.base.text import phrase
from brachium.core.base.units import drive_size
from brachium.core.machine.assumptions import DISK_RATES, NVME_RATES, SATA_SSD_RATES
from brachium.core.machine.card_parts import Card, RadioCard
from brachium.core.machine.kinds import PORTABLE, MachineKind
from brachium.core.machine.links import PCIE_LANE_MB_S, SATA_MB_S
from brachium.core.machine.machine import DriveBay, Fitted
from brachium.core.machine.parts import BayForm, Drive, DriveInterface
from brachium.core.machine.platform import GRAPHICS, RADIO, CardSlot
from brachium.core.machine.scanned.scan import Scan, ScannedDevice, ScannedDrive, ScannedSlot

INSIDE = {"SATA": DriveInterface.SATA, "NVMe": DriveInterface.NVME, "SAS": DriveInterface.SAS,
          "eMMC": DriveInterface.EMMC}  # fmt: skip
STANDING = (MachineKind.TOWER, MachineKind.WORKSTATION, MachineKind.STORAGE_BOX, MachineKind.RETRO)
M2_KEY_M = "M.2 socket 3 (key M)"
WIDTH, GENERATION = re.compile(r"x(\d+)$"), re.compile(r"gen (\d)")


def drive_places(scan: Scan, kind: MachineKind) -> tuple[tuple[DriveBay, ...], tuple[Fitted, ...]]:
    """Drives that sit inside, each with its bay, and M.2 slots that are free. Others are the scan's to name."""
    bays, fitted = [], []
    for drive in scan.drives:
        interface = INSIDE.get(drive.kind)
        if interface is None or not drive.size_bytes:
            continue
        form = _form(drive, interface, kind)
        bay = DriveBay(
            f"drive-{drive.name}", phrase("Drive {drive}", drive=drive.name), interface, form, None, link_mb_s(drive)
        )
        bays.append(bay)
        fitted.append(Fitted(bay.id, _drive(drive, interface, form)))
    free = [s for s in scan.slots if s.kind == M2_KEY_M and s.usage == "free"]
    bays += [
        DriveBay(
            f"m2-{k + 1}",
            s.name or phrase("M.2 slot {k}", k=k + 1),
            DriveInterface.NVME,
            BayForm.M2,
            None,
            None,
        )
        for k, s in enumerate(free)
    ]
    return tuple(bays), tuple(fitted)


def _form(drive: ScannedDrive, interface: DriveInterface, kind: MachineKind) -> BayForm:
    if interface is DriveInterface.NVME:
        return BayForm.M2
    if interface is DriveInterface.EMMC:
        return BayForm.SOLDERED
    return BayForm.IN_3_5 if drive.rotational and kind in STANDING else BayForm.IN_2_5


def _drive(drive: ScannedDrive, interface: DriveInterface, form: BayForm) -> Drive:
    turning = bool(drive.rotational)
    rates = DISK_RATES if turning else NVME_RATES if interface is DriveInterface.NVME else SATA_SSD_RATES
    name = drive.model or phrase(
        "{size_bytes} {which}", size_bytes=drive_size(drive.size_bytes or 0), which="disk" if turning else "SSD"
    )
    return Drive(name, interface, form, None, drive.size_bytes or 0, turning, *rates)


def link_mb_s(drive: ScannedDrive) -> float | None:
    """Payload of a drive's link [MB/s]; an idle NVMe link may have clocked down, so its maximum counts."""
    if drive.kind == "SATA":
        return SATA_MB_S.get(drive.link or "")
    match = re.match(r"gen (\d) x(\d+)$", drive.link_max or drive.link or "")
    return PCIE_LANE_MB_S.get(int(match.group(1)), 0.0) * int(match.group(2)) or None if match else None


def card_places(scan: Scan) -> tuple[tuple[CardSlot, ...], tuple[Fitted, ...]]:
    """Card slots as the firmware lists them; a graphics device at a place's address is a card in it."""
    slots, fitted = [], []
    for number, listed in enumerate((s for s in scan.slots if (s.kind or "").startswith("PCIe") and s.lanes), 1):
        place = CardSlot(f"card-{number}", listed.name or phrase("Card slot {number}", number=number), listed.lanes,
                         generation=_number(GENERATION, listed.kind))  # fmt: skip
        slots.append(place)
        device = _device_in(listed, scan.devices)
        if device is not None and device.kind == "graphics":
            fitted.append(Fitted(place.id, _graphics(device)))
    return tuple(slots), tuple(fitted)


def _graphics(device: ScannedDevice) -> Card:
    link = device.link_max or device.link
    name = (
        device.name
        if device.name and device.name != "graphics"
        else phrase("Graphics {device}", device=device.id or "").rstrip()
    )
    return Card(name, _number(WIDTH, link), _number(GENERATION, link), None, None, None, None, None, True)


def graphics_chip(scan: Scan, kind: MachineKind) -> tuple[Fitted, ...]:
    """Graphics on a link of its own in a machine that has no card slots is soldered. Graphics without a link sits in
    the processor or the chipset, which its address does not tell apart: the scan names it."""
    listed = any((s.kind or "").startswith("PCIe") and s.lanes for s in scan.slots)
    found = [d for d in scan.devices if d.kind == "graphics" and (d.link_max or d.link)]
    if listed or kind not in (*PORTABLE, MachineKind.ALL_IN_ONE, MachineKind.MINI_PC) or len(found) != 1:
        return ()
    return (Fitted(GRAPHICS, _graphics(found[0])),)


def _device_in(slot: ScannedSlot, devices: tuple[ScannedDevice, ...]) -> ScannedDevice | None:
    return next((d for d in devices if slot.address and d.address == slot.address), None)


def _number(pattern: re.Pattern[str], text: str | None) -> int | None:
    match = pattern.search(text or "")
    return int(match.group(1)) if match else None


def radio_card(scan: Scan) -> tuple[Fitted, ...]:
    """The first radio device with its id, by which firmware may allow cards; its edge key is not told."""
    found = next((d for d in scan.devices if d.kind == "radio" or d.name == "radio"), None)
    if found is None:
        return ()
    return (Fitted(RADIO, RadioCard(phrase("Radio {found}", found=found.id or "").rstrip(), None, id=found.id or "")),)
