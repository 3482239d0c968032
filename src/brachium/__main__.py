"""`python -m brachium`."""

from brachium.cli import main

main()
