#!/usr/bin/env bash
# Packs the probe into one executable file: dist/brachium-probe, standard library only, Python 3.8 and newer.
set -eu
cd "$(dirname "$0")/.."
PYTHONPATH=src "${PYTHON:-python3}" -m brachium_probe.pack dist
