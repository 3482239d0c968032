"""A SMART data, read from it: ATA SMART data or the NVMe health log. Needs root; nothing is written.

ATA: SMART READ DATA and READ THRESHOLDS through HDIO_DRIVE_CMD (smart.py reads them). NVMe base specification: Get Log
Page 02h; warning in byte 0, temperature in 1 and 2 [K], spare in 3, used in 5, hours in 128, media errors in 160.
"""

from __future__ import annotations

import ctypes
import fcntl
import os
import struct
from typing import Dict, List, Tuple

from brachium_probe import smart
from brachium_probe.smart import Attribute
from brachium_probe.tree import Tree

HDIO_DRIVE_CMD, SMART, READ_VALUES, READ_THRESHOLDS = 0x031F, 0xB0, 0xD0, 0xD1
NVME_ADMIN_CMD, GET_LOG_PAGE, HEALTH_LOG = 0xC0484E41, 0x02, 0x02
KELVIN = 273
CAPTURED = "/drive-counters"


class Health:
    """What a drive says of itself: counters by name, attributes, names that are not readable, attributes that failed,
    temperature [degC]; `why` there is nothing."""

    def __init__(self, why: str = "") -> None:
        self.why = why
        self.counters: Dict[str, int] = {}
        self.attributes: List[Attribute] = []
        self.unreadable: List[str] = []
        self.failed: List[int] = []
        self.temperature_c: int | None = None


def read_health(tree: Tree, name: str, sectors: int | None = None) -> Health:
    """A captured tree holds the 512 bytes as /drive-counters/NAME, thresholds as /drive-counters/NAME.thresholds."""
    nvme = name.startswith("nvme")
    limits = None
    if tree.root:
        data, why = tree.bytes(f"{CAPTURED}/{name}"), ""
        limits = tree.bytes(f"{CAPTURED}/{name}.thresholds")
    else:
        data, limits, why = _asked(f"/dev/{name}", nvme)
    if data is None:
        return Health(why)
    found = _of_nvme(data) if nvme else _of_ata(data, limits, sectors)
    if not found.counters and not found.attributes:
        found.why = "what the drive answered is no table of counters"
    return found


def _of_ata(data: bytes, limits: bytes | None, sectors: int | None) -> Health:
    out = Health()
    out.attributes = smart.attributes(data, limits)
    out.counters = smart.counts(out.attributes, sectors)
    out.unreadable = smart.unreadable(out.attributes, sectors)
    out.failed = smart.failing(out.attributes)
    out.temperature_c = smart.temperature_c(out.attributes)
    return out


def _of_nvme(data: bytes) -> Health:
    out = Health()
    out.counters = nvme_counters(data)
    kelvin = int.from_bytes(data[1:3], "little") if out.counters else 0
    out.temperature_c = kelvin - KELVIN if 0 < kelvin - KELVIN < 100 else None
    return out


def nvme_counters(data: bytes) -> Dict[str, int]:
    """Counters of the health log; nothing where it is empty or impossible."""
    if len(data) != smart.SIZE or data[3] > 100 or not any(data):
        return {}
    return {
        "warning": data[0], "spare_pct": data[3], "used_pct": data[5],
        "media_errors": int.from_bytes(data[160:176], "little"), "hours": int.from_bytes(data[128:144], "little"),
    }  # fmt: skip


def _asked(device: str, nvme: bool) -> Tuple[bytes | None, bytes | None, str]:
    """(answer, thresholds, why there is none)."""
    try:
        handle = os.open(device, os.O_RDONLY | os.O_NONBLOCK)
    except PermissionError:
        return None, None, "rights"
    except OSError as error:
        return None, None, str(error.strerror or error)
    try:
        if nvme:
            return _nvme(handle), None, ""
        return _ata(handle, READ_VALUES), _thresholds(handle), ""
    except PermissionError:
        return None, None, "rights"
    except OSError as error:
        return None, None, f"the drive does not answer ({error.strerror or error})"
    finally:
        os.close(handle)


def _thresholds(handle: int) -> bytes | None:
    """Newer drives may have none, which says nothing against their values."""
    try:
        return _ata(handle, READ_THRESHOLDS)
    except OSError:
        return None


def _ata(handle: int, feature: int) -> bytes:
    buffer = bytearray(4 + smart.SIZE)
    buffer[0], buffer[1], buffer[2], buffer[3] = SMART, 0, feature, 1
    fcntl.ioctl(handle, HDIO_DRIVE_CMD, buffer, True)
    return bytes(buffer[4:])


def _nvme(handle: int) -> bytes:
    data = ctypes.create_string_buffer(smart.SIZE)
    words = (smart.SIZE // 4 - 1) << 16 | HEALTH_LOG
    command = bytearray(struct.pack("=BBHIIIQQIIIIIIIIII", GET_LOG_PAGE, 0, 0, 0xFFFFFFFF, 0, 0, 0,
                                    ctypes.addressof(data), 0, smart.SIZE, words, 0, 0, 0, 0, 0, 0, 0))  # fmt: skip
    fcntl.ioctl(handle, NVME_ADMIN_CMD, command, True)
    return data.raw
