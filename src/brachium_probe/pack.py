"""Packs the probe into one executable file: standard library only, Python 3.8 and newer."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import zipapp
from pathlib import Path

NAME = "brachium-probe"
MAIN = "import sys\n\nfrom brachium_probe.__main__ import main\n\nsys.exit(main(sys.argv[1:]))\n"


def pack(folder: str) -> str:
    """Write the probe into a folder, in one move; its path. Raises OSError where it cannot be written."""
    os.makedirs(folder, exist_ok=True)
    target = os.path.join(folder, NAME)
    with tempfile.TemporaryDirectory() as work:
        own = Path(__file__).resolve().parent
        shutil.copytree(str(own), os.path.join(work, own.name), ignore=shutil.ignore_patterns("__pycache__"))
        Path(work, "__main__.py").write_text(MAIN, encoding="utf-8")
        part = f"{target}.part"
        try:
            zipapp.create_archive(work, part, "/usr/bin/env python3")
            os.chmod(part, 0o755)
            os.replace(part, target)
        except OSError:
            if os.path.exists(part):  # half a probe on a full stick is none
                os.remove(part)
            raise
    return target


if __name__ == "__main__":
    print(pack(sys.argv[1] if len(sys.argv) > 1 else "dist"))
