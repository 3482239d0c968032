"""What is taken for granted of drives, each with its unit and its reason."""

from __future__ import annotations

BRIDGE_MB_S = 350.0  # what a USB 3 bridge carries in practice [MB/s]; 300 to 450
LEAST_MB_S = 1.0  # an entry without a rate is not waited for for ever [MB/s]
FEW_SECTORS = 10  # reallocated sectors that may be there from the factory on
SPARE_LOW, USED_UP = 10, 100  # percent of spare left, percent of its life used: the drive's own warnings
BAD_AREA_S = 20.0  # a disk tries a bad area for about so long before it gives up [s]; 7 to 60
AREA_SECTORS = 8  # logical sectors of 512 bytes in one physical sector of 4096, which fails as a whole
