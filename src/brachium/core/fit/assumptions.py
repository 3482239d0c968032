"""What fit rules take for granted where no standard says it, each with its unit and its reason."""

from __future__ import annotations

EXPONENT = 2.4  # power over clock near the top of a processor's range; 1.0 to 3.5 is met
USUAL_LIMIT_C = 95.0  # limit temperature of a processor that does not state one [degC]; 85 to 105 is met
SATA_PRACTICAL = 0.92  # share of a SATA link's rate that files reach; 0.90 to 0.94
PCIE_PRACTICAL = 0.87  # share of a PCIe link's rate that files reach; 0.85 to 0.90
FREE_SHARE = 0.15  # of a drive that is to stay free, so that it keeps its rate
BOND_MM = (0.05, 0.10)  # thickness of a layer of paste, least and most [mm]: practice at the bench
HEADER_A = 1.0  # common rating of a fan header [A]; some give 2
HEADROOM = 1.25  # of a supply over the sustained load: ageing, peaks and the fan's noise
DISK_W, SSD_W, NVME_W, MODULE_W, BOARD_W = 8.0, 3.0, 6.0, 3.0, 25.0  # sustained loads [W], each within half of it
BOARD_12V_W = 10.0  # what a board draws of its load from the 12 V output [W]
SLOW_NETWORK = 100.0  # Mbit/s from which on work over the network is not held by it
WORN = 0.6  # of its design capacity, below which a battery is called worn
NETWORK_HEAVY = 0.15  # share of time from which on work is called heavy on the network
DEVICE_WINDOW = 3.3  # GiB below the window of devices on a 32-bit bus; 2.8 to 3.5
PRIOR, CAP = -1.0, 1.5  # log-odds before any source; most that sources of one kind count, in single ones
SPIN_UP_W = 24.0  # what a disk draws at 12 V while it starts [W]: 2 A by usual labels; 1.5 to 2.8 A is met
CELL_V = 3.7  # nominal voltage of one cell in series [V]; makers write 3.6 to 3.85
SAME_V = 0.05  # share by which the voltage of an adapter may differ from that on the label
PAD_GIVES = (0.1, 0.3)  # share by which a soft pad is pressed together, least and most
