"""A drive's own counters, read from it: ATA SMART data or the NVMe health log. Needs root; nothing is written.

ATA: SMART READ DATA through HDIO_DRIVE_CMD; 30 entries of 12 bytes from byte 2 (id, flags, value, worst, raw of six
bytes), all 512 bytes sum to 0 modulo 256. Raw values are packed by makers: counts are taken from their low four bytes,
hours from the low three. NVMe base specification: Get Log Page 02h; warning in byte 0, spare in 3, used in 5, hours in
128, media errors in 160, both of 16 bytes.
"""

from __future__ import annotations

import ctypes
import fcntl
import os
import struct
from typing import Dict, Tuple

from brachium_probe.tree import Tree

HDIO_DRIVE_CMD, SMART, READ_VALUES = 0x031F, 0xB0, 0xD0
NVME_ADMIN_CMD, GET_LOG_PAGE, HEALTH_LOG = 0xC0484E41, 0x02, 0x02
SIZE = 512
COUNTS = {5: "reallocated", 187: "uncorrectable", 197: "pending", 198: "uncorrectable", 199: "interface", 9: "hours"}
LOW_BYTES = {"hours": 3}
CAPTURED = "/drive-counters"


def read_health(tree: Tree, name: str) -> Tuple[Dict[str, int], str]:
    """(counters by name, why there are none). A captured tree holds the 512 bytes as /drive-counters/NAME."""
    nvme = name.startswith("nvme")
    if tree.root:
        data = tree.bytes(f"{CAPTURED}/{name}")
        why = ""
    else:
        data, why = _asked(f"/dev/{name}", nvme)
    if data is None:
        return {}, why
    counters = nvme_counters(data) if nvme else ata_counters(data)
    return counters, "" if counters else "what the drive answered is no table of counters"


def ata_counters(data: bytes) -> Dict[str, int]:
    """Counters of SMART data; nothing where the checksum is wrong."""
    out: Dict[str, int] = {}
    if len(data) != SIZE or sum(data) % 256:
        return out
    for at in range(2, 2 + 30 * 12, 12):
        key = COUNTS.get(data[at])
        if key is not None:
            raw = int.from_bytes(data[at + 5 : at + 5 + LOW_BYTES.get(key, 4)], "little")
            out[key] = max(out.get(key, 0), raw)
    return out


def nvme_counters(data: bytes) -> Dict[str, int]:
    """Counters of the health log; nothing where it is empty or impossible."""
    if len(data) != SIZE or data[3] > 100 or not any(data):
        return {}
    return {
        "warning": data[0], "spare_pct": data[3], "used_pct": data[5],
        "media_errors": int.from_bytes(data[160:176], "little"), "hours": int.from_bytes(data[128:144], "little"),
    }  # fmt: skip


def _asked(device: str, nvme: bool) -> Tuple[bytes | None, str]:
    try:
        handle = os.open(device, os.O_RDONLY | os.O_NONBLOCK)
    except PermissionError:
        return None, "rights"
    except OSError as error:
        return None, str(error.strerror or error)
    try:
        return (_nvme(handle) if nvme else _ata(handle)), ""
    except PermissionError:
        return None, "rights"
    except OSError as error:
        return None, f"the drive does not answer ({error.strerror or error})"
    finally:
        os.close(handle)


def _ata(handle: int) -> bytes:
    buffer = bytearray(4 + SIZE)
    buffer[0], buffer[1], buffer[2], buffer[3] = SMART, 0, READ_VALUES, 1
    fcntl.ioctl(handle, HDIO_DRIVE_CMD, buffer, True)
    return bytes(buffer[4:])


def _nvme(handle: int) -> bytes:
    data = ctypes.create_string_buffer(SIZE)
    words = (SIZE // 4 - 1) << 16 | HEALTH_LOG
    command = bytearray(struct.pack("=BBHIIIQQIIIIIIIIII", GET_LOG_PAGE, 0, 0, 0xFFFFFFFF, 0, 0, 0,
                                    ctypes.addressof(data), 0, SIZE, words, 0, 0, 0, 0, 0, 0, 0))  # fmt: skip
    fcntl.ioctl(handle, NVME_ADMIN_CMD, command, True)
    return data.raw
