"""What links carry after their coding: SATA (Serial ATA specification), PCIe per lane (PCI-SIG base specifications)."""

from __future__ import annotations

SATA_GEN_MB_S = {1: 150.0, 2: 300.0, 3: 600.0}  # by generation
SATA_MB_S = {"1.5 Gbps": 150.0, "3.0 Gbps": 300.0, "6.0 Gbps": 600.0}  # as the system names a link
PCIE_LANE_MB_S = {1: 250.0, 2: 500.0, 3: 985.0, 4: 1969.0, 5: 3938.0}  # by generation
