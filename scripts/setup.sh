#!/usr/bin/env bash
# Set-up on Debian 12: system libraries by apt where it may, Python packages into .venv only.
set -eu
cd "$(dirname "$0")/.."

PACKAGES="python3 python3-venv libegl1 libgl1 libgl1-mesa-dri libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libglib2.0-0
  libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0
  libxcb-xfixes0 libxcb-sync1 libxcb-xinerama0 xvfb libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0"
COMPILER="gcc libc6-dev"  # for the compiled tests; without it they are left out
SERVER="postgresql-15"  # for the tests of several benches; without it they say so and are passed over

say() { printf '%s\n' "$*" >&2; }

stamp=.venv/.ready
wanted=$(cat pyproject.toml requirements.lock scripts/setup.sh src/brachium/devices/native/*.[ch] src/brachium/core/day/compiled/*.[ch] | sha256sum | cut -d' ' -f1)
if [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$wanted" ]; then
  exit 0
fi

if ! command -v dpkg-query >/dev/null; then
  say "This set-up is for Debian 12. On another system install Qt's libraries, Xvfb, Pango and Python 3.11 yourself."
else
  missing=""
  for p in $PACKAGES; do
    dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'ok installed' || missing="$missing $p"
  done
  if ! command -v cc >/dev/null || [ ! -e /usr/include/stdio.h ]; then
    if [ "$(id -u)" = 0 ] || { command -v sudo >/dev/null && sudo -n true 2>/dev/null; }; then
      missing="$missing $COMPILER"
    else
      say "There is no C compiler ($COMPILER): the compiled tests are left out."
    fi
  fi
  if [ ! -x /usr/lib/postgresql/15/bin/initdb ]; then
    if [ "$(id -u)" = 0 ] || { command -v sudo >/dev/null && sudo -n true 2>/dev/null; }; then
      server="$SERVER"
    else
      say "There is no PostgreSQL ($SERVER): the tests of several benches are passed over."
    fi
  fi
  if [ -n "${server:-}" ]; then
    # No cluster and no service of the machine's own are made: the tests start a private one. Missing, it stops nothing.
    as=""; [ "$(id -u)" = 0 ] || as="sudo"
    say "Installing $server for the tests of several benches"
    $as mkdir -p /etc/postgresql-common
    [ -e /etc/postgresql-common/createcluster.conf ] || printf '%s\n' "create_main_cluster = false" "start_conf = 'manual'" \
      | $as tee /etc/postgresql-common/createcluster.conf >/dev/null
    { $as apt-get update -qq && DEBIAN_FRONTEND=noninteractive $as apt-get install -y -qq --no-install-recommends "$server" >/dev/null; } \
      || say "It could not be installed: the tests of several benches are passed over."
  fi
  if [ -n "$missing" ]; then
    if [ "$(id -u)" = 0 ]; then as=""; elif command -v sudo >/dev/null && sudo -v; then as="sudo"; else
      say "These Debian packages are missing and I may not install them:$missing"
      say "Ask an administrator to run: apt-get install$missing"
      exit 1
    fi
    say "Installing system libraries:$missing"
    $as apt-get update -qq || { say "The package lists could not be fetched. Check the network and try again."; exit 1; }
    DEBIAN_FRONTEND=noninteractive $as apt-get install -y -qq --no-install-recommends $missing >/dev/null \
      || { say "The system libraries could not be installed; see the lines above."; exit 1; }
  fi
fi

python3 - <<'P' || { say "Python 3.11 or newer is needed; python3 here is older or missing."; exit 1; }
import sys
sys.exit(sys.version_info < (3, 11))
P

say "Setting up Python packages in .venv (once)"
[ -x .venv/bin/python ] || python3 -m venv .venv || { say "The virtual environment could not be made in .venv."; exit 1; }
.venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements.lock 2>&1 \
  | grep -v '^WARNING' >&2 || true
.venv/bin/python -c 'import numpy, PySide6.QtWidgets' 2>/dev/null || say "The packages in requirements.lock are for Python 3.11 on\
 x86-64. On another machine remove its hashes' file, write it anew with scripts/lock.py, and start again."
.venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e . 2>&1 \
  | grep -v '^WARNING' >&2 || true
.venv/bin/python -c 'import brachium, PySide6.QtWidgets, weasyprint, pytest, ruff' 2>/dev/null || [ -x .venv/bin/ruff ] \
  || { say "The Python packages could not be installed. Check the network and try again."; exit 1; }
.venv/bin/python -c 'import brachium, PySide6.QtWidgets, weasyprint, pytest' \
  || { say "Something is still missing; the line above names it."; exit 1; }
.venv/bin/python -m brachium.devices.native.build || true
printf '%s' "$wanted" > "$stamp"
