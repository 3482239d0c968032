"""What a step takes and uses where nobody measured it, each with its unit and its reason."""

from __future__ import annotations

ASSUMED_USED = 0.6  # of the old drive that is in use, where nobody knows; 0.3 to 0.9
COPY_ATTENDED, FRESH_ATTENDED = 8.0, 25.0  # minutes of hands for a copy and for a fresh installation
INSTALL_MIN, UPDATES_MIN = 25.0, 40.0  # minutes that an installation and its updates run by themselves; twice on a disk
ASSUMED_PASTE_G = 0.4  # paste for one layer where the contact was not measured [g]; 0.2 to 0.8
COMMAND_MIN, SAMPLE_SHARE = 3.0, 0.1  # minutes of an erase command; share of a drive that is read back in samples
PRESSED = 0.8  # of its thickness that is left of a pad under the plate
OFFCUT = 0.15  # of the area that is cut away from a sheet of pads
GROOVE_MM, GROOVE_SHARE = 0.15, 0.25  # mean depth of the pipes' grooves [mm] over their share of the plate
DENSITY_G_CM3 = 2.6  # of paste that does not state it; 2.2 to 3.6
SIZE_SLACK = 0.04  # firmware keeps a share of memory; drives round their sizes
