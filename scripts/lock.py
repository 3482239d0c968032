"""Writes requirements.lock anew: every package that set-up installs, as pyproject.toml asks for it, with its hash.

The hashes are those of the files for the Python and the processor that this runs on (Debian 12: Python 3.11, x86-64).
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
LOCK = ROOT / "requirements.lock"


def locked(report: dict[str, object]) -> list[str]:
    """A line per package of an installation report (PyPA specification of the pip inspection format), by name."""
    lines = []
    installs: list[dict[str, dict[str, object]]] = report["install"]  # type: ignore[assignment]
    for item in installs:
        name, version = item["metadata"]["name"], item["metadata"]["version"]
        archive = item["download_info"].get("archive_info")
        if isinstance(archive, dict):  # the project itself is a folder
            lines.append(f"{str(name).lower()}=={version} --hash=sha256:{archive['hashes']['sha256']}")
    return sorted(lines)


def main() -> int:
    """Resolve, then write; an old file stays where that fails."""
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "report.json"
        command = [sys.executable, "-m", "pip", "install", "--dry-run", "--ignore-installed", "--quiet",
                   "--disable-pip-version-check", "--report", str(out), f"{ROOT}[dev]"]  # fmt: skip
        if subprocess.run(command).returncode:
            return 1
        lines = locked(json.loads(out.read_text()))
    LOCK.write_text("\n".join(lines) + "\n")
    print(f"{LOCK.name}: {len(lines)} packages")
    return 0


if __name__ == "__main__":
    sys.exit(main())
