"""Walks every page, sheet and figure in every language, look, scale and shop, and lists what is wrong.

`python -m scripts.walk [--language CODE] [--look LOOK] [--scale PERCENT] [--shop demo|empty|long] [--out FILE]` names
what is cut, covered, small or nameless; what is not given is walked through. The exit code says whether anything was.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
from itertools import product
from pathlib import Path

LOOKS, SCALES, SHOPS = ("light", "dark", "contrast"), (100, 150, 200), ("demo", "empty", "long")
LANGUAGES = ("en", "de", "fr")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--language", choices=LANGUAGES)
    parser.add_argument("--look", choices=LOOKS)
    parser.add_argument("--scale", type=int, choices=SCALES)
    parser.add_argument("--shop", choices=SHOPS)
    parser.add_argument("--out", type=Path)
    parser.add_argument("--here", action="store_true", help=argparse.SUPPRESS)
    asked = parser.parse_args()
    if asked.here:
        from tests.support.walking import walk

        return walk(asked.look, asked.shop, asked.language)
    found: list[str] = []
    languages, scales = [asked.language] if asked.language else LANGUAGES, [asked.scale] if asked.scale else SCALES
    looks, shops = [asked.look] if asked.look else LOOKS, [asked.shop] if asked.shop else SHOPS
    for language, scale, look, shop in product(languages, scales, looks, shops):
        lines = _one(language, scale, look, shop)
        print(f"{language} {scale} % {look} {shop}: {len(lines)}", flush=True)
        found += [f"{language} {scale} % {look} {shop}: {line}" for line in lines]
    if asked.out:
        asked.out.write_text("\n".join(found) + "\n", encoding="utf-8")
    else:
        print("\n".join(found))
    return 1 if found else 0


def _one(language: str, scale: int, look: str, shop: str) -> list[str]:
    """A process of its own: Qt takes its scale once."""
    here = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": f"{scale / 100:g}"}
    command = [sys.executable, "-m", "scripts.walk", "--here", "--look", look, "--shop", shop,
               "--language", language]  # fmt: skip
    done = subprocess.run(command, env=here, capture_output=True, text=True, check=False)
    lines = [line for line in done.stdout.splitlines() if line.startswith("- ")]
    if done.returncode not in (0, 1):
        lines.append(f"- the walk broke off: {done.stderr.strip().splitlines()[-1:]}")
    return [line.removeprefix("- ") for line in lines]


if __name__ == "__main__":
    sys.exit(main())
