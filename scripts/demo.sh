#!/usr/bin/env bash
# Starts the program on the demo shop; without a display goes through the whole job and leaves report and pictures.
set -eu
cd "$(dirname "$0")/.."
out="${OUT:-demo-out}"
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then
  exec .venv/bin/brachium demo --out "$out"
fi
echo "No display here: running the demo job without a window."
exec .venv/bin/brachium demo --headless --out "$out"
