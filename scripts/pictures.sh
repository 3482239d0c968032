#!/usr/bin/env bash
# Refreshes docs/screenshots from the demo data.
set -eu
cd "$(dirname "$0")/.."
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
.venv/bin/brachium demo --headless --out "$work"
mkdir -p docs/screenshots
cp "$work"/*.png docs/screenshots/
