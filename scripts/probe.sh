#!/usr/bin/env bash
# Packs the probe into one executable file: dist/brachium-probe, standard library only, Python 3.8 and newer.
set -eu
cd "$(dirname "$0")/.."
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir -p dist
(cd src && find brachium_probe -name '*.py' -exec cp --parents {} "$work" \;)
printf 'import sys\n\nfrom brachium_probe.__main__ import main\n\nsys.exit(main(sys.argv[1:]))\n' > "$work/__main__.py"
"${PYTHON:-python3}" -m zipapp "$work" -p "/usr/bin/env python3" -o dist/brachium-probe
chmod +x dist/brachium-probe
echo "dist/brachium-probe"
