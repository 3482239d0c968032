"""What runs on a machine under test with nothing installed: standard library only, Python 3.8 and newer.

The program uses the same readers, so that a machine says the same to both.
"""

PROBE_VERSION = "1"
